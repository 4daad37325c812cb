import {
  type DocumentKind,
  PHOTO_LIMITS,
  type PhotoWork,
  type Viewer,
  type WorksheetContent,
  checkDraft,
  checkPhotoWork,
  documentKind,
  mapMedia,
  mayTeach,
  mediaOf,
} from '@gavrin/core'
import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { createHash, randomUUID } from 'node:crypto'
import { DataSource } from 'typeorm'
import { valueOf } from '../common/checked.js'
import { cleanFileName } from '../common/files.js'
import { conflict, malformed, notThere } from '../common/problemDetails.js'
import { hold } from '../access/viewer.js'
import { type ThreadCall, ThreadTasks } from '../tasks/threadTasks.js'
import type { readDocument } from './readDocument.js'
import { addPicture, linkMedia } from '../media/mediaStore.js'
import { type Medium, type MediumFile } from '../media/media.queries.js'
import { keepPicture } from '../media/pictures.js'
import { WorksheetService } from '../worksheet/worksheet.service.js'
import { inSchool } from '../database/inSchool.js'
import { BroughtIn, BroughtInPicture } from './bringIn.entity.js'
import { KeptMedium } from '../media/media.entity.js'
import {
  worksheetsOfFile,
  writeWork,
  photosKept,
  dropPhotosExcept,
  mediaBroughtIn,
  freeMedia,
  dropOldMedia,
  dropOldBroughtIn,
} from './bringIn.queries.js'

/** Files that one person may have lying here unfinished. */
const UNFINISHED = 40

/** A file on its way to be a worksheet. */
export interface Upload {
  readonly id: string
  readonly name: string
  readonly kind: DocumentKind
  readonly size: number
  /** Milliseconds since 1970. */
  readonly at: number
}

const READ: ThreadCall<typeof readDocument> = {
  module: new URL('./readDocument.js', import.meta.url).href,
  name: 'readDocument',
}

const UPLOAD = ['id', 'name', 'kind', 'size', 'createdAt'] as const
const uploadOf = ({ createdAt: at, ...upload }: Pick<BroughtIn, (typeof UPLOAD)[number]>): Upload => ({ ...upload, at })

/** Brings documents and pictures in. Nothing is in the library before `finish`; the file is kept until then. */
@Injectable()
export class BringInService {
  constructor(
    @InjectDataSource() private readonly source: DataSource,
    private readonly tasks: ThreadTasks,
    private readonly worksheets: WorksheetService,
  ) {}

  /** Keeps a file; says which worksheets of this person came from the same one. */
  async upload(viewer: Viewer, fileName: string, bytes: Uint8Array) {
    hold(mayTeach(viewer))
    const name = cleanFileName(fileName)
    const kind = valueOf(documentKind(bytes, name))
    await this.sweep(viewer)
    const count = await inSchool(this.source, viewer.schoolId).count(BroughtIn, {
      personId: viewer.personId,
      worksheetId: null,
    })
    if (count >= UNFINISHED)
      throw conflict(
        'too-many-unfinished',
        `${UNFINISHED} files lie here unfinished: finish or discard some of them first.`,
      )
    const sha256 = createHash('sha256').update(bytes).digest()
    const before = await worksheetsOfFile(this.source, viewer.schoolId, viewer.personId, sha256)
    // The same file twice unfinished is one file.
    const [same] = await inSchool(this.source, viewer.schoolId).find(
      BroughtIn,
      { personId: viewer.personId, sha256, worksheetId: null },
      { select: ['id'] },
    )
    const id = same?.id ?? randomUUID()
    if (!same)
      await inSchool(this.source, viewer.schoolId).insert(BroughtIn, {
        id,
        personId: viewer.personId,
        name,
        kind,
        sha256,
        size: bytes.length,
        bytes: Buffer.from(bytes),
      })
    return { id, name, kind, size: bytes.length, before }
  }

  /** The files of a person that are no worksheet yet, the newest first. */
  async unfinished(viewer: Viewer): Promise<Upload[]> {
    hold(mayTeach(viewer))
    await this.sweep(viewer)
    const found = await inSchool(this.source, viewer.schoolId).find(
      BroughtIn,
      { personId: viewer.personId, worksheetId: null },
      { select: UPLOAD, order: { createdAt: 'DESC' } },
    )
    return found.map(uploadOf)
  }

