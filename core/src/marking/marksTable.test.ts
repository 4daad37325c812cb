import { describe, expect, test } from '@jest/globals'
import { bookCellInWords, readBookCell, readMarksTable } from './marksTable.js'

const STUDENTS = [
  { personId: 'z', first: 'Zofia', last: 'Dąbrowska' },
  { personId: 'o', first: 'Finn', last: 'O’Hara' },
  { personId: 's', first: '', last: 'Suryani' },
  { personId: 'a', first: 'Ana', last: 'Rossi' },
  { personId: 'b', first: 'Ana', last: 'Rossi' },
]
const COLUMNS = [
  { id: 'h', title: 'Tides at the quay', number: 'No. 6' },
  { id: 'p', title: 'Map of the quay', number: '' },
  { id: 'one', title: 'Knots', number: 'No. 7' },
  { id: 'two', title: 'Knots', number: 'No. 8' },
]
const read = (rows: readonly (readonly string[])[]) => readMarksTable(rows, STUDENTS, COLUMNS)

describe('marks from a table', () => {
  test('as it is saved here, and as people keep it: lines above, means below, another order of names', () => {
    expect(
      read([
        ['8 Heron, spring'],
        [],
        ['Student', 'Seat', 'tides at the quay', 'Map of the quay', 'Total'],
        ['DABROWSKA, Zofia', '4', '14,5', '8', '22.5'],
        ["o'hara finn", '5', '', 'ex', '0'],
        ['Suryani', '', '9', '', '9'],
        ['Mean', '', '', '', '10'],
      ]),
    ).toEqual({
      marks: [
        { personId: 'z', columnId: 'h', typed: '14,5', to: { total: 1450, excused: false } },
        { personId: 'z', columnId: 'p', typed: '8', to: { total: 800, excused: false } },
        { personId: 'o', columnId: 'p', typed: 'ex', to: { total: null, excused: true } },
        { personId: 's', columnId: 'h', typed: '9', to: { total: 900, excused: false } },
      ],
      columns: ['h', 'p'],
      ...{ unknown: [], doubtful: [], wrong: [] },
      otherHeads: ['Seat', 'Total'],
    })
  })

  test('names in two columns, either first', () => {
    const marks = [{ personId: 'z', columnId: 'h' }]
    expect(
      read([
        ['Last', 'First', 'No. 6'],
        ['Dąbrowska', 'Zofia', '3'],
      ]),
    ).toMatchObject({ marks })
    expect(
      read([
        ['', 'First', 'Last', 'No. 6 Tides at the quay'],
        ['1', 'Zofia', 'Dąbrowska', '3'],
      ]),
    ).toMatchObject({ marks })
  })

  test('who is not of the class, whose name several have, what cannot be read: each is said, and no mark', () => {
    expect(
      read([
        ['Name', 'No. 6'],
        ['Zofia Dąbrowska', 'a lot'],
        ['Finn O’Hara', '=B2+1'],
        ['Suryani', '14/20'],
        ['Ana Rossi', '3'],
        ['Bo Strange', '4'],
        ['Nobody at all', ''],
      ]),
    ).toMatchObject({
      marks: [],
      unknown: ['Bo Strange'],
      doubtful: ['Ana Rossi'],
      wrong: [
        { name: 'Zofia Dąbrowska', head: 'No. 6', typed: 'a lot' },
        { name: 'Finn O’Hara', sentence: 'This is a formula: bring in what it comes to.' },
        // Out of how many may be another number than in the mark book.
        { name: 'Suryani', typed: '14/20' },
      ],
    })
  })

  test('a head that fits two columns is none of them; without a head or a name there is nothing', () => {
    expect(
      read([
        ['Name', 'Knots', 'No. 8'],
        ['Suryani', '1', '2'],
      ]),
    ).toMatchObject({
      marks: [{ columnId: 'two', to: { total: 200 } }],
      otherHeads: ['Knots'],
    })
    for (const rows of [
      [],
      [['Suryani', '1']],
      [
        ['Name', 'No. 6'],
        ['Nobody', '3'],
      ],
    ])
      expect(read(rows)).toMatchObject({ marks: [], columns: [] })
  })

  test('a cell, and back in words', () => {
    for (const [typed, words] of [
      ['14½', '14½'],
      ['Excused', 'excused'],
      ['–', ''],
      ['14 1/2', '14½'],
    ] as const) {
      const value = readBookCell(typed)
      if ('sentence' in value) throw new Error(value.sentence)
      expect(bookCellInWords(value)).toBe(words)
    }
  })
})
