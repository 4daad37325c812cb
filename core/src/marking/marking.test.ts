import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import type { AnswerSpace, WorksheetContent } from '../worksheet/content.js'
import { heapsOf } from '../progress/heaps.js'
import { joinNear } from './heaps.js'
import {
  daysLate,
  divided,
  isComplete,
  lateLoss,
  markInWords,
  markOf,
  memberParts,
  percentOf,
  stepFor,
} from './mark.js'
import {
  type MarkChange,
  type MarkParts,
  NO_PARTS,
  changeParts,
  checkChange,
  mostOf,
  readMarkChanges,
  undone,
} from './parts.js'
import { pointsFrom, pointsInWords, readPoints } from './points.js'
import { proposedPoints } from './proposals.js'
import { checkStockRemark, filledRemark, remarkPattern, reworded, withCalledRemark } from './stockRemark.js'
import { type MarkedSpace, type MarkingWay, markedSpaces, markingWay } from './way.js'

const POINTS: MarkingWay = { kind: 'points', outOf: 2000, rubric: [], scale: null, late: null }
const RUBRIC: MarkingWay = {
  ...POINTS,
  kind: 'spaces',
  outOf: null,
  rubric: [
    { id: 'why', name: 'Reasons', most: 300, levels: [] },
    {
      id: 'words',
      name: 'Words',
      most: 200,
      levels: [
        { id: 'none', name: 'none', points: 0 },
        { id: 'all', name: 'all', points: 200 },
      ],
    },
  ],
}
const SPACES: readonly MarkedSpace[] = [
  { id: 'a', most: 100 },
  { id: 'b', most: 600 },
]
const parts = (more: Partial<MarkParts>): MarkParts => ({ ...NO_PARTS, ...more })

describe('points as people type them', () => {
  test.each([
    ['14', 1400],
    [' 14,5 ', 1450],
    ['14.25', 1425],
    ['14½', 1450],
    ['14 1/2', 1450],
    ['¾', 75],
    ['0', 0],
  ])('%s', (typed, points) => {
    expect(readPoints(typed)).toEqual({ ok: true, value: points })
  })

  test.each([
    ['', 'no-points'],
    ['good', 'no-points'],
    ['14.333', 'too-fine'],
    ['21', 'too-many'],
    ['-1', 'too-few'],
    ['−½', 'too-few'],
  ])('%s is refused: %s', (typed, code) => {
    expect(readPoints(typed, 2000)).toMatchObject({ ok: false, problems: [{ code }] })
  })

  test('a deduction may be negative, down to its least', () => {
    expect(readPoints('−2½', undefined, -1000)).toEqual({ ok: true, value: -250 })
    expect(readPoints('-11', undefined, -1000)).toMatchObject({ ok: false })
  })

  test('what is shown can be typed again', () => {
    fc.assert(
      fc.property(fc.integer({ min: -1_000_000, max: 1_000_000 }), (points) => {
        expect(readPoints(pointsInWords(points), 1_000_000, -1_000_000)).toEqual({ ok: true, value: points })
      }),
    )
  })

  test('halves, quarters and the rest', () => {
    expect([1450, 25, -75, 30, 1405, 0].map(pointsInWords)).toEqual(['14½', '¼', '−¾', '0.3', '14.05', '0'])
  })
})

