import type { BuiltIn, EditionCounts, WorksheetContent } from '@gavrin/core'
import { randomUUID } from 'node:crypto'
import { type Database, inSchool } from '../database/inSchool.js'

/** Makes a built-in worksheet with its edition, if the school has none of this kind. Raw: one statement makes both or none. */
export async function addBuiltIn(
  database: Database,
  schoolId: string,
  {
    kind,
    title,
    content,
    counts,
  }: {
    readonly kind: BuiltIn
    readonly title: string
    readonly content: WorksheetContent
    readonly counts: EditionCounts
  },
): Promise<void> {
  await inSchool(database, schoolId).rows(
    `WITH made AS (
       INSERT INTO worksheet (school_id, id, title, draft, kept_version, built_in) VALUES ($1, $2, $3, $4, 1, $5)
       ON CONFLICT (built_in, school_id) DO NOTHING RETURNING id)
     INSERT INTO edition (school_id, worksheet_id, number, title, content, answer_spaces, points, member_spaces, group_spaces, reserved_parts)
     SELECT $1, id, 1, $3, $4, $6, $7, $8, $9, $10 FROM made`,
    randomUUID(),
    title,
    JSON.stringify(content),
    kind,
    counts.answerSpaces,
    counts.points,
    counts.memberSpaces,
    counts.groupSpaces,
    JSON.stringify(counts.reservedParts),
  )
}
