import { type DecidedPart, type LateDecision, parseUpdate } from '@gavrin/core'
import type { DataSource, EntityManager } from 'typeorm'
import { anySchool, inSchool } from '../database/inSchool.js'
import { ms } from '../database/sql.js'
import { LateUpdate, LiveUpdate } from './kept.entity.js'

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
  /** Null: of the answer. Else why it came too late: it is kept beside the answer, counted by person. */
  readonly late: string | null
}

/** What the teachers of a copy made of late writing. */
export interface Decided {
  readonly decision: LateDecision
  /** Milliseconds since 1970. */
  readonly at: number
  readonly by: string
  readonly parts: readonly DecidedPart[]
}

/** What one person wrote too late in an answer space. */
export interface StoredLate {
  readonly space: string
  readonly personId: string
  readonly updates: Uint8Array[]
  readonly seq: number
  readonly reason: string
  /** Of the first and the last of them, in milliseconds since 1970. */
  readonly began: number
  readonly at: number
  /** What was made of the last of them; null: nothing yet. */
  readonly decided: Decided | null
}

/** What is kept of an answer space: a snapshot, if there is one, and the updates since. */
export interface StoredSpace {
  readonly updates: Uint8Array[]
  readonly seq: number
  /** Updates in the log that the snapshot does not hold. */
  readonly unfolded: number
  /** Who writes under which client id. */
  readonly writers: Map<number, string>
  /** When the last of the updates came that no snapshot holds, in milliseconds since 1970; null: there is none. */
  readonly at: number | null
}

const UNLIMITED = Number.MAX_SAFE_INTEGER

