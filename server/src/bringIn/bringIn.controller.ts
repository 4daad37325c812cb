import { DOCUMENT_LIMITS, type DocumentKind, type Viewer, mayTeach } from '@gavrin/core'
import {
  Body,
  Controller,
  Delete,
  Get,
  HttpCode,
  Param,
  ParseUUIDPipe,
  Post,
  Put,
  Query,
  Req,
  Res,
} from '@nestjs/common'
import { ApiBody, ApiConsumes, ApiProperty, ApiQuery, ApiTags } from '@nestjs/swagger'
import { IsInt, IsObject, IsString, IsUUID, MaxLength, Min } from 'class-validator'
import type { Request, Response } from 'express'
import { OrNull } from '../common/dto.js'
import { bodyOf, sendFile, sendPicture } from '../common/files.js'
import { Asking, hold } from '../access/viewer.js'
import { PICTURE_BYTES } from '../media/pictures.js'
import { TITLE_LIMIT } from '../worksheet/worksheet.service.js'
import { BringInService } from './bringIn.service.js'

const TOO_LARGE = `This file has more than ${DOCUMENT_LIMITS.bytes / 1_000_000} MB: bring in only the pages that you need.`
const PICTURE_TOO_LARGE = `This picture has more than ${PICTURE_BYTES / 1_000_000} MB: make it smaller and bring it in again.`

class FinishDto {
  @ApiProperty()
  @IsString()
  @MaxLength(TITLE_LIMIT, { message: `A title has up to ${TITLE_LIMIT} characters.` })
  title: string
  @ApiProperty({ type: Object }) @IsObject() content: object
  @ApiProperty({ type: String, nullable: true }) @OrNull() @IsUUID() folderId: string | null
}

class PhotoWorkDto {
  @ApiProperty() @IsInt() @Min(0) version: number
  @ApiProperty({ type: Object }) @IsObject() work: object
}

const TYPES: Partial<Record<DocumentKind, string>> = { pdf: 'application/pdf', picture: 'application/octet-stream' }

@ApiTags('bring in')
@Controller('bring-in')
export class BringInController {
  constructor(private readonly bringIn: BringInService) {}

  @Post()
  @ApiQuery({ name: 'name', required: true })
  @ApiConsumes('application/octet-stream')
  @ApiBody({ schema: { type: 'string', format: 'binary' } })
  async upload(@Asking() viewer: Viewer, @Query('name') name: string, @Req() request: Request) {
    hold(mayTeach(viewer))
    return this.bringIn.upload(
      viewer,
      typeof name === 'string' ? name : '',
      await bodyOf(request, DOCUMENT_LIMITS.bytes, TOO_LARGE),
    )
  }

  @Get()
  unfinished(@Asking() viewer: Viewer) {
    return this.bringIn.unfinished(viewer)
  }

  @Get(':bringInId')
  open(@Asking() viewer: Viewer, @Param('bringInId', ParseUUIDPipe) id: string) {
    return this.bringIn.open(viewer, id)
  }

  @Get(':bringInId/file')
  async file(@Asking() viewer: Viewer, @Param('bringInId', ParseUUIDPipe) id: string, @Res() response: Response) {
    const { name, kind, bytes } = await this.bringIn.file(viewer, id)
    sendFile(response, { name, type: TYPES[kind] ?? 'application/octet-stream', bytes })
  }

  @Post(':bringInId/read')
  @HttpCode(200)
  read(@Asking() viewer: Viewer, @Param('bringInId', ParseUUIDPipe) id: string) {
    return this.bringIn.read(viewer, id)
  }

  @Post(':bringInId/media')
  @ApiConsumes('application/octet-stream')
  @ApiBody({ schema: { type: 'string', format: 'binary' } })
  async addMedium(@Asking() viewer: Viewer, @Param('bringInId', ParseUUIDPipe) id: string, @Req() request: Request) {
    await this.bringIn.open(viewer, id)
    return this.bringIn.addMedium(viewer, id, await bodyOf(request, PICTURE_BYTES, PICTURE_TOO_LARGE))
  }

  @Get(':bringInId/media/:mediumId')
  async medium(
    @Asking() viewer: Viewer,
    @Param('bringInId', ParseUUIDPipe) id: string,
    @Param('mediumId', ParseUUIDPipe) mediumId: string,
    @Res() response: Response,
  ) {
    sendPicture(response, await this.bringIn.medium(viewer, id, mediumId))
  }

  @Get(':bringInId/work')
  work(@Asking() viewer: Viewer, @Param('bringInId', ParseUUIDPipe) id: string) {
    return this.bringIn.work(viewer, id)
  }

  @Put(':bringInId/work')
  keepWork(
    @Asking() viewer: Viewer,
    @Param('bringInId', ParseUUIDPipe) id: string,
    @Body() { version, work }: PhotoWorkDto,
  ) {
    return this.bringIn.keepWork(viewer, id, version, work)
  }

  @Post(':bringInId/photos')
  @ApiConsumes('application/octet-stream')
  @ApiBody({ schema: { type: 'string', format: 'binary' } })
  async addPhoto(@Asking() viewer: Viewer, @Param('bringInId', ParseUUIDPipe) id: string, @Req() request: Request) {
    await this.bringIn.open(viewer, id)
    return this.bringIn.addPhoto(viewer, id, await bodyOf(request, DOCUMENT_LIMITS.bytes, TOO_LARGE))
  }

  @Get(':bringInId/photos/:pictureId')
  async photo(
    @Asking() viewer: Viewer,
    @Param('bringInId', ParseUUIDPipe) id: string,
    @Param('pictureId', ParseUUIDPipe) pictureId: string,
    @Res() response: Response,
  ) {
    const bytes = await this.bringIn.photo(viewer, id, pictureId)
    sendFile(response, { name: 'photograph', type: 'application/octet-stream', bytes })
  }

  @Post(':bringInId/finish')
  @HttpCode(200)
  finish(@Asking() viewer: Viewer, @Param('bringInId', ParseUUIDPipe) id: string, @Body() input: FinishDto) {
    return this.bringIn.finish(viewer, id, input)
  }

  @Delete(':bringInId')
  @HttpCode(204)
  discard(@Asking() viewer: Viewer, @Param('bringInId', ParseUUIDPipe) id: string) {
    return this.bringIn.discard(viewer, id)
  }
}
