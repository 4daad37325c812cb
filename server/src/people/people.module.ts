import { Module } from '@nestjs/common'
import { AccountModule } from '../account/account.module.js'
import { MailModule } from '../mail/mail.module.js'
import { TasksModule } from '../tasks/tasks.module.js'
import { OfficeService } from './office.service.js'
import { PeopleController } from './people.controller.js'
import { PeopleService } from './people.service.js'

/** People of a school, and the office that keeps their records. */
@Module({
  imports: [AccountModule, MailModule, TasksModule],
  controllers: [PeopleController],
  providers: [PeopleService, OfficeService],
  exports: [PeopleService],
})
export class PeopleModule {}
