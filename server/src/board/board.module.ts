import { Module } from '@nestjs/common'
import { KeptModule } from '../kept/kept.module.js'
import { BoardController } from './board.controller.js'
import { BoardService } from './board.service.js'

/** Boards: a row a copy. */
@Module({
  imports: [KeptModule],
  controllers: [BoardController],
  providers: [BoardService],
})
export class BoardModule {}
