import { type ClassRole, type PlanFacts, type PlanWorksheet, type ExistingCopy, type Permission } from '@gavrin/core'
import { SEEN_BY_VIEWER } from '../worksheet/worksheetAccess.js'
import { type Database, anySchool, inSchool } from '../database/inSchool.js'
import { ms } from '../database/sql.js'
import type { PlanGuest } from '@gavrin/core'
import type { CopyState } from '@gavrin/core'

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

/** Puts handouts under the first numbers of a class. Raw: many rows at once. */
export async function addHandouts(
  database: Database,
  schoolId: string,
  {
    to,
    titles,
    statements,
    personId,
  }: {
    readonly to: string
    readonly titles: readonly string[]
    readonly statements: readonly string[]
    readonly personId: string
  },
): Promise<void> {
  await inSchool(database, schoolId).rows(
    `INSERT INTO handout (school_id, id, class_id, number, title, statement, created_by)
     SELECT $1, gen_random_uuid(), $2, number, title, statement, $5 FROM unnest($3::text[], $4::jsonb[]) WITH ORDINALITY AS h(title, statement, number)`,
    to,
    titles,
    statements,
    personId,
  )
}

/** Wishes a look at every class that somebody joined since its handouts were handed out. Raw: across schools, a set. */
export async function wishLooksAtOld(database: Database): Promise<void> {
  await anySchool(database).rows(`INSERT INTO class_look (school_id, class_id)
       SELECT DISTINCT h.school_id, h.class_id FROM handout h WHERE h.given IS NOT NULL AND EXISTS (
         SELECT 1 FROM class_member m WHERE m.school_id = h.school_id AND m.class_id = h.class_id AND m.role = 'student' AND m.left_at IS NULL
            AND m.joined_at > (SELECT max(r.started_at) FROM hand_out_run r WHERE r.school_id = h.school_id AND r.handout_id = h.id))
       ON CONFLICT (school_id, class_id) DO NOTHING`)
}

/** Wishes a look at classes. Raw: across schools, many rows at once. */
export async function wishLooks(
  database: Database,
  schoolIds: readonly string[],
  classIds: readonly string[],
): Promise<void> {
  await anySchool(database).rows(
    `INSERT INTO class_look (school_id, class_id) SELECT * FROM unnest($1::uuid[], $2::uuid[])
       ON CONFLICT (school_id, class_id) DO UPDATE SET number = excluded.number`,
    schoolIds,
    classIds,
  )
}

/** The next wishes after a number. Raw: across schools. */
export function looksAfter(
  database: Database,
  after: string,
  ATONCE: 20,
): Promise<{ school_id: string; class_id: string; number: string }[]> {
  return anySchool(database).rows<{ school_id: string; class_id: string; number: string }>(
    'SELECT school_id, class_id, number FROM class_look WHERE number > $1 ORDER BY number LIMIT $2',
    after,
    ATONCE,
  )
}

/** The handouts that a teacher may have something to do with now. Raw: three tables. */
export function handoutsOfTeacher(
  database: Database,
  schoolId: string,
  personId: string,
  dueAt: Date,
): Promise<{ id: string }[]> {
  return inSchool(database, schoolId).rows<{ id: string }>(
    `SELECT h.id FROM handout h JOIN class_member m ON m.school_id = h.school_id AND m.class_id = h.class_id JOIN class k ON k.school_id = h.school_id AND k.id = h.class_id
        WHERE h.school_id = $1 AND m.person_id = $2 AND m.left_at IS NULL AND m.role IN ('lead', 'co-teacher') AND k.archived_at IS NULL
          AND h.given IS NOT NULL AND h.kind = 'handout' AND (h.due_at IS NULL OR h.due_at > $3)
        ORDER BY h.due_at NULLS LAST LIMIT 100`,
    personId,
    dueAt,
  )
}

/** The copies of a handout that somebody holds. Raw: three tables. */
export function copiesByClassLink(
  database: Database,
  schoolId: string,
  {
    handoutId,
    setId,
    personId,
  }: { readonly handoutId: string; readonly setId: string | null; readonly personId: string },
): Promise<{ id: string; title: string; way: string; opensAt: number | null }[]> {
  return inSchool(database, schoolId).rows<{ id: string; title: string; way: string; opensAt: number | null }>(
    `SELECT c.id, c.title, c.way, ${ms('c.opens_at')} AS "opensAt" FROM copy c JOIN copy_holder o ON o.school_id = c.school_id AND o.copy_id = c.id
         JOIN handout h ON h.school_id = c.school_id AND h.id = c.handout_id
        WHERE c.school_id = $1 AND (h.id = $2 OR h.set_id = $3) AND o.person_id = $4 AND o.permission <> 'none' AND NOT c.set_aside
        ORDER BY (c.way = 'to read'), c.created_at, c.title`,
    handoutId,
    setId,
    personId,
  )
}