describe('a mark', () => {
  test('is the sum of its parts, of spaces and rubric', () => {
    const given = parts({
      spaces: { a: 100, b: 450 },
      rubric: { why: { points: 200, level: null }, words: { points: 200, level: 'all' } },
    })
    expect(markOf(RUBRIC, SPACES, given, 0)).toMatchObject({
      sum: 950,
      most: 1200,
      total: 950,
      open: 0,
      of: 4,
      percent: 7917,
    })
  })

  test('says what has no points yet, and is no mark before any has', () => {
    expect(markOf(RUBRIC, SPACES, NO_PARTS, 0)).toMatchObject({ sum: null, total: null, open: 4, percent: null })
    const mark = markOf(RUBRIC, SPACES, parts({ spaces: { a: 0 } }), 0)
    expect(mark).toMatchObject({ sum: 0, total: 0, open: 3 })
    expect(isComplete(RUBRIC, mark)).toBe(false)
  })

  test('a typed total stands over the sum, with the difference', () => {
    const typed = parts({ spaces: { a: 100 }, total: 900 })
    const mark = markOf(RUBRIC, SPACES, typed, 0)
    expect(mark).toMatchObject({ sum: 100, total: 900, isTyped: true, difference: 800 })
    expect(isComplete(RUBRIC, mark)).toBe(true)
  })

  test('is in whatever order its parts came the same, and no less than nothing', () => {
    const change = fc.oneof(
      fc.record({
        of: fc.constant('space' as const),
        space: fc.constantFrom('a', 'b', 'gone'),
        to: fc.integer({ min: 0, max: 600 }),
      }),
      fc.record({
        of: fc.constant('criterion' as const),
        criterion: fc.constantFrom('why', 'words', 'gone'),
        to: fc.record({ points: fc.integer({ min: 0, max: 300 }), level: fc.constant(null) }),
      }),
    )
    fc.assert(
      fc.property(
        fc.uniqueArray(change, { selector: (one) => ('space' in one ? one.space : one.criterion) }),
        fc.integer({ min: -900, max: 200 }),
        (changes, added) => {
          const apply = (list: typeof changes) =>
            list.reduce<MarkParts>(
              (now, one) => {
                const outcome = changeParts(now, { ...one, was: null })
                if (!outcome.ok) throw new Error('refused')
                return outcome.value
              },
              parts({ adjustments: added === 0 ? [] : [{ points: added, reason: 'x' }] }),
            )
          const one = markOf(RUBRIC, SPACES, apply(changes), 0)
          expect(markOf(RUBRIC, SPACES, apply(changes.toReversed()), 0)).toEqual(one)
          expect(one.total ?? 0).toBeGreaterThanOrEqual(0)
        },
      ),
    )
  })

  test('what the way no longer has is kept and does not count', () => {
    const given = parts({ spaces: { a: 100, gone: 500 }, rubric: { old: { points: 300, level: 'l' } } })
    const mark = markOf(RUBRIC, SPACES, given, 0)
    expect(mark.sum).toBe(100)
    const before: MarkingWay = { ...RUBRIC, rubric: [{ id: 'old', name: 'Old', most: 300, levels: [] }] }
    expect(markOf(before, [...SPACES, { id: 'gone', most: 500 }], given, 0).sum).toBe(900)
  })

  test('a member of a group has what is the group’s, but for what is theirs alone', () => {
    const group = parts({ spaces: { a: 100, b: 300 }, remark: 'Well built.' })
    const own = parts({ adjustments: [{ points: -100, reason: 'wrote little' }], remark: 'Write more.' })
    const mine = memberParts(group, own)
    expect(markOf(RUBRIC, SPACES, mine, 0).sum).toBe(300)
    expect(mine.remark).toBe('Well built.\nWrite more.')
    expect(memberParts(group, null)).toBe(group)
    expect(memberParts(group, parts({ total: 700 })).total).toBe(700)
  })

  test('in words', () => {
    expect(markInWords(markOf(POINTS, [], parts({ total: 1450 }), 0))).toBe('14½ of 20')
    expect(markInWords(markOf(POINTS, [], parts({ total: 1450, excused: true }), 0))).toBe('excused')
    expect(markInWords(markOf({ ...POINTS, kind: 'remark', outOf: null }, [], NO_PARTS, 0))).toBe('remark')
  })
})

