import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { includes } from '../access/permission.js'
import { column, literal, nameKey, token } from '../naming/pattern.js'
import { GATHER_LIMIT, carryOver, carryWishes, meetingKey } from './carry.js'
import { applyChanges, changesByThemselves, changesToPlan, countChanges, fingerprintChanges } from './changes.js'
import { type Existing, NOTHING_YET } from './existing.js'
import { countDifferences, differencesInWords, differencesOf } from './differences.js'
import type { PlanFacts, PlanMember } from './facts.js'
import { dueForJoiner } from './joiners.js'
import { plainNote } from './note.js'
import { planHandout, planStops, standingStops } from './plan.js'
import { proofOf } from './proof.js'
import { checkStatement } from './readStatement.js'
import {
  type Audience,
  CARRIES,
  type HandoutItem,
  NOTHING,
  type Statement,
  WAYS,
  type Way,
  patternOf,
  plainItem,
  plainStatement,
  withWay,
} from './statement.js'

const NOW = Date.UTC(2026, 11, 1, 12)
const DUE = NOW + 1_000
const member = (id: string, last: string, first: string, more: Partial<PlanMember> = {}): PlanMember => ({
  personId: id,
  last,
  first,
  email: `${id}@fennickquay.example`,
  ...more,
})
const MEMBERS = [
  member('p1', 'Abara', 'Chidi', { cells: { k1: 'Gulls', k2: 'North, Early' } }),
  member('p2', 'Rossi', 'Giulia', { cells: { k1: 'Terns' } }),
  member('p3', 'Rossi', 'Giulia', { cells: { k1: 'gulls ' } }),
  member('p4', '', 'Suryani', { email: null }),
]
const edition = (number: number, answerSpaces: number, places: 'member' | 'group' | null = null) => ({
  number,
  answerSpaces,
  points: 0,
  memberSpaces: places === 'member' ? answerSpaces : 0,
  groupSpaces: places === 'group' ? answerSpaces : 0,
})
const FACTS: PlanFacts = {
  classId: 'c1',
  className: '8 Heron',
  number: 12,
  members: MEMBERS,
  guests: [],
  columns: [
    { id: 'k1', name: 'Reading band' },
    { id: 'k2', name: 'Set' },
  ],
  groupSets: [
    {
      id: 's1',
      name: 'Survey crews',
      groups: [
        { id: 'g1', name: 'Lock gate', personIds: ['p1', 'p2', 'gone'] },
        { id: 'g2', name: 'Crane', personIds: ['p3'] },
        { id: 'g3', name: 'Nobody’s', personIds: [] },
      ],
    },
  ],
  units: [{ id: 'u1', name: 'Tides and harbours' }],
  staff: [{ personId: 't1', email: 't1@fennickquay.example' }],
  worksheets: [
    { id: 'w1', title: 'Reading a tide table', editions: [edition(1, 9), edition(2, 10)] },
    { id: 'w2', title: 'Quayside safety', editions: [edition(1, 0)] },
    { id: 'w3', title: 'Not kept yet', editions: [] },
    { id: 'w4', title: 'Harbour front page', editions: [edition(1, 4, 'member')] },
    { id: 'w5', title: 'Sea-word glossary', editions: [edition(1, 4, 'group')] },
    { id: 'w6', title: 'Link', editions: [edition(1, 0)], builtIn: 'link' },
  ],
  begunAt: NOW,
  timeZone: 'Europe/Lisbon',
  locale: 'en-GB',
}
const ITEM = plainItem('i1', 'w1', 1)
const statement = (item: Partial<HandoutItem> = {}, more: Partial<Statement> = {}): Statement => ({
  ...plainStatement([{ ...ITEM, ...item }], [{ classId: 'c1', opensAt: null, dueAt: DUE }]),
  ...more,
})
const given = (way: Way, item: Partial<HandoutItem> = {}) =>
  statement({ ...withWay(ITEM, way, [{ id: 's1', name: 'Survey crews' }]), ...item })
const planned = (made: Statement, facts = FACTS) => planHandout(made, facts, NOW)
const codes = (made: Statement, facts = FACTS) => planned(made, facts).findings.map(({ code }) => code)

/** The class with its first two groups made of these people. */
const inGroups = (first: string[], second: string[]) => ({
  ...FACTS,
  groupSets: [
    {
      ...FACTS.groupSets[0]!,
      groups: [
        { ...FACTS.groupSets[0]!.groups[0]!, personIds: first },
        { ...FACTS.groupSets[0]!.groups[1]!, personIds: second },
      ],
    },
  ],
})

