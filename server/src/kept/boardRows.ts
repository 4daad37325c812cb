import type { BoardRow } from '@gavrin/core'
import type { DataSource, EntityManager } from 'typeorm'
import { boardRowsOf } from './kept.queries.js'
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

/** The rows of a board that somebody is shown: of these students, or all. */
export const rowsFor = (rows: BoardRow[], students: ReadonlySet<string> | null): BoardRow[] =>
  students ? rows.filter(({ holders }) => holders.some(({ personId }) => students.has(personId))) : rows
