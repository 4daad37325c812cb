import { type AnswerSpace, type WorksheetContent, answerSpaces } from '../worksheet/content.js'

/** What stands in an answer space: text, or the ids of the options chosen. */
export type AnswerValue = { readonly text: string } | { readonly chosen: readonly string[] }

/** How far one answer is. */
export interface SpaceProgress {
  /** 0 nothing, 1 answered; between the two: begun, but not yet an answer (a number that is none). */
  readonly share: number
  readonly words: number
}

/** How far a copy is, by answer space. A space that is missing has nothing in it. */
export type ProgressBySpace = Readonly<Record<string, SpaceProgress>>

export interface CopyProgress {
  readonly answered: number
  readonly spaces: number
  readonly words: number
}

const NOTHING: SpaceProgress = { share: 0, words: 0 }
const words = new Intl.Segmenter('und', { granularity: 'word' })

// Letters of scripts that part their words by spaces: a piece of them is one word, and need not be looked at closely.
const ONE_WORD =
  /^(?:(?=\p{L})[\p{Script=Latin}\p{Script=Cyrillic}\p{Script=Greek}\p{Script=Arabic}\p{Script=Hebrew}])+$/u
/** The time the segmenter takes grows with the square of what it is given: longer pieces are looked at in parts. */
const PIECE = 400

/**
 * Words in a text, by the Unicode rules for word boundaries (UAX 29): punctuation and spaces are none. In a piece of more
 * than 400 characters without a space (nobody writes one) a word may be counted twice where it is parted.
 */
export function countWords(text: string): number {
  let count = 0
  for (const piece of text.split(/\s+/)) {
    if (ONE_WORD.test(piece)) count++
    else
      for (let start = 0; start < piece.length; start += PIECE)
        for (const part of words.segment(piece.slice(start, start + PIECE))) if (part.isWordLike) count++
  }
  return count
}

// Decimal comma or point, spaces or apostrophes between thousands, an exponent.
const NUMBER = /^[+\-−]?(?:\d[\d\s'’]*)?(?:[.,]\d+)?(?:[eE][+-]?\d+)?$/

/** Whether a text is a number as people write them: 1 250,5 and 1250.5 and −3 and .5 are. */
export function isNumberText(text: string): boolean {
  const trimmed = text.trim()
  return /\d/.test(trimmed) && NUMBER.test(trimmed)
}

/** How far the answer in a space is. */
export function spaceProgress(space: AnswerSpace, value: AnswerValue): SpaceProgress {
  if ('chosen' in value) {
    const known =
      space.kind === 'choice' ? value.chosen.filter((id) => space.options.some((option) => option.id === id)) : []
    return known.length ? { share: 1, words: 0 } : NOTHING
  }
  if (!value.text.trim()) return NOTHING
  if (space.kind === 'number') return { share: isNumberText(value.text) ? 1 : 0.5, words: 0 }
  return { share: 1, words: countWords(value.text) }
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
