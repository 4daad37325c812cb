import type { Rounds } from '../handout/statement.js'
import { divided } from './mark.js'
import type { Points } from './points.js'

/** Points out of so many. */
export interface OutOf {
  readonly total: Points
  readonly most: Points
}

/**
 * The mark that counts where a copy was opened again to be improved: the last, the best by per cent (of equal ones the last), or the mean
 * in per cent of all rounds, out of what the last is out of, rounded to a hundredth of a point, halves away from zero.
 * @param marks of all rounds that have one, in order; not empty
 */
export function roundsMark(how: Rounds, marks: readonly OutOf[]): OutOf {
  const last = marks.at(-1)!
  if (how === 'last' || marks.length === 1) return last
  if (how === 'best')
    return marks.reduce((best, mark) => (mark.total * best.most >= best.total * mark.most ? mark : best))
  // Out of nothing there is no part of it.
  const rounds = marks.filter(({ most }) => most > 0)
  if (rounds.length === 0) return last
  const sum = rounds.reduce((all, { total, most }) => all + divided(total * last.most * 1_000, most), 0)
  return { total: divided(sum, rounds.length * 1_000), most: last.most }
}
