import { type Database, anySchool, inSchool } from '../database/inSchool.js'

export interface CodeRow {
  school_id: string
  id: string
  name: string
  subject: string
  school: string
  time_zone: string
  locale: string
  open: boolean
  opens: Date | null
  closes: Date | null
  places: number
}

/** Gives a class another code, unless it is a class's already. Raw: depends on all schools. */
export function setClassCode(database: Database, schoolId: string, classId: string, code: string): Promise<number> {
  return inSchool(database, schoolId).write(
    'UPDATE class SET code = $3 WHERE school_id = $1 AND id = $2 AND NOT EXISTS (SELECT 1 FROM class WHERE code = $3)',
    classId,
    code,
  )
}

/** The class that a code opens. Raw: by what somebody typed: across schools. */
export function classByCode(database: Database, code: string): Promise<CodeRow[]> {
  return anySchool(database).rows<CodeRow>(
    `SELECT c.school_id, c.id, c.name, c.subject, s.name AS school, s.time_zone, s.locale, c.join_open AS open, c.join_opens_at AS opens, c.join_closes_at AS closes, c.join_places AS places
         FROM class c JOIN school s ON s.id = c.school_id WHERE c.code = $1 AND c.archived_at IS NULL`,
    code,
  )
}
