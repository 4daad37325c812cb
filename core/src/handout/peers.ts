/** A copy that is to be read by some classmates. */
export interface PeerCopy {
  readonly slotKey: string
  readonly holders: readonly string[]
}

export interface PeerWish {
  readonly copies: readonly PeerCopy[]
  /** Who reads. */
  readonly readers: readonly string[]
  /** How many read each copy; where there are not so many others, all of them do. */
  readonly each: number
  /** Person to something they share with those whose copies they had better not read: the group they are in. */
  readonly mates: ReadonlyMap<string, string>
  /** The same seed chooses the same readers. */
  readonly seed: number
}

/** Up to here every way of exchanging readers is tried; in larger classes only pairs are. */
const EXACT = 60

/**
 * Who reads whose copy. Every copy has as many readers as wished, nobody reads their own, everybody reads as many as
 * everybody else (or one more, where it does not come out even), and group mates read each other only where it cannot be
 * avoided.
 *
 * People stand in a circle that the seed decides, group mates apart, and read the copies of those after them; one who
 * joins changes only their neighbours' reading. Where group mates meet all the same, readers are exchanged along cycles
 * that lessen such meetings (negative cycles of the assignment, Klein 1967) until there is none left: with up to 60 copies
 * and readers no other choice has fewer.
 * @returns slot key to readers, in the order of the readers
 */
export function choosePeers({ copies, readers, each, mates, seed }: PeerWish): Map<string, string[]> {
  const order = inCircle(readers, mates, seed)
  const place = new Map(order.map((id, at) => [id, at]))
  const holdersOf = copies.map(({ holders }) => new Set(holders))
  const wanted = holdersOf.map((holders) => Math.min(each, order.filter((id) => !holders.has(id)).length))
  const meets = copies.map(({ holders }) => new Set(holders.flatMap((id) => mates.get(id) ?? [])))
  const cost = (copy: number, reader: number) => {
    const group = mates.get(order[reader]!)
    return group !== undefined && meets[copy]!.has(group) ? 1 : 0
  }
  const may = (copy: number, reader: number) => !holdersOf[copy]!.has(order[reader]!)

  const load = order.map(() => 0)
  const chosen = copies.map(() => new Set<number>())
  // Each copy in the order of its holders in the circle, so that the readers after them come round evenly.
  const inOrder = copies
    .map((copy, at) => ({ at, first: Math.min(...copy.holders.map((id) => place.get(id) ?? order.length)) }))
    .toSorted((a, b) => a.first - b.first || (copies[a.at]!.slotKey < copies[b.at]!.slotKey ? -1 : 1))
  const evenly = wanted.reduce((sum, count) => sum + count, 0) / Math.max(1, order.length)
  for (const { at, first } of inOrder) {
    for (let step = 1; step <= order.length && chosen[at]!.size < wanted[at]!; step++) {
      const reader = (first + step) % order.length
      if (may(at, reader) && load[reader]! < Math.ceil(evenly)) take(at, reader)
    }
    // The circle closes with few left over: whoever reads least, of those who may.
    while (chosen[at]!.size < wanted[at]!) {
      const free = order.map((_, reader) => reader).filter((reader) => may(at, reader) && !chosen[at]!.has(reader))
      take(
        at,
        free.reduce((least, reader) => (load[reader]! < load[least]! ? reader : least)),
      )
    }
  }
  function take(copy: number, reader: number) {
    chosen[copy]!.add(reader)
    load[reader]!++
  }
  levelLoads(chosen, load, may)
  const meetings = () =>
    chosen.reduce((sum, set, copy) => sum + [...set].reduce((found, reader) => found + cost(copy, reader), 0), 0)
  if (meetings() > 0) {
    if (copies.length <= EXACT && order.length <= EXACT) lessenByCycles(chosen, load, order.length, may, cost)
    else lessenByPairs(chosen, may, cost)
  }
  return new Map(
    copies.map(({ slotKey }, at) => [
      slotKey,
      [...chosen[at]!].toSorted((a, b) => a - b).map((reader) => order[reader]!),
    ]),
  )
}

/** People in an order that the seed decides, those of one group as far apart as may be. */
function inCircle(readers: readonly string[], mates: ReadonlyMap<string, string>, seed: number): string[] {
  const byGroup = new Map<string, string[]>()
  for (const id of readers.toSorted((a, b) => scatter(a, seed) - scatter(b, seed) || (a < b ? -1 : 1))) {
    const group = mates.get(id) ?? `:${id}`
    byGroup.set(group, [...(byGroup.get(group) ?? []), id])
  }
  return [...byGroup.values()]
    .flatMap((group) => {
      const start = (scatter(group[0]!, seed ^ 0x5bd1e995) % 4096) / 4096
      return group.map((id, at) => ({ id, at: (at + start) / group.length }))
    })
    .toSorted((a, b) => a.at - b.at || (a.id < b.id ? -1 : 1))
    .map(({ id }) => id)
}

