import type { BoardRow } from '@gavrin/core'
import type { DataSource, EntityManager } from 'typeorm'
import { SPACES_OF_COPY } from './copyRecord.js'

/** The rows of a board, or only those of some copies, by title. */
export async function boardRows(
  source: DataSource | EntityManager,
  schoolId: string,
  handoutId: string,
  copyIds?: readonly string[],
): Promise<BoardRow[]> {
  return source.query<BoardRow[]>(
    `SELECT c.id AS "copyId", c.title, c.state, c.pens_down AS "pensDown", c.set_aside AS "setAside", c.answered, ${SPACES_OF_COPY} AS spaces, c.words, c.progress, c.edition, c.way, (SELECT coalesce(jsonb_agg(jsonb_build_object('id', g ->> 'id', 'name', g ->> 'name')), '[]') FROM jsonb_array_elements(c.places) AS g) AS places, c.slot_key AS "slotKey",
            (extract(epoch FROM c.due_at) * 1000)::float8 AS "dueAt", (extract(epoch FROM c.submitted_at) * 1000)::float8 AS "submittedAt",
            (extract(epoch FROM c.last_activity_at) * 1000)::float8 AS "lastActivityAt",
            (SELECT count(DISTINCT (l.space, l.person_id))::int FROM late_update l WHERE l.school_id = c.school_id AND l.copy_id = c.id) AS "lateWritings",
            c.unreadable_space IS NOT NULL AS unreadable,
            (SELECT coalesce(json_agg(json_build_object('personId', p.id, 'first', p.first_name, 'last', p.last_name) ORDER BY p.last_name, p.first_name, p.id), '[]')
               FROM copy_holder o JOIN person p ON p.school_id = o.school_id AND p.id = o.person_id WHERE o.school_id = c.school_id AND o.copy_id = c.id) AS holders
       FROM copy c JOIN edition e ON e.school_id = c.school_id AND e.worksheet_id = c.worksheet_id AND e.number = c.edition
      WHERE c.school_id = $1 AND c.handout_id = $2 AND ($3::uuid[] IS NULL OR c.id = ANY($3))
      ORDER BY c.title`,
    [schoolId, handoutId, copyIds ?? null],
  )
}

/** The rows of a board that somebody is shown: of these students, or all. */
export const rowsFor = (rows: BoardRow[], students: ReadonlySet<string> | null): BoardRow[] =>
  students ? rows.filter(({ holders }) => holders.some(({ personId }) => students.has(personId))) : rows
