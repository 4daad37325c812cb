import { type ColumnRole, isOfOthers, isOfStudent, roleOfHeading } from './headings.js'
import { foldText } from './names.js'

/** Guesses what the columns hold that nothing was said of. */
export function guessRoles(
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
export function addressColumns(width: number, body: readonly string[][]): number[] {
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
export function ownAddresses(
  columns: readonly number[],
  header: readonly string[],
  body: readonly string[][],
): number | null {
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
