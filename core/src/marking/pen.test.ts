import { expect, test } from '@jest/globals'
import fc from 'fast-check'
import { PEN_LIMITS, farFrom, readPenMark, thinned } from './pen.js'

const mark = {
  kind: 'stroke',
  over: { is: 'space', id: 'line' },
  points: [
    [0, 0],
    [10, 20],
  ],
}

test('a mark of the pen is read as it was drawn, and nothing else is', () => {
  expect(readPenMark({ ...mark, more: 1 })).toEqual({ ok: true, value: mark })
  expect(readPenMark({ ...mark, kind: 'tick', points: [[5, -5]] })).toMatchObject({ ok: true })
  for (const wrong of [
    { kind: 'line' },
    { over: { is: 'page', id: 'x' } },
    { over: { is: 'space', id: 'x y' } },
    { over: null },
    { points: [] },
    { points: [[0]] },
    { points: [[0.5, 1]] },
    { points: [[0, PEN_LIMITS.reach + 1]] },
    { points: Array.from({ length: PEN_LIMITS.points + 1 }, () => [0, 0]) },
    { kind: 'cross' },
  ])
    expect(readPenMark({ ...mark, ...wrong })).toMatchObject({ ok: false })
})

const points = fc.array(fc.tuple(fc.integer({ min: -500, max: 1_500 }), fc.integer({ min: -500, max: 1_500 })), {
  minLength: 1,
  maxLength: 1_500,
})

test('a stroke keeps its ends, can be sent, and goes where it went', () => {
  fc.assert(
    fc.property(points, (drawn) => {
      const kept = thinned(drawn)
      expect([kept[0], kept.at(-1)]).toEqual([drawn[0], drawn.at(-1)])
      expect(readPenMark({ ...mark, points: kept })).toMatchObject({ ok: true })
      for (const point of kept) expect(drawn).toContainEqual(point)
    }),
    { numRuns: 50 },
  )
})

test('how far a place is from a stroke', () => {
  const stroke = {
    kind: 'stroke' as const,
    over: { is: 'space' as const, id: 'a' },
    points: [
      [0, 0],
      [100, 0],
    ] as const,
  }
  expect(farFrom(stroke, [50, 30])).toBe(30)
  expect(farFrom(stroke, [130, 40])).toBe(50)
  expect(farFrom({ ...stroke, kind: 'tick', points: [[3, 4]] }, [0, 0])).toBe(5)
})
