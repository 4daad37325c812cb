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
} as const

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

/** Rows as comma-separated values (RFC 4180) with every cell harmless, and a byte order mark so that spreadsheets read UTF-8. */
export function writeCsv(rows: readonly (readonly string[])[]): string {
  const cell = (text: string) => {
    const harmless = harmlessCell(text)
    return /[",\r\n;]/.test(harmless) ? `"${harmless.replaceAll('"', '""')}"` : harmless
  }
  return `\uFEFF${rows.map((row) => row.map(cell).join(',')).join('\r\n')}\r\n`
}
