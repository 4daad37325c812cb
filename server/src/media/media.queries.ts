import { type Database, inSchool } from '../database/inSchool.js'

export interface MediumFile extends Medium {
  readonly bytes: Buffer
}

/** A medium without its bytes. */
export interface Medium {
  readonly id: string
  readonly type: string
  readonly width: number
  readonly height: number
}

/** Lets a worksheet show media. Raw: ids that may be none. */
export async function linkMediaTo(
  database: Database,
  schoolId: string,
  worksheetId: string,
  mediumIds: readonly string[],
): Promise<void> {
  await inSchool(database, schoolId).rows(
    `INSERT INTO worksheet_medium (school_id, worksheet_id, medium_id)
     SELECT $1, $2, id FROM medium WHERE school_id = $1 AND id::text = ANY($3) ON CONFLICT DO NOTHING`,
    worksheetId,
    mediumIds,
  )
}

/** A medium that a worksheet shows. Raw: two tables, an id that may be none. */
export function mediumShown(
  database: Database,
  schoolId: string,
  worksheetId: string,
  mediumId: string,
): Promise<MediumFile[]> {
  return inSchool(database, schoolId).rows<MediumFile>(
    `SELECT m.id, m.type, m.width, m.height, m.bytes FROM medium m JOIN worksheet_medium w ON w.school_id = m.school_id AND w.medium_id = m.id
      WHERE m.school_id = $1 AND w.worksheet_id = $2 AND m.id::text = $3`,
    worksheetId,
    mediumId,
  )
}

/** The media of these that a worksheet shows. Raw: two tables, ids that may be none. */
export function mediaShown(
  database: Database,
  schoolId: string,
  worksheetId: string,
  ids: readonly string[],
): Promise<MediumFile[]> {
  return inSchool(database, schoolId).rows<MediumFile>(
    `SELECT m.id, m.type, m.width, m.height, m.bytes FROM medium m JOIN worksheet_medium w ON w.school_id = m.school_id AND w.medium_id = m.id
      WHERE m.school_id = $1 AND w.worksheet_id = $2 AND m.id::text = ANY($3)`,
    worksheetId,
    ids,
  )
}
