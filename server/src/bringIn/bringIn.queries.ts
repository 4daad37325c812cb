import { type Database, inSchool } from '../database/inSchool.js'
import { ms } from '../database/sql.js'

/** How many days a file lies here that is no worksheet yet. */
const DAYS = 30
const OLD = `SELECT id FROM bring_in WHERE school_id = $1 AND person_id = $2 AND worksheet_id IS NULL AND created_at < now() - interval '${DAYS} days'`

/** The worksheets that somebody made of the same file. Raw: two tables. */
export function worksheetsOfFile(
  database: Database,
  schoolId: string,
  personId: string,
  sha256: Buffer,
): Promise<{ worksheetId: string; title: string; at: number }[]> {
  return inSchool(database, schoolId).rows<{ worksheetId: string; title: string; at: number }>(
    `SELECT w.id AS "worksheetId", w.title, ${ms('b.created_at')} AS at
         FROM bring_in b JOIN worksheet w ON w.school_id = b.school_id AND w.id = b.worksheet_id
        WHERE b.school_id = $1 AND b.person_id = $2 AND b.sha256 = $3 ORDER BY b.created_at DESC LIMIT 5`,
    personId,
    sha256,
  )
}

/** Keeps work on photographs, if nobody kept anything since a version; the new version. Raw: changes and reads at once. */
export function writeWork(
  database: Database,
  schoolId: string,
  { id, version, work }: { readonly id: string; readonly version: number; readonly work: string },
): Promise<{ version: number }[]> {
  return inSchool(database, schoolId).rows<{ version: number }>(
    `UPDATE bring_in SET work = $4, work_version = work_version + 1
        WHERE school_id = $1 AND id = $2 AND worksheet_id IS NULL AND work_version = $3 RETURNING work_version AS version`,
    id,
    version,
    work,
  )
}

/** How many photographs are kept, and how many bytes. Raw: counts. */
export function photosKept(
  database: Database,
  schoolId: string,
  id: string,
): Promise<{ count: number; bytes: number }[]> {
  return inSchool(database, schoolId).rows<{ count: number; bytes: number }>(
    `SELECT count(*)::int AS count, coalesce(sum(length(bytes)), 0)::int AS bytes FROM bring_in_picture
              WHERE school_id = $1 AND bring_in_id = $2`,
    id,
  )
}

/** Photographs that are shown no more go. Raw: ids that may be none. */
export function dropPhotosExcept(
  database: Database,
  schoolId: string,
  id: string,
  shown: readonly string[],
): Promise<number> {
  return inSchool(database, schoolId).write(
    'DELETE FROM bring_in_picture WHERE school_id = $1 AND bring_in_id = $2 AND NOT (id::text = ANY($3))',
    id,
    shown,
  )
}

/** Which of these pictures came in with a document. Raw: ids that may be none. */
export function mediaBroughtIn(
  database: Database,
  schoolId: string,
  id: string,
  wanted: readonly string[],
): Promise<{ id: string }[]> {
  return inSchool(database, schoolId).rows<{ id: string }>(
    'SELECT id FROM medium WHERE school_id = $1 AND bring_in_id = $2 AND id::text = ANY($3)',
    id,
    wanted,
  )
}

/** From now on these pictures are a worksheet's. Raw: ids that may be none. */
export function freeMedia(
  database: Database,
  schoolId: string,
  id: string,
  wanted: readonly string[],
): Promise<number> {
  return inSchool(database, schoolId).write(
    'UPDATE medium SET bring_in_id = NULL WHERE school_id = $1 AND bring_in_id = $2 AND id::text = ANY($3)',
    id,
    wanted,
  )
}

/** The pictures of what has lain unfinished for long go. Raw: a set by another one. */
export function dropOldMedia(database: Database, schoolId: string, personId: string): Promise<number> {
  return inSchool(database, schoolId).write(
    `DELETE FROM medium WHERE school_id = $1 AND bring_in_id IN (${OLD})`,
    personId,
  )
}

/** What has lain unfinished for long goes. Raw: a set by another one. */
export function dropOldBroughtIn(database: Database, schoolId: string, personId: string): Promise<number> {
  return inSchool(database, schoolId).write(`DELETE FROM bring_in WHERE school_id = $1 AND id IN (${OLD})`, personId)
}
