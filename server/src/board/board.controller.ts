import type { Viewer } from '@gavrin/core'
import { Controller, Get, Param, ParseUUIDPipe } from '@nestjs/common'
import { ApiTags } from '@nestjs/swagger'
import { Asking } from '../access/viewer.js'
import { BoardService } from './board.service.js'

@ApiTags('board')
@Controller('handouts')
export class BoardController {
  constructor(private readonly boards: BoardService) {}

  /** One row a copy, and what stands at the head of the board. */
  @Get(':handoutId/board')
  board(@Asking() viewer: Viewer, @Param('handoutId', ParseUUIDPipe) handoutId: string) {
    return this.boards.board(viewer, handoutId)
  }

  /** What of a handout differs from what was handed out, in a line; null if nothing does. */
  @Get(':handoutId/differences')
  async differences(@Asking() viewer: Viewer, @Param('handoutId', ParseUUIDPipe) handoutId: string) {
    return { differences: await this.boards.differences(viewer, handoutId) }
  }
}
