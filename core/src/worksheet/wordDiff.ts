import { diffArrays } from 'diff'

/** A run of words that stayed, came or went. */
export interface WordPiece {
  readonly is: 'same' | 'new' | 'gone'
  readonly text: string
}

/** Words that came or went in all, beyond which the middle of a text is shown as replaced: looking further costs too much. */
const CHANGE_LIMIT = 1_500
/** White space, a word or number with what joins its parts, or any other sign. */
const TOKEN = /\s+|[\p{L}\p{N}\p{M}]+(?:[.,'’:-][\p{L}\p{N}\p{M}]+)*|[^\s]/gu

/**
 * The words of two texts, those both have once: joined, the pieces that are not new give `before`, those that are not gone
 * give `after`. The shortest edit script of words (E. Myers, 1986), between what both begin and end with.
 */
export function compareWords(before: string, after: string): WordPiece[] {
  const one = before.match(TOKEN) ?? []
  const other = after.match(TOKEN) ?? []
  let head = 0
  while (head < one.length && head < other.length && one[head] === other[head]) head++
  let tail = 0
  while (tail < one.length - head && tail < other.length - head && one.at(-1 - tail) === other.at(-1 - tail)) tail++
  const gone = one.slice(head, one.length - tail)
  const come = other.slice(head, other.length - tail)
  const middle = diffArrays(gone, come, { maxEditLength: CHANGE_LIMIT }) ?? [
    { value: gone, removed: true, added: false },
    { value: come, removed: false, added: true },
  ]
  const pieces: WordPiece[] = []
  const push = (is: WordPiece['is'], words: readonly string[]) => {
    const last = pieces.at(-1)
    if (words.length === 0) return
    if (last?.is === is) pieces[pieces.length - 1] = { is, text: last.text + words.join('') }
    else pieces.push({ is, text: words.join('') })
  }
  push('same', one.slice(0, head))
  for (const { value, added, removed } of middle) push(added ? 'new' : removed ? 'gone' : 'same', value)
  push('same', one.slice(one.length - tail))
  return pieces
}

/**
 * {@link compareWords} of texts of which one was typed on from the other: of a word that only grew, or lost its beginning or end, just
 * what came or went is told.
 */
export function compareTyped(before: string, after: string): WordPiece[] {
  const pieces = compareWords(before, after)
  const closer: WordPiece[] = []
  const push = (is: WordPiece['is'], text: string) => text && closer.push({ is, text })
  for (let at = 0; at < pieces.length; at++) {
    const [one, other] = [pieces[at]!, pieces[at + 1]]
    const gone = one.is === 'gone' && other?.is === 'new'
    const come = one.is === 'new' && other?.is === 'gone'
    if (!gone && !come) {
      closer.push(one)
      continue
    }
    const [long, short] = one.text.length > other.text.length ? [one, other] : [other, one]
    if (long.text.startsWith(short.text)) {
      push('same', short.text)
      push(long.is, long.text.slice(short.text.length))
    } else if (long.text.endsWith(short.text)) {
      push(long.is, long.text.slice(0, -short.text.length))
      push('same', short.text)
    } else closer.push(one, other)
    at++
  }
  return closer
}
