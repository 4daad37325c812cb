import { type GroupCandidate, type GroupWish, type MadeGroups } from './wish.js'
import { type Outcome, fine, refuse } from '../errors/problem.js'
import { blocksOf, kindsOf } from './blocks.js'
import { firstPlaces } from './firstPlaces.js'
import { improve } from './improve.js'
import { seededRandom, shuffled } from './random.js'

export const GROUP_LIMIT = 200

/** How many groups of about this size: the number that keeps every group within one of it where possible. */
export const groupsOfSize = (people: number, size: number): number =>
  people === 0 ? 0 : Math.max(1, Math.round(people / Math.max(1, size)))

/**
 * Makes groups. Together, apart and locked places always hold, or it is said which of them cannot; within that the groups
 * are as even in size as can be, and then the values of the balanced columns are spread as evenly as can be, all columns alike.
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
 * balanced columns, the most of a value in any group less the fewest.
 */
export function spreadOf(
  groups: readonly (readonly string[])[],
  people: readonly GroupCandidate[],
): { sizeSpread: number; valueSpread: number } {
  const { kindsOf: kinds, count } = kindsOf(people)
  const sizes = groups.map(({ length }) => length)
  let valueSpread = 0
  for (let kind = 0; kind < count; kind++) {
    const counts = groups.map((group) => group.filter((id) => kinds.get(id)?.includes(kind)).length)
    valueSpread += Math.max(...counts) - Math.min(...counts)
  }
  return { sizeSpread: Math.max(...sizes) - Math.min(...sizes), valueSpread }
}
