import type { Viewer } from '@gavrin/core'
import { Body, Controller, Delete, Get, HttpCode, Param, ParseUUIDPipe, Post, Put } from '@nestjs/common'
import { ApiProperty, ApiTags } from '@nestjs/swagger'
import { Type } from 'class-transformer'
import { ArrayMaxSize, IsArray, IsIn, IsString, MaxLength, MinLength, ValidateNested } from 'class-validator'
import { Asking } from '../common/viewer.js'
import { RosterService } from './roster.service.js'

/** Longer than anything that is kept: the core says in a sentence what is too long. */
const CELL_LIMIT = 2_000

class RosterRowDto {
  @ApiProperty() @IsString() @MaxLength(CELL_LIMIT) first: string
  @ApiProperty() @IsString() @MaxLength(CELL_LIMIT) last: string
  @ApiProperty() @IsString() @MaxLength(CELL_LIMIT) email: string
}

class SaveRosterDto {
  @ApiProperty({ type: [RosterRowDto] })
  @IsArray()
  @ArrayMaxSize(5_000, { message: 'One class takes up to 5000 rows.' })
  @ValidateNested({ each: true })
  @Type(() => RosterRowDto)
  rows: RosterRowDto[]
}

export const INKS = ['deep blue', 'plum', 'forest', 'rust', 'teal', 'charcoal'] as const

class CreateClassDto {
  @ApiProperty()
  @IsString()
  @MinLength(1, { message: 'Give the class a name.' })
  @MaxLength(100, { message: 'A class name has up to 100 characters.' })
  name: string
  @ApiProperty() @IsString() @MaxLength(100, { message: 'A subject has up to 100 characters.' }) subject: string
  @ApiProperty() @IsString() @MaxLength(20, { message: 'A year has up to 20 characters.' }) year: string
  @ApiProperty({ enum: INKS }) @IsIn(INKS, { message: 'Choose one of the six inks.' }) ink: string
}

@ApiTags('roster')
@Controller('classes')
export class RosterController {
  constructor(private readonly rosters: RosterService) {}

  @Get()
  list(@Asking() viewer: Viewer) {
    return this.rosters.classesOf(viewer)
  }

  @Post()
  create(@Asking() viewer: Viewer, @Body() input: CreateClassDto) {
    return this.rosters.createClass(viewer, input)
  }

  @Get(':classId')
  one(@Asking() viewer: Viewer, @Param('classId', ParseUUIDPipe) classId: string) {
    return this.rosters.class(viewer, classId)
  }

  @Get(':classId/roster')
  roster(@Asking() viewer: Viewer, @Param('classId', ParseUUIDPipe) classId: string) {
    return this.rosters.roster(viewer, classId)
  }

  @Post(':classId/roster')
  @HttpCode(200)
  save(@Asking() viewer: Viewer, @Param('classId', ParseUUIDPipe) classId: string, @Body() { rows }: SaveRosterDto) {
    return this.rosters.save(viewer, classId, rows)
  }

  @Put(':classId/roster/:personId')
  correct(
    @Asking() viewer: Viewer,
    @Param('classId', ParseUUIDPipe) classId: string,
    @Param('personId', ParseUUIDPipe) personId: string,
    @Body() row: RosterRowDto,
  ) {
    return this.rosters.correct(viewer, classId, personId, row)
  }

  @Delete(':classId/roster/:personId')
  @HttpCode(204)
  leave(
    @Asking() viewer: Viewer,
    @Param('classId', ParseUUIDPipe) classId: string,
    @Param('personId', ParseUUIDPipe) personId: string,
  ) {
    return this.rosters.setLeft(viewer, classId, personId, true)
  }

  @Post(':classId/roster/:personId/return')
  @HttpCode(204)
  comeBack(
    @Asking() viewer: Viewer,
    @Param('classId', ParseUUIDPipe) classId: string,
    @Param('personId', ParseUUIDPipe) personId: string,
  ) {
    return this.rosters.setLeft(viewer, classId, personId, false)
  }

  /** Start passwords for those who cannot sign in yet. */
  @Post(':classId/sign-in-cards')
  @HttpCode(200)
  signInCards(@Asking() viewer: Viewer, @Param('classId', ParseUUIDPipe) classId: string) {
    return this.rosters.signInCards(viewer, classId)
  }
}
