import type { BoardRow } from '../live/protocol.js'
import { isIn } from './journal.js'

/** Whether nothing has been done in a copy yet: it may have been opened. */
export const isNotBegun = ({ state, words, answered }: Pick<BoardRow, 'state' | 'words' | 'answered'>): boolean =>
  (state === 'not opened' || state === 'opened') && words === 0 && answered === 0

/**
 * How much later than its due time a copy was submitted, or by how much it is overdue.
 * @param now milliseconds since 1970
 * @returns milliseconds; null: it is not late
 */
export function lateBy(
  { state, dueAt, submittedAt }: Pick<BoardRow, 'state' | 'dueAt' | 'submittedAt'>,
  now: number,
): number | null {
  if (dueAt === null) return null
  const isSubmitted = isIn({ state })
  if (isSubmitted && submittedAt === null) return null
  const late = (isSubmitted ? submittedAt! : now) - dueAt
  return late > 0 ? late : null
}

/** The middle of some counts, for the head of a board: of an even number the lower one; null of none. */
export function medianOf(counts: readonly number[]): number | null {
  return counts.toSorted((a, b) => a - b)[Math.floor((counts.length - 1) / 2)] ?? null
}
