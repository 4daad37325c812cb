import { ARCHIVE_EXTENSION, type ArchiveMedium, type Viewer, checkDraft, keptContent, mediaOf } from '@gavrin/core'
import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { DataSource } from 'typeorm'
import { valueOf } from '../common/checked.js'
import { cleanTitle } from '../common/files.js'
import { notThere } from '../common/problemDetails.js'
import { type ThreadCall, ThreadTasks } from '../tasks/threadTasks.js'
import { mediaOfWorksheet } from '../media/mediaStore.js'
import type { WorksheetFile, WorksheetFormat, writeWorksheet } from './out/write.js'
import { Edition } from './worksheet.entity.js'
import { holdWorksheet } from './worksheetAccess.js'

const TYPES: Record<WorksheetFormat, { readonly type: string; readonly ending: string }> = {
  pdf: { type: 'application/pdf', ending: '.pdf' },
  docx: { type: 'application/vnd.openxmlformats-officedocument.wordprocessingml.document', ending: '.docx' },
  odt: { type: 'application/vnd.oasis.opendocument.text', ending: '.odt' },
  html: { type: 'text/html; charset=utf-8', ending: '.html' },
  archive: { type: 'application/zip', ending: ARCHIVE_EXTENSION },
}

const WRITE: ThreadCall<typeof writeWorksheet> = {
  module: new URL('./out/write.js', import.meta.url).href,
  name: 'writeWorksheet',
}

/** Worksheets as files; as a web page where it is printed after. */
@Injectable()
export class WorksheetOutService {
  constructor(
    @InjectDataSource() private readonly source: DataSource,
    private readonly tasks: ThreadTasks,
  ) {}

  /**
   * @param edition null: the draft
   * @param key with the answer key in the answer spaces; an archive always has it
   */
  async write(
    viewer: Viewer,
    id: string,
    format: WorksheetFormat,
    { edition, key }: { readonly edition: number | null; readonly key: boolean },
  ) {
    const { title, content } = await this.contentOf(viewer, id, edition)
    const rows = await mediaOfWorksheet(this.source, viewer.schoolId, id, mediaOf(content))
    const media = rows.map((row) => ({
      ...row,
      type: row.type as ArchiveMedium['type'],
      bytes: new Uint8Array(row.bytes),
    }))
    const isKey = key && format !== 'archive'
    const called = isKey && (format === 'pdf' || format === 'html') ? `${title} (answer key)` : title
    const file = await this.made(viewer, { format, title: called, content, media, key })
    return { ...file, name: `${cleanTitle(title, 'worksheet')}${isKey ? ' – key' : ''}${TYPES[format].ending}` }
  }

  /** Makes a file of a worksheet. */
  async made(viewer: Viewer, file: WorksheetFile): Promise<{ name: string; type: string; bytes: Uint8Array }> {
    const { type, ending } = TYPES[file.format]
    const written = await this.tasks.run(viewer, WRITE, file)
    const bytes = file.format === 'pdf' ? await this.printed(written) : written
    return { name: `${cleanTitle(file.title, 'worksheet')}${ending}`, type, bytes }
  }

  /** Printed by a browser beside the server. */
  private async printed(page: Uint8Array): Promise<Uint8Array> {
    const { printPdf } = await import('./out/pdf.js')
    return printPdf(new TextDecoder().decode(page))
  }

  private async contentOf(viewer: Viewer, id: string, edition: number | null) {
    const worksheet = await holdWorksheet(this.source, viewer, id, 'see')
    if (edition === null) return { title: worksheet.title, content: valueOf(checkDraft(worksheet.draft)).content }
    const kept = await this.source.manager.findOneBy(Edition, {
      schoolId: viewer.schoolId,
      worksheetId: id,
      number: edition,
    })
    if (!kept) throw notThere()
    return { title: kept.title, content: keptContent(kept.content) }
  }
}
