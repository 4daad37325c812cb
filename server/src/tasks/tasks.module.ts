import { Module } from '@nestjs/common'
import { TableOut } from './tableOut.js'
import { ThreadTasks } from './threadTasks.js'

/** Work in threads of their own. */
@Module({
  providers: [ThreadTasks, TableOut],
  exports: [ThreadTasks, TableOut],
})
export class TasksModule {}
