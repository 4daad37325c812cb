import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import {
  type CopyToHandBack,
  goesBack,
  handBackFingerprint,
  handBackTime,
  markBack,
  messageTo,
  planHandBack,
} from './handBack.js'
import {
  type BookCopyFacts,
  type BookRead,
  type MarkCell,
  PLAIN_RULES,
  bookCell,
  checkMarkBookRules,
  checkPaperColumn,
  bookOf,
  lineMean,
  markBookTable,
  markSpread,
} from './markBook.js'
import { NO_PARTS } from './parts.js'
import type { MarkingWay } from './way.js'

const WAY: MarkingWay = {
  kind: 'spaces',
  outOf: null,
  rubric: [{ id: 'r', name: 'Reasons', most: 300, levels: [{ id: 'l', name: 'Says why', points: 200 }] }],
  scale: null,
  late: null,
}
const copy = (more: Partial<CopyToHandBack> = {}): CopyToHandBack => ({
  ...{ copyId: 'k', title: 'Zofia – Tides', worksheet: 'Tides', isDone: true, isSubmitted: true },
  holders: [{ personId: 'z', first: 'Zofia', last: 'Dąbrowska' }],
  parts: { ...NO_PARTS, spaces: { a: 150 }, rubric: { r: { points: 200, level: 'l' } }, remark: 'Sure.' },
  own: {},
  spaces: [{ id: 'a', most: 200 }],
  daysLate: 0,
  newRemarks: 1,
  newPen: false,
  before: {},
  ...more,
})

describe('handing back', () => {
  test('a line for each holder: what goes, and what they read', () => {
    const [line] = planHandBack(
      WAY,
      [copy()],
      'Dear {First name}, {worksheet}: {mark}, {points missing} missing. {other}',
    )
    expect(line).toMatchObject({
      does: 'hand back',
      name: 'Zofia Dąbrowska',
      before: null,
      newRemarks: 1,
      message: 'Dear Zofia, Tides: 3½ of 5, 1½ missing. {other}',
    })
    expect(line!.mark).toMatchObject({
      total: 350,
      most: 500,
      spaces: { a: { points: 150, most: 200 } },
      rubric: [{ level: 'Says why', points: 200 }],
    })
  })

  test('nothing goes of which the marking is not done', () => {
    expect(planHandBack(WAY, [copy({ isDone: false })], '')[0]!.does).toBe('not marked')
    expect(planHandBack(WAY, [copy({ isDone: false, isSubmitted: false })], '')[0]!.does).toBe('not submitted')
  })

  test('what was handed back goes again only where it differs', () => {
    const mark = markBack(WAY, copy().spaces, copy().parts, 0)
    const again = (more: Partial<CopyToHandBack>) =>
      planHandBack(WAY, [copy({ before: { z: mark }, newRemarks: 0, ...more })], '')[0]!
    expect(again({}).does).toBe('nothing new')
    expect(again({ newRemarks: 1 }).does).toBe('hand back again')
    expect(again({ newPen: true }).does).toBe('hand back again')
    expect(again({ parts: { ...copy().parts, spaces: { a: 200 } } })).toMatchObject({
      does: 'hand back again',
      before: '3½ of 5',
    })
  })

  test('of a group each gets the group’s mark, but for what is theirs alone', () => {
    const group = copy({
      holders: [
        { personId: 'z', first: 'Zofia', last: 'D' },
        { personId: 'n', first: '', last: 'Suryani' },
      ],
      own: { n: { ...NO_PARTS, total: 500 } },
    })
    const lines = planHandBack(WAY, [group], '{first name}: {mark}')
    expect(lines.map(({ message }) => message)).toEqual(['Zofia: 3½ of 5', 'Suryani: 5 of 5'])
  })

  test('planned a second time after it was done sends nothing twice', () => {
    const arbitrary = fc.record({
      isDone: fc.boolean(),
      total: fc.option(fc.integer({ min: 0, max: 500 })),
      excused: fc.boolean(),
      newRemarks: fc.nat(3),
      newPen: fc.boolean(),
    })
    fc.assert(
      fc.property(fc.array(arbitrary, { maxLength: 12 }), (all) => {
        const copies = all.map(({ isDone, total, excused, newRemarks, newPen }, at) =>
          copy({ copyId: `k${at}`, isDone, newRemarks, newPen, parts: { ...copy().parts, total, excused } }),
        )
        const first = planHandBack(WAY, copies, 'x')
        expect(first.filter(goesBack)).toHaveLength(all.filter(({ isDone }) => isDone).length)
        const after = copies.map((one) => {
          const line = first.find(({ copyId }) => copyId === one.copyId)!
          return goesBack(line) ? { ...one, newRemarks: 0, newPen: false, before: { z: line.mark } } : one
        })
        const second = planHandBack(WAY, after, 'x')
        expect(second.filter(goesBack)).toEqual([])
      }),
    )
  })

  test('what a proof showed is told from anything else', () => {
    const plan = (one: CopyToHandBack, message = 'x') => handBackFingerprint(planHandBack(WAY, [one], message))
    expect(plan(copy())).toBe(plan(copy()))
    expect(plan(copy({ parts: { ...copy().parts, spaces: { a: 100 } } }))).not.toBe(plan(copy()))
    expect(plan(copy({ newRemarks: 2 }))).not.toBe(plan(copy()))
    expect(plan(copy({ newPen: true }))).not.toBe(plan(copy()))
    expect(plan(copy(), 'y')).not.toBe(plan(copy()))
  })

  test('a time to hand back is one to come, within a year', () => {
    expect(handBackTime(11, 10)).toEqual({ ok: true, value: 11 })
    expect(handBackTime(10, 10)).toMatchObject({ problems: [{ field: 'at' }] })
    expect(handBackTime(500 * 86_400_000, 0)).toMatchObject({ ok: false })
  })

  test('of what is excused a message tells no points', () => {
    const mark = { total: 300, most: 500, step: null, excused: true, remark: '' }
    expect(messageTo('{mark} {points} {most}', { first: 'A', last: 'B' }, 'T', mark)).toBe('excused – –')
  })
})

