import { type Viewer, cleanText, findAll, findForm, keptContent, mayTeach } from '@gavrin/core'
import { Injectable } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { randomUUID } from 'node:crypto'
import { DataSource, Any } from 'typeorm'
import { malformed, notThere } from '../common/problemDetails.js'
import { hold } from '../access/viewer.js'
import { Events } from '../events/events.js'
import { holdWorksheet } from './worksheetAccess.js'
import { cleanTitle, findWords } from './worksheet.service.js'
import { inSchool } from '../database/inSchool.js'
import { Folder, Worksheet, WorksheetShare } from './worksheet.entity.js'
import {
  worksheetsInLibrary,
  worksheetsFound,
  titlesOf,
  pinWorksheets,
  renameWorksheet,
  colleaguesOf,
  addShares,
} from './worksheet.queries.js'

const FOLDER_LIMIT = 200
const DEPTH_LIMIT = 5
const FOUND_LIMIT = 8

export interface Shares {
  readonly schoolMay: 'none' | 'view' | 'edit'
  readonly people: readonly { readonly personId: string; readonly may: 'view' | 'edit' }[]
}

/** The library: what is in it, where it lies, and who else sees it. */
@Injectable()
export class LibraryService {
  constructor(
    @InjectDataSource() private readonly source: DataSource,
    private readonly events: Events,
  ) {}

  /** All worksheets that a teacher sees: their own and those shared with them. */
  async list(viewer: Viewer) {
    hold(mayTeach(viewer))
    return worksheetsInLibrary(this.source, viewer.schoolId, viewer.personId)
  }

  /** The worksheets in whose title or print all the words stand, in any form and order. */
  async find(viewer: Viewer, typed: string): Promise<{ ids: string[] }> {
    hold(mayTeach(viewer))
    const words = findForm(typed).split(' ').filter(Boolean).slice(0, 10)
    if (words.length === 0) return { ids: [] }
    const like = words.map((word) => `%${word.replace(/[\\%_]/g, '\\$&')}%`)
    const rows = await worksheetsFound(this.source, viewer.schoolId, viewer.personId, like)
    return { ids: rows.map(({ id }) => id) }
  }

  /** The worksheets that are found by title first, then by what is printed on them, with their titles. */
  async findTitled(viewer: Viewer, typed: string): Promise<{ id: string; title: string; archived: boolean }[]> {
    const { ids } = await this.find(viewer, typed)
    const found = await titlesOf(this.source, viewer.schoolId, ids)
    const titled = findAll(found, ({ title }) => title, typed, FOUND_LIMIT)
    return [...titled, ...found.filter((worksheet) => !titled.includes(worksheet))].slice(0, FOUND_LIMIT)
  }

  /** Marks worksheets for oneself. */
  async pin(viewer: Viewer, ids: readonly string[], pinned: boolean): Promise<void> {
    hold(mayTeach(viewer))
    await pinWorksheets(this.source, viewer.schoolId, { personId: viewer.personId, ids, pinned })
  }

  /** Puts one's own worksheets in a folder of one's own, or in none. */
  async move(viewer: Viewer, ids: readonly string[], folderId: string | null): Promise<{ moved: number }> {
    hold(mayTeach(viewer))
    if (folderId !== null) await this.ownFolder(viewer, folderId)
    const moved = await inSchool(this.source, viewer.schoolId).update(
      Worksheet,
      { ownerId: viewer.personId, id: Any(ids) },
      { folderId },
    )
    return { moved }
  }

  async archive(viewer: Viewer, ids: readonly string[], archived: boolean): Promise<{ changed: number }> {
    hold(mayTeach(viewer))
    const changed = await inSchool(this.source, viewer.schoolId).update(
      Worksheet,
      { ownerId: viewer.personId, id: Any(ids) },
      { archivedAt: archived ? () => 'coalesce(archived_at, now())' : null },
    )
    return { changed }
  }

  /** Gives several worksheets other titles, all or none. */
  async rename(viewer: Viewer, titles: readonly { readonly id: string; readonly title: string }[]): Promise<void> {
    hold(mayTeach(viewer))
    const clean = titles.map(({ id, title }) => ({ id, title: cleanTitle(title) }))
    const renamed = await this.source.transaction(async (tx) => {
      const versions = new Map<string, number>()
      for (const { id, title } of clean) {
        const { draft, version } = await holdWorksheet(tx, viewer, id, 'change', true)
        await renameWorksheet(tx, viewer.schoolId, { id, title, findWords: findWords(title, keptContent(draft)) })
        versions.set(id, version + 1)
      }
      return versions
    })
    // Whoever has one of them open goes on with the new title.
    for (const [id, version] of renamed)
      await this.events.tell('worksheet kept', { by: viewer, worksheetId: id, version: version })
  }

