import type { Viewer } from '@gavrin/core'
import { Body, Controller, Delete, Get, HttpCode, Param, ParseUUIDPipe, Post } from '@nestjs/common'
import { ApiProperty, ApiTags } from '@nestjs/swagger'
import { IsBoolean, IsUUID } from 'class-validator'
import { Asking } from '../access/viewer.js'
import { GuestsService } from './guests.service.js'

class MatchDto {
  @ApiProperty() @IsUUID() studentId: string
  /** What was shown: whether it stands beside the student's own. */
  @ApiProperty() @IsBoolean() beside: boolean
}

@ApiTags('handout')
@Controller('handouts/:handoutId')
export class GuestsController {
  constructor(private readonly guests: GuestsService) {}

  /** Who came by walk-in links, and the students who they may be. */
  @Get('guests')
  list(@Asking() viewer: Viewer, @Param('handoutId', ParseUUIDPipe) handoutId: string) {
    return this.guests.ofHandout(viewer, handoutId)
  }

  /** Says which student a guest is. */
  @Post('walk-ins/:itemId/guests/:guestId/match')
  @HttpCode(200)
  match(
    @Asking() viewer: Viewer,
    @Param('handoutId', ParseUUIDPipe) handoutId: string,
    @Param('itemId') itemId: string,
    @Param('guestId', ParseUUIDPipe) guestId: string,
    @Body() { studentId, beside }: MatchDto,
  ) {
    return this.guests.match(viewer, handoutId, { itemId, guestId, studentId }, beside)
  }

  /** Takes back that a guest is a student. */
  @Delete('walk-ins/:itemId/guests/:guestId/match')
  unmatch(
    @Asking() viewer: Viewer,
    @Param('handoutId', ParseUUIDPipe) handoutId: string,
    @Param('itemId') itemId: string,
    @Param('guestId', ParseUUIDPipe) guestId: string,
  ) {
    return this.guests.unmatch(viewer, handoutId, { itemId, guestId })
  }
}
