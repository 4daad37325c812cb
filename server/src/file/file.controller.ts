import { FILE_LIMITS, type Viewer, mayTeach } from '@gavrin/core'
import { Controller, HttpCode, Post, Req } from '@nestjs/common'
import { ApiBody, ApiConsumes, ApiTags } from '@nestjs/swagger'
import type { Request } from 'express'
import { bodyOf } from '../common/files.js'
import { Asking, hold } from '../common/viewer.js'
import { FileTasks } from './fileTasks.js'

const TOO_LARGE = `This file has more than ${FILE_LIMITS.bytes / 1_000_000} MB: bring in the sheet you need alone, or paste its rows.`

@ApiTags('file')
@Controller('lists')
export class FileController {
  constructor(private readonly files: FileTasks) {}

  /** Reads a workbook or rostering bundle into tables of text. Nothing is kept. */
  @Post('read')
  @HttpCode(200)
  @ApiConsumes('application/octet-stream')
  @ApiBody({ schema: { type: 'string', format: 'binary' } })
  async read(@Asking() viewer: Viewer, @Req() request: Request) {
    hold(mayTeach(viewer))
    return this.files.read(await bodyOf(request, FILE_LIMITS.bytes, TOO_LARGE))
  }
}
