import { type AnswerValue, answerText } from '../progress/answers.js'
import type { AnswerSpace, Leniency, WordKey, WorksheetContent } from './content.js'
import { readNumberText } from './numbers.js'
import { answerSpaces } from './walk.js'

/** What checking an answer against its key tells. */
export type Check =
  /** There is no key, or it is for a person to judge. */
  | { readonly is: 'unchecked' }
  | { readonly is: 'empty' }
  | { readonly is: 'right' }
  /** `why`: what is the matter, where it can be told without telling the answer. */
  | { readonly is: 'wrong'; readonly why: string }

const USUAL: Leniency = { case: true, accents: false }

/** Whether an answer space has a key that Gavrin can check by. */
export function hasKey(space: AnswerSpace): boolean {
  switch (space.kind) {
    case 'line':
    case 'gap':
      return !!space.accepted?.length
    case 'number':
      return space.value !== undefined
    case 'cell':
      return space.numeric ? space.value !== undefined : !!space.accepted?.length
    case 'choice':
      return !!space.right?.length
    default:
      return false
  }
}

/** Checks what stands in an answer space against its key. */
export function checkAnswer(space: AnswerSpace, value: AnswerValue): Check {
  if (!hasKey(space)) return { is: 'unchecked' }
  if (space.kind === 'choice') {
    const chosen = 'chosen' in value ? value.chosen : []
    if (chosen.length === 0) return { is: 'empty' }
    const right = space.right!
    const missing = right.filter((id) => !chosen.includes(id)).length
    const surplus = chosen.filter((id) => !right.includes(id)).length
    if (missing === 0 && surplus === 0) return { is: 'right' }
    return { is: 'wrong', why: surplus === 0 ? 'Right so far, but not complete.' : '' }
  }
  const text = answerText(space, value).trim()
  if (!text) return { is: 'empty' }
  if (space.kind === 'number' || (space.kind === 'cell' && space.numeric))
    return checkNumber(text, space.value!, space.tolerance ?? 0, space.kind === 'number' ? space.unit : '')
  return (space as WordKey).accepted!.some((accepted) =>
    isSameAnswer(text, accepted, (space as WordKey).lenient ?? USUAL),
  )
    ? { is: 'right' }
    : { is: 'wrong', why: '' }
}

/**
 * Whether two texts are the same answer: spaces at the ends and between words never matter, nor does which kind of
 * apostrophe or hyphen was typed; case and accents as told.
 */
export function isSameAnswer(one: string, other: string, lenient: Leniency): boolean {
  return answerForm(one, lenient) === answerForm(other, lenient)
}

function answerForm(text: string, { case: anyCase, accents }: Leniency): string {
  let form = text
    .normalize('NFKC')
    .replace(/[’ʼ`´]/g, "'")
    .replace(/\p{Pd}/gu, '-')
    .replace(/\s+/g, ' ')
    .trim()
  if (accents) form = form.normalize('NFD').replace(/\p{M}/gu, '')
  return anyCase ? form.toLocaleLowerCase('und') : form
}

function checkNumber(text: string, wanted: string, tolerance: number, unit: string): Check {
  // The unit is printed after the place; whoever writes it again is not wrong for it.
  const bare = unit && text.toLowerCase().endsWith(unit.toLowerCase()) ? text.slice(0, -unit.length) : text
  const number = readNumberText(bare)
  const value = readNumberText(wanted)!
  if (number === null) return { is: 'wrong', why: 'This does not read as a number.' }
  // What binary fractions make of a tenth is not held against anybody.
  const noise = 1e-9 * Math.max(1, Math.abs(value))
  return Math.abs(number - value) <= tolerance + noise ? { is: 'right' } : { is: 'wrong', why: '' }
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
