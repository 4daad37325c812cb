import { COPY_TITLE_LIMIT, type Permission, RENAMINGS, type Renaming, type UndoProof, type Viewer } from '@gavrin/core'
import { Body, Controller, Delete, Get, HttpCode, Ip, Param, ParseUUIDPipe, Post, Put, Req } from '@nestjs/common'
import { ApiProperty, ApiTags } from '@nestjs/swagger'
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsObject,
  IsOptional,
  IsString,
  IsUUID,
  MaxLength,
  Max,
  Min,
  ValidateNested,
} from 'class-validator'
import { Type } from 'class-transformer'
import type { Request } from 'express'
import { beginSession } from '../account/sessions.js'
import { OrNull } from '../common/dto.js'
import { Asking, OpenToAll } from '../access/viewer.js'
import { DeskService } from './desk.service.js'
import { HandOutRuns } from '../handOut/handOutRuns.js'
import { HANDOUT_TITLE_LIMIT, HandoutService } from './handout.service.js'
import { RecipeService } from './recipe.service.js'
import { ShelfService } from './shelf.service.js'
import { WalkInService } from './walkIn.service.js'

class SlipDto {
  @ApiProperty()
  @IsString()
  @MaxLength(HANDOUT_TITLE_LIMIT, { message: `A title has up to ${HANDOUT_TITLE_LIMIT} characters.` })
  title: string
  @ApiProperty({ type: Object }) @IsObject() statement: object
}

class BeginHandoutDto extends SlipDto {
  /** Chosen by who begins it: sent twice it is one. */
  @ApiProperty({ required: false }) @IsOptional() @IsUUID() id?: string
}

class KeepHandoutDto extends SlipDto {
  @ApiProperty() @IsInt() @Min(1) version: number
}

class HandOutDto {
  @ApiProperty() @IsInt() @Min(1) version: number
  /** Of the changes in the proof that was seen. */
  @ApiProperty() @IsString() @MaxLength(64) fingerprint: string
}

class UndoDto {
  /** Of what its proof showed. */
  @ApiProperty() @IsString() @MaxLength(64) fingerprint: string
}

const Slots = () => {
  const decorators = [IsArray(), ArrayMaxSize(10_000), IsString({ each: true }), MaxLength(200, { each: true })]
  return (target: object, property: string) => decorators.forEach((decorate) => decorate(target, property))
}

class RetryDto {
  /** Left out: all that failed. */
  @ApiProperty({ type: [String], required: false }) @IsOptional() @Slots() slotKeys?: string[]
}

class TakeBackDto {
  @ApiProperty({ type: [String] }) @Slots() slotKeys: string[]
  /** True: give them again. */
  @ApiProperty() @IsBoolean() back: boolean
}

/** What holders of a copy can be let do. */
const HOLDERS_MAY = ['edit', 'comment', 'view'] as const

class RenamingDto {
  @ApiProperty({ enum: RENAMINGS }) @IsIn(RENAMINGS) how: Renaming['how']
  @ApiProperty()
  @IsString()
  @MaxLength(COPY_TITLE_LIMIT, { message: `A name has up to ${COPY_TITLE_LIMIT} characters.` })
  text: string
}

class SingleDto {
  @ApiProperty({ type: [String] }) @IsArray() @ArrayMaxSize(10_000) @IsUUID(undefined, { each: true }) copyIds: string[]
  /** Left out: they are called as before. */
  @ApiProperty({ required: false, type: RenamingDto })
  @IsOptional()
  @ValidateNested()
  @Type(() => RenamingDto)
  renaming?: RenamingDto
  /** What their holders may; null: as the slip says; left out: as before. */
  @ApiProperty({ required: false, enum: HOLDERS_MAY, nullable: true })
  @IsOptional()
  @IsIn(HOLDERS_MAY)
  may?: Permission | null
  /** They go to the newest edition of their worksheet. */
  @ApiProperty({ required: false }) @IsOptional() @IsBoolean() newest?: boolean
}

/** The last moment that a date can be. */
const MOMENT_LIMIT = 8.64e15 - 1

class GiveDto {
  @ApiProperty({ type: [String] })
  @IsArray()
  @ArrayMaxSize(1_000)
  @IsUUID(undefined, { each: true })
  personIds: string[]
}

class DueDto {
  @ApiProperty({ type: [String] }) @IsArray() @ArrayMaxSize(10_000) @IsUUID(undefined, { each: true }) copyIds: string[]
  /** Milliseconds since 1970. */
  @ApiProperty() @IsInt() @Min(0) @Max(MOMENT_LIMIT) dueAt: number
}

class RepeatDto {
  @ApiProperty() @IsUUID() classId: string
}

class RecipeDto {
  @ApiProperty() @IsString() @MaxLength(1_000) name: string
  @ApiProperty({ type: Object }) @IsObject() statement: object
}

