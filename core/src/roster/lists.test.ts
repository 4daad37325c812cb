import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { roleOfHeading, wholeNameWay } from './headings.js'
import { readTable } from './readTable.js'
import { type RosterReading, understandRoster } from './understand.js'
import { type NameWay, nameParting, nameWay, partName } from './wholeNames.js'

const understand = (rows: readonly (readonly string[])[], reading: RosterReading = {}) => {
  const understood = understandRoster(rows, reading)
  if (!understood.ok) throw new Error(understood.problems[0]!.sentence)
  return understood.value
}
const names = ({ entries }: ReturnType<typeof understand>) => entries.map(({ last, first }) => `${last}|${first}`)
const lines = ({ entries }: ReturnType<typeof understand>) => entries.map(({ line }) => line + 1)

const HEADINGS = ['Last name', 'First name', 'E-mail', 'House']
const STUDENTS = [
  ['Abara', 'Chidi', 'chidi.abara@fennickquay.example', 'Sail'],
  ['Rossi', 'Giulia', 'giulia.rossi@fennickquay.example', 'Rope'],
  ['Suryani', '', '', ''],
  ['Dąbrowska', 'Zofia', 'zofia.dabrowska@fennickquay.example', 'Rope'],
]
const ALL = ['Abara|Chidi', 'Rossi|Giulia', 'Suryani|', 'Dąbrowska|Zofia']

