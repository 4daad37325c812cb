import { type OutCell, type Viewer, writeCsv, type writeOds, type writeXlsx } from '@gavrin/core'
import { Injectable } from '@nestjs/common'
import { type ThreadCall, ThreadTasks } from './threadTasks.js'

export const TABLE_FORMATS = { csv: 'csv', xlsx: 'xlsx', ods: 'ods' } as const
export type TableFormat = keyof typeof TABLE_FORMATS

/** A file to be saved by a browser. */
export interface OutFile {
  readonly name: string
  readonly type: string
  readonly bytes: Uint8Array
}

export const TABLE_TYPES: Record<TableFormat, string> = {
  csv: 'text/csv; charset=utf-8',
  xlsx: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
  ods: 'application/vnd.oasis.opendocument.spreadsheet',
}

const XLSX: ThreadCall<typeof writeXlsx> = { module: '@gavrin/core', name: 'writeXlsx' }
const ODS: ThreadCall<typeof writeOds> = { module: '@gavrin/core', name: 'writeOds' }

/** A name without signs that a file system takes for something else. */
export const fileName = (name: string, extension: string): string =>
  `${name.replace(/[\\/:*?"<>|]+/g, '-').slice(0, 120)}.${extension}`

/** Tables as files; workbooks are made in a thread of their own. */
@Injectable()
export class TableOut {
  constructor(private readonly tasks: ThreadTasks) {}

  /** @param rows the first is their head */
  async write(
    viewer: Viewer,
    format: TableFormat,
    name: string,
    rows: readonly (readonly OutCell[])[],
  ): Promise<Uint8Array> {
    if (format === 'csv') return new TextEncoder().encode(writeCsv(rows))
    return format === 'xlsx' ? this.tasks.run(viewer, XLSX, name, rows) : this.tasks.run(viewer, ODS, name, rows)
  }
}
