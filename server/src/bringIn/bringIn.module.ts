import { Module } from '@nestjs/common'
import { TasksModule } from '../tasks/tasks.module.js'
import { WorksheetModule } from '../worksheet/worksheet.module.js'
import { BringInController } from './bringIn.controller.js'
import { BringInService } from './bringIn.service.js'

/** Documents and photographs that become worksheets. */
@Module({
  imports: [TasksModule, WorksheetModule],
  controllers: [BringInController],
  providers: [BringInService],
})
export class BringInModule {}
