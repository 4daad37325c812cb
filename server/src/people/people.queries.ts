import { type CopyMark, type SchoolRole } from '@gavrin/core'
import { COUNTED, type Counted } from '../kept/counted.js'
import { type Database, anySchool, inSchool } from '../database/inSchool.js'
import { IS_MARKED, STAFF_STATE, WITH_MARK } from '../kept/kept.queries.js'
import { ms } from '../database/sql.js'
import type { ClassRole, CopyState } from '@gavrin/core'

export const OF_SCHOOL = `p.school_id = $1 AND p.merged_into IS NULL AND p.role <> 'guest'`

export const PEOPLE_PAGE = 100

/** Somebody as the office sees them. */
export interface OfficePerson {
  readonly personId: string
  readonly first: string
  readonly last: string
  readonly email: string | null
  readonly number: string | null
  readonly cardName: string | null
  readonly role: SchoolRole
  readonly canSignIn: boolean
  readonly classes: string
  readonly copies: number
}

/** Somebody who was found. */
export interface FoundPerson {
  readonly personId: string
  readonly first: string
  readonly last: string
  readonly email: string | null
  readonly role: SchoolRole
  readonly classes: string
}

/** The asker is on the staff of the class of a membership, and sees this person there. */
export const SEEN_IN_CLASS = `EXISTS (
  SELECT 1 FROM class_member o
   WHERE o.school_id = m.school_id AND o.class_id = m.class_id AND o.person_id = $2 AND o.role <> 'student' AND o.left_at IS NULL
     AND (o.role <> 'named helper' OR m.role <> 'student' OR EXISTS
           (SELECT 1 FROM helped_student n WHERE n.school_id = m.school_id AND n.class_id = m.class_id AND n.helper_id = $2 AND n.student_id = m.person_id)))`

export const FOUND_LIMIT = 12

/** How many people a school knows. Raw: a condition that others have too. */
export function countPeople(database: Database, schoolId: string): Promise<{ everybody: number }[]> {
  return inSchool(database, schoolId).rows<{ everybody: number }>(
    `SELECT count(*)::int AS everybody FROM person p WHERE ${OF_SCHOOL}`,
  )
}

/** A page of the people of a school, in the order of its language, and how many there are. Raw: an order of its own. */
export function pageOfPeople(
  database: Database,
  schoolId: string,
  {
    role,
    skip,
    patterns,
    order,
  }: {
    readonly role: SchoolRole | null
    readonly skip: number
    /** Every one is found in what is written of the person, or in the name of one of their classes. */
    readonly patterns: readonly string[]
    /** The name of a collation. */
    readonly order: string
  },
): Promise<{ id: string; total: number }[]> {
  const found = patterns.map(
    (_, at) => `AND (p.find_form LIKE $${at + 4} OR p.id IN (
              SELECT m.person_id FROM class_member m JOIN class c ON c.school_id = m.school_id AND c.id = m.class_id
               WHERE m.school_id = $1 AND m.left_at IS NULL AND c.archived_at IS NULL AND lower(c.name) LIKE $${at + 4}))`,
  )
  return inSchool(database, schoolId).rows<{ id: string; total: number }>(
    `SELECT p.id, count(*) OVER ()::int AS total FROM person p
      WHERE ${OF_SCHOOL} AND ($2::text IS NULL OR p.role = $2) ${found.join(' ')}
      ORDER BY p.role = 'student', coalesce(nullif(p.last_name, ''), p.first_name) COLLATE "${order}", p.first_name COLLATE "${order}", p.id
      LIMIT ${PEOPLE_PAGE} OFFSET $3`,
    role,
    skip,
    ...patterns,
  )
}

/** Everybody, for finding who may be the same. Raw: a condition that others have too. */
export function everybodyBriefly(
  database: Database,
  schoolId: string,
): Promise<{ id: string; first: string; last: string; role: string }[]> {
  return inSchool(database, schoolId).rows<{ id: string; first: string; last: string; role: string }>(
    `SELECT p.id, p.first_name AS first, p.last_name AS last, p.role FROM person p WHERE ${OF_SCHOOL} ORDER BY p.id`,
  )
}

