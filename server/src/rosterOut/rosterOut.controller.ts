import type { Viewer } from '@gavrin/core'
import { Body, Controller, HttpCode, Param, ParseEnumPipe, ParseUUIDPipe, Post } from '@nestjs/common'
import { ApiTags } from '@nestjs/swagger'
import { Asking } from '../access/viewer.js'
import { SomePeopleDto } from '../common/dto.js'
import { asDownload } from '../common/files.js'
import { OUT_FORMATS, type OutFormat, RosterOutService } from './rosterOut.service.js'

@ApiTags('roster')
@Controller('classes/:classId')
export class RosterOutController {
  constructor(private readonly out: RosterOutService) {}

  /** The roster as a file. By POST, for a list of students may be longer than an address. */
  @Post('roster/out/:format')
  @HttpCode(200)
  async writeOut(
    @Asking() viewer: Viewer,
    @Param('classId', ParseUUIDPipe) classId: string,
    @Param('format', new ParseEnumPipe(OUT_FORMATS)) format: OutFormat,
    @Body() { personIds }: SomePeopleDto,
  ) {
    return asDownload(await this.out.write(viewer, classId, format, personIds ?? null), 'roster')
  }
}
