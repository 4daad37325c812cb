import { type DBSchema, type IDBPDatabase, openDB } from 'idb'

/** A change that the server has not answered. */
export interface UnsentUpdate {
  readonly space: string
  readonly bytes: Uint8Array
}

/** Words that the server did not take; kept until whoever wrote them has read so. */
export interface RefusedWords {
  readonly space: string
  readonly text: string
  readonly sentence: string
}

/** What of copies is kept in this browser. `copy` names a copy and who writes in it. */
export interface Keeping {
  /** What was written and is not answered yet, with its keys, in the order it was written. */
  unsent(copy: string): Promise<{ key: number; update: UnsentUpdate }[]>
  /** Keeps a change until it is answered; its key, or null where nothing can be kept. */
  keep(copy: string, update: UnsentUpdate): Promise<number | null>
  /** These changes were answered. */
  drop(keys: readonly number[]): Promise<void>
  /** The copies that have something of this person that is not answered. */
  copies(personId: string): Promise<string[]>
  refused(copy: string): Promise<RefusedWords[]>
  /** Replaces what is kept of refused words in this space; null: it was read. */
  keepRefused(copy: string, space: string, words: RefusedWords | null): Promise<void>
}

interface UnsentStore extends DBSchema {
  unsent: { key: number; value: UnsentUpdate & { copy: string }; indexes: { copy: string } }
  refused: { key: [string, string]; value: RefusedWords & { copy: string }; indexes: { copy: string } }
}

let opening: Promise<IDBPDatabase<UnsentStore> | null> | null = null

/** Null where a browser keeps nothing (a private window): writing goes on, but does not outlive the page. */
function database(): Promise<IDBPDatabase<UnsentStore> | null> {
  return (opening ??= open().catch(() => null))
}

// Async, so that a browser without any storage is a refusal like another.
async function open(): Promise<IDBPDatabase<UnsentStore>> {
  return openDB<UnsentStore>('gavrin', 2, {
    upgrade(db, before) {
      if (before < 1) db.createObjectStore('unsent', { autoIncrement: true }).createIndex('copy', 'copy')
      if (before < 2) db.createObjectStore('refused', { keyPath: ['copy', 'space'] }).createIndex('copy', 'copy')
    },
  })
}

/** In this browser's database. */
export const browserKeeping: Keeping = {
  async unsent(copy) {
    const db = await database()
    if (!db) return []
    const [keys, values] = await Promise.all([
      db.getAllKeysFromIndex('unsent', 'copy', copy),
      db.getAllFromIndex('unsent', 'copy', copy),
    ])
    return values.flatMap(({ space, bytes }, index) => {
      const key = keys[index]
      return key === undefined ? [] : [{ key, update: { space, bytes } }]
    })
  },

  async keep(copy, { space, bytes }) {
    const db = await database()
    return db ? db.add('unsent', { copy, space, bytes }).catch(() => null) : null
  },

  async drop(keys) {
    const db = await database()
    if (!db || keys.length === 0) return
    const write = db.transaction('unsent', 'readwrite')
    await Promise.all([...keys.map((key) => write.store.delete(key)), write.done]).catch(() => undefined)
  },

  async copies(personId) {
    const db = await database()
    if (!db) return []
    const names = new Set((await db.getAll('unsent')).map(({ copy }) => copy))
    return [...names].filter((name) => name.startsWith(`${personId}/`)).map((name) => name.slice(personId.length + 1))
  },

  async refused(copy) {
    const db = await database()
    return db ? db.getAllFromIndex('refused', 'copy', copy) : []
  },

  async keepRefused(copy, space, words) {
    const db = await database()
    if (!db) return
    await (words ? db.put('refused', { ...words, copy }) : db.delete('refused', [copy, space])).catch(() => undefined)
  },
}
