import { type ClassAction, type ClassRole, type Viewer, mayInClass, memberRole } from '@gavrin/core'
import type { DataSource, EntityManager } from 'typeorm'
import { hold } from './viewer.js'
import { inSchool } from '../database/inSchool.js'
import { HelpedStudent } from './access.entity.js'
import { roleInClass } from './access.queries.js'

/** What a person is in a class of their school, whether it is archived, and whether its helpers mark; `none` too when there is no such class. */
export async function classRole(
  database: DataSource | EntityManager,
  viewer: Viewer,
  classId: string,
): Promise<{ role: ClassRole; archived: boolean; helpersMark: boolean }> {
  const [member] = await roleInClass(database, viewer.schoolId, classId, viewer.personId)
  if (!member) return { role: 'none', archived: false, helpersMark: false }
  const { archived, helpersMark } = member
  return { role: memberRole(member.role, member.gone), archived, helpersMark }
}

/** Goes on only if the person may do this in this class. */
export async function holdInClass(
  database: DataSource | EntityManager,
  viewer: Viewer,
  classId: string,
  action: ClassAction,
): Promise<ClassRole> {
  const { role, archived, helpersMark } = await classRole(database, viewer, classId)
  hold(mayInClass(role, action, archived, helpersMark))
  return role
}

/** The students whom somebody is shown in a class: those named to a helper of some, or null for all of them. */
export async function helpedBy(
  database: DataSource | EntityManager,
  viewer: Viewer,
  classId: string,
  role: ClassRole,
): Promise<ReadonlySet<string> | null> {
  if (role !== 'named helper') return null
  const rows = await inSchool(database, viewer.schoolId).find(
    HelpedStudent,
    { classId, helperId: viewer.personId },
    { select: ['studentId'] },
  )
  return new Set(rows.map(({ studentId }) => studentId))
}
