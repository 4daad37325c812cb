import { HANDED_IN_BYTES, type Viewer } from '@gavrin/core'
import {
  Body,
  Controller,
  Get,
  HttpCode,
  Param,
  ParseEnumPipe,
  ParseUUIDPipe,
  Post,
  Put,
  Query,
  Req,
  Res,
} from '@nestjs/common'
import { ApiBody, ApiConsumes, ApiProperty, ApiQuery, ApiTags } from '@nestjs/swagger'
import { Type } from 'class-transformer'
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsOptional,
  IsString,
  MaxLength,
  Min,
  ValidateNested,
} from 'class-validator'
import type { Request, Response } from 'express'
import { bodyOf, sendFile, sendPicture } from '../common/files.js'
import { Asking } from '../access/viewer.js'
import { COPY_FORMATS, type CopyFormat, CopyOutService } from './copyOut.service.js'
import { CopyService } from './copy.service.js'
import { HANDED_IN_TOO_LARGE } from './handedIn.js'

class InviteDto {
  /** Null: let out again. */
  @ApiProperty({ enum: ['view', 'comment', 'edit'], nullable: true })
  @IsOptional()
  @IsIn(['view', 'comment', 'edit'])
  may: 'view' | 'comment' | 'edit' | null
}

class SeenLateDto {
  @IsInt()
  @Min(0)
  answer: number

  @IsInt()
  @Min(0)
  late: number
}

class LateDecisionDto {
  /** The address of the answer and the id of who wrote. */
  @IsString()
  @MaxLength(300)
  id: string

  /** What was seen when it was decided. */
  @ValidateNested()
  @Type(() => SeenLateDto)
  seen: SeenLateDto

  /** Of the parts that are taken in; null: all. None: it is left out. */
  @ApiProperty({ type: [String], nullable: true })
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(5_000)
  @IsString({ each: true })
  parts: string[] | null
}

class ReadDto {
  /** False: not yet, after all. */
  @ApiProperty() @IsBoolean() done: boolean
}

@ApiTags('copy')
@Controller('copies')
export class CopyController {
  constructor(
    private readonly copies: CopyService,
    private readonly out: CopyOutService,
  ) {}

  @Get()
  mine(@Asking() viewer: Viewer) {
    return this.copies.mine(viewer)
  }

  @Get('reading')
  reading(@Asking() viewer: Viewer) {
    return this.copies.reading(viewer)
  }

  @Get('late-writing')
  lateCopies(@Asking() viewer: Viewer) {
    return this.copies.lateCopies(viewer)
  }

  @Get(':copyId')
  open(@Asking() viewer: Viewer, @Param('copyId', ParseUUIDPipe) copyId: string) {
    return this.copies.open(viewer, copyId)
  }

  /** Who sees it, and why. */
  @Get(':copyId/access')
  access(@Asking() viewer: Viewer, @Param('copyId', ParseUUIDPipe) copyId: string) {
    return this.copies.access(viewer, copyId)
  }

  /** The copy with what is written in it, as a document. */
  @Post(':copyId/out/:format')
  @HttpCode(200)
  async writeOut(
    @Asking() viewer: Viewer,
    @Param('copyId', ParseUUIDPipe) copyId: string,
    @Param('format', new ParseEnumPipe(COPY_FORMATS)) format: CopyFormat,
    @Res() response: Response,
  ) {
    sendFile(response, await this.out.write(viewer, copyId, format))
  }

  @Put(':copyId/reading')
  @HttpCode(204)
  sayRead(
    @Asking() viewer: Viewer,
    @Param('copyId', ParseUUIDPipe) copyId: string,
    @Body() { done }: ReadDto,
  ): Promise<void> {
    return this.copies.sayRead(viewer, copyId, done)
  }

  @Get(':copyId/hint')
  @ApiQuery({ name: 'space', required: true })
  hint(@Asking() viewer: Viewer, @Param('copyId', ParseUUIDPipe) copyId: string, @Query('space') space: string) {
    return this.copies.hint(viewer, copyId, String(space))
  }

  @Get(':copyId/media/:mediumId')
  async medium(
    @Asking() viewer: Viewer,
    @Param('copyId', ParseUUIDPipe) copyId: string,
    @Param('mediumId', ParseUUIDPipe) mediumId: string,
    @Res() response: Response,
  ) {
    sendPicture(response, await this.copies.medium(viewer, copyId, mediumId))
  }

  @Post(':copyId/files')
  @ApiQuery({ name: 'space', required: true })
  @ApiQuery({ name: 'name', required: true })
  @ApiConsumes('application/octet-stream')
  @ApiBody({ schema: { type: 'string', format: 'binary' } })
  async addFile(
    @Asking() viewer: Viewer,
    @Param('copyId', ParseUUIDPipe) copyId: string,
    @Query('space') space: string,
    @Query('name') name: string,
    @Req() request: Request,
  ) {
    const bytes = await bodyOf(request, HANDED_IN_BYTES, HANDED_IN_TOO_LARGE)
    return this.copies.addFile(viewer, copyId, { space: String(space), name: String(name), bytes })
  }

  @Get(':copyId/files/:fileId')
  async file(
    @Asking() viewer: Viewer,
    @Param('copyId', ParseUUIDPipe) copyId: string,
    @Param('fileId', ParseUUIDPipe) fileId: string,
    @Res() response: Response,
  ) {
    const file = await this.copies.file(viewer, copyId, fileId)
    // Pictures were made anew from their pixels and can be shown; a document is only ever saved.
    if (file.type.startsWith('image/')) sendPicture(response, file)
    else sendFile(response, file)
  }

  @Get(':copyId/late-writing')
  lateWritings(@Asking() viewer: Viewer, @Param('copyId', ParseUUIDPipe) copyId: string) {
    return this.copies.lateWritings(viewer, copyId)
  }

  @Post(':copyId/late-writing')
  @HttpCode(200)
  decideOnLate(
    @Asking() viewer: Viewer,
    @Param('copyId', ParseUUIDPipe) copyId: string,
    @Body() { id, seen, parts }: LateDecisionDto,
  ) {
    return this.copies.decideOnLate(viewer, copyId, { id, seen, parts: parts ?? null })
  }

  @Post(':copyId/last-good')
  @HttpCode(200)
  bringToLastGood(@Asking() viewer: Viewer, @Param('copyId', ParseUUIDPipe) copyId: string) {
    return this.copies.bringToLastGood(viewer, copyId)
  }

  @Get(':copyId/invited')
  invited(@Asking() viewer: Viewer, @Param('copyId', ParseUUIDPipe) copyId: string) {
    return this.copies.invited(viewer, copyId)
  }

  @Put(':copyId/invited/:personId')
  invite(
    @Asking() viewer: Viewer,
    @Param('copyId', ParseUUIDPipe) copyId: string,
    @Param('personId', ParseUUIDPipe) personId: string,
    @Body() { may }: InviteDto,
  ) {
    return this.copies.invite(viewer, copyId, personId, may ?? null)
  }

  @Post(':copyId/submit')
  @HttpCode(200)
  submit(@Asking() viewer: Viewer, @Param('copyId', ParseUUIDPipe) copyId: string) {
    return this.copies.submit(viewer, copyId)
  }

  @Post(':copyId/take-back')
  @HttpCode(200)
  takeBack(@Asking() viewer: Viewer, @Param('copyId', ParseUUIDPipe) copyId: string) {
    return this.copies.takeBack(viewer, copyId)
  }
}