/** The copies of a handout that somebody may see without a part in them. Raw: three tables. */
export function readableByClassLink(
  database: Database,
  schoolId: string,
  handoutId: string,
  personId: string,
): Promise<{ id: string; title: string }[]> {
  return inSchool(database, schoolId).rows<{ id: string; title: string }>(
    `SELECT c.id, c.title FROM copy c WHERE c.school_id = $1 AND c.handout_id = $2 AND NOT c.set_aside AND c.way <> 'to read' AND (c.opens_at IS NULL OR c.opens_at <= now())
                AND NOT EXISTS (SELECT 1 FROM copy_holder o WHERE o.school_id = c.school_id AND o.copy_id = c.id AND o.person_id = $3)
                AND (c.classmates_may <> 'none' OR EXISTS (SELECT 1 FROM copy_reader r WHERE r.school_id = c.school_id AND r.copy_id = c.id AND r.person_id = $3 AND (r.invited_by IS NULL OR c.may_invite)))
              ORDER BY c.title`,
    handoutId,
    personId,
  )
}

/** A handout in the list of its class. Times in milliseconds since 1970. */
export interface HandoutListed {
  readonly id: string
  readonly number: number
  readonly title: string
  readonly setId: string | null
  readonly unit: string | null
  readonly opensAt: number | null
  readonly dueAt: number | null
  readonly handedOutAt: number | null
  readonly updatedAt: number
  /** The slip was edited since it was handed out. */
  readonly mended: boolean
  /** How many copies are in which state. */
  readonly states: Readonly<Partial<Record<CopyState, number>>>
}

/** The handouts of a class, with how many copies are in which state. Raw: counts. */
export function handoutsOfClass(database: Database, schoolId: string, classId: string): Promise<HandoutListed[]> {
  return inSchool(database, schoolId).rows<HandoutListed>(
    `SELECT h.id, h.number, h.title, h.set_id AS "setId", ${ms('h.due_at')} AS "dueAt", ${ms('h.opens_at')} AS "opensAt",
              ${ms('h.handed_out_at')} AS "handedOutAt", ${ms('h.updated_at')} AS "updatedAt",
              h.given IS DISTINCT FROM h.statement AND h.handed_out_at IS NOT NULL AS mended, h.statement #>> '{unit,name}' AS unit,
              coalesce((SELECT json_object_agg(state, n) FROM (SELECT c.state, count(*)::int AS n FROM copy c
                WHERE c.school_id = h.school_id AND c.handout_id = h.id AND NOT c.set_aside AND c.way <> 'to read' GROUP BY c.state) s), '{}') AS states
         FROM handout h WHERE h.school_id = $1 AND h.class_id = $2 AND h.kind = 'handout' ORDER BY h.number DESC`,
    classId,
  )
}

/** All handouts that somebody may find. Raw: three tables. */
export function handoutsToFind(
  database: Database,
  schoolId: string,
  personId: string,
): Promise<
  {
    id: string
    classId: string
    class: string
    number: number
    title: string
    handedOut: boolean
    role: ClassRole
    archived: boolean
  }[]
> {
  return inSchool(database, schoolId).rows<{
    id: string
    classId: string
    class: string
    number: number
    title: string
    handedOut: boolean
    role: ClassRole
    archived: boolean
  }>(
    `SELECT h.id, h.class_id AS "classId", k.name AS class, h.number, h.title, h.handed_out_at IS NOT NULL AS "handedOut", m.role, k.archived_at IS NOT NULL AS archived
         FROM class_member m JOIN class k ON k.school_id = m.school_id AND k.id = m.class_id JOIN handout h ON h.school_id = k.school_id AND h.class_id = k.id
        WHERE m.school_id = $1 AND m.person_id = $2 AND m.left_at IS NULL AND m.role <> 'student' AND h.kind = 'handout'
        ORDER BY k.archived_at IS NOT NULL, h.updated_at DESC`,
    personId,
  )
}

