import { type Outcome, type Problem, fine } from '../errors/problem.js'
import { cleanText, foldText } from '../roster/names.js'

/** The tokens a name can be built from, each with the word that stands on it. */
export const NAME_TOKENS = {
  last: 'Last name',
  first: 'First name',
  group: 'Group',
  members: 'Members',
  title: 'Title',
  number: 'Number',
  class: 'Class',
  unit: 'Unit',
  date: 'Date',
} as const

export type NameToken = keyof typeof NAME_TOKENS
export type PatternPart =
  | { readonly kind: 'token'; readonly token: NameToken }
  /** What stands in a column of the roster, by the name of the column. */
  | { readonly kind: 'column'; readonly column: string }
  | { readonly kind: 'text'; readonly text: string }

/** How copies are called: tokens and the text between them. */
export type NamePattern = readonly PatternPart[]
export interface NameValues extends Readonly<Partial<Record<NameToken, string>>> {
  /** What stands in the columns of the roster, by the folded name of the column ({@link foldText}). */
  readonly columns?: ReadonlyMap<string, string>
}

/** The longest name of a copy, in characters as a reader counts them. */
export const COPY_NAME_LIMIT = 150
/** The longest name that file systems keep, in bytes of UTF-8; an ending of a few characters is added on the way out. */
export const COPY_NAME_BYTES = 240
const PART_LIMIT = 40
const TEXT_LIMIT = 100

export const token = (name: NameToken): PatternPart => ({ kind: 'token', token: name })
export const column = (name: string): PatternPart => ({ kind: 'column', column: name })
export const literal = (text: string): PatternPart => ({ kind: 'text', text })

/** "Last name, First name – Title". */
export const DEFAULT_PATTERN: NamePattern = [
  token('last'),
  literal(', '),
  token('first'),
  literal(' – '),
  token('title'),
]
/** "Group – Title". */
export const GROUP_PATTERN: NamePattern = [token('group'), literal(' – '), token('title')]
/** "Title". */
export const TITLE_PATTERN: NamePattern = [token('title')]

/** The word that stands on a part, as it is typed between square brackets; the text itself of a text. */
export function wordOf(part: PatternPart): string {
  switch (part.kind) {
    case 'token':
      return NAME_TOKENS[part.token]
    case 'column':
      return part.column
    case 'text':
      return part.text
  }
}

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
    else if (
      part['kind'] === 'column' &&
      typeof part['column'] === 'string' &&
      part['column'].length > 0 &&
      part['column'].length <= TEXT_LIMIT
    )
      parts.push(column(part['column']))
    else if (part['kind'] === 'text' && typeof part['text'] === 'string' && part['text'].length <= TEXT_LIMIT)
      parts.push(literal(part['text']))
    else wrong(`pattern.${index}`, 'This part of the name is neither a token nor a short text.')
  })
  return problems.length ? { ok: false, problems } : fine(parts)
}

interface Filled {
  readonly text: string
  readonly isValue: boolean
}

/**
 * The name a pattern gives with these values. A token without a value takes the text that ties it to its neighbour with
 * it, so that a person of one name is "Suharto – Title", never ", Suharto – Title". The result is safe as a file name.
 * @returns at most {@link COPY_NAME_LIMIT} characters and {@link COPY_NAME_BYTES} bytes; empty if nothing in the pattern
 * has a value
 */
export function nameFrom(pattern: NamePattern, values: NameValues): string {
  const filled = pattern.map((part): Filled => {
    switch (part.kind) {
      case 'text':
        return { text: part.text, isValue: false }
      case 'token':
        return { text: cleanText(values[part.token] ?? ''), isValue: true }
      case 'column':
        return { text: cleanText(values.columns?.get(foldText(part.column)) ?? ''), isValue: true }
    }
  })
  const whole = compose(filled)
  if (fits(whole)) return safeName(whole)
  // Too long: the longest values give way first, so that each still says something.
  const values_ = filled.filter(({ isValue }) => isValue).length
  let budget = Math.max(12, Math.floor((COPY_NAME_LIMIT - 30) / Math.max(1, values_)))
  for (;;) {
    const limit = budget
    const shorter = shorten(
      compose(filled.map((part) => (part.isValue ? { ...part, text: shorten(part.text, limit) } : part))),
      COPY_NAME_LIMIT,
    )
    if (fits(shorter) || budget <= 4) return safeName(cutToBytes(shorter))
    budget = Math.max(4, Math.floor(budget * 0.7))
  }
}

function compose(parts: readonly Filled[]): string {
  const kept = [...parts]
  for (let index = 0; index < kept.length; index++) {
    const part = kept[index]!
    if (!part.isValue || part.text !== '') continue
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

const isTie = ({ text, isValue }: Filled) => !isValue && !/[\p{L}\p{N}]/u.test(text)

const isClose = ({ text }: Filled) => /^[\s,]*$/.test(text)

// Reserved in the file systems in common use; a leading or trailing dot or space is lost in some.
const UNSAFE = /[\\/:*?"<>|]/g
// Names of devices that one file system keeps for itself, with or without an ending.
const DEVICE = /^(con|prn|aux|nul|com[0-9]|lpt[0-9])(?=\.|$)/i

function safeName(text: string): string {
  return cleanText(text.replace(UNSAFE, '-').replace(/^[. ]+|[. ]+$/g, '')).replace(DEVICE, '$1-')
}

// Made when it is first needed: making it takes longer than all the rest of a page's start.
let segmenter: Intl.Segmenter | null = null
const PLAIN = /^[ -~]*$/
const charactersOf = (text: string): string[] =>
  PLAIN.test(text)
    ? [...text]
    : Array.from(
        (segmenter ??= new Intl.Segmenter('und', { granularity: 'grapheme' })).segment(text),
        (part) => part.segment,
      )

function bytesOf(text: string): number {
  let bytes = 0
  for (const character of text) {
    const code = character.codePointAt(0)!
    bytes += code < 0x80 ? 1 : code < 0x800 ? 2 : code < 0x1_0000 ? 3 : 4
  }
  return bytes
}

// A character takes three bytes for each of its UTF-16 units at most.
const fits = (name: string) =>
  name.length <= COPY_NAME_LIMIT && (name.length * 3 <= COPY_NAME_BYTES || bytesOf(name) <= COPY_NAME_BYTES)

function shorten(text: string, limit: number): string {
  if (text.length <= limit) return text
  const characters = charactersOf(text)
  return characters.length <= limit
    ? text
    : `${characters
        .slice(0, limit - 1)
        .join('')
        .trimEnd()}…`
}

function cutToBytes(text: string): string {
  if (bytesOf(text) <= COPY_NAME_BYTES) return text
  let kept = ''
  for (const character of charactersOf(text)) {
    if (bytesOf(kept) + bytesOf(character) > COPY_NAME_BYTES - 3) break
    kept += character
  }
  return `${kept.trimEnd()}…`
}

/** The key under which two names of copies are the same to a file system that ignores case and Unicode form. */
export function nameKey(name: string): string {
  return PLAIN.test(name) ? name.toLowerCase() : name.normalize('NFKC').toLowerCase().normalize('NFKC')
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
