import { type PenKind, type Viewer, MARK_LIMITS, PEN_KINDS, PEN_LIMITS } from '@gavrin/core'
import { Body, Controller, Delete, Get, HttpCode, Param, ParseUUIDPipe, Post, Put } from '@nestjs/common'
import { ApiProperty, ApiTags } from '@nestjs/swagger'
import { Type } from 'class-transformer'
import {
  ArrayMaxSize,
  ArrayNotEmpty,
  IsArray,
  IsBoolean,
  IsHexadecimal,
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
import { HandBackService } from './handBack.service.js'
import { MarkingService } from './marking.service.js'
import { PenService } from './pen.service.js'
import { StockRemarksService } from './stockRemarks.service.js'

/** So many copies at once; a handout rarely has more. */
const AT_ONCE = 1_000

class MarkWishDto {
  @ApiProperty() @IsUUID() copyId: string
  /** What of it is one holder's alone; null: the whole copy's. */
  @ApiProperty({ type: String, nullable: true }) @IsOptional() @IsUUID() personId: string | null
  /** Each with what stood there before. */
  @ApiProperty({ type: [Object] })
  @IsArray()
  @ArrayMaxSize(MARK_LIMITS.changes)
  @IsObject({ each: true })
  changes: object[]
  /** The marking of the copy is done, or not; left out: as it is. */
  @ApiProperty({ required: false }) @IsOptional() @IsBoolean() done?: boolean
}

class MarkWishesDto {
  @ApiProperty({ type: [MarkWishDto] })
  @IsArray()
  @ArrayNotEmpty()
  @ArrayMaxSize(AT_ONCE)
  @ValidateNested({ each: true })
  @Type(() => MarkWishDto)
  marks: MarkWishDto[]
}

class CopyThenDto {
  @ApiProperty() @IsString() @MaxLength(200) slotKey: string
  /** Left out, with its edition: as it is. */
  @ApiProperty({ required: false }) @IsOptional() @IsUUID() worksheetId?: string
  @ApiProperty({ required: false }) @IsOptional() @IsInt() @Min(1) edition?: number
  /** Milliseconds since 1970; left out: as it is. */
  @ApiProperty({ type: Number, nullable: true, required: false })
  @IsOptional()
  @IsInt()
  dueAt?: number | null
}

class OtherWayDto {
  /** As in a slip, with its rubric and what is deducted for late work; left out: as it is. */
  @ApiProperty({ type: Object, required: false }) @IsOptional() @IsObject() marking?: object
  @ApiProperty({ type: [Object], required: false })
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(50)
  @IsObject({ each: true })
  rubric?: object[]
  @ApiProperty({ type: Object, nullable: true, required: false }) @IsOptional() @IsObject() lateDeduction?:
    | object
    | null
  /** Copies that would be of another edition or due at another time. */
  @ApiProperty({ type: [CopyThenDto], required: false })
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(10_000)
  @ValidateNested({ each: true })
  @Type(() => CopyThenDto)
  copies?: CopyThenDto[]
}

class HandBackDto {
  /** Left out: all. */
  @ApiProperty({ type: [String], required: false })
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(10_000)
  @IsUUID(undefined, { each: true })
  copyIds?: string[]
  /** To each student, with tokens such as `{first name}`. */
  @ApiProperty() @IsString() @MaxLength(MARK_LIMITS.remark) message: string
  @ApiProperty() @IsBoolean() byMail: boolean
}

class HandBackNowDto extends HandBackDto {
  /** When, in milliseconds since 1970; left out: now. */
  @ApiProperty({ required: false }) @IsOptional() @IsInt() at?: number
  /** Of the proof that was looked at. */
  @ApiProperty() @IsHexadecimal() @MaxLength(16) fingerprint: string
}

class CopiesDto {
  @ApiProperty({ type: [String] })
  @IsArray()
  @ArrayNotEmpty()
  @ArrayMaxSize(10_000)
  @IsUUID(undefined, { each: true })
  copyIds: string[]
}

class ReadingDto {
  /** In hundredths of a point. */
  @ApiProperty({ type: Number, nullable: true }) @IsOptional() @IsInt() @Min(0) @Max(1_000_000_000) total: number | null
  @ApiProperty({ type: String, nullable: true }) @IsOptional() @IsString() @MaxLength(100) step: string | null
  @ApiProperty() @IsString() @MaxLength(MARK_LIMITS.remark) remark: string
}

class PenMarkDto {
  @ApiProperty({ enum: PEN_KINDS }) @IsIn(PEN_KINDS) kind: PenKind
  /** What it is over: an answer space, or a block of the print. */
  @ApiProperty({ type: Object }) @IsObject() over: object
  /** Places in thousandths of its width. */
  @ApiProperty({ type: 'array', items: { type: 'array', items: { type: 'integer' } } })
  @IsArray()
  @ArrayNotEmpty()
  @ArrayMaxSize(PEN_LIMITS.points)
  points: [number, number][]
}

class StockRemarkDto {
  /** By which it is called up. */
  @ApiProperty() @IsString() @MaxLength(100) short: string
  @ApiProperty() @IsString() @MaxLength(MARK_LIMITS.remark) text: string
  /** Also where it stands in copies already. */
  @ApiProperty({ required: false }) @IsOptional() @IsBoolean() everywhere?: boolean
}

@ApiTags('marking')
@Controller()
export class MarkingController {
  constructor(
    private readonly marking: MarkingService,
    private readonly back: HandBackService,
    private readonly stock: StockRemarksService,
    private readonly pen: PenService,
  ) {}

  /** The copies of a handout with their marks, and how they are marked. */
  @Get('handouts/:handoutId/marks')
  page(@Asking() viewer: Viewer, @Param('handoutId', ParseUUIDPipe) handoutId: string) {
    return this.marking.page(viewer, handoutId)
  }

  /** Changes marks, of one copy or of many. */
  @Put('handouts/:handoutId/marks')
  change(
    @Asking() viewer: Viewer,
    @Param('handoutId', ParseUUIDPipe) handoutId: string,
    @Body() { marks }: MarkWishesDto,
  ) {
    return this.marking.change(
      viewer,
      handoutId,
      marks.map(({ personId = null, ...mark }) => ({ ...mark, personId })),
    )
  }

  /** What one who reads a marked copy a second time would give it. */
  @Put('handouts/:handoutId/readings/:copyId')
  @HttpCode(204)
  readAgain(
    @Asking() viewer: Viewer,
    @Param('handoutId', ParseUUIDPipe) handoutId: string,
    @Param('copyId', ParseUUIDPipe) copyId: string,
    @Body() { total = null, step = null, remark }: ReadingDto,
  ) {
    return this.marking.readAgain(viewer, handoutId, copyId, { total, step, remark })
  }

  /** What marking them in another way, by another edition or another due time, would do to the marks that were given. */
  @Post('handouts/:handoutId/marks/proof')
  @HttpCode(200)
  otherWay(@Asking() viewer: Viewer, @Param('handoutId', ParseUUIDPipe) handoutId: string, @Body() wish: OtherWayDto) {
    return this.marking.otherWay(viewer, handoutId, { ...wish, copies: wish.copies ?? [] })
  }

  /** Exactly what handing back would do. */
  @Post('handouts/:handoutId/hand-back/proof')
  @HttpCode(200)
  proof(@Asking() viewer: Viewer, @Param('handoutId', ParseUUIDPipe) handoutId: string, @Body() wish: HandBackDto) {
    return this.back.proof(viewer, handoutId, wish)
  }

  @Post('handouts/:handoutId/hand-back')
  @HttpCode(200)
  handBack(
    @Asking() viewer: Viewer,
    @Param('handoutId', ParseUUIDPipe) handoutId: string,
    @Body() wish: HandBackNowDto,
  ) {
    return this.back.handBack(viewer, handoutId, wish)
  }

  /** Nothing is handed back by itself any more. */
  @Delete('handouts/:handoutId/hand-back/later')
  @HttpCode(204)
  notLater(@Asking() viewer: Viewer, @Param('handoutId', ParseUUIDPipe) handoutId: string) {
    return this.back.notLater(viewer, handoutId)
  }

  /** Takes back what nobody has looked at yet. */
  @Post('handouts/:handoutId/hand-back/withdraw')
  @HttpCode(200)
  withdraw(
    @Asking() viewer: Viewer,
    @Param('handoutId', ParseUUIDPipe) handoutId: string,
    @Body() { copyIds }: CopiesDto,
  ) {
    return this.back.withdraw(viewer, handoutId, copyIds)
  }

  /** Opens what was handed back again, to be improved. */
  @Post('handouts/:handoutId/hand-back/open-again')
  @HttpCode(200)
  openAgain(
    @Asking() viewer: Viewer,
    @Param('handoutId', ParseUUIDPipe) handoutId: string,
    @Body() { copyIds }: CopiesDto,
  ) {
    return this.back.openAgain(viewer, handoutId, copyIds)
  }

  /** Somebody has looked at what they got back. */
  @Post('copies/:copyId/handed-back/looked')
  @HttpCode(204)
  looked(@Asking() viewer: Viewer, @Param('copyId', ParseUUIDPipe) copyId: string) {
    return this.back.looked(viewer, copyId)
  }

  /** What the pen left on a copy. */
  @Get('copies/:copyId/pen')
  penMarks(@Asking() viewer: Viewer, @Param('copyId', ParseUUIDPipe) copyId: string) {
    return this.pen.list(viewer, copyId)
  }

  @Put('copies/:copyId/pen/:markId')
  @HttpCode(204)
  keepPenMark(
    @Asking() viewer: Viewer,
    @Param('copyId', ParseUUIDPipe) copyId: string,
    @Param('markId', ParseUUIDPipe) markId: string,
    @Body() mark: PenMarkDto,
  ) {
    return this.pen.keep(viewer, copyId, markId, mark)
  }

  @Delete('copies/:copyId/pen/:markId')
  @HttpCode(204)
  removePenMark(
    @Asking() viewer: Viewer,
    @Param('copyId', ParseUUIDPipe) copyId: string,
    @Param('markId', ParseUUIDPipe) markId: string,
  ) {
    return this.pen.remove(viewer, copyId, markId)
  }

  @Get('stock-remarks')
  stockRemarks(@Asking() viewer: Viewer) {
    return this.stock.list(viewer)
  }

  /** In how many copies each stands. */
  @Get('stock-remarks/uses')
  usesOfStockRemarks(@Asking() viewer: Viewer) {
    return this.stock.uses(viewer)
  }

  @Put('stock-remarks/:remarkId')
  keepStockRemark(
    @Asking() viewer: Viewer,
    @Param('remarkId', ParseUUIDPipe) remarkId: string,
    @Body() { everywhere, ...remark }: StockRemarkDto,
  ) {
    return this.stock.keep(viewer, remarkId, remark, everywhere ?? false)
  }

  @Delete('stock-remarks/:remarkId')
  @HttpCode(204)
  removeStockRemark(@Asking() viewer: Viewer, @Param('remarkId', ParseUUIDPipe) remarkId: string) {
    return this.stock.remove(viewer, remarkId)
  }
}
