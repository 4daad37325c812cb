import { describe, expect, test } from '@jest/globals'
import { checkKeptRubric, checkKeptScale } from './library.js'

const rows = [{ id: 'why', name: 'Reasons', points: 3, levels: [{ id: 'all', name: 'all', points: 3 }] }]

describe('a rubric that is kept', () => {
  test('has a name, and rows as in a slip', () => {
    expect(checkKeptRubric({ name: '  Harbour  walks ', rows })).toEqual({
      ok: true,
      value: { name: 'Harbour walks', rows },
    })
  })

  test.each([
    [{ name: ' ', rows }, 'name'],
    [{ name: 'x'.repeat(81), rows }, 'name'],
    [{ name: 'Walks', rows: [] }, 'rubric'],
    [{ name: 'Walks', rows: 'none' }, 'rubric'],
    [{ name: 'Walks', rows: [{ ...rows[0], points: 2 }] }, 'rubric.0'],
  ])('%j is refused at %s', (typed, field) => {
    expect(checkKeptRubric(typed)).toMatchObject({ ok: false, problems: [{ field }] })
  })
})

describe('a scale that is kept', () => {
  test('with thresholds, or by hand', () => {
    expect(checkKeptScale({ name: 'Letters', steps: ['A', 'B', ' B '], from: [50, 0] })).toEqual({
      ok: true,
      value: { name: 'Letters', steps: ['A', 'B'], from: [50, 0] },
    })
    expect(checkKeptScale({ name: 'Words', steps: ['Yes', 'Not yet'], from: null })).toMatchObject({
      value: { from: null },
    })
  })

  test.each([
    [{ name: '', steps: ['A', 'B'], from: null }, 'name'],
    [{ name: 'Letters', steps: ['A'], from: null }, 'marking'],
    [{ name: 'Letters', steps: ['A', 'B'], from: [0, 50] }, 'marking'],
  ])('%j is refused at %s', (typed, field) => {
    expect(checkKeptScale(typed)).toMatchObject({ ok: false, problems: [{ field }] })
  })
})
