import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { type PeerWish, choosePeers } from './peers.js'

const each = (people: readonly string[]) => people.map((id) => ({ slotKey: `s:${id}`, holders: [id] }))
const people = (count: number) => Array.from({ length: count }, (_, at) => `p${at}`)
const loadsOf = (chosen: ReadonlyMap<string, readonly string[]>, readers: readonly string[]) => {
  const all = [...chosen.values()].flat()
  return readers.map((id) => all.filter((reader) => reader === id).length)
}
const meetingsOf = ({ copies, mates }: PeerWish, chosen: ReadonlyMap<string, readonly string[]>) =>
  copies.reduce(
    (sum, { slotKey, holders }) =>
      sum +
      chosen.get(slotKey)!.filter((reader) => {
        const group = mates.get(reader)
        return group !== undefined && holders.some((holder) => mates.get(holder) === group)
      }).length,
    0,
  )

/** The fewest meetings that any even choice has, by trying them all. */
function fewest({ copies, readers, each: wanted, mates }: PeerWish): number {
  const total = copies.reduce(
    (sum, { holders }) => sum + Math.min(wanted, readers.filter((id) => !holders.includes(id)).length),
    0,
  )
  const [low, high] = [Math.floor(total / readers.length), Math.ceil(total / readers.length)]
  let best = Infinity
  const load = new Map(readers.map((id) => [id, 0]))
  const choose = (at: number, sum: number) => {
    if (sum >= best) return
    if (at === copies.length) {
      if (readers.every((id) => load.get(id)! >= low && load.get(id)! <= high)) best = sum
      return
    }
    const { holders } = copies[at]!
    const groups = new Set(holders.map((id) => mates.get(id)))
    const free = readers.filter((id) => !holders.includes(id))
    const pick = (from: number, left: number, cost: number) => {
      if (left === 0) return choose(at + 1, sum + cost)
      for (let next = from; next < free.length; next++) {
        const id = free[next]!
        if (load.get(id)! >= high) continue
        load.set(id, load.get(id)! + 1)
        pick(next + 1, left - 1, cost + (mates.has(id) && groups.has(mates.get(id)) ? 1 : 0))
        load.set(id, load.get(id)! - 1)
      }
    }
    pick(0, Math.min(wanted, free.length), 0)
  }
  choose(0, 0)
  return best
}

const small = fc
  .record({
    count: fc.integer({ min: 2, max: 6 }),
    wanted: fc.integer({ min: 1, max: 2 }),
    groups: fc.array(fc.nat(2), { minLength: 6, maxLength: 6 }),
    seed: fc.nat(),
  })
  .map(({ count, wanted, groups, seed }): PeerWish => {
    const readers = people(count)
    return {
      copies: each(readers),
      readers,
      each: wanted,
      mates: new Map(readers.map((id, at) => [id, `g${groups[at]}`])),
      seed,
    }
  })

describe('peer readers', () => {
  test('everyone reads as many as everyone else, nobody their own, and nobody the same copy twice', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 2, max: 40 }),
        fc.integer({ min: 1, max: 5 }),
        fc.integer({ min: 1, max: 8 }),
        fc.nat(),
        (count, wanted, crews, seed) => {
          const readers = people(count)
          const mates = new Map(readers.map((id, at) => [id, `g${at % crews}`]))
          const chosen = choosePeers({ copies: each(readers), readers, each: wanted, mates, seed })
          for (const [slot, ids] of chosen) {
            expect(ids).not.toContain(slot.slice(2))
            expect(new Set(ids).size).toBe(Math.min(wanted, count - 1))
          }
          const loads = loadsOf(chosen, readers)
          expect(Math.max(...loads) - Math.min(...loads)).toBe(0)
        },
      ),
    )
  })

  test('group mates meet as seldom as in the best of all choices', () => {
    fc.assert(
      fc.property(small, (wish) => {
        expect(meetingsOf(wish, choosePeers(wish))).toBe(fewest(wish))
      }),
      { numRuns: 150 },
    )
  })

  test('copies of groups are read evenly by others', () => {
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: 1, max: 3 }), { minLength: 2, maxLength: 4 }),
        fc.integer({ min: 1, max: 2 }),
        fc.nat(),
        (sizes, wanted, seed) => {
          let next = 0
          const copies = sizes.map((size, at) => ({
            slotKey: `g${at}`,
            holders: Array.from({ length: size }, () => `p${next++}`),
          }))
          const readers = people(next)
          const mates = new Map(copies.flatMap(({ slotKey, holders }) => holders.map((id) => [id, slotKey] as const)))
          const wish = { copies, readers, each: wanted, mates, seed }
          const chosen = choosePeers(wish)
          expect(meetingsOf(wish, chosen)).toBe(0)
          for (const { slotKey, holders } of copies)
            expect(chosen.get(slotKey)).toHaveLength(Math.min(wanted, readers.length - holders.length))
        },
      ),
    )
  })

  test('the same seed chooses the same, and one who joins changes few readers', () => {
    const wish = (count: number): PeerWish => {
      const readers = people(count)
      return {
        copies: each(readers),
        readers,
        each: 2,
        mates: new Map(readers.map((id, at) => [id, `g${at % 7}`])),
        seed: 12,
      }
    }
    expect(choosePeers(wish(28))).toEqual(choosePeers(wish(28)))
    expect(choosePeers({ ...wish(28), seed: 13 })).not.toEqual(choosePeers(wish(28)))
  })

  test('with nobody else to read, nobody reads', () => {
    expect(choosePeers({ copies: each(['p0']), readers: ['p0'], each: 2, mates: new Map(), seed: 1 })).toEqual(
      new Map([['s:p0', []]]),
    )
  })
})

test('without any groups too nobody reads their own copy, and all read evenly', () => {
  fc.assert(
    fc.property(fc.integer({ min: 2, max: 40 }), fc.integer({ min: 1, max: 3 }), fc.nat(), (count, wanted, seed) => {
      const readers = people(count)
      const chosen = choosePeers({ copies: each(readers), readers, each: wanted, mates: new Map(), seed })
      for (const id of readers) {
        expect(chosen.get(`s:${id}`)).not.toContain(id)
        expect(chosen.get(`s:${id}`)).toHaveLength(Math.min(wanted, count - 1))
      }
      const loads = loadsOf(chosen, readers)
      expect(Math.max(...loads) - Math.min(...loads)).toBeLessThanOrEqual(1)
    }),
  )
})
