import {
  ARCHIVE_EXTENSION,
  type ArchiveMedium,
  type Viewer,
  type WorksheetContent,
  checkContent,
  keptContent,
  mediaOf,
  writeArchive,
  writeHtml,
  writeOdt,
} from '@gavrin/core'
import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { DataSource } from 'typeorm'
import { valueOf } from '../common/checked.js'
import { notThere } from '../common/problemDetails.js'
import { mediaOfWorksheet } from '../media/mediaStore.js'
import { Edition } from './worksheet.entity.js'
import { holdWorksheet } from './worksheetAccess.js'

export const WORKSHEET_FORMATS = { pdf: 'pdf', docx: 'docx', odt: 'odt', html: 'html', archive: 'archive' } as const
export type WorksheetFormat = keyof typeof WORKSHEET_FORMATS

const TYPES: Record<WorksheetFormat, { readonly type: string; readonly ending: string }> = {
  pdf: { type: 'application/pdf', ending: '.pdf' },
  docx: { type: 'application/vnd.openxmlformats-officedocument.wordprocessingml.document', ending: '.docx' },
  odt: { type: 'application/vnd.oasis.opendocument.text', ending: '.odt' },
  html: { type: 'text/html; charset=utf-8', ending: '.html' },
  archive: { type: 'application/zip', ending: ARCHIVE_EXTENSION },
}
const INK = '#2B3FA8'

/** Worksheets as files. */
@Injectable()
export class WorksheetOutService {
  constructor(@InjectDataSource() private readonly source: DataSource) {}

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
    const { type, ending } = TYPES[format]
    const name = `${fileName(title)}${key && format !== 'archive' ? ' – key' : ''}${ending}`
    return { name, type, bytes: await bytesOf(format, title, content, media, key) }
  }

  private async contentOf(viewer: Viewer, id: string, edition: number | null) {
    const worksheet = await holdWorksheet(this.source, viewer, id, 'see')
    if (edition === null) return { title: worksheet.title, content: valueOf(checkContent(worksheet.draft)) }
    const kept = await this.source.manager.findOneBy(Edition, {
      schoolId: viewer.schoolId,
      worksheetId: id,
      number: edition,
    })
    if (!kept) throw notThere()
    return { title: kept.title, content: keptContent(kept.content) }
  }
}

async function bytesOf(
  format: WorksheetFormat,
  title: string,
  content: WorksheetContent,
  media: readonly ArchiveMedium[],
  key: boolean,
): Promise<Uint8Array> {
  switch (format) {
    case 'archive':
      return writeArchive({ title, content, media })
    case 'odt':
      return writeOdt(title, content, media, { key })
    case 'docx':
      // Loaded only where it is needed.
      return (await import('./out/docx.js')).writeDocx(title, content, media, { key })
    case 'html':
      return new TextEncoder().encode(await page(title, content, media, key))
    case 'pdf': {
      const [{ printPdf }, { fontRules }] = await Promise.all([import('./out/pdf.js'), import('./out/fonts.js')])
      const html = await page(title, content, media, key)
      return printPdf(html.replace('</style>', `${await fontRules(html)}</style>`))
    }
  }
}

async function page(
  title: string,
  content: WorksheetContent,
  media: readonly ArchiveMedium[],
  key: boolean,
): Promise<string> {
  const { default: katex } = await import('katex')
  return writeHtml({
    title,
    content,
    key,
    ink: INK,
    mediaUrl: (id) => {
      const medium = media.find((one) => one.id === id)
      return medium ? `data:${medium.type};base64,${Buffer.from(medium.bytes).toString('base64')}` : ''
    },
    // MathML needs no style sheet and no fonts of its own.
    formula: (tex, large) => katex.renderToString(tex, { output: 'mathml', throwOnError: false, displayMode: large }),
  })
}

/** A title as the name of a file anywhere. */
const fileName = (title: string): string =>
  title
    // eslint-disable-next-line no-control-regex -- signs that file systems keep for themselves
    .replace(/[\u0000-\u001F<>:"/\\|?*]/g, ' ')
    .replace(/\s+/g, ' ')
    .replace(/[. ]+$/, '')
    .trim()
    .slice(0, 120) || 'worksheet'
