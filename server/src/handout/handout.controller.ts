import type { Viewer } from '@gavrin/core'
import { Body, Controller, Delete, Get, HttpCode, Param, ParseUUIDPipe, Post, Put } from '@nestjs/common'
import { ApiProperty, ApiTags } from '@nestjs/swagger'
import { IsInt, IsObject, IsString, MaxLength, Min } from 'class-validator'
import { Asking } from '../common/viewer.js'
import { HANDOUT_TITLE_LIMIT, HandoutService } from './handout.service.js'

class BeginHandoutDto {
  @ApiProperty()
  @IsString()
  @MaxLength(HANDOUT_TITLE_LIMIT, { message: `A title has up to ${HANDOUT_TITLE_LIMIT} characters.` })
  title: string
  @ApiProperty({ type: Object }) @IsObject() statement: object
}

class KeepHandoutDto extends BeginHandoutDto {
  @ApiProperty() @IsInt() @Min(1) version: number
}

class HandOutDto {
  @ApiProperty() @IsInt() @Min(1) version: number
  /** Of the changes in the proof that was seen. */
  @ApiProperty() @IsString() @MaxLength(64) fingerprint: string
}

@ApiTags('handout')
@Controller()
export class HandoutController {
  constructor(private readonly handouts: HandoutService) {}

  @Get('classes/:classId/handouts')
  list(@Asking() viewer: Viewer, @Param('classId', ParseUUIDPipe) classId: string) {
    return this.handouts.list(viewer, classId)
  }

  @Get('classes/:classId/handouts/beginning')
  beginning(@Asking() viewer: Viewer, @Param('classId', ParseUUIDPipe) classId: string) {
    return this.handouts.beginning(viewer, classId)
  }

  @Post('classes/:classId/handouts')
  create(@Asking() viewer: Viewer, @Param('classId', ParseUUIDPipe) classId: string, @Body() input: BeginHandoutDto) {
    return this.handouts.create(viewer, classId, input)
  }

  @Get('handouts/:handoutId')
  open(@Asking() viewer: Viewer, @Param('handoutId', ParseUUIDPipe) handoutId: string) {
    return this.handouts.open(viewer, handoutId)
  }

  @Put('handouts/:handoutId')
  keep(@Asking() viewer: Viewer, @Param('handoutId', ParseUUIDPipe) handoutId: string, @Body() input: KeepHandoutDto) {
    return this.handouts.keep(viewer, handoutId, input)
  }

  @Delete('handouts/:handoutId')
  @HttpCode(204)
  discard(@Asking() viewer: Viewer, @Param('handoutId', ParseUUIDPipe) handoutId: string) {
    return this.handouts.discard(viewer, handoutId)
  }

  @Post('handouts/:handoutId/hand-out')
  @HttpCode(202)
  handOut(@Asking() viewer: Viewer, @Param('handoutId', ParseUUIDPipe) handoutId: string, @Body() seen: HandOutDto) {
    return this.handouts.handOut(viewer, handoutId, seen)
  }

  @Get('handouts/:handoutId/hand-out')
  run(@Asking() viewer: Viewer, @Param('handoutId', ParseUUIDPipe) handoutId: string) {
    return this.handouts.run(viewer, handoutId)
  }
}
