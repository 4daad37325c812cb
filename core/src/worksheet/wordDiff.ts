/** A run of words that stayed, came or went. */
export interface WordPiece {
  readonly is: 'same' | 'new' | 'gone'
  readonly text: string
}

/** Beyond this many words on one side only the ends are compared; the middle is shown as replaced. */
const WORD_LIMIT = 1_500
/** White space, a word or number with what joins its parts, or any other sign. */
const TOKEN = /\s+|[\p{L}\p{N}\p{M}]+(?:[.,'’:-][\p{L}\p{N}\p{M}]+)*|[^\s]/gu

/**
 * The words of two texts, those both have once: joined, the pieces that are not new give `before`, those that are not gone
 * give `after`. Longest common subsequence of words, after taking off what both begin and end with.
 */
export function compareWords(before: string, after: string): WordPiece[] {
  const one = before.match(TOKEN) ?? []
  const other = after.match(TOKEN) ?? []
  let head = 0
  while (head < one.length && head < other.length && one[head] === other[head]) head++
  let tail = 0
  while (tail < one.length - head && tail < other.length - head && one.at(-1 - tail) === other.at(-1 - tail)) tail++
  const pieces: WordPiece[] = []
  const push = (is: WordPiece['is'], text: string) => {
    if (!text) return
    const last = pieces.at(-1)
    if (last?.is === is) pieces[pieces.length - 1] = { is, text: last.text + text }
    else pieces.push({ is, text })
  }
  push('same', one.slice(0, head).join(''))
  const oldMiddle = one.slice(head, one.length - tail)
  const newMiddle = other.slice(head, other.length - tail)
  if (oldMiddle.length > WORD_LIMIT || newMiddle.length > WORD_LIMIT) {
    push('gone', oldMiddle.join(''))
    push('new', newMiddle.join(''))
  } else common(oldMiddle, newMiddle, push)
  push('same', one.slice(one.length - tail).join(''))
  return pieces
}

function common(
  one: readonly string[],
  other: readonly string[],
  push: (is: WordPiece['is'], text: string) => void,
): void {
  const width = other.length + 1
  const length = new Uint16Array((one.length + 1) * width)
  for (let i = one.length - 1; i >= 0; i--)
    for (let j = other.length - 1; j >= 0; j--)
      length[i * width + j] =
        one[i] === other[j]
          ? length[(i + 1) * width + j + 1]! + 1
          : Math.max(length[(i + 1) * width + j]!, length[i * width + j + 1]!)
  let i = 0
  let j = 0
  while (i < one.length || j < other.length) {
    if (i < one.length && j < other.length && one[i] === other[j]) {
      push('same', one[i]!)
      i++
      j++
    } else if (i < one.length && (j >= other.length || length[(i + 1) * width + j]! >= length[i * width + j + 1]!))
      push('gone', one[i++]!)
    else push('new', other[j++]!)
  }
}
