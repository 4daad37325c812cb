import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { groupsOfSize, makeGroups, spreadOf } from './maker.js'
import { type GroupCandidate, type GroupPair } from './wish.js'
import { checkGroupName, groupNames, groupNotes, groupsFromColumn, groupsFromPaste, openState } from './set.js'
import { alike, nameTwins } from './twins.js'

const people = (values: readonly string[]): GroupCandidate[] =>
  values.map((value, at) => ({ id: `p${at}`, name: `Person ${at}`, values: [value] }))
const made = (wish: Parameters<typeof makeGroups>[0]) => {
  const outcome = makeGroups(wish)
  if (!outcome.ok) throw new Error(outcome.problems[0]!.sentence)
  return outcome.value
}

describe('names that look like one', () => {
  test.each([
    ['Lock gate', 'lock  GATE', 'the same letters'],
    ['Lock-gate', 'Lockgate', 'the same letters'],
    ['Café', 'Cafe', 'the same letters'],
    ['Lock gate', 'Lock gates', 'a plural'],
    ['Ferry', 'Ferries', 'a plural'],
    ['Wrench', 'Wrenches', 'a plural'],
    ['Harbour crane', 'Harbor cranes', 'a slip of the pen'],
    ['Slipway', 'Slpiway', 'a slip of the pen'],
    ['Buoy yard', 'Bouy yard', 'a slip of the pen'],
    ['Lighthouse keepers', 'Lighthose keeper', 'a slip of the pen'],
  ])('%s and %s: %s', (a, b, reason) => {
    expect(alike(a, b)).toBe(reason)
    expect(alike(b, a)).toBe(reason)
  })

  // The threshold: what two different names of a class may have in common.
  test.each([
    ['Crew 1', 'Crew 2'],
    ['Group 1', 'Group 11'],
    ['A', 'B'],
    ['Red', 'Bed'],
    ['Boat', 'Goat'],
    ['Team A', 'Team B'],
    ['North quay', 'South quay'],
    ['Tides', 'Tiles and slates'],
    ['Crane', 'Slipway'],
    ['Port side', 'Starboard side'],
    ['East pier', 'West pier'],
  ])('%s and %s are two', (a, b) => {
    expect(alike(a, b)).toBeNull()
  })

  test('the name that most wrote is the one to keep', () => {
    expect(
      nameTwins([
        { name: 'Lock gates', size: 1 },
        { name: 'Crane', size: 5 },
        { name: 'Lock gate', size: 4 },
      ]),
    ).toMatchObject([{ keep: { name: 'Lock gate' }, other: { name: 'Lock gates' } }])
  })

  test('a name is like itself in any case and spacing, and the relation has no sides', () => {
    const word = fc.stringMatching(/^[a-z]{1,10}$/)
    fc.assert(
      fc.property(fc.array(word, { minLength: 1, maxLength: 3 }), fc.array(word, { maxLength: 3 }), (a, b) => {
        expect(alike(a.join(' '), a.join('  ').toUpperCase())).toBe('the same letters')
        expect(alike(a.join(' '), b.join(' '))).toBe(alike(b.join(' '), a.join(' ')))
      }),
    )
  })
})

