import type { Viewer } from '@gavrin/core'
import { Body, Controller, Delete, Get, HttpCode, Param, ParseUUIDPipe, Post, StreamableFile } from '@nestjs/common'
import { ApiProperty, ApiTags } from '@nestjs/swagger'
import { ArrayMaxSize, IsArray, IsIn, IsOptional, IsUUID } from 'class-validator'
import { Asking } from '../access/viewer.js'
import { headerValue } from '../common/files.js'
import { COPY_FORMATS, type CopyFormat } from '../copy/copyOut.service.js'
import { SAVED_LIMITS, SavedCopiesService } from './savedCopies.service.js'

const FORMATS = Object.values(COPY_FORMATS)

class SaveCopiesDto {
  @ApiProperty({ enum: FORMATS }) @IsIn(FORMATS) format: CopyFormat
  /** Of this handout. */
  @ApiProperty({ required: false }) @IsOptional() @IsUUID() handoutId?: string
  /** Or of all handouts of this class. */
  @ApiProperty({ required: false }) @IsOptional() @IsUUID() classId?: string
  /** Or all that this student holds. */
  @ApiProperty({ required: false }) @IsOptional() @IsUUID() studentId?: string
  /** Left out: all. */
  @ApiProperty({ type: [String], required: false })
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(SAVED_LIMITS.copies)
  @IsUUID(undefined, { each: true })
  copyIds?: string[]
}

@ApiTags('copies')
@Controller('saved-copies')
export class SavedCopiesController {
  constructor(private readonly saved: SavedCopiesService) {}

  /** One's own, and how far they are. */
  @Get()
  all(@Asking() viewer: Viewer) {
    return this.saved.all(viewer)
  }

  /** Begins to save many copies as documents in one file. */
  @Post()
  @HttpCode(202)
  begin(@Asking() viewer: Viewer, @Body() { format, handoutId, classId, studentId, copyIds }: SaveCopiesDto) {
    const of = { handoutId: handoutId ?? null, classId: classId ?? null, studentId: studentId ?? null }
    return this.saved.begin(viewer, of, format, copyIds ?? null)
  }

  @Get(':savedId/file')
  async file(@Asking() viewer: Viewer, @Param('savedId', ParseUUIDPipe) savedId: string) {
    const { name, stream } = await this.saved.file(viewer, savedId)
    return new StreamableFile(stream, {
      type: 'application/zip',
      disposition: `attachment; filename="copies.zip"; filename*=UTF-8''${headerValue(name)}`,
    })
  }

  /** Stops it, or lets go of it. */
  @Delete(':savedId')
  @HttpCode(204)
  drop(@Asking() viewer: Viewer, @Param('savedId', ParseUUIDPipe) savedId: string) {
    return this.saved.drop(viewer, savedId)
  }
}
