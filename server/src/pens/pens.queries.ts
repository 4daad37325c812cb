import type { JournalKind, PensChange, PensCopy, PensWish } from '@gavrin/core'
import { type Database, anySchool, inSchool } from '../database/inSchool.js'
import { ms } from '../database/sql.js'

/** The pens of copies of a handout that are written in, held until the transaction ends. Raw: locks of many rows, always in the same order. */
export function heldPens(
  database: Database,
  schoolId: string,
  handoutId: string,
  copyIds: readonly string[],
): Promise<PensCopy[]> {
  return inSchool(database, schoolId).rows<PensCopy>(
    `SELECT id AS "copyId", pens_down AS "pensDown", ${ms('pens_down_from')} AS "pensDownFrom", pens_down_at_due AS "pensDownAtDue", ${ms('due_at')} AS "dueAt"
       FROM copy WHERE school_id = $1 AND handout_id = $2 AND id = ANY($3::uuid[]) AND NOT set_aside AND way <> 'to read' ORDER BY id FOR UPDATE`,
    handoutId,
    copyIds,
  )
}

/** What of a change of the pens is a step of the copy: a time that is set for later is none until it comes. */
function stepOf({ before, after }: PensChange): JournalKind | null {
  if (before.down === after.down) return null
  return after.down ? 'pens down' : 'pens up'
}

/** Moves the pens of many copies, and enters it into their journals. Raw: many rows in one statement. */
export function movePens(
  database: Database,
  schoolId: string,
  changes: readonly PensChange[],
  by: { readonly personId: string; readonly at: number },
): Promise<number> {
  return inSchool(database, schoolId).write(
    // Held one after the other by id: see `writeProgress`.
    `WITH held AS (SELECT id FROM copy WHERE school_id = $1 AND id = ANY($2::uuid[]) ORDER BY id FOR NO KEY UPDATE),
       moved AS (SELECT m.* FROM unnest($2::uuid[], $3::bool[], $4::timestamptz[], $5::text[]) AS m(copy_id, down, from_at, kind) JOIN held ON held.id = m.copy_id),
       entry AS (INSERT INTO copy_journal (school_id, copy_id, kind, at, person_id) SELECT $1, copy_id, kind, $6, $7 FROM moved WHERE kind IS NOT NULL)
     UPDATE copy c SET pens_down = m.down, pens_down_from = m.from_at FROM moved m WHERE c.school_id = $1 AND c.id = m.copy_id`,
    changes.map(({ copyId }) => copyId),
    changes.map(({ after }) => after.down),
    changes.map(({ after }) => (after.from === null ? null : new Date(after.from))),
    changes.map(stepOf),
    new Date(by.at),
    by.personId,
  )
}

/**
 * Enters it into the journals that pens have gone down by themselves, where the moment that was set for them has come. Raw: in all
 * schools at once; two processes never take the same copy.
 */
export function enterPensThatWentDown(database: Database): Promise<number> {
  return anySchool(database).write(
    `WITH come AS (SELECT school_id, id, pens_down_from AS at FROM copy WHERE pens_down_from <= now() ORDER BY id FOR UPDATE SKIP LOCKED),
       entry AS (INSERT INTO copy_journal (school_id, copy_id, kind, at) SELECT school_id, id, 'pens down', at FROM come)
     UPDATE copy c SET pens_down = true, pens_down_from = NULL FROM come WHERE c.school_id = come.school_id AND c.id = come.id`,
  )
}

/** Something that was done with pens, and by whom. */
export interface PensActRow {
  readonly id: string
  readonly act: PensWish['act']
  readonly minutes: number | null
  readonly at: number
  readonly first: string
  readonly last: string
  /** How many copies it changed. */
  readonly copies: number
  readonly undoneAt: number | null
  readonly undoneFirst: string | null
  readonly undoneLast: string | null
}

/** What was done with the pens of a handout, the newest first. Raw: two joins of one table. */
export function pensActs(database: Database, schoolId: string, handoutId: string, most: number): Promise<PensActRow[]> {
  return inSchool(database, schoolId).rows<PensActRow>(
    `SELECT a.id, a.act, a.minutes, ${ms('a.at')} AS at, p.first_name AS first, p.last_name AS last, jsonb_array_length(a.changes) AS copies,
            ${ms('a.undone_at')} AS "undoneAt", u.first_name AS "undoneFirst", u.last_name AS "undoneLast"
       FROM pens_act a JOIN person p ON p.school_id = a.school_id AND p.id = a.person_id
       LEFT JOIN person u ON u.school_id = a.school_id AND u.id = a.undone_by
      WHERE a.school_id = $1 AND a.handout_id = $2 ORDER BY a.at DESC, a.id LIMIT $3`,
    handoutId,
    most,
  )
}
