import { type BuiltIn, type WorksheetContent, answerSpaces } from '@gavrin/core'
import { randomUUID } from 'node:crypto'
import type { DataSource, EntityManager } from 'typeorm'

const page = (blocks: WorksheetContent['blocks']): WorksheetContent => ({ version: 2, page: 'A4', source: '', blocks })

/** What is given where no worksheet of the library is. */
const BUILT_IN: readonly { kind: BuiltIn; title: string; content: WorksheetContent }[] = [
  { kind: 'blank page', title: 'Blank page', content: page([{ id: 'page', kind: 'passage', lines: 30 }]) },
  { kind: 'own file', title: 'Your own file', content: page([{ id: 'file', kind: 'file', most: 5 }]) },
  { kind: 'link', title: 'Link', content: page([]) },
]

/** How many there are. */
export const BUILT_INS = BUILT_IN.length

/** Makes the built-in worksheets that a school has not yet. */
export async function makeBuiltInWorksheets(database: DataSource | EntityManager, schoolId: string): Promise<void> {
  for (const { kind, title, content } of BUILT_IN)
    await database.query(
      `WITH made AS (
         INSERT INTO worksheet (school_id, id, title, draft, kept_version, built_in) VALUES ($1, $2, $3, $4, 1, $5)
         ON CONFLICT (built_in, school_id) DO NOTHING RETURNING id)
       INSERT INTO edition (school_id, worksheet_id, number, title, content, answer_spaces) SELECT $1, id, 1, $3, $4, $6 FROM made`,
      [schoolId, randomUUID(), title, JSON.stringify(content), kind, answerSpaces(content).length],
    )
}
