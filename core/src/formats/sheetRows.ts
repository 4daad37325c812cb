import { isOfOthers, isOfStudent, roleOfHeading } from '../roster/headings.js'
import { columnName } from '../worksheet/words.js'
import { FILE_LIMITS } from './table.js'

/** Notes about the cells of a workbook, a sentence each. */
export const SHEET_NOTES = {
  formulas: 'Cells with a formula were taken as what they showed when saved.',
  merged: 'Merged cells were taken for every row they cover.',
} as const

/** How many cells are named where there are more. */
const NAMED = 5
/** How far above the first link a heading is looked for. */
const HEAD_ROWS = 40

/** Gathers what has to be known of a sheet as a whole, the same for every format of workbook. */
export class SheetRows {
  readonly rows: string[][] = []
  /** By column. */
  private readonly links = new Map<number, { readonly row: number; readonly address: string }[]>()
  private readonly empty: string[] = []
  private empties = 0

  /** A cell is linked to an address that it does not show. */
  link(row: number, column: number, target: string): void {
    const address = addressOf(target)
    if (!address) return
    const links = this.links.get(column)
    if (links) links.push({ row, address })
    else this.links.set(column, [{ row, address }])
  }

  /** A cell has a formula, and the file does not hold what it showed. */
  withoutValue(row: number, column: number): void {
    if (this.empties++ < NAMED) this.empty.push(`${columnName(column)}${row + 1}`)
  }

  /** Puts the addresses behind links where they can be read, and says what could not be carried over. */
  finish(): string[] {
    const notes: string[] = []
    for (const [column, links] of this.links) {
      const shown = new Set(links.map(({ row }) => this.rows[row]?.[column] ?? ''))
      // "write" in each row says nothing; names do.
      const isWord = shown.size === 1 && (links.length > 1 || /mail/i.test([...shown][0]!))
      const to = isWord ? column : this.rows.reduce((widest, row) => Math.max(widest, row.length), 0)
      if (to >= FILE_LIMITS.columns) continue
      for (const { row, address } of links) this.put(row, to, address)
      if (isWord) continue
      // Headed like the column they were behind: whose addresses they are is told by that.
      const head = this.headOf(column, links[0]!.row)
      if (head) this.put(head.row, to, `${head.text} e-mail`)
      notes.push(
        `The addresses behind the linked cells of column ${columnName(column)} stand in column ${columnName(to)}.`,
      )
    }
    if (this.empties) {
      const named = this.empty.join(', ') + (this.empties > NAMED ? ' …' : '')
      notes.push(
        `${this.empties === 1 ? 'One cell has a formula' : `${this.empties} cells have formulas`} without a saved result and ${this.empties === 1 ? 'is' : 'are'} empty here (${named}): open the file in a spreadsheet program, save it there, and bring it in again.`,
      )
    }
    return notes
  }

  private put(row: number, column: number, text: string): void {
    const cells = this.rows[row]
    if (!cells) return
    while (cells.length < column) cells.push('')
    cells[column] = text
  }

  private headOf(column: number, below: number): { row: number; text: string } | null {
    for (let row = below - 1; row >= Math.max(0, below - HEAD_ROWS); row--) {
      const text = this.rows[row]?.[column] ?? ''
      if (isOfOthers(text) || isOfStudent(text) || roleOfHeading(text) !== 'unused') return { row, text }
    }
    return null
  }
}

/** The address of a `mailto:` link (RFC 6068), or null. */
export function addressOf(target: string): string | null {
  const found = /^\s*mailto:([^?\s]+)/i.exec(target)
  if (!found) return null
  try {
    return decodeURIComponent(found[1]!).slice(0, FILE_LIMITS.cell)
  } catch {
    return found[1]!.slice(0, FILE_LIMITS.cell)
  }
}

/** What a formula links to: `HYPERLINK("mailto:…"; …)`; else an empty text. */
export const linkOf = (formula: string): string => /HYPERLINK\("([^"]{1,500})"/i.exec(formula)?.[1] ?? ''

/**
 * A date or time of a workbook as text, the same from every format: the date, the time where there is one, the time alone where
 * there is no date.
 * @param value ISO 8601, as `2026-11-12`, `2026-11-12T08:30:00`, or a duration of the day as `PT08H30M00S`
 */
export function dateText(value: string): string {
  const time = /^PT(\d+)H(\d+)M/.exec(value)
  if (time) return `${time[1]!.padStart(2, '0')}:${time[2]!.padStart(2, '0')}`
  const found = /^(-?\d{4,}-\d\d-\d\d)(?:T(\d\d:\d\d))?/.exec(value)
  if (!found) return value
  return found[2] && found[2] !== '00:00' ? `${found[1]} ${found[2]}` : found[1]!
}
