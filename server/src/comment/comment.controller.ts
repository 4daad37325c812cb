import type { ThreadKind, Viewer } from '@gavrin/core'
import { Body, Controller, Get, HttpCode, Param, ParseUUIDPipe, Post, Put } from '@nestjs/common'
import { ApiProperty, ApiTags } from '@nestjs/swagger'
import { Type } from 'class-transformer'
import {
  ArrayMaxSize,
  ArrayNotEmpty,
  IsArray,
  IsBoolean,
  IsIn,
  IsObject,
  IsOptional,
  IsString,
  IsUUID,
  MaxLength,
  ValidateNested,
} from 'class-validator'
import { Asking } from '../access/viewer.js'
import { CommentService } from './comment.service.js'

class BeginsDto {
  @ApiProperty({ enum: ['comment', 'question', 'remark'] })
  @IsIn(['comment', 'question', 'remark'])
  kind: ThreadKind

  /** Of a question: only the staff of the class sees it. */
  @IsBoolean()
  staffOnly: boolean

  /** What it is about. */
  @IsObject()
  anchor: object
}

class CommentDto {
  // More than a comment takes: how much that is, is said with the sentence of the core.
  @IsString()
  @MaxLength(50_000)
  text: string

  @IsUUID()
  threadId: string

  /** With the first one on something; null: a reply, or other words. */
  @ApiProperty({ type: BeginsDto, nullable: true })
  @IsOptional()
  @ValidateNested()
  @Type(() => BeginsDto)
  begins: BeginsDto | null
}

class DoneDto {
  @IsBoolean()
  done: boolean
}

/** So many ask at once; a class has no more. */
const ANSWERED_AT_ONCE = 60

class QuestionDto {
  @IsUUID()
  copyId: string

  @IsUUID()
  threadId: string

  /** The id of the answer to it, which the page chooses. */
  @IsUUID()
  commentId: string
}

class AnswerAllDto {
  @IsString()
  @MaxLength(50_000)
  text: string

  @ApiProperty({ type: [QuestionDto] })
  @IsArray()
  @ArrayNotEmpty()
  @ArrayMaxSize(ANSWERED_AT_ONCE)
  @ValidateNested({ each: true })
  @Type(() => QuestionDto)
  to: QuestionDto[]
}

/** Copies of which the same is said at once. */
const SAID_AT_ONCE = 500

class SaidOfDto {
  @ApiProperty({ type: [QuestionDto] })
  @IsArray()
  @ArrayNotEmpty()
  @ArrayMaxSize(SAID_AT_ONCE)
  @ValidateNested({ each: true })
  @Type(() => QuestionDto)
  of: QuestionDto[]
}

class SayOfDto extends QuestionDto {
  /** The address of the answer that it is about; left out: the whole copy. */
  @ApiProperty({ required: false }) @IsOptional() @IsString() @MaxLength(120) space?: string
}

class SayOfAllDto {
  @ApiProperty({ type: [SayOfDto] })
  @IsArray()
  @ArrayNotEmpty()
  @ArrayMaxSize(SAID_AT_ONCE)
  @ValidateNested({ each: true })
  @Type(() => SayOfDto)
  of: SayOfDto[]

  @IsString()
  @MaxLength(50_000)
  text: string

  /** A remark is unseen until it is handed back; left out: a comment. */
  @ApiProperty({ enum: ['comment', 'remark'], required: false })
  @IsOptional()
  @IsIn(['comment', 'remark'])
  kind?: 'comment' | 'remark'
}

@ApiTags('comment')
@Controller()
export class CommentController {
  constructor(private readonly comments: CommentService) {}

  /** Says the same of several copies of a handout: of each as a whole, or of an answer in it. */
  @Post('handouts/:handoutId/comments')
  @HttpCode(200)
  sayOfAll(
    @Asking() viewer: Viewer,
    @Param('handoutId', ParseUUIDPipe) handoutId: string,
    @Body() { text, of, kind }: SayOfAllDto,
  ) {
    return this.comments.sayOfAll(viewer, handoutId, { text, kind: kind ?? 'comment' }, of)
  }

  @Post('handouts/:handoutId/comments/take-back')
  @HttpCode(200)
  takeBackOfAll(
    @Asking() viewer: Viewer,
    @Param('handoutId', ParseUUIDPipe) handoutId: string,
    @Body() { of }: SaidOfDto,
  ) {
    return this.comments.takeBackOfAll(viewer, handoutId, of)
  }

  @Get('copies/:copyId/comments')
  list(@Asking() viewer: Viewer, @Param('copyId', ParseUUIDPipe) copyId: string) {
    return this.comments.list(viewer, copyId)
  }

  @Post('copies/:copyId/comments/seen')
  @HttpCode(204)
  seen(@Asking() viewer: Viewer, @Param('copyId', ParseUUIDPipe) copyId: string) {
    return this.comments.seen(viewer, copyId)
  }

  /** The page chooses the ids: what is sent twice is there once. */
  @Put('copies/:copyId/comments/:commentId')
  async write(
    @Asking() viewer: Viewer,
    @Param('copyId', ParseUUIDPipe) copyId: string,
    @Param('commentId', ParseUUIDPipe) commentId: string,
    @Body() { text, threadId, begins }: CommentDto,
  ) {
    return { thread: await this.comments.write(viewer, copyId, { commentId, text, threadId, begins: begins ?? null }) }
  }

  @Post('copies/:copyId/comments/:commentId/delete')
  @HttpCode(200)
  async delete(
    @Asking() viewer: Viewer,
    @Param('copyId', ParseUUIDPipe) copyId: string,
    @Param('commentId', ParseUUIDPipe) commentId: string,
  ) {
    return { thread: await this.comments.delete(viewer, copyId, commentId) }
  }

  @Post('copies/:copyId/comments/:commentId/bring-back')
  @HttpCode(200)
  async bringBack(
    @Asking() viewer: Viewer,
    @Param('copyId', ParseUUIDPipe) copyId: string,
    @Param('commentId', ParseUUIDPipe) commentId: string,
  ) {
    return { thread: await this.comments.bringBack(viewer, copyId, commentId) }
  }

  @Put('copies/:copyId/threads/:threadId')
  async done(
    @Asking() viewer: Viewer,
    @Param('copyId', ParseUUIDPipe) copyId: string,
    @Param('threadId', ParseUUIDPipe) threadId: string,
    @Body() { done }: DoneDto,
  ) {
    return { thread: await this.comments.done(viewer, copyId, threadId, done) }
  }

  /** Answers several questions with the same words. */
  @Post('desk/questions/answer')
  @HttpCode(200)
  answerAll(@Asking() viewer: Viewer, @Body() { text, to }: AnswerAllDto) {
    return this.comments.answerAll(viewer, text, to)
  }

  /** Comments in which the person who asks is named, as one of the staff. */
  @Get('desk/mentions')
  mentions(@Asking() viewer: Viewer) {
    return this.comments.mentions(viewer)
  }

  @Get('desk/questions')
  questions(@Asking() viewer: Viewer) {
    return this.comments.questions(viewer)
  }
}
