import { Module } from '@nestjs/common'
import { TasksModule } from '../tasks/tasks.module.js'
import { ListController } from './list.controller.js'

/** Lists that are brought in from files. */
@Module({
  imports: [TasksModule],
  controllers: [ListController],
})
export class ListModule {}
