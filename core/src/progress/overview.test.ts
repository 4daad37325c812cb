import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { COPY_STATES, isIn } from './journal.js'
import {
  type OverviewCopy,
  type OverviewHandout,
  copyInWords,
  inOfHandout,
  overviewLines,
  overviewTable,
} from './overview.js'

const STUDENTS = ['p1', 'p2', 'p3'].map((personId, at) => ({ personId, first: `F${at}`, last: `L${at}` }))
const HANDOUTS: OverviewHandout[] = ['h1', 'h2'].map((id, at) => ({
  ...{ id, number: at + 1, title: `Tides ${at}`, unit: null, dueAt: 10 },
}))
const copy = (about: Partial<OverviewCopy>): OverviewCopy => ({
  ...{ copyId: 'c1', handoutId: 'h1', title: 'A copy', state: 'working', pensDown: false, answered: 1, spaces: 4 },
  ...{ dueAt: 10, submittedAt: null, personIds: ['p1'] },
  ...about,
})

describe('a class overview', () => {
  test('has a line for each student, with all that they hold', () => {
    const copies = [copy({}), copy({ copyId: 'c2', personIds: ['p1', 'p2'], state: 'submitted', submittedAt: 5 })]
    const [one, two, three] = overviewLines(STUDENTS, HANDOUTS, copies, 20)
    expect(one!.cells.get('h1')!.map(({ copyId }) => copyId)).toEqual(['c1', 'c2'])
    expect([one!.isIn, one!.of, one!.missing.map(({ copyId }) => copyId)]).toEqual([1, 2, ['c1']])
    expect([two!.isIn, two!.of, two!.missing]).toEqual([1, 1, []])
    expect([three!.isIn, three!.of, three!.cells.size]).toEqual([0, 0, 0])
    expect(inOfHandout(copies, 'h1')).toEqual({ isIn: 1, of: 2 })
  })

  test('copies of handouts that are not shown do not count', () => {
    const lines = overviewLines(STUDENTS, [HANDOUTS[1]!], [copy({})], 20)
    expect(lines.map(({ of }) => of)).toEqual([0, 0, 0])
  })

  test('is in and missing never overlap, and make no more than there are', () => {
    const copies = fc.array(
      fc.record({
        ...{ handoutId: fc.constantFrom('h1', 'h2'), state: fc.constantFrom(...COPY_STATES) },
        ...{ dueAt: fc.option(fc.integer({ min: 0, max: 40 })), personIds: fc.subarray(['p1', 'p2', 'p3']) },
      }),
    )
    fc.assert(
      fc.property(copies, fc.integer({ min: 0, max: 40 }), (some, now) => {
        const all = some.map((about, at) => copy({ ...about, copyId: `c${at}` }))
        for (const line of overviewLines(STUDENTS, HANDOUTS, all, now)) {
          expect(line.missing.some(isIn)).toBe(false)
          expect(line.isIn + line.missing.length).toBeLessThanOrEqual(line.of)
          expect([...line.cells.values()].flat()).toHaveLength(line.of)
        }
      }),
    )
  })

  test('says a mark in words', () => {
    expect(copyInWords(copy({}), 5)).toBe('working, 1 of 4')
    expect(copyInWords(copy({ pensDown: true }), 11)).toBe('working, 1 of 4, pens down, overdue')
    expect(copyInWords(copy({ state: 'submitted', submittedAt: 12 }), 20)).toBe('submitted, late')
    expect(copyInWords(copy({ state: 'not opened', answered: 0 }), 5)).toBe('not opened')
  })

  test('is a table with a line a student', () => {
    const copies = [copy({}), copy({ copyId: 'c2', state: 'submitted', submittedAt: 5 })]
    expect(overviewTable(STUDENTS.slice(0, 2), HANDOUTS, copies, 20)).toEqual([
      ['Student', 'No. 1 Tides 0', 'No. 2 Tides 1', 'In', 'of', 'Missing'],
      ['L0, F0', 'working, 1 of 4, overdue; submitted', '', 1, 2, 1],
      ['L1, F1', '', '', 0, 0, 0],
    ])
  })
})
