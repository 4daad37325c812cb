import { Module } from '@nestjs/common'
import { BoardController } from './board.controller.js'
import { BoardService } from './board.service.js'

/** Boards: a row a copy. */
@Module({
  controllers: [BoardController],
  providers: [BoardService],
})
export class BoardModule {}
