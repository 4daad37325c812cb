/** The name of a person as they write it. Either part may be empty (one-word names), never both. */
export interface PersonName {
  readonly first: string
  readonly last: string
}

/** The longest name, in UTF-16 units, that is kept for either part. */
export const NAME_LIMIT = 300

// Control characters, and the invisible marks that turn the direction of all text after them.
const UNPRINTABLE = /[\p{Cc}\u200E\u200F\u202A-\u202E\u2066-\u2069\uFEFF]/gu

// Most text is clean already, which is told much quicker than it is cleaned.
const PLAIN = /^(?:[!-~]+(?: [!-~]+)*)?$/

// White space that is not single blanks between words, or anything unprintable.
const UNTIDY = /^\s|\s\s|\s$|[^\S ]|[\p{Cc}\u200E\u200F\u202A-\u202E\u2066-\u2069\uFEFF]/u

/** `text` with unprintable characters removed, white space collapsed and its letters in composed form (NFC). */
export function cleanText(text: string): string {
  if (PLAIN.test(text)) return text
  if (!UNTIDY.test(text)) return text.normalize('NFC')
  return text
    .replace(/[\t\n\r\u00A0]+/g, ' ')
    .replace(UNPRINTABLE, '')
    .replace(/\s+/g, ' ')
    .trim()
    .normalize('NFC')
}

/** A text of several lines, each as {@link cleanText} leaves it, without empty ones at its ends. */
export const cleanLines = (text: string): string => text.split('\n').map(cleanText).join('\n').trim()

/** The key under which two spellings of a text count as the same: case, width and white space do not matter. */
export function foldText(text: string): string {
  return PLAIN.test(text) ? text.toLowerCase() : cleanText(text).normalize('NFKC').toLowerCase()
}

/** "Last, First", or the one part there is: the order in which lists are sorted and read. */
export function listName(name: PersonName): string {
  return name.last && name.first ? `${name.last}, ${name.first}` : name.last || name.first
}

/** "First Last", or the one part there is: how a person is spoken of. */
export function fullName(name: PersonName): string {
  return name.last && name.first ? `${name.first} ${name.last}` : name.first || name.last
}

/**
 * Compares two names by the rules of a locale: by last name (the only name of those who have one), then first.
 * @param locale a BCP 47 tag, e.g. `en` or `sv`
 */
export function nameOrder(locale: string): (a: PersonName, b: PersonName) => number {
  const collator = new Intl.Collator(locale, { sensitivity: 'base', numeric: true })
  return (a, b) => collator.compare(a.last || a.first, b.last || b.first) || collator.compare(a.first, b.first)
}