describe('scales', () => {
  const scale = { steps: ['Very good', 'Good', 'Not yet'], from: [85, 50, 0] }
  test('a step by the points, or by hand', () => {
    expect([10_000, 8_500, 8_499, 5_000, 0].map((percent) => stepFor(scale, percent))).toEqual([
      'Very good',
      'Very good',
      'Good',
      'Good',
      'Not yet',
    ])
    const way: MarkingWay = { ...RUBRIC, kind: 'scale', scale }
    const given = parts({ spaces: { a: 100, b: 600 }, rubric: { why: { points: 300, level: null } } })
    expect(markOf(way, SPACES, given, 0).step).toBe('Good')
    expect(markOf(way, SPACES, { ...given, step: 'Very good' }, 0).step).toBe('Very good')
    // A step that the scale no longer has: by the points again.
    expect(markOf(way, SPACES, { ...given, step: 'Splendid' }, 0).step).toBe('Good')
    expect(stepFor({ ...scale, from: null }, 9_000)).toBeNull()
  })

  test('are monotone: more points never reach a lesser step', () => {
    const falling = fc
      .uniqueArray(fc.integer({ min: 1, max: 100 }), { minLength: 1, maxLength: 10 })
      .map((all) => [...all.toSorted((a, b) => b - a), 0])
    fc.assert(
      fc.property(
        falling,
        fc.integer({ min: 0, max: 10_000 }),
        fc.integer({ min: 0, max: 10_000 }),
        (from, one, other) => {
          const steps = from.map((_, at) => String(at))
          const at = (percent: number) => steps.indexOf(stepFor({ steps, from }, percent)!)
          if (one >= other) expect(at(one)).toBeLessThanOrEqual(at(other))
        },
      ),
    )
  })
})

describe('late work', () => {
  const DAY = 86_400_000
  test('each day begun counts', () => {
    expect([
      daysLate(null, 5),
      daysLate(10, null),
      daysLate(10, 10),
      daysLate(10, 11),
      daysLate(0, DAY),
      daysLate(0, DAY + 1),
    ]).toEqual([0, 0, 0, 1, 1, 2])
  })

  test('loses so much a day, and keeps what it keeps in any case', () => {
    const rule = { perDay: 10, atLeast: 50 }
    expect(lateLoss(rule, 1600, 2000, 1)).toBe(-200)
    expect(lateLoss(rule, 1600, 2000, 9)).toBe(-800)
    expect(lateLoss(rule, 0, 2000, 3)).toBe(0)
    expect(lateLoss(null, 1600, 2000, 3)).toBe(0)
    const way: MarkingWay = { ...RUBRIC, late: rule }
    const given = parts({ spaces: { b: 600 } })
    expect(markOf(way, SPACES, given, 2)).toMatchObject({ sum: 600, late: -240, total: 360 })
    expect(markOf(way, SPACES, { ...given, waivesLate: true }, 2)).toMatchObject({ late: 0, total: 600 })
  })

  test('is never worth more for coming later, and never less than the rule keeps', () => {
    const percent = fc.integer({ min: 0, max: 100 })
    fc.assert(
      fc.property(percent, percent, fc.integer({ min: 0, max: 2000 }), fc.nat(60), (perDay, atLeast, sum, days) => {
        const rule = { perDay, atLeast }
        const now = sum + lateLoss(rule, sum, 2000, days)
        expect(now).toBeGreaterThanOrEqual(Math.min(sum, divided(sum * atLeast, 100)))
        expect(now).toBeLessThanOrEqual(sum)
        expect(sum + lateLoss(rule, sum, 2000, days + 1)).toBeLessThanOrEqual(now)
      }),
    )
  })

  test('rounds in one way: halves away from zero', () => {
    expect([divided(5, 10), divided(-5, 10), divided(4, 10), divided(15, 10), divided(-15, 10)]).toEqual([
      1, -1, 0, 2, -2,
    ])
    expect(percentOf(1, 3)).toBe(3333)
    expect(percentOf(1450, 2000)).toBe(7250)
  })
})

