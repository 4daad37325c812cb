import type { Viewer } from '@gavrin/core'
import { randomUUID } from 'node:crypto'
import { valueOf } from '../common/checked.js'
import { notThere } from '../common/problemDetails.js'
import { keepPicture } from './pictures.js'
import { type Database, inSchool } from '../database/inSchool.js'
import { KeptMedium } from './media.entity.js'
import { type MediumFile, type Medium, linkMediaTo, mediumShown, mediaShown } from './media.queries.js'

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
  await linkMediaTo(database, schoolId, worksheetId, mediumIds)
}

/** A medium that a worksheet shows. */
export async function mediumOfWorksheet(
  database: Database,
  schoolId: string,
  worksheetId: string,
  mediumId: string,
): Promise<MediumFile> {
  const [found] = await mediumShown(database, schoolId, worksheetId, mediumId)
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
  return mediaShown(database, schoolId, worksheetId, ids)
}
