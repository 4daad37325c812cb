import { type Outcome, fine, refuse } from '../errors/problem.js'
import { foldText } from '../roster/names.js'
import { seededRandom, shuffled } from './random.js'

/** Somebody who is to be put in a group. */
export interface GroupCandidate {
  readonly id: string
  /** How they are spoken of when something cannot be done. */
  readonly name: string
  /** What the column to balance says of them; empty for nothing. */
  readonly value?: string
}

/** Two people who must be in one group, or must not. */
export interface GroupPair {
  readonly a: string
  readonly b: string
  readonly kind: 'together' | 'apart'
}

/** What groups are wanted. */
export interface GroupWish {
  readonly people: readonly GroupCandidate[]
  readonly groups: number
  readonly pairs?: readonly GroupPair[]
  /** Who stays in which group, counted from 0. */
  readonly locked?: ReadonlyMap<string, number>
  /** Any whole number; the same one gives the same groups. */
  readonly seed: number
}

/** Groups as they were made. */
export interface MadeGroups {
  /** The people of each group by id, in the order they came in. */
  readonly groups: string[][]
  /** Largest less smallest group, and see {@link spreadOf}. */
  readonly sizeSpread: number
  readonly valueSpread: number
}

export const GROUP_LIMIT = 200

/** How many groups of about this size: the number that keeps every group within one of it where possible. */
export const groupsOfSize = (people: number, size: number): number =>
  people === 0 ? 0 : Math.max(1, Math.round(people / Math.max(1, size)))

/**
 * Makes groups. Together, apart and locked places always hold, or it is said which of them cannot; within that the groups
 * are as even in size as can be, and then the values of the balanced column are spread as evenly as can be.
 *
 * Method: people who must be together become one block; blocks are first placed by colouring the graph of those who must be
 * apart (DSATUR, D. Brélaz 1979, with backtracking), then moved and swapped by simulated annealing, which never leaves
 * what is allowed. The search has a fixed number of steps, so that the same seed gives the same groups on any machine.
 */
export function makeGroups(wish: GroupWish): Outcome<MadeGroups> {
  const { people, groups: count, seed } = wish
  if (!Number.isInteger(count) || count < 1 || count > GROUP_LIMIT)
    return refuse({ code: 'groups-count', field: 'groups', sentence: `Make between 1 and ${GROUP_LIMIT} groups.` })
  const built = blocksOf(wish)
  if (!built.ok) return built
  const { blocks, nameOf } = built.value
  const random = seededRandom(seed)
  const start = firstPlaces(blocks, count, random, nameOf)
  if (!start.ok) return start
  const kinds = kindsOf(people)
  const places = improve(blocks, start.value, count, kinds.count, random)
  const groups: string[][] = Array.from({ length: count }, () => [])
  const groupOf = new Map<string, number>()
  blocks.forEach(({ members }, at) => members.forEach(({ id }) => groupOf.set(id, places[at]!)))
  for (const { id } of shuffled(people, random)) groups[groupOf.get(id)!]!.push(id)
  return fine({ groups, ...spreadOf(groups, people) })
}

/**
 * How uneven groups are: `sizeSpread` is the largest less the smallest size; `valueSpread` adds up, over the values of the
 * balanced column, the most of a value in any group less the fewest.
 */
export function spreadOf(
  groups: readonly (readonly string[])[],
  people: readonly GroupCandidate[],
): { sizeSpread: number; valueSpread: number } {
  const { kindOf, count } = kindsOf(people)
  const sizes = groups.map(({ length }) => length)
  let valueSpread = 0
  for (let kind = 0; kind < count; kind++) {
    const counts = groups.map((group) => group.filter((id) => kindOf.get(id) === kind).length)
    valueSpread += Math.max(...counts) - Math.min(...counts)
  }
  return { sizeSpread: Math.max(...sizes) - Math.min(...sizes), valueSpread }
}

/** People who must be in one group. */
interface Block {
  readonly members: readonly GroupCandidate[]
  /** How many of each value are in it, by the number of the value. */
  readonly kinds: readonly number[]
  /** The numbers of the blocks that must not be with it. */
  readonly apart: Set<number>
  readonly locked: number | null
}

