import { describe, expect, test } from '@jest/globals'
import { renderHook } from '@testing-library/react'
import type { GroupSet, Student } from '../src/class/queries'
import { type ColumnFilter, type Sort, signInWord, useRosterView } from '../src/class/roster/useRosterView'

const student = (personId: string, first: string, last: string, more: Partial<Student> = {}): Student => ({
  personId,
  first,
  last,
  email: null,
  number: null,
  cells: {},
  joinedAt: 0,
  leftAt: null,
  canSignIn: false,
  invitedAt: null,
  ...more,
})

const STUDENTS = [
  student('a', 'Chidi', 'Abara', { cells: { band: 'B', tags: 'choir, boat club' } }),
  student('b', 'Zofia', 'Dąbrowska', { cells: { band: 'A' }, number: 'FQ-2' }),
  student('c', '', 'Suryani', { cells: { band: '' } }),
  student('d', 'Aksel', 'Ørn', { cells: { band: 'A10' }, number: 'FQ-10' }),
  student('e', 'Mei', 'Sato', { leftAt: 5 }),
]
const SETS: GroupSet[] = [
  {
    id: 's',
    name: 'Crews',
    balanceColumn: null,
    version: 1,
    different: [],
    signUp: { open: false, opensAt: null, closesAt: null },
    groups: [
      { id: 'g', name: 'Pier', places: null, personIds: ['a', 'd'] },
      { id: 'h', name: 'Crane', places: null, personIds: ['b'] },
    ],
    locked: [],
    pairs: [],
  },
]

interface Wish {
  students?: readonly Student[]
  find?: string
  filter?: ColumnFilter | null
  sort?: Sort | null
  withLeft?: boolean
}

function view(first: Wish = {}) {
  const { result, rerender } = renderHook(
    ({ students = STUDENTS, find = '', filter = null, sort = null, withLeft = false }: Wish) =>
      useRosterView(students, SETS, { find, filter, sort, withLeft }),
    { initialProps: first },
  )
  return { ids: () => result.current.map(({ personId }) => personId).join(''), rows: () => result.current, rerender }
}

describe('what the roster grid shows', () => {
  test('those who are in the class, and those who left if they are wanted', () => {
    const { ids, rerender } = view()
    expect(ids()).toBe('abcd')
    rerender({ withLeft: true })
    expect(ids()).toBe('abcde')
  })

  test.each<[string, string]>([
    ['dabr', 'b'],
    ['fq-10', 'd'],
    ['boat', 'a'],
    ['zofia dab', 'b'],
    ['nobody', ''],
  ])('"%s" finds %s', (find, found) => {
    expect(view({ find }).ids()).toBe(found)
  })

  test.each<[string, Sort, string]>([
    ['a column, empty cells last', { field: 'band', descending: false }, 'bdac'],
    ['a column downwards, empty cells last', { field: 'band', descending: true }, 'adbc'],
    ['numbers by their value', { field: 'number', descending: false }, 'bdac'],
    ['last names by the locale', { field: 'last', descending: false }, 'abdc'],
    ['groups', { field: 'set s', descending: false }, 'badc'],
  ])('sorted by %s', (_, sort, order) => {
    expect(view({ sort }).ids()).toBe(order)
  })

  test.each<[string, ColumnFilter, string]>([
    ['a value', { field: 'band', value: 'a' }, 'b'],
    ['one tag of several', { field: 'tags', value: 'Boat Club' }, 'a'],
    ['nothing', { field: 'band', value: '' }, 'c'],
    ['a group', { field: 'set s', value: 'Pier' }, 'ad'],
  ])('only rows with %s', (_, filter, found) => {
    expect(view({ filter }).ids()).toBe(found)
  })

  test('a row keeps its place while it is corrected, and goes to its new one when the list is sorted again', () => {
    const sort = { field: 'last', descending: false }
    const { ids, rows, rerender } = view({ sort })
    const corrected = STUDENTS.map((one) => (one.personId === 'a' ? { ...one, last: 'Zwart' } : one))
    rerender({ sort, students: corrected })
    expect(ids()).toBe('abdc')
    expect(rows()[0]!.last).toBe('Zwart')
    rerender({ sort: null, students: corrected })
    rerender({ sort, students: corrected })
    expect(ids()).toBe('bdca')
  })

  test('who comes stands at the end, who goes is gone', () => {
    const sort = { field: 'last', descending: false }
    const { ids, rerender } = view({ sort })
    rerender({ sort, students: [...STUDENTS.filter(({ personId }) => personId !== 'b'), student('f', 'New', 'Aa')] })
    expect(ids()).toBe('adcf')
  })

  test('sign-in in a word', () => {
    expect(
      [
        STUDENTS[4]!,
        { ...STUDENTS[0]!, canSignIn: true },
        { ...STUDENTS[0]!, invitedAt: 1 },
        { ...STUDENTS[0]!, email: 'a@fennickquay.example' },
        STUDENTS[0]!,
      ].map(signInWord),
    ).toEqual(['left the class', 'ready', 'invited', 'no password yet', 'needs a card'])
  })
})