describe('changes of a mark', () => {
  test('say what stood there: who meets another’s change is told, who sends it twice is not', () => {
    const change: MarkChange = { of: 'space', space: 'a', was: null, to: 50 }
    const once = changeParts(NO_PARTS, change)
    expect(once).toMatchObject({ ok: true, value: { spaces: { a: 50 } } })
    if (!once.ok) return
    expect(changeParts(once.value, change)).toEqual(once)
    expect(changeParts(once.value, { ...change, to: 75 })).toMatchObject({ problems: [{ code: 'changed-meanwhile' }] })
    expect(changeParts(once.value, undone(change))).toMatchObject({ ok: true, value: { spaces: {} } })
  })

  test('fit how the handout is marked', () => {
    const may = (way: MarkingWay, change: MarkChange) => checkChange(way, SPACES, change).ok
    expect(may(RUBRIC, { of: 'space', space: 'a', was: null, to: 100 })).toBe(true)
    expect(may(RUBRIC, { of: 'space', space: 'a', was: null, to: 101 })).toBe(false)
    expect(may(RUBRIC, { of: 'space', space: 'other', was: null, to: 1 })).toBe(false)
    // What a way no longer has can still be taken out.
    expect(may(RUBRIC, { of: 'space', space: 'other', was: 5, to: null })).toBe(true)
    expect(may(RUBRIC, { of: 'criterion', criterion: 'why', was: null, to: { points: 301, level: null } })).toBe(false)
    expect(may(RUBRIC, { of: 'criterion', criterion: 'words', was: null, to: { points: 200, level: 'gone' } })).toBe(
      false,
    )
    expect(may(RUBRIC, { of: 'criterion', criterion: 'words', was: null, to: { points: 200, level: 'all' } })).toBe(
      true,
    )
    expect(may(RUBRIC, { of: 'step', was: null, to: 'Good' })).toBe(false)
    expect(may(RUBRIC, { of: 'total', was: null, to: 1201 })).toBe(false)
    expect(may({ ...POINTS, kind: 'remark', outOf: null }, { of: 'total', was: null, to: 5 })).toBe(false)
    expect(may({ ...POINTS, kind: 'not marked' }, { of: 'remark', was: '', to: 'x' })).toBe(false)
    expect(may({ ...POINTS, kind: 'remark', outOf: null }, { of: 'remark', was: '', to: 'x' })).toBe(true)
    expect(mostOf(RUBRIC, SPACES)).toBe(1200)
    expect(mostOf({ ...RUBRIC, rubric: [] }, [])).toBeNull()
  })

  test('are read, and refused where they are none', () => {
    const good = [
      { of: 'space', space: 'a', was: null, to: 50 },
      { of: 'criterion', criterion: 'c', was: { points: 1, level: null }, to: null },
      { of: 'adjustments', was: [], to: [{ points: -100, reason: 'late  entry' }] },
      { of: 'excused', was: false, to: true },
      { of: 'total', was: 3, to: null },
      { of: 'step', was: null, to: 'Good' },
      { of: 'remark', was: '', to: 'Well\u0000 done' },
    ]
    expect(readMarkChanges(good)).toMatchObject({
      ok: true,
      value: [{}, {}, { to: [{ reason: 'late entry' }] }, {}, {}, {}, { to: 'Well done' }],
    })
    for (const bad of [
      [],
      'x',
      [{ of: 'space', space: 'a', was: null, to: 0.5 }],
      [{ of: 'space', space: 'a', was: null, to: -1 }],
      [{ of: 'space', was: null, to: 1 }],
      [{ of: 'total', was: null }],
      [{ of: 'remark', was: '', to: 'x'.repeat(6_000) }],
      [{ of: 'adjustments', was: [], to: [{ points: 1 }] }],
      [{ of: 'criterion', criterion: 'c', was: null, to: { points: 1 } }],
      [{ of: '__proto__', was: null, to: 1 }],
      Array.from({ length: 500 }, () => good[0]),
    ])
      expect(readMarkChanges(bad)).toMatchObject({ ok: false })
  })
})