const BANDS = 4

/**
 * The values of a column as numbers from 0. A column of many different numbers is cut into quarters from low to high, since
 * no two groups could ever have the same.
 */
function kindsOf(people: readonly GroupCandidate[]): { kindOf: ReadonlyMap<string, number>; count: number } {
  const values = new Map<string, string>()
  for (const { id, value } of people) if (value) values.set(id, foldText(value))
  const distinct = [...new Set(values.values())]
  const numbers = distinct.map((value) => Number(value.replace(',', '.')))
  const kindOf = new Map<string, number>()
  if (distinct.length > 2 * BANDS && numbers.every(Number.isFinite)) {
    const sorted = [...values.values()].map((value) => Number(value.replace(',', '.'))).sort((a, b) => a - b)
    for (const [id, value] of values) {
      const below = sorted.findIndex((number) => number >= Number(value.replace(',', '.')))
      kindOf.set(id, Math.min(BANDS - 1, Math.floor((below * BANDS) / sorted.length)))
    }
    return { kindOf, count: BANDS }
  }
  distinct.sort()
  for (const [id, value] of values) kindOf.set(id, distinct.indexOf(value))
  return { kindOf, count: distinct.length }
}

function blocksOf({
  people,
  groups,
  pairs = [],
  locked = new Map(),
}: GroupWish): Outcome<{ blocks: Block[]; nameOf: (id: string) => string }> {
  const byId = new Map(people.map((person) => [person.id, person]))
  const nameOf = (id: string) => byId.get(id)?.name ?? id
  const known = pairs.filter(({ a, b }) => a !== b && byId.has(a) && byId.has(b))
  const parent = new Map(people.map(({ id }) => [id, id]))
  const root = (id: string): string => {
    let at = id
    while (parent.get(at) !== at) at = parent.get(at)!
    return at
  }
  for (const { a, b, kind } of known) if (kind === 'together') parent.set(root(a), root(b))

  for (const { a, b, kind } of known)
    if (kind === 'apart' && root(a) === root(b))
      return refuse({
        code: 'groups-contradict',
        field: 'pairs',
        sentence: `${nameOf(a)} and ${nameOf(b)} are to be apart, and also together (perhaps by way of others). Drop one of the two.`,
      })

  const { kindOf, count } = kindsOf(people)
  const members = new Map<string, GroupCandidate[]>()
  for (const person of people) {
    const key = root(person.id)
    const list = members.get(key)
    if (list) list.push(person)
    else members.set(key, [person])
  }
  const numberOf = new Map([...members.keys()].map((key, at) => [key, at]))
  const blocks: Block[] = []
  for (const list of members.values()) {
    const places = list.flatMap(({ id }) => {
      const place = locked.get(id)
      return place !== undefined && place >= 0 && place < groups ? [{ id, place }] : []
    })
    const [first] = places
    const other = places.find(({ place }) => place !== first!.place)
    if (first && other)
      return refuse({
        code: 'groups-contradict',
        field: 'locked',
        sentence: `${nameOf(first.id)} and ${nameOf(other.id)} are to be together, but are kept in two different groups.`,
      })
    const kinds = new Array<number>(count).fill(0)
    for (const { id } of list) {
      const kind = kindOf.get(id)
      if (kind !== undefined) kinds[kind]!++
    }
    blocks.push({ members: list, kinds, apart: new Set(), locked: first?.place ?? null })
  }
  for (const { a, b, kind } of known) {
    if (kind !== 'apart') continue
    const [one, two] = [numberOf.get(root(a))!, numberOf.get(root(b))!]
    if (blocks[one]!.locked !== null && blocks[one]!.locked === blocks[two]!.locked)
      return refuse({
        code: 'groups-contradict',
        field: 'locked',
        sentence: `${nameOf(a)} and ${nameOf(b)} are to be apart, but are kept in the same group.`,
      })
    blocks[one]!.apart.add(two)
    blocks[two]!.apart.add(one)
  }
  return fine({ blocks, nameOf })
}

const TRIES = 200_000

