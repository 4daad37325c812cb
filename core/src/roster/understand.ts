import { columnName } from '../worksheet/words.js'
import { type Outcome, fine, refuse } from '../errors/problem.js'
import { type ColumnRole, roleOfHeading, wholeNameWay } from './headings.js'
import { type LeftOutRow, listLayout, textOf } from './layout.js'
import { cleanText, foldText } from './names.js'
import { addressColumns, guessRoles, ownAddresses } from './roles.js'
import { type NameParting, type NameWay, nameParting, nameWay, partName } from './wholeNames.js'

/** A row as it was understood, before it is checked. */
export interface RosterEntry {
  /** Row of the source, counted from 0, with all that stands above the list: the number it has in its spreadsheet, less one. */
  readonly line: number
  readonly last: string
  readonly first: string
  readonly email: string
  /** The student number; empty if there is none. */
  readonly number: string
  /** The kept columns, by the heading of each. */
  readonly cells: Readonly<Record<string, string>>
  /** The name stood in one cell without a comma, and with so many words that where it was parted is a guess. */
  readonly partedByGuess: boolean
}

/** Rows as they were understood. Every guess in it can be overruled by reading again with {@link RosterReading}. */
export interface ParsedRoster {
  /** The row with the headings, counted from 0; null if there is none. */
  readonly heading: number | null
  readonly roles: ColumnRole[]
  /** The headings if there are some, else the letters A, B, C ... */
  readonly headings: string[]
  readonly entries: RosterEntry[]
  /** Rows that are taken for no student: what stands above, totals below. */
  readonly leftOut: LeftOutRow[]
  /** The columns that hold e-mail addresses. Where they are several, somebody has to say which one is the students' own. */
  readonly addresses: number[]
  /** How names that stand in one cell were parted; null where none had to be. */
  readonly parting: NameParting | null
  /** The first rows under the headings, to show beside the guesses. */
  readonly sample: string[][]
  /** For each column its different values, if they are few. */
  readonly values: string[][]
}

/** How rows are to be read where the guess was wrong. */
export interface RosterReading {
  /** The row with the headings, counted from 0; null: there is none. */
  readonly heading?: number | null
  /** Rows that are students though they were left out. */
  readonly take?: readonly number[]
  readonly roles?: readonly ColumnRole[]
  /** The column with the students' own addresses, counted from 0; -1: none of them. */
  readonly ownAddress?: number
  /** How names that stand in one cell are parted. */
  readonly nameWay?: NameWay
  /** Only the rows with this value in this column (counted from 0): one class out of a list of the whole school. */
  readonly only?: { readonly column: number; readonly value: string }
}

/**
 * Whether it has to be said which addresses of a list are the students' own before anything of it is saved: there are several for
 * each of them, and nobody said it yet.
 */
export const asksForAddress = ({ addresses }: Pick<ParsedRoster, 'addresses'>, reading: RosterReading): boolean =>
  addresses.length > 1 && reading.ownAddress === undefined

/** The most rows and columns that are read at once. */
export const ROSTER_ROW_LIMIT = 50_000
export const ROSTER_WIDTH_LIMIT = 100

const SAMPLE_ROWS = 5
const FEW_VALUES = 60

/**
 * Understands a table as a list of students: where in it the list stands ({@link listLayout}), and which columns hold last name,
 * first name, e-mail and student number (by heading, else by content). Other columns that have a heading are kept as columns
 * of the roster.
 * @param rows cells of text, blank rows too; short rows are taken as ending in empty cells
 * @param reading overrules any of the guesses
 * @returns the students in their order; a problem for a table with no row in it or beyond the limits
 */
