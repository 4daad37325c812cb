import { strFromU8, strToU8, zipSync } from 'fflate'
import { type Outcome, fine, refuse } from '../errors/problem.js'
import { checkDraft } from '../worksheet/check.js'
import type { WorksheetContent } from '../worksheet/content.js'
import { mediaOf } from '../worksheet/walk.js'
import { isRecord } from '../worksheet/reading.js'
import { unzipWithin } from './zip.js'

/** The name of the archive's own format, and of the file in it that says everything. */
export const ARCHIVE_FORMAT = 'gavrin-worksheet'
export const ARCHIVE_EXTENSION = '.gavrin.zip'
const MAIN = 'worksheet.json'
const ARCHIVE_VERSION = 1

export interface ArchiveMedium {
  /** As the content refers to it. */
  readonly id: string
  readonly type: 'image/png' | 'image/jpeg' | 'image/webp'
  readonly width: number
  readonly height: number
  readonly bytes: Uint8Array
}

/** A worksheet with all that it needs, to be taken elsewhere. */
export interface WorksheetArchive {
  readonly title: string
  readonly content: WorksheetContent
  readonly media: readonly ArchiveMedium[]
}

const ENDINGS: Readonly<Record<ArchiveMedium['type'], string>> = {
  'image/png': 'png',
  'image/jpeg': 'jpg',
  'image/webp': 'webp',
}

/**
 * A worksheet as one file: a zip archive of `worksheet.json` and the media. docs/archive.md and the JSON Schema beside it
 * describe it.
 */
export function writeArchive({ title, content, media }: WorksheetArchive): Uint8Array {
  const main = {
    format: ARCHIVE_FORMAT,
    version: ARCHIVE_VERSION,
    title,
    content,
    media: media.map(({ id, type, width, height }) => ({
      id,
      file: `media/${id}.${ENDINGS[type]}`,
      type,
      width,
      height,
    })),
  }
  const files: Record<string, Uint8Array> = { [MAIN]: strToU8(JSON.stringify(main, null, 2)) }
  for (const { id, type, bytes } of media) files[`media/${id}.${ENDINGS[type]}`] = bytes
  // A fixed time: the same worksheet gives the same bytes.
  return zipSync(files, { mtime: new Date(Date.UTC(2000, 0, 1, 12)), level: 6 })
}

const broken = (sentence: string, field = 'file') => refuse({ code: 'archive-broken', field, sentence })

/** Reads what {@link writeArchive} wrote, or anybody else by the same description. */
export function readArchive(bytes: Uint8Array): Outcome<WorksheetArchive> {
  const files = unzipWithin(bytes, (name) => name === MAIN || /^media\/[A-Za-z0-9_-]{1,64}\.(png|jpg|webp)$/.test(name))
  if (!files.ok) return files
  const main = files.value[MAIN]
  if (!main) return broken('This archive holds no worksheet.')
  let raw: unknown
  try {
    raw = JSON.parse(strFromU8(main))
  } catch {
    return broken('The worksheet in this archive cannot be read.')
  }
  if (!isRecord(raw) || raw['format'] !== ARCHIVE_FORMAT) return broken('This archive holds no worksheet.')
  if (raw['version'] !== ARCHIVE_VERSION)
    return broken('This worksheet was written by a newer Gavrin: bring it in there, or ask for an update.')
  // It may have been a draft: what its author was still writing is kept as it was.
  const draft = checkDraft(raw['content'])
  if (!draft.ok) return draft
  const { content } = draft.value
  const media: ArchiveMedium[] = []
  for (const entry of Array.isArray(raw['media']) ? raw['media'] : []) {
    if (!isRecord(entry) || typeof entry['id'] !== 'string' || typeof entry['file'] !== 'string') continue
    const type = entry['type'] as ArchiveMedium['type']
    const data = Object.hasOwn(files.value, entry['file']) ? files.value[entry['file']] : undefined
    if (!data || !Object.hasOwn(ENDINGS, type)) continue
    media.push({ id: entry['id'], type, width: Number(entry['width']), height: Number(entry['height']), bytes: data })
  }
  const missing = mediaOf(content).filter((id) => !media.some((medium) => medium.id === id))
  if (missing.length) return broken(`${missing.length} pictures are missing in this archive.`)
  return fine({
    title: typeof raw['title'] === 'string' ? raw['title'].slice(0, 200) : '',
    content,
    media,
  })
}
