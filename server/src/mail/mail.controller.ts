import type { Viewer } from '@gavrin/core'
import { Body, Controller, Get, HttpCode, Param, ParseUUIDPipe, Post } from '@nestjs/common'
import { ApiTags } from '@nestjs/swagger'
import { SomePeopleDto } from '../common/dto.js'
import { notThere } from '../common/problemDetails.js'
import { Asking } from '../common/viewer.js'
import { MailService } from './mail.service.js'

@ApiTags('mail')
@Controller()
export class MailController {
  constructor(private readonly mail: MailService) {}

  @Get('classes/:classId/mail')
  ofClass(@Asking() viewer: Viewer, @Param('classId', ParseUUIDPipe) classId: string) {
    return this.mail.ofClass(viewer, classId)
  }

  @Post('classes/:classId/invitations')
  @HttpCode(200)
  invite(
    @Asking() viewer: Viewer,
    @Param('classId', ParseUUIDPipe) classId: string,
    @Body() { personIds }: SomePeopleDto,
  ) {
    return this.mail.invite(viewer, classId, personIds ?? null)
  }

  /** The post of the demo, as it would have arrived. */
  @Get('mail/stand-in')
  async standIn() {
    const mail = await this.mail.standInMail()
    if (!mail) throw notThere()
    return mail
  }
}
