import { type Viewer, type WorksheetAction, type WorksheetFacts, mayWithWorksheet } from '@gavrin/core'
import type { DataSource, EntityManager } from 'typeorm'
import { notThere } from '../common/problemDetails.js'
import { hold } from '../access/viewer.js'
import { Worksheet, WorksheetShare } from './worksheet.entity.js'
import { inSchool } from '../database/inSchool.js'

/** A worksheet of the library, with what access to it depends on. */
export type WorksheetFound = Worksheet & Pick<WorksheetFacts, 'viewerMay'>

/** Reads a worksheet for somebody who may do this with it; for all others it is not there. */
export async function holdWorksheet(
  database: DataSource | EntityManager,
  viewer: Viewer,
  id: string,
  action: WorksheetAction,
  lock = false,
): Promise<WorksheetFound> {
  const manager = 'manager' in database && database.manager ? database.manager : (database as EntityManager)
  const worksheet = await manager.findOne(Worksheet, {
    where: { schoolId: viewer.schoolId, id },
    ...(lock && { lock: { mode: 'pessimistic_write' as const } }),
  })
  if (!worksheet) throw notThere()
  const [share] = await inSchool(manager, viewer.schoolId).find(
    WorksheetShare,
    { worksheetId: id, personId: viewer.personId },
    { select: ['may'] },
  )
  const found = Object.assign(worksheet, { viewerMay: share?.may ?? null })
  hold(mayWithWorksheet(viewer, found, action))
  return found
}

/**
 * The condition under which a teacher ($1 school, $2 person) may see a worksheet `w`; what `mayWithWorksheet` rules, for
 * lists that would be read one by one otherwise.
 */
export const SEEN_BY_VIEWER = `w.school_id = $1 AND (w.owner_id = $2 OR w.school_may <> 'none'
  OR EXISTS (SELECT 1 FROM worksheet_share s WHERE s.school_id = w.school_id AND s.worksheet_id = w.id AND s.person_id = $2))`
