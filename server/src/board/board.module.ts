import { Module } from '@nestjs/common'
import { TasksModule } from '../tasks/tasks.module.js'
import { KeptModule } from '../kept/kept.module.js'
import { AnswersService } from './answers.service.js'
import { BoardController } from './board.controller.js'
import { BoardOutService } from './boardOut.service.js'
import { BoardService } from './board.service.js'
import { OverviewController } from './overview.controller.js'
import { OverviewService } from './overview.service.js'

/** Boards: a row a copy. */
@Module({
  imports: [KeptModule, TasksModule],
  controllers: [BoardController, OverviewController],
  providers: [BoardService, AnswersService, BoardOutService, OverviewService],
})
export class BoardModule {}
