import { COLUMN_LIMIT, type RosterColumn, type Viewer } from '@gavrin/core'
import { Body, Controller, Delete, Get, HttpCode, Param, ParseUUIDPipe, Patch, Post, Put } from '@nestjs/common'
import { ApiProperty, ApiTags } from '@nestjs/swagger'
import { InjectDataSource } from '@nestjs/typeorm'
import { Type } from 'class-transformer'
import {
  ArrayMaxSize,
  IsArray,
  IsIn,
  Min,
  Max,
  IsInt,
  IsObject,
  IsOptional,
  IsString,
  IsUUID,
  MaxLength,
  Validate,
  ValidateNested,
  ValidatorConstraint,
  type ValidatorConstraintInterface,
} from 'class-validator'
import { DataSource } from 'typeorm'
import { makeSignInCards } from '../account/signInCards.js'
import { Ids, PeopleDto, SomePeopleDto, Text } from '../common/dto.js'
import { Asking } from '../access/viewer.js'
import { holdInClass } from '../access/classRole.js'
import { ColumnService } from './column.service.js'
import { RosterService } from './roster.service.js'

/** Longer than anything that is kept: the core says in a sentence what is too long. */
const CELL_BOUND = 2_000

@ValidatorConstraint()
class IsCells implements ValidatorConstraintInterface {
  validate(value: unknown): boolean {
    const cells = Object.entries(value as Record<string, unknown>)
    return (
      cells.length <= COLUMN_LIMIT &&
      cells.every(([name, cell]) => name.length <= 200 && typeof cell === 'string' && cell.length <= CELL_BOUND)
    )
  }
  defaultMessage(): string {
    return `A row has up to ${COLUMN_LIMIT} extra cells of text.`
  }
}

class RosterRowDto {
  @ApiProperty() @Text() first: string
  @ApiProperty() @Text() last: string
  @ApiProperty() @Text() email: string
  /** Student number. */
  @ApiProperty({ required: false }) @IsOptional() @Text() number?: string
  /** Whom of the class it is about, where that was asked; null: somebody else of the same name. */
  @ApiProperty({ required: false, type: String, nullable: true }) @IsOptional() @IsUUID() sameAs?: string | null
  /** Row of the list it stood in, counted from 0: what is said of it names that row. */
  @ApiProperty({ required: false }) @IsOptional() @IsInt() @Min(0) @Max(1_000_000) line?: number
  /** Extra columns, by name. */
  @ApiProperty({ required: false, type: Object }) @IsOptional() @IsObject() @Validate(IsCells) cells?: Record<
    string,
    string
  >
}

class SaveRosterDto {
  @ApiProperty({ type: [RosterRowDto] })
  @IsArray()
  @ArrayMaxSize(5_000, { message: 'One class takes up to 5000 rows.' })
  @ValidateNested({ each: true })
  @Type(() => RosterRowDto)
  rows: RosterRowDto[]

  /** Students who are not in the list and leave the class. */
  @ApiProperty({ type: [String], required: false }) @IsOptional() @Ids() leave?: string[]
}

class BringFromDto extends PeopleDto {
  /** The class they are in. */
  @ApiProperty() @IsUUID() from: string
}

class CellEditDto {
  @ApiProperty() @IsUUID() personId: string
  /** last, first, email, number, or the id of a column. */
  @ApiProperty() @IsString() @MaxLength(64) field: string
  @ApiProperty() @Text() value: string
}

class CellEditsDto {
  @ApiProperty({ type: [CellEditDto] })
  @IsArray()
  @ArrayMaxSize(20_000, { message: 'Change up to 20000 cells at once.' })
  @ValidateNested({ each: true })
  @Type(() => CellEditDto)
  edits: CellEditDto[]
}

class ColumnDto {
  @ApiProperty() @IsString() @MaxLength(200, { message: 'This name is too long.' }) name: string
}

class NewColumnDto extends ColumnDto {
  @ApiProperty({ enum: ['text', 'tags'] }) @IsIn(['text', 'tags']) kind: RosterColumn['kind']
}

