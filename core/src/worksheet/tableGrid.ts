import type { TableBlock, TableCell } from './content.js'
import { columnName } from './words.js'

/** A cell with its place in the grid: row and column of its first square, counted from 0. */
export interface PlacedCell {
  readonly cell: TableCell
  readonly row: number
  readonly column: number
  /** Its place among the cells of its row. */
  readonly at: number
}

/** The cells of a table at their places; a square covered by a cell above or before it has none of its own. */
export function placeCells(table: Pick<TableBlock, 'rows'>): PlacedCell[] {
  const covered = new Set<string>()
  const placed: PlacedCell[] = []
  table.rows.forEach((cells, row) => {
    let column = 0
    cells.forEach((cell, at) => {
      while (covered.has(`${row},${column}`)) column++
      placed.push({ cell, row, column, at })
      for (let down = 0; down < cell.down; down++)
        for (let across = 0; across < cell.across; across++) covered.add(`${row + down},${column + across}`)
      column += cell.across
    })
  })
  return placed
}

/** How many columns a table has. */
export function columnCount(table: Pick<TableBlock, 'rows'>): number {
  return placeCells(table).reduce((most, { cell, column }) => Math.max(most, column + cell.across), 0)
}

/** The name of a square: `B3` is the second column of the third row. */
export const cellName = (row: number, column: number): string => `${columnName(column)}${row + 1}`

/** The row and column that a name means, counted from 0; null if it is no name of a square. */
export function readCellName(name: string): { readonly row: number; readonly column: number } | null {
  const found = /^([A-Za-z]{1,2})([1-9]\d{0,2})$/.exec(name)
  if (!found) return null
  let column = 0
  for (const letter of found[1]!.toUpperCase()) column = column * 26 + letter.charCodeAt(0) - 64
  return { row: Number(found[2]) - 1, column: column - 1 }
}
