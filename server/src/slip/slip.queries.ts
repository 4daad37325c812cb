import { type PlanFacts, type PlanWorksheet, type ExistingCopy, type Permission } from '@gavrin/core'
import { SEEN_BY_VIEWER } from '../worksheet/worksheetAccess.js'
import { type Database, inSchool } from '../database/inSchool.js'
import { ms } from '../database/sql.js'
import type { PlanGuest } from '@gavrin/core'

export interface CopyRow {
  id: string
  slot_key: string
  item_id: string
  way: ExistingCopy['way']
  title: string
  worksheet_id: string
  edition: number
  link: string | null
  classmates_may: Permission
  may_invite: boolean
  places: ExistingCopy['places']
  opens_at: number | null
  due_at: number | null
  pens_down_at_due: boolean
  late_work: boolean
  set_aside: boolean
  opened: boolean
  submitted: boolean
}

/** Takes the next number of a class. Raw: changes and reads at once. */
export function nextHandoutNumber(
  database: Database,
  schoolId: string,
  classId: string,
): Promise<{ number: number }[]> {
  return inSchool(database, schoolId).rows<{ number: number }>(
    'UPDATE class SET last_handout_number = last_handout_number + 1 WHERE school_id = $1 AND id = $2 RETURNING last_handout_number AS number',
    classId,
  )
}

/** Which of these worksheets somebody may give out. Raw: ids that may be none. */
export function worksheetsAllowed(
  database: Database,
  schoolId: string,
  personId: string,
  ids: readonly string[],
): Promise<{ id: string }[]> {
  return inSchool(database, schoolId).rows<{ id: string }>(
    `SELECT w.id::text FROM worksheet w WHERE w.school_id = $1 AND w.id::text = ANY($3) AND (w.built_in IS NOT NULL OR (${SEEN_BY_VIEWER} AND w.archived_at IS NULL))`,
    personId,
    ids,
  )
}

/** What a plan needs to know of a class. Raw: four tables. */
export function classForPlan(
  database: Database,
  schoolId: string,
  classId: string,
): Promise<(Pick<PlanFacts, 'units' | 'staff'> & { name: string; time_zone: string; locale: string })[]> {
  return inSchool(database, schoolId).rows<
    Pick<PlanFacts, 'units' | 'staff'> & { name: string; time_zone: string; locale: string }
  >(
    `SELECT k.name, s.time_zone, s.locale,
            (SELECT coalesce(json_agg(json_build_object('id', u.id, 'name', u.name) ORDER BY u.position, u.id), '[]')
               FROM unit u WHERE u.school_id = k.school_id AND u.class_id = k.id) AS units,
            (SELECT coalesce(json_agg(json_build_object('personId', p.id, 'email', p.email) ORDER BY p.id), '[]')
               FROM class_member m JOIN person p ON p.school_id = m.school_id AND p.id = m.person_id
              WHERE m.school_id = k.school_id AND m.class_id = k.id AND m.role IN ('lead', 'co-teacher', 'helper') AND m.left_at IS NULL) AS staff
       FROM class k JOIN school s ON s.id = k.school_id WHERE k.school_id = $1 AND k.id = $2`,
    classId,
  )
}

/** The guests of a handout, with the students that they are. Raw: four tables. */
export function guestsOfHandout(database: Database, schoolId: string, handoutId: string): Promise<PlanGuest[]> {
  return inSchool(database, schoolId).rows<PlanGuest>(
    `SELECT DISTINCT ON (p.id) p.id AS "personId", trim(p.first_name || ' ' || p.last_name) AS name, w.item_id AS "itemId", w.permission,
            CASE WHEN g.guest_id IS NULL THEN NULL ELSE json_build_object('personId', g.student_id, 'beside', g.beside) END AS match
       FROM walk_in w JOIN walk_in_use u ON u.school_id = w.school_id AND u.walk_in_id = w.id AND u.cleared_at IS NULL JOIN person p ON p.school_id = u.school_id AND p.id = u.person_id
       LEFT JOIN guest_match g ON g.school_id = w.school_id AND g.handout_id = w.handout_id AND g.item_id = w.item_id AND g.guest_id = p.id
      WHERE w.school_id = $1 AND w.handout_id = $2 AND p.role = 'guest' ORDER BY p.id`,
    handoutId,
  )
}

