import { type Outcome, fine, refuse } from '../errors/problem.js'
import { cleanText } from '../roster/names.js'
import { MARK_LIMITS } from './parts.js'
import { type Points, pointsInWords } from './points.js'

/** A remark that is kept to be used again. */
export interface StockRemarkText {
  /** By which it is called up: one word. */
  readonly short: string
  readonly text: string
}

/** Letters of a short name; and how many remarks one keeps: as many as anybody knows by heart, several times over. */
export const STOCK_LIMITS = { short: 20, remarks: 500 } as const

/** Reads a stock remark as it was typed: its short name in small letters, so that it is found however it is typed. */
export function checkStockRemark(typed: StockRemarkText): Outcome<StockRemarkText> {
  const short = cleanText(typed.short).toLocaleLowerCase('und')
  const text = typed.text.trim()
  if (!/^[\p{L}\p{N}-]+$/u.test(short) || short.length > STOCK_LIMITS.short)
    return refuse({
      code: 'short',
      field: 'short',
      sentence: `A short name is one word of up to ${STOCK_LIMITS.short} letters and figures.`,
    })
  if (!text || text.length > MARK_LIMITS.remark)
    return refuse({ code: 'text', field: 'text', sentence: 'Write what the remark says.' })
  return fine({ short, text })
}

/** A short name after a slash, where it was just typed with a blank after it. */
const CALLED = /(^|\s)\/([\p{L}\p{N}-]+)\s$/u

/** A text in which a stock remark was called up by a slash and its short name, with the remark in its place; null: none was. */
export function withCalledRemark(text: string, stock: readonly StockRemarkText[]): string | null {
  const called = CALLED.exec(text)
  const found = called && stock.find(({ short }) => short === called[2]!.toLocaleLowerCase('und'))
  return found ? `${text.slice(0, called.index)}${called[1]}${found.text} ` : null
}

/** What may stand in a remark, and is filled in when it is kept. */
export const REMARK_TOKENS = ['first name', 'points missing'] as const
type RemarkToken = (typeof REMARK_TOKENS)[number]

/** Of a copy, or of an answer in it: what the tokens of a remark become. */
export interface RemarkFacts {
  /** Of those who hold it. */
  readonly firstNames: readonly string[]
  /** Points that lack to the most there are; null: there are none yet. */
  readonly missing: Points | null
}

const TOKEN = /\{(first name|points missing)\}/gi

export const hasTokens = (text: string): boolean => text.search(TOKEN) >= 0

/** A remark with its {@link REMARK_TOKENS} filled in; other braces stay as they are. */
export function filledRemark(text: string, { firstNames, missing }: RemarkFacts): string {
  const words: Readonly<Record<RemarkToken, string>> = {
    'first name': firstNames.join(', '),
    'points missing': missing === null ? '–' : pointsInWords(missing),
  }
  return text.replace(TOKEN, (_, token: string) => words[token.toLowerCase() as RemarkToken])
}

const escaped = (words: string) => words.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')

/** A pattern for SQL’s LIKE (with \ to escape) of what has a remark in it, whatever its tokens became. */
export const remarkPattern = (remark: string): string =>
  `%${remark
    .split(TOKEN)
    .map((words, at) => (at % 2 ? '%' : words.replace(/[\\%_]/g, '\\$&')))
    .join('')}%`

/** What tokens may have become. */
const A_NAME = '(\\S[^.,;:!?\\n]{0,79}?)'
const SOME_POINTS = '([\\d.,½¼¾–]{1,12})'
/** Tokens of one remark that are looked for in what was said: each of them once, so that the looking is short whatever was typed. */
const TOKENS_FOUND = 2

/**
 * What was said with a remark in it, with the remark in other words; what its tokens became is taken over, those that are new are
 * left to be filled in.
 * @returns null where the remark does not stand in it, or has more than two tokens
 */
export function reworded(said: string, before: string, after: string): string | null {
  const names = [...before.matchAll(TOKEN)].map(([, token]) => token!.toLowerCase())
  if (names.length > TOKENS_FOUND) return null
  const parts = before
    .split(TOKEN)
    .map((words, at) => (at % 2 === 0 ? escaped(words) : words.toLowerCase() === 'first name' ? A_NAME : SOME_POINTS))
  // What a token at an end became goes up to the sentence beside it.
  const ofToken = (part: string) => names.length > 0 && part === ''
  const start = ofToken(parts[0]!) ? '(?<=^|[.,;:!?\\n] ?)' : ''
  const end = ofToken(parts.at(-1)!) ? '(?=$|[.,;:!?\\n])' : ''
  const found = new RegExp(start + parts.join('') + end, 'u').exec(said)
  if (!found) return null
  const became = new Map(names.map((name, at) => [name, found[at + 1]!]))
  const words = after.replace(TOKEN, (whole, token: string) => became.get(token.toLowerCase()) ?? whole)
  return said.slice(0, found.index) + words + said.slice(found.index + found[0].length)
}
