import { baseAddress, partAddressOf } from '../worksheet/sections.js'
import type { ExistingCopy } from './changes.js'
import type { PlannedCopy } from './plan.js'
import type { Carry } from './statement.js'

/** One answer that goes along from a copy that is set aside to one that takes its place. */
export interface Carried {
  /** The copy it goes to. */
  readonly slotKey: string
  /** The copy it is taken from, where it stays too. */
  readonly from: string
  /** The answer space there. */
  readonly space: string
  /** The answer space here. */
  readonly toSpace: string
}

/**
 * The answers that go along when an item is given another way: each to the copy of the one who wrote it. An answer that
 * several wrote goes to each of them as it stands; where answers of several people would meet in one space, each goes to its
 * own part of a repeated section or stays where it is, set aside. A space that has writing already is never written over.
 * @param carry what is wished, by item id
 */
export function carryChanges(
  planned: readonly PlannedCopy[],
  existing: readonly ExistingCopy[],
  carry: ReadonlyMap<string, Carry>,
): Carried[] {
  if (![...carry.values()].includes('give to writer')) return []
  const bySlot = new Map(existing.map((copy) => [copy.slotKey, copy]))
  const plannedSlots = new Set(planned.map(({ slotKey }) => slotKey))
  const carried: Carried[] = []
  for (const [itemId, wish] of carry) {
    if (wish !== 'give to writer') continue
    const sources = existing.filter(
      (copy) => copy.itemId === itemId && !plannedSlots.has(copy.slotKey) && Object.keys(copy.written).length > 0,
    )
    if (sources.length === 0) continue
    for (const copy of planned) {
      if (copy.itemId !== itemId || copy.way === 'to read') continue
      const holders = copy.holders.filter(({ permission }) => permission === 'edit').map(({ personId }) => personId)
      const offers = new Map<string, Carried[]>()
      for (const source of sources)
        for (const [space, writers] of Object.entries(source.written)) {
          const here = writers.filter((id) => holders.includes(id))
          if (here.length === 0) continue
          const toSpace = placeFor(space, here, copy)
          if (toSpace === null) continue
          offers.set(toSpace, [
            ...(offers.get(toSpace) ?? []),
            { slotKey: copy.slotKey, from: source.slotKey, space, toSpace },
          ])
        }
      for (const [toSpace, [offer, another]] of offers)
        if (offer && !another && !bySlot.get(copy.slotKey)?.written[toSpace]) carried.push(offer)
    }
  }
  return carried
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
