import type { Viewer } from '@gavrin/core'
import { Body, Controller, Get, HttpCode, Param, ParseUUIDPipe, Post, Put, Req } from '@nestjs/common'
import { ApiProperty, ApiTags } from '@nestjs/swagger'
import { Type } from 'class-transformer'
import { ArrayMaxSize, IsArray, IsInt, IsOptional, IsUUID, Max, Min, ValidateNested } from 'class-validator'
import type { Request } from 'express'
import { Ids, OpenTimesDto, OrNull, Text } from '../common/dto.js'
import { Asking, OpenToAll } from '../access/viewer.js'
import { JoinService } from './join.service.js'

class LetInDto {
  @ApiProperty() @IsUUID() id: string
  /** The student this is; null: somebody new. */
  @ApiProperty({ type: String, nullable: true }) @OrNull() @IsUUID() as: string | null
}

class DecideDto {
  @ApiProperty({ type: [LetInDto] })
  @IsArray()
  @ArrayMaxSize(1_000)
  @ValidateNested({ each: true })
  @Type(() => LetInDto)
  letIn: LetInDto[]

  @ApiProperty({ type: [String] }) @Ids() turnAway: string[]
}

class JoinTimesDto extends OpenTimesDto {
  /** How many may wait at most; left out: as it is. */
  @ApiProperty({ required: false }) @IsOptional() @IsInt() @Min(1) @Max(500) places?: number
}

class AskDto {
  @ApiProperty() @Text() first: string
  @ApiProperty() @Text() last: string
  @ApiProperty() @Text() email: string
}

@ApiTags('join')
@Controller()
export class JoinController {
  constructor(private readonly joins: JoinService) {}

  @Get('classes/:classId/join')
  page(@Asking() viewer: Viewer, @Param('classId', ParseUUIDPipe) classId: string) {
    return this.joins.page(viewer, classId)
  }

  @Put('classes/:classId/join')
  @HttpCode(204)
  keep(@Asking() viewer: Viewer, @Param('classId', ParseUUIDPipe) classId: string, @Body() input: JoinTimesDto) {
    return this.joins.keep(viewer, classId, input)
  }

  @Post('classes/:classId/join/new-code')
  @HttpCode(200)
  renewCode(@Asking() viewer: Viewer, @Param('classId', ParseUUIDPipe) classId: string) {
    return this.joins.renewCode(viewer, classId)
  }

  @Post('classes/:classId/join/decide')
  @HttpCode(200)
  decide(
    @Asking() viewer: Viewer,
    @Param('classId', ParseUUIDPipe) classId: string,
    @Body() { letIn, turnAway }: DecideDto,
  ) {
    return this.joins.decide(viewer, classId, letIn, turnAway)
  }

  @OpenToAll()
  @Get('join/:code')
  face(@Param('code') code: string, @Req() request: Request) {
    return this.joins.face(code, request.ip ?? '')
  }

  @OpenToAll()
  @Post('join/:code')
  @HttpCode(204)
  ask(@Param('code') code: string, @Body() input: AskDto, @Req() request: Request) {
    return this.joins.ask(code, input, request.ip ?? '')
  }
}
