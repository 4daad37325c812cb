import { type Outcome, fine, refuse } from '../errors/problem.js'
import type { RubricLevel, RubricRow } from '../handout/statement.js'
import { RUBRIC_LIMITS } from '../handout/readStatement.js'
import { cleanText } from '../roster/names.js'

/**
 * A rubric as a table: a line a row, with its most points, then its levels, best first, each `points: what who reaches it has done`.
 * {@link readRubricTable} reads it as it was.
 */
export function rubricTable(rows: readonly RubricRow[]): string[][] {
  const count = Math.max(0, ...rows.map(({ levels = [] }) => levels.length))
  return [
    ['What is looked at', 'Points', ...Array.from({ length: count }, (_, at) => `Level ${at + 1}`)],
    ...rows.map(({ name, points, levels = [] }) => [
      name,
      String(points),
      ...levels.toSorted((a, b) => b.points - a.points).map((level) => `${level.points}: ${level.name}`),
      ...Array.from({ length: count - levels.length }, () => ''),
    ]),
  ]
}

const NUMBER = String.raw`(\d{1,5}(?:[.,]\d{1,2})?)`
const UNIT = String.raw`(?:\s*(?:points?|pts?|p)\.?)?`
/** `3: names both`, `3 points – names both`: a level that says itself what it is worth. */
const OWN_POINTS = new RegExp(String.raw`^\(?${NUMBER}${UNIT}\)?\s*[:–—-]\s*(.*)$`, 'isu')
/** `3`, `3 points`. */
const BARE = new RegExp(String.raw`^\(?${NUMBER}${UNIT}\)?$`, 'iu')
/** `Good (3)`, `Good 3 points`, `3 – Good`, `Good: 3`. */
const HEAD_AFTER = new RegExp(String.raw`^(.*?)[\s:–—-]*\(?\s*${NUMBER}${UNIT}\s*\)?$`, 'iu')
const MOST = /^(points|most|max(imum)?|out of|worth|marks?)( points)?$/iu
const NUMBERED = /^level \d+$/iu

const numberOf = (text: string): number => Number(text.replace(',', '.'))

interface Head {
  /** What its levels are called; empty: they say it themselves. */
  readonly word: string
  readonly points: number | null
}

function readHead(cell: string): Head {
  if (NUMBERED.test(cell)) return { word: '', points: null }
  const own = OWN_POINTS.exec(cell)
  if (own) return { word: cleanText(own[2]!), points: numberOf(own[1]!) }
  const after = HEAD_AFTER.exec(cell)
  return after ? { word: cleanText(after[1]!), points: numberOf(after[2]!) } : { word: cleanText(cell), points: null }
}

/** Whether the first line of a table is its head, and no row of the rubric yet. */
function hasHead([first = [], next = []]: readonly (readonly string[])[]): boolean {
  const rest = first.slice(1).filter(Boolean)
  const below = next.slice(1).filter(Boolean)
  if (rest.some((cell) => BARE.test(cell)))
    // A head of points alone has words below it.
    return rest.every((cell) => BARE.test(cell)) && below.some((cell) => !BARE.test(cell))
  // Levels that say what they are worth, and below them too.
  return !(
    rest.some((cell) => OWN_POINTS.test(cell)) &&
    (below.length === 0 || below.some((cell) => OWN_POINTS.test(cell)))
  )
}

const wrong = (sentence: string) => refuse({ code: 'rubric-table', field: 'rubric', sentence })

/**
 * Reads a rubric from a table as people have them: a head, then a line for each thing that is looked at, its levels beside it. What a
 * level is worth stands in the head (`Good (3)`) or before its words (`3: names both`); a column `Points` says the most of a row, or
 * else its best level does. Lines above the head and blank ones are passed over.
 * @param newId makes the ids of rows and levels
 */
export function readRubricTable(cells: readonly (readonly string[])[], newId: () => string): Outcome<RubricRow[]> {
  const filled = cells.map((row) => row.map((cell) => cell.trim())).filter((row) => row.some(Boolean))
  const first = filled.findIndex((row) => row.filter(Boolean).length >= 2)
  if (first < 0) return wrong('A rubric is a table: what is looked at in the first column, points or levels beside it.')
  const table = filled.slice(first)
  const isHeaded = hasHead(table)
  const head = isHeaded ? table[0]! : []
  const body = table.slice(isHeaded ? 1 : 0).filter((row) => row[0])
  if (body.length === 0) return wrong('There is no line below the head of this table.')
  if (body.length > RUBRIC_LIMITS.rows) return wrong(`A rubric has up to ${RUBRIC_LIMITS.rows} rows.`)
  const mostAt = isHeaded
    ? head.findIndex((cell, at) => at > 0 && MOST.test(cell))
    : body.every((row) => BARE.test(row[1] ?? ''))
      ? 1
      : -1
  const heads = head.map(readHead)
  const rows: RubricRow[] = []
  for (const cellsOfRow of body) {
    const row = readRow(cellsOfRow, heads, mostAt, newId)
    if (!row.ok) return row
    rows.push(row.value)
  }
  return fine(rows)
}

function readRow(
  row: readonly string[],
  heads: readonly Head[],
  mostAt: number,
  newId: () => string,
): Outcome<RubricRow> {
  const name = cleanText(row[0]!).slice(0, RUBRIC_LIMITS.letters)
  const levels: RubricLevel[] = []
  for (const [at, cell] of row.entries()) {
    if (at === 0 || at === mostAt || cell === '') continue
    const level = readLevel(cell, heads[at] ?? { word: '', points: null })
    if (!level)
      return wrong(`Say what each level of “${name}” is worth: “Good (3)” in the head, or “3: …” before its words.`)
    if (levels.some(({ points }) => points === level.points))
      return wrong(`Two levels of “${name}” are worth ${level.points}: each is worth something else.`)
    levels.push({ id: newId(), ...level })
  }
  if (levels.length > RUBRIC_LIMITS.levels) return wrong(`“${name}” has more than ${RUBRIC_LIMITS.levels} levels.`)
  const said = BARE.exec(row[mostAt] ?? '')
  const best = Math.max(0, ...levels.map(({ points }) => points))
  const points = said ? numberOf(said[1]!) : best
  if (points === 0) return wrong(`Say how many points “${name}” is worth.`)
  if (points > RUBRIC_LIMITS.points) return wrong(`“${name}” is worth more than ${RUBRIC_LIMITS.points} points.`)
  if (best > points) return wrong(`A level of “${name}” is worth more than the ${points} of its row.`)
  const plain = { id: newId(), name, points }
  return fine(levels.length > 0 ? { ...plain, levels: levels.toSorted((a, b) => b.points - a.points) } : plain)
}

/** A level as a cell says it, with what stands above it; null: nothing says what it is worth. */
function readLevel(cell: string, { word, points: above }: Head): { name: string; points: number } | null {
  const own = OWN_POINTS.exec(cell)
  const bare = BARE.exec(cell)
  const points = own ? numberOf(own[1]!) : (above ?? (bare ? numberOf(bare[1]!) : null))
  if (points === null) return null
  const words = own ? cleanText(own[2]!) : bare ? '' : cleanText(cell)
  return { name: [word, words].filter(Boolean).join(': ').slice(0, RUBRIC_LIMITS.letters), points }
}
