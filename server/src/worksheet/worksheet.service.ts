import {
  EMPTY_CONTENT,
  type Viewer,
  type WorksheetContent,
  countEdition,
  checkContent,
  checkDraft,
  cleanText,
  contentWords,
  findForm,
  keptContent,
  mayTeach,
  mayWithWorksheet,
  mediaOf,
  proposedCount,
} from '@gavrin/core'
import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { randomUUID } from 'node:crypto'
import { DataSource, type EntityManager } from 'typeorm'
import { valueOf } from '../common/checked.js'
import { conflict, malformed, notThere } from '../common/problemDetails.js'
import { hold } from '../access/viewer.js'
import { Events } from '../events/events.js'
import { Edition, Worksheet, WorksheetMark } from './worksheet.entity.js'
import { holdWorksheet } from './worksheetAccess.js'
import {
  addWorksheet,
  editionsOf,
  showSameMedia,
  handoutsOfWorksheet,
  showMediaSeen,
  countShown,
} from './worksheet.queries.js'
import { inSchool } from '../database/inSchool.js'

export const TITLE_LIMIT = 200
/** Characters of a worksheet's print that are searched. */
const FIND_LIMIT = 100_000
/** Blocks that a thumbnail shows at most: more do not fit on a first page. */
const FIRST_PAGE = 30

@Injectable()
export class WorksheetService {
  constructor(
    @InjectDataSource() private readonly source: DataSource,
    private readonly events: Events,
  ) {}

  /** Begins a worksheet, empty or with a content. */
  async create(
    viewer: Viewer,
    title: string,
    begin: { content?: WorksheetContent; folderId?: string | null } = {},
    database: DataSource | EntityManager = this.source,
  ): Promise<{ id: string }> {
    hold(mayTeach(viewer))
    const id = randomUUID()
    const clean = cleanTitle(title)
    const content = begin.content ?? EMPTY_CONTENT
    await addWorksheet(database, viewer.schoolId, {
      id,
      personId: viewer.personId,
      clean,
      content,
      findWords: findWords(clean, content),
      id2: begin.folderId ?? null,
    })
    return { id }
  }

  async open(viewer: Viewer, id: string) {
    const worksheet = await holdWorksheet(this.source, viewer, id, 'see')
    const editions = await editionsOf(this.source, viewer.schoolId, id)
    await inSchool(this.source, viewer.schoolId).put(
      WorksheetMark,
      { personId: viewer.personId, worksheetId: id, openedAt: () => 'now()' },
      ['openedAt'],
    )
    const { title, version, keptVersion, updatedAt } = worksheet
    return {
      id,
      title,
      draft: keptContent(worksheet.draft),
      version,
      keptVersion,
      updatedAt,
      isOwner: worksheet.ownerId === viewer.personId,
      mayChange: mayWithWorksheet(viewer, worksheet, 'change').may && worksheet.archivedAt === null,
      archived: worksheet.archivedAt !== null,
      editions,
    }
  }

  /** What the first page of the draft shows, for its thumbnail. */
  async firstPage(viewer: Viewer, id: string) {
    const worksheet = await holdWorksheet(this.source, viewer, id, 'see')
    const content = keptContent(worksheet.draft)
    const end = content.blocks.findIndex(({ kind }) => kind === 'page break')
    const blocks = content.blocks.slice(0, Math.min(FIRST_PAGE, end < 0 ? FIRST_PAGE : end))
    return { title: worksheet.title, content: { ...content, blocks } }
  }

  async edition(viewer: Viewer, id: string, number: number) {
    await holdWorksheet(this.source, viewer, id, 'see')
    const edition = await this.source.manager.findOneBy(Edition, { schoolId: viewer.schoolId, worksheetId: id, number })
    if (!edition) throw notThere()
    return { number, title: edition.title, content: keptContent(edition.content), keptAt: edition.keptAt }
  }

