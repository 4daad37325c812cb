import type { Viewer } from '@gavrin/core'
import { randomUUID } from 'node:crypto'
import type { DataSource, EntityManager } from 'typeorm'
import { valueOf } from '../common/checked.js'
import { notThere } from '../common/problemDetails.js'
import { keepPicture } from './pictures.js'
import { inSchool } from '../database/inSchool.js'
import { KeptMedium } from './media.entity.js'

type Database = DataSource | EntityManager

/** A medium without its bytes. */
export interface Medium {
  readonly id: string
  readonly type: string
  readonly width: number
  readonly height: number
}

export interface MediumFile extends Medium {
  readonly bytes: Buffer
}

/** Keeps a picture of a worksheet, or of a file that is being brought in. */
export async function addPicture(
  database: Database,
  who: Pick<Viewer, 'schoolId' | 'personId'>,
  bytes: Uint8Array,
  belongs: { readonly worksheetId: string } | { readonly bringInId: string },
): Promise<Medium> {
  const picture = valueOf(await keepPicture(bytes, 'bringInId' in belongs ? 'photograph' : 'worksheet', who))
  const id = randomUUID()
  await inSchool(database, who.schoolId).insert(KeptMedium, {
    id,
    type: picture.type,
    width: picture.width,
    height: picture.height,
    bytes: picture.bytes,
    bringInId: 'bringInId' in belongs ? belongs.bringInId : null,
  })
  if ('worksheetId' in belongs) await linkMedia(database, who.schoolId, belongs.worksheetId, [id])
  return { id, type: picture.type, width: picture.width, height: picture.height }
}

/** Lets a worksheet show media that are kept already. */
export async function linkMedia(
  database: Database,
  schoolId: string,
  worksheetId: string,
  mediumIds: readonly string[],
): Promise<void> {
  if (mediumIds.length === 0) return
  await database.query(
    `INSERT INTO worksheet_medium (school_id, worksheet_id, medium_id)
     SELECT $1, $2, id FROM medium WHERE school_id = $1 AND id::text = ANY($3) ON CONFLICT DO NOTHING`,
    [schoolId, worksheetId, mediumIds],
  )
}

/** A medium that a worksheet shows. */
export async function mediumOfWorksheet(
  database: Database,
  schoolId: string,
  worksheetId: string,
  mediumId: string,
): Promise<MediumFile> {
  const [found] = await database.query<MediumFile[]>(
    `SELECT m.id, m.type, m.width, m.height, m.bytes FROM medium m JOIN worksheet_medium w ON w.school_id = m.school_id AND w.medium_id = m.id
      WHERE m.school_id = $1 AND w.worksheet_id = $2 AND m.id::text = $3`,
    [schoolId, worksheetId, mediumId],
  )
  if (!found) throw notThere()
  return found
}

/** The media of a worksheet among these ids. */
export async function mediaOfWorksheet(
  database: Database,
  schoolId: string,
  worksheetId: string,
  ids: readonly string[],
): Promise<MediumFile[]> {
  return database.query<MediumFile[]>(
    `SELECT m.id, m.type, m.width, m.height, m.bytes FROM medium m JOIN worksheet_medium w ON w.school_id = m.school_id AND w.medium_id = m.id
      WHERE m.school_id = $1 AND w.worksheet_id = $2 AND m.id::text = ANY($3)`,
    [schoolId, worksheetId, ids],
  )
}
