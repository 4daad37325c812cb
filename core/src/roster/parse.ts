import Papa from 'papaparse'
import { type Outcome, fine, refuse } from '../errors/problem.js'
import { isEmail } from './email.js'
import { cleanText, foldText } from './names.js'

/** What a pasted column holds. `full` is "Last, First" or "First Last" in one cell. */
export type ColumnRole = 'last' | 'first' | 'full' | 'email' | 'unused'

/** A row as it was understood, before it is checked. */
export interface RosterEntry {
  /** Row of the pasted text, counted from 0 without the header. */
  readonly line: number
  readonly last: string
  readonly first: string
  readonly email: string
  /** The name stood in one cell without a comma, and where it was parted is a guess. */
  readonly partedByGuess: boolean
}

/** Pasted rows as they were understood. Every guess in it can be overruled by parsing again with {@link RosterReading}. */
export interface ParsedRoster {
  readonly delimiter: Delimiter
  readonly hasHeader: boolean
  readonly roles: ColumnRole[]
  /** Header cells if there is a header, else the letters A, B, C ... */
  readonly headings: string[]
  readonly entries: RosterEntry[]
}

export type Delimiter = '\t' | ',' | ';'

/** How pasted rows are to be read where the guess was wrong. */
export interface RosterReading {
  readonly delimiter?: Delimiter
  readonly hasHeader?: boolean
  readonly roles?: readonly ColumnRole[]
}

/** The most rows, and UTF-16 units of text, that are read at once. */
export const ROSTER_ROW_LIMIT = 5_000
export const ROSTER_TEXT_LIMIT = 4_000_000

const DELIMITERS: readonly Delimiter[] = ['\t', ';', ',']

const HEADINGS: Record<Exclude<ColumnRole, 'unused'>, readonly string[]> = {
  last: [
    'last',
    'last name',
    'lastname',
    'surname',
    'family name',
    'familyname',
    'nachname',
    'familienname',
    'nom',
    'nom de famille',
    'apellido',
    'apellidos',
    'cognome',
    'sobrenome',
    'achternaam',
    'efternamn',
    'nazwisko',
    'фамилия',
  ],
  first: [
    'first',
    'first name',
    'firstname',
    'given name',
    'givenname',
    'forename',
    'christian name',
    'vorname',
    'prénom',
    'prenom',
    'nombre',
    'nome',
    'voornaam',
    'förnamn',
    'imię',
    'имя',
  ],
  full: [
    'name',
    'full name',
    'fullname',
    'student',
    'student name',
    'pupil',
    'learner',
    'schüler',
    'élève',
    'alumno',
    'alunno',
  ],
  email: [
    'email',
    'e-mail',
    'mail',
    'email address',
    'e-mail address',
    'e mail',
    'correo',
    'correo electrónico',
    'courriel',
    'e-post',
    'почта',
    'username',
    'login',
  ],
}

/**
 * Reads rows pasted from a spreadsheet: finds the delimiter (tab, semicolon or comma), whether the first row is a header,
 * and which columns hold last name, first name and e-mail (by header, else by content).
 * @param text as pasted; quotes and line breaks within quotes are understood (RFC 4180)
 * @param reading overrules any of the guesses
 * @returns the rows in the order pasted, blank rows left out; a problem for text with nothing in it or beyond the limits
 */
