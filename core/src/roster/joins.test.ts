import { expect, test } from '@jest/globals'
import { type KnownIdentity, joinsOf } from './joins.js'

const row = (email: string, number: string, personId: string | null = null) => ({
  row: { last: 'Abara', first: 'Chidi', email, number },
  personId,
})
const known = (personId: string, email: string | null, number: string | null, isStudent = true): KnownIdentity => ({
  personId,
  isStudent,
  emailKey: email,
  numberKey: number,
})
const CHIDI = 'chidi@fennickquay.example'
const codes = (rows: ReturnType<typeof row>[], people: KnownIdentity[]) => {
  const joins = joinsOf(rows, people)
  return joins.ok ? [] : joins.problems.map(({ code, field }) => `${field} ${code}`)
}

test('a new row is about whoever of the school has its e-mail or its number', () => {
  const joins = joinsOf(
    [row(CHIDI.toUpperCase(), ''), row('', '12'), row('new@fennickquay.example', '')],
    [known('p1', CHIDI, null), known('p2', null, '12')],
  )
  expect(joins).toEqual({
    ok: true,
    value: new Map([
      [0, 'p1'],
      [1, 'p2'],
    ]),
  })
})

test('a row about somebody of the class joins nobody', () => {
  expect(joinsOf([row(CHIDI, '12', 'p1')], [known('p1', CHIDI, '12')])).toEqual({ ok: true, value: new Map() })
})

test.each<[string, ReturnType<typeof row>[], KnownIdentity[], string[]]>([
  ['would rename a colleague', [row(CHIDI, '')], [known('t1', CHIDI, null, false)], ['rows.0.email email-of-staff']],
  [
    'would rename a colleague, by number',
    [row('', '12')],
    [known('t1', null, '12', false)],
    ['rows.0.number email-of-staff'],
  ],
  [
    'takes what is somebody else’s',
    [row(CHIDI, '12', 'p1')],
    [known('p2', CHIDI, null), known('p3', null, '12')],
    ['rows.0.email email-taken', 'rows.0.number number-taken'],
  ],
  [
    'is about two people',
    [row(CHIDI, '12')],
    [known('p1', CHIDI, null), known('p2', null, '12')],
    ['rows.0.number two-people'],
  ],
  [
    'is about somebody another row is about',
    [row(CHIDI, ''), row('', '12')],
    [known('p1', CHIDI, '12')],
    ['rows.1.email two-people'],
  ],
  [
    'is about somebody who is in the class already, by another row',
    [row('', '', 'p1'), row(CHIDI, '')],
    [known('p1', CHIDI, null)],
    ['rows.1.email two-people'],
  ],
])('a row that %s is told, at its place', (_, rows, people, found) => {
  expect(codes(rows, people)).toEqual(found)
})
