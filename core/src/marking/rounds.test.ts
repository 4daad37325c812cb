import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { bookCopies } from './bookCopies.js'
import { type BookCopyFacts, type BookRead, PLAIN_RULES, bookOf } from './markBook.js'
import { roundsMark } from './rounds.js'

const of = (total: number, most = 1000) => ({ total, most })

describe('marks of several rounds', () => {
  test('the last, the best, the mean', () => {
    const marks = [of(400), of(900), of(650)]
    expect(roundsMark('last', marks)).toEqual(of(650))
    expect(roundsMark('best', marks)).toEqual(of(900))
    expect(roundsMark('mean', marks)).toEqual(of(650))
    expect(roundsMark('mean', [of(100), of(101), of(101)])).toEqual(of(101))
  })

  test('the most changed meanwhile: by per cent, out of what the last is out of', () => {
    expect(roundsMark('best', [of(900, 1000), of(1500, 2000)])).toEqual(of(900, 1000))
    expect(roundsMark('mean', [of(500, 1000), of(2000, 2000)])).toEqual(of(1500, 2000))
    expect(roundsMark('mean', [of(0, 0), of(300, 400)])).toEqual(of(300, 400))
  })

  test('one round is its mark, and all lie between the least and the greatest by per cent', () => {
    const mark = fc
      .record({ most: fc.integer({ min: 1, max: 5000 }) })
      .chain(({ most }) => fc.record({ total: fc.integer({ min: 0, max: most }), most: fc.constant(most) }))
    fc.assert(
      fc.property(
        fc.array(mark, { minLength: 1, maxLength: 6 }),
        fc.constantFrom('last', 'best', 'mean'),
        (marks, how) => {
          const counts = roundsMark(how, marks)
          const shares = marks.map(({ total, most }) => total / most)
          const share = counts.total / counts.most
          // Half a hundredth of a point is the most that rounding moves it.
          const rounding = 0.51 / counts.most
          expect(share).toBeGreaterThanOrEqual(Math.min(...shares) - rounding)
          expect(share).toBeLessThanOrEqual(Math.max(...shares) + rounding)
          if (marks.length === 1) expect(counts).toEqual(marks[0])
        },
      ),
    )
  })
})

describe('cells of handouts that were opened again', () => {
  const copy = { state: 'submitted', dueAt: null, submittedAt: 1, step: null, excused: false, isDone: true } as const
  const cell = (rounds: 'last' | 'best' | 'mean', now: Partial<BookCopyFacts>) => {
    const read: BookRead<{ personId: string }, BookCopyFacts & { handoutId: string; personId: string }> = {
      rules: PLAIN_RULES,
      students: [{ personId: 'z' }],
      handouts: [{ id: 'h', number: 1, title: 'Tides', unit: null, rounds }],
      earlier: rounds === 'last' ? [] : [{ handoutId: 'h', personId: 'z', ...of(800) }],
      ...{ paper: [], paperMarks: [] },
      copies: [{ ...copy, ...of(600), ...now, handoutId: 'h', personId: 'z' }],
    }
    return bookOf(read, 0).cellOf('z', 'h')
  }

  test('have what the handout says', () => {
    expect(cell('last', {})).toEqual({ is: 'mark', ...of(600) })
    expect(cell('best', {})).toEqual({ is: 'mark', ...of(800) })
    expect(cell('mean', {})).toEqual({ is: 'mark', ...of(700) })
  })

  test('while the next round is not marked, those before it count', () => {
    expect(cell('mean', { isDone: false, total: null })).toEqual({ is: 'mark', ...of(800) })
    expect(cell('mean', { excused: true })).toEqual({ is: 'excused' })
  })
})

test('copies come as they were sent, each with its own', () => {
  const copies = bookCopies(
    [
      { handoutId: 'h', lines: '1|marked|5|4|600|1000|2|1|100|Good | very\n0|working|||||1|2|25|' },
      { handoutId: 'none', lines: '' },
    ],
    [{ personId: 'a' }, { personId: 'b' }],
  )
  expect(copies).toEqual([
    {
      ...{ handoutId: 'h', personId: 'b', state: 'marked', dueAt: 5, submittedAt: 4, total: 600, most: 1000 },
      ...{ step: 'Good | very', excused: false, isDone: true, holders: 1, share: 1 },
    },
    {
      ...{ handoutId: 'h', personId: 'a', state: 'working', dueAt: null, submittedAt: null, total: null, most: null },
      ...{ step: null, excused: true, isDone: false, holders: 2, share: 0.25 },
    },
  ])
})