/** A place for every block such that nobody is with somebody they must be apart from; even in size where that is free. */
function firstPlaces(
  blocks: readonly Block[],
  count: number,
  random: () => number,
  nameOf: (id: string) => string,
): Outcome<number[]> {
  const places = new Array<number>(blocks.length).fill(-1)
  const sizes = new Array<number>(count).fill(0)
  const put = (at: number, group: number) => {
    places[at] = group
    sizes[group]! += blocks[at]!.members.length
  }
  const lift = (at: number) => {
    sizes[places[at]!]! -= blocks[at]!.members.length
    places[at] = -1
  }
  const free = (at: number) => {
    const taken = new Set<number>()
    for (const other of blocks[at]!.apart) if (places[other]! >= 0) taken.add(places[other]!)
    return Array.from({ length: count }, (_, group) => group).filter((group) => !taken.has(group))
  }
  blocks.forEach(({ locked }, at) => {
    if (locked !== null) put(at, locked)
  })
  const bound = blocks.map((_, at) => at).filter((at) => places[at] === -1 && blocks[at]!.apart.size > 0)
  const open = new Set(bound)
  let tries = 0
  let stuck = bound[0] ?? 0

  const place = (): boolean => {
    if (open.size === 0) return true
    if (++tries > TRIES) return false
    // The one with the fewest groups left goes first (DSATUR), of several the one with the most to be apart from.
    let next = -1
    let fewest: number[] = []
    for (const at of open) {
      const left = free(at)
      if (
        next < 0 ||
        left.length < fewest.length ||
        (left.length === fewest.length && blocks[at]!.apart.size > blocks[next]!.apart.size)
      ) {
        next = at
        fewest = left
      }
    }
    if (fewest.length === 0) stuck = next
    open.delete(next)
    let triedEmpty = false
    for (const group of fewest.toSorted((a, b) => sizes[a]! - sizes[b]!)) {
      // Empty groups that nobody is kept in are all alike: if one leads nowhere, so do the others.
      if (sizes[group] === 0) {
        if (triedEmpty) continue
        triedEmpty = true
      }
      put(next, group)
      if (place()) return true
      lift(next)
    }
    open.add(next)
    return false
  }
  if (!place()) {
    const crowd = crowdAround(blocks, stuck)
    const names = crowd.slice(0, 6).map((at) => nameOf(blocks[at]!.members[0]!.id))
    const list = names.length > 1 ? `${names.slice(0, -1).join(', ')} and ${names.at(-1)}` : names[0]!
    return refuse({
      code: tries > TRIES ? 'groups-not-found' : 'groups-impossible',
      field: 'pairs',
      sentence:
        tries > TRIES
          ? `No way was found to keep everybody apart who is to be apart in ${count} groups: make more groups, or drop a pair around ${list}.`
          : crowd.length > count
            ? `${list} are all to be apart from each other, which needs ${crowd.length} groups; there are ${count}.`
            : `Those who are to be apart cannot be spread over ${count} ${count === 1 ? 'group' : 'groups'}: make more groups, or drop a pair around ${list}.`,
    })
  }
  const rest = shuffled(
    blocks.map((_, at) => at).filter((at) => places[at] === -1),
    random,
  ).toSorted((a, b) => blocks[b]!.members.length - blocks[a]!.members.length)
  for (const at of rest) {
    const smallest = Math.min(...sizes)
    const candidates = sizes.flatMap((size, group) => (size === smallest ? [group] : []))
    put(at, candidates[Math.floor(random() * candidates.length)]!)
  }
  return fine(places)
}

/** A greedy set of blocks that are all to be apart from each other, around one. */
function crowdAround(blocks: readonly Block[], at: number): number[] {
  const crowd = [at]
  for (const other of [...blocks[at]!.apart].toSorted((a, b) => blocks[b]!.apart.size - blocks[a]!.apart.size))
    if (crowd.every((member) => blocks[member]!.apart.has(other))) crowd.push(other)
  return crowd
}

// A person too many in a group weighs more than any unevenness of values.
const SIZE_WEIGHT = 50
const SMALL_CLASS = 60
const STEPS_PER_PERSON = 600
const STEPS_LEAST = 4_000
const STEPS_MOST = 100_000

/** Moves and swaps blocks until sizes and values are even; simulated annealing that only ever visits what is allowed. */
function improve(
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
