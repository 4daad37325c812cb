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

/** Changes that the database has not said it has. */
const onTheirWay = new Set<UnsentUpdate & { readonly copy: string }>()
const LEFT = 'gavrin.unsent'

const toBase64 = (bytes: Uint8Array) => btoa(Array.from(bytes, (byte) => String.fromCharCode(byte)).join(''))
const fromBase64 = (text: string) => Uint8Array.from(atob(text), (sign) => sign.charCodeAt(0))

/**
 * The page is going, and a database that is still writing may not get to its end: what is on its way to it is left where it is
 * written at once. Who opens a copy next finds it there too; what stands in both is the same change.
 */
function leaveBehind(): void {
  if (onTheirWay.size === 0) return
  try {
    const left = [...onTheirWay].map(({ copy, space, bytes }) => ({ copy, space, bytes: toBase64(bytes) }))
    localStorage.setItem(LEFT, JSON.stringify([...leftBehind(), ...left]))
  } catch {
    // A browser that keeps nothing, or no more.
  }
}
// Not where pages are drawn on the server.
globalThis.addEventListener?.('pagehide', leaveBehind)

interface Left {
  readonly copy: string
  readonly space: string
  readonly bytes: string
}

function leftBehind(): Left[] {
  try {
    return JSON.parse(localStorage.getItem(LEFT) ?? '[]') as Left[]
  } catch {
    return []
  }
}

/** What a page left behind as it went is put into the database. */
async function takeUp(db: IDBPDatabase<UnsentStore>): Promise<void> {
  const left = leftBehind()
  if (left.length === 0) return
  const write = db.transaction('unsent', 'readwrite')
  for (const { copy, space, bytes } of left) void write.store.add({ copy, space, bytes: fromBase64(bytes) })
  await write.done
  const [now, taken] = [leftBehind(), new Set(left.map((one) => JSON.stringify(one)))]
  const others = now.filter((one) => !taken.has(JSON.stringify(one)))
  if (others.length > 0) localStorage.setItem(LEFT, JSON.stringify(others))
  else localStorage.removeItem(LEFT)
}

/** In this browser's database. */
export const browserKeeping: Keeping = {
  async unsent(copy) {
    const db = await database()
    if (!db) return []
    await takeUp(db).catch(() => undefined)
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
    const one = { copy, space, bytes }
    onTheirWay.add(one)
    const db = await database()
    const key = db ? await db.add('unsent', one).catch(() => null) : null
    onTheirWay.delete(one)
    return key
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
    await takeUp(db).catch(() => undefined)
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
