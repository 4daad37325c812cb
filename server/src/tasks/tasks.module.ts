import { Module } from '@nestjs/common'
import { ThreadTasks } from './threadTasks.js'

/** Work in threads of their own. */
@Module({
  providers: [ThreadTasks],
  exports: [ThreadTasks],
})
export class TasksModule {}