/** The worksheets that somebody may give out. Raw: a condition that the library has too. */
export function worksheetsSeen(database: Database, schoolId: string, personId: string): Promise<{ id: string }[]> {
  return inSchool(database, schoolId).rows<{ id: string }>(
    `SELECT w.id FROM worksheet w WHERE ${SEEN_BY_VIEWER} AND w.archived_at IS NULL`,
    personId,
  )
}

/** The classes that somebody may hand out to. Raw: two tables. */
export function classesTaught(
  database: Database,
  schoolId: string,
  personId: string,
): Promise<{ id: string; name: string; subject: string }[]> {
  return inSchool(database, schoolId).rows<{ id: string; name: string; subject: string }>(
    `SELECT k.id, k.name, k.subject FROM class k JOIN class_member m ON m.school_id = k.school_id AND m.class_id = k.id
        WHERE k.school_id = $1 AND m.person_id = $2 AND m.left_at IS NULL AND m.role IN ('lead', 'co-teacher') AND k.archived_at IS NULL ORDER BY k.name, k.subject`,
    personId,
  )
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

/** The staff of a class comes along, without helpers of named students; whoever carries the class leads the new one. Raw: a set into another class. */
export async function bringStaff(
  database: Database,
  schoolId: string,
  { classId, id, personId }: { readonly classId: string; readonly id: string; readonly personId: string },
): Promise<void> {
  await inSchool(database, schoolId).rows(
    `INSERT INTO class_member (school_id, class_id, person_id, role)
           SELECT school_id, $3, person_id, CASE role WHEN 'lead' THEN 'co-teacher' ELSE role END FROM class_member
            WHERE school_id = $1 AND class_id = $2 AND role IN ('lead', 'co-teacher', 'helper') AND left_at IS NULL AND person_id <> $4`,
    classId,
    id,
    personId,
  )
}

/** The units come along. Raw: a set into another class. */
export async function bringUnits(database: Database, schoolId: string, classId: string, id: string): Promise<void> {
  await inSchool(database, schoolId).rows(
    'INSERT INTO unit (school_id, class_id, name, position) SELECT school_id, $3, name, position FROM unit WHERE school_id = $1 AND class_id = $2',
    classId,
    id,
  )
}

/** The columns come along, empty. Raw: a set into another class. */
export async function bringColumns(database: Database, schoolId: string, classId: string, id: string): Promise<void> {
  await inSchool(database, schoolId).rows(
    `INSERT INTO roster_column (school_id, class_id, name, kind, position)
           SELECT school_id, $3, name, kind, position FROM roster_column WHERE school_id = $1 AND class_id = $2 AND removed_at IS NULL`,
    classId,
    id,
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

/** The guests of a handout. Raw: three tables. */
export function guestsOfHandout(database: Database, schoolId: string, handoutId: string): Promise<PlanGuest[]> {
  return inSchool(database, schoolId).rows<PlanGuest>(
    `SELECT DISTINCT ON (p.id) p.id AS "personId", trim(p.first_name || ' ' || p.last_name) AS name, w.item_id AS "itemId", w.permission
       FROM walk_in w JOIN walk_in_use u ON u.school_id = w.school_id AND u.walk_in_id = w.id AND u.cleared_at IS NULL JOIN person p ON p.school_id = u.school_id AND p.id = u.person_id
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
            c.pens_down_at_due, c.late_work, c.set_aside, c.state <> 'not opened' AS opened, c.state IN ('submitted', 'marked', 'handed back') AS submitted
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

/** The copies on a shelf. Raw: two tables. */
export function copiesOnShelf(
  database: Database,
  schoolId: string,
  id: string,
  personId: string,
): Promise<{ id: string; item_id: string; words: number; at: number | null; mine: boolean }[]> {
  return inSchool(database, schoolId).rows<{
    id: string
    item_id: string
    words: number
    at: number | null
    mine: boolean
  }>(
    `SELECT c.id, c.item_id, c.words, ${ms('c.last_activity_at')} AS at,
                  EXISTS (SELECT 1 FROM copy_holder o WHERE o.school_id = c.school_id AND o.copy_id = c.id AND o.person_id = $3) AS mine
             FROM copy c WHERE c.school_id = $1 AND c.handout_id = $2 AND NOT c.set_aside`,
    id,
    personId,
  )
}
