import { findForm } from '../roster/find.js'
import type { PersonName } from '../roster/names.js'
import type { BookColumn } from './markBook.js'
import { type Points, pointsInWords, readPoints } from './points.js'

/** What a cell of a mark book is to hold: points, excused, or nothing. */
export interface CellValue {
  readonly total: Points | null
  readonly excused: boolean
}

/** What was typed into a cell, read; or what is wrong with it. Out of how many is the column's to say: `14/20` is refused. */
export function readBookCell(typed: string): CellValue | { readonly sentence: string } {
  const text = typed.trim()
  if (text === '' || text === '–' || text === '-') return { total: null, excused: false }
  if (/^ex(cused)?$/i.test(text)) return { total: null, excused: true }
  if (text.startsWith('=')) return { sentence: 'This is a formula: bring in what it comes to.' }
  const read = readPoints(text)
  return read.ok ? { total: read.value, excused: false } : { sentence: read.problems[0]!.sentence }
}

/** A mark in a table, for a student and a column that are known. */
export interface MarkRead {
  readonly personId: string
  readonly columnId: string
  readonly typed: string
  readonly to: CellValue
}

/** What a table of marks says. */
export interface MarksTable {
  readonly marks: readonly MarkRead[]
  /** Columns of the mark book that were found in it. */
  readonly columns: readonly string[]
  /** Names in it that nobody has, and that several have. */
  readonly unknown: readonly string[]
  readonly doubtful: readonly string[]
  /** Heads over figures that are no column of the mark book. */
  readonly otherHeads: readonly string[]
  /** What cannot be read, with whose it is and under which head. */
  readonly wrong: readonly {
    readonly name: string
    readonly head: string
    readonly typed: string
    readonly sentence: string
  }[]
}

type Column = Pick<BookColumn, 'id' | 'title' | 'number'>

/** The ways in which people write a name in a list. */
const nameForms = ({ first, last }: PersonName): string[] => [
  ...new Set([findForm(`${first} ${last}`), findForm(`${last} ${first}`)]),
]

/** All ways in which a column may be named at the head of a list; `No. 6 Tides`, `Tides`, `No. 6`. */
const headForms = ({ title, number }: Column): string[] =>
  [`${number} ${title}`, title, number].map(findForm).filter(Boolean)

/**
 * Reads marks from a table as people have them: a head with what was marked, a line a student, in whatever order, with lines above and
 * columns between that are something else. Names are looked for in one column or in two beside each other, whichever knows most of the
 * students, without regard to accents, case and which name comes first. An empty cell says nothing.
 * @param students those of the mark book
 * @param columns those of the mark book; a head that fits several of them is none of them
 */
export function readMarksTable(
  rows: readonly (readonly string[])[],
  students: readonly (PersonName & { readonly personId: string })[],
  columns: readonly Column[],
): MarksTable {
  const byHead = unique(columns.flatMap((column) => headForms(column).map((form) => [form, column.id] as const)))
  const headAt = rows.findIndex((row) => row.some((cell) => byHead.get(findForm(cell))))
  const none = { marks: [], columns: [], unknown: [], doubtful: [], otherHeads: [], wrong: [] }
  if (headAt < 0) return none
  const head = rows[headAt]!
  const body = rows.slice(headAt + 1).filter((row) => row.some((cell) => cell.trim()))
  const byName = unique(students.flatMap((one) => nameForms(one).map((form) => [form, one.personId] as const)))
  const nameOf = bestNames(body, byName)
  if (!nameOf) return none
  const found = head.flatMap((cell, at) => {
    const id = byHead.get(findForm(cell))
    return id ? [{ at, id, head: cell.trim() }] : []
  })
  const read: MarkRead[] = []
  const wrong: MarksTable['wrong'][number][] = []
  const [unknown, doubtful] = [new Set<string>(), new Set<string>()]
  for (const row of body) {
    const name = nameOf(row)
    const personId = byName.get(findForm(name))
    if (!personId) {
      // A line without marks, as one of means, is nobody's.
      if (name && found.some(({ at }) => row[at]?.trim())) (personId === null ? doubtful : unknown).add(name)
      continue
    }
    for (const { at, id, head: over } of found) {
      const typed = row[at]?.trim() ?? ''
      if (!typed) continue
      const to = readBookCell(typed)
      if ('sentence' in to) wrong.push({ name, head: over, typed, sentence: to.sentence })
      else read.push({ personId, columnId: id, typed, to })
    }
  }
  const isFigure = (at: number) => body.some((row) => /^\d+([.,]\d+)?$/.test(row[at]?.trim() ?? ''))
  return {
    ...{ marks: read, wrong },
    columns: found.map(({ id }) => id),
    unknown: [...unknown],
    doubtful: [...doubtful],
    otherHeads: head.flatMap((cell, at) =>
      cell.trim() && !found.some((one) => one.at === at) && isFigure(at) ? [cell.trim()] : [],
    ),
  }
}

/** What each form stands for; null where it stands for several. */
function unique(pairs: readonly (readonly [string, string])[]): ReadonlyMap<string, string | null> {
  const map = new Map<string, string | null>()
  for (const [form, id] of pairs) map.set(form, map.has(form) && map.get(form) !== id ? null : id)
  return map
}

/** Where the names stand: in the column, or the two beside each other, in which most are known; null: none are. */
function bestNames(
  body: readonly (readonly string[])[],
  byName: ReadonlyMap<string, string | null>,
): ((row: readonly string[]) => string) | null {
  const width = Math.min(20, Math.max(0, ...body.map((row) => row.length)))
  let best: { readonly of: (row: readonly string[]) => string; readonly known: number } | null = null
  for (let at = 0; at < width; at++)
    for (const of of [
      (row: readonly string[]) => row[at]?.trim() ?? '',
      (row: readonly string[]) => `${row[at]?.trim() ?? ''} ${row[at + 1]?.trim() ?? ''}`.trim(),
    ]) {
      const known = body.filter((row) => byName.has(findForm(of(row)))).length
      if (known > (best?.known ?? 0)) best = { of, known }
    }
  return best?.of ?? null
}

/** A cell in words: `14½`, `excused`, nothing. */
export const bookCellInWords = ({ total, excused }: CellValue): string =>
  excused ? 'excused' : total === null ? '' : pointsInWords(total)
