import { Module } from '@nestjs/common'
import { TasksModule } from '../tasks/tasks.module.js'
import { KeptModule } from '../kept/kept.module.js'
import { BoardController } from './board.controller.js'
import { BoardOutService } from './boardOut.service.js'
import { BoardService } from './board.service.js'

/** Boards: a row a copy. */
@Module({
  imports: [KeptModule, TasksModule],
  controllers: [BoardController],
  providers: [BoardService, BoardOutService],
})
export class BoardModule {}
