import { TIME_SPANS, type TimeSpan, type Viewer } from '@gavrin/core'
import {
  Body,
  Controller,
  Get,
  Header,
  HttpCode,
  Param,
  ParseEnumPipe,
  ParseUUIDPipe,
  Post,
  Put,
  Query,
} from '@nestjs/common'
import { ApiProperty, ApiTags } from '@nestjs/swagger'
import { ArrayMaxSize, IsArray, IsIn, IsOptional, IsString, IsUUID, MaxLength } from 'class-validator'
import { Asking } from '../access/viewer.js'
import { asDownload } from '../common/files.js'
import { JSON_TEXT } from '../common/written.js'
import { TABLE_FORMATS, type TableFormat } from '../tasks/tableOut.js'
import { AnswersService } from './answers.service.js'
import { BoardOutService } from './boardOut.service.js'
import { BoardService } from './board.service.js'

class OverTimeDto {
  @ApiProperty({ enum: TIME_SPANS, required: false }) @IsOptional() @IsIn(TIME_SPANS) span?: TimeSpan
}

class BoardOutDto {
  /** The answer grid of this worksheet; left out: the board. */
  @ApiProperty({ required: false }) @IsOptional() @IsUUID() worksheetId?: string
  /** Left out: all copies. */
  @ApiProperty({ type: [String], required: false })
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(10_000)
  @IsUUID(undefined, { each: true })
  copyIds?: string[]
}

class AcceptedDto {
  /** All that are to be accepted beside the key. */
  @ApiProperty({ type: [String] })
  @IsArray()
  @ArrayMaxSize(100)
  @IsString({ each: true })
  @MaxLength(1_000, { each: true })
  texts: string[]
}

class AcceptDto extends AcceptedDto {
  /** As it stood on the page. */
  @ApiProperty({ type: [String] })
  @IsArray()
  @ArrayMaxSize(100)
  @IsString({ each: true })
  @MaxLength(1_000, { each: true })
  was: string[]
}

@ApiTags('board')
@Controller('handouts')
export class BoardController {
  constructor(
    private readonly boards: BoardService,
    private readonly out: BoardOutService,
    private readonly asked: AnswersService,
  ) {}

  /** One row a copy, and what stands at the head of the board. */
  @Get(':handoutId/board')
  @Header(...JSON_TEXT)
  board(@Asking() viewer: Viewer, @Param('handoutId', ParseUUIDPipe) handoutId: string) {
    return this.boards.boardInJson(viewer, handoutId)
  }

  /** How its copies went on over time. */
  @Get(':handoutId/over-time')
  overTime(
    @Asking() viewer: Viewer,
    @Param('handoutId', ParseUUIDPipe) handoutId: string,
    @Query() { span = 'from the beginning' }: OverTimeDto,
  ) {
    return this.boards.overTime(viewer, handoutId, span)
  }

  /** The copies of all classes of a handout that somebody is shown, for its students side by side. */
  @Get(':handoutId/students')
  students(@Asking() viewer: Viewer, @Param('handoutId', ParseUUIDPipe) handoutId: string) {
    return this.boards.students(viewer, handoutId)
  }

  /** Who has written how much in copies that several share. */
  @Get(':handoutId/writers')
  writers(@Asking() viewer: Viewer, @Param('handoutId', ParseUUIDPipe) handoutId: string) {
    return this.boards.writers(viewer, handoutId)
  }

  /** All answers to one question of a worksheet that was given out. */
  @Get(':handoutId/answers/:worksheetId/:space')
  answers(
    @Asking() viewer: Viewer,
    @Param('handoutId', ParseUUIDPipe) handoutId: string,
    @Param('worksheetId', ParseUUIDPipe) worksheetId: string,
    @Param('space') space: string,
  ) {
    return this.asked.answers(viewer, { handoutId, worksheetId, space })
  }

  /** In which copies accepting these beside the key would make an answer right or wrong. */
  @Post(':handoutId/answers/:worksheetId/:space/accepted/proof')
  @HttpCode(200)
  acceptedProof(
    @Asking() viewer: Viewer,
    @Param('handoutId', ParseUUIDPipe) handoutId: string,
    @Param('worksheetId', ParseUUIDPipe) worksheetId: string,
    @Param('space') space: string,
    @Body() { texts }: AcceptedDto,
  ) {
    return this.asked.acceptedProof(viewer, { handoutId, worksheetId, space }, texts)
  }

  /** Accepts these beside the key, in this handout. */
  @Put(':handoutId/answers/:worksheetId/:space/accepted')
  @HttpCode(204)
  accept(
    @Asking() viewer: Viewer,
    @Param('handoutId', ParseUUIDPipe) handoutId: string,
    @Param('worksheetId', ParseUUIDPipe) worksheetId: string,
    @Param('space') space: string,
    @Body() { texts, was }: AcceptDto,
  ) {
    return this.asked.accept(viewer, { handoutId, worksheetId, space }, was, texts)
  }

  /** The board as a file, or the answer grid of a worksheet. By POST, for a list of copies may be longer than an address. */
  @Post(':handoutId/board/out/:format')
  @HttpCode(200)
  async writeOut(
    @Asking() viewer: Viewer,
    @Param('handoutId', ParseUUIDPipe) handoutId: string,
    @Param('format', new ParseEnumPipe(TABLE_FORMATS)) format: TableFormat,
    @Body() { worksheetId, copyIds }: BoardOutDto,
  ) {
    const file = await this.out.write(viewer, handoutId, format, {
      worksheetId: worksheetId ?? null,
      copyIds: copyIds ?? null,
    })
    return asDownload(file, 'board')
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
