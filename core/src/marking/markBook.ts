import type { Rounds } from '../handout/statement.js'
import type { OutCell } from '../formats/table.js'
import { gathered } from '../common/gathered.js'
import { type CopyState, isOverdue } from '../progress/journal.js'
import { type Outcome, fine, refuse } from '../errors/problem.js'
import { type PersonName, cleanText, listName } from '../roster/names.js'
import { divided, percentOf } from './mark.js'
import { type Points, isPoints } from './points.js'
import { type OutOf, roundsMark } from './rounds.js'

/** A column of a mark book: a handout, or something marked on paper. */
export interface MarkColumn {
  readonly id: string
  /** The unit it belongs to; null: none. */
  readonly unit: string | null
  /** How much it counts: 2 is twice. 0: it is shown and does not count. */
  readonly weight: number
}

/** What stands in a cell. */
export type MarkCell =
  | { readonly is: 'mark'; readonly total: Points; readonly most: Points }
  /** A step of a scale, words alone: it stands there and counts nothing. */
  | { readonly is: 'words' }
  | { readonly is: 'excused' }
  /** Due, and not there. */
  | { readonly is: 'missing' }
  | { readonly is: 'open' }

/** How a mark book of a class reckons. */
export interface MarkBookRules {
  /** What is missing counts as nothing, or as zero. */
  readonly missing: 'nothing' | 'zero'
  /** Only so many of the best count in each unit; null: all. */
  readonly best: number | null
  /** How much each handout or column counts, by its id; missing: 1. */
  readonly weights: Readonly<Record<string, number>>
}

export const PLAIN_RULES: MarkBookRules = { missing: 'nothing', best: null, weights: {} }
/** Reads by what rules a mark book is to reckon: weights have two decimals at most; those of 1 are not kept. */
export function checkMarkBookRules({ missing, best, weights }: MarkBookRules): Outcome<MarkBookRules> {
  const entries = Object.entries(weights)
  const isWeight = (weight: unknown) =>
    typeof weight === 'number' &&
    weight >= 0 &&
    weight <= MARK_BOOK_LIMITS.weight &&
    Math.abs(weight * 100 - Math.round(weight * 100)) < 1e-6
  if (entries.length > MARK_BOOK_LIMITS.weights || !entries.every(([, weight]) => isWeight(weight)))
    return refuse({
      code: 'weight',
      field: 'weights',
      sentence: `A weight is a number from 0 to ${MARK_BOOK_LIMITS.weight} with two decimals at most.`,
    })
  return fine({ missing, best, weights: Object.fromEntries(entries.filter(([, weight]) => weight !== 1)) })
}

/** A column for something that was marked on paper. */
export interface PaperColumnText {
  readonly name: string
  readonly unit: string | null
  /** Out of how many. */
  readonly most: Points
}

/** Reads a column for something on paper as it was typed. */
export function checkPaperColumn({ name, unit, most }: PaperColumnText): Outcome<PaperColumnText> {
  const called = cleanText(name)
  if (!called) return refuse({ code: 'empty', field: 'name', sentence: 'Give the column a name.' })
  if (!isPoints(most, 1)) return refuse({ code: 'points', field: 'most', sentence: 'Say out of how many points.' })
  return fine({ name: called, unit: (unit && cleanText(unit)) || null, most })
}

export const MARK_BOOK_LIMITS = { weight: 100, best: 100, columns: 100, weights: 1_000, name: 80, note: 2_000 } as const

/** What a line of a mark book comes to. */
export interface LineMean {
  /** In hundredths of a per cent; null: nothing counts yet. */
  readonly percent: number | null
  /** The ids of the columns that count. */
  readonly counts: readonly string[]
}

/**
 * The mean of a student: each mark in per cent of its most, times its weight, divided by the weights of those that count. What is
 * excused, open or only words counts nothing; what is missing as the rules say. Where only the best of each unit count, the best by
 * per cent do, of equal ones the earlier. Rounded once, at the end, to a hundredth of a per cent, halves away from zero; so it lies between
 * the least and the greatest mark.
 */
