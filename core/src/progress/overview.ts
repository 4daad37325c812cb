import { gathered } from '../common/gathered.js'
import type { OutCell } from '../formats/table.js'
import { type PersonName, listName } from '../roster/names.js'
import { lateBy } from './board.js'
import { type CopyState, isIn, isOverdue } from './journal.js'

/** A handout, as a column of a class overview. Times in milliseconds since 1970. */
export interface OverviewHandout {
  readonly id: string
  readonly number: number
  readonly title: string
  /** The name of its unit; null: in none. */
  readonly unit: string | null
  readonly dueAt: number | null
}

/** A copy, as a mark in a class overview. Times in milliseconds since 1970. */
export interface OverviewCopy {
  readonly copyId: string
  readonly handoutId: string
  readonly title: string
  readonly state: CopyState
  readonly pensDown: boolean
  readonly answered: number
  readonly spaces: number
  readonly dueAt: number | null
  readonly submittedAt: number | null
  /** The students who hold it. */
  readonly personIds: readonly string[]
}

/** A student of a class overview with their copies. */
export interface OverviewLine<S> {
  readonly student: S
  /** By handout. */
  readonly cells: ReadonlyMap<string, readonly OverviewCopy[]>
  /** How many copies are in, of how many. */
  readonly isIn: number
  readonly of: number
  /** Those whose due time has passed and that are not in. */
  readonly missing: readonly OverviewCopy[]
}

/**
 * The lines of a class overview: students down, handouts across.
 * @param handouts which are shown: copies of others do not count
 * @param now milliseconds since 1970
 */
export function overviewLines<S extends { readonly personId: string }>(
  students: readonly S[],
  handouts: readonly OverviewHandout[],
  copies: readonly OverviewCopy[],
  now: number,
): OverviewLine<S>[] {
  const shown = new Set(handouts.map(({ id }) => id))
  const ofStudent = new Map<string, OverviewCopy[]>()
  for (const copy of copies) {
    if (!shown.has(copy.handoutId)) continue
    for (const personId of copy.personIds) {
      const own = ofStudent.get(personId)
      if (own) own.push(copy)
      else ofStudent.set(personId, [copy])
    }
  }
  return students.map((student) => {
    const own = ofStudent.get(student.personId) ?? []
    return {
      student,
      cells: gathered(own, ({ handoutId }) => handoutId),
      isIn: own.filter(isIn).length,
      of: own.length,
      missing: own.filter((copy) => isOverdue(copy, now)),
    }
  })
}

/** How many copies of a handout are in, of how many, each copy once however many hold it. */
export function inOfHandout(copies: readonly OverviewCopy[], handoutId: string): { isIn: number; of: number } {
  const own = copies.filter((copy) => copy.handoutId === handoutId)
  return { isIn: own.filter(isIn).length, of: own.length }
}

/** What a mark of the overview says, in words. */
export function copyInWords(copy: OverviewCopy, now: number): string {
  const late = lateBy(copy, now) !== null
  return [
    copy.state,
    !isIn(copy) && copy.spaces > 0 && copy.answered > 0 && `${copy.answered} of ${copy.spaces}`,
    copy.pensDown && 'pens down',
    late && (isIn(copy) ? 'late' : 'overdue'),
  ]
    .filter(Boolean)
    .join(', ')
}

/**
 * A class overview as a table with a head, a line a student.
 * @param now milliseconds since 1970
 */
export function overviewTable<S extends PersonName & { readonly personId: string }>(
  students: readonly S[],
  handouts: readonly OverviewHandout[],
  copies: readonly OverviewCopy[],
  now: number,
): OutCell[][] {
  return [
    ['Student', ...handouts.map(({ number, title }) => `No. ${number} ${title}`), 'In', 'of', 'Missing'],
    ...overviewLines(students, handouts, copies, now).map((line): OutCell[] => [
      listName(line.student),
      ...handouts.map(({ id }) => (line.cells.get(id) ?? []).map((copy) => copyInWords(copy, now)).join('; ')),
      ...[line.isIn, line.of, line.missing.length],
    ]),
  ]
}
