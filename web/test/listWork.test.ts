import { describe, expect, test } from '@jest/globals'
import { schoolYear, yearAfter } from '../src/class/schoolYear'
import { rowsOf } from '../src/class/lists/source'
import { workOnList } from '../src/workers/listWorker'

const MEMBERS = [
  { personId: 'p1', first: 'Chidi', last: 'Abara', email: 'chidi@fennickquay.example' },
  { personId: 'p2', first: 'Finn', last: 'O’Hara', email: null },
]
const rows = [
  ['Last name', 'First name', 'E-mail', 'Class'],
  ['Abara-Cole', 'Chidi', 'chidi@fennickquay.example', '8 Heron'],
  ['Rossi', 'Giulia', 'nonsense', '8 Heron'],
  ['Sato', 'Mei', 'mei@fennickquay.example', '7 Dunlin'],
]
const work = (more: object = {}) => {
  const answer = workOnList({ number: 7, rows, reading: {}, corrections: {}, members: MEMBERS, ...more })
  if (!answer.ok) throw new Error(answer.problems[0]!.sentence)
  return answer
}

describe('a list in the worker', () => {
  test('is understood, compared, and says which values tell its columns apart', () => {
    const { checked, lines, parsed, total } = work()
    expect(checked!.rows.map(({ effect }) => effect)).toEqual(['changed', 'new', 'new'])
    expect(checked!.counts.stopping).toBe(1)
    expect(checked!.missing.map(({ personId }) => personId)).toEqual(['p2'])
    expect([lines, total, parsed.values[3]]).toEqual([[1, 2, 3], 3, ['7 Dunlin', '8 Heron']])
  })

  test('what was put right by hand counts, and stays with its line when rows are left out or filtered', () => {
    const corrections = { 1: { row: {}, left: true }, 2: { row: { email: 'giulia@fennickquay.example' } } }
    const corrected = work({ corrections })
    expect(corrected.lines).toEqual([2, 3])
    expect(corrected.checked!.counts.stopping).toBe(0)
    const filtered = work({ corrections, reading: { only: { column: 3, value: '7 dunlin' } } })
    expect(filtered.checked!.rows.map(({ row }) => row.last)).toEqual(['Sato'])
  })

  test('more rows than a class takes are counted and not compared; nothing is a problem', () => {
    const many = work({ rows: [rows[0], ...Array.from({ length: 5_001 }, (_, at) => [`L${at}`, 'F', '', 'x'])] })
    expect([many.total, many.checked]).toEqual([5_001, null])
    expect(workOnList({ number: 1, rows: [['']], reading: {}, corrections: {}, members: [] }).ok).toBe(false)
  })
})

describe('where a list comes from', () => {
  test('text is decoded and parted, with what was guessed', () => {
    const bytes = Uint8Array.from([...'Lucía;b\nc;d'].map((letter) => letter.charCodeAt(0)))
    expect(rowsOf({ kind: 'text file', name: 'x.csv', bytes })).toEqual({
      rows: [
        ['Lucía', 'b'],
        ['c', 'd'],
      ],
      delimiter: ';',
      encoding: 'Windows-1252',
    })
    expect(rowsOf({ kind: 'pasted', text: '  ' })).toBeNull()
  })

  test('cells that were made harmless on the way out are as they were', () => {
    const tables = [{ name: 'One', rows: [["'=1+1", "O'Hara"]] }]
    expect(rowsOf({ kind: 'workbook', name: 'x.ods', tables, notes: [], sheet: 0 })!.rows).toEqual([['=1+1', "O'Hara"]])
  })
})

describe('school years', () => {
  test.each([
    ['2026/27', '2027/28'],
    ['2099-2100', '2100-2101'],
    ['1999/00', '2000/01'],
    ['2026', '2027'],
    ['Year 8', 'Year 8'],
  ])('after %s comes %s', (year, next) => {
    expect(yearAfter(year)).toBe(next)
  })
  test('begins in July', () => {
    expect([schoolYear(new Date(2026, 5, 30)), schoolYear(new Date(2026, 6, 1))]).toEqual(['2025/26', '2026/27'])
  })
})