export function lineMean(
  columns: readonly MarkColumn[],
  cellOf: (columnId: string) => MarkCell,
  { missing, best }: Pick<MarkBookRules, 'missing' | 'best'>,
): LineMean {
  const marks = columns.flatMap((column) => {
    const cell = cellOf(column.id)
    if (column.weight <= 0) return []
    if (cell.is === 'mark') return cell.most > 0 ? [{ ...column, total: cell.total, most: cell.most }] : []
    return cell.is === 'missing' && missing === 'zero' ? [{ ...column, total: 0, most: 100 }] : []
  })
  const units = new Map<string | null, typeof marks>()
  for (const mark of marks) units.set(mark.unit, [...(units.get(mark.unit) ?? []), mark])
  const counting = new Set(
    [...units.values()].flatMap((own) =>
      best === null ? own : own.toSorted((a, b) => b.total * a.most - a.total * b.most).slice(0, best),
    ),
  )
  const counted = marks.filter((mark) => counting.has(mark))
  // Weights have two decimals: whole hundredths of them, and each mark in millionths of its most.
  const weights = counted.reduce((sum, { weight }) => sum + Math.round(weight * 100), 0)
  const sum = counted.reduce(
    (all, { total, most, weight }) => all + divided(total * 1_000_000, most) * Math.round(weight * 100),
    0,
  )
  return {
    percent: weights === 0 ? null : divided(sum, weights * 100),
    counts: counted.map(({ id }) => id),
  }
}

/** A copy of a student, as far as a mark book goes. */
export interface BookCopyFacts {
  readonly state: CopyState
  readonly dueAt: number | null
  readonly submittedAt: number | null
  readonly total: Points | null
  readonly most: Points | null
  readonly step: string | null
  readonly excused: boolean
  /** The marking of it is done: only then its mark counts. */
  readonly isDone: boolean
}

/**
 * What stands in the cell of a student and a handout. Of several copies the marks are added, each to what it is out of; one that is
 * excused takes no part.
 * @param now milliseconds since 1970
 */
export function bookCell(copies: readonly BookCopyFacts[], now: number): MarkCell {
  const asked = copies.filter(({ excused }) => !excused)
  if (copies.length > 0 && asked.length === 0) return { is: 'excused' }
  const marked = asked.filter(({ isDone }) => isDone)
  const points = marked.filter(({ total, most }) => total !== null && most !== null)
  if (points.length > 0)
    return {
      is: 'mark',
      total: points.reduce((sum, { total }) => sum + total!, 0),
      most: points.reduce((sum, { most }) => sum + most!, 0),
    }
  if (marked.length > 0) return { is: 'words' }
  return { is: asked.some((copy) => isOverdue(copy, now)) ? 'missing' : 'open' }
}

/** How marks are spread: their number in each of so many equal parts of the most, the least part first, and their median. */
export function markSpread(
  marks: readonly { readonly total: Points; readonly most: Points }[],
  parts: number,
): { readonly counts: readonly number[]; readonly median: number | null } {
  const counts = Array.from({ length: parts }, () => 0)
  for (const { total, most } of marks) {
    const at = most === 0 ? 0 : Math.floor((Math.min(total, most) * parts) / most)
    counts[Math.min(parts - 1, at)]!++
  }
  const sorted = marks.map(({ total, most }) => percentOf(total, most)).toSorted((a, b) => a - b)
  const half = sorted.length >> 1
  const median =
    sorted.length === 0 ? null : sorted.length % 2 === 1 ? sorted[half]! : divided(sorted[half - 1]! + sorted[half]!, 2)
  return { counts, median }
}

/** A column of a mark book with its head, and what stands in it. */
export interface BookColumn extends MarkColumn {
  readonly title: string
  /** `No. 6`; empty: marked on paper. */
  readonly number: string
}

/** A mark book as it is kept: students, columns, and the copies and paper marks in them. */
export interface Book<S> {
  readonly students: readonly S[]
  readonly columns: readonly BookColumn[]
  /** By student and column. */
  readonly cellOf: (personId: string, columnId: string) => MarkCell
}

/** What is read of a mark book of a class. */
export interface BookRead<S, C> {
  readonly rules: MarkBookRules
  readonly students: readonly S[]
  readonly handouts: readonly {
    readonly id: string
    readonly number: number
    readonly title: string
    readonly unit: string | null
    /** Which mark counts where copies were opened again. */
    readonly rounds: Rounds
  }[]
  /** Marks of earlier rounds that count, in order. */
  readonly earlier: readonly (OutOf & { readonly handoutId: string; readonly personId: string })[]
  readonly paper: readonly {
    readonly id: string
    readonly name: string
    readonly unit: string | null
    readonly most: Points
  }[]
  readonly copies: readonly C[]
  readonly paperMarks: readonly {
    readonly columnId: string
    readonly personId: string
    readonly total: Points | null
    readonly excused: boolean
  }[]
}