describe('lists as school programs write them', () => {
  test('titles, a date and blank rows above, totals and a note below, headings again on the second page', () => {
    const understood = understand([
      ['Fennick Quay School', '', '', '2026-11-29'],
      ['Class list', '8 Heron'],
      ['Teacher', 'A. Okonjo-Reyes'],
      [],
      HEADINGS,
      ...STUDENTS.slice(0, 2),
      [],
      HEADINGS,
      ...STUDENTS.slice(2),
      [],
      ['Total', '4'],
      ['Printed by the office'],
    ])
    expect(understood.heading).toBe(4)
    expect(names(understood)).toEqual(ALL)
    expect(lines(understood)).toEqual([6, 7, 10, 11])
    expect(understood.leftOut).toEqual([
      { line: 0, why: 'above', text: 'Fennick Quay School · 2026-11-29' },
      { line: 1, why: 'above', text: 'Class list · 8 Heron' },
      { line: 2, why: 'above', text: 'Teacher · A. Okonjo-Reyes' },
      { line: 8, why: 'headings again', text: 'Last name · First name · E-mail · House' },
      { line: 12, why: 'note', text: 'Total · 4' },
      { line: 13, why: 'note', text: 'Printed by the office' },
    ])
  })

  test.each<[string, readonly (readonly string[])[], number | null]>([
    ['a title that names one thing', [['Name', '8 Heron'], HEADINGS, ...STUDENTS], 1],
    ['two rows of headings', [['Student', '', 'Contact', ''], HEADINGS, ...STUDENTS], 1],
    ['a title of words that fills the row', [['School', 'Class', 'Year', 'Term'], HEADINGS, ...STUDENTS], 1],
    ['no headings', STUDENTS, null],
    ['no headings, and somebody first who has no address', [['Sato', 'Mei', 'none', 'Sail'], ...STUDENTS], null],
    ['no headings, and a column that says "Student" of each', STUDENTS.map((row) => [...row, 'Student']), null],
    [
      'headings of a language that is not known, by what stands under them',
      [
        ['Sukunimi', 'Etunimi', 'Sähköposti', 'Numero'],
        ...STUDENTS.map((row, at) => [...row.slice(0, 3), `K-10${at}`]),
      ],
      0,
    ],
  ])('the row with the headings: %s', (_, rows, heading) => {
    expect(understand(rows).heading).toBe(heading)
  })

  test('the headings are where somebody says; what stands above them is left out, or taken', () => {
    const rows = [['Name', 'Whole', 'Mail', 'House'], HEADINGS, ...STUDENTS]
    expect(understand(rows, { heading: 0 }).entries).toHaveLength(5)
    const second = understand(rows, { heading: 2 })
    expect(names(second)).toEqual(['Rossi|Giulia', 'Suryani|', 'Dąbrowska|Zofia'])
    expect(second.leftOut.map(({ line }) => line)).toEqual([0, 1])
    expect(lines(understand(rows, { heading: 2, take: [1] }))).toEqual([2, 4, 5, 6])
    expect(understand(rows, { heading: null }).entries).toHaveLength(6)
  })

  test('a row without a name, an address or a number is nobody; what is said to be a student is one', () => {
    const rows = [HEADINGS, ...STUDENTS, ['', '', '', '4', 'in all'], ['Number of students', '28']]
    const understood = understand(rows)
    expect(names(understood)).toEqual(ALL)
    expect(understood.leftOut.map(({ line, why }) => [line, why])).toEqual([
      [5, 'nobody'],
      [6, 'note'],
    ])
    expect(lines(understand(rows, { take: [5] }))).toEqual([2, 3, 4, 5, 6])
  })

  test('one column of names, and a list of nothing but one thing, lose nobody', () => {
    expect(names(understand([['Suryani'], ['Chidi Abara'], ['Rossi, Giulia']]))).toEqual([
      '|Suryani',
      'Abara|Chidi',
      'Rossi|Giulia',
    ])
    expect(understand([['Total 5']]).entries).toHaveLength(1)
  })

  test('nobody is taken for a total because of a name', () => {
    const rows = [
      ['Last name', 'Year'],
      ['Summers', '8'],
      ['Counts', '8'],
      ['Totaro', '8'],
      ['Total', '3'],
    ]
    expect(lines(understand(rows))).toEqual([2, 3, 4])
  })

  test('blank rows are counted, from pasted text too; what is left out moves no other row', () => {
    const table = readTable('Class list\n\nLast name,First name\n\nAbara,Chidi\n,\nRossi,Giulia\n\n\n')
    if (!table.ok) throw new Error('not read')
    expect(table.value.rows).toHaveLength(7)
    expect(lines(understand(table.value.rows))).toEqual([5, 7])
  })

  test('every row that holds something is a student, the headings, or said to be left out', () => {
    const cell = fc.oneof(
      fc.constantFrom('', '', 'Name', 'Total', '12', 'a@b.example', 'E-mail', 'Rossi'),
      fc.string({ maxLength: 5 }),
    )
    fc.assert(
      fc.property(fc.array(fc.array(cell, { maxLength: 4 }), { minLength: 1, maxLength: 12 }), (rows) => {
        const understood = understandRoster(rows)
        if (!understood.ok) return
        const { entries, leftOut, heading, values } = understood.value
        const found = [
          ...entries.map(({ line }) => line),
          ...leftOut.map(({ line }) => line),
          ...(heading === null ? [] : [heading]),
        ]
        const filled = rows.flatMap((row, line) => (row.some((text) => text.replace(/[\s\p{Cc}]/gu, '')) ? [line] : []))
        expect(found.toSorted((a, b) => a - b)).toEqual(filled)
        expect(entries.length).toBeGreaterThan(0)
        expect(values.length).toBe(understood.value.roles.length)
      }),
      { numRuns: 1_000 },
    )
  })

  test.each([
    ['twice', '\uFEFF\uFEFFLast name;First name'],
    ['within quotes', '\uFEFF"\uFEFFLast name";First name'],
    ['read in another coding', 'ï»¿Last name;First name'],
    ['read in another coding, within quotes', '"ï»¿Last name";First name'],
    ['read in another coding, before what says the delimiter', 'ï»¿sep=;\nLast name;First name'],
  ])('a byte order mark %s loses no column', (_, head) => {
    const table = readTable(`${head}\nAbara;Chidi`)
    if (!table.ok) throw new Error('not read')
    expect(understand(table.value.rows)).toMatchObject({
      roles: ['last', 'first'],
      headings: ['Last name', 'First name'],
    })
  })

  test('more lines than any list has are refused before they are parted', () => {
    expect(readTable('\n'.repeat(500_000))).toMatchObject({ ok: false, problems: [{ code: 'roster-too-many-rows' }] })
  })

  test('addresses are taken out of what an address book writes around them', () => {
    const rows = [
      ['Name', 'E-mail'],
      ['Abara, Chidi', 'Chidi Abara <chidi@fennickquay.example>'],
      ['Rossi, Giulia', 'mailto:giulia@fennickquay.example'],
    ]
    expect(understand(rows).entries.map(({ email }) => email)).toEqual([
      'chidi@fennickquay.example',
      'giulia@fennickquay.example',
    ])
  })
})