/** Worksheets with their editions. Raw: two tables. */
export function worksheetsForPlan(
  database: Database,
  schoolId: string,
  ids: readonly string[],
): Promise<PlanWorksheet[]> {
  return inSchool(database, schoolId).rows<PlanWorksheet>(
    `SELECT w.id, w.title, w.built_in AS "builtIn",
            coalesce(json_agg(json_build_object('number', e.number, 'answerSpaces', e.answer_spaces, 'points', e.points, 'memberSpaces', e.member_spaces, 'groupSpaces', e.group_spaces)
              ORDER BY e.number) FILTER (WHERE e.number IS NOT NULL), '[]') AS editions
       FROM worksheet w LEFT JOIN edition e ON e.school_id = w.school_id AND e.worksheet_id = w.id
      WHERE w.school_id = $1 AND (w.id = ANY($2::uuid[]) OR w.built_in IS NOT NULL) GROUP BY w.id, w.title, w.built_in, w.updated_at ORDER BY w.built_in NULLS FIRST, w.updated_at DESC`,
    ids,
  )
}

/** The copies of a handout. Raw: computes while it reads, many rows. */
export function copiesOfHandout(database: Database, schoolId: string, handoutId: string): Promise<CopyRow[]> {
  return inSchool(database, schoolId).rows<CopyRow>(
    `SELECT c.id, c.slot_key, c.item_id, c.way, c.title, c.worksheet_id, c.edition, c.link, c.classmates_may, c.may_invite, c.places,
            ${ms('c.opens_at')} AS opens_at, ${ms('c.due_at')} AS due_at,
            c.pens_down_at_due, c.late_work, c.set_aside, c.state <> 'not opened' AS opened, c.state IN ('submitted', 'handed back') AS submitted
       FROM copy c WHERE c.school_id = $1 AND c.handout_id = $2`,
    handoutId,
  )
}

/** Somebody's part in a copy. */
export interface CopyPerson {
  readonly copy_id: string
  readonly personId: string
  readonly permission: Permission
}

/** Who holds the copies of a handout. Raw: two tables, many rows. */
export const holdersOfCopies = (database: Database, schoolId: string, handoutId: string): Promise<CopyPerson[]> =>
  inSchool(database, schoolId).rows<CopyPerson>(
    `SELECT o.copy_id, o.person_id AS "personId", o.permission FROM copy c JOIN copy_holder o ON o.school_id = c.school_id AND o.copy_id = c.id
      WHERE c.school_id = $1 AND c.handout_id = $2`,
    handoutId,
  )

/** Who was chosen to read the copies of a handout. Raw: two tables, many rows. */
export const readersOfCopies = (database: Database, schoolId: string, handoutId: string): Promise<CopyPerson[]> =>
  inSchool(database, schoolId).rows<CopyPerson>(
    `SELECT o.copy_id, o.person_id AS "personId", o.permission FROM copy c JOIN copy_reader o ON o.school_id = c.school_id AND o.copy_id = c.id
      WHERE c.school_id = $1 AND c.handout_id = $2 AND o.invited_by IS NULL`,
    handoutId,
  )

/** Who wrote how much in which answer of a handout, who wrote last first. Raw: counts, two tables. */
export function writingOfHandout(
  database: Database,
  schoolId: string,
  handoutId: string,
): Promise<{ copy_id: string; space: string; person_id: string; bytes: number }[]> {
  return inSchool(database, schoolId).rows<{ copy_id: string; space: string; person_id: string; bytes: number }>(
    `SELECT u.copy_id, u.space, u.person_id, sum(octet_length(u.bytes))::int AS bytes FROM copy c JOIN live_update u ON u.school_id = c.school_id AND u.copy_id = c.id
      WHERE c.school_id = $1 AND c.handout_id = $2 GROUP BY u.copy_id, u.space, u.person_id ORDER BY max(u.at) DESC`,
    handoutId,
  )
}

/** The contents of editions. Raw: pairs of keys. */
export function contentsOfEditions(
  database: Database,
  schoolId: string,
  worksheetIds: readonly string[],
  numbers: readonly number[],
): Promise<{ content: object }[]> {
  return inSchool(database, schoolId).rows<{ content: object }>(
    'SELECT e.content FROM edition e WHERE e.school_id = $1 AND (e.worksheet_id, e.number) IN (SELECT * FROM unnest($2::uuid[], $3::int[]))',
    worksheetIds,
    numbers,
  )
}