/** A number that the seed and an id decide (FNV-1a, then mixed), the same whoever else is there. */
function scatter(id: string, seed: number): number {
  let hash = 0x811c9dc5 ^ seed
  for (let at = 0; at < id.length; at++) hash = Math.imul(hash ^ id.charCodeAt(at), 0x01000193)
  hash = Math.imul(hash ^ (hash >>> 15), 0x2c1b3c6d)
  return (hash ^ (hash >>> 13)) >>> 0
}

type May = (copy: number, reader: number) => boolean
type Cost = (copy: number, reader: number) => number

/** Moves reading from who has two more than somebody else, along a chain of copies, until nobody has. */
function levelLoads(chosen: Set<number>[], load: number[], may: May): void {
  for (;;) {
    const most = Math.max(...load)
    let moved = false
    for (let from = 0; from < load.length && !moved; from++) {
      if (load[from] !== most) continue
      // Breadth first over readers: each step gives one copy on to another reader.
      const via = new Map<number, { copy: number; reader: number }>()
      const queue = [from]
      const seen = new Set(queue)
      for (const reader of queue) {
        if (load[reader]! <= most - 2) {
          for (let at = reader; at !== from;) {
            const step = via.get(at)!
            chosen[step.copy]!.delete(step.reader)
            chosen[step.copy]!.add(at)
            at = step.reader
          }
          load[from]!--
          load[reader]!++
          moved = true
          break
        }
        chosen.forEach((set, copy) => {
          if (!set.has(reader)) return
          for (let other = 0; other < load.length; other++)
            if (!seen.has(other) && !set.has(other) && may(copy, other)) {
              seen.add(other)
              via.set(other, { copy, reader })
              queue.push(other)
            }
        })
      }
    }
    if (!moved) return
  }
}

/** Exchanges the readers of two copies wherever that lessens the meetings of group mates. */
function lessenByPairs(chosen: Set<number>[], may: May, cost: Cost): void {
  for (let copy = 0; copy < chosen.length; copy++)
    for (const reader of [...chosen[copy]!]) {
      if (cost(copy, reader) === 0) continue
      exchange: for (let other = 0; other < chosen.length; other++)
        for (const theirs of chosen[other]!) {
          if (chosen[copy]!.has(theirs) || chosen[other]!.has(reader) || !may(copy, theirs) || !may(other, reader))
            continue
          if (cost(copy, theirs) + cost(other, reader) >= cost(copy, reader) + cost(other, theirs)) continue
          chosen[copy]!.delete(reader)
          chosen[copy]!.add(theirs)
          chosen[other]!.delete(theirs)
          chosen[other]!.add(reader)
          break exchange
        }
    }
}

/**
 * Cancels negative cycles (Bellman and Ford) in the graph of copies and readers, where choosing a reader costs what a
 * meeting costs and giving one up gains it back; a last node lets reading go from who has one more to who has one less.
 */
function lessenByCycles(chosen: Set<number>[], load: number[], readers: number, may: May, cost: Cost): void {
  const copies = chosen.length
  const pool = copies + readers
  for (;;) {
    const least = Math.min(...load)
    const edges: [from: number, to: number, cost: number][] = []
    for (let copy = 0; copy < copies; copy++)
      for (let reader = 0; reader < readers; reader++) {
        if (chosen[copy]!.has(reader)) edges.push([copies + reader, copy, -cost(copy, reader)])
        else if (may(copy, reader)) edges.push([copy, copies + reader, cost(copy, reader)])
      }
    const uneven = load.some((count) => count > least)
    if (uneven)
      load.forEach((count, reader) =>
        // A reader with one less can take one more in; who has one more can give one away.
        edges.push(count === least ? [copies + reader, pool, 0] : [pool, copies + reader, 0]),
      )
    const cycle = negativeCycle(pool + 1, edges)
    if (!cycle) return
    for (let at = 0; at < cycle.length; at++) {
      const [from, to] = [cycle[at]!, cycle[(at + 1) % cycle.length]!]
      if (from === pool) load[to - copies]!--
      else if (to === pool) load[from - copies]!++
      else if (from < copies) chosen[from]!.add(to - copies)
      else chosen[to]!.delete(from - copies)
    }
  }
}

function negativeCycle(nodes: number, edges: readonly (readonly [number, number, number])[]): number[] | null {
  const distance = new Array<number>(nodes).fill(0)
  const before = new Array<number>(nodes).fill(-1)
  let last = -1
  for (let round = 0; round < nodes; round++) {
    last = -1
    for (const [from, to, cost] of edges)
      if (distance[from]! + cost < distance[to]!) {
        distance[to] = distance[from]! + cost
        before[to] = from
        last = to
      }
    if (last < 0) return null
  }
  for (let step = 0; step < nodes; step++) last = before[last]!
  const cycle = [last]
  for (let at = before[last]!; at !== last; at = before[at]!) cycle.push(at)
  return cycle.reverse()
}
