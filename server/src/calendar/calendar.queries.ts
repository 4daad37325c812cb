import type { CopyState } from '@gavrin/core'
import { type Database, anySchool, inSchool } from '../database/inSchool.js'
import { ms } from '../database/sql.js'

/** Whose calendar an address is of. Raw: by what a link says: across schools. */
export function personOfAddress(database: Database, token: string): Promise<{ schoolId: string; personId: string }[]> {
  return anySchool(database).rows<{ schoolId: string; personId: string }>(
    'SELECT school_id AS "schoolId", person_id AS "personId" FROM calendar_address WHERE token = $1',
    token,
  )
}

/** Something that is due. Times in milliseconds since 1970. */
export interface Due {
  readonly id: string
  readonly title: string
  readonly handout: string
  readonly number: number
  readonly class: string
  readonly dueAt: number
}

/** When the copies that somebody holds are due, from a time on, by the names of their worksheets. Raw: six tables. */
export function dueCopies(
  database: Database,
  schoolId: string,
  personId: string,
  from: Date,
  most: number,
): Promise<(Due & { readonly state: CopyState })[]> {
  return inSchool(database, schoolId).rows<Due & { readonly state: CopyState }>(
    `SELECT c.id, CASE WHEN c.link IS NULL THEN e.title ELSE c.title END AS title, h.title AS handout, h.number, k.name AS class, ${ms('c.due_at')} AS "dueAt", c.state
       FROM copy_holder o
       JOIN copy c ON c.school_id = o.school_id AND c.id = o.copy_id
       JOIN edition e ON e.school_id = c.school_id AND e.worksheet_id = c.worksheet_id AND e.number = c.edition
       JOIN handout h ON h.school_id = c.school_id AND h.id = c.handout_id
       JOIN class k ON k.school_id = h.school_id AND k.id = h.class_id AND k.archived_at IS NULL
       JOIN class_member m ON m.school_id = k.school_id AND m.class_id = k.id AND m.person_id = o.person_id AND m.left_at IS NULL
      WHERE o.school_id = $1 AND o.person_id = $2 AND o.permission <> 'none' AND NOT c.set_aside AND c.due_at >= $3
        AND (c.opens_at IS NULL OR c.opens_at <= now())
      ORDER BY c.due_at LIMIT $4`,
    personId,
    from,
    most,
  )
}

/** When the handouts of the classes that somebody teaches are due, from a time on. Raw: four tables. */
export function dueHandouts(
  database: Database,
  schoolId: string,
  personId: string,
  from: Date,
  most: number,
): Promise<(Due & { readonly classId: string })[]> {
  return inSchool(database, schoolId).rows<Due & { readonly classId: string }>(
    `SELECT DISTINCT h.id, h.title, h.title AS handout, h.number, k.name AS class, k.id AS "classId", ${ms('c.due_at')} AS "dueAt"
       FROM class_member m
       JOIN class k ON k.school_id = m.school_id AND k.id = m.class_id AND k.archived_at IS NULL
       JOIN handout h ON h.school_id = k.school_id AND h.class_id = k.id
       JOIN copy c ON c.school_id = h.school_id AND c.handout_id = h.id AND NOT c.set_aside
      WHERE m.school_id = $1 AND m.person_id = $2 AND m.left_at IS NULL AND m.role IN ('lead', 'co-teacher', 'helper') AND c.due_at >= $3
      ORDER BY "dueAt" LIMIT $4`,
    personId,
    from,
    most,
  )
}
