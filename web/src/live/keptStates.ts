import { type DBSchema, type IDBPDatabase, openDB } from 'idb'
import type { CopyState, Permission } from '@gavrin/core'

/** A copy as it was when it was last open with a connection. */
export interface KeptCopy {
  readonly permission: Permission
  readonly reason: string
  readonly state: CopyState | null
}

/** Where copies are kept as they were, to be opened without a connection. `copy` names a copy and who has it. */
export interface StateKeeping {
  /** Whether anything of this copy may be kept here now: its person is who pages are kept for. */
  mayKeep(copy: string): boolean
  read(copy: string): Promise<{ about: KeptCopy; states: ReadonlyMap<string, Uint8Array> } | null>
  keep(copy: string, about: KeptCopy, states: ReadonlyMap<string, Uint8Array>): Promise<void>
}

interface StatesStore extends DBSchema {
  copies: { key: string; value: KeptCopy & { copy: string; at: number } }
  states: {
    key: [string, string]
    value: { copy: string; space: string; bytes: Uint8Array }
    indexes: { copy: string }
  }
}

/** Whose pages and copies are kept in this browser: one person's at a time. */
export const WHOSE = 'gavrin.kept-of'
const NAME = 'gavrin-copies'
/** The copies opened last that are kept. */
const MOST = 40
let opening: Promise<IDBPDatabase<StatesStore> | null> | null = null

/** Null where a browser keeps nothing. */
const database = (): Promise<IDBPDatabase<StatesStore> | null> => (opening ??= open().catch(() => null))

// Async, so that a browser without any storage is a refusal like another.
async function open(): Promise<IDBPDatabase<StatesStore>> {
  return openDB<StatesStore>(NAME, 1, {
    upgrade(db) {
      db.createObjectStore('copies', { keyPath: 'copy' })
      db.createObjectStore('states', { keyPath: ['copy', 'space'] }).createIndex('copy', 'copy')
    },
  })
}

/** In a database of the browser's. */
export const browserStates: StateKeeping = {
  mayKeep(copy) {
    try {
      return localStorage.getItem(WHOSE) === copy.split('/')[0]
    } catch {
      return false
    }
  },

  async read(copy) {
    const db = await database()
    const about = await db?.get('copies', copy)
    if (!db || !about) return null
    const states = await db.getAllFromIndex('states', 'copy', copy)
    return { about, states: new Map(states.map(({ space, bytes }) => [space, bytes])) }
  },

  async keep(copy, about, states) {
    const db = await database()
    if (!db) return
    const write = db.transaction(['copies', 'states'], 'readwrite')
    const { permission, reason, state } = about
    const copies = write.objectStore('copies')
    void copies.put({ permission, reason, state, copy, at: Date.now() })
    for (const [space, bytes] of states) void write.objectStore('states').put({ copy, space, bytes })
    await write.done.catch(() => undefined)
    await dropOldest(db).catch(() => undefined)
  },
}

async function dropOldest(db: IDBPDatabase<StatesStore>): Promise<void> {
  if ((await db.count('copies')) <= MOST) return
  const all = (await db.getAll('copies')).toSorted((a, b) => b.at - a.at)
  for (const { copy } of all.slice(MOST)) {
    await db.delete('copies', copy)
    for (const key of await db.getAllKeysFromIndex('states', 'copy', copy)) await db.delete('states', key)
  }
}

/** Nothing of any copy is kept any more. */
export async function forgetStates(): Promise<void> {
  const db = await database()
  await Promise.all([db?.clear('copies'), db?.clear('states')])
}