  async open(viewer: Viewer, id: string): Promise<Upload> {
    hold(mayTeach(viewer))
    const [found] = await inSchool(this.source, viewer.schoolId).find(
      BroughtIn,
      { id, personId: viewer.personId, worksheetId: null },
      { select: UPLOAD },
    )
    if (!found) throw notThere()
    return uploadOf(found)
  }

  async file(viewer: Viewer, id: string): Promise<{ name: string; kind: DocumentKind; bytes: Buffer }> {
    const { name, kind } = await this.open(viewer, id)
    const [found] = await inSchool(this.source, viewer.schoolId).find(BroughtIn, { id }, { select: ['bytes'] })
    if (!found?.bytes) throw notThere()
    return { name, kind, bytes: found.bytes }
  }

  /** Reads a document into a worksheet that is not kept yet; its pictures are kept with the file. */
  async read(viewer: Viewer, id: string) {
    const { kind, bytes } = await this.file(viewer, id)
    const read = valueOf(await this.tasks.run(viewer, READ, kind, new Uint8Array(bytes)))
    const media = new Map<string, Medium>()
    const notes = [...read.notes]
    let unreadable = 0
    const kept: { key: string; picture: Extract<Awaited<ReturnType<typeof keepPicture>>, { ok: true }>['value'] }[] = []
    for (const { key, bytes: picture } of read.pictures) {
      const outcome = await keepPicture(picture, 'worksheet', viewer)
      if (outcome.ok) kept.push({ key, picture: outcome.value })
      else unreadable++
    }
    await this.source.transaction(async (tx) => {
      // Read again, it has its pictures once.
      await inSchool(tx, viewer.schoolId).delete(KeptMedium, { bringInId: id })
      for (const { key, picture } of kept) {
        const mediumId = randomUUID()
        await inSchool(tx, viewer.schoolId).insert(KeptMedium, {
          id: mediumId,
          type: picture.type,
          width: picture.width,
          height: picture.height,
          bytes: picture.bytes,
          bringInId: id,
        })
        media.set(key, { id: mediumId, type: picture.type, width: picture.width, height: picture.height })
      }
    })
    if (unreadable > 0)
      notes.push(`${unreadable === 1 ? 'One picture' : `${unreadable} pictures`} could not be read and were left out.`)
    return { title: read.title, content: withMedia(read.content, media), notes }
  }

  /** What was done with the photographs of an upload, and how often it was kept. */
  async work(viewer: Viewer, id: string): Promise<{ version: number; work: PhotoWork | null }> {
    await this.open(viewer, id)
    const [found] = await inSchool(this.source, viewer.schoolId).find(
      BroughtIn,
      { id },
      { select: ['workVersion', 'work'] },
    )
    return { version: found!.workVersion, work: found!.work }
  }

  /** Keeps what was done with the photographs, if nobody kept anything since `version`. */
  async keepWork(viewer: Viewer, id: string, version: number, raw: unknown): Promise<{ version: number }> {
    const work = valueOf(checkPhotoWork(raw))
    await this.open(viewer, id)
    const [kept] = await writeWork(this.source, viewer.schoolId, { id, version, work: JSON.stringify(work) })
    if (!kept)
      throw conflict(
        'changed-elsewhere',
        'These photographs were worked on in another window meanwhile. What you did here since is not kept: look at what is kept and go on from there.',
      )
    return kept
  }

  /** Keeps one more photograph with an upload. Those that were taken out again make room for it. */
  async addPhoto(viewer: Viewer, id: string, bytes: Uint8Array): Promise<{ id: string }> {
    await this.open(viewer, id)
    if (valueOf(documentKind(bytes, '')) !== 'picture')
      throw malformed([{ code: 'file-kind', field: 'file', sentence: 'Only pictures can be added as pages.' }])
    const pictureId = randomUUID()
    return this.source.transaction(async (tx) => {
      // One at a time, so that all together stay within the limits.
      const [row] = await inSchool(tx, viewer.schoolId).find(
        BroughtIn,
        { id, worksheetId: null },
        { select: ['work'], lock: true },
      )
      if (!row) throw notThere()
      const shown = (row.work?.pages ?? []).flatMap(({ picture }) => (picture ? [picture] : []))
      const lying = () =>
        photosKept(tx, viewer.schoolId, id).then(
          ([there]) => there!.count + 1 < PHOTO_LIMITS.pages && there!.bytes + bytes.length <= PHOTO_LIMITS.bytes,
        )
      if (!(await lying())) {
        await dropPhotosExcept(tx, viewer.schoolId, id, shown)
        if (!(await lying()))
          throw conflict(
            'too-many-photographs',
            `One worksheet is made of up to ${PHOTO_LIMITS.pages} photographs of ${PHOTO_LIMITS.bytes / 1_000_000} MB together: put the others into another one.`,
          )
      }
      await inSchool(tx, viewer.schoolId).insert(BroughtInPicture, {
        bringInId: id,
        id: pictureId,
        bytes: Buffer.from(bytes),
      })
      return { id: pictureId }
    })
  }

