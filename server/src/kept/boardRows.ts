import { type BoardRow, withoutChecks } from '@gavrin/core'
import type { DataSource, EntityManager } from 'typeorm'
import { boardRowsOf, boardRowsWritten } from './kept.queries.js'
import { countSpaces } from './counted.js'

/** The rows of a board, or only those of some copies, by title. */
export async function boardRows(
  source: DataSource | EntityManager,
  schoolId: string,
  handoutId: string,
  copyIds?: readonly string[],
): Promise<BoardRow[]> {
  return countSpaces(await boardRowsOf(source, schoolId, handoutId, copyIds ?? null), ({ holders, places }) => ({
    holders: holders.map(({ personId }) => personId),
    parts: places.length,
  }))
}

/** What of a board somebody is shown. */
export interface BoardShown {
  /** The copies of these students; null: all. */
  readonly students: ReadonlySet<string> | null
  /** Whether they may know which answers are right. */
  readonly withChecks: boolean
}

/** The rows of a board as somebody is shown them. */
export function rowsFor(rows: readonly BoardRow[], { students, withChecks }: BoardShown): BoardRow[] {
  const shown = students ? rows.filter(({ holders }) => holders.some(({ personId }) => students.has(personId))) : rows
  return withChecks ? [...shown] : shown.map((row) => ({ ...row, progress: withoutChecks(row.progress) }))
}

/** All rows of a board as somebody is shown them, by title, in JSON. */
export async function boardRowsInJson(
  source: DataSource,
  schoolId: string,
  handoutId: string,
  shown: BoardShown,
): Promise<string> {
  if (shown.students || !shown.withChecks)
    return JSON.stringify(rowsFor(await boardRows(source, schoolId, handoutId), shown))
  const rows = await boardRowsWritten(source, schoolId, handoutId)
  const counted = countSpaces(rows, ({ holderIds, parts }) => ({ holders: holderIds ?? [], parts }))
  return `[${counted.map(({ row, spaces }) => `{"spaces":${spaces},${row.slice(1)}`).join()}]`
}
