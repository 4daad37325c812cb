import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { type Change, changesToPlan } from './changes.js'
import { type Existing, NOTHING_YET } from './existing.js'
import {
  changesForGuests,
  guestName,
  isGuestCalled,
  letsIn,
  numberedName,
  walkInProblem,
  standsBeside,
  studentLike,
} from './guests.js'
import { withOwnDue } from './joiners.js'
import { slotInClass, slotOf } from './slots.js'
import { withTakenBack } from './takingBack.js'
import { FACTS, ITEM, given, planned, statement } from './testing/plans.js'
import { slipsAfterUndo } from './undo.js'

describe('single copies', () => {
  const slots = [slotOf('i1', 'p1'), slotOf('i1', 'p2')]

  test('are taken back in their class alone, and given again', () => {
    const taken = withTakenBack(statement(), new Set(slots), 'c1', false)
    expect(taken.items[0]!.without).toEqual(slots.map((slot) => slotInClass(slot, 'c1')))
    expect(withTakenBack(taken, new Set(slots.slice(0, 1)), 'c1', true).items[0]!.without).toEqual([
      slotInClass(slots[1]!, 'c1'),
    ])
  })

  test('taken back twice are taken back once, and given again nothing is left of it', () => {
    fc.assert(
      fc.property(fc.subarray(slots), fc.subarray(slots), (one, two) => {
        const first = withTakenBack(statement(), new Set(one), 'c1', false)
        const second = withTakenBack(first, new Set(two), 'c1', false)
        const { without } = second.items[0]!
        expect(new Set(without).size).toBe(without.length)
        expect([...without].sort()).toEqual(
          [...new Set([...one, ...two])].map((slot) => slotInClass(slot, 'c1')).sort(),
        )
        expect(withTakenBack(second, new Set(slots), 'c1', true)).toEqual(statement())
      }),
    )
  })

  test('of another item stay as they are', () => {
    const two = { ...statement(), items: [ITEM, { ...ITEM, id: 'i2' }] }
    expect(withTakenBack(two, new Set([slotOf('i2', 'p1')]), 'c1', false).items.map(({ without }) => without)).toEqual([
      [],
      [slotInClass(slotOf('i2', 'p1'), 'c1')],
    ])
  })
})

describe('a walk-in link', () => {
  test('leads to what was handed out to nobody’s group', () => {
    expect(walkInProblem(undefined, 'view')?.code).toBe('not-handed-out')
    expect(walkInProblem({ way: 'one per group' }, 'view')?.code).toBe('no-walk-in')
    expect(walkInProblem({ way: 'to read' }, 'edit')).toMatchObject({ code: 'to-read', field: 'permission' })
    expect(walkInProblem({ way: 'to read' }, 'comment')).toBeNull()
    expect(walkInProblem({ way: 'one each' }, 'edit')).toBeNull()
  })

  test('lets in while it is open, up to its end', () => {
    expect(letsIn({ open: true, endsAt: null }, 5)).toBe(true)
    expect(letsIn({ open: false, endsAt: null }, 5)).toBe(false)
    expect([4, 5, 6].map((endsAt) => letsIn({ open: true, endsAt }, 5))).toEqual([false, false, true])
  })

  test('is come in by under a name', () => {
    expect(guestName('  Ulla   Brandt ')).toEqual({ ok: true, value: 'Ulla Brandt' })
    expect(guestName(' \n ').ok).toBe(false)
    expect(guestName('x'.repeat(101)).ok).toBe(false)
  })

  test('names nobody twice: another of the name gets the next number, by which they still know their own', () => {
    expect(numberedName('Ulla', [])).toBe('Ulla')
    expect(numberedName('ULLA', ['Ulla', 'ulla (2)'])).toBe('ULLA (3)')
    fc.assert(
      fc.property(fc.array(fc.constantFrom('Ulla', 'ulla', 'Ómar', 'Omar', 'Ulla (2)'), { maxLength: 8 }), (names) => {
        const taken: string[] = []
        for (const name of names) {
          const own = numberedName(name, taken)
          expect(isGuestCalled(own, name)).toBe(true)
          expect(taken).not.toContain(own)
          taken.push(own)
        }
      }),
    )
  })

  const guest = { personId: 'u1', name: 'Ulla', permission: 'view' as const, itemId: 'i1' }

  test('brings guests their copies, and nobody in the class theirs', () => {
    const made = given('one each')
    const all = changesToPlan(planned(made, { ...FACTS, guests: [guest] }), NOTHING_YET, new Map())
    const theirs = changesForGuests(all, new Set(['u1']), NOTHING_YET)
    expect(theirs.map(({ kind, slotKey }) => [kind, slotKey])).toEqual([['create', slotOf('i1', 'u1')]])
    expect(all.length).toBeGreaterThan(theirs.length)
    expect(changesForGuests(all, new Set(), NOTHING_YET)).toEqual([])
  })

  test('lets guests into a shared copy, without what has changed in the class since', () => {
    const may = (personId: string, permission: 'edit' | 'view') => ({ personId, permission })
    const copy = { slotKey: 'i1:together', holders: [may('p1', 'edit'), may('u1', 'view')] }
    const there = { ...NOTHING_YET, copies: [copy] } as unknown as Existing
    const permit = (...holders: readonly ReturnType<typeof may>[]) =>
      [{ kind: 'permit', slotKey: 'i1:together', holders }] as unknown as Change[]
    const theirs = (changes: Change[]) => changesForGuests(changes, new Set(['u1', 'u2']), there).length
    expect(theirs(permit(may('u2', 'view'), may('p1', 'edit'), may('u1', 'view')))).toBe(1)
    expect(theirs(permit(may('p1', 'edit'), may('u1', 'edit')))).toBe(1)
    expect(theirs(permit(may('p1', 'view'), may('u1', 'view')))).toBe(0)
    expect(theirs(permit(may('p1', 'edit'), may('p2', 'edit'), may('u2', 'view')))).toBe(0)
    expect(changesForGuests(permit(may('u1', 'view')), new Set(['u1']), NOTHING_YET)).toEqual([])
  })
})

