import { checkAnswer } from '../worksheet/autoCheck.js'
import type { AnswerSpace } from '../worksheet/content.js'
import type { AnswerValue } from '../worksheet/kinds/value.js'
import { drawnSpace } from '../worksheet/kinds/index.js'
import { divided } from './mark.js'
import { type Points, pointsFrom } from './points.js'

/**
 * The points that are proposed for an answer: all of them where it is right by its key, none where it is wrong or empty. Of several
 * choices each right one has its part and each wrong one takes one away, never below 0, rounded to a quarter point.
 * @returns null: nothing is proposed, for there is no key to tell by
 */
export function proposedPoints(space: AnswerSpace, value: AnswerValue): Points | null {
  const most = pointsFrom(space.points ?? 0)
  if (most === 0) return null
  const { is } = checkAnswer(space, value)
  if (is === 'unchecked') return null
  if (is === 'right') return most
  const drawn = drawnSpace(space)
  if (is === 'empty' || drawn.is !== 'options' || !drawn.many || !('chosen' in value)) return 0
  const right = drawn.right ?? []
  const hits = value.chosen.filter((id) => right.includes(id)).length
  const misses = value.chosen.filter((id) => !right.includes(id)).length
  return Math.min(most, divided(most * Math.max(0, hits - misses), right.length * 25) * 25)
}
