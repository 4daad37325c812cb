import Papa from 'papaparse'
import { type Outcome, fine, refuse } from '../errors/problem.js'
import { isEmail } from './email.js'
import { type ColumnRole, isOfOthers, isOfStudent, roleOfHeading } from './headings.js'
import { cleanText, foldText } from './names.js'

/** A row as it was understood, before it is checked. */
export interface RosterEntry {
  /** Row of the pasted text, counted from 0 without the header. */
  readonly line: number
  readonly last: string
  readonly first: string
  readonly email: string
  /** The student number; empty if there is none. */
  readonly number: string
  /** The kept columns, by the heading of each. */
  readonly cells: Readonly<Record<string, string>>
  /** The name stood in one cell without a comma, and where it was parted is a guess. */
  readonly partedByGuess: boolean
}

/** Rows as they were understood. Every guess in it can be overruled by reading again with {@link RosterReading}. */
export interface ParsedRoster {
  readonly hasHeader: boolean
  readonly roles: ColumnRole[]
  /** Header cells if there is a header, else the letters A, B, C ... */
  readonly headings: string[]
  readonly entries: RosterEntry[]
  /** The columns that hold e-mail addresses. Where they are several, somebody has to say which one is the students' own. */
  readonly addresses: number[]
  /** The first rows of the source under the header, to show beside the guesses. */
  readonly sample: string[][]
}

export type Delimiter = '\t' | ',' | ';' | '|'

/** How rows are to be read where the guess was wrong. */
export interface RosterReading {
  readonly hasHeader?: boolean
  readonly roles?: readonly ColumnRole[]
  /** The column with the students' own addresses, counted from 0; -1: none of them. */
  readonly ownAddress?: number
  /** Only the rows with this value in this column (counted from 0): one class out of a list of the whole school. */
  readonly only?: { readonly column: number; readonly value: string }
}

/** A table of text cells, and what parted them. */
export interface ReadTable {
  readonly delimiter: Delimiter
  readonly rows: string[][]
}

/**
 * Whether it has to be said which addresses of a list are the students' own before anything of it is saved: there are several for
 * each of them, and nobody said it yet.
 */
export const asksForAddress = ({ addresses }: Pick<ParsedRoster, 'addresses'>, reading: RosterReading): boolean =>
  addresses.length > 1 && reading.ownAddress === undefined

/** The most rows, columns, and UTF-16 units of text, that are read at once. */
export const ROSTER_ROW_LIMIT = 50_000
export const ROSTER_WIDTH_LIMIT = 100
export const ROSTER_TEXT_LIMIT = 12_000_000

const DELIMITERS: readonly Delimiter[] = ['\t', ';', ',', '|']
const SAMPLE_ROWS = 5

/**
 * Reads rows pasted from a spreadsheet: {@link readTable}, then {@link understandRoster}.
 * @param text as pasted; quotes and line breaks within quotes are understood (RFC 4180)
 */
export function parseRoster(
  text: string,
  reading: RosterReading & { readonly delimiter?: Delimiter } = {},
): Outcome<ParsedRoster & { readonly delimiter: Delimiter }> {
  const table = readTable(text, reading.delimiter)
  if (!table.ok) return table
  const understood = understandRoster(table.value.rows, reading)
  return understood.ok ? fine({ ...understood.value, delimiter: table.value.delimiter }) : understood
}

/**
 * Parts text into cells (RFC 4180: quotes, and line breaks within them) at tabs, semicolons, commas or bars.
 * @param delimiter overrules the guess; a first line `sep=;`, as some spreadsheets write it, does too
 * @returns the rows that hold anything; a problem for text beyond the limits or with nothing in it
 */
export function readTable(text: string, delimiter?: Delimiter): Outcome<ReadTable> {
  if (text.length > ROSTER_TEXT_LIMIT)
    return refuse({
      code: 'roster-too-long',
      field: 'text',
      sentence: `This is more than ${ROSTER_TEXT_LIMIT / 1_000_000} million characters: bring in fewer rows at a time.`,
    })
  const bare = text.replace(/^\uFEFF/, '').replaceAll('\0', '')
  const told = /^sep=([,;|\t])\r?\n/i.exec(bare)
  const source = told ? bare.slice(told[0].length) : bare
  const parted = delimiter ?? (told ? (told[1] as Delimiter) : sniffDelimiter(source))
  const rows = partRows(source, parted)
  if (rows.length === 0)
    return refuse({
      code: 'roster-empty',
      field: 'text',
      sentence: 'There are no rows in this yet: copy the rows in your spreadsheet and paste them here.',
    })
  return fine({ delimiter: parted, rows })
}

/**
 * Understands a table as a list of students: whether the first row is a header, and which columns hold last name, first
 * name, e-mail and student number (by header, else by content). Other columns that have a heading are kept as columns
 * of the roster.
 * @param rows cells of text; short rows are taken as ending in empty cells
 * @param reading overrules any of the guesses
 * @returns the rows in their order, blank ones left out; a problem for a table with no row in it or beyond the limits
 */
