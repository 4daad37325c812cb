import type { Problem } from '../errors/problem.js'
import { alike, slipsBetween } from '../groups/twins.js'
import { cleanText, foldText } from '../roster/names.js'
import {
  NAME_TOKENS,
  type NamePattern,
  type NameToken,
  type PatternPart,
  column,
  literal,
  token,
  wordOf,
} from './pattern.js'

// The grammar of a typed pattern, as docs/names.md prints it:
//
//   pattern = *( token / text )
//   token   = "[" word "]"
//   word    = 1*( any character but "[" and "]" )     ; the word on a token, or the name of a roster column,
//                                                     ; in any case and spacing
//   text    = 1*( any character but "[" and "]" / "[[" / "]]" )   ; a doubled bracket is the bracket itself

/** A pattern as it was typed: what could be read, and what is nearly right. */
export interface TypedPattern {
  readonly parts: NamePattern
  /** At `at`, a position in the text: what is wrong, how it was typed, and the word that was probably meant. */
  readonly problems: readonly (Problem & {
    readonly at: number
    readonly typed: string
    readonly meant: string | null
  })[]
}

/**
 * Reads a pattern as somebody types it. What cannot be read as a token stays as text, so that nothing typed is lost.
 * @param columns the names of the columns of the roster
 */
export function readTyped(text: string, columns: readonly string[]): TypedPattern {
  const parts: PatternPart[] = []
  const problems: TypedPattern['problems'][number][] = []
  let plain = ''
  const put = (part: PatternPart) => {
    if (plain) parts.push(literal(plain))
    plain = ''
    parts.push(part)
  }
  const wrong = (at: number, code: string, sentence: string, typed: string, meant: string | null = null) =>
    problems.push({ code, field: 'pattern', sentence, at, typed, meant })
  let at = 0
  while (at < text.length) {
    const two = text.slice(at, at + 2)
    if (two === '[[' || two === ']]') {
      plain += two[0]
      at += 2
    } else if (text[at] === '[') {
      const end = text.slice(at + 1).search(/[[\]]/)
      if (end < 0 || text[at + 1 + end] === '[') {
        const rest = end < 0 ? text.slice(at + 1) : text.slice(at + 1, at + 1 + end)
        const meant = nearest(startOf(rest, columns), columns)
        wrong(
          at,
          'token-open',
          meant
            ? `"[${cut(rest)}" has no closing bracket: write [${meant}].`
            : `"[${cut(rest)}" has no closing bracket. For a bracket itself write [[.`,
          `[${rest}`,
          meant,
        )
        plain += text.slice(at, at + 1 + rest.length)
        at += 1 + rest.length
      } else {
        const word = text.slice(at + 1, at + 1 + end)
        const part = partOf(word, columns)
        if (part) put(part)
        else {
          const meant = nearest(word, columns)
          wrong(
            at,
            'token-unknown',
            meant
              ? `There is no token [${cut(word)}]. Did you mean [${meant}]?`
              : `There is no token [${cut(word)}], and no roster column of this name.`,
            `[${word}]`,
            meant,
          )
          plain += `[${word}]`
        }
        at += end + 2
      }
    } else if (text[at] === ']') {
      wrong(at, 'token-close', 'There is a closing bracket without an opening one. For a bracket itself write ]].', ']')
      plain += text[at]
      at++
    } else {
      const other = OTHER_MARKS.exec(text.slice(at))
      if (other) {
        const word = other[1] ?? other[2] ?? other[3] ?? ''
        const meant = partOf(word, columns) ? wordOf(partOf(word, columns)!) : nearest(word, columns)
        if (meant) wrong(at, 'token-marks', `A token stands in square brackets: write [${meant}].`, other[0], meant)
      }
      plain += text[at]
      at++
    }
  }
  if (plain) parts.push(literal(plain))
  return { parts, problems }
}

/** A pattern as it is typed: what {@link readTyped} reads back as the same pattern. */
export function writeTyped(pattern: NamePattern): string {
  return pattern
    .map((part) => (part.kind === 'text' ? part.text.replace(/[[\]]/g, '$&$&') : `[${wordOf(part)}]`))
    .join('')
}

// Marks that stand around words to be filled in elsewhere: <word>, {word} or {{word}}, %word%.
const OTHER_MARKS = /^(?:<([\p{L} ]{2,40})>|\{{1,2}([\p{L} ]{2,40})\}{1,2}|%([\p{L} ]{2,40})%)/u

const cut = (word: string) => (word.length > 40 ? `${word.slice(0, 39)}…` : word)

/** The part that a word in brackets stands for; a token before a column of the same name. */
export function partOf(word: string, columns: readonly string[]): PatternPart | null {
  const key = foldText(word)
  if (!key) return null
  const found = Object.entries(NAME_TOKENS).find(([, name]) => foldText(name) === key)
  if (found) return token(found[0] as NameToken)
  const named = columns.find((name) => foldText(name) === key)
  return named === undefined ? null : column(named)
}

/** Of an unfinished token, its first words that could be one. */
function startOf(rest: string, columns: readonly string[]): string {
  const words = cleanText(rest).split(' ')
  for (let count = Math.min(3, words.length); count > 0; count--) {
    const start = words
      .slice(0, count)
      .join(' ')
      .replace(/[^\p{L}\p{N}]+$/u, '')
    if (partOf(start, columns) || nearest(start, columns)) return start
  }
  return ''
}

/** The word of a token or column that somebody probably meant; null if none is near. */
function nearest(word: string, columns: readonly string[]): string | null {
  const key = foldText(word)
  if (key.length < 3) return null
  const words = [...Object.values(NAME_TOKENS), ...columns]
  const exact = words.find((name) => foldText(name) === key)
  if (exact) return exact
  const twin = words.find((name) => alike(name, word))
  if (twin) return twin
  const squeezed = key.replace(/[^\p{L}\p{N}]+/gu, '')
  const ranked = words
    .map((name) => {
      const other = foldText(name).replace(/[^\p{L}\p{N}]+/gu, '')
      const starts = squeezed.length >= 3 && (other.startsWith(squeezed) || squeezed.startsWith(other))
      return { name, slips: starts ? 0.5 : slipsBetween(other, squeezed, 2), length: other.length }
    })
    .filter(({ slips, length }) => slips <= (length >= 5 ? 2 : 1))
    .toSorted((a, b) => a.slips - b.slips)
  return ranked[0]?.name ?? null
}
