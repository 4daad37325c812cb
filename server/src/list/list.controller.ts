import { FILE_LIMITS, type Viewer, mayTeach } from '@gavrin/core'
import { Controller, Get, HttpCode, Param, ParseIntPipe, ParseUUIDPipe, Post, Req, Res } from '@nestjs/common'
import { ApiBody, ApiConsumes, ApiTags } from '@nestjs/swagger'
import type { Request, Response } from 'express'
import { valueOf } from '../common/checked.js'
import { bodyOf } from '../common/files.js'
import { Asking, hold } from '../access/viewer.js'
import { type ThreadCall, ThreadTasks } from '../tasks/threadTasks.js'
import { listKind, type readPages, type ListHead } from './listFile.js'
import { ReadLists } from './readLists.js'

const TOO_LARGE = `This file has more than ${FILE_LIMITS.bytes / 1_000_000} MB: bring in the sheet you need alone, or paste its rows.`

const READ: ThreadCall<typeof readPages> = {
  module: new URL('./listFile.js', import.meta.url).href,
  name: 'readPages',
}

@ApiTags('file')
@Controller('lists')
export class ListController {
  private readonly lists = new ReadLists()

  constructor(private readonly tasks: ThreadTasks) {}

  /** Reads a workbook or rostering bundle into tables of text: the first rows, and under which id the others are asked for. */
  @Post('read')
  @HttpCode(200)
  @ApiConsumes('application/octet-stream')
  @ApiBody({ schema: { type: 'string', format: 'binary' } })
  async read(@Asking() viewer: Viewer, @Req() request: Request): Promise<ListHead & { readonly id?: string }> {
    hold(mayTeach(viewer))
    const bytes = new Uint8Array(await bodyOf(request, FILE_LIMITS.bytes, TOO_LARGE))
    valueOf(listKind(bytes))
    const list = valueOf(await this.tasks.run(viewer, READ, bytes))
    return list.pages.flat().length > 0 ? { ...list.head, id: this.lists.keep(viewer, list) } : list.head
  }

  /** Further rows of a list that was read; page 1 comes after those of the first answer. For ten minutes. */
  @Get(':listId/tables/:table/pages/:page')
  page(
    @Asking() viewer: Viewer,
    @Param('listId', ParseUUIDPipe) listId: string,
    @Param('table', ParseIntPipe) table: number,
    @Param('page', ParseIntPipe) page: number,
    @Res() response: Response,
  ): void {
    hold(mayTeach(viewer))
    response.type('application/json').send(Buffer.from(this.lists.page(viewer, listId, table, page)))
  }
}
