import type { CopyState } from '../progress/journal.js'
import type { BookCopyFacts } from './markBook.js'

/** What a student has of a handout: a copy, and its mark. */
export interface BookCopy extends BookCopyFacts {
  readonly handoutId: string
  readonly personId: string
  /** How many hold it. */
  readonly holders: number
  /** About how much of it is answered, 0 to 1: as far as its sheet mark shows. */
  readonly share: number
}

/**
 * The copies of a handout in a mark book as they are sent: text, so that ten thousands of them are little and cost those who send
 * them nothing to read. A line a copy and holder: the place of the student among the students, the state, due, submitted, total,
 * most, 1 for excused and 2 for done, how many hold it, how many per cent are answered, and the step, which may be any words
 * without a new line. What there is none of is empty.
 */
export interface BookCopies {
  readonly handoutId: string
  readonly lines: string
}

/** The copies of a mark book, one by one. */
export function bookCopies(
  sent: readonly BookCopies[],
  students: readonly { readonly personId: string }[],
): BookCopy[] {
  return sent.flatMap(({ handoutId, lines }) =>
    lines === '' ? [] : lines.split('\n').map((line) => bookCopy(handoutId, line, students)),
  )
}

const BETWEEN = '|'
const FACTS = 9

function bookCopy(handoutId: string, line: string, students: readonly { readonly personId: string }[]): BookCopy {
  const facts = line.split(BETWEEN)
  const number = (at: number) => (facts[at] === '' ? null : Number(facts[at]))
  const marks = Number(facts[6])
  const step = facts.length > FACTS + 1 ? facts.slice(FACTS).join(BETWEEN) : facts[FACTS]!
  return {
    handoutId,
    personId: students[Number(facts[0])]!.personId,
    state: facts[1] as CopyState,
    dueAt: number(2),
    submittedAt: number(3),
    total: number(4),
    most: number(5),
    step: step === '' ? null : step,
    excused: (marks & 1) !== 0,
    isDone: (marks & 2) !== 0,
    holders: Number(facts[7]),
    share: Number(facts[8]) / 100,
  }
}
