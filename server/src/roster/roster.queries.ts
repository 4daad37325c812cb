import { type ClassRole } from '@gavrin/core'
import { type Database, inSchool } from '../database/inSchool.js'

export interface StaffMember {
  readonly personId: string
  readonly first: string
  readonly last: string
  readonly email: string | null
  readonly canSignIn: boolean
  readonly role: ClassRole
  /** Whom a named helper helps. */
  readonly studentIds: readonly string[]
}

/** A student of a class. */
export interface RosterStudent {
  readonly personId: string
  readonly first: string
  readonly last: string
  readonly email: string | null
  /** Student number. */
  readonly number: string | null
  /** What stands in the extra columns, by column id. */
  readonly cells: Readonly<Record<string, string>>
  readonly joinedAt: number
  readonly leftAt: number | null
  /** Has a password and can sign in. */
  readonly canSignIn: boolean
  /** When the last invitation by mail went out or was to go out; null: never. */
  readonly invitedAt: number | null
}

/** A class of somebody. */
export interface ClassListed {
  readonly id: string
  readonly name: string
  readonly subject: string
  readonly year: string
  readonly ink: string
  readonly role: ClassRole
  readonly archived: boolean
  readonly students: number
}

/** The classes of somebody. Raw: counts, two tables. */
export function classesOf(database: Database, schoolId: string, personId: string): Promise<ClassListed[]> {
  return inSchool(database, schoolId).rows<ClassListed>(
    `SELECT c.id, c.name, c.subject, c.year, c.ink, m.role, c.archived_at IS NOT NULL AS archived,
              (SELECT count(*)::int FROM class_member s WHERE s.school_id = c.school_id AND s.class_id = c.id AND s.role = 'student' AND s.left_at IS NULL) AS students
         FROM class_member m JOIN class c ON c.school_id = m.school_id AND c.id = m.class_id
        WHERE m.school_id = $1 AND m.person_id = $2 AND m.left_at IS NULL
        ORDER BY c.archived_at IS NOT NULL, c.name, c.year DESC`,
    personId,
  )
}

/** What a class is called. */
export interface ClassHead {
  readonly id: string
  readonly name: string
  readonly subject: string
  readonly year: string
  readonly ink: string
  readonly archived: boolean
  /** What holds for the copies in it. */
  readonly classmatesComment: boolean
  readonly staffShown: boolean
  readonly helpersMark: boolean
  /** The class of an earlier year that it was made from. */
  readonly carriedFrom: { readonly id: string; readonly name: string; readonly year: string } | null
}

/** A class. Raw: two rows of a table. */
export function classOpened(database: Database, schoolId: string, classId: string): Promise<ClassHead[]> {
  return inSchool(database, schoolId).rows<ClassHead>(
    `SELECT c.id, c.name, c.subject, c.year, c.ink, c.archived_at IS NOT NULL AS archived, c.classmates_comment AS "classmatesComment", c.staff_shown AS "staffShown", c.helpers_mark AS "helpersMark",
              (SELECT json_build_object('id', o.id, 'name', o.name, 'year', o.year) FROM class o WHERE o.school_id = c.school_id AND o.id = c.carried_from) AS "carriedFrom"
         FROM class c WHERE c.school_id = $1 AND c.id = $2`,
    classId,
  )
}

/** Writes the units of a class in their order. Raw: many rows at once. */
export async function putUnits(
  database: Database,
  schoolId: string,
  {
    classId,
    ids,
    names,
  }: { readonly classId: string; readonly ids: readonly (string | null)[]; readonly names: readonly string[] },
): Promise<void> {
  await inSchool(database, schoolId).rows(
    `WITH kept AS (SELECT * FROM unnest($3::uuid[], $4::text[]) WITH ORDINALITY AS u(id, name, position)),
              moved AS (UPDATE unit o SET name = kept.name, position = kept.position FROM kept WHERE o.school_id = $1 AND o.class_id = $2 AND o.id = kept.id)
         INSERT INTO unit (school_id, id, class_id, name, position)
         SELECT $1, coalesce(id, gen_random_uuid()), $2, name, position FROM kept
          WHERE NOT EXISTS (SELECT 1 FROM unit o WHERE o.school_id = $1 AND o.id = kept.id)`,
    classId,
    ids,
    names,
  )
}

