import type { Viewer } from '@gavrin/core'
import { Controller, Get, HttpCode, Param, ParseUUIDPipe, Put } from '@nestjs/common'
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

  /** All answers to one question of a worksheet that was given out. */
  @Get(':handoutId/answers/:worksheetId/:space')
  answers(
    @Asking() viewer: Viewer,
    @Param('handoutId', ParseUUIDPipe) handoutId: string,
    @Param('worksheetId', ParseUUIDPipe) worksheetId: string,
    @Param('space') space: string,
  ) {
    return this.boards.answers(viewer, handoutId, worksheetId, space)
  }

  /** Somebody of the staff has looked at a copy, up to now. */
  @Put(':handoutId/looked/:copyId')
  @HttpCode(204)
  look(
    @Asking() viewer: Viewer,
    @Param('handoutId', ParseUUIDPipe) handoutId: string,
    @Param('copyId', ParseUUIDPipe) copyId: string,
  ) {
    return this.boards.look(viewer, handoutId, copyId)
  }

  /** What of a handout differs from what was handed out, in a line; null if nothing does. */
  @Get(':handoutId/differences')
  async differences(@Asking() viewer: Viewer, @Param('handoutId', ParseUUIDPipe) handoutId: string) {
    return { differences: await this.boards.differences(viewer, handoutId) }
  }
}
