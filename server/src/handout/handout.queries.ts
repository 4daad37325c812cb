import { type ClassRole } from '@gavrin/core'
import { SEEN_BY_VIEWER } from '../worksheet/worksheetAccess.js'
import { type Database, inSchool } from '../database/inSchool.js'
import { STAFF_STATE, WITH_MARK } from '../kept/kept.queries.js'
import { ms } from '../database/sql.js'
import type { CopyState } from '@gavrin/core'

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
              coalesce((SELECT json_object_agg(state, n) FROM (SELECT ${STAFF_STATE} AS state, count(*)::int AS n FROM copy c ${WITH_MARK}
                WHERE c.school_id = h.school_id AND c.handout_id = h.id AND NOT c.set_aside AND c.way <> 'to read' GROUP BY 1) s), '{}') AS states
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
