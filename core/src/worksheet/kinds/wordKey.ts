import { type Reading, isRecord, readText } from '../reading.js'
import { type Writable, SPACE_LIMITS } from './basics.js'
import type { AnySpace, Key } from './kind.js'
import { type AnswerValue, type Check, RIGHT, wrong } from './value.js'

/** What of an answer need not be the same as the accepted one. */
export interface Leniency {
  readonly case: boolean
  readonly accents: boolean
}

/** How an answer in a few words is checked: it must read as one of these. */
export interface WordKey {
  readonly accepted?: readonly string[]
  /** Missing: case does not matter, accents do. */
  readonly lenient?: Leniency
}

const USUAL: Leniency = { case: true, accents: false }

export function readWordKey(reading: Reading, raw: Record<string, unknown>, field: string): WordKey {
  const key: Writable<WordKey> = {}
  const accepted = raw['accepted']
  if (accepted !== undefined && !Array.isArray(accepted))
    reading.wrong(`${field}.accepted`, 'The accepted answers cannot be read.')
  if (Array.isArray(accepted)) {
    if (accepted.length > SPACE_LIMITS.accepted)
      reading.wrong(`${field}.accepted`, `Up to ${SPACE_LIMITS.accepted} answers can be accepted.`)
    const read = accepted
      .slice(0, SPACE_LIMITS.accepted)
      .map((answer: unknown, index) =>
        readText(reading, answer, `${field}.accepted.${index}`, SPACE_LIMITS.acceptedText, 'An accepted answer').trim(),
      )
      .filter(Boolean)
    if (read.length) key.accepted = [...new Set(read)]
  }
  const lenient = raw['lenient']
  if (isRecord(lenient)) key.lenient = { case: lenient['case'] === true, accents: lenient['accents'] === true }
  return key
}

export const WORD_KEY: Key<AnySpace & WordKey> = {
  parts: ['accepted', 'lenient'],
  isSet: ({ accepted }) => !!accepted?.length,
  words: ({ accepted }) => accepted?.join(' / ') ?? '',
  check: ({ accepted, lenient = USUAL }, value) =>
    checkText(value, (text) => (accepted!.some((one) => isSameAnswer(text, one, lenient)) ? RIGHT : wrong())),
}

/** Checks what was written, unless nothing was. */
export function checkText(value: AnswerValue, check: (text: string) => Check): Check {
  const text = 'text' in value ? value.text.trim() : ''
  return text ? check(text) : { is: 'empty' }
}

/**
 * Whether two texts are the same answer: spaces at the ends and between words never matter, nor does which kind of
 * apostrophe or hyphen was typed; case and accents as told.
 */
export function isSameAnswer(one: string, other: string, lenient: Leniency): boolean {
  return answerForm(one, lenient) === answerForm(other, lenient)
}

function answerForm(text: string, { case: anyCase, accents }: Leniency): string {
  let form = text
    .normalize('NFKC')
    .replace(/[’ʼ`´]/g, "'")
    .replace(/\p{Pd}/gu, '-')
    .replace(/\s+/g, ' ')
    .trim()
  if (accents) form = form.normalize('NFD').replace(/\p{M}/gu, '')
  return anyCase ? form.toLocaleLowerCase('und') : form
}