/** What the office sees of people. Raw: four tables. */
export function officeRecords(database: Database, schoolId: string, ids: readonly string[]): Promise<OfficePerson[]> {
  return inSchool(database, schoolId).rows<OfficePerson>(
    `SELECT p.id AS "personId", p.first_name AS first, p.last_name AS last, p.email, p.number, p.card_name AS "cardName", p.role, p.password_hash IS NOT NULL AS "canSignIn",
              coalesce((SELECT string_agg(c.name, ', ' ORDER BY c.name) FROM class_member m JOIN class c ON c.school_id = m.school_id AND c.id = m.class_id
                         WHERE m.school_id = p.school_id AND m.person_id = p.id AND m.left_at IS NULL AND c.archived_at IS NULL), '') AS classes,
              (SELECT count(*)::int FROM copy_holder o WHERE o.school_id = p.school_id AND o.person_id = p.id) AS copies
         FROM unnest($2::uuid[]) WITH ORDINALITY AS r(id, place) JOIN person p ON p.id = r.id
        WHERE ${OF_SCHOOL} ORDER BY r.place`,
    ids,
  )
}

/** Somebody at whose sign-in much failed. */
export interface TroubledSignIn {
  readonly personId: string
  readonly first: string
  readonly last: string
  readonly failures: number
  /** From how many network addresses. */
  readonly addresses: number
  /** Milliseconds since 1970. */
  readonly lastAt: number
}

/** At whose sign-in somebody failed often in a day. Raw: counts, by addresses that are of no school. */
export function troubledSignIns(database: Database, schoolId: string, TROUBLE: 15): Promise<TroubledSignIn[]> {
  return inSchool(database, schoolId).rows<TroubledSignIn>(
    `SELECT p.id AS "personId", p.first_name AS first, p.last_name AS last, count(*)::int AS failures, count(DISTINCT f.address)::int AS addresses,
              (extract(epoch FROM max(f.at)) * 1000)::float8 AS "lastAt"
         FROM sign_in_failure f JOIN person p ON p.email_key = f.email_key OR p.card_name = upper(replace(f.email_key, ' ', ''))
        WHERE p.school_id = $1 AND f.at > now() - interval '1 day' GROUP BY p.school_id, p.id HAVING count(*) >= $2 ORDER BY count(*) DESC LIMIT 50`,
    TROUBLE,
  )
}

/** Whether somebody is a student in a class, or on the staff of one. Raw: counts. */
export function rolesInClasses(
  database: Database,
  schoolId: string,
  personId: string,
): Promise<{ student: boolean; staff: boolean }[]> {
  return inSchool(database, schoolId).rows<{ student: boolean; staff: boolean }>(
    `SELECT bool_or(role = 'student') AS student, bool_or(role <> 'student') AS staff FROM class_member WHERE school_id = $1 AND person_id = $2 AND left_at IS NULL`,
    personId,
  )
}

/** Whether somebody else has this address or this number. Raw: one of two conditions. */
export function sameIdentity(
  database: Database,
  schoolId: string,
  {
    personId,
    emailKey,
    numberKey,
  }: { readonly personId: string; readonly emailKey: string | null; readonly numberKey: string | null },
): Promise<{ first: string; last: string; email_key: string | null }[]> {
  return inSchool(database, schoolId).rows<{ first: string; last: string; email_key: string | null }>(
    `SELECT first_name AS first, last_name AS last, email_key FROM person WHERE school_id = $1 AND id <> $2 AND (email_key = $3 OR number_key = $4)`,
    personId,
    emailKey,
    numberKey,
  )
}

/** Holds the handouts of the classes of people, and says which of them are being handed out. Raw: a lock over a set. */
export function lockHandoutsOf(
  database: Database,
  schoolId: string,
  personIds: readonly string[],
): Promise<{ running: boolean }[]> {
  return inSchool(database, schoolId).rows<{ running: boolean }>(
    `SELECT EXISTS (SELECT 1 FROM hand_out_run r WHERE r.school_id = h.school_id AND r.handout_id = h.id AND r.finished_at IS NULL) AS running
         FROM handout h WHERE h.school_id = $1 AND h.class_id IN (SELECT class_id FROM class_member WHERE school_id = $1 AND person_id = ANY($2))
        ORDER BY h.id FOR UPDATE OF h`,
    personIds,
  )
}

