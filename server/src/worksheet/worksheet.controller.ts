import type { Viewer } from '@gavrin/core'
import {
  Body,
  Controller,
  Get,
  HttpCode,
  Param,
  ParseEnumPipe,
  ParseIntPipe,
  ParseUUIDPipe,
  Post,
  Put,
  Req,
  Res,
} from '@nestjs/common'
import { ApiBody, ApiConsumes, ApiProperty, ApiTags } from '@nestjs/swagger'
import { InjectDataSource } from '@nestjs/typeorm'
import { IsBoolean, IsInt, IsObject, IsOptional, IsString, IsUUID, MaxLength, Min } from 'class-validator'
import type { Request, Response } from 'express'
import { DataSource } from 'typeorm'
import { OrNull } from '../common/dto.js'
import { bodyOf, sendFile, sendPicture } from '../common/files.js'
import { Asking } from '../access/viewer.js'
import { addPicture, mediumOfWorksheet } from '../media/mediaStore.js'
import { PICTURE_BYTES } from '../media/pictures.js'
import { TITLE_LIMIT, WorksheetService } from './worksheet.service.js'
import { WORKSHEET_FORMATS, type WorksheetFormat } from './out/write.js'
import { WorksheetOutService } from './worksheetOut.service.js'
import { holdWorksheet } from './worksheetAccess.js'

const TITLE_TOO_LONG = { message: `A title has up to ${TITLE_LIMIT} characters.` }
const PICTURE_TOO_LARGE = `This picture has more than ${PICTURE_BYTES / 1_000_000} MB: make it smaller and put it in again.`

class CreateWorksheetDto {
  @ApiProperty() @IsString() @MaxLength(TITLE_LIMIT, TITLE_TOO_LONG) title: string
  @ApiProperty({ type: String, nullable: true, required: false }) @IsOptional() @OrNull() @IsUUID() folderId?:
    | string
    | null
}

class KeepDraftDto {
  @ApiProperty() @IsString() @MaxLength(TITLE_LIMIT, TITLE_TOO_LONG) title: string
  @ApiProperty({ type: Object }) @IsObject() content: object
  @ApiProperty() @IsInt() @Min(1) version: number
}

class KeepEditionDto {
  @ApiProperty() @IsInt() @Min(1) version: number
}

class WriteOutDto {
  /** Null: the draft as it stands. */
  @ApiProperty({ type: Number, nullable: true }) @OrNull() @IsInt() @Min(1) edition: number | null
  /** With the answer key in the answer spaces. */
  @ApiProperty() @IsBoolean() key: boolean
}

@ApiTags('worksheet')
@Controller('worksheets')
export class WorksheetController {
  constructor(
    private readonly worksheets: WorksheetService,
    private readonly out: WorksheetOutService,
    @InjectDataSource() private readonly source: DataSource,
  ) {}

  @Post()
  create(@Asking() viewer: Viewer, @Body() { title, folderId }: CreateWorksheetDto) {
    return this.worksheets.create(viewer, title, { folderId })
  }

  @Get(':worksheetId')
  open(@Asking() viewer: Viewer, @Param('worksheetId', ParseUUIDPipe) id: string) {
    return this.worksheets.open(viewer, id)
  }

  @Get(':worksheetId/first-page')
  firstPage(@Asking() viewer: Viewer, @Param('worksheetId', ParseUUIDPipe) id: string) {
    return this.worksheets.firstPage(viewer, id)
  }

  @Get(':worksheetId/handouts')
  handouts(@Asking() viewer: Viewer, @Param('worksheetId', ParseUUIDPipe) id: string) {
    return this.worksheets.handouts(viewer, id)
  }

  @Post(':worksheetId/duplicate')
  duplicate(@Asking() viewer: Viewer, @Param('worksheetId', ParseUUIDPipe) id: string) {
    return this.worksheets.duplicate(viewer, id)
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
  edition(
    @Asking() viewer: Viewer,
    @Param('worksheetId', ParseUUIDPipe) id: string,
    @Param('number', ParseIntPipe) number: number,
  ) {
    return this.worksheets.edition(viewer, id, number)
  }

  @Post(':worksheetId/media')
  @ApiConsumes('application/octet-stream')
  @ApiBody({ schema: { type: 'string', format: 'binary' } })
  async addMedium(@Asking() viewer: Viewer, @Param('worksheetId', ParseUUIDPipe) id: string, @Req() request: Request) {
    await holdWorksheet(this.source, viewer, id, 'change')
    const bytes = await bodyOf(request, PICTURE_BYTES, PICTURE_TOO_LARGE)
    return addPicture(this.source, viewer, bytes, { worksheetId: id })
  }

  @Get(':worksheetId/media/:mediumId')
  async medium(
    @Asking() viewer: Viewer,
    @Param('worksheetId', ParseUUIDPipe) id: string,
    @Param('mediumId', ParseUUIDPipe) mediumId: string,
    @Res() response: Response,
  ) {
    await holdWorksheet(this.source, viewer, id, 'see')
    sendPicture(response, await mediumOfWorksheet(this.source, viewer.schoolId, id, mediumId))
  }

  @Post(':worksheetId/out/:format')
  @HttpCode(200)
  async writeOut(
    @Asking() viewer: Viewer,
    @Param('worksheetId', ParseUUIDPipe) id: string,
    @Param('format', new ParseEnumPipe(WORKSHEET_FORMATS)) format: WorksheetFormat,
    @Body() { edition, key }: WriteOutDto,
    @Res() response: Response,
  ) {
    sendFile(response, await this.out.write(viewer, id, format, { edition, key }))
  }
}
