import { type DBSchema, type IDBPDatabase, openDB } from 'idb'

/** A change that the server has not said to have saved. */
export interface UnsentUpdate {
  readonly space: string
  readonly bytes: Uint8Array
}

interface UnsentStore extends DBSchema {
  unsent: { key: number; value: UnsentUpdate & { copy: string }; indexes: { copy: string } }
}

let opening: Promise<IDBPDatabase<UnsentStore> | null> | null = null

/** Null where a browser keeps nothing (a private window): writing goes on, but does not outlive the page. */
function database(): Promise<IDBPDatabase<UnsentStore> | null> {
  return (opening ??= open().catch(() => null))
}

// Async, so that a browser without any storage is a refusal like another.
async function open(): Promise<IDBPDatabase<UnsentStore>> {
  return openDB<UnsentStore>('gavrin', 1, {
    upgrade(db) {
      db.createObjectStore('unsent', { autoIncrement: true }).createIndex('copy', 'copy')
    },
  })
}

/** What was written in this browser by this person in this copy and is not saved yet, with its keys. */
export async function unsentOf(copy: string): Promise<{ key: number; update: UnsentUpdate }[]> {
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
}

/** Keeps a change until it is saved. */
export async function keepUnsent(copy: string, update: UnsentUpdate): Promise<number | null> {
  const db = await database()
  return db ? db.add('unsent', { copy, space: update.space, bytes: update.bytes }).catch(() => null) : null
}

/** These changes are saved, or were answered. */
export async function dropUnsent(keys: readonly number[]): Promise<void> {
  const db = await database()
  if (!db || keys.length === 0) return
  const write = db.transaction('unsent', 'readwrite')
  await Promise.all([...keys.map((key) => write.store.delete(key)), write.done]).catch(() => undefined)
}
