import { foldText } from './names.js'

// Letters that have no form without their stroke or dot in Unicode, and those that are two letters elsewhere.
const PLAIN: Readonly<Record<string, string>> = {
  ł: 'l',
  ø: 'o',
  đ: 'd',
  ð: 'd',
  ħ: 'h',
  ı: 'i',
  ŧ: 't',
  ß: 'ss',
  æ: 'ae',
  œ: 'oe',
  þ: 'th',
}

/**
 * The form of a text in which it is looked for: small letters without accents, in any script; apostrophes and hyphens
 * count as nothing and as a space, so that "ohara" and "o hara" both find O’Hara.
 */
export function findForm(text: string): string {
  return foldText(text)
    .normalize('NFD')
    .replace(/\p{M}/gu, '')
    .replace(/[łøđðħıŧßæœþ]/g, (letter) => PLAIN[letter]!)
    .replace(/['’ʼ`´]/g, '')
    .replace(/[\s\p{Pd}_.,]+/gu, ' ')
    .trim()
}

/**
 * Whether a text is found by what was typed: every word typed is in it somewhere, without regard to case or accents.
 * Nothing typed finds everything.
 */
export function isFound(text: string, typed: string): boolean {
  const form = findForm(text)
  const joined = form.replaceAll(' ', '')
  return findForm(typed)
    .split(' ')
    .every((word) => form.includes(word) || joined.includes(word))
}

/**
 * The things whose text is found by what was typed, those that begin with it first, else in their order.
 * @param limit the most that are wanted
 */
export function findAll<T>(things: readonly T[], textOf: (thing: T) => string, typed: string, limit: number): T[] {
  const wanted = findForm(typed)
  if (!wanted) return []
  const found = things.filter((thing) => isFound(textOf(thing), typed))
  const begins = (thing: T) => ` ${findForm(textOf(thing))}`.includes(` ${wanted}`)
  return [...found.filter(begins), ...found.filter((thing) => !begins(thing))].slice(0, limit)
}
