import type { AnswerSpace, ChoiceOption, WorksheetContent } from '../worksheet/content.js'
import { checkAnswer } from '../worksheet/autoCheck.js'
import { drawnSpace, kindOf } from '../worksheet/kinds/index.js'
import type { AnswerValue } from '../worksheet/kinds/value.js'
import { isNumberText } from '../worksheet/numbers.js'
import { isPartOf } from '../worksheet/sections.js'
import { answerSpaces } from '../worksheet/walk.js'

export type { AnswerValue, FileAnswer } from '../worksheet/kinds/value.js'

/** An answer in words: what was written, the options that were chosen in their order, the names of the files. */
export function answerText(space: AnswerSpace, value: AnswerValue): string {
  if ('text' in value) return value.text
  if ('files' in value) return value.files.map(({ name }) => name).join(', ')
  if ('strokes' in value) return value.strokes.length ? 'a drawing' : ''
  return optionsOf(space)
    .filter(({ id }) => value.chosen.includes(id))
    .map(({ text }) => text)
    .join(', ')
}

function optionsOf(space: AnswerSpace): readonly ChoiceOption[] {
  const drawn = drawnSpace(space)
  return drawn.is === 'options' ? drawn.options : []
}

/** How far one answer is. */
export interface SpaceProgress {
  /** 0 nothing, 1 answered; between the two: begun, but not yet an answer (a number that is none). */
  readonly share: number
  readonly words: number
}

/** How far one answer is, as it is kept beside its copy. */
export interface KeptSpaceProgress extends SpaceProgress {
  /** When something was written in it last, in milliseconds since 1970; missing: it was counted before this was kept. */
  readonly at?: number
  /** Whether it is right by its key; missing: it cannot be checked. */
  readonly right?: boolean
}

/** How far a copy is, by answer space. A space that is missing has nothing in it. */
export type ProgressBySpace = Readonly<Record<string, KeptSpaceProgress>>

export interface CopyProgress {
  readonly answered: number
  readonly spaces: number
  readonly words: number
}

const NOTHING: SpaceProgress = { share: 0, words: 0 }
// Made when it is first needed: making it takes longer than all the rest of a page's start.
let segmenter: Intl.Segmenter | null = null
const wordsOf = (text: string) => (segmenter ??= new Intl.Segmenter('und', { granularity: 'word' })).segment(text)

// Letters of scripts that part their words by spaces: a piece of them is one word, and need not be looked at closely.
const ONE_WORD =
  /^(?:(?=\p{L})[\p{Script=Latin}\p{Script=Cyrillic}\p{Script=Greek}\p{Script=Arabic}\p{Script=Hebrew}])+$/u
/** The narrow no-break space, as in "12 000", binds what it stands between into one word. */
const SPACES = /[^\S\u202f]+/
/** The time the segmenter takes grows with the square of what it is given: longer pieces are looked at in parts. */
const PIECE = 400

/**
 * Words in a text, by the Unicode rules for word boundaries (UAX 29): punctuation and spaces are none. In a piece of more
 * than 400 characters without a space (nobody writes one) a word may be counted twice where it is parted.
 */
export function countWords(text: string): number {
  let count = 0
  for (const piece of text.split(SPACES)) {
    if (ONE_WORD.test(piece)) count++
    else
      for (let start = 0; start < piece.length; start += PIECE)
        for (const part of wordsOf(piece.slice(start, start + PIECE))) if (part.isWordLike) count++
  }
  return count
}

/** How far the answer in a space is. */
export function spaceProgress(space: AnswerSpace, value: AnswerValue): SpaceProgress {
  if ('chosen' in value) {
    const isKnown = optionsOf(space).some(({ id }) => value.chosen.includes(id))
    return isKnown ? { share: 1, words: 0 } : NOTHING
  }
  if ('strokes' in value) return value.strokes.length ? { share: 1, words: 0 } : NOTHING
  if ('files' in value) return value.files.length ? { share: 1, words: 0 } : NOTHING
  const text = value.text.trim()
  if (!text) return NOTHING
  // What an answer begins with is the author's, until something is added to it.
  const kind = kindOf(space)
  if (text === kind.starter?.(space)?.trim()) return NOTHING
  if (kind.isNumber?.(space)) return { share: isNumberText(value.text) ? 1 : 0.5, words: 0 }
  return { share: 1, words: countWords(value.text) }
}

/** How far the answer in a space is, as it is kept beside its copy: with whether it is right, where it has a key. */
export function keptProgress(space: AnswerSpace, value: AnswerValue): KeptSpaceProgress {
  const progress = spaceProgress(space, value)
  const { is } = checkAnswer(space, value)
  return is === 'right' || is === 'wrong' ? { ...progress, right: is === 'right' } : progress
}

/** Which answers are right by their key; those that cannot be checked are not among them. */
export const rightIn = (progress: ProgressBySpace): Readonly<Record<string, boolean>> =>
  Object.fromEntries(
    Object.entries(progress).flatMap(([id, { right }]): [string, boolean][] =>
      right === undefined ? [] : [[id, right]],
    ),
  )

/** What of it is for those who may not have the answer key. */
export const withoutChecks = (progress: ProgressBySpace): ProgressBySpace =>
  Object.fromEntries(
    Object.entries(progress).map(([id, { right: _, ...rest }]): [string, KeptSpaceProgress] => [id, rest]),
  )

/**
 * How far an answer space is in a copy: in a section that is repeated there, the mean of its parts.
 * @param spaceId as the edition has it, without whose part it is
 */
export function shareOf(bySpace: ProgressBySpace, spaceId: string): number {
  const own = bySpace[spaceId]
  if (own) return own.share
  const parts = Object.entries(bySpace).filter(([id]) => isPartOf(id, spaceId))
  return parts.length ? parts.reduce((sum, [, { share }]) => sum + share, 0) / parts.length : 0
}

/** How far a copy of a worksheet is, from how far each of its spaces is. */
export function copyProgress(content: WorksheetContent, bySpace: ProgressBySpace): CopyProgress {
  const spaces = answerSpaces(content)
  const found = spaces.map(({ id }) => bySpace[id] ?? NOTHING)
  return {
    spaces: spaces.length,
    answered: found.filter(({ share }) => share >= 1).length,
    words: found.reduce((sum, { words: count }) => sum + count, 0),
  }
}
