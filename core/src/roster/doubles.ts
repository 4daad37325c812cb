import { marksOf, singularForm, slipsBetween } from '../groups/twins.js'
import { findForm } from './find.js'
import type { PersonName } from './names.js'

/** Two records that may be one person. */
export interface PossibleDouble {
  /** Their places in the list that was asked about; the first comes first there. */
  readonly one: number
  readonly two: number
  readonly reason: 'the same name' | 'nearly the same name'
}

/** The most that are found: nobody looks through more. */
export const DOUBLES_LIMIT = 2_000
/** A name that is shorter has no slips of the pen: Ann and Jan are two. */
const SHORTEST = 5
/** Of so many people of one name each is held against the first ones only. */
const NAMESAKES = 6
/** Of so many names that are alike but for one letter, each is held against the first ones only. */
const WIDEST = 40

/**
 * Who of many people may be there twice: names of the same words in any order, and names that one slip of the pen tells apart (a
 * letter too many, missing, wrong, or two swapped), written first name first or last. Names with other single letters or numbers in
 * them are two.
 *
 * Method: two words are one slip apart only if leaving one letter out of each makes them the same, or out of one of them; so the
 * forms without a letter are the index (the deletion neighbourhood, after T. Bocek, E. Hunt and B. Stiller, "Fast similarity search
 * in large dictionaries", 2007), and only what meets there is compared. Time and memory grow with the letters of all names.
 * @param people in the order in which pairs are wanted; only those of one role are compared
 * @returns the same names first
 */
export function possibleDoubles(people: readonly (PersonName & { readonly role: string })[]): PossibleDouble[] {
  const same: PossibleDouble[] = []
  const near: PossibleDouble[] = []
  const called = new Map<string, number[]>()
  const names: { readonly at: number; readonly form: string; readonly turned: string; readonly marks: string }[] = []
  people.forEach((person, at) => {
    const words = findForm(`${person.first} ${person.last}`)
    if (!words) return
    const key = `${person.role} ${words.split(' ').toSorted().join(' ')}`
    const others = called.get(key)
    if (others) {
      for (const one of others) if (same.length < DOUBLES_LIMIT) same.push({ one, two: at, reason: 'the same name' })
      if (others.length < NAMESAKES) others.push(at)
      return
    }
    called.set(key, [at])
    const form = singularForm(`${person.first} ${person.last}`)
    if (form.length < SHORTEST) return
    const turned = singularForm(`${person.last} ${person.first}`)
    const marks = [...marksOf(words)].toSorted().join('')
    names.push({ at, form, turned, marks: `${person.role} ${marks}` })
  })
  /** Who is met at a form without a letter, as places in `names`; each is there as they are written, and looks in both orders. */
  const met = new Map<number, number[]>()
  const told = new Set<number>()
  const compare = (one: number, two: number) => {
    const [a, b] = [names[one]!, names[two]!]
    const pair = a.at * people.length + b.at
    if (a.marks !== b.marks || told.has(pair) || near.length >= DOUBLES_LIMIT) return
    if (slipsBetween(a.form, b.form, 1) > 1 && slipsBetween(a.form, b.turned, 1) > 1) return
    told.add(pair)
    near.push({ one: a.at, two: b.at, reason: 'nearly the same name' })
  }
  names.forEach(({ form, turned }, index) => {
    if (turned !== form)
      for (const key of withoutOne(turned)) for (const other of met.get(key) ?? []) compare(other, index)
    for (const key of withoutOne(form)) {
      const others = met.get(key)
      if (!others) met.set(key, [index])
      else {
        for (const other of others) if (other !== index) compare(other, index)
        if (others.length < WIDEST && others.at(-1) !== index) others.push(index)
      }
    }
  })
  return [...same, ...near].slice(0, DOUBLES_LIMIT)
}

/**
 * A number for a word, and for the word without each of its letters: the same for the same letters (a polynomial in 32 bits, put
 * together from what stands before and after the letter). Others may have it too, so whoever meets there is compared.
 */
function withoutOne(word: string): number[] {
  const count = word.length
  const after = new Int32Array(count + 1)
  const power = new Int32Array(count + 1)
  power[0] = 1
  for (let at = count - 1; at >= 0; at--) {
    power[count - at] = Math.imul(power[count - at - 1]!, BASE)
    after[at] = (Math.imul(word.charCodeAt(at), power[count - at - 1]!) + after[at + 1]!) | 0
  }
  const keys = [after[0]!]
  let before = 0
  for (let at = 0; at < count; at++) {
    // Of two letters that are alike it does not matter which one is left out.
    if (word[at] !== word[at + 1]) keys.push((Math.imul(before, power[count - at - 1]!) + after[at + 1]!) | 0)
    before = (Math.imul(before, BASE) + word.charCodeAt(at)) | 0
  }
  return keys
}

/** Odd, so that no letter loses its weight. */
const BASE = 16_777_619