class ShelfDto {
  @ApiProperty({ type: [Object] }) @IsArray() items: object[]
  @ApiProperty() @IsInt() @Min(0) version: number
}

class WalkInDto {
  @ApiProperty({ enum: ['view', 'comment', 'edit'] }) @IsIn(['view', 'comment', 'edit']) permission:
    | 'view'
    | 'comment'
    | 'edit'
  @ApiProperty() @IsBoolean() open: boolean
  @ApiProperty({ type: Number, nullable: true }) @OrNull() @IsInt() endsAt: number | null
  @ApiProperty({ required: false }) @IsOptional() @IsBoolean() newCode?: boolean
  /** How many guests it lets in. */
  @ApiProperty({ required: false }) @IsOptional() @IsInt() @Min(1) @Max(500) places?: number
}

class ClearGuestsDto {
  /** Those too who have written something. */
  @ApiProperty() @IsBoolean() all: boolean
}

class EnterDto {
  @ApiProperty() @IsString() @MaxLength(1_000) name: string
}

@ApiTags('handout')
@Controller()
export class HandoutController {
  constructor(
    private readonly handouts: HandoutService,
    private readonly runs: HandOutRuns,
    private readonly walkIns: WalkInService,
    private readonly recipes: RecipeService,
    private readonly shelves: ShelfService,
    private readonly desk: DeskService,
  ) {}

  @Get('classes/:classId/handouts')
  list(@Asking() viewer: Viewer, @Param('classId', ParseUUIDPipe) classId: string) {
    return this.handouts.list(viewer, classId)
  }

  @Get('classes/:classId/handouts/beginning')
  beginning(@Asking() viewer: Viewer, @Param('classId', ParseUUIDPipe) classId: string) {
    return this.handouts.beginning(viewer, classId)
  }

  /** What a slip needs to know of a class that is added to it. */
  @Get('classes/:classId/handouts/facts')
  classFacts(@Asking() viewer: Viewer, @Param('classId', ParseUUIDPipe) classId: string) {
    return this.handouts.classFacts(viewer, classId)
  }

  @Post('classes/:classId/handouts')
  create(@Asking() viewer: Viewer, @Param('classId', ParseUUIDPipe) classId: string, @Body() input: BeginHandoutDto) {
    return this.handouts.create(viewer, classId, input)
  }

  @Get('handouts/:handoutId')
  open(@Asking() viewer: Viewer, @Param('handoutId', ParseUUIDPipe) handoutId: string) {
    return this.handouts.open(viewer, handoutId)
  }

  @Put('handouts/:handoutId')
  keep(@Asking() viewer: Viewer, @Param('handoutId', ParseUUIDPipe) handoutId: string, @Body() input: KeepHandoutDto) {
    return this.handouts.keep(viewer, handoutId, input)
  }

  @Delete('handouts/:handoutId')
  @HttpCode(204)
  discard(@Asking() viewer: Viewer, @Param('handoutId', ParseUUIDPipe) handoutId: string) {
    return this.handouts.discard(viewer, handoutId)
  }

  @Post('handouts/:handoutId/repeat')
  repeat(@Asking() viewer: Viewer, @Param('handoutId', ParseUUIDPipe) handoutId: string, @Body() input: RepeatDto) {
    return this.handouts.repeat(viewer, handoutId, input.classId)
  }

  @Post('handouts/:handoutId/hand-out')
  @HttpCode(202)
  handOut(@Asking() viewer: Viewer, @Param('handoutId', ParseUUIDPipe) handoutId: string, @Body() seen: HandOutDto) {
    return this.runs.handOut(viewer, handoutId, seen)
  }

  @Get('handouts/:handoutId/hand-out')
  run(@Asking() viewer: Viewer, @Param('handoutId', ParseUUIDPipe) handoutId: string) {
    return this.runs.run(viewer, handoutId)
  }

  @Post('handouts/:handoutId/hand-out/retry')
  @HttpCode(202)
  retry(@Asking() viewer: Viewer, @Param('handoutId', ParseUUIDPipe) handoutId: string, @Body() input: RetryDto) {
    return this.runs.retry(viewer, handoutId, input.slotKeys ?? null)
  }

  /** What an undo would do. */
  @Get('handouts/:handoutId/undo')
  undoProof(@Asking() viewer: Viewer, @Param('handoutId', ParseUUIDPipe) handoutId: string): Promise<UndoProof> {
    return this.runs.undoProof(viewer, handoutId)
  }

  @Post('handouts/:handoutId/undo')
  @HttpCode(202)
  undo(@Asking() viewer: Viewer, @Param('handoutId', ParseUUIDPipe) handoutId: string, @Body() input: UndoDto) {
    return this.runs.undo(viewer, handoutId, input.fingerprint)
  }

