import { type Outcome, type Problem, fine, refuse } from '../errors/problem.js'
import { alike } from '../groups/twins.js'
import { findForm } from '../roster/find.js'
import { type PersonName, cleanText, foldText, fullName } from '../roster/names.js'
import type { Change } from './changes.js'
import type { Existing } from './existing.js'
import type { HandoutItem, Way } from './statement.js'

/** What guests may do by a walk-in link. */
export type GuestPermission = 'view' | 'comment' | 'edit'

export const GUEST_NAME_LIMIT = 100

/**
 * Why there can be no such walk-in link to an item; null: there can.
 * @param item as it was handed out; undefined: it was not
 */
export function walkInProblem(item: Pick<HandoutItem, 'way'> | undefined, permission: GuestPermission): Problem | null {
  if (!item)
    return {
      code: 'not-handed-out',
      sentence: 'Hand this slip out first: a walk-in link leads to what is there.',
    }
  if (item.way === 'one per group')
    return {
      code: 'no-walk-in',
      sentence: 'A copy for a group has its group: give a walk-in link to one each, one together or to read.',
    }
  if (item.way === 'to read' && permission === 'edit')
    return {
      code: 'to-read',
      field: 'permission',
      sentence: 'This is given to read: guests may view or comment.',
    }
  return null
}

/** Whether a walk-in link lets somebody in. Times in milliseconds since 1970. */
export const letsIn = (link: { readonly open: boolean; readonly endsAt: number | null }, now: number): boolean =>
  link.open && (link.endsAt === null || link.endsAt > now)

/** The name under which somebody comes in. */
export function guestName(typed: string): Outcome<string> {
  const name = cleanText(typed)
  return name && name.length <= GUEST_NAME_LIMIT
    ? fine(name)
    : refuse({
        code: 'guest-name',
        field: 'name',
        sentence: `Give your name, in up to ${GUEST_NAME_LIMIT} characters.`,
      })
}

const stem = (name: string) => name.replace(/ \(\d+\)$/, '')

/** Whether somebody who came in as `known` gives their own name: the same, or the same but for the number that they got. */
export const isGuestCalled = (known: string, name: string): boolean =>
  foldText(known) === foldText(name) || foldText(stem(known)) === foldText(name)

/** A name that no guest has yet: the name itself, or with the next number. */
export function numberedName(name: string, taken: readonly string[]): string {
  const known = new Set(taken.map(foldText))
  if (!known.has(foldText(name))) return name
  let number = 2
  while (known.has(foldText(`${name} (${number})`))) number++
  return `${name} (${number})`
}

/** Why a guest may be a student of the roster, the surest first. */
export const LIKENESSES = [
  'the same name',
  'nearly the same name',
  'the same name, shortened',
  'the same first name',
  'nearly the same first name',
] as const
export type Likeness = (typeof LIKENESSES)[number]

const wordsOf = (name: string) =>
  findForm(name)
    .split(' ')
    .filter((word) => word !== '')

/** How the name that a guest gave is like that of a student; null: it is not. */
export function likenessOf(guest: string, student: PersonName): Likeness | null {
  const name = stem(guest)
  const [given, first, all] = [wordsOf(name), wordsOf(student.first), wordsOf(`${student.first} ${student.last}`)]
  if (given.length === 0) return null
  if (given.toSorted().join(' ') === all.toSorted().join(' ')) return 'the same name'
  if (alike(name, fullName(student)) || alike(name, `${student.last} ${student.first}`)) return 'nearly the same name'
  // "Zofia D", "Z Dabrowska", "Rania Masri" of Rania Al-Masri: each word is one of the name, or begins one of it.
  const left = [...all]
  const isShort = given.every((word) => {
    const at = left.findIndex((one) => one === word || (word.length === 1 && one.startsWith(word)))
    if (at >= 0) left.splice(at, 1)
    return at >= 0
  })
  if (isShort && given.length > 1 && given.some((word) => word.length > 1)) return 'the same name, shortened'
  const [only, ...others] = given
  if (others.length > 0) return null
  if (first.includes(only!)) return 'the same first name'
  if (only!.length >= 3 && first.some((word) => word.startsWith(only!) || alike(only!, word)))
    return 'nearly the same first name'
  return null
}

/**
 * The student of the roster who a guest probably is, by the name they gave; null where nobody's is like it, or that of several
 * equally.
 */
export function studentLike<S extends PersonName>(
  guest: string,
  students: readonly S[],
): { readonly student: S; readonly likeness: Likeness } | null {
  const found = students.flatMap((student) => {
    const likeness = likenessOf(guest, student)
    return likeness ? [{ student, likeness }] : []
  })
  for (const likeness of LIKENESSES) {
    const [best, another] = found.filter((one) => one.likeness === likeness)
    if (best) return another ? null : best
  }
  return null
}

/** A copy, as far as it matters for whether another can stand in its place. */
export interface CopyOfMatch {
  readonly worksheetId: string
  readonly edition: number
  readonly link: string | null
  /** Somebody wrote, commented, handed in or kept a file in it. */
  readonly isTouched: boolean
}

/**
 * Whether what a guest has stands beside what a student has, once it is said that they are one: it takes the place of the
 * student's where nothing was done in that yet, and it is of the same edition.
 * @param guest the guest's own copy; null: they share one with all
 * @param own the student's own copy of the same item; null: they have none
 * @param hasWritten in a shared copy: whether the student wrote in their part of it
 */
export function standsBeside(
  way: Way,
  guest: CopyOfMatch | null,
  own: CopyOfMatch | null,
  hasWritten: boolean,
): boolean {
  if (way !== 'one each') return hasWritten
  if (!guest || !own || own.isTouched) return true
  return guest.worksheetId !== own.worksheetId || guest.edition !== own.edition || guest.link !== own.link
}

/**
 * Of the changes to a plan those that are for guests alone: their own copies, and that they come into a shared one. What has
 * changed in the class since is not theirs to bring about.
 * @param guests ids of the guests of the handout
 */
export function changesForGuests(
  changes: readonly Change[],
  guests: ReadonlySet<string>,
  existing: Pick<Existing, 'copies'>,
): Change[] {
  const before = new Map(existing.copies.map((copy) => [copy.slotKey, copy]))
  return changes.filter((change) => {
    if (change.kind === 'create') return change.copy.holders.some((holder) => guests.has(holder.personId))
    if (change.kind !== 'permit') return false
    const others = (holders: typeof change.holders) =>
      holders
        .filter((holder) => !guests.has(holder.personId))
        .map((holder) => `${holder.personId} ${holder.permission}`)
        .toSorted()
        .join()
    const known = before.get(change.slotKey)
    return known !== undefined && others(known.holders) === others(change.holders)
  })
}
