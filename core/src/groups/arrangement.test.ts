import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { type Arrangement, checkArrangement, joined, moved } from './arrangement.js'

const group = (id: string, personIds: string[], places: number | null = null) => ({
  id,
  name: `Crew ${id}`,
  places,
  personIds,
})
const START: Arrangement = {
  groups: [group('1', ['a', 'b']), group('2', ['c']), group('3', [])],
  locked: ['a'],
  pairs: [{ a: 'b', b: 'a', kind: 'apart' }],
}

describe('an arrangement', () => {
  test('is cleaned: names, pairs in one order and once, and nobody kept who is nowhere', () => {
    const checked = checkArrangement({
      ...START,
      groups: [{ ...START.groups[0]!, name: '  Lock   gate ' }],
      locked: ['a', 'a', 'gone'],
      pairs: [...START.pairs, { a: 'a', b: 'b', kind: 'together' }, { a: 'c', b: 'c', kind: 'apart' }],
    })
    expect(checked).toMatchObject({
      ok: true,
      value: { groups: [{ name: 'Lock gate' }], locked: ['a'], pairs: [{ a: 'a', b: 'b', kind: 'together' }] },
    })
  })

  test.each<[string, Arrangement['groups'], string]>([
    ['a name twice', [group('1', []), { ...group('2', []), name: 'CREW 1' }], 'groups.1.name'],
    ['no name', [{ ...group('1', []), name: ' ' }], 'groups.0.name'],
    ['somebody in two groups', [group('1', ['a']), group('2', ['a'])], 'groups.1.personIds'],
    ['no place at all', [group('1', [], 0)], 'groups.0.places'],
    ['an id twice', [group('1', []), { ...group('1', []), name: 'Other' }], 'groups.1.id'],
  ])('%s is said at its place', (_, groups, field) => {
    expect(checkArrangement({ groups, locked: [], pairs: [] })).toMatchObject({ ok: false, problems: [{ field }] })
  })

  test('moving puts somebody in exactly one group, or in none; joining loses nobody', () => {
    const person = fc.constantFrom('a', 'b', 'c', 'd')
    fc.assert(
      fc.property(
        fc.array(fc.tuple(person, fc.constantFrom('1', '2', '3', null)), { maxLength: 8 }),
        fc.constantFrom('1', '2', '3'),
        fc.constantFrom('1', '2', '3'),
        (moves, keep, other) => {
          let now = START
          for (const [who, to] of moves) {
            now = moved(now, [who], to)
            const homes = now.groups.filter(({ personIds }) => personIds.includes(who)).map(({ id }) => id)
            expect(homes).toEqual(to === null ? [] : [to])
          }
          const everybody = (arrangement: Arrangement) =>
            arrangement.groups.flatMap(({ personIds }) => personIds).toSorted()
          const one = joined(now, keep, other)
          expect(everybody(one)).toEqual(everybody(now))
          expect(one.groups).toHaveLength(keep === other ? 3 : 2)
          expect(checkArrangement(one).ok).toBe(true)
        },
      ),
    )
  })
})
