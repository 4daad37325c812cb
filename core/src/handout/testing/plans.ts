import type { PlanFacts, PlanMember } from '../facts.js'
import fc from 'fast-check'
import { literal, token } from '../../naming/pattern.js'
import { carryWishes } from '../carry.js'
import { changesToPlan } from '../changes.js'
import { type Existing } from '../existing.js'
import { plainNote } from '../note.js'
import { planHandout } from '../plan.js'
import {
  CARRIES,
  type HandoutItem,
  type Statement,
  WAYS,
  type Way,
  plainItem,
  plainPeers,
  plainStatement,
  withWay,
} from '../statement.js'

export const NOW = Date.UTC(2026, 11, 1, 12)
export const DUE = NOW + 1_000
export const member = (id: string, last: string, first: string, more: Partial<PlanMember> = {}): PlanMember => ({
  personId: id,
  last,
  first,
  email: `${id}@fennickquay.example`,
  ...more,
})
export const MEMBERS = [
  member('p1', 'Abara', 'Chidi', { cells: { k1: 'Gulls', k2: 'North, Early' } }),
  member('p2', 'Rossi', 'Giulia', { cells: { k1: 'Terns' } }),
  member('p3', 'Rossi', 'Giulia', { cells: { k1: 'gulls ' } }),
  member('p4', '', 'Suryani', { email: null }),
]
export const edition = (number: number, answerSpaces: number, places: 'member' | 'group' | null = null) => ({
  number,
  answerSpaces,
  points: 0,
  memberSpaces: places === 'member' ? answerSpaces : 0,
  groupSpaces: places === 'group' ? answerSpaces : 0,
})
export const FACTS: PlanFacts = {
  classId: 'c1',
  className: '8 Heron',
  number: 12,
  members: MEMBERS,
  guests: [],
  ownCopies: [],
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
export const ITEM = plainItem('i1', 'w1', 1)
export const statement = (item: Partial<HandoutItem> = {}, more: Partial<Statement> = {}): Statement => ({
  ...plainStatement([{ ...ITEM, ...item }], [{ classId: 'c1', opensAt: null, dueAt: DUE }]),
  ...more,
})
export const given = (way: Way, item: Partial<HandoutItem> = {}) =>
  statement({ ...withWay(ITEM, way, [{ id: 's1', name: 'Survey crews' }]), ...item })
export const planned = (made: Statement, facts = FACTS) => planHandout(made, facts, NOW)
export const codes = (made: Statement, facts = FACTS) => planned(made, facts).findings.map(({ code }) => code)

/** The class with its first two groups made of these people. */
export const inGroups = (first: string[], second: string[]) => ({
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

// Any statement over any roster.
export const personId = fc.constantFrom(...Array.from({ length: 12 }, (_, index) => `p${index}`))
export const anyName = fc.oneof(
  fc.constantFrom('', 'Rossi', 'rossi', 'Ro/ssi', '🦭', 'حداد', 'x'.repeat(300), 'CON'),
  fc.string({ unit: 'grapheme', maxLength: 8 }),
)
export const anyMembers = fc.uniqueArray(
  fc.record({
    personId,
    last: anyName,
    first: anyName,
    email: fc.constantFrom(null, 'a@b.example'),
    cells: fc.record({ k1: fc.constantFrom('', 'Gulls', 'Terns') }),
  }),
  { selector: (found) => found.personId, maxLength: 12 },
)
export const anyGroups = fc.array(fc.nat(3), { minLength: 12, maxLength: 12 }).map((homes) => [
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
export const anyFacts = fc
  .record({ members: anyMembers, groupSets: anyGroups })
  .map(({ members, groupSets }): PlanFacts => ({ ...FACTS, members, groupSets }))
export const anyPart = fc.oneof(
  fc.constantFrom('last', 'first', 'title', 'class', 'date', 'group', 'members').map((name) => token(name as 'last')),
  fc.constantFrom(' ', ', ', ' – ', 'X').map(literal),
)
export const anyPermission = fc.constantFrom('none' as const, 'view' as const, 'comment' as const, 'edit' as const)
export const anyItem = fc
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
    peers: fc.constantFrom(null, { ...plainPeers(2, 'view'), seed: 4 }),
    mayInvite: fc.boolean(),
    pattern: fc.array(anyPart, { maxLength: 5 }),
    without: fc.constantFrom([], ['i1:each:p1', 'i2:group:g1']),
    carry: fc.constantFrom(...CARRIES),
  })
  .map((item): HandoutItem => ({ ...ITEM, ...item, groupSet: { id: 's1', name: '' } }))
export const anyStatement = fc
  .record({
    items: fc.uniqueArray(anyItem, { selector: ({ id }) => id, maxLength: 2 }),
    dueAt: fc.constantFrom(null, NOW, NOW + 9),
    cover: fc.constantFrom(null, { text: plainNote('x'), by: 'mail' as const, staffCopied: true }),
  })
  .map(({ items, dueAt, cover }): Statement => ({
    ...plainStatement(items, [{ classId: 'c1', opensAt: null, dueAt }]),
    cover,
  }))
export const changesFor = (made: Statement, facts: PlanFacts, existing: Existing) =>
  changesToPlan(planned(made, facts), existing, carryWishes(made))
export const sorted = ({ copies, notices }: Existing) => ({
  copies: copies.toSorted((a, b) => (a.slotKey < b.slotKey ? -1 : 1)),
  notices: notices.toSorted(),
})
