import { Module } from '@nestjs/common'
import { MailModule } from '../mail/mail.module.js'
import { ClassController } from './class.controller.js'
import { ClassService } from './class.service.js'
import { ColumnService } from './column.service.js'
import { RosterController } from './roster.controller.js'
import { RosterService } from './roster.service.js'
import { StaffService } from './staff.service.js'

/** Classes: their staff, students, columns and units. */
@Module({
  imports: [MailModule],
  controllers: [ClassController, RosterController],
  providers: [ClassService, StaffService, RosterService, ColumnService],
  exports: [RosterService, ClassService],
})
export class RosterModule {}
