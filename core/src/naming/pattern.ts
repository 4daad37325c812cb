import { type Outcome, type Problem, fine } from '../errors/problem.js'
import { cleanText } from '../roster/names.js'

/** The tokens a name can be built from, each with the word that stands on it. */
export const NAME_TOKENS = {
  last: 'Last name',
  first: 'First name',
  title: 'Title',
  class: 'Class',
  date: 'Date',
} as const

export type NameToken = keyof typeof NAME_TOKENS
export type PatternPart =
  { readonly kind: 'token'; readonly token: NameToken } | { readonly kind: 'text'; readonly text: string }

/** How copies are called: tokens and the text between them. */
export type NamePattern = readonly PatternPart[]
export type NameValues = Readonly<Record<NameToken, string>>

/** The longest name of a copy, in characters as a reader counts them. */
export const COPY_NAME_LIMIT = 150
const PART_LIMIT = 40
const TEXT_LIMIT = 100

export const token = (name: NameToken): PatternPart => ({ kind: 'token', token: name })
export const literal = (text: string): PatternPart => ({ kind: 'text', text })

/** "Last name, First name – Title". */
export const DEFAULT_PATTERN: NamePattern = [
  token('last'),
  literal(', '),
  token('first'),
  literal(' – '),
  token('title'),
]

/** Reads a pattern from anywhere. Problems name the part: `pattern.2`. */
export function checkPattern(input: unknown): Outcome<NamePattern> {
  const problems: Problem[] = []
  const wrong = (field: string, sentence: string) => problems.push({ code: 'pattern-malformed', field, sentence })
  const parts: PatternPart[] = []
  if (!Array.isArray(input) || input.length > PART_LIMIT) {
    wrong('pattern', `A name pattern has up to ${PART_LIMIT} parts.`)
    return { ok: false, problems }
  }
  input.forEach((raw: unknown, index) => {
    const part = (typeof raw === 'object' && raw !== null ? raw : {}) as Record<string, unknown>
    if (part['kind'] === 'token' && typeof part['token'] === 'string' && Object.hasOwn(NAME_TOKENS, part['token']))
      parts.push(token(part['token'] as NameToken))
    else if (part['kind'] === 'text' && typeof part['text'] === 'string' && part['text'].length <= TEXT_LIMIT)
      parts.push(literal(part['text']))
    else wrong(`pattern.${index}`, 'This part of the name is neither a token nor a short text.')
  })
  return problems.length ? { ok: false, problems } : fine(parts)
}

/**
 * The name a pattern gives with these values. A token without a value takes the text that ties it to its neighbour with
 * it, so that a person of one name is "Suharto – Title", never ", Suharto – Title". The result is safe as a file name.
 * @returns at most {@link COPY_NAME_LIMIT} characters; empty if nothing in the pattern has a value
 */
export function nameFrom(pattern: NamePattern, values: NameValues): string {
  const filled = pattern.map((part) =>
    part.kind === 'text' ? { text: part.text, token: false } : { text: cleanText(values[part.token]), token: true },
  )
  const whole = compose(filled)
  if (whole.length <= COPY_NAME_LIMIT) return safeName(whole)
  // Too long: the longest values give way first, so that each still says something.
  const budget = Math.max(
    12,
    Math.floor((COPY_NAME_LIMIT - 30) / Math.max(1, filled.filter((part) => part.token).length)),
  )
  return safeName(
    shorten(
      compose(filled.map((part) => (part.token ? { ...part, text: shorten(part.text, budget) } : part))),
      COPY_NAME_LIMIT,
    ),
  )
}

function compose(parts: readonly { text: string; token: boolean }[]): string {
  const kept = [...parts]
  for (let index = 0; index < kept.length; index++) {
    const part = kept[index]!
    if (!part.token || part.text !== '') continue
    const after = kept[index + 1]
    const before = kept[index - 1]
    const tiesBefore = before !== undefined && isTie(before)
    const tiesAfter = after !== undefined && isTie(after)
    // Between two ties the closer one goes: of "Last, First – Title" the comma, of "Title – Last, First" the comma too.
    if (tiesBefore && (!tiesAfter || (isClose(before) && !isClose(after)))) kept.splice(index - 1, 2)
    else if (tiesAfter) kept.splice(index, 2)
    else kept.splice(index, 1)
    index = -1
  }
  return cleanText(kept.map((part) => part.text).join(''))
}

const isTie = (part: { text: string; token: boolean }) => !part.token && !/[\p{L}\p{N}]/u.test(part.text)

const isClose = ({ text }: { text: string }) => /^[\s,]*$/.test(text)

// Reserved in the file systems in common use; a leading or trailing dot or space is lost in some.
const UNSAFE = /[\\/:*?"<>|]/g

function safeName(text: string): string {
  return cleanText(text.replace(UNSAFE, '-').replace(/^[. ]+|[. ]+$/g, ''))
}

const segmenter = new Intl.Segmenter('und', { granularity: 'grapheme' })

function shorten(text: string, limit: number): string {
  const characters = Array.from(segmenter.segment(text), (part) => part.segment)
  return characters.length <= limit
    ? text
    : `${characters
        .slice(0, limit - 1)
        .join('')
        .trimEnd()}…`
}

/** The key under which two names of copies are the same to a file system that ignores case and Unicode form. */
export function nameKey(name: string): string {
  return name.normalize('NFKC').toLowerCase().normalize('NFKC')
}

/**
 * Makes names differ: the first keeps its name, the next of the same name gets " (2)", and so on, never a number that
 * somebody's own name already has.
 * @param names in a stable order; empty names become `fallback`
 * @returns as many names, in the same order, no two with the same {@link nameKey}
 */
export function resolveClashes(names: readonly string[], fallback: string): string[] {
  const wanted = names.map((name) => name || fallback)
  const own = new Set(wanted.map(nameKey))
  const taken = new Set<string>()
  const nextNumber = new Map<string, number>()
  return wanted.map((name) => {
    const key = nameKey(name)
    if (!taken.has(key)) {
      taken.add(key)
      return name
    }
    let number = nextNumber.get(key) ?? 2
    let candidate = `${name} (${number})`
    while (taken.has(nameKey(candidate)) || own.has(nameKey(candidate))) candidate = `${name} (${++number})`
    nextNumber.set(key, number + 1)
    taken.add(nameKey(candidate))
    return candidate
  })
}