describe('the plan', () => {
  test('one each: a copy for everybody, held by nobody else, with a name of its own', () => {
    const { copies, leftOut } = planned(statement())
    expect(copies.map(({ title }) => title)).toEqual([
      'Abara, Chidi – Reading a tide table',
      'Rossi, Giulia – Reading a tide table',
      'Rossi, Giulia – Reading a tide table (2)',
      'Suryani – Reading a tide table',
    ])
    expect(copies.map(({ holders }) => holders)).toEqual(
      MEMBERS.map(({ personId }) => [{ personId, permission: 'edit' }]),
    )
    expect(leftOut).toEqual([])
  })

  test('one per group: a copy for each group with anybody in it, and those in none are left out and said', () => {
    const { copies, leftOut, findings } = planned(given('one per group'))
    expect(
      copies.map(({ slotKey, title, holders }) => [slotKey, title, holders.map(({ personId }) => personId)]),
    ).toEqual([
      ['i1:group:g1', 'Lock gate – Reading a tide table', ['p1', 'p2']],
      ['i1:group:g2', 'Crane – Reading a tide table', ['p3']],
    ])
    expect(leftOut).toEqual([{ personId: 'p4', itemId: 'i1', reason: 'in no group of Survey crews', byChoice: false }])
    expect(findings).toContainEqual(expect.objectContaining({ code: 'in-no-group', stops: false }))
  })

  test('one together: one copy for the class, with a place for each group where the worksheet has them', () => {
    const { copies } = planned(
      given('one together', { worksheetId: 'w5', groupSet: { id: null, name: 'survey CREWS' } }),
    )
    expect(copies).toHaveLength(1)
    expect(copies[0]).toMatchObject({ slotKey: 'i1:together', title: 'Sea-word glossary' })
    expect(copies[0]!.holders).toHaveLength(4)
    expect(copies[0]!.places.map(({ name, personIds }) => [name, personIds])).toEqual([
      ['Lock gate', ['p1', 'p2']],
      ['Crane', ['p3']],
    ])
  })

  test('to read: the original once, in which nobody writes, and which is never due', () => {
    const { copies } = planned(given('to read', { worksheetId: 'w2' }))
    expect(copies).toHaveLength(1)
    expect(copies[0]).toMatchObject({ slotKey: 'i1:read', title: 'Quayside safety', dueAt: null })
    expect(new Set(copies[0]!.holders.map(({ permission }) => permission))).toEqual(new Set(['view']))
  })

  test('a link stands where a worksheet would', () => {
    const link = { address: 'https://tides.example/today', title: 'Today’s tides' }
    expect(planned(given('to read', { worksheetId: null, edition: null, link })).copies).toMatchObject([
      { title: 'Today’s tides', link: link.address, worksheetId: 'w6' },
    ])
  })

  test.each<[string, Audience, string[]]>([
    ['some', { kind: 'some', personIds: ['p2', 'gone'] }, ['p2']],
    ['all but some', { kind: 'all but', personIds: ['p2'] }, ['p1', 'p3', 'p4']],
    ['by a column', { kind: 'column', column: { id: 'k1', name: '' }, values: ['GULLS'] }, ['p1', 'p3']],
    ['by a tag among several', { kind: 'column', column: { id: null, name: 'set' }, values: ['early'] }, ['p1']],
    ['by groups', { kind: 'groups', set: { id: 's1', name: '' }, groups: ['crane'] }, ['p3']],
  ])('%s of the class; the others are said to be left out', (_, audience, people) => {
    const { copies, leftOut } = planned(statement({ audience }))
    expect(copies.flatMap(({ holders }) => holders.map(({ personId }) => personId))).toEqual(people)
    expect(leftOut.map(({ personId }) => personId)).toEqual(
      MEMBERS.map(({ personId }) => personId).filter((id) => !people.includes(id)),
    )
  })

  test('different worksheets by a column: a rule, the worksheet for all others, or left out and said', () => {
    const rules = {
      by: 'column' as const,
      of: { id: 'k1', name: 'Reading band' },
      rules: [{ is: 'Gulls', worksheetId: 'w4', edition: 1 }],
    }
    const each = planned(statement({ match: rules }))
    expect(each.copies.map(({ worksheetId }) => worksheetId)).toEqual(['w4', 'w1', 'w4', 'w1'])
    expect(each.findings.filter(({ code }) => code === 'no-match')).toHaveLength(3)
    const without = planned(statement({ match: rules, worksheetId: null, edition: null }))
    expect(without.copies.map(({ worksheetId }) => worksheetId)).toEqual(['w4', 'w4'])
    expect(without.leftOut.map(({ personId }) => personId)).toEqual(['p2', 'p4'])
  })

  test('different worksheets by group, in a copy for each group', () => {
    const match = {
      by: 'group' as const,
      of: { id: 's1', name: '' },
      rules: [{ is: 'Crane', worksheetId: 'w4', edition: 1 }],
    }
    expect(planned(given('one per group', { match })).copies.map(({ worksheetId }) => worksheetId)).toEqual([
      'w1',
      'w4',
    ])
  })

  test('names have every token, and columns', () => {
    const title = (pattern: HandoutItem['pattern'], item: Partial<HandoutItem> = {}) =>
      planned({ ...statement({ pattern, ...item }), unit: { id: null, name: 'tides and harbours' } }).copies[0]!.title
    expect(title([token('number'), literal(' '), token('class'), literal(' '), token('unit')])).toBe(
      '12 8 Heron Tides and harbours',
    )
    expect(title([column('reading band'), literal(' '), token('first')])).toBe('Gulls Chidi')
    expect(
      planned(given('one per group', { pattern: [token('members'), literal(': '), token('title')] })).copies[0]!.title,
    ).toBe('Chidi Abara, Giulia Rossi- Reading a tide table')
  })

  test('times: each class its own, an exception for one, the most generous for those who share', () => {
    const made = statement({}, { exceptions: [{ personId: 'p2', opensAt: null, dueAt: DUE + 5 }] })
    expect(planned(made).copies.map(({ dueAt }) => dueAt)).toEqual([DUE, DUE + 5, DUE, DUE])
    const shared = { ...given('one per group'), exceptions: made.exceptions }
    expect(planned(shared).copies.map(({ dueAt }) => dueAt)).toEqual([DUE + 5, DUE])
    expect(planned(made, { ...FACTS, classId: 'c2' }).copies[0]!.dueAt).toBeNull()
  })

  test('a copy that is shared opens at the earliest of its exceptions, one that is not at its own', () => {
    const exceptions = [
      { personId: 'p1', opensAt: NOW + 500, dueAt: null },
      { personId: 'p2', opensAt: NOW + 50, dueAt: null },
    ]
    const classes = [{ classId: 'c1', opensAt: NOW + 100, dueAt: DUE }]
    const shared = planned({ ...given('one per group'), exceptions, classes })
    expect(shared.copies.map(({ opensAt }) => opensAt)).toEqual([NOW + 50, NOW + 100])
    expect(planned(statement({}, { exceptions, classes })).copies.map(({ opensAt }) => opensAt)).toEqual([
      NOW + 500,
      NOW + 50,
      NOW + 100,
      NOW + 100,
    ])
  })

  test('peer readers: chosen evenly, or by hand', () => {
    const peers = { each: 1, may: 'comment' as const, seed: 3, chosen: { 'i1:each:p1': ['p4', 'p1', 'gone'] } }
    const { copies } = planned(statement({ peers }))
    expect(copies[0]!.readers).toEqual([{ personId: 'p4', permission: 'comment' }])
    for (const { holders, readers } of copies) {
      expect(readers).toHaveLength(1)
      expect(readers[0]!.personId).not.toBe(holders[0]!.personId)
    }
  })

  test('guests get what the walk-in link says, by the same plan', () => {
    const guest = { personId: 'v1', name: 'Mika', itemId: 'i1', permission: 'edit' as const }
    const facts = { ...FACTS, guests: [guest] }
    expect(planned(statement(), facts).copies.at(-1)).toMatchObject({
      title: 'Mika – Reading a tide table',
      holders: [{ personId: 'v1', permission: 'edit' }],
    })
    expect(planned(given('to read'), facts).copies[0]!.holders.at(-1)).toEqual({
      personId: 'v1',
      permission: 'comment',
    })
  })

  test('notices: one to each person, and to staff one for each of them', () => {
    const cover = { text: plainNote('Bring your chart.'), by: 'mail' as const, staffCopied: true }
    const { notices } = planned(statement({}, { cover }))
    expect(notices.filter(({ to, about }) => to === about)).toHaveLength(4)
    expect(notices.filter(({ to }) => to === 't1').map(({ about }) => about)).toEqual(['p1', 'p2', 'p3', 'p4'])
    expect(planned(statement()).notices).toEqual([])
  })

  const crowd = (count: number) => Array.from({ length: count }, (_, at) => member(`m${at}`, `Name ${at}`, 'X'))
  test.each<[string, Statement, string, boolean, Partial<PlanFacts>]>([
    ['an empty class', statement(), 'empty-class', true, { members: [] }],
    ['nobody chosen', statement({ audience: { kind: 'some', personIds: [] } }), 'nobody', true, {}],
    ['no worksheet', statement({ worksheetId: null, edition: null }), 'no-worksheet', true, {}],
    ['a worksheet that is gone', statement({ worksheetId: 'w9' }), 'worksheet-gone', true, {}],
    ['a worksheet without an edition', statement({ worksheetId: 'w3', edition: null }), 'no-edition', true, {}],
    ['nothing at all', NOTHING, 'no-item', true, {}],
    [
      'a column the class has not',
      statement({ audience: { kind: 'column', column: { id: null, name: 'Tutor' }, values: [] } }),
      'no-column',
      true,
      {},
    ],
    [
      'a group set the class has not',
      given('one per group', { groupSet: { id: null, name: 'Boats' } }),
      'no-group-set',
      true,
      {},
    ],
    ['no group set chosen', given('one per group', { groupSet: null }), 'no-group-set', true, {}],
    [
      'a group that is gone',
      statement({ audience: { kind: 'groups', set: { id: 's1', name: '' }, groups: ['Buoy'] } }),
      'no-such-group',
      true,
      {},
    ],
    ['a worksheet without answer spaces', statement({ worksheetId: 'w2' }), 'no-answer-spaces', false, {}],
    [
      'a due time in the past',
      statement({}, { classes: [{ classId: 'c1', opensAt: null, dueAt: NOW - 1 }] }),
      'due-past',
      false,
      {},
    ],
    [
      'opening after it is due',
      statement({}, { classes: [{ classId: 'c1', opensAt: DUE, dueAt: DUE }] }),
      'opens-after-due',
      false,
      {},
    ],
    ['a pattern that names all alike', statement({ pattern: [token('title')] }), 'same-name', false, {}],
    [
      'a token that says nothing',
      given('one per group', { pattern: [token('last'), literal(' '), token('group')] }),
      'no-value',
      false,
      {},
    ],
    [
      'a column in names that the class has not',
      statement({ pattern: [token('last'), column('Tutor')] }),
      'no-value',
      false,
      {},
    ],
    ['nobody may write', statement({ holdersMay: 'view' }), 'nobody-writes', false, {}],
    ['classmates may write', statement({ classmatesMay: 'edit' }), 'classmates-edit', false, {}],
    ['all write in one original', given('one together'), 'original-edited', false, {}],
    ['somebody without e-mail', statement(), 'no-email', false, {}],
    ['two of the same name', statement(), 'namesake', false, {}],
    ['the same worksheet twice', statement({}, { items: [ITEM, { ...ITEM, id: 'i2' }] }), 'twice', false, {}],
    [
      'a rubric that is not graded',
      statement({}, { rubric: [{ id: 'r', name: 'Neat', points: 3 }] }),
      'ungraded-rubric',
      false,
      {},
    ],
    [
      'a rubric that does not add up',
      statement({}, { rubric: [{ id: 'r', name: 'Neat', points: 3 }], marking: { kind: 'points', points: 4 } }),
      'points-differ',
      false,
      {},
    ],
    [
      'too many notices',
      statement({}, { cover: { text: plainNote('x'), by: 'here', staffCopied: true } }),
      'many-notices',
      false,
      { members: crowd(31) },
    ],
    [
      'a crowded group',
      given('one per group'),
      'crowded',
      false,
      {
        groupSets: [
          {
            id: 's1',
            name: 'Survey crews',
            groups: [{ id: 'g', name: 'All', personIds: crowd(6).map(({ personId }) => personId) }],
          },
        ],
        members: crowd(6),
      },
    ],
    [
      'groups that look like one',
      given('one per group'),
      'group-twins',
      false,
      {
        groupSets: [
          {
            id: 's1',
            name: 'Survey crews',
            groups: [
              { id: 'g', name: 'Harbour crane', personIds: ['p1'] },
              { id: 'h', name: 'Harbor cranes', personIds: ['p2'] },
            ],
          },
        ],
      },
    ],
    ['too few to read', statement({ peers: { each: 9, may: 'view', seed: 1, chosen: {} } }), 'few-readers', false, {}],
  ])('%s is pointed out', (_, made, code, stops, facts) => {
    const plan = planned(made, { ...FACTS, ...facts })
    expect(plan.findings).toContainEqual(expect.objectContaining({ code, stops }))
    if (stops) expect(planStops(plan)).toBe(true)
  })

  test('what is always out may be empty, and waits in an empty class; all else stops it as it stops a slip', () => {
    const nobody = { ...FACTS, members: [] }
    const shelf = (made: Statement, facts = FACTS) => standingStops(planned(made, facts))
    expect(planStops(planned(given('to read'), nobody))).toBe(true)
    expect(shelf(given('to read'), nobody)).toBe(false)
    expect(shelf({ ...statement(), items: [] })).toBe(false)
    expect(shelf(given('to read'))).toBe(false)
    expect(shelf(statement({ worksheetId: null }))).toBe(true)
  })

  test('a sound statement has nothing to look at', () => {
    expect(codes(statement(), { ...FACTS, members: MEMBERS.slice(0, 2) })).toEqual([])
    expect(codes(given('one together', { worksheetId: 'w4' }))).toEqual([])
  })

  test('the date in names is the due day in the school’s zone', () => {
    const late = Date.UTC(2026, 11, 3, 23, 30)
    const name = (timeZone: string) =>
      planned(statement({ pattern: [token('date')] }, { classes: [{ classId: 'c1', opensAt: null, dueAt: late }] }), {
        ...FACTS,
        timeZone,
        members: MEMBERS.slice(0, 1),
      }).copies[0]!.title
    expect([name('UTC'), name('Asia/Tokyo')]).toEqual(['3 Dec', '4 Dec'])
  })

  test('a pattern without a value falls back to the worksheet’s title', () => {
    expect(
      planned(statement({ pattern: [literal('  ')] }), { ...FACTS, members: MEMBERS.slice(0, 1) }).copies[0]!.title,
    ).toBe('Reading a tide table')
  })

  test('another way brings its own name along, and keeps one that was written by hand', () => {
    expect(withWay(ITEM, 'one per group', []).pattern).toEqual(patternOf('one per group'))
    const own = { ...ITEM, pattern: [token('number')] }
    expect(withWay(own, 'one together', []).pattern).toEqual(own.pattern)
    expect(withWay(withWay(ITEM, 'to read', []), 'one each', []).holdersMay).toBe('edit')
  })
})

