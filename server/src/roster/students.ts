import { listName, nameOrder } from '@gavrin/core'
import { type DataSource, type EntityManager, Any } from 'typeorm'
import { inSchool } from '../database/inSchool.js'
import { Class, ClassMember } from '../access/access.entity.js'

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

/** The students of a class in the order of the roster, those who left at the end. */
export async function studentsOf(
  database: DataSource | EntityManager,
  schoolId: string,
  classId: string,
): Promise<RosterStudent[]> {
  const rows = await database.query<
    (Omit<RosterStudent, 'joinedAt' | 'leftAt'> & { joined_at: Date; left_at: Date | null; locale: string })[]
  >(
    `SELECT p.id AS "personId", p.first_name AS first, p.last_name AS last, p.email, p.number, m.cells,
            p.password_hash IS NOT NULL AS "canSignIn", m.joined_at, m.left_at, s.locale,
            (SELECT (extract(epoch FROM max(i.created_at)) * 1000)::float8 FROM message i WHERE i.school_id = p.school_id AND i.person_id = p.id AND i.kind = 'invitation') AS "invitedAt"
       FROM class_member m JOIN person p ON p.school_id = m.school_id AND p.id = m.person_id JOIN school s ON s.id = m.school_id
      WHERE m.school_id = $1 AND m.class_id = $2 AND m.role = 'student'`,
    [schoolId, classId],
  )
  const order = nameOrder(rows[0]?.locale ?? 'en')
  return rows
    .toSorted(
      (a, b) =>
        Number(a.left_at !== null) - Number(b.left_at !== null) ||
        order(a, b) ||
        listName(a).localeCompare(listName(b)) ||
        (a.personId < b.personId ? -1 : 1),
    )
    .map(({ joined_at, left_at, locale: _, ...student }) => ({
      ...student,
      joinedAt: joined_at.getTime(),
      leftAt: left_at?.getTime() ?? null,
    }))
}

/** One change of a class at a time; whoever comes second sees what the first one did. */
export async function lockClass(tx: EntityManager, schoolId: string, classId: string): Promise<void> {
  await inSchool(tx, schoolId).hold(Class, { id: classId })
}

/** Ids of students of this class, left ones too, out of ids that somebody sent. */
export async function amongStudents(
  database: DataSource | EntityManager,
  schoolId: string,
  classId: string,
  personIds: readonly string[],
): Promise<string[]> {
  const rows = await inSchool(database, schoolId).find(
    ClassMember,
    { classId, role: 'student', personId: Any(personIds) },
    { select: ['personId'] },
  )
  return rows.map(({ personId }) => personId)
}
