import type { JournalKind, LoggedChange } from '@gavrin/core'
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

/**
 * All changes of the answers of a copy, without what they change. Within an answer by their numbers, whatever the clock of the server
 * said. Raw: windows, and tens of thousands of rows.
 */
export function changesOf(database: Database, schoolId: string, copyId: string): Promise<LoggedChange[]> {
  return inSchool(database, schoolId).rows<LoggedChange>(
    `SELECT space, seq, person_id AS "personId", ${ms('max(at) OVER (PARTITION BY space ORDER BY seq)')} AS at
       FROM live_update WHERE school_id = $1 AND copy_id = $2
      ORDER BY max(at) OVER (PARTITION BY space ORDER BY seq), space, seq`,
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
): Promise<{ space: string; seq: number; bytes: Buffer }[]> {
  return inSchool(database, schoolId).rows<{ space: string; seq: number; bytes: Buffer }>(
    `SELECT space, seq, bytes FROM (
       SELECT space, seq, bytes, sum(length(bytes)) OVER (ORDER BY space, seq) - length(bytes) AS before
         FROM (SELECT space, seq, bytes FROM live_update WHERE school_id = $1 AND copy_id = $2 AND (space, seq) > ($3, $4)
                ORDER BY space, seq LIMIT $5) AS piece) AS summed
      WHERE before < $6 ORDER BY space, seq`,
    copyId,
    after.space,
    after.seq,
    most.changes,
    most.bytes,
  )
}
