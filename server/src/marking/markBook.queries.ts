import type { CopyState } from '@gavrin/core'
import { type Database, inSchool } from '../database/inSchool.js'
import { ms } from '../database/sql.js'
import { IS_MARKED, STAFF_STATE, WITH_MARK } from '../kept/kept.queries.js'
import { ALL_HOLDERS } from '../kept/mark.entity.js'

/** A handout as a column of a mark book. Times in milliseconds since 1970. */
export interface HandoutColumn {
  readonly id: string
  readonly number: number
  readonly title: string
  readonly unit: string | null
  readonly dueAt: number | null
}

/** What a student has of a handout: a copy, and its mark. Times in milliseconds since 1970. */
export interface BookCopy {
  readonly handoutId: string
  readonly personId: string
  readonly copyId: string
  readonly state: CopyState
  readonly dueAt: number | null
  readonly submittedAt: number | null
  readonly total: number | null
  readonly most: number | null
  readonly step: string | null
  readonly excused: boolean
  /** It is marked, and may not be handed back yet. */
  readonly isDone: boolean
  /** How many hold it. */
  readonly holders: number
  /** About how much of it is answered, 0 to 1: as far as its mark shows. */
  readonly share: number
}

/**
 * The copies of all students of a class with their marks: what is one's alone before what is the group's. Raw: of many rows, by five
 * tables, each gone through once.
 */
export function copiesOfBook(database: Database, schoolId: string, classId: string): Promise<BookCopy[]> {
  return inSchool(database, schoolId).rows<BookCopy>(
    `WITH own AS MATERIALIZED (
       SELECT m.copy_id, m.person_id, m.total, m.most, m.step, m.excused FROM mark m
        WHERE m.school_id = $1 AND m.person_id <> '${ALL_HOLDERS}' AND m.copy_id IN (SELECT c.id FROM handout h JOIN copy c ON c.school_id = h.school_id AND c.handout_id = h.id WHERE h.school_id = $1 AND h.class_id = $2)
     )
     SELECT c.handout_id AS "handoutId", o.person_id AS "personId", c.id AS "copyId", ${STAFF_STATE} AS state,
            ${ms('c.due_at')} AS "dueAt", ${ms('c.submitted_at')} AS "submittedAt", CASE WHEN own.copy_id IS NULL THEN mark.total ELSE own.total END AS total, coalesce(own.most, mark.most) AS most,
            coalesce(own.step, mark.step) AS step, coalesce(own.excused, false) OR coalesce(mark.excused, false) AS excused, ${IS_MARKED} AS "isDone",
            (count(*) OVER (PARTITION BY c.id))::int AS holders,
            least(1, c.answered::float8 / greatest(1, e.answer_spaces + e.member_spaces * (count(*) OVER (PARTITION BY c.id)) + e.group_spaces * jsonb_array_length(c.places))) AS share
       FROM handout h JOIN copy c ON c.school_id = h.school_id AND c.handout_id = h.id
       JOIN edition e ON e.school_id = c.school_id AND e.worksheet_id = c.worksheet_id AND e.number = c.edition
       JOIN copy_holder o ON o.school_id = c.school_id AND o.copy_id = c.id AND o.permission <> 'none'
       ${WITH_MARK}
       LEFT JOIN own ON own.copy_id = c.id AND own.person_id = o.person_id
      WHERE h.school_id = $1 AND h.class_id = $2 AND h.kind = 'handout' AND NOT c.set_aside AND c.way <> 'to read'`,
    classId,
  )
}

/** The handouts of a class whose marks were reckoned otherwise than their slips say now. Raw: a set of pairs. */
export function handoutsToReckon(
  database: Database,
  schoolId: string,
  ways: readonly { readonly handoutId: string; readonly fingerprint: string }[],
): Promise<{ handoutId: string }[]> {
  return inSchool(database, schoolId).rows<{ handoutId: string }>(
    `SELECT DISTINCT c.handout_id AS "handoutId" FROM unnest($2::uuid[], $3::text[]) AS w(handout_id, way) JOIN copy c ON c.school_id = $1 AND c.handout_id = w.handout_id
       JOIN mark m ON m.school_id = c.school_id AND m.copy_id = c.id
      WHERE m.counted_by <> w.way || ' ' || c.edition || ' ' || greatest(0, ceil(extract(epoch FROM c.submitted_at - c.due_at) / 86400)) AND c.submitted_at IS NOT NULL AND c.due_at IS NOT NULL
         OR m.counted_by <> w.way || ' ' || c.edition || ' 0' AND (c.submitted_at IS NULL OR c.due_at IS NULL)`,
    ways.map(({ handoutId }) => handoutId),
    ways.map(({ fingerprint }) => fingerprint),
  )
}

/** The marks on paper of a class. Raw: two tables. */
export function paperMarksOf(
  database: Database,
  schoolId: string,
  classId: string,
): Promise<{ columnId: string; personId: string; total: number | null; excused: boolean }[]> {
  return inSchool(database, schoolId).rows(
    `SELECT m.column_id AS "columnId", m.person_id AS "personId", m.total, m.excused FROM paper_column k JOIN paper_mark m ON m.school_id = k.school_id AND m.column_id = k.id
      WHERE k.school_id = $1 AND k.class_id = $2`,
    classId,
  )
}