describe('making groups', () => {
  test('the same seed gives the same groups, another one others', () => {
    const wish = { people: people(Array.from({ length: 28 }, (_, at) => 'ABC'[at % 3]!)), groups: 7 }
    expect(made({ ...wish, seed: 5 })).toEqual(made({ ...wish, seed: 5 }))
    expect(made({ ...wish, seed: 5 }).groups).not.toEqual(made({ ...wish, seed: 6 }).groups)
  })

  test('sizes differ by one at most, and a column is spread evenly', () => {
    const result = made({ people: people([...'AAAAAAAABBBBBBBBBBCCCCCCCCCC']), groups: 7, seed: 1 })
    expect(result.sizeSpread).toBe(0)
    expect(result.valueSpread).toBeLessThanOrEqual(3)
  })

  test('a column of many numbers is cut into quarters', () => {
    const result = made({
      people: people(Array.from({ length: 16 }, (_, at) => String(40 + 3 * at))),
      groups: 4,
      seed: 2,
    })
    expect(result.valueSpread).toBe(0)
    for (const group of result.groups)
      expect(group.map((id) => Math.floor(Number(id.slice(1)) / 4)).toSorted()).toEqual([0, 1, 2, 3])
  })

  test.each<[string, GroupPair[], [string, number][], number, RegExp]>([
    [
      'together by way of others and apart',
      [
        { a: 'p0', b: 'p1', kind: 'together' },
        { a: 'p1', b: 'p2', kind: 'together' },
        { a: 'p0', b: 'p2', kind: 'apart' },
      ],
      [],
      3,
      /Person 0 and Person 2 are to be apart, and also together/,
    ],
    [
      'together and kept in two groups',
      [{ a: 'p0', b: 'p1', kind: 'together' }],
      [
        ['p0', 0],
        ['p1', 1],
      ],
      3,
      /kept in two different groups/,
    ],
    [
      'apart and kept in one group',
      [{ a: 'p0', b: 'p1', kind: 'apart' }],
      [
        ['p0', 1],
        ['p1', 1],
      ],
      3,
      /kept in the same group/,
    ],
    [
      'three apart from each other in two groups',
      [
        { a: 'p0', b: 'p1', kind: 'apart' },
        { a: 'p1', b: 'p2', kind: 'apart' },
        { a: 'p0', b: 'p2', kind: 'apart' },
      ],
      [],
      2,
      /needs 3 groups; there are 2/,
    ],
  ])('%s cannot be, and the reason names them', (_, pairs, locked, groups, sentence) => {
    const outcome = makeGroups({ people: people([...'AABBCC']), groups, pairs, locked: new Map(locked), seed: 1 })
    expect(outcome).toMatchObject({ ok: false })
    if (!outcome.ok) expect(outcome.problems[0]!.sentence).toMatch(sentence)
  })

  // Everything a small class can be: what is asked always holds, and what is refused cannot be.
  const wish = fc
    .record({
      values: fc.array(fc.constantFrom('A', 'B', ''), { minLength: 2, maxLength: 7 }),
      groups: fc.integer({ min: 1, max: 3 }),
      pairs: fc.array(
        fc.record({ a: fc.nat(6), b: fc.nat(6), kind: fc.constantFrom('together' as const, 'apart' as const) }),
        { maxLength: 4 },
      ),
      locked: fc.array(fc.tuple(fc.nat(6), fc.nat(2)), { maxLength: 2 }),
      seed: fc.nat(),
    })
    .map(({ values, groups, pairs, locked, seed }) => ({
      people: people(values),
      groups,
      pairs: pairs
        .filter(({ a, b }) => a !== b && a < values.length && b < values.length)
        .map(({ a, b, kind }) => ({ a: `p${a}`, b: `p${b}`, kind })),
      locked: new Map(
        locked.filter(([at, group]) => at < values.length && group < groups).map(([at, group]) => [`p${at}`, group]),
      ),
      seed,
    }))

  const everyWay = function* (count: number, groups: number): Generator<number[]> {
    for (let code = 0; code < groups ** count; code++)
      yield Array.from({ length: count }, (_, at) => Math.floor(code / groups ** at) % groups)
  }

  test('two who are to be together change places with two others, where one alone could not', () => {
    const people = ['A', 'A', '', 'B', 'A', 'A'].map((value, at) => ({ id: `p${at}`, name: `p${at}`, values: [value] }))
    const pairs = [
      { a: 'p0', b: 'p2', kind: 'apart' as const },
      { a: 'p5', b: 'p4', kind: 'together' as const },
    ]
    const made = makeGroups({ people, groups: 2, pairs, locked: new Map([['p0', 1]]), seed: 743_192_954 })
    expect(made.ok && [made.value.sizeSpread, made.value.valueSpread]).toEqual([0, 1])
  })

  test('people bound to each other change places together, where one alone could not', () => {
    const people = ['p0', 'p1', 'p2', 'p3', 'p4'].map((id) => ({ id, name: id, values: ['A'] }))
    const pairs = ['p1', 'p2', 'p3'].map((a) => ({ a, b: 'p4', kind: 'apart' as const }))
    const made = makeGroups({ people, groups: 2, pairs, locked: new Map([['p0', 0]]), seed: 0 })
    expect(made.ok && made.value.sizeSpread).toBe(1)
  })

  test('on small classes: what is asked holds, refusal is right, and the spread is within one of the best there is', () => {
    fc.assert(
      fc.property(wish, ({ people: all, groups, pairs, locked, seed }) => {
        const holds = (place: (id: string) => number) =>
          pairs.every(({ a, b, kind }) => (place(a) === place(b)) === (kind === 'together')) &&
          [...locked].every(([id, group]) => place(id) === group)
        let best: { sizeSpread: number; valueSpread: number } | null = null
        for (const way of everyWay(all.length, groups)) {
          if (!holds((id) => way[Number(id.slice(1))]!)) continue
          const found = spreadOf(
            Array.from({ length: groups }, (_, group) =>
              all.filter((_person, at) => way[at] === group).map(({ id }) => id),
            ),
            all,
          )
          if (
            !best ||
            found.sizeSpread < best.sizeSpread ||
            (found.sizeSpread === best.sizeSpread && found.valueSpread < best.valueSpread)
          )
            best = found
        }
        const outcome = makeGroups({ people: all, groups, pairs, locked, seed })
        expect(outcome.ok).toBe(best !== null)
        if (!outcome.ok || !best) return
        const placeOf = new Map(outcome.value.groups.flatMap((ids, group) => ids.map((id) => [id, group])))
        expect(placeOf.size).toBe(all.length)
        expect(holds((id) => placeOf.get(id)!)).toBe(true)
        expect(outcome.value.sizeSpread).toBeLessThanOrEqual(best.sizeSpread + 1)
        if (outcome.value.sizeSpread === best.sizeSpread)
          expect(outcome.value.valueSpread).toBeLessThanOrEqual(best.valueSpread + 1)
      }),
      { numRuns: 150 },
    )
  })

  test('how many groups of about a size', () => {
    expect([groupsOfSize(28, 4), groupsOfSize(27, 4), groupsOfSize(3, 5), groupsOfSize(0, 4)]).toEqual([7, 7, 1, 0])
    expect(makeGroups({ people: [], groups: 0, seed: 1 }).ok).toBe(false)
  })
})