/**
 * A mark book made ready to be shown: its columns in order, and its cells found by student and column.
 * @param now milliseconds since 1970
 */
export function bookOf<
  S extends { readonly personId: string },
  C extends BookCopyFacts & { readonly handoutId: string; readonly personId: string },
>(
  { rules, students, handouts, earlier, paper, copies, paperMarks }: BookRead<S, C>,
  now: number,
): Book<S> & {
  readonly copiesOf: (personId: string, columnId: string) => readonly C[]
  /** The marks of earlier rounds that count beside the last one. */
  readonly earlierOf: (personId: string, columnId: string) => readonly OutOf[]
} {
  const weightOf = (id: string) => rules.weights[id] ?? 1
  const columns: BookColumn[] = [
    ...handouts.map(({ id, number, title, unit }) => ({
      id,
      title,
      unit,
      number: `No. ${number}`,
      weight: weightOf(id),
    })),
    ...paper.map(({ id, name, unit }) => ({ id, title: name, unit, number: '', weight: weightOf(id) })),
  ]
  const byCell = byColumn(copies, ({ handoutId }) => handoutId)
  const earlierByCell = byColumn(earlier, ({ handoutId }) => handoutId)
  const onPaper = byColumn(paperMarks, ({ columnId }) => columnId)
  const roundsOf = new Map(handouts.map(({ id, rounds }) => [id, rounds]))
  const mostOf = new Map(paper.map(({ id, most }) => [id, most]))
  const cells = new Map<string, Map<string, MarkCell>>()
  const cellAt = (personId: string, columnId: string): MarkCell => {
    const most = mostOf.get(columnId)
    if (most === undefined) {
      const cell = bookCell(byCell(personId, columnId), now)
      const before = earlierByCell(personId, columnId)
      if (before.length === 0 || cell.is === 'excused' || cell.is === 'words') return cell
      const marks = cell.is === 'mark' ? [...before, cell] : before
      const { total, most: outOf } = roundsMark(roundsOf.get(columnId) ?? 'last', marks)
      return { is: 'mark', total, most: outOf }
    }
    const mark = onPaper(personId, columnId).at(-1)
    if (mark?.excused) return { is: 'excused' }
    return mark && mark.total !== null ? { is: 'mark', total: mark.total, most } : { is: 'open' }
  }
  return {
    ...{ students, columns },
    cellOf: (personId, columnId) => {
      const column = cells.get(columnId) ?? new Map<string, MarkCell>()
      const known = column.get(personId)
      if (known) return known
      const cell = cellAt(personId, columnId)
      cells.set(columnId, column.set(personId, cell))
      return cell
    },
    copiesOf: byCell,
    earlierOf: earlierByCell,
  }
}

const NONE: readonly never[] = []

/** Things found by student and column: a column's are sorted when one of them is first asked for. */
function byColumn<T extends { readonly personId: string }>(
  things: readonly T[],
  columnOf: (thing: T) => string,
): (personId: string, columnId: string) => readonly T[] {
  const columns = gathered(things, columnOf)
  const sorted = new Map<string, ReadonlyMap<string, readonly T[]>>()
  return (personId, columnId) => {
    let column = sorted.get(columnId)
    if (!column) {
      column = gathered(columns.get(columnId) ?? NONE, (thing) => thing.personId)
      sorted.set(columnId, column)
    }
    return column.get(personId) ?? NONE
  }
}

/** A mark book as a table with a head, a line a student: marks as numbers, words for what is none. */
export function markBookTable<S extends PersonName & { readonly personId: string }>(
  { students, columns, cellOf }: Book<S>,
  rules: MarkBookRules,
): OutCell[][] {
  return [
    ['Student', ...columns.map(({ number, title }) => [number, title].filter(Boolean).join(' ')), 'Mean, per cent'],
    ...students.map((student): OutCell[] => {
      const { percent } = lineMean(columns, (id) => cellOf(student.personId, id), rules)
      return [
        listName(student),
        ...columns.map(({ id }): OutCell => {
          const cell = cellOf(student.personId, id)
          return cell.is === 'mark' ? cell.total / 100 : cell.is === 'open' ? '' : cell.is
        }),
        percent === null ? '' : percent / 100,
      ]
    }),
  ]
}
