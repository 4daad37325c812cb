import type { Viewer } from '@gavrin/core'
import { Controller, Delete, Get, HttpCode, Ip, Param, Post, Res } from '@nestjs/common'
import { ApiTags } from '@nestjs/swagger'
import type { Response } from 'express'
import { Asking, OpenToAll } from '../access/viewer.js'
import { CalendarService } from './calendar.service.js'

@ApiTags('calendar')
@Controller()
export class CalendarController {
  constructor(private readonly calendars: CalendarService) {}

  @Get('account/calendar')
  address(@Asking() viewer: Viewer) {
    return this.calendars.address(viewer)
  }

  @Post('account/calendar')
  @HttpCode(200)
  renew(@Asking() viewer: Viewer) {
    return this.calendars.renew(viewer)
  }

  @Delete('account/calendar')
  @HttpCode(204)
  drop(@Asking() viewer: Viewer): Promise<void> {
    return this.calendars.drop(viewer)
  }

  /** For calendars, which sign in nowhere: who has the address may read. */
  @OpenToAll()
  @Get('calendar/:file')
  async feed(@Param('file') file: string, @Ip() from: string, @Res() response: Response) {
    const text = await this.calendars.feed(file, from)
    response.set('cache-control', 'private, max-age=900').type('text/calendar').send(text)
  }
}
