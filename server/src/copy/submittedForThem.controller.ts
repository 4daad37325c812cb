import type { Viewer } from '@gavrin/core'
import { Body, Controller, HttpCode, Param, ParseUUIDPipe, Post } from '@nestjs/common'
import { ApiProperty, ApiTags } from '@nestjs/swagger'
import { ArrayMaxSize, IsArray, IsBoolean, IsUUID } from 'class-validator'
import { Asking } from '../access/viewer.js'
import { CopyService } from './copy.service.js'

class SubmittedDto {
  @ApiProperty({ type: [String] }) @IsArray() @ArrayMaxSize(1_000) @IsUUID(undefined, { each: true }) copyIds: string[]
  /** False: they are taken back for their holders, to be worked in again. */
  @ApiProperty() @IsBoolean() submitted: boolean
}

@ApiTags('copies')
@Controller('handouts')
export class SubmittedForThemController {
  constructor(private readonly copies: CopyService) {}

  /** Submits copies for their holders, as they stand, or takes them back for them. */
  @Post(':handoutId/submitted')
  @HttpCode(200)
  enter(
    @Asking() viewer: Viewer,
    @Param('handoutId', ParseUUIDPipe) handoutId: string,
    @Body() { copyIds, submitted }: SubmittedDto,
  ) {
    const act = submitted ? 'submit for them' : 'take back for them'
    return this.copies.enterForThem(viewer, handoutId, copyIds, act)
  }
}
