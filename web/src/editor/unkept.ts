import type { DraftState } from '@gavrin/core'
import { type DBSchema, type IDBPDatabase, openDB } from 'idb'

/** A draft as it was written in a window, that the server has not said to have kept. */
export interface UnkeptDraft {
  /** Who wrote it, in which worksheet, in which window: `person/worksheet/window`. */
  readonly key: string
  /** What was kept when it was begun to be changed. */
  readonly base: DraftState
  readonly draft: DraftState
}

/** What of worksheets is kept in this browser until the server has it. */
export interface DraftKeeping {
  /** The drafts whose key begins so. */
  all(prefix: string): Promise<UnkeptDraft[]>
  keep(draft: UnkeptDraft): Promise<void>
  drop(keys: readonly string[]): Promise<void>
}

interface DraftStore extends DBSchema {
  drafts: { key: string; value: UnkeptDraft }
}

let opening: Promise<IDBPDatabase<DraftStore> | null> | null = null

/** Null where a browser keeps nothing. A database of its own: an older page holds that of the copies open. */
const database = () => (opening ??= open().catch(() => null))

async function open(): Promise<IDBPDatabase<DraftStore>> {
  return openDB<DraftStore>('gavrin-drafts', 1, {
    upgrade(db) {
      db.createObjectStore('drafts', { keyPath: 'key' })
    },
  })
}

/** In this browser's database. */
export const browserDrafts: DraftKeeping = {
  async all(prefix) {
    const db = await database()
    return db ? db.getAll('drafts', IDBKeyRange.bound(prefix, `${prefix}\uFFFF`)).catch(() => []) : []
  },
  async keep(draft) {
    const db = await database()
    await db?.put('drafts', draft).catch(() => undefined)
  },
  async drop(keys) {
    const db = await database()
    for (const key of keys) await db?.delete('drafts', key).catch(() => undefined)
  },
}
