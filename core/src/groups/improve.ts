import type { Block } from './blocks.js'
import { shuffled } from './random.js'

// A person too many in a group weighs more than any unevenness of values.
const SIZE_WEIGHT = 50
const SMALL_CLASS = 60
const STEPS_PER_PERSON = 600
const STEPS_LEAST = 4_000
const STEPS_MOST = 100_000

/** Moves and swaps blocks until sizes and values are even; simulated annealing that only ever visits what is allowed. */
export function improve(
  blocks: readonly Block[],
  start: readonly number[],
  count: number,
  kindCount: number,
  random: () => number,
): number[] {
  const places = [...start]
  const movable = blocks.map((_, at) => at).filter((at) => blocks[at]!.locked === null)
  if (movable.length === 0 || count === 1) return places
  const people = blocks.reduce((sum, { members }) => sum + members.length, 0)
  const ideal = people / count
  const totals = new Array<number>(kindCount).fill(0)
  const sizes = new Array<number>(count).fill(0)
  const kinds = Array.from({ length: count }, () => new Array<number>(kindCount).fill(0))
  blocks.forEach((block, at) => {
    sizes[places[at]!]! += block.members.length
    block.kinds.forEach((number, kind) => {
      kinds[places[at]!]![kind]! += number
      totals[kind]! += number
    })
  })
  const costOf = (group: number): number => {
    let cost = SIZE_WEIGHT * (sizes[group]! - ideal) ** 2
    const own = kinds[group]!
    for (let kind = 0; kind < kindCount; kind++) cost += (own[kind]! - totals[kind]! / count) ** 2
    return cost
  }
  const shift = (at: number, group: number) => {
    const block = blocks[at]!
    const from = places[at]!
    sizes[from]! -= block.members.length
    sizes[group]! += block.members.length
    for (let kind = 0; kind < kindCount; kind++) {
      kinds[from]![kind]! -= block.kinds[kind]!
      kinds[group]![kind]! += block.kinds[kind]!
    }
    places[at] = group
  }
  const fits = (at: number, group: number, except = -1) => {
    for (const other of blocks[at]!.apart) if (other !== except && places[other] === group) return false
    return true
  }
  /**
   * A block and all that must change places with it if it goes to another group: those there that it must be apart from,
   * those here that they must be apart from, and so on (a Kempe chain). Null if one of them is kept in its place.
   */
  const chainTo = (one: number, to: number): number[] | null => {
    const from = places[one]!
    const chain = [one]
    const met = new Set(chain)
    for (let next = 0; next < chain.length; next++)
      for (const other of blocks[chain[next]!]!.apart)
        if (!met.has(other) && (places[other] === from || places[other] === to)) {
          met.add(other)
          chain.push(other)
        }
    return chain.some((at) => blocks[at]!.locked !== null) ? null : chain
  }
  /**
   * A block of several people, and blocks of the other group that are about as many people together, by chance: one alone could
   * not change places with it without making the groups uneven. Null if they are not about as many, or do not fit.
   */
  const forAsMany = (one: number, to: number): number[] | null => {
    const from = places[one]!
    const moving = [one]
    let left = blocks[one]!.members.length
    for (const at of shuffled(movable, random)) {
      const size = blocks[at]!.members.length
      if (places[at] !== to || size > left) continue
      moving.push(at)
      left -= size
      if (left === 0) break
    }
    // One person more or less can be just as even.
    if (left > 1) return null
    const goes = new Set(moving)
    const placeAfter = (at: number) => (goes.has(at) ? (places[at] === from ? to : from) : places[at]!)
    return moving.every((at) => [...blocks[at]!.apart].every((other) => placeAfter(other) !== placeAfter(at)))
      ? moving
      : null
  }
  let cost = 0
  for (let group = 0; group < count; group++) cost += costOf(group)
  let best = [...places]
  let bestCost = cost
  const steps = Math.min(STEPS_MOST, Math.max(STEPS_LEAST, STEPS_PER_PERSON * people))
  for (let step = 0; step < steps; step++) {
    const left = 1 - step / steps
    // In a small class every way to an even one may lead over uneven sizes: there it begins hot enough to take them.
    const heat = (people <= SMALL_CLASS ? 2 * SIZE_WEIGHT * left ** 4 : 0) + 4 * left ** 2 + 1e-9
    const one = movable[Math.floor(random() * movable.length)]!
    const from = places[one]!
    const kind = random()
    // What changes places: one block goes over, two are swapped, or a whole chain of those bound to each other.
    const two = movable[Math.floor(random() * movable.length)]!
    const to = kind < 0.35 ? Math.floor(random() * count) : places[two]!
    if (to === from) continue
    let moving: readonly number[] | null = null
    if (kind < 0.1) moving = chainTo(one, to)
    else if (kind < 0.2 && blocks[one]!.members.length > 1) moving = forAsMany(one, to)
    else if (kind < 0.35) moving = fits(one, to) ? [one] : null
    else if (fits(one, to, two) && fits(two, from, one)) moving = [one, two]
    if (!moving) continue
    const before = costOf(from) + costOf(to)
    for (const at of moving) shift(at, places[at] === from ? to : from)
    const change = costOf(from) + costOf(to) - before
    if (change <= 0 || random() < Math.exp(-change / heat)) {
      cost += change
      if (cost < bestCost - 1e-9) {
        bestCost = cost
        best = [...places]
      }
    } else for (const at of moving) shift(at, places[at] === from ? to : from)
  }
  return best
}