export function understandRoster(
  rows: readonly (readonly string[])[],
  reading: RosterReading = {},
): Outcome<ParsedRoster> {
  const table = rows.map((row) => row.slice(0, ROSTER_WIDTH_LIMIT).map(cleanText))
  const filled = table.reduce((count, row) => count + Number(row.some(Boolean)), 0)
  if (filled === 0)
    return refuse({ code: 'roster-empty', field: 'text', sentence: 'There are no rows in this: every cell is empty.' })
  if (filled > ROSTER_ROW_LIMIT + 1)
    return refuse({
      code: 'roster-too-many-rows',
      field: 'text',
      sentence: `This has ${filled} rows; up to ${ROSTER_ROW_LIMIT} can be read at once.`,
    })

  const layout = listLayout(table, reading)
  const { heading } = layout
  const header = heading === null ? [] : (table[heading] ?? [])
  const listed = layout.body.map((line) => table[line]!)
  if (listed.length === 0)
    return refuse({ code: 'roster-header-only', field: 'text', sentence: 'There is a header but no row under it.' })
  const width = listed.reduce((widest, row) => Math.max(widest, row.length), header.length)
  const roles = Array.from({ length: width }, (_, column) => reading.roles?.[column] ?? 'unused')
  const addresses = addressColumns(width, listed)
  if (!reading.roles) {
    const own = reading.ownAddress ?? ownAddresses(addresses, header, listed)
    guessRoles(roles, header, header.map(roleOfHeading), listed, own)
  }
  const headings = distinctHeadings(roles.map((_, column) => header[column] || columnName(column)))
  const { body, leftOut } = withoutNobody(table, layout, roles, reading.take)
  const whole = roles.indexOf('full')
  const full = whole < 0 ? [] : body.map((line) => table[line]![whole] ?? '')
  const way = reading.nameWay ?? (whole < 0 ? 'first last' : wayOf(table, body, roles, header[whole] ?? '', full))
  const { only } = reading
  const read = entryReader(roles, headings, way)
  const entries = body.flatMap((line) => {
    const row = table[line]!
    return !only || foldText(row[only.column] ?? '') === foldText(only.value) ? [read(row, line)] : []
  })
  return fine({
    heading,
    roles,
    headings,
    entries,
    leftOut,
    addresses,
    parting: nameParting(full, way),
    sample: body.slice(0, SAMPLE_ROWS).map((line) => table[line]!),
    values: roles.map((_, column) => fewValues(table, body, column)),
  })
}

/** Rows with no name, address or number are no students, unless nobody would be left. */
function withoutNobody(
  table: readonly (readonly string[])[],
  { body, leftOut }: { body: number[]; leftOut: LeftOutRow[] },
  roles: readonly ColumnRole[],
  take: readonly number[] = [],
): { body: number[]; leftOut: LeftOutRow[] } {
  const telling = roles.flatMap((role, column) => (role === 'keep' || role === 'unused' ? [] : [column]))
  const isNobody = (line: number) => !take.includes(line) && !telling.some((column) => table[line]![column])
  const somebody = body.filter((line) => !isNobody(line))
  if (somebody.length === 0 || somebody.length === body.length) return { body, leftOut }
  const nobody = body.filter(isNobody).map((line): LeftOutRow => ({ line, why: 'nobody', text: textOf(table[line]!) }))
  return { body: somebody, leftOut: [...leftOut, ...nobody].toSorted((a, b) => a.line - b.line) }
}

function wayOf(
  table: readonly (readonly string[])[],
  body: readonly number[],
  roles: readonly ColumnRole[],
  heading: string,
  cells: readonly string[],
): NameWay {
  const email = roles.indexOf('email')
  const found = nameWay(cells.map((cell, at) => ({ cell, email: table[body[at]!]![email] ?? '' })))
  return found === 'capitals' ? found : (wholeNameWay(heading) ?? found)
}

function fewValues(table: readonly (readonly string[])[], body: readonly number[], column: number): string[] {
  const found = new Set<string>()
  for (const line of body) {
    found.add(table[line]![column] ?? '')
    if (found.size > FEW_VALUES) return []
  }
  return [...found].filter(Boolean).toSorted((a, b) => a.localeCompare(b, undefined, { numeric: true }))
}

/** Two headings of one name would be one column: the second gets its letter beside it. */
function distinctHeadings(headings: readonly string[]): string[] {
  const taken = new Set<string>()
  return headings.map((heading, column) => {
    const distinct = taken.has(foldText(heading)) ? `${heading} (${columnName(column)})` : heading
    taken.add(foldText(distinct))
    return distinct
  })
}

/** Reads entries out of rows whose columns have these roles. */
function entryReader(roles: readonly ColumnRole[], headings: readonly string[], way: NameWay) {
  const kept = roles.flatMap((role, column) => (role === 'keep' ? [[headings[column]!, column] as const] : []))
  const [email, number, full, last, first] = (['email', 'number', 'full', 'last', 'first'] as const).map((role) =>
    roles.indexOf(role),
  ) as [number, number, number, number, number]
  return (row: readonly string[], line: number): RosterEntry => {
    const cell = (column: number) => row[column] ?? ''
    const cells: Record<string, string> = {}
    for (const [heading, column] of kept) cells[heading] = cell(column)
    const rest = { line, email: bareAddress(cell(email)), number: cell(number), cells }
    const whole = cell(full)
    if (!whole) return { ...rest, last: cell(last), first: cell(first), partedByGuess: false }
    const { isGuess, ...name } = partName(whole, way)
    return { ...rest, ...name, partedByGuess: isGuess }
  }
}

/** An address without what address books write around it: `mailto:`, or the name before it (RFC 5322, 3.4). */
const bareAddress = (cell: string) => /<([^<>\s]+@[^<>\s]+)>/.exec(cell)?.[1] ?? cell.replace(/^mailto:/i, '')
