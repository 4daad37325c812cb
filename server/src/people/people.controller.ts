import type { SchoolRole, Viewer } from '@gavrin/core'
import { Body, Controller, Delete, Get, HttpCode, Param, ParseUUIDPipe, Post, Put, Query } from '@nestjs/common'
import { ApiProperty, ApiTags } from '@nestjs/swagger'
import { Type } from 'class-transformer'
import { IsIn, IsInt, IsOptional, IsString, IsUUID, Max, MaxLength, Min } from 'class-validator'
import { Text } from '../common/dto.js'
import { Asking } from '../access/viewer.js'
import { OfficeService } from './office.service.js'
import { PeopleService } from './people.service.js'

const ROLES = ['office', 'teacher', 'student'] as const

class PersonDto {
  @ApiProperty() @Text() first: string
  @ApiProperty() @Text() last: string
  @ApiProperty() @Text() email: string
  @ApiProperty() @Text() number: string
  @ApiProperty({ enum: ROLES }) @IsIn(ROLES) role: SchoolRole
}

class PeopleDto {
  @ApiProperty({ required: false }) @IsOptional() @IsString() @MaxLength(200) find?: string
  @ApiProperty({ required: false, enum: ROLES }) @IsOptional() @IsIn(ROLES) role?: SchoolRole
  @ApiProperty({ required: false }) @IsOptional() @Type(() => Number) @IsInt() @Min(0) @Max(10_000) page?: number
  @ApiProperty({ required: false }) @IsOptional() @IsString() @MaxLength(40) language?: string
}

class ResetDto {
  @ApiProperty({ enum: ['mail', 'card'] }) @IsIn(['mail', 'card']) how: 'mail' | 'card'
}

class MergeDto {
  @ApiProperty() @IsUUID() keepId: string
  @ApiProperty() @IsUUID() otherId: string
}

@ApiTags('people')
@Controller()
export class PeopleController {
  constructor(
    private readonly people: PeopleService,
    private readonly office: OfficeService,
  ) {}

  @Get('people/:personId')
  person(@Asking() viewer: Viewer, @Param('personId', ParseUUIDPipe) personId: string) {
    return this.people.person(viewer, personId)
  }

  @Get('office/people')
  all(@Asking() viewer: Viewer, @Query() { find, role, page, language }: PeopleDto) {
    return this.office.people(viewer, {
      find: find ?? '',
      role: role ?? null,
      page: page ?? 0,
      language: language ?? '',
    })
  }

  @Get('office/doubles')
  doubles(@Asking() viewer: Viewer) {
    return this.office.doubles(viewer)
  }

  @Put('office/different/:oneId/:twoId')
  @HttpCode(204)
  tellApart(
    @Asking() viewer: Viewer,
    @Param('oneId', ParseUUIDPipe) oneId: string,
    @Param('twoId', ParseUUIDPipe) twoId: string,
  ): Promise<void> {
    return this.office.tellApart(viewer, [oneId, twoId], true)
  }

  @Delete('office/different/:oneId/:twoId')
  @HttpCode(204)
  notToldApart(
    @Asking() viewer: Viewer,
    @Param('oneId', ParseUUIDPipe) oneId: string,
    @Param('twoId', ParseUUIDPipe) twoId: string,
  ): Promise<void> {
    return this.office.tellApart(viewer, [oneId, twoId], false)
  }

  @Get('office/sign-in-trouble')
  signInTrouble(@Asking() viewer: Viewer) {
    return this.office.signInTrouble(viewer)
  }

  @Post('office/people')
  add(@Asking() viewer: Viewer, @Body() input: PersonDto) {
    return this.office.add(viewer, input)
  }

  @Put('office/people/:personId')
  @HttpCode(204)
  change(
    @Asking() viewer: Viewer,
    @Param('personId', ParseUUIDPipe) personId: string,
    @Body() input: PersonDto,
  ): Promise<void> {
    return this.office.change(viewer, personId, input)
  }

  @Post('office/people/:personId/reset')
  @HttpCode(200)
  reset(@Asking() viewer: Viewer, @Param('personId', ParseUUIDPipe) personId: string, @Body() { how }: ResetDto) {
    return this.office.reset(viewer, personId, how)
  }

  @Post('office/merge')
  @HttpCode(200)
  merge(@Asking() viewer: Viewer, @Body() { keepId, otherId }: MergeDto) {
    return this.office.merge(viewer, keepId, otherId)
  }
}