describe('a mark book', () => {
  const columns = [
    { id: 'a', unit: 'u', weight: 1 },
    { id: 'b', unit: 'u', weight: 2 },
    { id: 'c', unit: null, weight: 1 },
  ]
  const mark = (total: number, most: number): MarkCell => ({ is: 'mark', total, most })
  const mean = (cells: Record<string, MarkCell>, rules = PLAIN_RULES) =>
    lineMean(columns, (id) => cells[id] ?? { is: 'open' }, rules)

  test('the mean by weights; what is excused or open counts nothing', () => {
    expect(mean({ a: mark(500, 1000), b: mark(2000, 2000), c: { is: 'excused' } })).toEqual({
      percent: 8333,
      counts: ['a', 'b'],
    })
    expect(mean({})).toEqual({ percent: null, counts: [] })
  })

  test('what is missing counts as the class says', () => {
    const cells = { a: mark(1000, 1000), c: { is: 'missing' } as const }
    expect(mean(cells).percent).toBe(10_000)
    expect(mean(cells, { ...PLAIN_RULES, missing: 'zero' }).percent).toBe(5_000)
  })

  test('the best of each unit', () => {
    const cells = { a: mark(900, 1000), b: mark(500, 1000), c: mark(100, 1000) }
    expect(mean(cells, { ...PLAIN_RULES, best: 1 })).toEqual({ percent: 5_000, counts: ['a', 'c'] })
  })

  test('a mean lies between the least and the greatest mark', () => {
    const cell = fc.tuple(
      fc.integer({ min: 0, max: 2000 }),
      fc.integer({ min: 2000, max: 3000 }),
      fc.integer({ min: 1, max: 500 }),
    )
    fc.assert(
      fc.property(fc.array(cell, { minLength: 1, maxLength: 30 }), (all) => {
        const many = all.map(([, , weight], at) => ({ id: String(at), unit: null, weight: weight / 100 }))
        const { percent } = lineMean(many, (id) => mark(all[Number(id)]![0], all[Number(id)]![1]), PLAIN_RULES)
        const shares = all.map(([total, most]) => (total / most) * 10_000)
        expect(percent!).toBeGreaterThanOrEqual(Math.floor(Math.min(...shares)))
        expect(percent!).toBeLessThanOrEqual(Math.ceil(Math.max(...shares)))
      }),
    )
  })

  const facts = (more: Partial<BookCopyFacts>): BookCopyFacts => ({
    ...{
      state: 'submitted',
      dueAt: 10,
      submittedAt: 5,
      total: null,
      most: null,
      step: null,
      excused: false,
      isDone: false,
    },
    ...more,
  })
  test('what stands in a cell', () => {
    expect(bookCell([], 20)).toEqual({ is: 'open' })
    expect(bookCell([facts({ total: 50, most: 100 })], 20)).toEqual({ is: 'open' })
    expect(bookCell([facts({ total: 50, most: 100, isDone: true })], 20)).toEqual(mark(50, 100))
    expect(bookCell([facts({ step: 'Good', isDone: true })], 20)).toEqual({ is: 'words' })
    expect(bookCell([facts({ excused: true })], 20)).toEqual({ is: 'excused' })
    expect(bookCell([facts({ state: 'working', submittedAt: null })], 20)).toEqual({ is: 'missing' })
    expect(bookCell([facts({ state: 'working', submittedAt: null })], 5)).toEqual({ is: 'open' })
    const done = { isDone: true, most: 100 }
    expect(
      bookCell([facts({ ...done, total: 50 }), facts({ ...done, total: 75 }), facts({ excused: true })], 20),
    ).toEqual(mark(125, 200))
  })

  test('written out: numbers to count with, words for what is none', () => {
    const read: BookRead<
      { personId: string; first: string; last: string },
      BookCopyFacts & { handoutId: string; personId: string }
    > = {
      rules: PLAIN_RULES,
      students: [
        { personId: 'z', first: 'Zofia', last: 'Dąbrowska' },
        { personId: 'n', first: '', last: 'Suryani' },
      ],
      handouts: [{ id: 'h', number: 6, title: 'Tides', unit: null, rounds: 'last' }],
      earlier: [],
      paper: [{ id: 'p', name: 'Oral', unit: null, most: 1000 }],
      copies: [{ ...facts({ total: 1450, most: 2000, isDone: true }), handoutId: 'h', personId: 'z' }],
      paperMarks: [
        { columnId: 'p', personId: 'z', total: 800, excused: false },
        { columnId: 'p', personId: 'n', total: null, excused: true },
      ],
    }
    expect(markBookTable(bookOf(read, 0), read.rules)).toEqual([
      ['Student', 'No. 6 Tides', 'Oral', 'Mean, per cent'],
      ['Dąbrowska, Zofia', 14.5, 8, 76.25],
      ['Suryani', '', 'excused', ''],
    ])
  })

  test('rules and columns are read, and refused with what is wrong', () => {
    const rules = { missing: 'zero', best: 2, weights: { a: 2, b: 1, c: 0.29 } } as const
    expect(checkMarkBookRules(rules)).toEqual({ ok: true, value: { ...rules, weights: { a: 2, c: 0.29 } } })
    for (const weight of [-1, 101, 0.295, Number.NaN])
      expect(checkMarkBookRules({ ...rules, weights: { a: weight } })).toMatchObject({ problems: [{ code: 'weight' }] })
    expect(checkPaperColumn({ name: ' Oral  test ', unit: ' ', most: 1000 })).toEqual({
      ok: true,
      value: { name: 'Oral test', unit: null, most: 1000 },
    })
    expect(checkPaperColumn({ name: ' ', unit: null, most: 1000 })).toMatchObject({ problems: [{ field: 'name' }] })
    expect(checkPaperColumn({ name: 'x', unit: null, most: 0 })).toMatchObject({ problems: [{ field: 'most' }] })
  })

  test('how marks are spread', () => {
    const marks = [0, 500, 1000].map((total) => ({ total, most: 1000 }))
    expect(markSpread(marks, 4)).toEqual({ counts: [1, 0, 1, 1], median: 5_000 })
    expect(markSpread([], 2)).toEqual({ counts: [0, 0], median: null })
  })
})
