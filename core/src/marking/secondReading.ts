import { type Ruling, allowed, denied } from '../access/viewer.js'
import { divided } from './mark.js'
import type { Points } from './points.js'

/** What somebody who reads a marked copy a second time would give it: points, or a step of the scale, with a word on it. */
export interface Reading {
  readonly total: Points | null
  readonly step: string | null
}

/**
 * By how much a second reading is above the first, negative below it.
 * @returns hundredths of a point; null: one of them has no points
 */
export const readingDifference = (first: Reading, second: Reading): Points | null =>
  first.total === null || second.total === null ? null : second.total - first.total

/** Whether two readings say the same. */
export const agrees = (first: Reading, second: Reading): boolean =>
  first.total !== null && second.total !== null
    ? first.total === second.total
    : first.step !== null && first.step === second.step

/**
 * Between two readings: the mean of their points, to a hundredth, halves away from zero.
 * @returns null: one of them has no points
 */
export const meanReading = (first: Reading, second: Reading): Points | null =>
  first.total === null || second.total === null ? null : divided(first.total + second.total, 2)

/**
 * Whether somebody who may mark a copy may read it a second time: it is marked, and by somebody else. Whoever has may change what they said.
 * @param copy `markedBy`: who changed its mark last; null: nobody has marked it
 */
export function mayReadAgain(
  {
    isDone,
    markedBy,
    readers,
  }: { readonly isDone: boolean; readonly markedBy: string | null; readonly readers: readonly string[] },
  personId: string,
): Ruling {
  if (readers.includes(personId)) return allowed('reader')
  if (!isDone || markedBy === null)
    return denied('not-marked', 'A second reading is of a copy that is marked: say first that it is.')
  return markedBy === personId
    ? denied('own-mark', 'You marked this copy yourself: somebody else reads it a second time.')
    : allowed('marked')
}
