import { gathered } from '../common/gathered.js'
import { isSame } from '../worksheet/same.js'
import { type Change, type Permissions, samePeople } from './changes.js'
import { type Existing } from './existing.js'
import type { Plan } from './plan.js'
import type { PlannedCopy } from './planned.js'

/** Where what exists of a handout is not what its statement says: a roster or groups that changed, or rows that failed. */
export interface Differences {
  /** Students who should have a copy and have none. */
  readonly waiting: readonly string[]
  /** Students who belong to another copy now, as in another group, and still have the former, alone or beside it. */
  readonly regrouped: readonly string[]
  /** Students whose place in a copy that several groups share is another group's now. */
  readonly moved: readonly string[]
  /** Students who have a copy that is not for them any more. */
  readonly over: readonly string[]
  /** Copies that only have other peer readers. */
  readonly readers: number
  /** Copies that differ in something else: name, worksheet, times, who may do what. */
  readonly copies: number
}

/** What differs, person by person; null when nothing does. Cover notes that were not sent are no difference. */
export function differencesOf(
  plan: Pick<Plan, 'copies'>,
  existing: Pick<Existing, 'copies'>,
  changes: readonly Change[],
): Differences | null {
  const planned = slotsByPerson(plan.copies)
  const held = slotsByPerson(existing.copies.filter(({ setAside }) => !setAside))
  const waiting = new Set<string>()
  const regrouped = new Set<string>()
  const over = new Set<string>()
  const explained = new Set<string>()
  for (const key of new Set([...planned.keys(), ...held.keys()])) {
    const [, personId] = JSON.parse(key) as [string, string]
    const should = planned.get(key) ?? NONE
    const does = held.get(key) ?? NONE
    const surplus = [...does].filter((slot) => !should.has(slot))
    const missing = [...should].filter((slot) => !does.has(slot))
    for (const slot of [...surplus, ...missing]) explained.add(slot)
    if (surplus.length > 0) (should.size > 0 ? regrouped : over).add(personId)
    else if (missing.length > 0) waiting.add(personId)
  }
  const moved = new Set<string>()
  const bySlot = new Map(existing.copies.map((copy) => [copy.slotKey, copy]))
  for (const copy of plan.copies) {
    const now = bySlot.get(copy.slotKey)
    for (const personId of now && !now.setAside ? movedIn(now, copy) : []) {
      moved.add(personId)
      explained.add(copy.slotKey)
    }
  }
  const others = gathered(
    changes.filter(({ kind, slotKey }) => kind !== 'notify' && !explained.has(slotKey)),
    ({ slotKey }) => slotKey,
  )
  const readers = [...others].filter(([slotKey, [only, more]]) => {
    const now = bySlot.get(slotKey)
    return only?.kind === 'permit' && !more && now && onlyReadersDiffer(now, only)
  }).length
  if (waiting.size + regrouped.size + moved.size + over.size + others.size === 0) return null
  return {
    waiting: [...waiting],
    regrouped: [...regrouped],
    moved: [...moved],
    over: [...over],
    readers,
    copies: others.size - readers,
  }
}

const onlyReadersDiffer = (now: Permissions, then: Permissions): boolean =>
  now.classmatesMay === then.classmatesMay &&
  now.mayInvite === then.mayInvite &&
  samePeople(now.holders, then.holders) &&
  isSame(now.places, then.places)

/** Who is in another place of a copy than there, of those who hold it in both. */
export function movedIn(
  before: Pick<PlannedCopy, 'holders' | 'places'>,
  after: Pick<PlannedCopy, 'holders' | 'places'>,
): string[] {
  if (before.places.length < 2 && after.places.length < 2) return []
  const placeOf = ({ places }: Pick<PlannedCopy, 'places'>) =>
    new Map(places.flatMap(({ id, personIds }) => personIds.map((personId) => [personId, id])))
  const [was, is] = [placeOf(before), placeOf(after)]
  const held = new Set(before.holders.map(({ personId }) => personId))
  return after.holders
    .map(({ personId }) => personId)
    .filter((personId) => held.has(personId) && was.get(personId) !== is.get(personId))
}

const NONE: ReadonlySet<string> = new Set()

/** Item and person to the slots of the copies they hold. */
function slotsByPerson(copies: Plan['copies']): Map<string, Set<string>> {
  const slots = new Map<string, Set<string>>()
  for (const { itemId, slotKey, holders } of copies)
    for (const { personId } of holders) {
      const key = JSON.stringify([itemId, personId])
      const known = slots.get(key)
      if (known) known.add(slotKey)
      else slots.set(key, new Set([slotKey]))
    }
  return slots
}

/** How many people differences concern, or copies where they concern nobody in particular. */
export const countDifferences = ({ waiting, regrouped, moved, over, readers, copies }: Differences): number =>
  new Set([...waiting, ...regrouped, ...moved, ...over]).size || copies + readers

/**
 * Differences in one line.
 * @param nameOf what a student is called
 */
export function differencesInWords(
  { waiting, regrouped, moved, over, readers, copies }: Differences,
  nameOf: (personId: string) => string,
): string {
  const about = (people: readonly string[], one: string, several: string) => {
    const [first] = people
    if (first === undefined) return []
    if (people.length === 1) return [`${nameOf(first)} ${one}`]
    const named = people.slice(0, 3).map(nameOf).join(', ')
    return [`${people.length} students ${several} (${named}${people.length > 3 ? ' …' : ''})`]
  }
  return [
    ...about(waiting, 'has no copy yet', 'have no copy yet'),
    ...about(regrouped, 'belongs to another copy now', 'belong to other copies now'),
    ...about(moved, 'has another place in it now', 'have another place in it now'),
    ...about(over, 'has a copy that is not for them any more', 'have copies that are not for them any more'),
    ...(copies > 0
      ? [
          copies === 1
            ? '1 copy differs in name, worksheet, times or access'
            : `${copies} copies differ in name, worksheet, times or access`,
        ]
      : []),
    ...(readers > 0
      ? [readers === 1 ? '1 copy would have other peer readers' : `${readers} copies would have other peer readers`]
      : []),
  ].join('; ')
}
