import { type BuiltIn, type WorksheetContent, countEdition } from '@gavrin/core'
import type { DataSource, EntityManager } from 'typeorm'
import { addBuiltIn } from './worksheet.queries.js'

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
    await addBuiltIn(database, schoolId, { kind, title, content, counts: countEdition(content) })
}
