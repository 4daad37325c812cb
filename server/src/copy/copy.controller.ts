import type { Viewer } from '@gavrin/core'
import { Controller, Get, HttpCode, Param, ParseUUIDPipe, Post } from '@nestjs/common'
import { ApiTags } from '@nestjs/swagger'
import { Asking } from '../common/viewer.js'
import { CopyService } from './copy.service.js'

@ApiTags('copy')
@Controller('copies')
export class CopyController {
  constructor(private readonly copies: CopyService) {}

  @Get()
  mine(@Asking() viewer: Viewer) {
    return this.copies.mine(viewer)
  }

  @Get(':copyId')
  open(@Asking() viewer: Viewer, @Param('copyId', ParseUUIDPipe) copyId: string) {
    return this.copies.open(viewer, copyId)
  }

  @Get(':copyId/late-writing')
  lateWritings(@Asking() viewer: Viewer, @Param('copyId', ParseUUIDPipe) copyId: string) {
    return this.copies.lateWritings(viewer, copyId)
  }

  @Post(':copyId/submit')
  @HttpCode(200)
  submit(@Asking() viewer: Viewer, @Param('copyId', ParseUUIDPipe) copyId: string) {
    return this.copies.submit(viewer, copyId)
  }

  @Post(':copyId/take-back')
  @HttpCode(200)
  takeBack(@Asking() viewer: Viewer, @Param('copyId', ParseUUIDPipe) copyId: string) {
    return this.copies.takeBack(viewer, copyId)
  }
}