test('how copies are marked, as a slip says it', () => {
  const rubric = [
    {
      id: 'r',
      name: 'R',
      points: 2.5,
      levels: [
        { id: 'h', name: 'h', points: 2.5 },
        { id: 'l', name: 'l', points: 0 },
      ],
    },
  ]
  const content = {
    blocks: [
      { id: 'q', kind: 'line', width: 'full', points: 1.5 },
      { id: 'n', kind: 'line', width: 'full' },
    ],
  } as unknown as WorksheetContent
  const spaces = markingWay({ marking: { kind: 'spaces' }, rubric, lateDeduction: { perDay: 5, atLeast: 0 } })
  expect(spaces).toMatchObject({
    kind: 'spaces',
    outOf: null,
    rubric: [{ most: 250, levels: [{ id: 'l' }, { id: 'h' }] }],
  })
  expect(markedSpaces(spaces, content)).toEqual([{ id: 'q', most: 150 }])
  const remark = markingWay({ marking: { kind: 'ungraded' }, rubric, lateDeduction: { perDay: 5, atLeast: 0 } })
  expect(remark).toEqual({ kind: 'remark', outOf: null, rubric: [], scale: null, late: null })
  expect(markedSpaces(remark, content)).toEqual([])
  expect(markingWay({ marking: { kind: 'points', points: 12.5 }, rubric: [], lateDeduction: null }).outOf).toBe(
    pointsFrom(12.5),
  )
})

describe('proposals', () => {
  const line = { id: 'l', kind: 'line', width: 'full', points: 2, accepted: ['gate'] } as AnswerSpace
  const keyless = { id: 'l', kind: 'line', width: 'full', points: 2 } as AnswerSpace
  const many = {
    ...{ id: 'c', kind: 'choice', many: true, points: 2, right: ['1', '2', '3', '4'] },
    options: ['1', '2', '3', '4', '5'].map((id) => ({ id, text: id })),
  } as AnswerSpace

  test('by the key: right, wrong, empty; none without a key or points', () => {
    expect(proposedPoints(line, { text: ' Gate ' })).toBe(200)
    expect(proposedPoints(line, { text: 'quay' })).toBe(0)
    expect(proposedPoints(line, { text: '' })).toBe(0)
    expect(proposedPoints(keyless, { text: 'gate' })).toBeNull()
    expect(proposedPoints({ ...line, points: 0 }, { text: 'gate' })).toBeNull()
  })

  test('of several choices a part, in quarters, never below nothing', () => {
    const of = (...chosen: string[]) => proposedPoints(many, { chosen })
    expect(of('1', '2', '3', '4')).toBe(200)
    expect(of('1', '2', '3')).toBe(150)
    expect(of('1', '2', '5')).toBe(50)
    expect(of('5')).toBe(0)
    fc.assert(
      fc.property(fc.subarray(['1', '2', '3', '4', '5']), (chosen) => {
        const points = of(...chosen)!
        expect(points % 25).toBe(0)
        expect(points).toBeGreaterThanOrEqual(0)
        expect(points).toBeLessThanOrEqual(200)
      }),
    )
  })
})

describe('heaps of what is nearly the same', () => {
  const joined = (...texts: string[]) =>
    joinNear(heapsOf(texts.map((text) => ({ text, right: null })))).map(({ text, answers }) => [text, answers.length])

  test.each([
    [
      ['gravity', 'gravity', 'gravitty', 'gravtiy', 'pull'],
      [
        ['gravity', 4],
        ['pull', 1],
      ],
    ],
    // Short words of one letter's difference are other words.
    [
      ['tide', 'tied', 'tire'],
      [
        ['tide', 1],
        ['tied', 1],
        ['tire', 1],
      ],
    ],
    [
      ['at 05:48 o clock', 'at 05:49 o clock'],
      [
        ['at 05:48 o clock', 1],
        ['at 05:49 o clock', 1],
      ],
    ],
    [
      ['3.7', '3.70', '3,7', '3.8'],
      [
        ['3.7', 3],
        ['3.8', 1],
      ],
    ],
    [
      [
        'Because the moon is not over the equator, one bulge is higher for us than the other is.',
        'because the moon is not over the equator one bulge is higher for us than the other',
        'The sun and the moon pull on the same line at new moon and full moon, so that it is higher.',
      ],
      [
        ['Because the moon is not over the equator, one bulge is higher for us than the other is.', 2],
        ['The sun and the moon pull on the same line at new moon and full moon, so that it is higher.', 1],
      ],
    ],
  ])('%j', (texts, heaps) => {
    expect(joined(...texts)).toEqual(heaps)
  })

  test('hold every answer once, the largest first, whatever was written', () => {
    fc.assert(
      fc.property(
        fc.array(fc.oneof(fc.string(), fc.constantFrom('anchor', 'anchro', 'ankor', '12', '12.0'))),
        (texts) => {
          const answers = texts.map((text, at) => ({ at, text, right: null }))
          const heaps = joinNear(heapsOf(answers))
          expect(heaps.flatMap((heap) => heap.answers.map(({ at }) => at)).toSorted((a, b) => a - b)).toEqual(
            answers.map(({ at }) => at),
          )
          const sizes = heaps.map((heap) => heap.answers.length)
          expect(sizes).toEqual(sizes.toSorted((a, b) => b - a))
        },
      ),
    )
  })
})