export function parseRoster(text: string, reading: RosterReading = {}): Outcome<ParsedRoster> {
  if (text.length > ROSTER_TEXT_LIMIT)
    return refuse({
      code: 'roster-too-long',
      field: 'text',
      sentence: `This is more than ${ROSTER_TEXT_LIMIT / 1_000_000} million characters: paste one class at a time.`,
    })
  const source = text.replace(/^\uFEFF/, '').replaceAll('\0', '')
  const delimiter = reading.delimiter ?? sniffDelimiter(source)
  const table = readTable(source, delimiter)
  if (table.length === 0)
    return refuse({
      code: 'roster-empty',
      field: 'text',
      sentence: 'There are no rows in this yet: copy the rows in your spreadsheet and paste them here.',
    })
  if (table.length > ROSTER_ROW_LIMIT + 1)
    return refuse({
      code: 'roster-too-many-rows',
      field: 'text',
      sentence: `This has ${table.length} rows and one class takes up to ${ROSTER_ROW_LIMIT}: paste one class at a time.`,
    })

  const width = Math.max(...table.map((row) => row.length))
  const headerRoles = table[0]!.map(roleOfHeading)
  const hasHeader = reading.hasHeader ?? looksLikeHeader(table[0]!, headerRoles)
  const body = hasHeader ? table.slice(1) : table
  if (body.length === 0)
    return refuse({ code: 'roster-header-only', field: 'text', sentence: 'There is a header but no row under it.' })
  const roles = Array.from({ length: width }, (_, column) => reading.roles?.[column] ?? 'unused')
  if (!reading.roles) guessRoles(roles, hasHeader ? headerRoles : [], body)
  const headings = roles.map((_, column) => (hasHeader && table[0]![column]) || columnLetter(column))
  return fine({ delimiter, hasHeader, roles, headings, entries: body.map((row, line) => readEntry(row, roles, line)) })
}

function readTable(source: string, delimiter: Delimiter): string[][] {
  const { data } = Papa.parse<string[]>(source, { delimiter, skipEmptyLines: 'greedy' })
  return data.map((row) => row.map(cleanText)).filter((row) => row.some(Boolean))
}

/** The delimiter that parts the first rows into the same number of cells most often; a tab wins a tie, then a semicolon. */
function sniffDelimiter(source: string): Delimiter {
  const head = source.split(/\r\n|\r|\n/, 60).join('\n')
  let best: Delimiter = '\t'
  let bestScore = 0
  for (const delimiter of DELIMITERS) {
    const widths = readTable(head, delimiter).map((row) => row.length)
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

function roleOfHeading(cell: string): ColumnRole {
  const word = foldText(cell)
    .replace(/[_.:*]+/g, ' ')
    .trim()
  for (const role of ['email', 'last', 'first', 'full'] as const) if (HEADINGS[role].includes(word)) return role
  return 'unused'
}

function looksLikeHeader(cells: readonly string[], roles: readonly ColumnRole[]): boolean {
  return roles.some((role) => role !== 'unused') && !cells.some(isEmail)
}

function guessRoles(roles: ColumnRole[], headerRoles: readonly ColumnRole[], body: readonly string[][]): void {
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
  if (!taken.has('email') || share(roles.indexOf('email'), (cell) => cell.includes('@')) < 0.5) {
    let column = -1
    let most = 0.5
    roles.forEach((_, index) => {
      const found = share(index, (cell) => cell.includes('@'))
      if (found >= most && found > 0) {
        column = index
        most = found + 1e-9
      }
    })
    if (column >= 0) {
      const before = roles.indexOf('email')
      if (before >= 0) roles[before] = 'unused'
      roles[column] = 'email'
      taken.add('email')
    }
  }
  if (taken.has('full') && (taken.has('last') || taken.has('first'))) roles[roles.indexOf('full')] = 'unused'
  if (taken.has('last') || taken.has('first') || taken.has('full')) return

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

function readEntry(row: readonly string[], roles: readonly ColumnRole[], line: number): RosterEntry {
  const cell = (role: ColumnRole) => {
    const column = roles.indexOf(role)
    return column < 0 ? '' : (row[column] ?? '')
  }
  const email = cell('email').replace(/^mailto:/i, '')
  const full = cell('full')
  if (!full) return { line, last: cell('last'), first: cell('first'), email, partedByGuess: false }
  const comma = full.indexOf(',')
  if (comma >= 0)
    return { line, last: full.slice(0, comma).trim(), first: full.slice(comma + 1).trim(), email, partedByGuess: false }
  const space = full.lastIndexOf(' ')
  if (space < 0) return { line, last: '', first: full, email, partedByGuess: false }
  return { line, last: full.slice(space + 1), first: full.slice(0, space), email, partedByGuess: true }
}

/** A, B, ... Z, AA, AB ... */
function columnLetter(column: number): string {
  return (column >= 26 ? columnLetter(Math.floor(column / 26) - 1) : '') + String.fromCharCode(65 + (column % 26))
}
