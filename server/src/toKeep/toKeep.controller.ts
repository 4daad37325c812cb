import type { Viewer } from '@gavrin/core'
import { Body, Controller, Delete, Get, HttpCode, Param, ParseUUIDPipe, Post } from '@nestjs/common'
import { ApiProperty, ApiTags } from '@nestjs/swagger'
import { ArrayMaxSize, IsArray, IsBoolean, IsOptional, IsString, IsUUID, MaxLength } from 'class-validator'
import { Asking } from '../access/viewer.js'
import { type KeepWish, MOST_TO_KEEP, ToKeepService } from './toKeep.service.js'

class KeepProofDto {
  /** Of this handout. */
  @ApiProperty({ required: false }) @IsOptional() @IsUUID() handoutId?: string
  /** Or of all handouts of this class. */
  @ApiProperty({ required: false }) @IsOptional() @IsUUID() classId?: string
  /** Or what this student holds in the classes that one teaches. */
  @ApiProperty({ required: false }) @IsOptional() @IsUUID() studentId?: string
  /** Left out: all. */
  @ApiProperty({ type: [String], required: false })
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(MOST_TO_KEEP)
  @IsUUID(undefined, { each: true })
  copyIds?: string[]
  /** Also what is worked in and not submitted. */
  @ApiProperty() @IsBoolean() unfinished: boolean
}

class KeepDto extends KeepProofDto {
  /** Of what the proof showed. */
  @ApiProperty() @IsString() @MaxLength(100) fingerprint: string
}

const wishOf = ({ handoutId, classId, studentId, copyIds, unfinished }: KeepProofDto): KeepWish => ({
  of: { handoutId: handoutId ?? null, classId: classId ?? null, studentId: studentId ?? null },
  copyIds: copyIds ?? null,
  unfinished,
})

@ApiTags('copies')
@Controller('to-keep')
export class ToKeepController {
  constructor(private readonly keeping: ToKeepService) {}

  /** What somebody was given to keep. */
  @Get()
  mine(@Asking() viewer: Viewer) {
    return this.keeping.mine(viewer)
  }

  @Post('proof')
  @HttpCode(200)
  proof(@Asking() viewer: Viewer, @Body() wish: KeepProofDto) {
    return this.keeping.proof(viewer, wishOf(wish))
  }

  /** Gives what the proof showed. */
  @Post()
  @HttpCode(200)
  give(@Asking() viewer: Viewer, @Body() wish: KeepDto) {
    return this.keeping.give(viewer, { ...wishOf(wish), fingerprint: wish.fingerprint })
  }

  /** Takes back what was given in one act, from whoever has not opened it. */
  @Delete('acts/:actId')
  takeBack(@Asking() viewer: Viewer, @Param('actId', ParseUUIDPipe) actId: string) {
    return this.keeping.takeBack(viewer, actId)
  }

  /** The copy of one's own, as it was when it was given. */
  @Post(':keptId/copy')
  @HttpCode(200)
  open(@Asking() viewer: Viewer, @Param('keptId', ParseUUIDPipe) keptId: string) {
    return this.keeping.open(viewer, keptId)
  }
}
