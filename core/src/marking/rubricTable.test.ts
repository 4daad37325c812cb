import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import type { RubricRow } from '../handout/statement.js'
import { readRubricTable, rubricTable } from './rubricTable.js'

const read = (rows: readonly (readonly string[])[]) => {
  let number = 0
  return readRubricTable(rows, () => `id${number++}`)
}
/** Without the ids, which are made anew. */
const plain = (rows: readonly RubricRow[]) =>
  rows.map(({ name, points, levels = [] }) => ({
    name,
    points,
    levels: levels.map((level) => [level.points, level.name]),
  }))
const rowsOf = (rows: readonly (readonly string[])[]) => {
  const outcome = read(rows)
  if (!outcome.ok) throw new Error(outcome.problems[0]!.sentence)
  return plain(outcome.value)
}
const sentenceOf = (rows: readonly (readonly string[])[]) => {
  const outcome = read(rows)
  return outcome.ok ? '' : outcome.problems[0]!.sentence
}

describe('a rubric from a table', () => {
  test('points in the head, words below; a title line above', () => {
    expect(
      rowsOf([
        ['Harbour walk, how it is marked', '', ''],
        [],
        ['Criterion', 'Excellent (4)', 'Good - 2 points', 'Not yet 0'],
        ['Reasons', 'names both moons', 'names one', 'none'],
        ['Spelling', 'no mistake', '', 'many'],
      ]),
    ).toEqual([
      {
        name: 'Reasons',
        points: 4,
        levels: [
          [4, 'Excellent: names both moons'],
          [2, 'Good: names one'],
          [0, 'Not yet: none'],
        ],
      },
      {
        name: 'Spelling',
        points: 4,
        levels: [
          [4, 'Excellent: no mistake'],
          [0, 'Not yet: many'],
        ],
      },
    ])
  })

  test('a head of numbers alone', () => {
    expect(
      rowsOf([
        ['', '0', '3'],
        ['Reasons', 'none', 'all'],
      ]),
    ).toEqual([
      {
        name: 'Reasons',
        points: 3,
        levels: [
          [3, 'all'],
          [0, 'none'],
        ],
      },
    ])
  })

  test('two columns, with and without a head', () => {
    const rows = [{ name: 'Reasons', points: 2.5, levels: [] }]
    expect(rowsOf([['Reasons', '2,5']])).toEqual(rows)
    expect(
      rowsOf([
        ['What', 'Max points'],
        ['Reasons', '2.5'],
      ]),
    ).toEqual(rows)
  })

  test('levels that say themselves what they are worth', () => {
    expect(
      rowsOf([
        ['Reasons', '3 points: all', '1: some'],
        ['Words', '2: all'],
      ]),
    ).toMatchObject([
      {
        points: 3,
        levels: [
          [3, 'all'],
          [1, 'some'],
        ],
      },
      { points: 2 },
    ])
  })

  test.each([
    ['only one column', [['Reasons'], ['Words']], 'A rubric is a table'],
    ['a head alone', [['What', 'Points']], 'no line below'],
    [
      'levels without points',
      [
        ['What', 'Good', 'Weak'],
        ['Reasons', 'all', 'none'],
      ],
      'Say what each level of “Reasons” is worth',
    ],
    [
      'two levels worth the same',
      [
        ['What', 'Good (2)', 'Fine (2)'],
        ['Reasons', 'all', 'some'],
      ],
      'Two levels of “Reasons” are worth 2',
    ],
    [
      'a level worth more than its row',
      [
        ['What', 'Points', 'Good (3)'],
        ['Reasons', '2', 'all'],
      ],
      'more than the 2 of its row',
    ],
    [
      'no points',
      [
        ['What', 'Points'],
        ['Reasons', ''],
      ],
      'Say how many points “Reasons” is worth',
    ],
    ['too many rows', Array.from({ length: 51 }, (_, at) => [`Row ${at}`, '1']), 'up to 50 rows'],
    ['too many points', [['Reasons', '10001']], 'more than 10000 points'],
  ])('%s is refused in a sentence', (_, rows, sentence) => {
    expect(sentenceOf(rows)).toContain(sentence)
  })

  test('what is written is read as it was', () => {
    const word = fc.stringMatching(/^[a-z]{1,12}( [a-z]{1,12}){0,3}$/)
    const level = fc.record({
      id: fc.constant('l'),
      name: word,
      points: fc.integer({ min: 0, max: 400 }).map((p) => p / 4),
    })
    const row = fc
      .record({
        id: fc.constant('r'),
        name: word,
        levels: fc.uniqueArray(level, { selector: ({ points }) => points, maxLength: 5 }),
        more: fc.integer({ min: 1, max: 10 }),
      })
      .map(({ levels, more, ...rest }): RubricRow => ({
        ...rest,
        points: Math.max(0, ...levels.map(({ points }) => points)) + more,
        levels: levels.toSorted((a, b) => b.points - a.points),
      }))
    fc.assert(
      fc.property(fc.array(row, { minLength: 1, maxLength: 8 }), (rows) => {
        expect(rowsOf(rubricTable(rows))).toEqual(plain(rows))
      }),
    )
  })

  test('whatever a table holds, it is read or refused, with no row beyond its limits', () => {
    fc.assert(
      fc.property(fc.array(fc.array(fc.string(), { maxLength: 6 }), { maxLength: 12 }), (rows) => {
        const outcome = read(rows)
        if (!outcome.ok) return
        for (const { points, levels = [] } of outcome.value)
          expect(levels.every((one) => one.points <= points)).toBe(true)
      }),
    )
  })
})
