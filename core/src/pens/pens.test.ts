import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { type ExtraTime, type ExtraTimeStudent, extraMinutes, extraTimeOf, extraTimeProblem } from './extraTime.js'
import {
  type PensCopy,
  type PensStand,
  type PensWish,
  arePensDown,
  pensGoDownAt,
  pensStand,
  planPens,
  planPensUndo,
} from './pens.js'

const NOW = 1_000_000
const MINUTE = 60_000
const UP: PensCopy = { copyId: 'a', pensDown: false, pensDownFrom: null, pensDownAtDue: false, dueAt: null }

describe('when pens go down by themselves', () => {
  test.each<[string, Partial<PensCopy>, number | null]>([
    ['never', {}, null],
    ['at a moment that was set', { pensDownFrom: NOW + 5 }, NOW + 5],
    ['when it is due', { pensDownAtDue: true, dueAt: NOW + 9 }, NOW + 9],
    ['not when it is only due', { dueAt: NOW + 9 }, null],
    ['the first of the two', { pensDownFrom: NOW + 5, pensDownAtDue: true, dueAt: NOW + 9 }, NOW + 5],
    ['the first of the two, the other way', { pensDownFrom: NOW + 9, pensDownAtDue: true, dueAt: NOW + 5 }, NOW + 5],
    ['they are down', { pensDown: true, pensDownFrom: NOW + 5 }, null],
    ['they went down at the moment itself', { pensDownFrom: NOW }, null],
  ])('%s', (_, facts, at) => {
    expect(pensGoDownAt({ ...UP, ...facts }, NOW)).toBe(at)
  })
})

const copies = fc.uniqueArray(
  fc.record({
    copyId: fc.constantFrom('a', 'b', 'c', 'd'),
    pensDown: fc.boolean(),
    pensDownFrom: fc.constantFrom(null, NOW - MINUTE, NOW, NOW + MINUTE),
    pensDownAtDue: fc.boolean(),
    dueAt: fc.constantFrom(null, NOW - MINUTE, NOW + MINUTE),
  }),
  { selector: ({ copyId }) => copyId },
)
const wishes: fc.Arbitrary<PensWish> = fc.oneof(
  fc.constant<PensWish>({ act: 'down' }),
  fc.constant<PensWish>({ act: 'up' }),
  fc.record({
    act: fc.constant('down later' as const),
    minutes: fc.integer({ min: 1, max: 30 }),
    more: fc.dictionary(fc.constantFrom('a', 'b'), fc.integer({ min: 1, max: 30 })),
  }),
)
const withStand = (copy: PensCopy, { down, from }: PensStand): PensCopy => ({
  ...copy,
  pensDown: down,
  pensDownFrom: from,
})
const done = (all: readonly PensCopy[], changes: readonly { copyId: string; after: PensStand }[]) =>
  all.map((copy) => {
    const change = changes.find(({ copyId }) => copyId === copy.copyId)
    return change ? withStand(copy, change.after) : copy
  })