/** All answer spaces of a copy in which something was ever written. */
export async function loadSpaces(
  database: DataSource | EntityManager,
  schoolId: string,
  copyId: string,
): Promise<Map<string, StoredSpace>> {
  const rows = await inSchool(database, schoolId).rows<{
    space: string
    seq: number
    bytes: Buffer
    person_id: string | null
    writers: Record<string, string> | null
    at: number | null
  }>(
    `SELECT space, seq, bytes, NULL::uuid AS person_id, writers, NULL::float8 AS at FROM live_snapshot WHERE school_id = $1 AND copy_id = $2
      UNION ALL
     SELECT u.space, u.seq, u.bytes, u.person_id, NULL, ${ms('u.at')} FROM live_update u
       LEFT JOIN live_snapshot s ON s.school_id = u.school_id AND s.copy_id = u.copy_id AND s.space = u.space
      WHERE u.school_id = $1 AND u.copy_id = $2 AND u.seq > coalesce(s.seq, 0)
      ORDER BY space, seq`,
    copyId,
  )
  const spaces = new Map<string, StoredSpace & { seq: number; unfolded: number; at: number | null }>()
  for (const row of rows) {
    let stored = spaces.get(row.space)
    if (!stored) spaces.set(row.space, (stored = { updates: [], seq: 0, unfolded: 0, writers: new Map(), at: null }))
    stored.updates.push(row.bytes)
    stored.seq = row.seq
    if (row.at !== null) stored.at = row.at
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

/** All late writing of a copy, by answer space and person, the first first. */
export async function loadLate(
  database: DataSource | EntityManager,
  schoolId: string,
  copyId: string,
): Promise<StoredLate[]> {
  const rows = await inSchool(database, schoolId).find(
    LateUpdate,
    { copyId },
    {
      select: [
        'space',
        'personId',
        'seq',
        'at',
        'reason',
        'bytes',
        'decision',
        'decidedAt',
        'decidedBy',
        'decidedParts',
      ],
      order: { space: 'ASC', personId: 'ASC', seq: 'ASC' },
    },
  )
  const found = new Map<string, StoredLate>()
  for (const { space, personId, seq, at, reason, bytes, ...made } of rows) {
    const key = `${space} ${personId}`
    const before = found.get(key)
    found.set(key, {
      space,
      personId,
      updates: [...(before?.updates ?? []), bytes],
      seq,
      reason,
      began: before?.began ?? at,
      at,
      decided: made.decision && {
        decision: made.decision,
        at: made.decidedAt!,
        by: made.decidedBy!,
        parts: made.decidedParts ?? [],
      },
    })
  }
  return [...found.values()].sort((one, other) => one.began - other.began)
}

/** Appends updates of any number of spaces, all or none. */
export async function appendUpdates(database: DataSource, updates: readonly LoggedUpdate[]): Promise<void> {
  const late = updates.filter((update) => update.late !== null)
  if (late.length === 0) return appendTo(database, 'live_update', updates)
  await database.transaction(async (tx) => {
    const answers = updates.filter((update) => update.late === null)
    if (answers.length) await appendTo(tx, 'live_update', answers)
    await appendTo(tx, 'late_update', late)
  })
}

/** One statement for all rows: each commit carries what every writer wrote meanwhile. */
async function appendTo(
  database: DataSource | EntityManager,
  table: 'live_update' | 'late_update',
  updates: readonly LoggedUpdate[],
): Promise<void> {
  const isLate = table === 'late_update'
  await anySchool(database).rows(
    `INSERT INTO ${table} (school_id, copy_id, space, seq, person_id, at, bytes${isLate ? ', reason' : ''})
     SELECT * FROM unnest($1::uuid[], $2::uuid[], $3::text[], $4::int[], $5::uuid[], $6::timestamptz[], $7::bytea[]${isLate ? ', $8::text[]' : ''})`,
    updates.map(({ schoolId }) => schoolId),
    updates.map(({ copyId }) => copyId),
    updates.map(({ space }) => space),
    updates.map(({ seq }) => seq),
    updates.map(({ personId }) => personId),
    updates.map(({ at }) => new Date(at)),
    updates.map(({ bytes }) => Buffer.from(bytes)),
    ...(isLate ? [updates.map(({ late }) => late)] : []),
  )
}

/** The copies, of those the updates are of, in which one of these updates stands already: written by another owner. */
export async function fencedCopies(database: DataSource, updates: readonly LoggedUpdate[]): Promise<Set<string>> {
  const rows = await anySchool(database).rows<{ copy_id: string }>(
    `WITH n AS (SELECT * FROM unnest($1::uuid[], $2::uuid[], $3::text[], $4::int[], $5::uuid[], $6::bool[]) AS n(school_id, copy_id, space, seq, person_id, late))
     SELECT u.copy_id FROM live_update u
       JOIN n ON NOT n.late AND n.school_id = u.school_id AND n.copy_id = u.copy_id AND n.space = u.space AND n.seq = u.seq
      UNION
     SELECT u.copy_id FROM late_update u
       JOIN n ON n.late AND n.school_id = u.school_id AND n.copy_id = u.copy_id AND n.space = u.space AND n.person_id = u.person_id AND n.seq = u.seq`,
    updates.map(({ schoolId }) => schoolId),
    updates.map(({ copyId }) => copyId),
    updates.map(({ space }) => space),
    updates.map(({ seq }) => seq),
    updates.map(({ personId }) => personId),
    updates.map(({ late }) => late !== null),
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
  await inSchool(database, snapshot.schoolId).rows(
    `INSERT INTO live_snapshot (school_id, copy_id, space, seq, bytes, writers) VALUES ($1, $2, $3, $4, $5, $6)
     ON CONFLICT (school_id, copy_id, space) DO UPDATE SET seq = excluded.seq, bytes = excluded.bytes, writers = excluded.writers
      WHERE live_snapshot.seq < excluded.seq`,
    snapshot.copyId,
    snapshot.space,
    snapshot.seq,
    Buffer.from(snapshot.bytes),
    JSON.stringify(Object.fromEntries(snapshot.writers)),
  )
}

/** Makes one of the late updates of a person in a space up to and with `seq`, as they are read together anyway. */
export async function foldLate(
  database: DataSource,
  late: { schoolId: string; copyId: string; space: string; personId: string; seq: number; bytes: Uint8Array },
): Promise<void> {
  await inSchool(database, late.schoolId).rows(
    `WITH folded AS (
       UPDATE late_update SET bytes = $6 WHERE school_id = $1 AND copy_id = $2 AND space = $3 AND person_id = $4 AND seq = $5 AND decision IS NULL RETURNING seq)
     DELETE FROM late_update l USING folded f
      WHERE l.school_id = $1 AND l.copy_id = $2 AND l.space = $3 AND l.person_id = $4 AND l.seq < f.seq AND l.decision IS NULL`,
    late.copyId,
    late.space,
    late.personId,
    late.seq,
    Buffer.from(late.bytes),
  )
}

/**
 * Adds a change to an answer by an act of its teachers, after the change `after`.
 * @returns whether it is there: not when somebody wrote in the answer meanwhile
 */
export async function appendAfter(
  tx: EntityManager,
  schoolId: string,
  change: { copyId: string; space: string; after: number; personId: string; at: number; bytes: Uint8Array },
): Promise<boolean> {
  const rows = await inSchool(tx, schoolId).rows(
    `INSERT INTO live_update (school_id, copy_id, space, seq, person_id, at, bytes) VALUES ($1, $2, $3, $4, $5, $7, $6)
     ON CONFLICT DO NOTHING RETURNING seq`,
    change.copyId,
    change.space,
    change.after + 1,
    change.personId,
    Buffer.from(change.bytes),
    new Date(change.at),
  )
  return rows.length > 0
}

/** The log of a space from its first update on, for whoever must go back in it. */
export async function logOf(
  database: DataSource | EntityManager,
  schoolId: string,
  copyId: string,
  space: string,
): Promise<{ seq: number; bytes: Buffer }[]> {
  return inSchool(database, schoolId).find(
    LiveUpdate,
    { copyId, space },
    { select: ['seq', 'bytes'], order: { seq: 'ASC' } },
  )
}
