import { type ClassAction, type ClassRole, type Viewer, mayInClass } from '@gavrin/core'
import type { DataSource, EntityManager } from 'typeorm'
import { hold } from '../common/viewer.js'

/** What a person is in a class of their school; `none` too when there is no such class. */
export async function classRole(
  database: DataSource | EntityManager,
  viewer: Viewer,
  classId: string,
): Promise<ClassRole> {
  const [member] = await database.query<{ role: ClassRole; gone: boolean }[]>(
    'SELECT role, left_at IS NOT NULL AS gone FROM class_member WHERE school_id = $1 AND class_id = $2 AND person_id = $3',
    [viewer.schoolId, classId, viewer.personId],
  )
  if (!member) return 'none'
  return member.gone ? (member.role === 'student' ? 'left' : 'none') : member.role
}

/** Goes on only if the person may do this in this class. */
export async function holdInClass(
  database: DataSource | EntityManager,
  viewer: Viewer,
  classId: string,
  action: ClassAction,
): Promise<ClassRole> {
  const role = await classRole(database, viewer, classId)
  hold(mayInClass(role, action))
  return role
}
