import { gathered } from '../common/gathered.js'
import { KINDS } from '../worksheet/kinds/index.js'
import { baseAddress, partAddressOf } from '../worksheet/sections.js'
import type { Existing, ExistingCopy } from './existing.js'
import type { PlannedCopy } from './planned.js'
import type { HandoutItem } from './statement.js'

/** An answer in a copy that gives way to another. */
export interface CarrySource {
  /** The slot of the copy it is taken from, where it stays too. */
  readonly from: string
  /** The answer space there. */
  readonly space: string
  /** Who of the holders of the copy it goes to wrote it, who wrote last first. */
  readonly by: readonly string[]
}

/** What goes into an answer space of a copy that takes the place of others: one answer, or several under each other. */
export interface Carried {
  /** The copy it goes to. */
  readonly slotKey: string
  /** The answer space here. */
  readonly toSpace: string
  readonly sources: readonly CarrySource[]
}

/** Answers of several copies that meet in one answer space. */
export interface Meeting extends Carried {
  /** Whether they can stand under each other. */
  readonly canAll: boolean
  /** What becomes of them: the slot of the one that goes along. */
  readonly goes: 'none' | 'all' | { readonly from: string }
}

export const LEFT_REASONS = ['kept aside', 'met', 'not chosen', 'place taken', 'no place', 'too long'] as const
/**
 * Why an answer stays behind: so it is wished; others met it in one answer space; another of these was chosen; there is writing
 * in its place already; it has no place; together they are too long.
 */
export type LeftReason = (typeof LEFT_REASONS)[number]

/** An answer that stays behind in a copy that is set aside. */
export interface LeftBehind {
  readonly from: string
  readonly space: string
  /** All who wrote it. */
  readonly by: readonly string[]
  readonly why: LeftReason
}

export interface CarryOver {
  readonly carried: readonly Carried[]
  readonly meetings: readonly Meeting[]
  readonly left: readonly LeftBehind[]
}

/** What is wished of writing in copies that give way, by item. */
export type CarryWishes = ReadonlyMap<string, Pick<HandoutItem, 'carry' | 'carryChosen'>>

export const carryWishes = ({ items }: { readonly items: readonly HandoutItem[] }): CarryWishes =>
  new Map(items.map((item) => [item.id, item]))

/** Bytes of the documents of answers that are put under each other, at most. */
export const GATHER_LIMIT = 400_000

/** The key of an answer space of a copy in `carryChosen`. */
export const meetingKey = ({ slotKey, toSpace }: Pick<Carried, 'slotKey' | 'toSpace'>): string =>
  `${slotKey} ${toSpace}`

/**
 * What becomes of the answers in copies that others take the place of: those that go along, each to the copy of the one who wrote
 * it, and those that stay behind in the copy that is set aside, and why. An answer that several wrote goes to each of them as it
 * stands. Where answers of several copies would meet in one space, each goes to its own part of a repeated section; else they go
 * under each other (passages, if that is wished), or the one that was chosen goes, or all stay. A space that has writing already is
 * never written over.
 */