/** Who is found by words, in what somebody may see. Raw: three tables. */
export function peopleFound(
  database: Database,
  schoolId: string,
  {
    personId,
    all,
    patterns,
    findForm,
  }: {
    readonly personId: string
    readonly all: boolean
    readonly patterns: readonly string[]
    readonly findForm: string
  },
): Promise<FoundPerson[]> {
  return inSchool(database, schoolId).rows<FoundPerson>(
    `WITH found AS (
         SELECT p.school_id, p.id, p.first_name, p.last_name, p.email, p.role, ' ' || p.find_form LIKE $5 AS begins FROM person p
          WHERE p.school_id = $1 AND p.merged_into IS NULL AND p.role <> 'guest' AND p.find_form LIKE ALL ($4::text[])
            AND ($3 OR EXISTS (SELECT 1 FROM class_member m WHERE m.school_id = p.school_id AND m.person_id = p.id AND ${SEEN_IN_CLASS}))
          ORDER BY begins DESC, p.last_name, p.first_name, p.id LIMIT ${FOUND_LIMIT})
       SELECT p.id AS "personId", p.first_name AS first, p.last_name AS last, p.email, p.role,
              coalesce((SELECT string_agg(c.name, ', ' ORDER BY c.name) FROM class_member m JOIN class c ON c.school_id = m.school_id AND c.id = m.class_id
                         WHERE m.school_id = p.school_id AND m.person_id = p.id AND m.left_at IS NULL AND ($3 OR ${SEEN_IN_CLASS})), '') AS classes
         FROM found p ORDER BY p.begins DESC, p.last_name, p.first_name, p.id`,
    personId,
    all,
    patterns,
    findForm,
  )
}

/** A class that somebody is in or was in, with what stands in their row. Times in milliseconds since 1970. */
export interface ClassOfPerson {
  readonly id: string
  readonly name: string
  readonly subject: string
  readonly year: string
  readonly ink: string
  readonly role: ClassRole
  readonly archived: boolean
  readonly cells: Readonly<Record<string, string>>
  readonly columns: readonly { readonly id: string; readonly name: string }[]
  readonly joinedAt: number
  readonly leftAt: number | null
}

/** The classes of a person. Raw: three tables. */
export function classesOfPerson(database: Database, schoolId: string, personId: string): Promise<ClassOfPerson[]> {
  return inSchool(database, schoolId).rows<ClassOfPerson>(
    `SELECT c.id, c.name, c.subject, c.year, c.ink, m.role, m.cells, c.archived_at IS NOT NULL AS archived,
              ${ms('m.joined_at')} AS "joinedAt", ${ms('m.left_at')} AS "leftAt",
              (SELECT coalesce(json_agg(json_build_object('id', k.id, 'name', k.name) ORDER BY k.position), '[]') FROM roster_column k WHERE k.school_id = c.school_id AND k.class_id = c.id AND k.removed_at IS NULL) AS columns
         FROM class_member m JOIN class c ON c.school_id = m.school_id AND c.id = m.class_id
        WHERE m.school_id = $1 AND m.person_id = $2 ORDER BY c.archived_at IS NOT NULL, c.name`,
    personId,
  )
}

/** A group that somebody is in. */
export interface GroupOfPerson {
  readonly setId: string
  readonly classId: string
  readonly set: string
  readonly group: string
}

/** The groups of a person. Raw: three tables. */
export function groupsOfPerson(
  database: Database,
  schoolId: string,
  personId: string,
  classId: readonly string[],
): Promise<GroupOfPerson[]> {
  return inSchool(database, schoolId).rows<GroupOfPerson>(
    `SELECT s.id AS "setId", s.class_id AS "classId", s.name AS set, g.name AS "group" FROM group_member o
         JOIN class_group g ON g.school_id = o.school_id AND g.id = o.group_id
         JOIN group_set s ON s.school_id = o.school_id AND s.id = o.set_id
        WHERE o.school_id = $1 AND o.person_id = $2 AND s.class_id = ANY($3::uuid[]) AND s.removed_at IS NULL ORDER BY s.position`,
    personId,
    classId,
  )
}