// Any statement over any roster.
const personId = fc.constantFrom(...Array.from({ length: 12 }, (_, index) => `p${index}`))
const anyName = fc.oneof(
  fc.constantFrom('', 'Rossi', 'rossi', 'Ro/ssi', '🦭', 'حداد', 'x'.repeat(300), 'CON'),
  fc.string({ unit: 'grapheme', maxLength: 8 }),
)
const anyMembers = fc.uniqueArray(
  fc.record({
    personId,
    last: anyName,
    first: anyName,
    email: fc.constantFrom(null, 'a@b.example'),
    cells: fc.record({ k1: fc.constantFrom('', 'Gulls', 'Terns') }),
  }),
  { selector: (found) => found.personId, maxLength: 12 },
)
const anyGroups = fc.array(fc.nat(3), { minLength: 12, maxLength: 12 }).map((homes) => [
  {
    id: 's1',
    name: 'Survey crews',
    groups: ['g0', 'g1', 'g2'].map((id, at) => ({
      id,
      name: `Crew ${id}`,
      personIds: homes.flatMap((home, person) => (home === at ? [`p${person}`] : [])),
    })),
  },
])
const anyFacts = fc
  .record({ members: anyMembers, groupSets: anyGroups })
  .map(({ members, groupSets }): PlanFacts => ({ ...FACTS, members, groupSets }))