describe('stock remarks', () => {
  test('are called up by one word in any letters', () => {
    expect(checkStockRemark({ short: ' Force ', text: ' Say which. ' })).toEqual({
      ok: true,
      value: { short: 'force', text: 'Say which.' },
    })
    for (const short of ['', 'two words', 'a/b', 'x'.repeat(21)])
      expect(checkStockRemark({ short, text: 'x' })).toMatchObject({ problems: [{ field: 'short' }] })
    for (const text of ['  ', 'x'.repeat(5_001)])
      expect(checkStockRemark({ short: 'x', text })).toMatchObject({ problems: [{ field: 'text' }] })
  })

  test('stand in place of a slash and the short name, once a blank comes after it', () => {
    const stock = [{ short: 'force', text: 'Say which force.' }]
    expect(withCalledRemark('Good. /Force ', stock)).toBe('Good. Say which force. ')
    expect(withCalledRemark('/force', stock)).toBeNull()
    expect(withCalledRemark('and/force ', stock)).toBeNull()
    expect(withCalledRemark('/unit ', stock)).toBeNull()
  })

  test('their tokens are filled in, and other braces stay', () => {
    const facts = { firstNames: ['Noa', 'Minh Anh'], missing: 250 }
    expect(filledRemark('{First name}: {points missing} {points} {', facts)).toBe('Noa, Minh Anh: 2½ {points} {')
    expect(filledRemark('{points missing}', { firstNames: [], missing: null })).toBe('–')
  })

  test('in other words where they stand, with what their tokens became', () => {
    expect(reworded('Good. Say which. Then go on.', 'Say which.', 'Which one?')).toBe('Good. Which one? Then go on.')
    expect(reworded('Good.', 'Say which.', 'Which one?')).toBeNull()
    expect(reworded('A (.) $& b', '(.) $&', '[$1]')).toBe('A [$1] b')
    const before = '{first name}, {points missing} points more'
    expect(reworded('So: Minh Anh, 2½ points more!', before, '{points missing} for {first name}')).toBe(
      'So: 2½ for Minh Anh!',
    )
    expect(reworded('Well done, Minh Anh. More.', 'Well done, {first name}', 'Fine, {first name}')).toBe(
      'Fine, Minh Anh. More.',
    )
    expect(reworded('Say which.', 'Say which.', '{first name}, say which.')).toBe('{first name}, say which.')
    expect(reworded('a a a', '{first name}{first name}{first name}', 'b')).toBeNull()
  })

  test('what the pattern does not find has no remark in it, whatever signs it has', () => {
    expect(remarkPattern('100 % of {first name}_\\')).toBe('%100 \\% of %\\_\\\\%')
    const words = fc.string({ unit: fc.constantFrom('a', '.', '%', '_', '(', '\\', ' '), minLength: 1, maxLength: 8 })
    fc.assert(
      fc.property(words, words, words, words, (start, remark, end, after) => {
        expect(reworded(start + remark + end, remark, after)).toContain(after)
      }),
    )
  })
})