  @Post('handouts/:handoutId/take-back')
  @HttpCode(202)
  takeBack(@Asking() viewer: Viewer, @Param('handoutId', ParseUUIDPipe) handoutId: string, @Body() input: TakeBackDto) {
    return this.runs.takeBack(viewer, handoutId, input.slotKeys, input.back)
  }

  /** Gives copies to students of the class who have none. */
  @Post('handouts/:handoutId/give')
  @HttpCode(202)
  give(@Asking() viewer: Viewer, @Param('handoutId', ParseUUIDPipe) handoutId: string, @Body() input: GiveDto) {
    return this.runs.giveTo(viewer, handoutId, input.personIds)
  }

  /** Gives those who hold these copies another due time. */
  @Post('handouts/:handoutId/due')
  @HttpCode(202)
  due(@Asking() viewer: Viewer, @Param('handoutId', ParseUUIDPipe) handoutId: string, @Body() input: DueDto) {
    return this.runs.dueFor(viewer, handoutId, input.copyIds, input.dueAt)
  }

  /** What {@link single} would do. */
  @Post('handouts/:handoutId/single/proof')
  @HttpCode(200)
  singleProof(
    @Asking() viewer: Viewer,
    @Param('handoutId', ParseUUIDPipe) handoutId: string,
    @Body() input: SingleDto,
  ) {
    return this.runs.singleProof(viewer, handoutId, input)
  }

  /** Gives copies something of their own: another name, another permission, the newest edition. */
  @Post('handouts/:handoutId/single')
  @HttpCode(202)
  single(@Asking() viewer: Viewer, @Param('handoutId', ParseUUIDPipe) handoutId: string, @Body() input: SingleDto) {
    return this.runs.singleFor(viewer, handoutId, input)
  }

  /** Where the class link leads the person who asks. */
  @Get('handouts/:handoutId/mine')
  classLink(@Asking() viewer: Viewer, @Param('handoutId', ParseUUIDPipe) handoutId: string) {
    return this.desk.classLink(viewer, handoutId)
  }

  @Get('handouts/:handoutId/walk-ins')
  walkInsOf(@Asking() viewer: Viewer, @Param('handoutId', ParseUUIDPipe) handoutId: string) {
    return this.walkIns.ofHandout(viewer, handoutId)
  }

  @Put('handouts/:handoutId/walk-ins/:itemId')
  setWalkIn(
    @Asking() viewer: Viewer,
    @Param('handoutId', ParseUUIDPipe) handoutId: string,
    @Param('itemId') itemId: string,
    @Body() { newCode, places = 60, ...input }: WalkInDto,
  ) {
    return this.walkIns.set(viewer, handoutId, itemId, { ...input, places }, newCode === true)
  }

  @Post('handouts/:handoutId/walk-ins/:itemId/clear')
  @HttpCode(200)
  clearGuests(
    @Asking() viewer: Viewer,
    @Param('handoutId', ParseUUIDPipe) handoutId: string,
    @Param('itemId') itemId: string,
    @Body() { all }: ClearGuestsDto,
  ) {
    return this.walkIns.clear(viewer, handoutId, itemId, all)
  }

  @OpenToAll()
  @Get('walk-in/:code')
  aboutWalkIn(@Param('code') code: string, @Ip() address: string) {
    return this.walkIns.about(code, address)
  }

  @OpenToAll()
  @Post('walk-in/:code')
  @HttpCode(200)
  async enter(
    @Asking() viewer: Viewer | undefined,
    @Param('code') code: string,
    @Body() { name }: EnterDto,
    @Ip() address: string,
    @Req() request: Request,
  ): Promise<{ copyId: string | null }> {
    const { guest, copyId } = await this.walkIns.enter(code, name, address, viewer)
    if (viewer?.personId !== guest.personId) await beginSession(request, guest)
    return { copyId }
  }

  @Get('desk/needs')
  needs(@Asking() viewer: Viewer) {
    return this.desk.needs(viewer)
  }

  @Get('recipes')
  recipesOf(@Asking() viewer: Viewer) {
    return this.recipes.list(viewer)
  }

  @Post('recipes')
  addRecipe(@Asking() viewer: Viewer, @Body() input: RecipeDto) {
    return this.recipes.add(viewer, input)
  }

  @Delete('recipes/:recipeId')
  @HttpCode(204)
  removeRecipe(@Asking() viewer: Viewer, @Param('recipeId', ParseUUIDPipe) recipeId: string) {
    return this.recipes.remove(viewer, recipeId)
  }

  @Get('classes/:classId/shelf')
  shelf(@Asking() viewer: Viewer, @Param('classId', ParseUUIDPipe) classId: string) {
    return this.shelves.open(viewer, classId)
  }

  @Put('classes/:classId/shelf')
  keepShelf(@Asking() viewer: Viewer, @Param('classId', ParseUUIDPipe) classId: string, @Body() input: ShelfDto) {
    return this.shelves.keep(viewer, classId, input)
  }
}
