/** One sheet of a workbook, or one file of text: cells as they are shown, row by row. */
export interface Table {
  readonly name: string
  readonly rows: string[][]
}

/** What a file of rows held, whatever its format. */
export interface TableFile {
  readonly format: 'text' | 'XLSX' | 'ODS'
  readonly tables: Table[]
  /** What could not be carried over, a sentence each. */
  readonly notes: string[]
}

/** The most that is taken out of one file. */
export const FILE_LIMITS = {
  /** Bytes of the file itself. */
  bytes: 10_000_000,
  /** Bytes of all that is packed in it: a small file can hold a great deal of nothing. */
  unpacked: 120_000_000,
  rows: 50_001,
  columns: 100,
  /** UTF-16 units of one cell; the rest is left out. */
  cell: 2_000,
  tables: 20,
  /** Filled cells in all tables of a file together, and UTF-16 units in them: a few bytes can say that a cell stands a milliard times. */
  cells: 1_000_000,
  text: 16_000_000,
} as const

/** Counts what is taken out of a file; says when it is more than is taken. */
export class CellCount {
  private cells = 0
  private text = 0

  /** @returns false when this cell is one too many */
  add(cell: string, times = 1): boolean {
    if (cell) {
      this.cells += times
      this.text += cell.length * times
    }
    return this.cells <= FILE_LIMITS.cells && this.text <= FILE_LIMITS.text
  }
}

export const TOO_MANY_CELLS = {
  code: 'file-too-much',
  field: 'file',
  sentence: `This file holds more than ${FILE_LIMITS.cells / 1_000_000} million filled cells: bring in only the sheet or the rows that you need.`,
}

/**
 * A cell that no spreadsheet program runs as a formula: a text that begins with a sign which starts one is preceded by an
 * apostrophe (the way OWASP describes, "CSV injection"). Numbers with a sign stay as they are.
 */
export function harmlessCell(text: string): string {
  if (!/^[\s]*[=+\-@\t\r|%]/.test(text)) return text
  return /^[+-]?\d+([.,]\d+)?$/.test(text) ? text : `'${text}`
}

/** A cell as it was before {@link harmlessCell}: what was written out is read back the same. */
export const plainCell = (text: string): string => (/^'[\s]*[=+\-@\t\r|%]/.test(text) ? text.slice(1) : text)

/** What stands in a cell of a table that is written out: a text, or a number to count with. */
export type OutCell = string | number

/** Rows as comma-separated values (RFC 4180) with every cell harmless, and a byte order mark so that spreadsheets read UTF-8. */
export function writeCsv(rows: readonly (readonly OutCell[])[]): string {
  const cell = (value: OutCell) => {
    const harmless = typeof value === 'number' ? String(value) : harmlessCell(value)
    return /[",\r\n;]/.test(harmless) ? `"${harmless.replaceAll('"', '""')}"` : harmless
  }
  return `\uFEFF${rows.map((row) => row.map(cell).join(',')).join('\r\n')}\r\n`
}
