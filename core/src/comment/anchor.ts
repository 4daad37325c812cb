import { type Outcome, type Problem, fine, refuse } from '../errors/problem.js'
import { isPosition } from '../live/letters.js'

/** Words that something was said of, with a little of what stood around them. */
export interface Words {
  readonly words: string
  readonly before: string
  readonly after: string
}

/** What a comment is about. */
export type Anchor =
  /** The whole copy. */
  | { readonly is: 'copy' }
  /** An answer space, by its address. */
  | { readonly is: 'space'; readonly space: string }
  /** Words of an answer. `from`, `to`: relative positions of Yjs, in Base64: they follow the words while these are edited. */
  | ({ readonly is: 'words'; readonly space: string; readonly from: string; readonly to: string } & Words)
  /** Words of the print, by the id of their block. `from`: where they began in its text, in UTF-16 units. */
  | ({ readonly is: 'print'; readonly block: string; readonly from: number } & Words)

/** Letters, in UTF-16 units: of the words a comment is about, and of what is kept of each side of them. */
export const WORDS_LIMIT = 500
export const AROUND_LIMIT = 40

const ADDRESS = /^[A-Za-z0-9_-]{1,64}$/

const problem: Problem = { code: 'anchor', field: 'anchor', sentence: 'It cannot be told what this comment is about.' }
const isText = (value: unknown, most: number): value is string => typeof value === 'string' && value.length <= most
const isAddress = (value: unknown): value is string => typeof value === 'string' && ADDRESS.test(value)

/** Reads what a comment is about, from whoever sent it. Nothing of it is looked for in the copy. */
export function readAnchor(raw: unknown): Outcome<Anchor> {
  if (typeof raw !== 'object' || raw === null) return refuse(problem)
  const { is, space, block, from, to, words, before, after } = raw as Record<string, unknown>
  if (is === 'copy') return fine({ is })
  if (is === 'space' && isAddress(space)) return fine({ is, space })
  if (!isText(words, WORDS_LIMIT) || !words.trim() || !isText(before, AROUND_LIMIT) || !isText(after, AROUND_LIMIT))
    return refuse(problem)
  if (is === 'words' && isAddress(space) && isPosition(from) && isPosition(to))
    return fine({ is, space, from, to, words, before, after })
  if (is === 'print' && isAddress(block) && Number.isInteger(from) && (from as number) >= 0)
    return fine({ is, block, from: from as number, words, before, after })
  return refuse(problem)
}

/** The words in a stretch of a text, with a little of what stands around them; null: too many, or nothing but spaces. */
export function wordsAt(text: string, from: number, to: number): Words | null {
  const words = text.slice(from, to)
  if (words.length > WORDS_LIMIT || !words.trim()) return null
  return { words, before: text.slice(Math.max(0, from - AROUND_LIMIT), from), after: text.slice(to, to + AROUND_LIMIT) }
}

/** A stretch of a text, in UTF-16 units. */
export interface Stretch {
  readonly from: number
  readonly to: number
}

/** How many of the places where words stand are weighed; more of them make no better guess. */
const PLACES = 1_000

/**
 * Where words stand now in a text in which they once stood: the place that has most of what stood around them, of several alike
 * the one nearest to where they were; null: they are gone.
 */
export function findWords(text: string, { words, before, after }: Words, near: number): Stretch | null {
  let best: (Stretch & { readonly worth: number; readonly away: number }) | null = null
  let count = 0
  for (let from = text.indexOf(words); from >= 0 && count < PLACES; from = text.indexOf(words, from + 1), count++) {
    const to = from + words.length
    const worth = alikeBefore(text, from, before) + alikeAfter(text, to, after)
    const away = Math.abs(from - near)
    if (!best || worth > best.worth || (worth === best.worth && away < best.away)) best = { from, to, worth, away }
  }
  return best && { from: best.from, to: best.to }
}

function alikeBefore(text: string, at: number, before: string): number {
  let count = 0
  while (count < before.length && before[before.length - 1 - count] === text[at - 1 - count]) count++
  return count
}

function alikeAfter(text: string, at: number, after: string): number {
  let count = 0
  while (count < after.length && after[count] === text[at + count]) count++
  return count
}
