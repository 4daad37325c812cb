import { listName, nameOrder } from '@gavrin/core'
import { type DataSource, type EntityManager, Any } from 'typeorm'
import { inSchool } from '../database/inSchool.js'
import { Class, ClassMember } from '../access/access.entity.js'
import { type RosterStudent, studentRows } from './roster.queries.js'

/** The students of a class in the order of the roster, those who left at the end. */
export async function studentsOf(
  database: DataSource | EntityManager,
  schoolId: string,
  classId: string,
): Promise<RosterStudent[]> {
  const rows = await studentRows(database, schoolId, classId)
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
