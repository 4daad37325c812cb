import { Module } from '@nestjs/common'
import { TasksModule } from '../tasks/tasks.module.js'
import { FileController } from './file.controller.js'

/** Lists that are brought in from files. */
@Module({
  imports: [TasksModule],
  controllers: [FileController],
})
export class FileModule {}