export function carryOver(planned: readonly PlannedCopy[], existing: Existing, wishes: CarryWishes): CarryOver {
  const plannedSlots = new Set(planned.map(({ slotKey }) => slotKey))
  const bySlot = new Map(existing.copies.map((copy) => [copy.slotKey, copy]))
  const found: CarryOver & { carried: Carried[]; meetings: Meeting[]; left: LeftBehind[] } = {
    carried: [],
    meetings: [],
    left: [],
  }
  const byItem = gathered(
    existing.copies.filter(({ slotKey, written }) => !plannedSlots.has(slotKey) && Object.keys(written).length > 0),
    ({ itemId }) => itemId,
  )
  for (const [itemId, sources] of byItem) {
    const wish = wishes.get(itemId) ?? { carry: 'keep aside', carryChosen: {} }
    const went = new Set<string>()
    const why = new Map<string, LeftReason>()
    if (wish.carry !== 'keep aside')
      for (const copy of planned)
        if (copy.itemId === itemId && copy.way !== 'to read')
          for (const offered of offersTo(copy, sources)) {
            const settled = settle(offered, wish, existing, bySlot.get(copy.slotKey))
            if (settled.meeting) found.meetings.push(settled.meeting)
            const goes = settled.goes.map(keyOf)
            if (settled.goes.length > 0) found.carried.push({ ...offered, sources: settled.goes })
            for (const key of goes) went.add(key)
            for (const source of offered.sources) why.set(keyOf(source), settled.why)
          }
    for (const { slotKey, setAside, written } of sources)
      // What was left behind by an earlier hand-out was said then.
      if (!setAside)
        for (const [space, by] of Object.entries(written)) {
          const key = keyOf({ from: slotKey, space })
          if (went.has(key)) continue
          found.left.push({
            from: slotKey,
            space,
            by,
            why: wish.carry === 'keep aside' ? 'kept aside' : (why.get(key) ?? 'no place'),
          })
        }
  }
  return found
}

const keyOf = ({ from, space }: Pick<CarrySource, 'from' | 'space'>) => `${from} ${space}`

/** The answers that could go into a copy, by the answer space they would go to. */
function offersTo(copy: PlannedCopy, sources: readonly ExistingCopy[]): Carried[] {
  const holders = new Set(
    copy.holders.filter(({ permission }) => permission === 'edit').map(({ personId }) => personId),
  )
  const offers = new Map<string, CarrySource[]>()
  for (const source of sources)
    for (const [space, writers] of Object.entries(source.written)) {
      const by = writers.filter((id) => holders.has(id))
      const toSpace = by.length > 0 ? placeFor(space, by, copy) : null
      if (toSpace === null) continue
      offers.set(toSpace, [...(offers.get(toSpace) ?? []), { from: source.slotKey, space, by }])
    }
  return [...offers].map(([toSpace, offered]) => ({ slotKey: copy.slotKey, toSpace, sources: offered }))
}

interface Settled {
  readonly goes: readonly CarrySource[]
  readonly meeting: Meeting | null
  /** Of those that do not go. */
  readonly why: LeftReason
}

/** What goes of the answers that could go into a space. */
function settle(
  offered: Carried,
  { carry, carryChosen }: Pick<HandoutItem, 'carry' | 'carryChosen'>,
  existing: Existing,
  there: ExistingCopy | undefined,
): Settled {
  const { sources, toSpace } = offered
  if (there?.written[toSpace]) return { goes: [], meeting: null, why: 'place taken' }
  if (sources.length === 1) return { goes: sources, meeting: null, why: 'met' }
  const size = sources.reduce((sum, { from, space }) => sum + (existing.sizes?.[keyOf({ from, space })] ?? 0), 0)
  const space = existing.asked?.[baseAddress(toSpace).base]
  const isPassage = space !== undefined && KINDS[space.kind].kept === 'rich'
  const canAll = isPassage && size <= GATHER_LIMIT
  const wish = carryChosen[meetingKey(offered)]
  const one = sources.find(({ from }) => from === wish)
  const all = canAll && (wish === 'all' || (wish === undefined && carry === 'give all'))
  return {
    goes: one ? [one] : all ? sources : [],
    meeting: { ...offered, canAll, goes: one ? { from: one.from } : all ? 'all' : 'none' },
    why: one ? 'not chosen' : isPassage && !canAll ? 'too long' : 'met',
  }
}

/** The address in a copy for an answer that these of its holders wrote at `space` of another. */
function placeFor(space: string, writers: readonly string[], copy: PlannedCopy): string | null {
  const { base, of } = baseAddress(space)
  if (of === null) return copy.way === 'one together' && copy.places.length > 0 ? null : space
  // Somebody's own part: theirs here too, or the space itself where nobody else is.
  if (writers.some((id) => partAddressOf(base, id) === space)) return space
  if (copy.places.some(({ id }) => partAddressOf(base, id) === space)) return space
  return copy.holders.length === 1 ? base : null
}
