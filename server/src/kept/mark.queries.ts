import type { MarkBack } from '@gavrin/core'
import { type Database, inSchool } from '../database/inSchool.js'
import { ms } from '../database/sql.js'

/** What somebody got back of a copy, as it stands. */
export interface Back {
  readonly copyId: string
  readonly personId: string
  readonly at: number
  readonly mark: MarkBack
  readonly message: string
  readonly lookedAt: number | null
}

/** What was handed back of copies and not withdrawn: to each the newest. Raw: one of each of a set. */
export function backOf(database: Database, schoolId: string, copyIds: readonly string[]): Promise<Back[]> {
  return inSchool(database, schoolId).rows<Back>(
    `SELECT DISTINCT ON (copy_id, person_id) copy_id AS "copyId", person_id AS "personId", ${ms('at')} AS at, mark, message, ${ms('looked_at')} AS "lookedAt"
       FROM handed_back WHERE school_id = $1 AND copy_id = ANY($2::uuid[]) AND withdrawn_at IS NULL ORDER BY copy_id, person_id, at DESC`,
    copyIds,
  )
}

/** Notes that somebody has looked at what they got back. Raw: the newest of a set. */
export async function noteLooked(
  database: Database,
  schoolId: string,
  copyId: string,
  personId: string,
): Promise<void> {
  await inSchool(database, schoolId).write(
    `UPDATE handed_back SET looked_at = now() WHERE school_id = $1 AND copy_id = $2 AND person_id = $3 AND withdrawn_at IS NULL AND looked_at IS NULL`,
    copyId,
    personId,
  )
}