describe('an undo', () => {
  const now = statement({ label: 'now' } as never)
  const before = statement({ label: 'before' } as never)
  const nothing = { ...statement(), items: [] }

  test('brings the former slip back in all classes', () => {
    expect(
      slipsAfterUndo([
        { statement: now, given: now, target: before },
        { statement: now, given: now, target: before },
      ]),
    ).toEqual([
      { statement: before, given: now },
      { statement: before, given: now },
    ])
  })

  test('leaves the slip where nothing was handed out before', () => {
    expect(slipsAfterUndo([{ statement: now, given: now, target: nothing }])).toEqual([{ statement: now, given: now }])
  })

  test('changes what counts as handed out where nothing is undone by it, but not where nothing was', () => {
    expect(
      slipsAfterUndo([
        { statement: now, given: now, target: before },
        { statement: now, given: now, target: null },
        { statement: now, given: null, target: null },
        { statement: now, given: now, target: nothing },
      ]).map(({ statement: slip, given: out }) => [slip, out]),
    ).toEqual([
      [before, now],
      [before, before],
      [before, null],
      [now, now],
    ])
  })
})

test('due times of late joiners are put into the slip, but not over those that it has', () => {
  const own = (personId: string, opensAt: number | null, dueAt: number | null) => ({ personId, opensAt, dueAt })
  const slip = statement({}, { exceptions: [own('p1', null, 5), own('p2', 3, null)] })
  expect(withOwnDue(slip, [own('p1', 1, 9), own('p2', 2, 9), own('p4', null, 9)]).exceptions).toEqual([
    own('p1', 1, 5),
    own('p2', 2, 9),
    own('p4', null, 9),
  ])
})

describe('who a guest is', () => {
  const student = (first: string, last: string) => ({ first, last })
  const roster = [
    student('Zofia', 'Dąbrowska'),
    student('Rania', 'Al-Masri'),
    student('Oluwaseun', 'Abara'),
    student('Chidi', 'Abara'),
    student('Alexander', 'Lindqvist'),
    student('Li', 'Wei'),
  ]
  test.each([
    ['zofia dabrowska', 'Zofia', 'the same name'],
    ['DĄBROWSKA Zofia (2)', 'Zofia', 'the same name'],
    ['Zofia Dabrovska', 'Zofia', 'nearly the same name'],
    ['Zofia D.', 'Zofia', 'the same name, shortened'],
    ['R Masri', 'Rania', 'the same name, shortened'],
    ['zofia', 'Zofia', 'the same first name'],
    ['Alex', 'Alexander', 'nearly the same first name'],
    ['Raina', 'Rania', 'nearly the same first name'],
    ['Wei Li', 'Li', 'the same name'],
  ])('%s', (name, first, likeness) => {
    expect(studentLike(name, roster)).toMatchObject({ student: { first }, likeness })
  })

  test.each(['Abara', 'Grandfather', 'Z D', 'A', 'Zofia Lindqvist', '(2)', '…', ''])(
    '“%s” is like nobody, or like several',
    (name) => {
      expect(studentLike(name, roster)).toBeNull()
    },
  )

  test('two of one name are not told apart by it', () => {
    expect(studentLike('Zofia', [...roster, student('Zofia', 'Nowak')])).toBeNull()
    expect(studentLike('Zofia N', [...roster, student('Zofia', 'Nowak')])).toMatchObject({ student: { last: 'Nowak' } })
  })

  const copy = { worksheetId: 'w', edition: 1, link: null, isTouched: false }
  test.each<[string, Parameters<typeof standsBeside>, boolean]>([
    ['an untouched copy of the same edition', ['one each', copy, copy, false], false],
    ['a touched one', ['one each', copy, { ...copy, isTouched: true }, false], true],
    ['another edition', ['one each', copy, { ...copy, edition: 2 }, false], true],
    ['no copy', ['one each', copy, null, false], true],
    ['an empty part', ['one together', null, null, false], false],
    ['a written part', ['one together', null, null, true], true],
  ])('stands beside, or in the place of, %s', (_, asked, beside) => {
    expect(standsBeside(...asked)).toBe(beside)
  })

  const matched = (beside: boolean) => ({
    ...FACTS,
    guests: [
      { personId: 'u1', name: 'Ulla', permission: 'edit' as const, itemId: 'i1', match: { personId: 'p1', beside } },
    ],
  })
  const holders = (beside: boolean) =>
    new Map(
      planned(given('one each'), matched(beside)).copies.map((one) => [
        one.slotKey,
        one.holders.map(({ personId }) => personId),
      ]),
    )
  test('is in the plan: the student’s copy is theirs too, or theirs is the student’s too', () => {
    expect(holders(false).get(slotOf('i1', 'p1'))).toEqual(['p1', 'u1'])
    expect(holders(false).has(slotOf('i1', 'u1'))).toBe(false)
    expect(holders(true).get(slotOf('i1', 'p1'))).toEqual(['p1'])
    expect(holders(true).get(slotOf('i1', 'u1'))).toEqual(['u1', 'p1'])
    const left = planned(given('one each'), { ...matched(true), members: FACTS.members.slice(1) })
    expect(left.copies.at(-1)!.holders.map(({ personId }) => personId)).toEqual(['u1'])
  })
})
