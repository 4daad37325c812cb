import { Module } from '@nestjs/common'
import { BoardController } from './board.controller.js'

/** Boards: a row a copy. */
@Module({
  controllers: [BoardController],
})
export class BoardModule {}
