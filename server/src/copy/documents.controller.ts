import { HANDED_IN_BYTES, type Viewer } from '@gavrin/core'
import { Body, Controller, Param, ParseUUIDPipe, Post, Put, Query, Req } from '@nestjs/common'
import { ApiBody, ApiConsumes, ApiProperty, ApiQuery, ApiTags } from '@nestjs/swagger'
import { IsBoolean, IsOptional } from 'class-validator'
import type { Request } from 'express'
import { Asking } from '../access/viewer.js'
import { bodyOf } from '../common/files.js'
import { DocumentsService } from './documents.service.js'
import { HANDED_IN_TOO_LARGE } from './handedIn.js'

class DocumentDto {
  /** It is the answer. */
  @ApiProperty({ required: false }) @IsOptional() @IsBoolean() isAnswer?: boolean
  /** It is taken out; false: put back. */
  @ApiProperty({ required: false }) @IsOptional() @IsBoolean() isOut?: boolean
}

@ApiTags('copy')
@Controller('copies/:copyId/documents')
export class DocumentsController {
  constructor(private readonly documents: DocumentsService) {}

  /** Puts a document with a whole copy. */
  @Post()
  @ApiQuery({ name: 'name', required: true })
  @ApiConsumes('application/octet-stream')
  @ApiBody({ schema: { type: 'string', format: 'binary' } })
  async add(
    @Asking() viewer: Viewer,
    @Param('copyId', ParseUUIDPipe) copyId: string,
    @Query('name') name: string,
    @Req() request: Request,
  ) {
    const bytes = await bodyOf(request, HANDED_IN_BYTES, HANDED_IN_TOO_LARGE)
    return this.documents.add(viewer, copyId, { name: String(name), bytes })
  }

  @Put(':fileId')
  alter(
    @Asking() viewer: Viewer,
    @Param('copyId', ParseUUIDPipe) copyId: string,
    @Param('fileId', ParseUUIDPipe) fileId: string,
    @Body() to: DocumentDto,
  ) {
    return this.documents.alter(viewer, copyId, fileId, to)
  }
}
