import { findForm } from '../roster/find.js'

/** Somebody who can be named in a comment. */
export interface Mentionable {
  readonly id: string
  /** As they are called. */
  readonly name: string
}

/** A letter, a digit or a mark: what goes on in a name. */
const GOES_ON = /^[\p{L}\p{M}\p{N}]/u
const BEFORE = /[\p{L}\p{M}\p{N}]$/u

/** Where in a text somebody is named, in UTF-16 units, with the sign before the name. */
export interface Mention {
  readonly id: string
  readonly from: number
  readonly to: number
}

/**
 * Who is named in a comment: "@" and their whole name, as it is chosen from the list. Of names that begin alike the longest counts.
 * @returns in the order of the text
 */
export function mentionsIn(text: string, people: readonly Mentionable[]): Mention[] {
  const longest = people.filter(({ name }) => name !== '').toSorted((a, b) => b.name.length - a.name.length)
  const found: Mention[] = []
  for (let at = text.indexOf('@'); at >= 0; at = text.indexOf('@', at + 1)) {
    // An address is no mention.
    if (BEFORE.test(text.slice(0, at))) continue
    const named = longest.find(({ name }) => {
      const to = at + 1 + name.length
      return text.slice(at + 1, to).toLowerCase() === name.toLowerCase() && !GOES_ON.test(text.slice(to, to + 2))
    })
    if (named) found.push({ id: named.id, from: at, to: at + 1 + named.name.length })
  }
  return found
}

/** Letters after the sign up to which a name is looked for. */
const LOOKED_FOR = 60

/**
 * The beginning of a name that is being typed before the caret, after "@"; null: none is.
 * @param caret in UTF-16 units
 */
export function mentionBegun(text: string, caret: number): { readonly from: number; readonly typed: string } | null {
  const before = text.slice(Math.max(0, caret - LOOKED_FOR), caret)
  const at = before.lastIndexOf('@')
  if (at < 0 || BEFORE.test(before.slice(0, at))) return null
  const typed = before.slice(at + 1)
  if (/[\n@]/.test(typed) || typed.startsWith(' ') || typed.split(' ').length > 3) return null
  return { from: caret - typed.length - 1, typed }
}

/** The people whom a beginning may be of: a word of their name begins so. */
export function mentionable<P extends Mentionable>(people: readonly P[], typed: string, most: number): P[] {
  const wanted = findForm(typed)
  return people.filter(({ name }) => ` ${findForm(name)}`.includes(` ${wanted}`)).slice(0, most)
}
