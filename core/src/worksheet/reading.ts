import type { Problem } from '../errors/problem.js'

/** What reads raw values of a worksheet: it notes each problem with its exact place. */
export interface Reading {
  readonly problems: Problem[]
  readonly wrong: (field: string, sentence: string) => void
  /** Something that its author is still writing: no reason not to keep a draft, but one not to keep an edition. */
  readonly unfinished: (field: string, sentence: string) => void
  /** What is unfinished in a draft. */
  readonly open: Problem[]
  /** An id that no other part of the worksheet has. */
  readonly takeId: (id: unknown, field: string) => string
}

const ID = /^[A-Za-z0-9_-]{1,64}$/

export const isId = (value: unknown): value is string => typeof value === 'string' && ID.test(value)

export function startReading(isDraft = false): Reading {
  const problems: Problem[] = []
  const open: Problem[] = []
  const seen = new Set<string>()
  const wrong = (field: string, sentence: string) => void problems.push({ code: 'content-malformed', field, sentence })
  return {
    problems,
    wrong,
    open,
    unfinished: isDraft ? (field, sentence) => void open.push({ code: 'content-unfinished', field, sentence }) : wrong,
    takeId(id, field) {
      if (!isId(id)) wrong(`${field}.id`, 'This block has no proper id.')
      else if (seen.has(id)) wrong(`${field}.id`, 'Two blocks have the same id.')
      else seen.add(id)
      return String(id)
    },
  }
}

export function isRecord(value: unknown): value is Record<string, unknown> {
  return typeof value === 'object' && value !== null && !Array.isArray(value)
}

/** A text of up to so many characters; problems are noted and an empty text stands for it. */
export function readText(reading: Reading, raw: unknown, field: string, limit: number, name: string): string {
  if (raw === undefined || raw === null) return ''
  if (typeof raw !== 'string') {
    reading.wrong(field, `${name} is not a text.`)
    return ''
  }
  if (raw.length > limit) reading.wrong(field, `${name} has up to ${limit} characters; this one has ${raw.length}.`)
  return raw
}

/** A number within bounds; problems are noted and the lower bound stands for it. */
export function readNumber(
  reading: Reading,
  raw: unknown,
  field: string,
  [least, most]: readonly [number, number],
  sentence: string,
): number {
  if (typeof raw === 'number' && Number.isFinite(raw) && raw >= least && raw <= most) return raw
  reading.wrong(field, sentence)
  return least
}

/** One of some words, or the first of them. */
export const oneOf = <T>(raw: unknown, words: readonly [T, ...T[]]): T => words.find((word) => word === raw) ?? words[0]
