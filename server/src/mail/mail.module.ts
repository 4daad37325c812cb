import { Module } from '@nestjs/common'
import { CoverNotes } from './coverNotes.service.js'
import { MailController } from './mail.controller.js'
import { MailService } from './mail.service.js'
import { MailroomService } from './mailroom.service.js'
import { MessageQueue } from './messageQueue.js'

/** Messages to people, and the mailroom of a class. */
@Module({
  controllers: [MailController],
  providers: [MessageQueue, MailService, CoverNotes, MailroomService],
  exports: [MailService, CoverNotes, MailroomService],
})
export class MailModule {}
