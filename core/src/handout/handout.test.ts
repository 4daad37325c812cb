import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { includes } from '../access/permission.js'
import { literal, nameKey, token } from '../naming/pattern.js'
import { type ExistingCopy, applyChanges, changesToPlan, countChanges, fingerprintChanges } from './changes.js'
import { type PlanFacts, type PlanMember, planHandout, planStops } from './plan.js'
import { type HandoutItem, type Statement, checkStatement, plainItem } from './statement.js'

const NOW = Date.UTC(2026, 11, 1, 12)
const member = (
  id: string,
  last: string,
  first: string,
  email: string | null = `${id}@fennickquay.example`,
): PlanMember => ({ personId: id, last, first, email })
const MEMBERS = [
  member('p1', 'Abara', 'Chidi'),
  member('p2', 'Rossi', 'Giulia'),
  member('p3', 'Rossi', 'Giulia'),
  member('p4', '', 'Suryani', null),
]
const FACTS: PlanFacts = {
  className: '8 Heron',
  members: MEMBERS,
  worksheets: [
    {
      id: 'w1',
      title: 'Reading a tide table',
      editions: [
        { number: 1, answerSpaces: 9 },
        { number: 2, answerSpaces: 10 },
      ],
    },
    { id: 'w2', title: 'Quayside safety', editions: [{ number: 1, answerSpaces: 0 }] },
    { id: 'w3', title: 'Not kept yet', editions: [] },
  ],
  begunAt: NOW,
  timeZone: 'Europe/Lisbon',
  locale: 'en-GB',
}
const ITEM = plainItem('i1', 'w1', 1)
const statement = (item: Partial<HandoutItem> = {}, dueAt: number | null = NOW + 1_000): Statement => ({
  items: [{ ...ITEM, ...item }],
  dueAt,
})
const codes = (made: Statement, facts = FACTS) => planHandout(made, facts, NOW).findings.map(({ code }) => code)

