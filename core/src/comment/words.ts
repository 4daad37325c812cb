import type * as Y from 'yjs'
import { type Letters, lettersOf, offsetAt, positionAt } from '../live/letters.js'
import type { AnswerKind } from '../worksheet/content.js'
import { type Anchor, type Stretch, findWords, wordsAt } from './anchor.js'

type AtWords = Extract<Anchor, { is: 'words' }>

/**
 * What a comment on words of an answer is about; null: there are too many of them, or nothing but spaces.
 * @param from where the words begin in the letters of the answer, in UTF-16 units
 * @param to where they end
 */
export function anchorAtWords(
  { space, kind }: { readonly space: string; readonly kind: AnswerKind },
  doc: Y.Doc,
  { from, to }: Stretch,
): AtWords | null {
  const letters = lettersOf(kind, doc)
  const around = wordsAt(letters.text, from, to)
  // What is written beside the words is not of them.
  const [start, end] = [positionAt(letters, from, 'after'), positionAt(letters, to, 'before')]
  return around && start && end ? { is: 'words', space, from: start, to: end, ...around } : null
}

/** How long a run of letters must be alike to count as the same words. */
const ALIKE = 3

/** Whether two texts share a run of letters. */
function shareLetters(one: string, other: string): boolean {
  const length = Math.min(ALIKE, other.length)
  for (let at = 0; at + length <= other.length; at++) if (one.includes(other.slice(at, at + length))) return true
  return false
}

/**
 * Where the words of a comment stand now in the letters of an answer: where their positions lead, as long as something of them is
 * left there; else where the same words are found, nearest to it; null: they are gone.
 */
export function wordsNow(anchor: AtWords, letters: Letters): Stretch | null {
  const from = offsetAt(letters, anchor.from)
  const to = offsetAt(letters, anchor.to)
  if (from !== null && to !== null && from < to && shareLetters(letters.text.slice(from, to), anchor.words))
    return { from, to }
  return findWords(letters.text, anchor, from ?? to ?? 0)
}
