import type { EntityManager } from 'typeorm'
import { inSchool } from '../database/inSchool.js'

// What goes along from one class into another: students and what stands in their columns.

/**
 * Puts students of one class who are in it now into another one; who has been there and left comes back. Who is on its staff is
 * no student of it. How many are in it that were not.
 */
export async function bringStudents(
  tx: EntityManager,
  schoolId: string,
  from: string,
  to: string,
  personIds: readonly string[],
): Promise<number> {
  const rows = await inSchool(tx, schoolId).rows<unknown>(
    `INSERT INTO class_member (school_id, class_id, person_id, role)
     SELECT school_id, $3, person_id, 'student' FROM class_member
      WHERE school_id = $1 AND class_id = $2 AND person_id = ANY($4::uuid[]) AND role = 'student' AND left_at IS NULL
     ON CONFLICT (school_id, class_id, person_id) DO UPDATE SET left_at = NULL
      WHERE class_member.role = 'student' AND class_member.left_at IS NOT NULL
     RETURNING person_id`,
    from,
    to,
    personIds,
  )
  return rows.length
}

/** What stands in the columns of students who are in both classes, into the columns of the same name. */
export async function bringCells(tx: EntityManager, schoolId: string, from: string, to: string): Promise<void> {
  await inSchool(tx, schoolId).write(
    `UPDATE class_member m SET cells = m.cells || coalesce((
       SELECT jsonb_object_agg(n.id, o.cells -> c.id::text) FROM roster_column c
         JOIN roster_column n ON n.school_id = c.school_id AND n.class_id = $3 AND n.name = c.name AND n.removed_at IS NULL
        WHERE c.school_id = $1 AND c.class_id = $2 AND c.removed_at IS NULL AND o.cells ? c.id::text), '{}')
      FROM class_member o
      WHERE m.school_id = $1 AND m.class_id = $3 AND m.role = 'student'
        AND o.school_id = $1 AND o.class_id = $2 AND o.person_id = m.person_id`,
    from,
    to,
  )
}
