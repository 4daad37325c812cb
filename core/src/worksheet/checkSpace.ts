import { ANSWER_KINDS, type AnswerKind, type AnswerSpace, KINDS } from './kinds/index.js'
import { readBasics } from './kinds/basics.js'
import type { Reading } from './reading.js'

/** Reads an answer space; null, with the problem noted, if it is none. What is not said stays away. */
export function readSpace(reading: Reading, raw: Record<string, unknown>, field: string): AnswerSpace | null {
  const basics = readBasics(reading, raw, field)
  const kind = raw['kind']
  if (typeof kind !== 'string' || !Object.hasOwn(KINDS, kind)) {
    reading.wrong(`${field}.kind`, `A block is print or one of the answer spaces ${ANSWER_KINDS.join(', ')}.`)
    return null
  }
  const own = KINDS[kind as AnswerKind].read(reading, raw, field)
  return own && { ...basics, ...own }
}
