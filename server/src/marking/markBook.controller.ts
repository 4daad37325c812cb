import { type MarkBookRules, type Viewer, MARK_BOOK_LIMITS } from '@gavrin/core'
import { Body, Controller, Get, HttpCode, Param, ParseEnumPipe, ParseUUIDPipe, Post, Put } from '@nestjs/common'
import { ApiProperty, ApiTags } from '@nestjs/swagger'
import { Type } from 'class-transformer'
import {
  ArrayMaxSize,
  ArrayNotEmpty,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsObject,
  IsOptional,
  IsString,
  IsUUID,
  Max,
  MaxLength,
  Min,
  ValidateNested,
} from 'class-validator'
import { Asking } from '../access/viewer.js'
import { asDownload } from '../common/files.js'
import { OUT_FORMATS, type OutFormat } from '../rosterOut/rosterOut.service.js'
import { MarkBookService } from './markBook.service.js'

class MarkBookRulesDto {
  @ApiProperty({ enum: ['nothing', 'zero'] }) @IsIn(['nothing', 'zero']) missing: MarkBookRules['missing']
  /** Only so many of the best count in each unit; null: all. */
  @ApiProperty({ type: Number, nullable: true })
  @IsOptional()
  @IsInt()
  @Min(1)
  @Max(MARK_BOOK_LIMITS.best)
  best: number | null
  /** By the ids of handouts and columns; left out: 1. */
  @ApiProperty({ type: 'object', additionalProperties: { type: 'number' } })
  @IsObject()
  weights: Record<string, number>
}

class MarkColumnDto {
  @ApiProperty() @IsString() @MaxLength(MARK_BOOK_LIMITS.name) name: string
  @ApiProperty({ type: String, nullable: true }) @IsOptional() @IsString() @MaxLength(100) unit: string | null
  /** In hundredths of a point. */
  @ApiProperty() @IsInt() most: number
}

class WithMarksDto {
  /** Its marks go with it. */
  @ApiProperty() @IsBoolean() withMarks: boolean
}

class PaperCellDto {
  /** In hundredths of a point; null: none. */
  @ApiProperty({ type: Number, nullable: true }) @IsOptional() @IsInt() total: number | null
  @ApiProperty() @IsBoolean() excused: boolean
}

class PaperMarkDto {
  @ApiProperty() @IsUUID() personId: string
  /** As it stood on the page. */
  @ApiProperty() @ValidateNested() @Type(() => PaperCellDto) was: PaperCellDto
  @ApiProperty() @ValidateNested() @Type(() => PaperCellDto) to: PaperCellDto
}

class PaperMarksDto {
  @ApiProperty({ type: [PaperMarkDto] })
  @IsArray()
  @ArrayNotEmpty()
  @ArrayMaxSize(1_000)
  @ValidateNested({ each: true })
  @Type(() => PaperMarkDto)
  marks: PaperMarkDto[]
}

class StudentNoteDto {
  /** As it stood on the page. */
  @ApiProperty() @IsString() @MaxLength(MARK_BOOK_LIMITS.note) was: string
  @ApiProperty()
  @IsString()
  @MaxLength(MARK_BOOK_LIMITS.note, { message: `A note has up to ${MARK_BOOK_LIMITS.note} characters.` })
  to: string
}

@ApiTags('marking')
@Controller('classes/:classId/mark-book')
export class MarkBookController {
  constructor(private readonly books: MarkBookService) {}

  /** Students by handouts, with their marks. */
  @Get()
  book(@Asking() viewer: Viewer, @Param('classId', ParseUUIDPipe) classId: string) {
    return this.books.book(viewer, classId)
  }

  /** One column, of a handout or of its own, as it is now. */
  @Get('columns/:columnId')
  column(
    @Asking() viewer: Viewer,
    @Param('classId', ParseUUIDPipe) classId: string,
    @Param('columnId', ParseUUIDPipe) columnId: string,
  ) {
    return this.books.column(viewer, classId, columnId)
  }

  @Post('out/:format')
  @HttpCode(200)
  async writeOut(
    @Asking() viewer: Viewer,
    @Param('classId', ParseUUIDPipe) classId: string,
    @Param('format', new ParseEnumPipe(OUT_FORMATS)) format: OutFormat,
  ) {
    return asDownload(await this.books.write(viewer, classId, format), 'mark book')
  }

  /** How it reckons. */
  @Put('rules')
  @HttpCode(204)
  keepRules(
    @Asking() viewer: Viewer,
    @Param('classId', ParseUUIDPipe) classId: string,
    @Body() { best = null, ...rules }: MarkBookRulesDto,
  ) {
    return this.books.keepRules(viewer, classId, { ...rules, best })
  }

  /** Notes something of a student, for oneself alone. */
  @Put('notes/:personId')
  @HttpCode(204)
  keepNote(
    @Asking() viewer: Viewer,
    @Param('classId', ParseUUIDPipe) classId: string,
    @Param('personId', ParseUUIDPipe) personId: string,
    @Body() { was, to }: StudentNoteDto,
  ) {
    return this.books.keepNote(viewer, classId, personId, was, to)
  }

  /** A column for something on paper. */
  @Put('columns/:columnId')
  @HttpCode(204)
  keepColumn(
    @Asking() viewer: Viewer,
    @Param('classId', ParseUUIDPipe) classId: string,
    @Param('columnId', ParseUUIDPipe) columnId: string,
    @Body() { unit = null, ...column }: MarkColumnDto,
  ) {
    return this.books.keepColumn(viewer, classId, columnId, { ...column, unit })
  }

  @Post('columns/:columnId/remove')
  @HttpCode(204)
  removeColumn(
    @Asking() viewer: Viewer,
    @Param('classId', ParseUUIDPipe) classId: string,
    @Param('columnId', ParseUUIDPipe) columnId: string,
    @Body() { withMarks }: WithMarksDto,
  ) {
    return this.books.removeColumn(viewer, classId, columnId, withMarks)
  }

  /** Marks for something on paper. */
  @Put('columns/:columnId/marks')
  @HttpCode(204)
  markOnPaper(
    @Asking() viewer: Viewer,
    @Param('classId', ParseUUIDPipe) classId: string,
    @Param('columnId', ParseUUIDPipe) columnId: string,
    @Body() { marks }: PaperMarksDto,
  ) {
    const cell = ({ total = null, excused }: PaperCellDto) => ({ total, excused })
    return this.books.markOnPaper(
      viewer,
      classId,
      columnId,
      marks.map(({ personId, was, to }) => ({ personId, was: cell(was), to: cell(to) })),
    )
  }
}