  /** Keeps the draft; the version that the writer started from must be the newest. */
  async keepDraft(
    viewer: Viewer,
    id: string,
    input: { title: string; content: unknown; version: number },
  ): Promise<{ version: number; updatedAt: number }> {
    const kept = await this.source.transaction(async (tx) => {
      const worksheet = await holdWorksheet(tx, viewer, id, 'change', true)
      if (worksheet.archivedAt !== null) throw conflict('archived', ARCHIVED)
      if (worksheet.version !== input.version)
        throw conflict(
          'changed-meanwhile',
          'This worksheet was changed in another window. Open it again to see the newer one; what you typed is still here.',
          { version: worksheet.version },
        )
      const { content: draft } = valueOf(checkDraft(input.content))
      const title = cleanTitle(input.title)
      await this.showMedia(tx, viewer, id, draft)
      const updatedAt = Date.now()
      await tx.update(
        Worksheet,
        { schoolId: viewer.schoolId, id },
        { title, draft, version: worksheet.version + 1, updatedAt, findWords: findWords(title, draft) },
      )
      return { version: worksheet.version + 1, updatedAt }
    })
    await this.events.tell('worksheet kept', { by: viewer, worksheetId: id, version: kept.version })
    return kept
  }

  /** Keeps the draft as the next edition, which never changes again. The same draft is never kept twice. */
  async keepEdition(viewer: Viewer, id: string, version: number): Promise<{ number: number; isNew: boolean }> {
    return this.source.transaction(async (tx) => {
      const worksheet = await holdWorksheet(tx, viewer, id, 'change', true)
      if (worksheet.archivedAt !== null) throw conflict('archived', ARCHIVED)
      if (worksheet.version !== version)
        throw conflict(
          'changed-meanwhile',
          'This worksheet was changed in another window. Open it again, look at it, then keep it.',
          { version: worksheet.version },
        )
      const content = valueOf(checkContent(worksheet.draft))
      if (!content.blocks.length)
        throw malformed([
          { code: 'worksheet-empty', field: 'content', sentence: 'There is nothing on this worksheet yet.' },
        ])
      const proposed = proposedCount(content)
      if (proposed > 0)
        throw malformed([
          {
            code: 'spaces-proposed',
            field: 'content',
            sentence: `${proposed === 1 ? 'One answer space is' : `${proposed} answer spaces are`} only proposed: say of ${proposed === 1 ? 'it whether it is one' : 'each whether it is one'}, or use all.`,
          },
        ])
      const [last] = await tx.find(Edition, {
        where: { schoolId: viewer.schoolId, worksheetId: id },
        order: { number: 'DESC' },
        take: 1,
      })
      if (last && worksheet.keptVersion === version) return { number: last.number, isNew: false }
      const number = (last?.number ?? 0) + 1
      await tx.insert(Edition, {
        schoolId: viewer.schoolId,
        worksheetId: id,
        number,
        title: worksheet.title,
        content,
        ...countEdition(content),
        keptAt: Date.now(),
        keptBy: viewer.personId,
      })
      await tx.update(Worksheet, { schoolId: viewer.schoolId, id }, { keptVersion: version })
      return { number, isNew: true }
    })
  }

  /** A worksheet of one's own that begins as another one stands now. */
  async duplicate(viewer: Viewer, id: string): Promise<{ id: string }> {
    const { title, draft } = await holdWorksheet(this.source, viewer, id, 'see')
    const name = `${title.slice(0, TITLE_LIMIT - 7)} (copy)`
    return this.source.transaction(async (tx) => {
      const made = await this.create(viewer, name, { content: keptContent(draft) }, tx)
      await showSameMedia(tx, viewer.schoolId, id, made.id)
      return made
    })
  }

  /** Where a worksheet was handed out, and how far its copies are. */
  async handouts(viewer: Viewer, id: string) {
    await holdWorksheet(this.source, viewer, id, 'see')
    return handoutsOfWorksheet(this.source, viewer.schoolId, id, viewer.personId)
  }

  /** Pictures that were put in from another worksheet which this author sees can be shown by this one too. */
  private async showMedia(tx: EntityManager, viewer: Viewer, id: string, content: WorksheetContent): Promise<void> {
    const media = mediaOf(content)
    if (media.length === 0) return
    await showMediaSeen(tx, viewer.schoolId, { personId: viewer.personId, id, media })
    const [count] = await countShown(tx, viewer.schoolId, id, media)
    if (count!.shown < media.length)
      throw malformed([
        {
          code: 'media-missing',
          field: 'content',
          sentence: 'A picture of this worksheet is not in the library: take it out and put it in again.',
        },
      ])
  }
}

const ARCHIVED = 'This worksheet is archived: bring it back to change it.'

export function cleanTitle(title: string): string {
  const clean = cleanText(title)
  if (!clean) throw malformed([{ code: 'title-empty', field: 'title', sentence: 'Give the worksheet a title.' }])
  return clean
}

export const findWords = (title: string, content: WorksheetContent): string =>
  findForm(`${title}\n${contentWords(content)}`.slice(0, FIND_LIMIT))
