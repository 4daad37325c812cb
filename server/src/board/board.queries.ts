import type { DataSource } from 'typeorm'
import { inSchool } from '../database/inSchool.js'
import { ms } from '../database/sql.js'

/** What stands at the head of a board. Times in milliseconds since 1970. */
export interface BoardHead {
  readonly id: string
  readonly number: number
  readonly title: string
  readonly classId: string
  readonly class: string
  readonly ink: string
  readonly kind: 'handout' | 'shelf'
  readonly setId: string | null
  readonly opensAt: number | null
  readonly dueAt: number | null
  readonly handedOutAt: number | null
}

/** Raw: of two tables some columns, with their times as numbers. */
export async function boardHead(source: DataSource, schoolId: string, handoutId: string): Promise<BoardHead | null> {
  const [head] = await inSchool(source, schoolId).rows<BoardHead>(
    `SELECT h.id, h.number, h.title, h.class_id AS "classId", k.name AS class, k.ink,
            h.kind, h.set_id AS "setId", ${ms('h.opens_at')} AS "opensAt", ${ms('h.due_at')} AS "dueAt", ${ms('h.handed_out_at')} AS "handedOutAt"
       FROM handout h JOIN class k ON k.school_id = h.school_id AND k.id = h.class_id WHERE h.school_id = $1 AND h.id = $2`,
    handoutId,
  )
  return head ?? null
}

/** The newest edition that copies of a handout have, as it is kept; undefined when there are none. Raw: one of a set. */
export async function newestContent(
  source: DataSource,
  schoolId: string,
  handoutId: string,
): Promise<object | undefined> {
  const [edition] = await inSchool(source, schoolId).rows<{ content: object }>(
    `SELECT e.content FROM edition e WHERE e.school_id = $1 AND (e.worksheet_id, e.number) IN (SELECT worksheet_id, edition FROM copy WHERE school_id = $1 AND handout_id = $2 AND NOT set_aside)
      ORDER BY e.number DESC LIMIT 1`,
    handoutId,
  )
  return edition?.content
}

/** A student of the class who holds no copy of a handout. */
export interface LeftOut {
  readonly personId: string
  readonly first: string
  readonly last: string
}

/** Raw: a set less another one. */
export function leftOutOf(
  source: DataSource,
  { schoolId, classId, handoutId }: { readonly schoolId: string; readonly classId: string; readonly handoutId: string },
): Promise<LeftOut[]> {
  return inSchool(source, schoolId).rows<LeftOut>(
    `SELECT p.id AS "personId", p.first_name AS first, p.last_name AS last FROM class_member m JOIN person p ON p.school_id = m.school_id AND p.id = m.person_id
      WHERE m.school_id = $1 AND m.class_id = $2 AND m.role = 'student' AND m.left_at IS NULL
        AND NOT EXISTS (SELECT 1 FROM copy c JOIN copy_holder o ON o.school_id = c.school_id AND o.copy_id = c.id
                         WHERE c.school_id = m.school_id AND c.handout_id = $3 AND NOT c.set_aside AND o.person_id = m.person_id)
      ORDER BY p.last_name, p.first_name`,
    classId,
    handoutId,
  )
}
