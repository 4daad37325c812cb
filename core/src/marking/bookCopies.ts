import type { CopyState } from '../progress/journal.js'
import type { BookCopyFacts } from './markBook.js'
import type { Points } from './points.js'

/** What a student has of a handout: a copy, and its mark. */
export interface BookCopy extends BookCopyFacts {
  readonly handoutId: string
  readonly personId: string
  /** How many hold it. */
  readonly holders: number
  /** About how much of it is answered, 0 to 1: as far as its sheet mark shows. */
  readonly share: number
}

/** The copies of a handout in a mark book as they are sent: a row of each fact, so that ten thousands of them are little. */
export interface BookCopies {
  readonly handoutId: string
  /** Whose: the place among the students. */
  readonly students: readonly number[]
  readonly states: readonly CopyState[]
  readonly dueAt: readonly (number | null)[]
  readonly submittedAt: readonly (number | null)[]
  readonly total: readonly (Points | null)[]
  readonly most: readonly (Points | null)[]
  readonly step: readonly (string | null)[]
  /** The places in these rows of those that are excused. */
  readonly excused: readonly number[]
  /** The places of those whose marking is done. */
  readonly done: readonly number[]
  /** How many hold it. */
  readonly holders: readonly number[]
  readonly share: readonly number[]
}

/** The copies of a mark book, one by one. */
export function bookCopies(
  sent: readonly BookCopies[],
  students: readonly { readonly personId: string }[],
): BookCopy[] {
  return sent.flatMap(({ handoutId, ...rows }) => {
    const [excused, done] = [new Set(rows.excused), new Set(rows.done)]
    return rows.students.map((student, at): BookCopy => ({
      handoutId,
      personId: students[student]!.personId,
      state: rows.states[at]!,
      dueAt: rows.dueAt[at]!,
      submittedAt: rows.submittedAt[at]!,
      total: rows.total[at]!,
      most: rows.most[at]!,
      step: rows.step[at]!,
      excused: excused.has(at),
      isDone: done.has(at),
      holders: rows.holders[at]!,
      share: rows.share[at]!,
    }))
  })
}