@ApiTags('roster')
@Controller('classes/:classId')
export class RosterController {
  constructor(
    private readonly rosters: RosterService,
    private readonly columns: ColumnService,
    @InjectDataSource() private readonly source: DataSource,
  ) {}

  @Get('roster')
  roster(@Asking() viewer: Viewer, @Param('classId', ParseUUIDPipe) classId: string) {
    return this.rosters.roster(viewer, classId)
  }

  /** Saves a list into the roster. */
  @Post('roster')
  @HttpCode(200)
  save(
    @Asking() viewer: Viewer,
    @Param('classId', ParseUUIDPipe) classId: string,
    @Body() { rows, leave }: SaveRosterDto,
  ) {
    return this.rosters.save(viewer, classId, rows, leave)
  }

  /** Changes cells, all of them or none. */
  @Patch('roster')
  edit(@Asking() viewer: Viewer, @Param('classId', ParseUUIDPipe) classId: string, @Body() { edits }: CellEditsDto) {
    return this.rosters.edit(viewer, classId, edits)
  }

  @Post('roster/leave')
  @HttpCode(200)
  async leave(
    @Asking() viewer: Viewer,
    @Param('classId', ParseUUIDPipe) classId: string,
    @Body() { personIds }: PeopleDto,
  ) {
    return { left: await this.rosters.setLeft(viewer, classId, personIds, true) }
  }

  @Post('roster/return')
  @HttpCode(200)
  async comeBack(
    @Asking() viewer: Viewer,
    @Param('classId', ParseUUIDPipe) classId: string,
    @Body() { personIds }: PeopleDto,
  ) {
    return { back: await this.rosters.setLeft(viewer, classId, personIds, false) }
  }

  /** Puts students of another class into this one. */
  @Post('roster/from')
  @HttpCode(200)
  async bringFrom(
    @Asking() viewer: Viewer,
    @Param('classId', ParseUUIDPipe) classId: string,
    @Body() { from, personIds }: BringFromDto,
  ) {
    return { added: await this.rosters.bringFrom(viewer, classId, from, personIds) }
  }

  @Post('columns')
  addColumn(
    @Asking() viewer: Viewer,
    @Param('classId', ParseUUIDPipe) classId: string,
    @Body() { name, kind }: NewColumnDto,
  ) {
    return this.columns.add(viewer, classId, name, kind)
  }

  @Put('columns/:columnId')
  @HttpCode(204)
  renameColumn(
    @Asking() viewer: Viewer,
    @Param('classId', ParseUUIDPipe) classId: string,
    @Param('columnId', ParseUUIDPipe) columnId: string,
    @Body() { name }: ColumnDto,
  ) {
    return this.columns.rename(viewer, classId, columnId, name)
  }

  @Delete('columns/:columnId')
  @HttpCode(204)
  removeColumn(
    @Asking() viewer: Viewer,
    @Param('classId', ParseUUIDPipe) classId: string,
    @Param('columnId', ParseUUIDPipe) columnId: string,
  ) {
    return this.columns.remove(viewer, classId, columnId, true)
  }

  @Post('columns/:columnId/return')
  @HttpCode(204)
  bringColumnBack(
    @Asking() viewer: Viewer,
    @Param('classId', ParseUUIDPipe) classId: string,
    @Param('columnId', ParseUUIDPipe) columnId: string,
  ) {
    return this.columns.remove(viewer, classId, columnId, false)
  }

  /** Start passwords to print: for those named, else for everybody who cannot sign in yet. */
  @Post('sign-in-cards')
  @HttpCode(200)
  async signInCards(
    @Asking() viewer: Viewer,
    @Param('classId', ParseUUIDPipe) classId: string,
    @Body() { personIds }: SomePeopleDto,
  ) {
    await holdInClass(this.source, viewer, classId, 'change the roster')
    return makeSignInCards(this.source, viewer.schoolId, classId, personIds ?? null)
  }
}
