import { Module } from '@nestjs/common'
import { MailModule } from '../mail/mail.module.js'
import { ReminderController } from './reminder.controller.js'
import { ReminderService } from './reminder.service.js'

/** Reminders of what is missing. */
@Module({
  imports: [MailModule],
  controllers: [ReminderController],
  providers: [ReminderService],
})
export class ReminderModule {}