describe('an act on pens', () => {
  test('stops, lets go on, and sets a moment with more time for some', () => {
    const all = [UP, { ...UP, copyId: 'b' }, { ...UP, copyId: 'c', pensDown: true }]
    const later = planPens(all, { act: 'down later', minutes: 10, more: { b: 3 } }, NOW)
    expect(later.changes.map(({ copyId, after }) => [copyId, after])).toEqual([
      ['a', { down: false, from: NOW + 10 * MINUTE }],
      ['b', { down: false, from: NOW + 13 * MINUTE }],
    ])
    expect(later.same).toEqual(['c'])
    expect(planPens(all, { act: 'down' }, NOW).changes.map(({ copyId }) => copyId)).toEqual(['a', 'b'])
    expect(planPens(all, { act: 'up' }, NOW).changes.map(({ copyId }) => copyId)).toEqual(['c'])
  })

  test('says of which copies the pens stay down, for their due time has passed', () => {
    const due = { ...UP, pensDownAtDue: true, dueAt: NOW - 1 }
    expect(
      planPens(
        [
          { ...due, pensDown: true },
          { ...due, copyId: 'b' },
        ],
        { act: 'up' },
        NOW,
      ),
    ).toMatchObject({
      changes: [{ copyId: 'a' }],
      same: [],
      stayDown: ['a', 'b'],
    })
  })

  test('after it all copies are as was wished, a second time changes nothing, and every copy is spoken of', () => {
    fc.assert(
      fc.property(copies, wishes, (all, wish) => {
        const { changes, same, stayDown } = planPens(all, wish, NOW)
        const after = done(all, changes)
        for (const copy of after) {
          if (wish.act === 'down') expect(arePensDown(copy, NOW)).toBe(true)
          if (wish.act === 'up') expect(arePensDown(copy, NOW)).toBe(stayDown.includes(copy.copyId))
          if (wish.act === 'down later' && !pensStand(copy, NOW).down) expect(copy.pensDownFrom).toBeGreaterThan(NOW)
        }
        expect(planPens(after, wish, NOW).changes).toEqual([])
        const spoken = new Set([...changes.map(({ copyId }) => copyId), ...same, ...stayDown])
        expect([...spoken].sort()).toEqual(all.map(({ copyId }) => copyId).sort())
      }),
    )
  })

  test('undone at once or later, each copy is as it was, but for those that somebody moved since', () => {
    fc.assert(
      fc.property(
        copies,
        wishes,
        fc.constantFrom(0, 40 * MINUTE),
        fc.subarray(['a', 'b']),
        (all, wish, time, moved) => {
          const { changes } = planPens(all, wish, NOW)
          const later = NOW + time
          const between = done(all, changes).map((copy) =>
            moved.includes(copy.copyId) ? withStand(copy, { down: !pensStand(copy, later).down, from: null }) : copy,
          )
          const undo = planPensUndo(changes, between, later)
          expect(undo.changedSince).toEqual(changes.map(({ copyId }) => copyId).filter((id) => moved.includes(id)))
          for (const copy of done(between, undo.changes)) {
            const was = all.find(({ copyId }) => copyId === copy.copyId)!
            if (!moved.includes(copy.copyId)) expect(pensStand(copy, later)).toEqual(pensStand(was, later))
          }
        },
      ),
    )
  })
})

describe('extra time', () => {
  const rules: ExtraTime[] = [
    { of: { kind: 'column', columnId: 'time', is: 'A quarter' }, percent: 25 },
    { of: { kind: 'student', personId: 'zofia' }, percent: 50 },
  ]

  test('is what is said of a student or of a value in a column, the most of it', () => {
    const students: ExtraTimeStudent[] = [
      { personId: 'zofia', cells: { time: ' a  QUARTER' } },
      { personId: 'ren', cells: { time: 'a quarter' } },
      { personId: 'theo', cells: { other: 'a quarter' } },
    ]
    expect([...extraTimeOf(rules, students)]).toEqual([
      ['zofia', 50],
      ['ren', 25],
    ])
  })

  test('is in whole minutes, and never less than was said', () => {
    expect([extraMinutes(40, 25), extraMinutes(10, 25), extraMinutes(1, 10)]).toEqual([10, 3, 1])
  })

  test.each<[string, ExtraTime[]]>([
    ['of nobody', [{ of: { kind: 'column', columnId: 'time', is: ' ' }, percent: 25 }]],
    ['of no column', [{ of: { kind: 'column', columnId: '', is: 'x' }, percent: 25 }]],
    ['none at all', [{ of: { kind: 'student', personId: 'ren' }, percent: 0 }]],
    ['beyond measure', [{ of: { kind: 'student', personId: 'ren' }, percent: 301 }]],
    ['too many', Array.from({ length: 61 }, () => rules[1]!)],
  ])('%s is not kept', (_, wrong) => {
    expect(extraTimeProblem(wrong)).toMatchObject({ field: 'extraTime' })
    expect(extraTimeProblem(rules)).toBeNull()
  })
})
