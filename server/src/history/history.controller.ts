import type { Viewer } from '@gavrin/core'
import { Body, Controller, Get, HttpCode, Param, ParseIntPipe, ParseUUIDPipe, Post, Query, Res } from '@nestjs/common'
import { ApiProperty, ApiQuery, ApiTags } from '@nestjs/swagger'
import { Type } from 'class-transformer'
import { ArrayMaxSize, ArrayNotEmpty, IsArray, IsInt, IsString, MaxLength, Min, ValidateNested } from 'class-validator'
import type { Response } from 'express'
import { Asking } from '../access/viewer.js'
import { HistoryService } from './history.service.js'

class BroughtBackDto {
  /** The address of the answer. */
  @IsString()
  @MaxLength(200)
  space: string

  /** How many of its changes it is to be as after. */
  @IsInt()
  @Min(0)
  count: number
}

class BringBackDto {
  @ApiProperty({ type: [BroughtBackDto] })
  @IsArray()
  @ArrayNotEmpty()
  @ArrayMaxSize(500)
  @ValidateNested({ each: true })
  @Type(() => BroughtBackDto)
  answers: BroughtBackDto[]
}

/** A number beyond any that a change has. */
const MOST = 2 ** 31 - 1

/** A database keeps no text with a zero sign in it: no answer has such an address. */
const kept = (space: unknown): string => String(space).replaceAll('\0', '')

@ApiTags('history')
@Controller('copies/:copyId/history')
export class HistoryController {
  constructor(private readonly histories: HistoryService) {}

  @Get()
  history(@Asking() viewer: Viewer, @Param('copyId', ParseUUIDPipe) copyId: string) {
    return this.histories.history(viewer, copyId)
  }

  /** The changes after one of an answer, and those of the answers after it. Where there are more, the link `next` leads to them. */
  @Get('log')
  @ApiQuery({ name: 'space', required: true })
  @ApiQuery({ name: 'seq', required: true })
  async log(
    @Asking() viewer: Viewer,
    @Param('copyId', ParseUUIDPipe) copyId: string,
    @Query('space') space: string,
    @Query('seq', ParseIntPipe) seq: number,
    @Res() response: Response,
  ) {
    const { bytes, next } = await this.histories.log(viewer, copyId, { space: kept(space), seq: Math.min(seq, MOST) })
    if (next)
      response.links({ next: `log?${new URLSearchParams({ space: next.space, seq: String(next.seq) }).toString()}` })
    response.type('application/octet-stream').send(Buffer.from(bytes))
  }

  @Post('bring-back')
  @HttpCode(200)
  bringBack(
    @Asking() viewer: Viewer,
    @Param('copyId', ParseUUIDPipe) copyId: string,
    @Body() { answers }: BringBackDto,
  ) {
    return this.histories.bringBack(viewer, copyId, answers)
  }
}
