import { Module } from '@nestjs/common'
import { TasksModule } from '../tasks/tasks.module.js'
import { RosterOutController } from './rosterOut.controller.js'
import { RosterOutService } from './rosterOut.service.js'

/** Rosters as files. */
@Module({
  imports: [TasksModule],
  controllers: [RosterOutController],
  providers: [RosterOutService],
  exports: [RosterOutService],
})
export class RosterOutModule {}
