import { Module } from '@nestjs/common'
import { MailModule } from '../mail/mail.module.js'
import { RosterModule } from '../roster/roster.module.js'
import { JoinController } from './join.controller.js'
import { JoinService } from './join.service.js'

/** Joining a class by its code. */
@Module({
  imports: [MailModule, RosterModule],
  controllers: [JoinController],
  providers: [JoinService],
})
export class JoinModule {}