const STUDENTS = [
  { personId: 'a', first: 'Chidi', last: 'Abara', email: 'chidi@fennickquay.example', number: 'K-104' },
  { personId: 'b', first: 'Théo', last: 'Joubert', email: null, number: null },
  { personId: 'c', first: 'Giulia', last: 'Rossi', email: 'giulia@fennickquay.example', number: null },
  { personId: 'd', first: 'Giulia', last: 'Rossi', email: 'g.rossi@fennickquay.example', number: null },
]

describe('group sets', () => {
  test('several columns are spread at once, each as evenly as if it were the only one', () => {
    // Bands and tutors cross each other: of each of four pairs there are four people.
    const crossed = Array.from({ length: 16 }, (_, at) => ({
      id: `p${at}`,
      name: `p${at}`,
      values: [at % 2 ? 'A' : 'B', at % 4 < 2 ? 'Haddow' : 'Oduya'],
    }))
    for (let seed = 0; seed < 12; seed++) {
      const made = makeGroups({ people: crossed, groups: 4, seed })
      expect(made.ok && [made.value.sizeSpread, made.value.valueSpread]).toEqual([0, 0])
    }
    // Nothing said in one column is no value of it.
    const some = crossed.map((person, at) => (at < 8 ? { ...person, values: ['', person.values[1]!] } : person))
    const made = makeGroups({ people: some, groups: 4, seed: 1 })
    expect(made.ok && made.value.valueSpread).toBe(0)
  })
  test('out of a column: a value is a group, however it is spelt', () => {
    const drafts = groupsFromColumn(
      [
        { personId: 'a', value: 'Slipway' },
        { personId: 'b', value: 'crane' },
        { personId: 'c', value: ' slipway' },
        { personId: 'd', value: '' },
      ],
      'en',
    )
    expect(drafts).toEqual([
      { name: 'crane', personIds: ['b'] },
      { name: 'Slipway', personIds: ['a', 'c'] },
    ])
  })

  test('out of pasted lines, in the ways people write them', () => {
    const { groups, problems } = groupsFromPaste(
      'Abara, Chidi\tCrane\ntheo joubert; crane\nSlipway: giulia@fennickquay.example, Nobody Known\nRossi, Giulia, Slipway\nK-104, Slipway\nalone\n',
      STUDENTS,
    )
    expect(groups).toEqual([
      { name: 'Crane', personIds: ['a', 'b'] },
      { name: 'Slipway', personIds: ['c'] },
    ])
    expect(problems.map(({ row, sentence }) => [row, sentence.split(' ').slice(0, 3).join(' ')])).toEqual([
      [2, 'Nobody in this'],
      [3, 'More than one'],
      [4, 'K-104 is in'],
      [5, 'This line needs'],
    ])
  })

  test('any pasted text is groups and problems, and nobody is in two', () => {
    fc.assert(
      fc.property(fc.string({ unit: fc.constantFrom(...'ab:,;\t\n Abara Chidi'), maxLength: 80 }), (text) => {
        const ids = groupsFromPaste(text, STUDENTS).groups.flatMap(({ personIds }) => personIds)
        expect(new Set(ids).size).toBe(ids.length)
      }),
    )
  })

  test('what to look at: twins, one alone, more than five, empty, and in none', () => {
    const students = Array.from({ length: 9 }, (_, at) => ({ personId: `s${at}`, first: `F${at}`, last: 'L' }))
    const group = (id: string, name: string, ids: number[]) => ({
      id,
      name,
      places: null,
      personIds: ids.map((at) => `s${at}`),
    })
    const notes = groupNotes(
      [
        group('1', 'Crane', [0, 1, 2, 3, 4, 5]),
        group('2', 'Slipway', [6]),
        group('3', 'Slipways', [7]),
        group('4', 'Pier', []),
      ],
      students,
    )
    expect(notes.map(({ code, groupIds }) => [code, ...groupIds])).toEqual([
      ['twins', '2', '3'],
      ['crowded', '1'],
      ['alone', '2'],
      ['alone', '3'],
      ['empty', '4'],
      ['in-none'],
    ])
    expect(notes.at(-1)!.personIds).toEqual(['s8'])
  })

  test('pairs who are not where they are to be are named; who is in no group is no matter yet', () => {
    const students = ['a', 'b', 'c', 'd'].map((personId) => ({ personId, first: personId.toUpperCase(), last: '' }))
    const groups = [
      { id: '1', name: 'Crane', places: null, personIds: ['a', 'b'] },
      { id: '2', name: 'Pier', places: null, personIds: ['c'] },
    ]
    const notes = groupNotes(groups, students, [
      { a: 'a', b: 'b', kind: 'apart' },
      { a: 'b', b: 'c', kind: 'together' },
      { a: 'a', b: 'c', kind: 'apart' },
      { a: 'c', b: 'd', kind: 'together' },
    ])
    expect(notes.filter(({ code }) => code === 'pair-broken').map(({ sentence }) => sentence)).toEqual([
      'A and B are to be apart, and both are in Crane.',
      'B and C are to be together, and are in Crane and Pier.',
    ])
  })

  test('names: one of each, numbered where none is given', () => {
    expect(checkGroupName(' Lock  gate', ['Crane'])).toEqual({ ok: true, value: 'Lock gate' })
    for (const name of ['', 'CRANE', 'x'.repeat(81)]) expect(checkGroupName(name, ['Crane']).ok).toBe(false)
    expect(groupNames(2, ['group 1'])).toEqual(['Group 2', 'Group 3'])
  })

  test('a sign-up is open by hand and within its times', () => {
    const times = { open: true, opensAt: 10, closesAt: 20 }
    expect([9, 10, 19, 20].map((now) => openState(times, now))).toEqual(['not yet', 'open', 'open', 'over'])
    expect(openState({ ...times, open: false }, 15)).toBe('closed')
    expect(openState({ open: true, opensAt: null, closesAt: null }, 0)).toBe('open')
  })
})