  async photo(viewer: Viewer, id: string, pictureId: string): Promise<Buffer> {
    await this.open(viewer, id)
    const [found] = await inSchool(this.source, viewer.schoolId).find(
      BroughtInPicture,
      { bringInId: id, id: pictureId },
      { select: ['bytes'] },
    )
    if (!found) throw notThere()
    return found.bytes
  }

  async addMedium(viewer: Viewer, id: string, bytes: Uint8Array): Promise<Medium> {
    await this.open(viewer, id)
    return addPicture(this.source, viewer, bytes, { bringInId: id })
  }

  async medium(viewer: Viewer, id: string, mediumId: string): Promise<MediumFile> {
    await this.open(viewer, id)
    const [found] = await inSchool(this.source, viewer.schoolId).find(
      KeptMedium,
      { bringInId: id, id: mediumId },
      { select: ['id', 'type', 'width', 'height', 'bytes'] },
    )
    if (!found) throw notThere()
    return found
  }

  /** Makes the worksheet, with its pictures, all at once or not at all. Done twice, the first worksheet is the answer. */
  async finish(
    viewer: Viewer,
    id: string,
    { title, content: raw, folderId }: { title: string; content: unknown; folderId: string | null },
  ): Promise<{ worksheetId: string }> {
    const content: WorksheetContent = valueOf(checkDraft(raw)).content
    return this.source.transaction(async (tx) => {
      const [row] = await inSchool(tx, viewer.schoolId).find(
        BroughtIn,
        { id, personId: viewer.personId },
        { select: ['worksheetId'], lock: true },
      )
      if (!row) throw notThere()
      if (row.worksheetId) return { worksheetId: row.worksheetId }
      const wanted = mediaOf(content)
      const there = await mediaBroughtIn(tx, viewer.schoolId, id, wanted)
      if (there.length < wanted.length)
        throw malformed([
          { code: 'media-missing', field: 'content', sentence: 'A picture is missing: bring the file in again.' },
        ])
      const { id: worksheetId } = await this.worksheets.create(viewer, title, { content, folderId }, tx)
      await linkMedia(tx, viewer.schoolId, worksheetId, wanted)
      await freeMedia(tx, viewer.schoolId, id, wanted)
      await inSchool(tx, viewer.schoolId).delete(KeptMedium, { bringInId: id })
      await inSchool(tx, viewer.schoolId).delete(BroughtInPicture, { bringInId: id })
      await inSchool(tx, viewer.schoolId).update(BroughtIn, { id }, { worksheetId, bytes: null, work: null })
      return { worksheetId }
    })
  }

  async discard(viewer: Viewer, id: string): Promise<void> {
    await this.open(viewer, id)
    await this.source.transaction(async (tx) => {
      await inSchool(tx, viewer.schoolId).delete(KeptMedium, { bringInId: id })
      await inSchool(tx, viewer.schoolId).delete(BroughtIn, { id, worksheetId: null })
    })
  }

  /** What has lain unfinished for long goes. */
  private async sweep(viewer: Viewer): Promise<void> {
    await dropOldMedia(this.source, viewer.schoolId, viewer.personId)
    await dropOldBroughtIn(this.source, viewer.schoolId, viewer.personId)
  }
}

/** The content with its pictures under the ids they are kept under, in their sizes; pictures that are not kept go. */
function withMedia(content: WorksheetContent, media: ReadonlyMap<string, Medium>): WorksheetContent {
  const there = <B extends WorksheetContent['blocks'][number]>(block: B): B[] => {
    if (block.kind === 'section') return [{ ...block, blocks: block.blocks.flatMap(there) }]
    if (block.kind !== 'picture' && block.kind !== 'backdrop') return [block]
    const medium = media.get(block.media)
    if (!medium) return []
    return [block.kind === 'picture' ? { ...block, pixelWidth: medium.width, pixelHeight: medium.height } : block]
  }
  return mapMedia({ ...content, blocks: content.blocks.flatMap(there) }, (key) => media.get(key)?.id)
}