const anyPart = fc.oneof(
  fc.constantFrom('last', 'first', 'title', 'class', 'date', 'group', 'members').map((name) => token(name as 'last')),
  fc.constantFrom(' ', ', ', ' – ', 'X').map(literal),
)
const anyPermission = fc.constantFrom('none' as const, 'view' as const, 'comment' as const, 'edit' as const)
const anyItem = fc
  .record({
    id: fc.constantFrom('i1', 'i2'),
    worksheetId: fc.constantFrom('w1', 'w2', 'w5'),
    way: fc.constantFrom(...WAYS),
    audience: fc.oneof(
      fc.constant({ kind: 'all' as const }),
      fc.uniqueArray(personId).map((personIds) => ({ kind: 'some' as const, personIds })),
      fc.constant({ kind: 'column' as const, column: { id: 'k1', name: '' }, values: ['Gulls'] }),
    ),
    holdersMay: anyPermission,
    classmatesMay: anyPermission,
    peers: fc.constantFrom(null, { each: 2, may: 'view' as const, seed: 4, chosen: {} }),
    mayInvite: fc.boolean(),
    pattern: fc.array(anyPart, { maxLength: 5 }),
    without: fc.constantFrom([], ['i1:each:p1', 'i2:group:g1']),
    carry: fc.constantFrom(...CARRIES),
  })
  .map((item): HandoutItem => ({ ...ITEM, ...item, groupSet: { id: 's1', name: '' } }))
const anyStatement = fc
  .record({
    items: fc.uniqueArray(anyItem, { selector: ({ id }) => id, maxLength: 2 }),
    dueAt: fc.constantFrom(null, NOW, NOW + 9),
    cover: fc.constantFrom(null, { text: plainNote('x'), by: 'mail' as const, staffCopied: true }),
  })
  .map(({ items, dueAt, cover }): Statement => ({
    ...plainStatement(items, [{ classId: 'c1', opensAt: null, dueAt }]),
    cover,
  }))
const changesFor = (made: Statement, facts: PlanFacts, existing: Existing) =>
  changesToPlan(planned(made, facts), existing, carryWishes(made))
const sorted = ({ copies, notices }: Existing) => ({
  copies: copies.toSorted((a, b) => (a.slotKey < b.slotKey ? -1 : 1)),
  notices: notices.toSorted(),
})

