import { type Viewer, LIBRARY_LIMITS, RUBRIC_LIMITS } from '@gavrin/core'
import { Body, Controller, Delete, Get, HttpCode, Param, ParseEnumPipe, ParseUUIDPipe, Post, Put } from '@nestjs/common'
import { ApiProperty, ApiTags } from '@nestjs/swagger'
import { ArrayMaxSize, IsArray, IsBoolean, IsInt, IsObject, IsOptional, IsString, MaxLength } from 'class-validator'
import { Asking } from '../access/viewer.js'
import { asDownload } from '../common/files.js'
import { TABLE_FORMATS, type TableFormat } from '../tasks/tableOut.js'
import { LibraryService } from './library.service.js'

class RubricOutDto {
  @ApiProperty() @IsString() @MaxLength(2 * LIBRARY_LIMITS.name) name: string
  /** As in a slip. */
  @ApiProperty({ type: [Object] })
  @IsArray()
  @ArrayMaxSize(RUBRIC_LIMITS.rows)
  @IsObject({ each: true })
  rows: object[]
}

class KeptRubricDto extends RubricOutDto {
  /** The other teachers of the school may use it too. */
  @ApiProperty() @IsBoolean() shared: boolean
}

class KeptScaleDto {
  @ApiProperty() @IsString() @MaxLength(2 * LIBRARY_LIMITS.name) name: string
  /** Best first. */
  @ApiProperty({ type: [String] }) @IsArray() @ArrayMaxSize(20) @IsString({ each: true }) steps: string[]
  /** From how many per cent each is reached; null: given by hand. */
  @ApiProperty({ type: [Number], nullable: true })
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(20)
  @IsInt({ each: true })
  from: number[] | null
}

@ApiTags('marking')
@Controller()
export class LibraryController {
  constructor(private readonly library: LibraryService) {}

  /** The rubrics that one keeps, and those of colleagues who share theirs. */
  @Get('rubrics')
  rubrics(@Asking() viewer: Viewer) {
    return this.library.rubrics(viewer)
  }

  @Get('rubrics/:rubricId')
  rubric(@Asking() viewer: Viewer, @Param('rubricId', ParseUUIDPipe) rubricId: string) {
    return this.library.rubric(viewer, rubricId)
  }

  @Put('rubrics/:rubricId')
  @HttpCode(204)
  keepRubric(
    @Asking() viewer: Viewer,
    @Param('rubricId', ParseUUIDPipe) rubricId: string,
    @Body() rubric: KeptRubricDto,
  ) {
    return this.library.keepRubric(viewer, rubricId, rubric)
  }

  @Delete('rubrics/:rubricId')
  @HttpCode(204)
  removeRubric(@Asking() viewer: Viewer, @Param('rubricId', ParseUUIDPipe) rubricId: string) {
    return this.library.removeRubric(viewer, rubricId)
  }

  /** A rubric as a table. */
  @Post('rubrics/out/:format')
  @HttpCode(200)
  async writeRubric(
    @Asking() viewer: Viewer,
    @Param('format', new ParseEnumPipe(TABLE_FORMATS)) format: TableFormat,
    @Body() rubric: RubricOutDto,
  ) {
    return asDownload(await this.library.writeRubric(viewer, format, rubric), 'rubric')
  }

  /** The scales of the school. */
  @Get('office/scales')
  schoolScales(@Asking() viewer: Viewer) {
    return this.library.schoolScales(viewer)
  }

  @Put('office/scales/:scaleId')
  @HttpCode(204)
  keepSchoolScale(
    @Asking() viewer: Viewer,
    @Param('scaleId', ParseUUIDPipe) scaleId: string,
    @Body() { from = null, ...scale }: KeptScaleDto,
  ) {
    return this.library.keepScale(viewer, scaleId, null, { ...scale, from })
  }

  @Delete('office/scales/:scaleId')
  @HttpCode(204)
  removeSchoolScale(@Asking() viewer: Viewer, @Param('scaleId', ParseUUIDPipe) scaleId: string) {
    return this.library.removeScale(viewer, scaleId, null)
  }

  /** The scales of a class, then those of the school. */
  @Get('classes/:classId/scales')
  classScales(@Asking() viewer: Viewer, @Param('classId', ParseUUIDPipe) classId: string) {
    return this.library.classScales(viewer, classId)
  }

  @Put('classes/:classId/scales/:scaleId')
  @HttpCode(204)
  keepClassScale(
    @Asking() viewer: Viewer,
    @Param('classId', ParseUUIDPipe) classId: string,
    @Param('scaleId', ParseUUIDPipe) scaleId: string,
    @Body() { from = null, ...scale }: KeptScaleDto,
  ) {
    return this.library.keepScale(viewer, scaleId, classId, { ...scale, from })
  }

  @Delete('classes/:classId/scales/:scaleId')
  @HttpCode(204)
  removeClassScale(
    @Asking() viewer: Viewer,
    @Param('classId', ParseUUIDPipe) classId: string,
    @Param('scaleId', ParseUUIDPipe) scaleId: string,
  ) {
    return this.library.removeScale(viewer, scaleId, classId)
  }
}
