import { Module } from '@nestjs/common'
import { TasksModule } from '../tasks/tasks.module.js'
import { LikenessController } from './likeness.controller.js'
import { LikenessService } from './likeness.service.js'

/** Copies that are alike: places to look. */
@Module({
  imports: [TasksModule],
  controllers: [LikenessController],
  providers: [LikenessService],
})
export class LikenessModule {}
