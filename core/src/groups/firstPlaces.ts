import { type Outcome, fine, refuse } from '../errors/problem.js'
import type { Block } from './blocks.js'
import { shuffled } from './random.js'

const TRIES = 200_000

/**
 * A place for every block such that nobody is with somebody they must be apart from; even in size where that is free.
 *
 * Method: colouring of the graph of those who must be apart, the one with the fewest places left first (DSATUR, D. Brélaz
 * 1979), with backtracking.
 * @returns a group for each block, from 0; an error names those who cannot be spread, or says that the search was given up
 */
export function firstPlaces(
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
