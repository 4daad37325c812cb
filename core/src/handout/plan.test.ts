import { describe, expect, test } from '@jest/globals'
import { column, literal, token } from '../naming/pattern.js'
import { plainNote } from './note.js'
import { planStops, standingStops } from './plan.js'
import {
  type Audience,
  type HandoutItem,
  NOTHING,
  type Statement,
  patternOf,
  plainPeers,
  withWay,
} from './statement.js'
import { NOW, DUE, member, MEMBERS, FACTS, ITEM, statement, given, planned, codes } from './testing/plans.js'
import type { PlanFacts } from './facts.js'

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
    const peers = { ...plainPeers(1), seed: 3, chosen: { 'i1:each:p1': ['p4', 'p1', 'gone'] } }
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
    ['too few to read', statement({ peers: plainPeers(9, 'view') }), 'few-readers', false, {}],
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
