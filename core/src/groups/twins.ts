import { findForm } from '../roster/find.js'

/** Two names that look like one, the one to keep first: what most wrote, else the longer, else the first in order. */
export interface NameTwins<T> {
  readonly keep: T
  readonly other: T
  readonly reason: 'the same letters' | 'a plural' | 'a slip of the pen'
}

/**
 * Whether two group names are probably one name written twice, and by what. Case, spaces, accents and signs never tell
 * names apart; a plural "s" or "es" at the end of a word does not; nor do one slip of the pen in a name of five letters
 * or more and two in one of twelve or more (a letter too many, missing, wrong, or two swapped: the optimal string
 * alignment distance). Digits and single letters always do: "Crew 1" and "Crew 2", "A" and "B" are two.
 */
export function alike(a: string, b: string): NameTwins<string>['reason'] | null {
  const [one, two] = [squeezed(a), squeezed(b)]
  if (!one || !two) return null
  if (one === two) return 'the same letters'
  if (marksOf(a) !== marksOf(b)) return null
  if (singularForm(a) === singularForm(b)) return 'a plural'
  const shorter = Math.min(one.length, two.length)
  const slips = shorter >= 12 ? 2 : shorter >= 5 ? 1 : 0
  if (slips === 0) return null
  return slipsBetween(singularForm(a), singularForm(b), slips) <= slips ? 'a slip of the pen' : null
}

/**
 * The pairs of names that look like one, most alike first.
 * @param names with how many people are in each
 */
export function nameTwins<T extends { readonly name: string; readonly size: number }>(
  names: readonly T[],
): NameTwins<T>[] {
  const order: readonly NameTwins<T>['reason'][] = ['the same letters', 'a plural', 'a slip of the pen']
  return names
    .flatMap((one, at) =>
      names.slice(at + 1).flatMap((two): NameTwins<T>[] => {
        const reason = alike(one.name, two.name)
        if (!reason) return []
        return [two.size > one.size ? { keep: two, other: one, reason } : { keep: one, other: two, reason }]
      }),
    )
    .toSorted((a, b) => order.indexOf(a.reason) - order.indexOf(b.reason))
}

const words = (name: string) =>
  findForm(name)
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .trim()
    .split(' ')

const squeezed = (name: string) => words(name).join('')

/** The numbers and single letters of a name: what tells "Crew 1 b" from "Crew 2 b". */
export const marksOf = (name: string) =>
  words(name)
    .flatMap((word) => (word.length === 1 ? [word] : (word.match(/\p{N}+/gu) ?? [])))
    .join(' ')

/** The letters of a name without the endings of its plurals. */
export const singularForm = (name: string) =>
  words(name)
    .map((word) => (word.length > 3 ? word.replace(/(?:(?<=s|x|z|ch|sh)es|(?<!s)s)$/, '').replace(/ie$/, 'y') : word))
    .join('')

/** Slips of the pen between two words, counted up to one more than `most` (optimal string alignment distance). */
export function slipsBetween(a: string, b: string, most: number): number {
  if (Math.abs(a.length - b.length) > most) return most + 1
  let before: number[] = []
  let last = Array.from({ length: b.length + 1 }, (_, at) => at)
  for (let i = 1; i <= a.length; i++) {
    const row = [i]
    for (let j = 1; j <= b.length; j++) {
      const same = a[i - 1] === b[j - 1]
      let best = Math.min(last[j]! + 1, row[j - 1]! + 1, last[j - 1]! + (same ? 0 : 1))
      if (i > 1 && j > 1 && a[i - 1] === b[j - 2] && a[i - 2] === b[j - 1]) best = Math.min(best, before[j - 2]! + 1)
      row.push(best)
    }
    if (Math.min(...row) > most) return most + 1
    before = last
    last = row
  }
  return last[b.length]!
}