/** A copy on the page of a person. Times in milliseconds since 1970. */
export interface CopyOfPerson {
  readonly id: string
  readonly handoutId: string
  readonly classId: string
  readonly number: number
  readonly handout: string
  readonly title: string
  readonly state: CopyState
  readonly pensDown: boolean
  readonly setAside: boolean
  readonly answered: number
  readonly words: number
  readonly dueAt: number | null
  readonly submittedAt: number | null
  readonly lastActivityAt: number | null
  /** The mark of it that counts; null: its marking is not done. */
  readonly mark: Pick<CopyMark, 'total' | 'most' | 'step' | 'excused'> | null
}

/** The copies of a person, as the staff of their classes sees them. Raw: six tables. */
export function copiesOfPerson(
  database: Database,
  schoolId: string,
  personId: string,
  own: readonly string[],
): Promise<(CopyOfPerson & Counted)[]> {
  return inSchool(database, schoolId).rows<CopyOfPerson & Counted>(
    `SELECT c.id, h.id AS "handoutId", h.class_id AS "classId", h.number, h.title AS handout, c.title, ${STAFF_STATE} AS state, c.pens_down OR coalesce(c.pens_down_from <= now(), false) AS "pensDown", c.set_aside AS "setAside",
              c.answered, ${COUNTED}, c.words, ${ms('c.due_at')} AS "dueAt",
              ${ms('c.submitted_at')} AS "submittedAt", ${ms('c.last_activity_at')} AS "lastActivityAt",
              CASE WHEN ${IS_MARKED} THEN json_build_object('total', CASE WHEN alone.copy_id IS NULL THEN mark.total ELSE alone.total END, 'most', mark.most, 'step', coalesce(alone.step, mark.step), 'excused', coalesce(alone.excused, false) OR mark.excused) END AS mark
         FROM copy_holder o JOIN copy c ON c.school_id = o.school_id AND c.id = o.copy_id
         JOIN handout h ON h.school_id = c.school_id AND h.id = c.handout_id
         JOIN edition e ON e.school_id = c.school_id AND e.worksheet_id = c.worksheet_id AND e.number = c.edition
         ${WITH_MARK} LEFT JOIN mark alone ON alone.school_id = c.school_id AND alone.copy_id = c.id AND alone.person_id = o.person_id
        WHERE o.school_id = $1 AND o.person_id = $2 AND h.class_id = ANY($3::uuid[]) AND c.way <> 'to read' AND h.kind = 'handout'
        ORDER BY h.handed_out_at DESC NULLS LAST, h.number DESC`,
    personId,
    own,
  )
}

/** Keeps what people are found by, unless it changed meanwhile. Raw: many rows at once. */
export function keepForms(
  database: Database,
  schoolId: string,
  {
    ids,
    forms,
    firsts,
    lasts,
    emails,
    numbers,
  }: {
    readonly ids: readonly string[]
    readonly forms: readonly string[]
    readonly firsts: readonly string[]
    readonly lasts: readonly string[]
    readonly emails: readonly (string | null)[]
    readonly numbers: readonly (string | null)[]
  },
): Promise<number> {
  return inSchool(database, schoolId).write(
    `UPDATE person p SET find_form = f.form
         FROM unnest($2::uuid[], $3::text[], $4::text[], $5::text[], $6::text[], $7::text[]) AS f(id, form, first, last, email, number)
        WHERE p.school_id = $1 AND p.id = f.id AND p.first_name = f.first AND p.last_name = f.last
          AND p.email IS NOT DISTINCT FROM f.email AND p.number IS NOT DISTINCT FROM f.number`,
    ids,
    forms,
    firsts,
    lasts,
    emails,
    numbers,
  )
}

/** The orders that the database knows. Raw: its own tables. */
export function collationNames(database: Database): Promise<{ collname: string }[]> {
  return anySchool(database).rows<{ collname: string }>(`SELECT collname FROM pg_collation WHERE collprovider = 'i'`)
}