describe('whole names in one cell', () => {
  test.each<[string, NameWay, string, string, boolean]>([
    ['Chidi Abara', 'first last', 'Abara', 'Chidi', false],
    ['Abara Chidi', 'last first', 'Abara', 'Chidi', false],
    ['Ludo van den Berg', 'first last', 'van den Berg', 'Ludo', false],
    ['van den Berg Ludo', 'last first', 'van den Berg', 'Ludo', false],
    ['Minh Anh Nguyễn', 'first last', 'Nguyễn', 'Minh Anh', true],
    ['Rossi Maria Giulia', 'last first', 'Rossi', 'Maria Giulia', true],
    ['MBEKI-JONES Thandi Rose', 'capitals', 'MBEKI-JONES', 'Thandi Rose', false],
    ['Thandi O’HARA', 'capitals', 'O’HARA', 'Thandi', false],
    ['Chidi Abara', 'capitals', 'Abara', 'Chidi', false],
    ['Rossi, Maria Giulia', 'first last', 'Rossi', 'Maria Giulia', false],
    ['Suryani', 'last first', '', 'Suryani', false],
  ])('%s, %s', (cell, way, last, first, isGuess) => {
    expect(partName(cell, way)).toEqual({ last, first, isGuess })
  })

  test.each<[string, readonly [string, string][], NameWay]>([
    ['nothing else is said', [['Chidi Abara', '']], 'first last'],
    [
      'addresses begin with the second word',
      [
        ['Abara Chidi', 'chidi.abara@x.example'],
        ['Rossi Giulia', 'giulia.rossi@x.example'],
      ],
      'last first',
    ],
    [
      'addresses have an initial before the last name',
      [
        ['Abara Chidi', 'c.abara@x.example'],
        ['Rossi Giulia', 'grossi@x.example'],
      ],
      'last first',
    ],
    [
      'addresses have an initial before the last name, which comes last',
      [['Chidi Abara', 'c.abara@x.example']],
      'first last',
    ],
    [
      'last names in capitals',
      [
        ['ABARA Chidi', 'chidi.abara@x.example'],
        ['Giulia ROSSI', ''],
        ['Suryani Putri', ''],
      ],
      'capitals',
    ],
    [
      'all of it in capitals',
      [
        ['CHIDI ABARA', ''],
        ['GIULIA ROSSI', ''],
      ],
      'first last',
    ],
  ])('which way they stand: %s', (_, rows, way) => {
    expect(nameWay(rows.map(([cell, email]) => ({ cell, email })))).toBe(way)
  })

  test('it is told by the heading, said once for the column with a preview, and can be said otherwise', () => {
    const rows = [
      ['Surname, first name', 'House'],
      ['Abara Chidi', 'Sail'],
      ['Nguyễn Minh Anh', 'Rope'],
      ['Suryani', 'Rope'],
    ]
    const understood = understand(rows)
    expect(names(understood)).toEqual(['Abara|Chidi', 'Nguyễn|Minh Anh', '|Suryani'])
    expect(understood.entries.map(({ partedByGuess }) => partedByGuess)).toEqual([false, true, false])
    expect(understood.parting).toEqual({
      way: 'last first',
      count: 2,
      preview: [
        { cell: 'Abara Chidi', last: 'Abara', first: 'Chidi', isGuess: false },
        { cell: 'Nguyễn Minh Anh', last: 'Nguyễn', first: 'Minh Anh', isGuess: true },
      ],
    })
    expect(names(understand(rows, { nameWay: 'first last' }))[0]).toBe('Chidi|Abara')
    expect(nameParting(['Rossi, Giulia', 'Suryani'], 'first last')).toBeNull()
  })

  test('the hardest of a long column are in the preview', () => {
    const cells = [...Array.from({ length: 20 }, (_, at) => `First${at} Last${at}`), 'Ana Maria Silva dos Santos']
    expect(nameParting(cells, 'first last')!.preview.map(({ cell }) => cell)).toContain('Ana Maria Silva dos Santos')
  })

  test.each([
    ['Nachname, Vorname', 'last first'],
    ['Name, Vorname', 'last first'],
    ['Nom et prénom', 'last first'],
    ['Apellidos y nombre', 'last first'],
    ['Imię i nazwisko', 'first last'],
    ['First and last name', 'first last'],
    ['Student (surname, forename)', 'last first'],
    ['First name', null],
    ['Nom de famille', null],
    ['Vorname', null],
  ])('the heading %s', (heading, way) => {
    expect(wholeNameWay(heading)).toBe(way)
    if (way) expect(roleOfHeading(heading)).toBe('full')
  })

  test('no letter of a name is lost, whichever way it is parted', () => {
    const word = fc
      .string({ unit: 'grapheme', minLength: 1, maxLength: 8 })
      .map((text) => text.replace(/[\s,\p{C}]/gu, '') || 'x')
    fc.assert(
      fc.property(
        fc.array(word, { minLength: 1, maxLength: 6 }),
        fc.constantFrom<NameWay>('first last', 'last first', 'capitals'),
        (words, way) => {
          const { last, first } = partName(words.join(' '), way)
          expect(`${last} ${first}`.split(' ').filter(Boolean).toSorted()).toEqual(words.toSorted())
          expect(first || last).not.toBe('')
        },
      ),
    )
  })
})
