import { type PensWish, type Viewer, EXTRA_TIME_LIMITS, PENS_ACTS, PENS_LATER_LIMIT } from '@gavrin/core'
import { Body, Controller, Get, HttpCode, Param, ParseUUIDPipe, Post, Put } from '@nestjs/common'
import { ApiProperty, ApiTags } from '@nestjs/swagger'
import { Type } from 'class-transformer'
import {
  ArrayMaxSize,
  IsArray,
  IsIn,
  IsInt,
  IsOptional,
  IsString,
  IsUUID,
  Max,
  MaxLength,
  Min,
  ValidateNested,
} from 'class-validator'
import { Asking } from '../access/viewer.js'
import { malformed } from '../common/problemDetails.js'
import { ExtraTimeService } from './extraTime.service.js'
import { PensService } from './pens.service.js'

class ExtraMinutesDto {
  @ApiProperty() @IsUUID() copyId: string
  @ApiProperty() @IsInt() @Min(1) @Max(PENS_LATER_LIMIT * 3) minutes: number
}

class MovePensDto {
  @ApiProperty({ type: [String] }) @IsArray() @ArrayMaxSize(10_000) @IsUUID(undefined, { each: true }) copyIds: string[]
  @ApiProperty({ enum: PENS_ACTS }) @IsIn(PENS_ACTS) act: PensWish['act']
  /** Of `down later`: after how many minutes. */
  @ApiProperty({ required: false })
  @IsOptional()
  @IsInt({ message: 'Give whole minutes.' })
  @Min(1, { message: 'Give at least one minute.' })
  @Max(PENS_LATER_LIMIT, { message: `Give up to ${PENS_LATER_LIMIT} minutes; for later, set a due time.` })
  minutes?: number
  /** Of `down later`: how many minutes more some of the copies have. */
  @ApiProperty({ type: [ExtraMinutesDto], required: false })
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(10_000)
  @ValidateNested({ each: true })
  @Type(() => ExtraMinutesDto)
  more?: ExtraMinutesDto[]
}

class ExtraTimeDto {
  /** One student; else a value in a column. */
  @ApiProperty({ required: false }) @IsOptional() @IsUUID() personId?: string
  @ApiProperty({ required: false }) @IsOptional() @IsUUID() columnId?: string
  @ApiProperty({ required: false }) @IsOptional() @IsString() @MaxLength(EXTRA_TIME_LIMITS.letters) is?: string
  @ApiProperty() @IsInt() @Min(1) @Max(EXTRA_TIME_LIMITS.percent) percent: number
}

class ExtraTimesDto {
  @ApiProperty({ type: [ExtraTimeDto] })
  @IsArray()
  @ArrayMaxSize(EXTRA_TIME_LIMITS.rules)
  @ValidateNested({ each: true })
  @Type(() => ExtraTimeDto)
  extraTime: ExtraTimeDto[]
}

@ApiTags('pens')
@Controller()
export class PensController {
  constructor(
    private readonly pens: PensService,
    private readonly extraTime: ExtraTimeService,
  ) {}

  /** What was done with the pens of a handout, the newest first. */
  @Get('handouts/:handoutId/pens')
  log(@Asking() viewer: Viewer, @Param('handoutId', ParseUUIDPipe) handoutId: string) {
    return this.pens.log(viewer, handoutId)
  }

  /** Stops the pens of copies at once or in some minutes, or lets them go on. */
  @Post('handouts/:handoutId/pens')
  @HttpCode(200)
  move(@Asking() viewer: Viewer, @Param('handoutId', ParseUUIDPipe) handoutId: string, @Body() input: MovePensDto) {
    return this.pens.move(viewer, handoutId, input.copyIds, wishOf(input))
  }

  @Post('handouts/:handoutId/pens/:actId/undo')
  @HttpCode(200)
  undo(
    @Asking() viewer: Viewer,
    @Param('handoutId', ParseUUIDPipe) handoutId: string,
    @Param('actId', ParseUUIDPipe) actId: string,
  ) {
    return this.pens.undo(viewer, handoutId, actId)
  }

  /** Who of a class has extra time, and how much each student has by that. */
  @Get('classes/:classId/extra-time')
  extraTimeOf(@Asking() viewer: Viewer, @Param('classId', ParseUUIDPipe) classId: string) {
    return this.extraTime.ofClass(viewer, classId)
  }

  @Put('classes/:classId/extra-time')
  @HttpCode(200)
  keepExtraTime(
    @Asking() viewer: Viewer,
    @Param('classId', ParseUUIDPipe) classId: string,
    @Body() { extraTime }: ExtraTimesDto,
  ) {
    return this.extraTime.keep(
      viewer,
      classId,
      extraTime.map(({ personId, columnId, is, percent }) => ({
        of: personId ? { kind: 'student', personId } : { kind: 'column', columnId: columnId ?? '', is: is ?? '' },
        percent,
      })),
    )
  }
}

function wishOf({ act, minutes, more = [] }: MovePensDto): PensWish {
  if (act !== 'down later') return { act }
  if (minutes === undefined)
    throw malformed([{ code: 'no-minutes', field: 'minutes', sentence: 'Say in how many minutes pens go down.' }])
  return { act, minutes, more: Object.fromEntries(more.map((one) => [one.copyId, one.minutes])) }
}