export function understandRoster(
  rows: readonly (readonly string[])[],
  reading: RosterReading = {},
): Outcome<ParsedRoster> {
  const table = rows.map((row) => row.slice(0, ROSTER_WIDTH_LIMIT).map(cleanText)).filter((row) => row.some(Boolean))
  if (table.length === 0)
    return refuse({ code: 'roster-empty', field: 'text', sentence: 'There are no rows in this: every cell is empty.' })
  if (table.length > ROSTER_ROW_LIMIT + 1)
    return refuse({
      code: 'roster-too-many-rows',
      field: 'text',
      sentence: `This has ${table.length} rows; up to ${ROSTER_ROW_LIMIT} can be read at once.`,
    })

  const width = table.reduce((widest, row) => Math.max(widest, row.length), 0)
  const headerRoles = table[0]!.map(roleOfHeading)
  const hasHeader = reading.hasHeader ?? looksLikeHeader(table[0]!, headerRoles)
  const body = hasHeader ? table.slice(1) : table
  if (body.length === 0)
    return refuse({ code: 'roster-header-only', field: 'text', sentence: 'There is a header but no row under it.' })
  const roles = Array.from({ length: width }, (_, column) => reading.roles?.[column] ?? 'unused')
  const header = hasHeader ? table[0]! : []
  const addresses = addressColumns(width, body)
  if (!reading.roles) {
    const own = reading.ownAddress ?? ownAddresses(addresses, header, body)
    guessRoles(roles, header, hasHeader ? headerRoles : [], body, own)
  }
  const headings = distinctHeadings(roles.map((_, column) => (hasHeader && table[0]![column]) || columnLetter(column)))
  const { only } = reading
  const read = entryReader(roles, headings)
  const entries = body
    .map((row, line) => ({ row, line }))
    .filter(({ row }) => !only || foldText(row[only.column] ?? '') === foldText(only.value))
    .map(({ row, line }) => read(row, line))
  return fine({ hasHeader, roles, headings, entries, addresses, sample: body.slice(0, SAMPLE_ROWS) })
}

function partRows(source: string, delimiter: Delimiter): string[][] {
  const { data } = Papa.parse<string[]>(source, { delimiter, skipEmptyLines: 'greedy' })
  return data.filter((row) => row.some((cell) => cell.trim() !== ''))
}

/** The delimiter that parts the first rows into the same number of cells most often; a tab wins a tie, then a semicolon. */
function sniffDelimiter(source: string): Delimiter {
  const head = source.split(/\r\n|\r|\n/, 60).join('\n')
  let best: Delimiter = '\t'
  let bestScore = 0
  for (const delimiter of DELIMITERS) {
    const widths = partRows(head, delimiter).map((row) => row.length)
    const counts = new Map<number, number>()
    for (const width of widths) if (width > 1) counts.set(width, (counts.get(width) ?? 0) + 1)
    const score = Math.max(0, ...counts.values())
    if (score > bestScore) {
      best = delimiter
      bestScore = score
    }
  }
  return best
}

function looksLikeHeader(cells: readonly string[], roles: readonly ColumnRole[]): boolean {
  return roles.some((role) => role !== 'unused') && !cells.some(isEmail)
}

function guessRoles(
  roles: ColumnRole[],
  header: readonly string[],
  headerRoles: readonly ColumnRole[],
  body: readonly string[][],
  own: number | null,
): void {
  const taken = new Set<ColumnRole>()
  headerRoles.forEach((role, column) => {
    if (role !== 'unused' && !taken.has(role)) {
      roles[column] = role
      taken.add(role)
    }
  })
  const share = (column: number, test: (cell: string) => boolean) => {
    const cells = body.map((row) => row[column] ?? '').filter(Boolean)
    return cells.length ? cells.filter(test).length / cells.length : 0
  }
  // The e-mail column is picked by what is in it: a heading may be wrong, an address is not.
  if (own !== null) {
    const before = roles.indexOf('email')
    if (before >= 0) roles[before] = 'unused'
    if (own >= 0) roles[own] = 'email'
  }
  const number = roles.indexOf('number')
  if (number >= 0 && !tellsApart(body.map((row) => row[number] ?? ''))) roles[number] = 'unused'
  if (taken.has('full') && (taken.has('last') || taken.has('first'))) roles[roles.indexOf('full')] = 'unused'
  if (!taken.has('last') && !taken.has('first') && !taken.has('full')) guessNames(roles, body, share)
  header.forEach((heading, column) => {
    if (roles[column] === 'unused' && heading && !isRowCount(body.map((row) => row[column] ?? '')))
      roles[column] = 'keep'
  })
}

/** The columns where every second cell or more is an address. */
function addressColumns(width: number, body: readonly string[][]): number[] {
  return Array.from({ length: width }, (_, column) => column).filter((column) => {
    const cells = body.flatMap((row) => row[column] || [])
    return cells.length > 0 && cells.filter((cell) => cell.includes('@')).length >= cells.length / 2
  })
}

/**
 * Which column of addresses is the students' own: never one that is headed as somebody else's; else what its heading says, how
 * like the names of the rows the addresses are, and how few are alike (brothers and sisters share a parent's).
 * @returns -1 where all are somebody else's; null where there are none
 */