  async shares(viewer: Viewer, id: string) {
    const { schoolMay } = await holdWorksheet(this.source, viewer, id, 'look after')
    const people = await colleaguesOf(this.source, viewer.schoolId, id, viewer.personId)
    return { schoolMay, people }
  }

  /** Says who else sees or changes a worksheet; whoever is not named does not, unless all may. */
  async share(viewer: Viewer, id: string, { schoolMay, people }: Shares): Promise<void> {
    await this.source.transaction(async (tx) => {
      await holdWorksheet(tx, viewer, id, 'look after', true)
      await inSchool(tx, viewer.schoolId).update(Worksheet, { id }, { schoolMay })
      await inSchool(tx, viewer.schoolId).delete(WorksheetShare, { worksheetId: id })
      await addShares(tx, viewer.schoolId, { id, people: JSON.stringify(people), personId: viewer.personId })
    })
  }

  async folders(viewer: Viewer) {
    hold(mayTeach(viewer))
    return inSchool(this.source, viewer.schoolId).find(
      Folder,
      { ownerId: viewer.personId },
      { select: ['id', 'parentId', 'name'], order: { name: 'ASC' } },
    )
  }

  async addFolder(viewer: Viewer, name: string, parentId: string | null): Promise<{ id: string }> {
    const clean = await this.folderName(viewer, name, parentId, null)
    const id = randomUUID()
    await inSchool(this.source, viewer.schoolId).insert(Folder, { id, ownerId: viewer.personId, parentId, name: clean })
    return { id }
  }

  /** Renames a folder, or puts it in another one. */
  async keepFolder(viewer: Viewer, id: string, name: string, parentId: string | null): Promise<void> {
    await this.ownFolder(viewer, id)
    const clean = await this.folderName(viewer, name, parentId, id)
    await inSchool(this.source, viewer.schoolId).update(Folder, { id }, { name: clean, parentId })
  }

  /** Takes a folder away; what lies in it goes to where the folder lay. */
  async removeFolder(viewer: Viewer, id: string): Promise<void> {
    const { parentId } = await this.ownFolder(viewer, id)
    await this.source.transaction(async (tx) => {
      await inSchool(tx, viewer.schoolId).update(Worksheet, { folderId: id }, { folderId: parentId })
      await inSchool(tx, viewer.schoolId).update(Folder, { parentId: id }, { parentId })
      await inSchool(tx, viewer.schoolId).delete(Folder, { id })
    })
  }

  private async ownFolder(viewer: Viewer, id: string): Promise<{ parentId: string | null }> {
    const [folder] = await inSchool(this.source, viewer.schoolId).find(
      Folder,
      { ownerId: viewer.personId, id },
      { select: ['parentId'] },
    )
    if (!folder) throw notThere()
    return folder
  }

  private async folderName(viewer: Viewer, name: string, parentId: string | null, self: string | null) {
    const folders = await this.folders(viewer)
    const wrong = (field: string, sentence: string) => malformed([{ code: 'folder', field, sentence }])
    const clean = cleanText(name)
    if (!clean) throw wrong('name', 'Give the folder a name.')
    if (clean.length > 100) throw wrong('name', 'The name of a folder has up to 100 characters.')
    if (self === null && folders.length >= FOLDER_LIMIT)
      throw wrong('name', `There can be up to ${FOLDER_LIMIT} folders.`)
    if (parentId !== null && !folders.some(({ id }) => id === parentId)) throw notThere()
    const same = findForm(clean)
    if (folders.some((other) => other.id !== self && other.parentId === parentId && findForm(other.name) === same))
      throw wrong('name', `There is a folder “${clean}” here already.`)
    let depth = 1
    for (let at = parentId; at !== null; at = folders.find(({ id }) => id === at)?.parentId ?? null) {
      if (at === self) throw wrong('parentId', 'A folder cannot lie in itself.')
      if (++depth > DEPTH_LIMIT) throw wrong('parentId', `Folders lie up to ${DEPTH_LIMIT} deep.`)
    }
    return clean
  }
}