/** Makes a class, unless its code is another's. Raw: depends on what is there. */
export function addClass(
  database: Database,
  schoolId: string,
  {
    id,
    name,
    subject,
    year,
    ink,
    code,
    carriedFrom,
  }: {
    readonly id: string
    readonly name: string
    readonly subject: string
    readonly year: string
    readonly ink: string
    readonly code: string
    readonly carriedFrom: string | null
  },
): Promise<{ id: string }[]> {
  return inSchool(database, schoolId).rows<{ id: string }>(
    `INSERT INTO class (school_id, id, name, subject, year, ink, code, carried_from, classmates_comment, staff_shown)
       VALUES ($1, $2, $3, $4, $5, $6, $7, $8, coalesce((SELECT o.classmates_comment FROM class o WHERE o.school_id = $1 AND o.id = $8), true), coalesce((SELECT o.staff_shown FROM class o WHERE o.school_id = $1 AND o.id = $8), true))
       ON CONFLICT (code) DO NOTHING RETURNING id`,
    id,
    name,
    subject,
    year,
    ink,
    code,
    carriedFrom,
  )
}

/** The staff of a class. Raw: three tables. */
export function staffRows(database: Database, schoolId: string, classId: string): Promise<StaffMember[]> {
  return inSchool(database, schoolId).rows<StaffMember>(
    `SELECT p.id AS "personId", p.first_name AS first, p.last_name AS last, p.email, p.password_hash IS NOT NULL AS "canSignIn", m.role,
            (SELECT coalesce(json_agg(n.student_id), '[]') FROM helped_student n WHERE n.school_id = m.school_id AND n.class_id = m.class_id AND n.helper_id = m.person_id) AS "studentIds"
       FROM class_member m JOIN person p ON p.school_id = m.school_id AND p.id = m.person_id
      WHERE m.school_id = $1 AND m.class_id = $2 AND m.role <> 'student' AND m.left_at IS NULL
      ORDER BY array_position(ARRAY['lead', 'co-teacher', 'helper', 'named helper'], m.role), p.last_name, p.first_name`,
    classId,
  )
}

/** Adds a column after the others. Raw: its place is counted from the others. */
export function addColumnTo(
  database: Database,
  schoolId: string,
  { classId, name, kind }: { readonly classId: string; readonly name: string; readonly kind: string },
): Promise<{ id: string }[]> {
  return inSchool(database, schoolId).rows<{ id: string }>(
    `INSERT INTO roster_column (school_id, class_id, name, kind, position)
     SELECT $1, $2, $3, $4, coalesce(max(position), 0) + 1 FROM roster_column WHERE school_id = $1 AND class_id = $2 RETURNING id`,
    classId,
    name,
    kind,
  )
}

/** Who has one of these addresses or numbers. Raw: one of two conditions. */
export function identitiesKnown(
  database: Database,
  schoolId: string,
  emailKey: readonly string[],
  numberKey: readonly string[],
): Promise<{ id: string; role: string; email_key: string | null; number_key: string | null }[]> {
  return inSchool(database, schoolId).rows<{
    id: string
    role: string
    email_key: string | null
    number_key: string | null
  }>(
    `SELECT id, role, email_key, number_key FROM person WHERE school_id = $1 AND (email_key = ANY($2) OR number_key = ANY($3))`,
    emailKey,
    numberKey,
  )
}

/** Who else has one of these addresses or numbers. Raw: one of two conditions. */
export function identitiesOfOthers(
  database: Database,
  schoolId: string,
  {
    emailKey,
    numberKey,
    id,
  }: { readonly emailKey: readonly string[]; readonly numberKey: readonly string[]; readonly id: readonly string[] },
): Promise<{ id: string; email_key: string | null; number_key: string | null; name: string }[]> {
  return inSchool(database, schoolId).rows<{
    id: string
    email_key: string | null
    number_key: string | null
    name: string
  }>(
    `SELECT id, email_key, number_key, trim(first_name || ' ' || last_name) AS name FROM person
        WHERE school_id = $1 AND (email_key = ANY($2) OR number_key = ANY($3)) AND id <> ALL($4::uuid[])`,
    emailKey,
    numberKey,
    id,
  )
}

/** The students of a class, left ones too. Raw: four tables. */
export function studentRows(
  database: Database,
  schoolId: string,
  classId: string,
): Promise<(Omit<RosterStudent, 'joinedAt' | 'leftAt'> & { joined_at: Date; left_at: Date | null; locale: string })[]> {
  return inSchool(database, schoolId).rows<
    Omit<RosterStudent, 'joinedAt' | 'leftAt'> & { joined_at: Date; left_at: Date | null; locale: string }
  >(
    `SELECT p.id AS "personId", p.first_name AS first, p.last_name AS last, p.email, p.number, m.cells,
            p.password_hash IS NOT NULL AS "canSignIn", m.joined_at, m.left_at, s.locale,
            (SELECT (extract(epoch FROM max(i.created_at)) * 1000)::float8 FROM message i WHERE i.school_id = p.school_id AND i.person_id = p.id AND i.kind = 'invitation') AS "invitedAt"
       FROM class_member m JOIN person p ON p.school_id = m.school_id AND p.id = m.person_id JOIN school s ON s.id = m.school_id
      WHERE m.school_id = $1 AND m.class_id = $2 AND m.role = 'student'`,
    classId,
  )
}
