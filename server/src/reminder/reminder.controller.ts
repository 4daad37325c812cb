import { LETTERS_ABOUT, type LettersAbout, REMINDER_LIMITS, type Viewer } from '@gavrin/core'
import { Body, Controller, HttpCode, Param, ParseUUIDPipe, Post } from '@nestjs/common'
import { ApiProperty, ApiTags } from '@nestjs/swagger'
import { ArrayMaxSize, IsArray, IsIn, IsOptional, IsString, IsUUID, MaxLength } from 'class-validator'
import { Asking } from '../access/viewer.js'
import { ReminderService } from './reminder.service.js'

class RemindersDto {
  @ApiProperty({ type: [String] }) @IsArray() @ArrayMaxSize(2_000) @IsUUID(undefined, { each: true }) copyIds: string[]
  /** What is said besides; '': nothing. */
  @ApiProperty()
  @IsString()
  @MaxLength(REMINDER_LIMITS.words, { message: `Write up to ${REMINDER_LIMITS.words} characters.` })
  words: string
  /** What is missing, if nothing is said. */
  @ApiProperty({ enum: LETTERS_ABOUT, required: false }) @IsOptional() @IsIn(LETTERS_ABOUT) about?: LettersAbout
}

@ApiTags('reminders')
@Controller('handouts/:handoutId/reminders')
export class ReminderController {
  constructor(private readonly reminders: ReminderService) {}

  /** Who would be reminded, who not and why, and how it reads. By POST, for a list of copies may be longer than an address. */
  @Post('proof')
  @HttpCode(200)
  proof(
    @Asking() viewer: Viewer,
    @Param('handoutId', ParseUUIDPipe) handoutId: string,
    @Body() { copyIds, words, about = 'missing' }: RemindersDto,
  ) {
    return this.reminders.proof(viewer, handoutId, { copyIds, words, about })
  }

  @Post()
  @HttpCode(200)
  send(
    @Asking() viewer: Viewer,
    @Param('handoutId', ParseUUIDPipe) handoutId: string,
    @Body() { copyIds, words, about = 'missing' }: RemindersDto,
  ) {
    return this.reminders.send(viewer, handoutId, { copyIds, words, about })
  }
}
