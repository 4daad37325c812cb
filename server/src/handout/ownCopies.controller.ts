import type { Viewer } from '@gavrin/core'
import { Controller, HttpCode, Param, ParseUUIDPipe, Post } from '@nestjs/common'
import { ApiTags } from '@nestjs/swagger'
import { Asking } from '../access/viewer.js'
import { OwnCopies } from './ownCopies.service.js'

@ApiTags('copy')
@Controller('copies')
export class OwnCopiesController {
  constructor(private readonly copies: OwnCopies) {}

  @Post(':copyId/own')
  @HttpCode(200)
  make(@Asking() viewer: Viewer, @Param('copyId', ParseUUIDPipe) copyId: string) {
    return this.copies.make(viewer, copyId)
  }
}