function ownAddresses(columns: readonly number[], header: readonly string[], body: readonly string[][]): number | null {
  if (columns.length === 0) return null
  let best = -1
  let most = -1
  for (const column of columns) {
    const heading = header[column] ?? ''
    if (isOfOthers(heading)) continue
    const cells = body.flatMap((row) => row[column] || [])
    const score =
      (isOfStudent(heading) ? 4 : 0) +
      2 * likeness(column, body) +
      (roleOfHeading(heading) === 'email' ? 0.5 : 0) +
      new Set(cells.map(foldText)).size / cells.length / 2
    if (score > most) {
      best = column
      most = score
    }
  }
  return best
}

/** Of the names that stand in a row, the share that is in its address: a student's has the first name too. */
function likeness(column: number, body: readonly string[][]): number {
  const shares = body.slice(0, LIKENESS_ROWS).flatMap((row) => {
    const address = asciiFold((row[column] ?? '').split('@')[0]!)
    const names = row
      .filter((cell) => /^[^@\d]+$/.test(cell))
      .slice(0, 3)
      .flatMap((cell) => cell.split(/[\s,\p{Pd}]+/u))
      .map(asciiFold)
      .filter((name) => name.length > 2)
    return address && names.length ? [names.filter((name) => address.includes(name)).length / names.length] : []
  })
  return shares.length ? shares.reduce((sum, one) => sum + one, 0) / shares.length : 0
}

/** As many rows say it as well as all. */
const LIKENESS_ROWS = 500

/** Whether cells can be student numbers: no two are alike, and they do not just count the rows. */
function tellsApart(cells: readonly string[]): boolean {
  const filled = cells.filter(Boolean)
  return filled.length > 0 && new Set(filled).size === filled.length && !isRowCount(cells)
}

const isRowCount = (cells: readonly string[]) => cells.every((cell, at) => cell === String(at + 1))

function guessNames(
  roles: ColumnRole[],
  body: readonly string[][],
  share: (column: number, test: (cell: string) => boolean) => number,
): void {
  const words = roles
    .map((role, column) => ({ role, column }))
    .filter(
      ({ role, column }) => role === 'unused' && share(column, (cell) => /\p{L}/u.test(cell) && !/\d/.test(cell)) > 0.6,
    )
    .map(({ column }) => column)
  const [one, two] = words
  if (one === undefined) return
  if (two === undefined || share(one, (cell) => cell.includes(',')) > 0.6) {
    roles[one] = 'full'
    return
  }
  // Which of two columns of names is the first name? The one that addresses begin with more often.
  const email = roles.indexOf('email')
  const begins = (column: number) =>
    email < 0
      ? 0
      : body.filter((row) => row[column] && asciiFold(row[email] ?? '').startsWith(asciiFold(row[column]))).length
  const firstLeads = begins(one) > begins(two)
  roles[one] = firstLeads ? 'first' : 'last'
  roles[two] = firstLeads ? 'last' : 'first'
}

const asciiFold = (text: string) =>
  foldText(text)
    .normalize('NFD')
    .replace(/[^\p{L}\p{N}@]/gu, '')

/** Two headings of one name would be one column: the second gets its letter beside it. */
function distinctHeadings(headings: readonly string[]): string[] {
  const taken = new Set<string>()
  return headings.map((heading, column) => {
    const distinct = taken.has(foldText(heading)) ? `${heading} (${columnLetter(column)})` : heading
    taken.add(foldText(distinct))
    return distinct
  })
}

/** Reads entries out of rows whose columns have these roles. */
function entryReader(roles: readonly ColumnRole[], headings: readonly string[]) {
  const kept = roles.flatMap((role, column) => (role === 'keep' ? [[headings[column]!, column] as const] : []))
  const [email, number, full, last, first] = (['email', 'number', 'full', 'last', 'first'] as const).map((role) =>
    roles.indexOf(role),
  ) as [number, number, number, number, number]
  return (row: readonly string[], line: number): RosterEntry => {
    const cell = (column: number) => row[column] ?? ''
    const cells: Record<string, string> = {}
    for (const [heading, column] of kept) cells[heading] = cell(column)
    const rest = { line, email: cell(email).replace(/^mailto:/i, ''), number: cell(number), cells }
    const whole = cell(full)
    if (!whole) return { ...rest, last: cell(last), first: cell(first), partedByGuess: false }
    const comma = whole.indexOf(',')
    if (comma >= 0)
      return { ...rest, last: whole.slice(0, comma).trim(), first: whole.slice(comma + 1).trim(), partedByGuess: false }
    const space = whole.lastIndexOf(' ')
    if (space < 0) return { ...rest, last: '', first: whole, partedByGuess: false }
    return { ...rest, last: whole.slice(space + 1), first: whole.slice(0, space), partedByGuess: true }
  }
}

/** A, B, ... Z, AA, AB ... */
function columnLetter(column: number): string {
  return (column >= 26 ? columnLetter(Math.floor(column / 26) - 1) : '') + String.fromCharCode(65 + (column % 26))
}
