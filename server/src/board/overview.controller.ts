import type { Viewer } from '@gavrin/core'
import { Body, Controller, Get, HttpCode, Param, ParseEnumPipe, ParseUUIDPipe, Post } from '@nestjs/common'
import { ApiProperty, ApiTags } from '@nestjs/swagger'
import { IsOptional, IsString, MaxLength } from 'class-validator'
import { Asking } from '../access/viewer.js'
import { asDownload } from '../common/files.js'
import { TABLE_FORMATS, type TableFormat } from '../tasks/tableOut.js'
import { OverviewService } from './overview.service.js'

class OverviewOutDto {
  /** The handouts of the unit of this name; left out: all. */
  @ApiProperty({ required: false }) @IsOptional() @IsString() @MaxLength(100) unit?: string
}

@ApiTags('board')
@Controller('classes')
export class OverviewController {
  constructor(private readonly overviews: OverviewService) {}

  /** Students by handouts, with how their copies stand. */
  @Get(':classId/overview')
  overview(@Asking() viewer: Viewer, @Param('classId', ParseUUIDPipe) classId: string) {
    return this.overviews.overview(viewer, classId)
  }

  @Post(':classId/overview/out/:format')
  @HttpCode(200)
  async writeOut(
    @Asking() viewer: Viewer,
    @Param('classId', ParseUUIDPipe) classId: string,
    @Param('format', new ParseEnumPipe(TABLE_FORMATS)) format: TableFormat,
    @Body() { unit }: OverviewOutDto,
  ) {
    return asDownload(await this.overviews.write(viewer, classId, format, unit ?? null), 'overview')
  }
}
