import type { Viewer } from '@gavrin/core'
import { Body, Controller, Delete, Get, HttpCode, Param, ParseUUIDPipe, Post, Put } from '@nestjs/common'
import { ApiProperty, ApiTags } from '@nestjs/swagger'
import { Type } from 'class-transformer'
import {
  ArrayMaxSize,
  IsArray,
  IsIn,
  IsInt,
  IsNumber,
  IsOptional,
  IsString,
  IsUUID,
  MaxLength,
  ValidateNested,
} from 'class-validator'
import { Ids, OpenTimesDto, OrNull, PeopleDto } from '../common/dto.js'
import { Asking } from '../access/viewer.js'
import { GroupService } from './group.service.js'
import { SignUpService } from './signUp.service.js'

const NAME = { message: 'This name is too long.' }

class GroupDto {
  @ApiProperty() @IsUUID() id: string
  @ApiProperty() @IsString() @MaxLength(500, NAME) name: string
  @ApiProperty({ type: Number, nullable: true }) @OrNull() @IsNumber() places: number | null
  @ApiProperty({ type: [String] }) @Ids() personIds: string[]
}

class PairDto {
  @ApiProperty() @IsUUID() a: string
  @ApiProperty() @IsUUID() b: string
  @ApiProperty({ enum: ['together', 'apart'] }) @IsIn(['together', 'apart']) kind: 'together' | 'apart'
}

class ArrangementDto {
  @ApiProperty({ type: [GroupDto] })
  @IsArray()
  @ArrayMaxSize(500)
  @ValidateNested({ each: true })
  @Type(() => GroupDto)
  groups: GroupDto[]

  @ApiProperty({ type: [String] }) @Ids() locked: string[]

  @ApiProperty({ type: [PairDto] })
  @IsArray()
  @ArrayMaxSize(1_000)
  @ValidateNested({ each: true })
  @Type(() => PairDto)
  pairs: PairDto[]
}

class NewSetDto {
  @ApiProperty() @IsString() @MaxLength(500, NAME) name: string
  @ApiProperty({ type: String, nullable: true }) @OrNull() @IsUUID() balanceColumn: string | null
  @ApiProperty({ type: ArrangementDto, required: false })
  @IsOptional()
  @ValidateNested()
  @Type(() => ArrangementDto)
  arrangement?: ArrangementDto
}

class PlacesDto {
  @ApiProperty() @IsUUID() groupId: string
  @ApiProperty({ type: Number, nullable: true }) @OrNull() @IsNumber() places: number | null
}

class ChangeSetDto {
  @ApiProperty() @IsString() @MaxLength(500, NAME) name: string
  @ApiProperty({ type: String, nullable: true }) @OrNull() @IsUUID() balanceColumn: string | null
  @ApiProperty({ type: OpenTimesDto }) @ValidateNested() @Type(() => OpenTimesDto) signUp: OpenTimesDto

  @ApiProperty({ type: [PlacesDto], required: false })
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(500)
  @ValidateNested({ each: true })
  @Type(() => PlacesDto)
  places?: PlacesDto[]
}

class ArrangeDto extends ArrangementDto {
  @ApiProperty() @IsInt() version: number
}

class MoveDto extends PeopleDto {
  @ApiProperty({ type: String, nullable: true }) @OrNull() @IsUUID() groupId: string | null
}

class TellApartDto {
  @ApiProperty() @IsUUID() one: string
  @ApiProperty() @IsUUID() two: string
}

class ChooseDto {
  @ApiProperty({ type: String, nullable: true }) @OrNull() @IsUUID() groupId: string | null
}

@ApiTags('groups')
@Controller()
export class GroupController {
  constructor(
    private readonly groups: GroupService,
    private readonly signUps: SignUpService,
  ) {}

  @Get('classes/:classId/group-sets')
  list(@Asking() viewer: Viewer, @Param('classId', ParseUUIDPipe) classId: string) {
    return this.groups.list(viewer, classId)
  }

  @Post('classes/:classId/group-sets')
  create(@Asking() viewer: Viewer, @Param('classId', ParseUUIDPipe) classId: string, @Body() input: NewSetDto) {
    return this.groups.create(viewer, classId, { ...input, arrangement: input.arrangement ?? null })
  }

  @Put('group-sets/:setId')
  @HttpCode(204)
  change(@Asking() viewer: Viewer, @Param('setId', ParseUUIDPipe) setId: string, @Body() input: ChangeSetDto) {
    return this.groups.change(viewer, setId, { ...input, places: input.places ?? [] })
  }

  @Put('group-sets/:setId/arrangement')
  arrange(
    @Asking() viewer: Viewer,
    @Param('setId', ParseUUIDPipe) setId: string,
    @Body() { version, ...arrangement }: ArrangeDto,
  ) {
    return this.groups.arrange(viewer, setId, version, arrangement)
  }

  @Post('group-sets/:setId/moves')
  @HttpCode(200)
  move(
    @Asking() viewer: Viewer,
    @Param('setId', ParseUUIDPipe) setId: string,
    @Body() { personIds, groupId }: MoveDto,
  ) {
    return this.groups.move(viewer, setId, personIds, groupId)
  }

  /** Two groups whose names look alike are two. */
  @Post('group-sets/:setId/different')
  @HttpCode(204)
  tellApart(
    @Asking() viewer: Viewer,
    @Param('setId', ParseUUIDPipe) setId: string,
    @Body() { one, two }: TellApartDto,
  ) {
    return this.groups.tellApart(viewer, setId, [one, two])
  }

  /** Asks again about all groups of the set whose names look alike. */
  @Delete('group-sets/:setId/different')
  @HttpCode(204)
  askAgain(@Asking() viewer: Viewer, @Param('setId', ParseUUIDPipe) setId: string) {
    return this.groups.tellApart(viewer, setId, null)
  }

  @Delete('group-sets/:setId')
  @HttpCode(204)
  remove(@Asking() viewer: Viewer, @Param('setId', ParseUUIDPipe) setId: string) {
    return this.groups.remove(viewer, setId, true)
  }

  @Post('group-sets/:setId/return')
  @HttpCode(204)
  bringBack(@Asking() viewer: Viewer, @Param('setId', ParseUUIDPipe) setId: string) {
    return this.groups.remove(viewer, setId, false)
  }

  @Get('sign-ups')
  mine(@Asking() viewer: Viewer) {
    return this.signUps.mine(viewer)
  }

  @Get('sign-ups/:setId')
  signUp(@Asking() viewer: Viewer, @Param('setId', ParseUUIDPipe) setId: string) {
    return this.signUps.open(viewer, setId)
  }

  @Post('sign-ups/:setId')
  @HttpCode(200)
  choose(@Asking() viewer: Viewer, @Param('setId', ParseUUIDPipe) setId: string, @Body() { groupId }: ChooseDto) {
    return this.signUps.choose(viewer, setId, groupId)
  }
}