describe('the plan', () => {
  test('one each: a copy for everybody, held by nobody else, with a name of its own', () => {
    const { copies, leftOut } = planHandout(statement(), FACTS, NOW)
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

  test('some of the class: the others are said to be left out', () => {
    const { copies, leftOut } = planHandout(
      statement({ audience: { kind: 'some', personIds: ['p2', 'gone'] } }),
      FACTS,
      NOW,
    )
    expect(copies).toHaveLength(1)
    expect(leftOut.map(({ personId }) => personId)).toEqual(['p1', 'p3', 'p4'])
  })

  test.each<[string, Statement, string, boolean, Partial<PlanFacts>]>([
    ['an empty class', statement(), 'empty-class', true, { members: [] }],
    ['nobody chosen', statement({ audience: { kind: 'some', personIds: [] } }), 'nobody', true, {}],
    ['no worksheet', statement({ worksheetId: null, edition: null }), 'no-worksheet', true, {}],
    ['a worksheet that is gone', statement({ worksheetId: 'w9' }), 'worksheet-gone', true, {}],
    ['a worksheet without an edition', statement({ worksheetId: 'w3', edition: null }), 'no-edition', true, {}],
    ['nothing at all', { items: [], dueAt: null }, 'no-item', true, {}],
    ['a worksheet without answer spaces', statement({ worksheetId: 'w2' }), 'no-answer-spaces', false, {}],
    ['a due time in the past', statement({}, NOW - 1), 'due-past', false, {}],
    ['a pattern that names all alike', statement({ pattern: [token('title')] }), 'same-name', false, {}],
    ['nobody may write', statement({ holdersMay: 'view' }), 'nobody-writes', false, {}],
    ['somebody without e-mail', statement(), 'no-email', false, {}],
    ['two of the same name', statement(), 'namesake', false, {}],
  ])('%s is pointed out', (_, made, code, stops, facts) => {
    const plan = planHandout(made, { ...FACTS, ...facts }, NOW)
    expect(plan.findings).toContainEqual(expect.objectContaining({ code, stops }))
    if (stops) expect(planStops(plan)).toBe(true)
  })

  test('a sound statement has nothing to stop it', () => {
    expect(codes(statement(), { ...FACTS, members: MEMBERS.slice(0, 2) })).toEqual([])
  })

  test('the date in names is the due day in the school’s zone', () => {
    const late = Date.UTC(2026, 11, 3, 23, 30)
    const name = (timeZone: string) =>
      planHandout(
        statement({ pattern: [token('date')] }, late),
        { ...FACTS, timeZone, members: MEMBERS.slice(0, 1) },
        NOW,
      ).copies[0]!.title
    expect([name('UTC'), name('Asia/Tokyo')]).toEqual(['3 Dec', '4 Dec'])
  })

  test('a pattern without a value falls back to the worksheet’s title', () => {
    expect(
      planHandout(statement({ pattern: [literal('  ')] }), { ...FACTS, members: MEMBERS.slice(0, 1) }, NOW).copies[0]!
        .title,
    ).toBe('Reading a tide table')
  })
})

// Any statement over any roster.
const personId = fc.constantFrom(...Array.from({ length: 12 }, (_, index) => `p${index}`))
const anyName = fc.oneof(
  fc.constantFrom('', 'Rossi', 'rossi', 'Ro/ssi', '🦭', 'حداد', 'x'.repeat(300)),
  fc.string({ unit: 'grapheme', maxLength: 8 }),
)
const anyMembers = fc.uniqueArray(
  fc.record({ personId, last: anyName, first: anyName, email: fc.constantFrom(null, 'a@b.example') }),
  { selector: (found) => found.personId, maxLength: 12 },
)
const anyFacts = anyMembers.map((members): PlanFacts => ({ ...FACTS, members }))
const anyPart = fc.oneof(
  fc.constantFrom('last', 'first', 'title', 'class', 'date').map((name) => token(name as 'last')),
  fc.constantFrom(' ', ', ', ' – ', 'X').map(literal),
)
const anyPermission = fc.constantFrom('none' as const, 'view' as const, 'comment' as const, 'edit' as const)
const anyItem = fc.record({
  id: fc.constantFrom('i1', 'i2'),
  worksheetId: fc.constantFrom('w1', 'w2'),
  edition: fc.constant(1),
  audience: fc.oneof(
    fc.constant({ kind: 'all' as const }),
    fc.uniqueArray(personId).map((personIds) => ({ kind: 'some' as const, personIds })),
  ),
  way: fc.constant('one each' as const),
  holdersMay: anyPermission,
  classmatesMay: anyPermission,
  pattern: fc.array(anyPart, { maxLength: 5 }),
})
const anyStatement = fc.record({
  items: fc.uniqueArray(anyItem, { selector: ({ id }) => id, maxLength: 2 }),
  dueAt: fc.constantFrom(null, NOW, NOW + 9),
})
const planned = (made: Statement, facts: PlanFacts) => planHandout(made, facts, NOW).copies
const bySlot = (copies: readonly ExistingCopy[]) => copies.toSorted((a, b) => (a.slotKey < b.slotKey ? -1 : 1))

describe('the changes', () => {
  test('planning twice gives no changes', () => {
    fc.assert(
      fc.property(anyStatement, anyFacts, (made, facts) => {
        const done = applyChanges([], changesToPlan(planned(made, facts), []))
        expect(changesToPlan(planned(made, facts), done)).toEqual([])
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
          const existing = applyChanges([], changesToPlan(planned(before, factsBefore), []))
          const changes = changesToPlan(planned(after, factsAfter), existing)
          const part = cut % (changes.length + 1)
          const interrupted = applyChanges(existing, changes.slice(0, part))
          const rest = changesToPlan(planned(after, factsAfter), interrupted)
          expect(rest).toEqual(changes.slice(part))
          expect(bySlot(applyChanges(interrupted, rest))).toEqual(bySlot(applyChanges(existing, changes)))
        },
      ),
      { numRuns: 300 },
    )
  })

  test('nothing is ever removed, and going back brings everything back', () => {
    fc.assert(
      fc.property(anyStatement, anyFacts, anyStatement, (before, facts, after) => {
        const first = applyChanges([], changesToPlan(planned(before, facts), []))
        const second = applyChanges(first, changesToPlan(planned(after, facts), first))
        expect(second.length).toBeGreaterThanOrEqual(first.length)
        const back = applyChanges(second, changesToPlan(planned(before, facts), second))
        expect(bySlot(back.filter(({ setAside }) => !setAside))).toEqual(bySlot(first))
      }),
    )
  })

  test('names of copies never clash, and access is what the slip says', () => {
    fc.assert(
      fc.property(anyStatement, anyFacts, (made, facts) => {
        const copies = planned(made, facts)
        expect(new Set(copies.map(({ title }) => nameKey(title))).size).toBe(copies.length)
        expect(new Set(copies.map(({ slotKey }) => slotKey)).size).toBe(copies.length)
        for (const copy of copies) {
          const item = made.items.find(({ id }) => id === copy.itemId)!
          expect(copy.holders).toHaveLength(1)
          expect(includes(item.holdersMay, copy.holders[0]!.permission)).toBe(true)
          expect(copy.classmatesMay).toBe(item.classmatesMay)
        }
      }),
    )
  })

  test('a slip that is edited is mended by renames, permissions, editions and dates, not by new copies', () => {
    const existing = applyChanges([], changesToPlan(planned(statement(), FACTS), []))
    const edited = statement(
      { pattern: [token('first'), literal(' '), token('last')], edition: 2, holdersMay: 'view' },
      null,
    )
    expect(countChanges(changesToPlan(planned(edited, FACTS), existing))).toEqual({
      create: 0,
      rename: 4,
      permit: 4,
      move: 4,
      date: 4,
      'set aside': 0,
      'bring back': 0,
    })
  })

  test('a late joiner is one create; somebody who left is one set aside', () => {
    const existing = applyChanges([], changesToPlan(planned(statement(), FACTS), []))
    const facts = { ...FACTS, members: [...MEMBERS.slice(1), member('p9', 'Tupou', 'Vaiana')] }
    expect(changesToPlan(planned(statement(), facts), existing).map(({ kind, slotKey }) => [kind, slotKey])).toEqual([
      ['create', 'i1:each:p9'],
      ['set aside', 'i1:each:p1'],
    ])
  })

  test('the fingerprint is the same for the same changes and another for any others', () => {
    const changes = changesToPlan(planned(statement(), FACTS), [])
    const reordered = changes.map((change) => Object.fromEntries(Object.entries(change).toReversed()) as typeof change)
    expect(fingerprintChanges(reordered)).toBe(fingerprintChanges(changes))
    expect(fingerprintChanges(changes.slice(1))).not.toBe(fingerprintChanges(changes))
    expect(fingerprintChanges(changesToPlan(planned(statement({ holdersMay: 'view' }), FACTS), []))).not.toBe(
      fingerprintChanges(changes),
    )
  })
})

describe('a statement from outside', () => {
  test('is read back as it was', () => {
    expect(checkStatement(JSON.parse(JSON.stringify(statement())))).toEqual({ ok: true, value: statement() })
  })
  test.each<[string, unknown]>([
    ['items', { items: null }],
    ['items.0.id', { items: [{ ...ITEM, id: '' }] }],
    ['items.1.id', { items: [ITEM, ITEM] }],
    ['items.0.way', { items: [{ ...ITEM, way: 'all at once' }] }],
    ['items.0.holdersMay', { items: [{ ...ITEM, holdersMay: 'own' }] }],
    ['items.0.audience', { items: [{ ...ITEM, audience: { kind: 'some', personIds: [1] } }] }],
    ['items.0.pattern', { items: [{ ...ITEM, pattern: 'x' }] }],
    ['items.0.edition', { items: [{ ...ITEM, edition: -1 }] }],
    ['dueAt', { items: [], dueAt: 'soon' }],
  ])('has its problem said at %s', (field, input) => {
    expect(checkStatement(input)).toMatchObject({ ok: false, problems: [{ field }] })
  })
  test('any JSON is a value or problems', () => {
    fc.assert(fc.property(fc.jsonValue(), (input) => expect(typeof checkStatement(input).ok).toBe('boolean')))
  })
})