describe('the changes', () => {
  test('planning twice gives no changes', () => {
    fc.assert(
      fc.property(anyStatement, anyFacts, (made, facts) => {
        const done = applyChanges(NOTHING_YET, changesFor(made, facts, NOTHING_YET))
        expect(changesFor(made, facts, done)).toEqual([])
      }),
    )
  })

  test('applying any first part and planning again gives exactly the rest', () => {
    fc.assert(
      fc.property(
        anyStatement,
        anyFacts,
        anyStatement,
        anyFacts,
        fc.nat(),
        (before, factsBefore, after, factsAfter, cut) => {
          const existing = applyChanges(NOTHING_YET, changesFor(before, factsBefore, NOTHING_YET))
          const changes = changesFor(after, factsAfter, existing)
          const part = cut % (changes.length + 1)
          const interrupted = applyChanges(existing, changes.slice(0, part))
          const rest = changesFor(after, factsAfter, interrupted)
          expect(rest).toEqual(changes.slice(part))
          expect(sorted(applyChanges(interrupted, rest))).toEqual(sorted(applyChanges(existing, changes)))
        },
      ),
      { numRuns: 300 },
    )
  })

  // A whole life: statements and rosters change, hand-outs are cut off anywhere, people write in between.
  test('any sequence of edits with hand-outs interrupted anywhere ends in the planned state, loses no answer, and sends each notice once', () => {
    const step = fc.record({
      made: anyStatement,
      facts: anyFacts,
      cut: fc.nat(60),
      writes: fc.array(personId, { maxLength: 3 }),
    })
    fc.assert(
      fc.property(fc.array(step, { minLength: 1, maxLength: 6 }), (steps) => {
        let existing = NOTHING_YET
        const sent: string[] = []
        const answers = new Map<string, Set<string>>()
        for (const { made, facts, cut, writes } of steps) {
          const changes = changesFor(made, facts, existing)
          const part = changes.slice(0, cut)
          sent.push(...part.filter(({ kind }) => kind === 'notify').map(({ slotKey }) => slotKey))
          existing = applyChanges(existing, part)
          // Whoever holds a copy writes in it.
          existing = {
            ...existing,
            copies: existing.copies.map((copy) => {
              const writers = writes.filter(
                (id) => !copy.setAside && copy.holders.some((holder) => holder.personId === id),
              )
              if (writers.length === 0) return copy
              answers.set(copy.slotKey, new Set([...(answers.get(copy.slotKey) ?? []), ...writers]))
              return {
                ...copy,
                opened: true,
                written: { tide: [...new Set([...writers, ...(copy.written['tide'] ?? [])])] },
              }
            }),
          }
        }
        const { made, facts } = steps.at(-1)!
        const rest = changesFor(made, facts, existing)
        sent.push(...rest.filter(({ kind }) => kind === 'notify').map(({ slotKey }) => slotKey))
        existing = applyChanges(existing, rest)
        const plan = planned(made, facts)
        const there = existing.copies.filter(({ setAside }) => !setAside)
        expect(there.map(({ slotKey }) => slotKey).toSorted()).toEqual(
          plan.copies.map(({ slotKey }) => slotKey).toSorted(),
        )
        for (const copy of plan.copies) {
          const {
            setAside: _,
            opened: __,
            submitted: ____,
            written: ___,
            ...now
          } = there.find(({ slotKey }) => slotKey === copy.slotKey)!
          expect({ ...now, holders: now.holders.map(({ personId: id }) => id).toSorted() }).toEqual({
            ...copy,
            readers: now.readers,
            holders: copy.holders.map(({ personId: id }) => id).toSorted(),
          })
        }
        expect(changesFor(made, facts, existing)).toEqual([])
        for (const [slotKey, writers] of answers)
          for (const id of writers)
            expect(existing.copies.find((copy) => copy.slotKey === slotKey)!.written['tide']).toContain(id)
        expect(new Set(sent).size).toBe(sent.length)
        for (const { noticeKey } of plan.notices) expect(sent).toContain(noticeKey)
      }),
      { numRuns: 150 },
    )
  })

  test('nothing is ever removed, and going back brings everything back', () => {
    fc.assert(
      fc.property(anyStatement, anyFacts, anyStatement, (before, facts, after) => {
        const first = applyChanges(NOTHING_YET, changesFor(before, facts, NOTHING_YET))
        const second = applyChanges(first, changesFor(after, facts, first))
        const slots = new Set(second.copies.map(({ slotKey }) => slotKey))
        for (const { slotKey } of first.copies) expect(slots.has(slotKey)).toBe(true)
        const third = applyChanges(second, changesFor(before, facts, second))
        const there = third.copies.filter(({ setAside }) => !setAside)
        expect(there.map(({ slotKey }) => slotKey).toSorted()).toEqual(
          first.copies.map(({ slotKey }) => slotKey).toSorted(),
        )
      }),
    )
  })

  test('names of copies always differ, and are safe as file names', () => {
    fc.assert(
      fc.property(anyStatement, anyFacts, (made, facts) => {
        const titles = planned(made, facts).copies.map(({ title }) => title)
        expect(new Set(titles.map(nameKey)).size).toBe(titles.length)
        for (const title of titles) {
          expect(title).toMatch(/^[^\\/:*?"<>|]+$/)
          expect(title).not.toMatch(/^con$/i)
          expect(new TextEncoder().encode(title).length).toBeLessThanOrEqual(255)
        }
      }),
    )
  })

  test('nobody gets more than the slip says', () => {
    fc.assert(
      fc.property(anyStatement, anyFacts, (made, facts) => {
        const bySlip = new Map(made.items.map((item) => [item.id, item]))
        for (const copy of planned(made, facts).copies) {
          const item = bySlip.get(copy.itemId)!
          for (const { permission } of copy.holders) expect(includes(item.holdersMay, permission)).toBe(true)
          expect(includes(item.classmatesMay, copy.classmatesMay)).toBe(true)
          for (const { personId: id } of copy.readers)
            expect(copy.holders.some((holder) => holder.personId === id)).toBe(false)
        }
      }),
    )
  })

  test('each part of the statement changes only what it says', () => {
    const existing = applyChanges(NOTHING_YET, changesFor(statement(), FACTS, NOTHING_YET))
    const kinds = (made: Statement) => {
      const counts = countChanges(changesFor(made, FACTS, existing))
      return Object.fromEntries(Object.entries(counts).filter(([, count]) => count > 0))
    }
    expect(kinds(statement({ holdersMay: 'view' }))).toEqual({ permit: 4 })
    expect(kinds(statement({ mayInvite: true }))).toEqual({ permit: 4 })
    expect(kinds(statement({ pattern: [token('first')] }))).toEqual({ rename: 4 })
    expect(kinds(statement({ edition: 2 }))).toEqual({ move: 4 })
    expect(kinds(statement({ edition: 2, earlier: { 'i1:each:p1': 1 } }))).toEqual({ move: 3 })
    expect(kinds(statement({}, { pensDownAtDue: true }))).toEqual({ date: 4 })
    expect(kinds(statement({ without: ['i1:each:p1'] }))).toEqual({ 'set aside': 1 })
    expect(kinds(statement({ without: ['i1:each:p1@c1', 'i1:each:p2@c2'] }))).toEqual({ 'set aside': 1 })
    expect(kinds(statement({}, { cover: { text: plainNote('x'), by: 'here', staffCopied: false } }))).toEqual({
      notify: 4,
    })
    expect(kinds(given('one together'))).toEqual({ create: 1, 'set aside': 4 })
    expect(kinds(NOTHING)).toEqual({ 'set aside': 4 })
  })

  test('a late joiner is one copy; somebody who left is set aside', () => {
    const existing = applyChanges(NOTHING_YET, changesFor(statement(), FACTS, NOTHING_YET))
    const facts = { ...FACTS, members: [...MEMBERS.slice(1), member('p9', 'Tupou', 'Vaiana')] }
    const changes = changesFor(statement(), facts, existing)
    expect(changes.map(({ kind, slotKey }) => [kind, slotKey])).toEqual([
      ['create', 'i1:each:p9'],
      ['set aside', 'i1:each:p1'],
    ])
    expect(changesByThemselves(changes, existing).map(({ slotKey }) => slotKey)).toEqual(['i1:each:p9'])
  })

  test('by itself a group’s copy takes somebody in, and lets nobody go', () => {
    const existing = applyChanges(NOTHING_YET, changesFor(given('one per group'), FACTS, NOTHING_YET))
    const by = (facts: PlanFacts) =>
      changesByThemselves(changesFor(given('one per group'), facts, existing), existing).map(({ kind, slotKey }) => [
        kind,
        slotKey,
      ])
    expect(by(inGroups(['p1', 'p2', 'p4'], ['p3']))).toEqual([['permit', 'i1:group:g1']])
    expect(by(inGroups(['p2'], ['p1', 'p3']))).toEqual([['permit', 'i1:group:g2']])
  })

  test('two who change groups one after the other both get the copy of their group, and keep the former until somebody looks', () => {
    const perGroup = given('one per group')
    let existing = applyChanges(NOTHING_YET, changesFor(perGroup, inGroups(['p1', 'p2'], ['p3', 'p4']), NOTHING_YET))
    const differences = (facts: PlanFacts) =>
      differencesOf(planned(perGroup, facts), existing, changesFor(perGroup, facts, existing))
    expect(differences(inGroups(['p1', 'p2'], ['p3', 'p4']))).toBeNull()
    for (const facts of [inGroups(['p2'], ['p3', 'p4', 'p1']), inGroups(['p2', 'p3'], ['p4', 'p1'])])
      existing = applyChanges(existing, changesByThemselves(changesFor(perGroup, facts, existing), existing))
    expect(existing.copies.map(({ holders }) => holders.map(({ personId }) => personId))).toEqual([
      ['p1', 'p2', 'p3'],
      ['p3', 'p4', 'p1'],
    ])
    expect(existing.copies.map(({ places }) => places[0]!.personIds)).toEqual([
      ['p1', 'p2', 'p3'],
      ['p3', 'p4', 'p1'],
    ])
    const now = differences(inGroups(['p2', 'p3'], ['p4', 'p1']))
    expect(now).toEqual({ waiting: [], regrouped: ['p3', 'p1'], moved: [], over: [], readers: 0, copies: 0 })
    expect(differencesInWords(now!, (id) => id)).toBe('2 students belong to other copies now (p3, p1)')
    expect(countDifferences(now!)).toBe(2)
  })

  test('what differs is told person by person: who waits, who has what is not theirs, and copies that differ otherwise', () => {
    const made = statement({}, { joiners: 'wait' })
    const existing = applyChanges(NOTHING_YET, changesFor(made, FACTS, NOTHING_YET))
    const facts = {
      ...FACTS,
      members: [...MEMBERS.slice(1), member('p9', 'Novak', 'Petr')].map((one) =>
        one.personId === 'p4' ? { ...one, first: 'Suriani' } : one,
      ),
    }
    const told = differencesOf(planned(made, facts), existing, changesFor(made, facts, existing))!
    expect(told).toEqual({ waiting: ['p9'], regrouped: [], moved: [], over: ['p1'], readers: 0, copies: 1 })
    expect(differencesInWords(told, (id) => id)).toBe(
      'p9 has no copy yet; p1 has a copy that is not for them any more; 1 copy differs in name, worksheet, times or access',
    )
  })

  test('who is in another place of a shared copy is named', () => {
    const together = given('one together', { groupSet: { id: 's1', name: 'Survey crews' } })
    const withPlaces = (facts: PlanFacts): PlanFacts => ({
      ...facts,
      worksheets: facts.worksheets.map((worksheet) => ({
        ...worksheet,
        editions: worksheet.editions.map((edition) => ({ ...edition, groupSpaces: 1 })),
      })),
    })
    const before = withPlaces(inGroups(['p1', 'p2'], ['p3', 'p4']))
    const existing = applyChanges(NOTHING_YET, changesFor(together, before, NOTHING_YET))
    const facts = withPlaces(inGroups(['p2', 'p3'], ['p4', 'p1']))
    const told = differencesOf(planned(together, facts), existing, changesFor(together, facts, existing))!
    expect(told).toEqual({ waiting: [], regrouped: [], moved: ['p1', 'p3'], over: [], readers: 0, copies: 0 })
    expect(differencesInWords(told, (id) => id)).toBe('2 students have another place in it now (p1, p3)')
  })

  test('copies that would only have other peer readers are told as that', () => {
    const made = given('one each')
    const existing = applyChanges(NOTHING_YET, changesFor(made, FACTS, NOTHING_YET))
    const reader = { personId: 'p2', permission: 'comment' as const }
    const [first] = existing.copies
    const read = { ...existing, copies: [{ ...first!, readers: [reader] }, ...existing.copies.slice(1)] }
    const told = differencesOf(planned(made), read, changesFor(made, FACTS, read))!
    expect(told).toMatchObject({ readers: 1, copies: 0 })
    expect(differencesInWords(told, (id) => id)).toBe('1 copy would have other peer readers')
    expect(countDifferences(told)).toBe(1)
  })

  test('by itself nobody loses anything, and whoever is planned has their copy, however people and groups change', () => {
    const people = MEMBERS.map(({ personId }) => personId)
    const grouping = fc.array(fc.integer({ min: -1, max: 2 }), { minLength: 4, maxLength: 4 })
    fc.assert(
      fc.property(fc.constantFrom(...WAYS), fc.array(grouping, { minLength: 2, maxLength: 6 }), (way, steps) => {
        const made = given(way, way === 'one together' ? { worksheetId: 'w5', groupSet: { id: 's1', name: '' } } : {})
        let existing = NOTHING_YET
        for (const [at, step] of steps.entries()) {
          // -1: not in the class.
          const facts: PlanFacts = {
            ...FACTS,
            members: MEMBERS.filter((_, index) => step[index] !== -1),
            groupSets: [
              {
                ...FACTS.groupSets[0]!,
                groups: FACTS.groupSets[0]!.groups.map((group, number) => ({
                  ...group,
                  personIds: people.filter((_, index) => step[index] === number),
                })),
              },
            ],
          }
          const before = existing
          const changes = changesFor(made, facts, existing)
          existing = applyChanges(existing, at === 0 ? changes : changesByThemselves(changes, existing))
          const { copies } = planned(made, facts)
          for (const { slotKey, holders } of copies)
            expect(existing.copies.find((copy) => copy.slotKey === slotKey)).toMatchObject({
              setAside: false,
              holders: expect.arrayContaining(holders.map((holder) => ({ ...holder }))) as unknown,
            })
          for (const was of before.copies.filter(({ setAside }) => !setAside)) {
            const is = existing.copies.find(({ slotKey }) => slotKey === was.slotKey)!
            expect(is).toMatchObject({ setAside: false, title: was.title, worksheetId: was.worksheetId })
            expect(is.holders).toEqual(expect.arrayContaining([...was.holders]))
          }
          // A second look finds nothing more to do by itself.
          const again = changesByThemselves(changesFor(made, facts, existing), existing)
          expect(again).toEqual([])
        }
      }),
    )
  })

  test('the fingerprint is the same for the same changes and another for any others', () => {
    const changes = changesFor(statement(), FACTS, NOTHING_YET)
    const reordered = changes.map((change) => Object.fromEntries(Object.entries(change).toReversed()) as typeof change)
    expect(fingerprintChanges(reordered)).toBe(fingerprintChanges(changes))
    expect(fingerprintChanges(changes.slice(1))).not.toBe(fingerprintChanges(changes))
    expect(fingerprintChanges(changesFor(statement({ holdersMay: 'view' }), FACTS, NOTHING_YET))).not.toBe(
      fingerprintChanges(changes),
    )
  })
})

describe('writing goes along', () => {
  const ids = ['0', '1', '2', '3'].map((digit) => `${digit.repeat(8)}-1111-4111-8111-111111111111`)
  const facts: PlanFacts = { ...FACTS, members: ids.map((id, at) => member(id, `Name ${at}`, 'X')), groupSets: [] }
  const part = (id: string) => `words_${id.replaceAll('-', '')}`
  const together = (written: Record<string, string[]>) => {
    const done = applyChanges(NOTHING_YET, changesFor(given('one together'), facts, NOTHING_YET))
    return { ...done, copies: done.copies.map((copy) => ({ ...copy, written })) }
  }
  const carried = (made: Statement, existing: Existing) =>
    changesFor(made, facts, existing).flatMap((change) =>
      change.kind === 'carry'
        ? change.sources.map(({ from, space }) => [from, space, change.slotKey, change.toSpace])
        : [],
    )
  const each = statement({ carry: 'give to writer' })

  test('from one together to one each: to the one who wrote it, to all who wrote it together', () => {
    const existing = together({ tide: [ids[0]!], moon: [ids[1]!, ids[2]!] })
    expect(carried(each, existing)).toEqual([
      ['i1:together', 'tide', `i1:each:${ids[0]}`, 'tide'],
      ['i1:together', 'moon', `i1:each:${ids[1]}`, 'moon'],
      ['i1:together', 'moon', `i1:each:${ids[2]}`, 'moon'],
    ])
    expect(carried(statement({ carry: 'keep aside' }), existing)).toEqual([])
  })

  test('somebody’s own part goes along, and nothing that is there already is written over', () => {
    const existing = together({ [part(ids[0]!)]: [ids[0]!] })
    const own = carried(each, existing)
    expect(own).toEqual([['i1:together', part(ids[0]!), `i1:each:${ids[0]}`, part(ids[0]!)]])
    const done = applyChanges(existing, changesFor(each, facts, existing))
    expect(carried(each, done)).toEqual([])
  })

  test('from one each to one together: only where nobody else’s answer would meet it', () => {
    const done = applyChanges(NOTHING_YET, changesFor(statement(), facts, NOTHING_YET))
    const existing = {
      ...done,
      copies: done.copies.map((copy, at) => ({
        ...copy,
        written: { ...(at < 2 && { tide: [ids[at]!] }), ...(at === 3 && { moon: [ids[3]!] }) },
      })),
    }
    expect(carried(given('one together', { carry: 'give to writer' }), existing)).toEqual([
      [`i1:each:${ids[3]}`, 'moon', 'i1:together', 'moon'],
    ])
  })
})

describe('writing that meets, and writing that stays behind', () => {
  const ids = ['0', '1', '2', '3'].map((digit) => `${digit.repeat(8)}-1111-4111-8111-111111111111`)
  const facts: PlanFacts = {
    ...FACTS,
    members: ids.map((id, at) => member(id, `Name ${at}`, 'X')),
    groupSets: [
      {
        id: 's1',
        name: 'Survey crews',
        groups: [
          { id: 'g1', name: 'Lock gate', personIds: ids.slice(0, 3) },
          { id: 'g2', name: 'Crane', personIds: ids.slice(3) },
        ],
      },
    ],
  }
  const each = (at: number) => `i1:each:${ids[at]}`
  /** One each, in which the first three answered a passage, the first two a line, and the last one something of their own. */
  const answered: Existing = (() => {
    const done = applyChanges(NOTHING_YET, changesFor(statement(), facts, NOTHING_YET))
    return {
      ...done,
      asked: {
        why: { label: 'Question 1', kind: 'passage' },
        tide: { label: 'Question 2', kind: 'line' },
        moon: { label: 'Question 3', kind: 'line' },
      },
      sizes: {},
      copies: done.copies.map((copy, at) => ({
        ...copy,
        submitted: at === 1,
        written: {
          ...(at < 3 && { why: [ids[at]!] }),
          ...(at < 2 && { tide: [ids[at]!] }),
          ...(at === 3 && { moon: [ids[3]!] }),
        },
      })),
    }
  })()
  const perGroup = (item: Partial<HandoutItem>) => given('one per group', item)
  const over = (made: Statement, existing = answered) =>
    carryOver(planned(made, facts).copies, existing, carryWishes(made))
  const looked = (made: Statement) =>
    proofOf(made, FACTS.worksheets, [{ classId: 'c1', facts, existing: answered }], NOW).parts[0]!.plan.findings.filter(
      ({ code }) => code === 'left-behind' || code === 'was-submitted',
    )

  test('every answer goes along or is named as left behind, with the reason', () => {
    const { carried, left, meetings } = over(perGroup({ carry: 'give to writer' }))
    expect(carried.map(({ slotKey, toSpace }) => [slotKey, toSpace])).toEqual([['i1:group:g2', 'moon']])
    expect(left.map(({ from, space, by, why }) => [from, space, by, why])).toEqual([
      [each(0), 'why', [ids[0]], 'met'],
      [each(0), 'tide', [ids[0]], 'met'],
      [each(1), 'why', [ids[1]], 'met'],
      [each(1), 'tide', [ids[1]], 'met'],
      [each(2), 'why', [ids[2]], 'met'],
    ])
    expect(meetings.map(({ toSpace, canAll, goes }) => [toSpace, canAll, goes])).toEqual([
      ['why', true, 'none'],
      ['tide', false, 'none'],
    ])
    expect(over(perGroup({})).left.map(({ why }) => why)).toEqual(Array(6).fill('kept aside'))
  })

  test('passages go under each other where that is wished; of others one is chosen', () => {
    const tide = meetingKey({ slotKey: 'i1:group:g1', toSpace: 'tide' })
    const why = meetingKey({ slotKey: 'i1:group:g1', toSpace: 'why' })
    const of = (item: Partial<HandoutItem>) =>
      over(perGroup(item)).carried.map(({ toSpace, sources }) => [toSpace, sources.map(({ from }) => from)])
    expect(of({ carry: 'give all' })).toEqual([
      ['why', [each(0), each(1), each(2)]],
      ['moon', [each(3)]],
    ])
    expect(of({ carry: 'give all', carryChosen: { [tide]: each(1), [why]: 'none' } })).toEqual([
      ['tide', [each(1)]],
      ['moon', [each(3)]],
    ])
    expect(of({ carry: 'give to writer', carryChosen: { [why]: 'all', [tide]: each(3) } })).toEqual([
      ['why', [each(0), each(1), each(2)]],
      ['moon', [each(3)]],
    ])
    const long = { ...answered, sizes: { [`${each(0)} why`]: GATHER_LIMIT } }
    expect(
      over(perGroup({ carry: 'give all' }), { ...long, sizes: { ...long.sizes, [`${each(1)} why`]: 1 } }).left,
    ).toEqual(expect.arrayContaining([{ from: each(0), space: 'why', by: [ids[0]], why: 'too long' }]))
  })

  test('the proof counts and names what stays behind, and says what was submitted', () => {
    const all = looked(perGroup({ carry: 'give to writer' }))
    expect(all.filter(({ slotKey }) => !slotKey).map(({ sentence }) => sentence)).toEqual([
      '5 answers stay in copies that are set aside, of X Name 0, X Name 1, X Name 2 (several wrote to the same question).',
      '1 submitted copy is set aside, of X Name 1: what takes their place is not submitted.',
    ])
    expect(all.filter(({ slotKey }) => slotKey === each(1)).map(({ sentence }) => sentence)).toEqual([
      '2 of 2 answers stay here (Question 1, Question 2)',
      'submitted; it stays so, and what takes its place is not',
    ])
    expect(
      looked(perGroup({ carry: 'give all' }))
        .filter(({ slotKey }) => slotKey === each(1))
        .map(({ sentence }) => sentence),
    ).toEqual(['1 of 2 answers stays here (Question 2)', 'submitted; its answers go into a copy that is not'])
    expect(looked(statement())).toEqual([])
  })

  test('whatever is wished, an answer is in one of the two, and what is there already is never written over', () => {
    const anyWish = fc.record({
      carry: fc.constantFrom(...CARRIES),
      carryChosen: fc.dictionary(
        fc.constantFrom(
          ...['why', 'tide', 'moon'].flatMap((toSpace) =>
            ['i1:group:g1', 'i1:group:g2', 'i1:together'].map((slotKey) => meetingKey({ slotKey, toSpace })),
          ),
        ),
        fc.constantFrom('all', 'none', each(0), each(1), each(2), each(3)),
      ),
    })
    fc.assert(
      fc.property(anyWish, fc.constantFrom<Way>('one per group', 'one together'), (wish, way) => {
        const made = given(way, wish)
        const { carried, left } = over(made)
        const went = carried.flatMap(({ sources }) => sources.map(({ from, space }) => `${from} ${space}`))
        const stayed = left.map(({ from, space }) => `${from} ${space}`)
        const there = answered.copies.flatMap(({ slotKey, written }) =>
          Object.keys(written).map((space) => `${slotKey} ${space}`),
        )
        expect([...new Set(went), ...stayed].toSorted()).toEqual(there.toSorted())
        const done = applyChanges(answered, changesFor(made, facts, answered))
        expect(over(made, done).carried).toEqual([])
        expect(changesFor(made, facts, done)).toEqual([])
      }),
    )
  })
})

describe('a statement from outside', () => {
  test('is read back as it was', () => {
    fc.assert(
      fc.property(anyStatement, (made) => {
        const sound = {
          ...made,
          items: made.items.map((item) =>
            item.way === 'to read' && item.holdersMay === 'edit' ? { ...item, holdersMay: 'view' as const } : item,
          ),
        }
        expect(checkStatement(JSON.parse(JSON.stringify(sound)))).toEqual({ ok: true, value: sound })
      }),
    )
  })

  test('what an older one did not have yet is as most want it', () => {
    const { id, worksheetId, edition: number, audience, way, holdersMay, classmatesMay, pattern } = ITEM
    const older = { items: [{ id, worksheetId, edition: number, audience, way, holdersMay, classmatesMay, pattern }] }
    expect(checkStatement(older)).toEqual({ ok: true, value: plainStatement([ITEM], []) })
  })

  test.each<[string, unknown]>([
    ['items', { items: null }],
    ['items.0.id', { items: [{ ...ITEM, id: '' }] }],
    ['items.1.id', { items: [ITEM, ITEM] }],
    ['items.0.way', { items: [{ ...ITEM, way: 'all at once' }] }],
    ['items.0.holdersMay', { items: [{ ...ITEM, holdersMay: 'own' }] }],
    ['items.0.holdersMay', { items: [{ ...ITEM, way: 'to read', holdersMay: 'edit' }] }],
    ['items.0.audience', { items: [{ ...ITEM, audience: { kind: 'some', personIds: [1] } }] }],
    ['items.0.audience', { items: [{ ...ITEM, audience: { kind: 'column', values: [] } }] }],
    ['items.0.pattern', { items: [{ ...ITEM, pattern: 'x' }] }],
    ['items.0.edition', { items: [{ ...ITEM, edition: -1 }] }],
    ['items.0.link', { items: [{ ...ITEM, link: { address: 'javascript:alert(1)', title: '' } }] }],
    ['items.0.match', { items: [{ ...ITEM, match: { by: 'mood', of: { id: null, name: 'x' }, rules: [] } }] }],
    ['items.0.match.0', { items: [{ ...ITEM, match: { by: 'column', of: { id: null, name: 'x' }, rules: [{}] } }] }],
    ['items.0.peers', { items: [{ ...ITEM, peers: { each: 0 } }] }],
    ['items.0.without', { items: [{ ...ITEM, without: ['a b'] }] }],
    ['classes.0.dueAt', { items: [], classes: [{ classId: 'c1', dueAt: 'soon' }] }],
    ['marking', { items: [], marking: { kind: 'points', points: -1 } }],
    ['rubric.0', { items: [], rubric: [{ id: 'r', name: 'x', points: 'y' }] }],
    ['cover', { items: [], cover: { text: { type: 'doc', content: [{ type: 'script' }] } } }],
  ])('has its problem said at %s', (field, input) => {
    const checked = checkStatement(input)
    expect(checked.ok).toBe(false)
    if (!checked.ok) expect(checked.problems[0]!.field).toBe(field)
  })

  test('any JSON is a value or problems', () => {
    fc.assert(fc.property(fc.jsonValue(), (input) => expect(typeof checkStatement(input).ok).toBe('boolean')))
  })
})

describe('who comes when the due time is past', () => {
  const DAY = 86_400_000
  test('keeps the hour of the school over the change of clocks', () => {
    const dueAt = Date.parse('2026-10-23T15:00Z')
    expect(dueForJoiner(dueAt - 5 * DAY, dueAt, dueAt + 60_000, 'Europe/Lisbon')).toBe(Date.parse('2026-10-29T16:00Z'))
  })
  test('has as long as the class had, between one day and fourteen, at the hour of the class’s', () => {
    fc.assert(
      fc.property(fc.nat(40 * DAY), fc.nat(60 * DAY), (had, late) => {
        const dueAt = 1_700_000_000_000
        const now = dueAt + late
        const own = dueForJoiner(dueAt - had, dueAt, now, 'UTC')
        expect((own - dueAt) % DAY).toBe(0)
        const time = Math.min(14 * DAY, Math.max(DAY, had))
        expect(own - now).toBeGreaterThanOrEqual(time)
        expect(own - now).toBeLessThan(time + DAY)
      }),
    )
  })
})
