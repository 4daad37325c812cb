import { type Database, inSchool } from '../database/inSchool.js'

/** What stands at the head of a roster as a file. Raw: two tables, and the date of the school. */
export function classForFile(
  database: Database,
  schoolId: string,
  classId: string,
): Promise<{ name: string; subject: string; year: string; schoolName: string; today: string }[]> {
  return inSchool(database, schoolId).rows<{
    name: string
    subject: string
    year: string
    schoolName: string
    today: string
  }>(
    `SELECT c.name, c.subject, c.year, s.name AS "schoolName", to_char(now() AT TIME ZONE s.time_zone, 'YYYY-MM-DD') AS today
         FROM class c JOIN school s ON s.id = c.school_id WHERE c.school_id = $1 AND c.id = $2`,
    classId,
  )
}
