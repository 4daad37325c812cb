import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { checkMarking } from '../handout/readStatement.js'
import { markOf } from './mark.js'
import { type MarkParts, NO_PARTS } from './parts.js'
import type { MarkedSpace, MarkingWay } from './way.js'
import { marksMoved } from './wayChange.js'

const WAY: MarkingWay = {
  kind: 'spaces',
  outOf: null,
  rubric: [{ id: 'why', name: 'Reasons', most: 300, levels: [] }],
  scale: null,
  late: null,
}
const OUT_OF: MarkingWay = { ...WAY, kind: 'points', outOf: 2000 }
const SPACES: readonly MarkedSpace[] = [{ id: 'a', most: 200 }]
const PARTS: MarkParts = { ...NO_PARTS, spaces: { a: 150 }, rubric: { why: { points: 250, level: null } } }
const so = (way: MarkingWay, parts: MarkParts, isDone = true, days = 0, copyId = 'one') => {
  const spaces = way.kind === 'spaces' ? SPACES : []
  return { copyId, personId: null, spaces, parts, isDone, mark: markOf(way, spaces, parts, days) }
}
const moved = (to: MarkingWay, parts = PARTS, isDone = true, days = 0) =>
  marksMoved({ way: WAY, copies: [so(WAY, parts, isDone, days)] }, { way: to, copies: [so(to, parts, isDone, days)] })

describe('copies marked in another way', () => {
  test('the same way changes nothing', () => {
    expect(moved(WAY)).toEqual([])
  })

  test('a part that is asked for no longer does not count, and is said to', () => {
    expect(moved(OUT_OF)).toMatchObject([
      { before: { total: 400, most: 500 }, after: { total: 250, most: 2000 }, uncounted: 1 },
    ])
    expect(moved({ ...WAY, rubric: [] })).toMatchObject([{ after: { total: 150, most: 200 }, uncounted: 1 }])
  })

  test('a row that is worth less holds no more than that', () => {
    expect(moved({ ...WAY, rubric: [{ ...WAY.rubric[0]!, most: 200 }] })).toMatchObject([
      { after: { total: 350, most: 400 }, uncounted: 0 },
    ])
  })

  test('a row more is open in a copy that is done', () => {
    const more = { ...WAY, rubric: [...WAY.rubric, { id: 'words', name: 'Words', most: 100, levels: [] }] }
    expect(moved(more)).toMatchObject([{ isOpenAgain: true, after: { open: 1 } }])
    expect(moved(more, PARTS, false)).toMatchObject([{ isOpenAgain: false }])
  })

  test('what late work loses moves those that came late', () => {
    const late = { ...WAY, late: { perDay: 10, atLeast: 0 } }
    expect(moved(late)).toEqual([])
    expect(moved(late, PARTS, true, 2)).toMatchObject([{ after: { total: 300 } }])
  })

  test('without points nothing is said of a copy that has none', () => {
    expect(moved({ ...WAY, rubric: [] }, NO_PARTS, false)).toEqual([])
  })

  test('there and back again is as it was', () => {
    const points = fc.integer({ min: 0, max: 400 })
    fc.assert(
      fc.property(points, points, points, (a, b, most) => {
        const parts = { ...NO_PARTS, spaces: { a }, rubric: { why: { points: b, level: null } } }
        const to = { ...WAY, rubric: [{ ...WAY.rubric[0]!, most }] }
        const there = marksMoved({ way: WAY, copies: [so(WAY, parts)] }, { way: to, copies: [so(to, parts)] })
        const back = marksMoved({ way: to, copies: [so(to, parts)] }, { way: WAY, copies: [so(WAY, parts)] })
        expect(back.map(({ before, after }) => [after, before])).toEqual(
          there.map(({ before, after }) => [before, after]),
        )
      }),
    )
  })
})

describe('how copies are marked, as a page sends it', () => {
  test('is read as in a slip', () => {
    expect(checkMarking({ marking: { kind: 'points', points: 10 }, rubric: [], lateDeduction: null })).toEqual({
      ok: true,
      value: { marking: { kind: 'points', points: 10 }, rubric: [], lateDeduction: null },
    })
    expect(checkMarking({ marking: { kind: 'stars' } })).toMatchObject({ ok: false, problems: [{ field: 'marking' }] })
  })
})
