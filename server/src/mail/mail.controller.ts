import type { Viewer } from '@gavrin/core'
import { Body, Controller, Get, HttpCode, Param, ParseUUIDPipe, Post } from '@nestjs/common'
import { ApiProperty, ApiTags } from '@nestjs/swagger'
import { IsOptional } from 'class-validator'
import { Ids, SomePeopleDto } from '../common/dto.js'
import { notThere } from '../common/problemDetails.js'
import { Asking } from '../access/viewer.js'
import { MailService } from './mail.service.js'
import { MailroomService } from './mailroom.service.js'

export class SomeMessagesDto {
  /** Left out: all that failed. */
  @ApiProperty({ type: [String], required: false }) @IsOptional() @Ids() messageIds?: string[]
}

@ApiTags('mail')
@Controller()
export class MailController {
  constructor(
    private readonly mailroom: MailroomService,
    private readonly mail: MailService,
  ) {}

  @Get('classes/:classId/mail')
  ofClass(@Asking() viewer: Viewer, @Param('classId', ParseUUIDPipe) classId: string) {
    return this.mailroom.ofClass(viewer, classId)
  }

  @Post('classes/:classId/invitations')
  @HttpCode(200)
  invite(
    @Asking() viewer: Viewer,
    @Param('classId', ParseUUIDPipe) classId: string,
    @Body() { personIds }: SomePeopleDto,
  ) {
    return this.mailroom.invite(viewer, classId, personIds ?? null)
  }

  @Post('classes/:classId/mail/again')
  @HttpCode(200)
  again(
    @Asking() viewer: Viewer,
    @Param('classId', ParseUUIDPipe) classId: string,
    @Body() { messageIds }: SomeMessagesDto,
  ) {
    return this.mailroom.again(viewer, classId, messageIds ?? null)
  }

  /** The post of the demo, as it would have arrived. */
  @Get('mail/stand-in')
  async standIn(@Asking() viewer: Viewer) {
    const mail = await this.mail.standInMail(viewer)
    if (!mail) throw notThere()
    return mail
  }
}
