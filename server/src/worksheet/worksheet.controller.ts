import type { Viewer } from '@gavrin/core'
import { Body, Controller, Get, HttpCode, Param, ParseIntPipe, ParseUUIDPipe, Post, Put } from '@nestjs/common'
import { ApiProperty, ApiTags } from '@nestjs/swagger'
import { IsInt, IsObject, IsString, MaxLength, Min } from 'class-validator'
import { Asking } from '../common/viewer.js'
import { TITLE_LIMIT, WorksheetService } from './worksheet.service.js'

const TITLE_TOO_LONG = { message: `A title has up to ${TITLE_LIMIT} characters.` }

class CreateWorksheetDto {
  @ApiProperty() @IsString() @MaxLength(TITLE_LIMIT, TITLE_TOO_LONG) title: string
}

class KeepDraftDto {
  @ApiProperty() @IsString() @MaxLength(TITLE_LIMIT, TITLE_TOO_LONG) title: string
  @ApiProperty({ type: Object }) @IsObject() content: object
  @ApiProperty() @IsInt() @Min(1) version: number
}

class KeepEditionDto {
  @ApiProperty() @IsInt() @Min(1) version: number
}

@ApiTags('worksheet')
@Controller('worksheets')
export class WorksheetController {
  constructor(private readonly worksheets: WorksheetService) {}

  @Get()
  list(@Asking() viewer: Viewer) {
    return this.worksheets.list(viewer)
  }

  @Post()
  create(@Asking() viewer: Viewer, @Body() { title }: CreateWorksheetDto) {
    return this.worksheets.create(viewer, title)
  }

  @Get(':worksheetId')
  open(@Asking() viewer: Viewer, @Param('worksheetId', ParseUUIDPipe) id: string) {
    return this.worksheets.open(viewer, id)
  }

  @Put(':worksheetId/draft')
  keepDraft(@Asking() viewer: Viewer, @Param('worksheetId', ParseUUIDPipe) id: string, @Body() input: KeepDraftDto) {
    return this.worksheets.keepDraft(viewer, id, input)
  }

  @Post(':worksheetId/editions')
  @HttpCode(200)
  keepEdition(
    @Asking() viewer: Viewer,
    @Param('worksheetId', ParseUUIDPipe) id: string,
    @Body() { version }: KeepEditionDto,
  ) {
    return this.worksheets.keepEdition(viewer, id, version)
  }

  @Get(':worksheetId/editions/:number')
  async edition(
    @Asking() viewer: Viewer,
    @Param('worksheetId', ParseUUIDPipe) id: string,
    @Param('number', ParseIntPipe) number: number,
  ) {
    const { title, content, keptAt } = await this.worksheets.edition(viewer, id, number)
    return { number, title, content, keptAt: keptAt.getTime() }
  }
}
