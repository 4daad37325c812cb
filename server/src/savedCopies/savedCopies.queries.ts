import { anySchool, type Database, inSchool } from '../database/inSchool.js'
import type { NotSaved } from './savedCopies.entity.js'

/** A copy that could be saved. */
export interface CopyFound {
  readonly copyId: string
  readonly classId: string
  readonly title: string
  readonly handout: string
  readonly number: number
  readonly holderIds: readonly string[]
}

/** Of what copies are saved: a handout, a class, or a student in all classes. */
export interface SavedOf {
  readonly handoutId: string | null
  readonly classId: string | null
  readonly studentId: string | null
}

/** The copies of a handout, a class or a student, in use and written in. Raw: four tables. */
export function copiesToSave(
  database: Database,
  schoolId: string,
  { handoutId, classId, studentId }: SavedOf,
  most: number,
): Promise<CopyFound[]> {
  return inSchool(database, schoolId).rows<CopyFound>(
    `SELECT c.id AS "copyId", h.class_id AS "classId", c.title, h.title AS handout, h.number,
            ARRAY(SELECT o.person_id FROM copy_holder o WHERE o.school_id = c.school_id AND o.copy_id = c.id) AS "holderIds"
       FROM copy c JOIN handout h ON h.school_id = c.school_id AND h.id = c.handout_id
      WHERE c.school_id = $1 AND NOT c.set_aside AND c.way <> 'to read' AND h.kind = 'handout'
        AND ($2::uuid IS NULL OR c.handout_id = $2) AND ($3::uuid IS NULL OR h.class_id = $3)
        AND ($4::uuid IS NULL OR EXISTS (SELECT 1 FROM copy_holder o WHERE o.school_id = c.school_id AND o.copy_id = c.id AND o.person_id = $4))
      ORDER BY h.number, c.title, c.id LIMIT $5`,
    handoutId,
    classId,
    studentId,
    most,
  )
}

/** Whose work on copies is next. */
export interface NextSaved {
  readonly schoolId: string
  readonly id: string
}

/** Of all that is unfinished, what waits longest. Raw: in all schools. */
export async function nextToSave(database: Database): Promise<NextSaved | null> {
  const [next] = await anySchool(database).rows<NextSaved>(
    `SELECT school_id AS "schoolId", id FROM saved_copies WHERE finished_at IS NULL ORDER BY worked_at LIMIT 1`,
  )
  return next ?? null
}

/** One more copy is gone through, unless another has done so. Raw: counts on, and adds to a list. */
export function countSaved(
  database: Database,
  schoolId: string,
  {
    id,
    place,
    size,
    failed,
  }: { readonly id: string; readonly place: number; readonly size: number; readonly failed: NotSaved | null },
): Promise<number> {
  return inSchool(database, schoolId).write(
    `UPDATE saved_copies SET done = done + 1, size = size + $4, worked_at = now(), failed = failed || $5::jsonb,
            finished_at = CASE WHEN done + 1 = jsonb_array_length(copies) THEN now() END
      WHERE school_id = $1 AND id = $2 AND done = $3 AND finished_at IS NULL`,
    id,
    place,
    size,
    JSON.stringify(failed ? [failed] : []),
  )
}

/** What lay here long enough goes. Raw: in all schools. */
export async function dropOldSaved(database: Database, before: Date): Promise<void> {
  await anySchool(database).write('DELETE FROM saved_copies WHERE finished_at < $1', before)
}
