import type { AnswerSpace, WorksheetContent } from './content.js'
import { kindOf } from './kinds/index.js'
import type { AnswerValue, Check } from './kinds/value.js'
import { answerSpaces } from './walk.js'

export type { Check } from './kinds/value.js'
export { isSameAnswer } from './kinds/wordKey.js'

/** Whether an answer space has a key that Gavrin can check by. */
export const hasKey = (space: AnswerSpace): boolean => kindOf(space).key?.isSet(space) ?? false

/** Checks what stands in an answer space against its key. */
export function checkAnswer(space: AnswerSpace, value: AnswerValue): Check {
  const { key } = kindOf(space)
  return key?.isSet(space) ? key.check(space, value) : { is: 'unchecked' }
}

/** What checking a whole copy comes to. */
export interface CheckedCopy {
  readonly bySpace: ReadonlyMap<string, Check>
  readonly right: number
  /** Answer spaces that have a key. */
  readonly checkable: number
  /** Points of the right answers, and of all spaces that have a key. */
  readonly points: number
  readonly possible: number
}

/** Checks all answers of a copy that have a key. */
export function checkCopy(
  content: Pick<WorksheetContent, 'blocks'>,
  valueOf: (space: AnswerSpace) => AnswerValue,
): CheckedCopy {
  const bySpace = new Map<string, Check>()
  let right = 0
  let checkable = 0
  let points = 0
  let possible = 0
  for (const space of answerSpaces(content)) {
    const check = checkAnswer(space, valueOf(space))
    bySpace.set(space.id, check)
    if (check.is === 'unchecked') continue
    checkable++
    possible += space.points ?? 0
    if (check.is !== 'right') continue
    right++
    points += space.points ?? 0
  }
  return { bySpace, right, checkable, points, possible }
}
