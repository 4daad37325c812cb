import type { JournalKind, LogEntry } from '@gavrin/core'
import { type Database, inSchool } from '../database/inSchool.js'
import { ms } from '../database/sql.js'

/** A step of a copy, with the names of who took it. */
export interface KeptStep {
  readonly kind: JournalKind
  /** Milliseconds since 1970. */
  readonly at: number
  /** Null: nobody, it came by itself. */
  readonly personId: string | null
  /** The address of the answer that it is about; null: the copy. */
  readonly space: string | null
}

/** What happened to a copy, in the order it happened. Raw: times as numbers. */
export function stepsOf(database: Database, schoolId: string, copyId: string): Promise<KeptStep[]> {
  return inSchool(database, schoolId).rows<KeptStep>(
    `SELECT kind, ${ms('at')} AS at, person_id AS "personId", space FROM copy_journal WHERE school_id = $1 AND copy_id = $2 ORDER BY number`,
    copyId,
  )
}

/** Who wrote in a copy. Raw: distinct. */
export function writersOf(database: Database, schoolId: string, copyId: string): Promise<{ personId: string }[]> {
  return inSchool(database, schoolId).rows<{ personId: string }>(
    'SELECT DISTINCT person_id AS "personId" FROM live_update WHERE school_id = $1 AND copy_id = $2',
    copyId,
  )
}

/** A piece of the log of a copy, from after one of its changes on. Raw: a range of a key, cut by its size. */
export function logAfter(
  database: Database,
  schoolId: string,
  copyId: string,
  after: { readonly space: string; readonly seq: number },
  most: { readonly changes: number; readonly bytes: number },
): Promise<LogEntry[]> {
  return inSchool(database, schoolId).rows<LogEntry>(
    `SELECT space, seq, person_id AS "personId", ${ms('at')} AS at, bytes FROM (
       SELECT piece.*, sum(length(bytes)) OVER (ORDER BY space, seq) - length(bytes) AS before
         FROM (SELECT space, seq, person_id, at, bytes FROM live_update WHERE school_id = $1 AND copy_id = $2 AND (space, seq) > ($3, $4)
                ORDER BY space, seq LIMIT $5) AS piece) AS summed
      WHERE before < $6 ORDER BY space, seq`,
    copyId,
    after.space,
    after.seq,
    most.changes,
    most.bytes,
  )
}
