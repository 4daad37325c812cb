import type { StaffRole, Viewer } from '@gavrin/core'
import { Body, Controller, Delete, Get, HttpCode, Param, ParseUUIDPipe, Post, Put } from '@nestjs/common'
import { ApiProperty, ApiTags } from '@nestjs/swagger'
import { Type } from 'class-transformer'
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsIn,
  IsOptional,
  IsString,
  IsUUID,
  MaxLength,
  MinLength,
  ValidateNested,
} from 'class-validator'
import { Ids } from '../common/dto.js'
import { Asking } from '../access/viewer.js'
import { ClassService, UNIT_LIMIT } from './class.service.js'
import { StaffService } from './staff.service.js'

export const INKS = ['deep blue', 'plum', 'forest', 'rust', 'teal', 'charcoal'] as const
const STAFF_ROLES = ['co-teacher', 'helper', 'named helper'] as const

export class NameDto {
  @ApiProperty()
  @IsString()
  @MinLength(1, { message: 'Give the class a name.' })
  @MaxLength(100, { message: 'A class name has up to 100 characters.' })
  name: string
  @ApiProperty() @IsString() @MaxLength(20, { message: 'A year has up to 20 characters.' }) year: string
}

class ClassDto extends NameDto {
  @ApiProperty() @IsString() @MaxLength(100, { message: 'A subject has up to 100 characters.' }) subject: string
  @ApiProperty({ enum: INKS }) @IsIn(INKS, { message: 'Choose one of the six inks.' }) ink: string
}

class RulesDto {
  /** Students comment on what others of the class write. */
  @ApiProperty() @IsBoolean() classmatesComment: boolean
  /** Students see when somebody of the staff has their copy open. */
  @ApiProperty() @IsBoolean() staffShown: boolean
  /** Whoever helps in the class gives marks too. */
  @ApiProperty() @IsBoolean() helpersMark: boolean
}

class UnitDto {
  @ApiProperty({ required: false }) @IsOptional() @IsUUID() id?: string
  @ApiProperty() @IsString() @MaxLength(100, { message: 'A unit name has up to 100 characters.' }) name: string
}

class UnitsDto {
  @ApiProperty({ type: [UnitDto] })
  @IsArray()
  @ArrayMaxSize(UNIT_LIMIT, { message: `A class has up to ${UNIT_LIMIT} units.` })
  @ValidateNested({ each: true })
  @Type(() => UnitDto)
  units: UnitDto[]
}

class StaffPlaceDto {
  @ApiProperty({ enum: STAFF_ROLES }) @IsIn(STAFF_ROLES) role: StaffRole
  @ApiProperty({ type: [String] }) @Ids() studentIds: string[]
}

class AddStaffDto extends StaffPlaceDto {
  @ApiProperty()
  @IsString()
  @MinLength(1, { message: 'Type their e-mail address.' })
  @MaxLength(254, { message: 'This is too long for an e-mail address.' })
  email: string
  @ApiProperty({ required: false }) @IsOptional() @IsString() @MaxLength(300) first?: string
  @ApiProperty({ required: false }) @IsOptional() @IsString() @MaxLength(300) last?: string
}

@ApiTags('class')
@Controller('classes')
export class ClassController {
  constructor(
    private readonly classes: ClassService,
    private readonly staff: StaffService,
  ) {}

  @Get()
  list(@Asking() viewer: Viewer) {
    return this.classes.list(viewer)
  }

  @Post()
  create(@Asking() viewer: Viewer, @Body() input: ClassDto) {
    return this.classes.create(viewer, input)
  }

  @Get(':classId')
  one(@Asking() viewer: Viewer, @Param('classId', ParseUUIDPipe) classId: string) {
    return this.classes.open(viewer, classId)
  }

  @Put(':classId')
  @HttpCode(204)
  change(@Asking() viewer: Viewer, @Param('classId', ParseUUIDPipe) classId: string, @Body() input: ClassDto) {
    return this.classes.change(viewer, classId, input)
  }

  @Put(':classId/rules')
  @HttpCode(204)
  rules(@Asking() viewer: Viewer, @Param('classId', ParseUUIDPipe) classId: string, @Body() input: RulesDto) {
    return this.classes.keepRules(viewer, classId, input)
  }

  @Put(':classId/units')
  @HttpCode(204)
  units(@Asking() viewer: Viewer, @Param('classId', ParseUUIDPipe) classId: string, @Body() { units }: UnitsDto) {
    return this.classes.keepUnits(viewer, classId, units)
  }

  @Post(':classId/archive')
  @HttpCode(204)
  archive(@Asking() viewer: Viewer, @Param('classId', ParseUUIDPipe) classId: string) {
    return this.classes.archive(viewer, classId, true)
  }

  @Post(':classId/bring-back')
  @HttpCode(204)
  bringBack(@Asking() viewer: Viewer, @Param('classId', ParseUUIDPipe) classId: string) {
    return this.classes.archive(viewer, classId, false)
  }

  @Post(':classId/staff')
  addStaff(@Asking() viewer: Viewer, @Param('classId', ParseUUIDPipe) classId: string, @Body() input: AddStaffDto) {
    return this.staff.add(viewer, classId, input)
  }

  @Put(':classId/staff/:personId')
  @HttpCode(204)
  changeStaff(
    @Asking() viewer: Viewer,
    @Param('classId', ParseUUIDPipe) classId: string,
    @Param('personId', ParseUUIDPipe) personId: string,
    @Body() input: StaffPlaceDto,
  ) {
    return this.staff.change(viewer, classId, personId, input)
  }

  /** Somebody else of the staff leads the class; who led it is a co-teacher then. */
  @Post(':classId/staff/:personId/lead')
  @HttpCode(204)
  handOver(
    @Asking() viewer: Viewer,
    @Param('classId', ParseUUIDPipe) classId: string,
    @Param('personId', ParseUUIDPipe) personId: string,
  ) {
    return this.staff.handOver(viewer, classId, personId)
  }

  @Delete(':classId/staff/:personId')
  @HttpCode(204)
  removeStaff(
    @Asking() viewer: Viewer,
    @Param('classId', ParseUUIDPipe) classId: string,
    @Param('personId', ParseUUIDPipe) personId: string,
  ) {
    return this.staff.remove(viewer, classId, personId)
  }
}
