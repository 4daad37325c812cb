import { type Outcome, fine, refuse } from '../errors/problem.js'
import { foldText } from '../roster/names.js'
import type { GroupCandidate, GroupWish } from './wish.js'

/** People who must be in one group. */
export interface Block {
  readonly members: readonly GroupCandidate[]
  /** How many of each value are in it, by the number of the value. */
  readonly kinds: readonly number[]
  /** The numbers of the blocks that must not be with it. */
  readonly apart: Set<number>
  readonly locked: number | null
}

const BANDS = 4

/** What the columns to balance say of people, as numbers: of each column those after the ones before it. */
export function kindsOf(people: readonly GroupCandidate[]): {
  kindsOf: ReadonlyMap<string, readonly number[]>
  count: number
} {
  const columns = Math.max(0, ...people.map(({ values }) => values?.length ?? 0))
  const kinds = new Map<string, number[]>()
  let count = 0
  for (let column = 0; column < columns; column++) {
    const found = kindsInColumn(people, column)
    for (const [id, kind] of found.kindOf) kinds.set(id, [...(kinds.get(id) ?? []), count + kind])
    count += found.count
  }
  return { kindsOf: kinds, count }
}

/**
 * The values of a column as numbers from 0. A column of many different numbers is cut into quarters from low to high, since
 * no two groups could ever have the same.
 */
function kindsInColumn(
  people: readonly GroupCandidate[],
  column: number,
): { kindOf: ReadonlyMap<string, number>; count: number } {
  const values = new Map<string, string>()
  for (const person of people) {
    const value = person.values?.[column]
    if (value) values.set(person.id, foldText(value))
  }
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

/** Those who must be together as blocks, with whom each must be apart from; or which of the wishes contradict each other. */
export function blocksOf({
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

  const { kindsOf: kindsOfPeople, count } = kindsOf(people)
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
    for (const { id } of list) for (const kind of kindsOfPeople.get(id) ?? []) kinds[kind]!++
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
