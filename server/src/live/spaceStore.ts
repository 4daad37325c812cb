import { parseUpdate } from '@gavrin/core'
import type { DataSource, EntityManager } from 'typeorm'

/** One update of an answer space, as it is kept in the log. */
export interface LoggedUpdate {
  readonly schoolId: string
  readonly copyId: string
  readonly space: string
  /** Counts the updates of a space from 1; with the space it is the key that fences a second owner. */
  readonly seq: number
  readonly personId: string
  /** Milliseconds since 1970. */
  readonly at: number
  readonly bytes: Uint8Array
}

/** What is kept of an answer space: a snapshot, if there is one, and the updates since. */
export interface StoredSpace {
  readonly updates: Uint8Array[]
  readonly seq: number
  /** Updates in the log that the snapshot does not hold. */
  readonly unfolded: number
  /** Who writes under which client id. */
  readonly writers: Map<number, string>
}

const UNLIMITED = Number.MAX_SAFE_INTEGER

/** All answer spaces of a copy in which something was ever written. */
export async function loadSpaces(
  database: DataSource | EntityManager,
  schoolId: string,
  copyId: string,
): Promise<Map<string, StoredSpace>> {
  const rows = await database.query<
    { space: string; seq: number; bytes: Buffer; person_id: string | null; writers: Record<string, string> | null }[]
  >(
    `SELECT space, seq, bytes, NULL::uuid AS person_id, writers FROM live_snapshot WHERE school_id = $1 AND copy_id = $2
      UNION ALL
     SELECT u.space, u.seq, u.bytes, u.person_id, NULL FROM live_update u
       LEFT JOIN live_snapshot s ON s.school_id = u.school_id AND s.copy_id = u.copy_id AND s.space = u.space
      WHERE u.school_id = $1 AND u.copy_id = $2 AND u.seq > coalesce(s.seq, 0)
      ORDER BY space, seq`,
    [schoolId, copyId],
  )
  const spaces = new Map<string, StoredSpace & { seq: number; unfolded: number }>()
  for (const row of rows) {
    let stored = spaces.get(row.space)
    if (!stored) spaces.set(row.space, (stored = { updates: [], seq: 0, unfolded: 0, writers: new Map() }))
    stored.updates.push(row.bytes)
    stored.seq = row.seq
    if (row.writers)
      for (const [client, person] of Object.entries(row.writers)) stored.writers.set(Number(client), person)
    if (row.person_id) {
      stored.unfolded++
      const parsed = parseUpdate(row.bytes, UNLIMITED)
      if (parsed && parsed !== 'too many')
        for (const client of parsed.clients.keys())
          if (!stored.writers.has(client)) stored.writers.set(client, row.person_id)
    }
  }
  return spaces
}

/** Appends updates of any number of spaces in one statement. */
export async function appendUpdates(database: DataSource, updates: readonly LoggedUpdate[]): Promise<void> {
  await database.query(
    `INSERT INTO live_update (school_id, copy_id, space, seq, person_id, at, bytes)
     SELECT * FROM unnest($1::uuid[], $2::uuid[], $3::text[], $4::int[], $5::uuid[], $6::timestamptz[], $7::bytea[])`,
    [
      updates.map(({ schoolId }) => schoolId),
      updates.map(({ copyId }) => copyId),
      updates.map(({ space }) => space),
      updates.map(({ seq }) => seq),
      updates.map(({ personId }) => personId),
      updates.map(({ at }) => new Date(at)),
      updates.map(({ bytes }) => Buffer.from(bytes)),
    ],
  )
}

/** The copies, of those the updates are of, in which one of these updates stands already: written by another owner. */
export async function fencedCopies(database: DataSource, updates: readonly LoggedUpdate[]): Promise<Set<string>> {
  const rows = await database.query<{ copy_id: string }[]>(
    `SELECT DISTINCT u.copy_id FROM live_update u
       JOIN unnest($1::uuid[], $2::uuid[], $3::text[], $4::int[]) AS n(school_id, copy_id, space, seq)
         ON n.school_id = u.school_id AND n.copy_id = u.copy_id AND n.space = u.space AND n.seq = u.seq`,
    [
      updates.map(({ schoolId }) => schoolId),
      updates.map(({ copyId }) => copyId),
      updates.map(({ space }) => space),
      updates.map(({ seq }) => seq),
    ],
  )
  return new Set(rows.map(({ copy_id }) => copy_id))
}

/** Keeps the state of a space up to and with update `seq`, so that opening it need not replay its log. The log stays. */
export async function keepSnapshot(
  database: DataSource,
  snapshot: {
    schoolId: string
    copyId: string
    space: string
    seq: number
    bytes: Uint8Array
    writers: ReadonlyMap<number, string>
  },
): Promise<void> {
  await database.query(
    `INSERT INTO live_snapshot (school_id, copy_id, space, seq, bytes, writers) VALUES ($1, $2, $3, $4, $5, $6)
     ON CONFLICT (school_id, copy_id, space) DO UPDATE SET seq = excluded.seq, bytes = excluded.bytes, writers = excluded.writers
      WHERE live_snapshot.seq < excluded.seq`,
    [
      snapshot.schoolId,
      snapshot.copyId,
      snapshot.space,
      snapshot.seq,
      Buffer.from(snapshot.bytes),
      JSON.stringify(Object.fromEntries(snapshot.writers)),
    ],
  )
}
