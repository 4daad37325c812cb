import { isOfOthers, isOfStudent, roleOfHeading } from './headings.js'
import { foldText } from './names.js'

/** Why a row of a table is taken for no student. */
export type LeftOutReason = 'above' | 'headings again' | 'note' | 'nobody'

/** A row that is taken for no student, with what stands in it. */
export interface LeftOutRow {
  /** Row of the table, counted from 0. */
  readonly line: number
  readonly why: LeftOutReason
  readonly text: string
}

/** Where in a table a list stands. Rows are counted from 0; blank ones are nowhere. */
export interface ListLayout {
  /** The row with the headings; null if there is none. */
  readonly heading: number | null
  readonly body: number[]
  readonly leftOut: LeftOutRow[]
}

/** Headings are looked for in so many rows from the top, and held against so many under each. */
const TOP_ROWS = 40
const ROWS_UNDER = 50
const LEFT_OUT_TEXT = 80
/** A cell of its own that is longer is a sentence. */
const LONGEST_NAME_ALONE = 60

// How a line of totals begins, or of the program that wrote the list, in some languages.
const TOTALS =
  /^(?:(?:sub|grand)?\s?total|totals|sum|count|number of|no\. of|students:|pupils:|printed|exported|generated|created|page \d|end of|summe|anzahl|gesamt|insgesamt|stand:|seite \d|somme|nombre (?:de|d[’'])|effectif|imprime|totale|numero (?:di|de)|suma|totaal|aantal|antal|summa|razem|liczba|итого|всего|количество)(?!\p{L})/iu

/**
 * Finds where in a table a list stands: which row holds the headings, told by its words and by what stands under it, and which
 * rows are no students: titles above, totals and notes below, headings that come again on each page.
 * @param table clean cells, blank rows kept, so that a row's place is the one it has in its spreadsheet
 * @param said overrules: the row with the headings (null: there is none), and rows that are students all the same
 */
export function listLayout(
  table: readonly (readonly string[])[],
  said: { readonly heading?: number | null | undefined; readonly take?: readonly number[] | undefined } = {},
): ListLayout {
  const heading = said.heading === undefined ? headingRow(table) : said.heading
  const take = new Set(said.take)
  const usual = usualWidth(table, heading === null ? 0 : heading + 1)
  const headings = heading === null ? null : signature(table[heading] ?? [])
  const body: number[] = []
  const leftOut: LeftOutRow[] = []
  table.forEach((row, line) => {
    const filled = row.filter(Boolean)
    if (filled.length === 0 || line === heading) return
    const why = take.has(line)
      ? null
      : heading !== null && line < heading
        ? 'above'
        : signature(row) === headings
          ? 'headings again'
          : reasonOf(filled, usual, line > 0 && !table[line - 1]!.some(Boolean))
    if (why === null) body.push(line)
    else leftOut.push({ line, why: why === 'note' && body.length === 0 ? 'above' : why, text: textOf(filled) })
  })
  // A table in which nothing would be left is a list of something that we do not know: all of it is shown.
  if (body.length === 0 && said.heading === undefined) {
    const isAbove = ({ line }: LeftOutRow) => heading !== null && line < heading
    return {
      heading,
      body: leftOut.filter((row) => !isAbove(row)).map(({ line }) => line),
      leftOut: leftOut.filter(isAbove),
    }
  }
  return { heading, body, leftOut }
}

/** What stands in a row, short enough to show beside others. */
export function textOf(cells: readonly string[]): string {
  const text = cells.filter(Boolean).join(' · ')
  return text.length > LEFT_OUT_TEXT ? `${text.slice(0, LEFT_OUT_TEXT - 1)}…` : text
}

/** What two rows have in common that say the same. */
const signature = (row: readonly string[]) => foldText(row.join(' | ')).replace(/[ |]+$/, '')

function reasonOf(filled: readonly string[], usual: number, afterBlank: boolean): 'note' | null {
  const [first] = filled
  if (filled.some((cell) => cell.includes('@'))) return null
  if (TOTALS.test(first!.normalize('NFD').replace(/\p{M}/gu, '')) && filled.slice(1).every(isFigure)) return 'note'
  if (usual < 2 || filled.length > 1) return null
  // Alone in a row where others fill several cells; but somebody may have one name and nothing else.
  return afterBlank || /[\d:]/.test(first!) || first!.length > LONGEST_NAME_ALONE ? 'note' : null
}

const isFigure = (cell: string) => /^[\d\s.,:/%-]+$/.test(cell)

/** How many cells rows fill: of all that are filled, the middle one. */
function usualWidth(table: readonly (readonly string[])[], from: number): number {
  const widths: number[] = []
  for (let line = from; line < table.length && widths.length < 500; line++) {
    const width = table[line]!.filter(Boolean).length
    if (width) widths.push(width)
  }
  return widths.toSorted((a, b) => a - b)[Math.floor(widths.length / 2)] ?? 0
}

/** The kinds of cell that are told apart by sight. */
const KINDS = [
  (cell: string) => cell.includes('@'),
  (cell: string) => /^[\d\s.,/:-]*\d[\d\s.,/:-]*$/.test(cell),
  (cell: string) => /^\p{L}{0,4}[-/ ]?\d{2,}$/u.test(cell),
]

function headingRow(table: readonly (readonly string[])[]): number | null {
  const usual = usualWidth(table, 0)
  let best: number | null = null
  let most = 0
  let looked = 0
  for (let line = 0; line < table.length && looked < TOP_ROWS; line++) {
    const row = table[line]!
    const filled = row.filter(Boolean)
    if (filled.length === 0) continue
    looked++
    const words = filled.filter((cell) => /\p{L}/u.test(cell))
    if (filled.length < usual / 2 || words.length < filled.length / 2 || filled.some((cell) => cell.includes('@')))
      continue
    const under = rowsUnder(table, line)
    if (under.length === 0 && table.length > 1) continue
    const score = scoreOf(row, under)
    if (score > most) {
      best = line
      most = score
    }
  }
  return best
}

function rowsUnder(table: readonly (readonly string[])[], line: number): (readonly string[])[] {
  const under: (readonly string[])[] = []
  for (let at = line + 1; at < table.length && under.length < ROWS_UNDER; at++)
    if (table[at]!.some(Boolean)) under.push(table[at]!)
  return under
}

/** How much a row looks like the headings of those under it: 3 for each thing it names, 1 for each column that is of another kind. */
function scoreOf(row: readonly string[], under: readonly (readonly string[])[]): number {
  const named = new Set<string>()
  let different = 0
  row.forEach((cell, column) => {
    if (!cell) return
    const cells = under.flatMap((other) => other[column] || [])
    const key = foldText(cell)
    // A word that stands in every row ("student", in a column of roles) names nothing.
    const again = cells.filter((other) => foldText(other) === key).length
    if (cells.length > 1 && again > cells.length / 4) return
    const role = roleOfHeading(cell)
    if (role !== 'unused') named.add(role)
    else if (isOfOthers(cell) || isOfStudent(cell)) named.add(key)
    if (KINDS.some((is) => !is(cell) && cells.length > 0 && cells.filter(is).length >= 0.6 * cells.length)) different++
  })
  // Without a word that is known, one column of another kind may be somebody who has no address.
  return named.size === 0 && different < 2 ? 0 : 3 * named.size + different
}
