import { type Outcome, type Problem, fine, refuse } from '../errors/problem.js'
import { cleanText, foldText } from '../roster/names.js'
import type { Change } from './changes.js'
import type { Existing } from './existing.js'
import type { HandoutItem } from './statement.js'

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
