/** A word of a text, and where it stands in it, in UTF-16 units. */
export interface Word {
  readonly form: string
  readonly from: number
  readonly to: number
}

// Where words are not parted by blanks each sign stands for one.
const WORD = /[\p{Script=Han}\p{Script=Hiragana}\p{Script=Katakana}\p{Script=Thai}]|[\p{L}\p{N}][\p{L}\p{N}\p{M}]*/gu

/** The words of a text in the form in which they are compared: without case, signs and how they are spaced. */
export function wordsOf(text: string): Word[] {
  const words: Word[] = []
  for (const match of text.matchAll(WORD))
    words.push({
      form: match[0].normalize('NFKC').toLowerCase(),
      from: match.index,
      to: match.index + match[0].length,
    })
  return words
}
