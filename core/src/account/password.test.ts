import { expect, test } from '@jest/globals'
import { checkPassword } from './password.js'

const OWN = ['Zofia', 'Dąbrowska', 'zofia.dabrowska@fennickquay.example']

test.each([
  'four grey gulls on a wall',
  'høstlig-båt-73',
  '鷗鷗海海港港塔塔燈燈',
  'password of my grandmother',
  'Zofia likes rope tests',
])('"%s" may be chosen', (password) => {
  expect(checkPassword(password, OWN)).toEqual({ ok: true, value: password })
})

test.each([
  ['short', 'harbour'],
  ['one sign over and over', 'aaaaaaaaaaaaaaa'],
  ['expected', 'Password123'],
  ['digits in a row', '1234567890'],
  ['the own name with a number', 'Dąbrowska2026'],
  ['the own address', 'zofia.dabrowska@fennickquay.example'],
  ['too long', 'abcdefghij'.repeat(21)],
])('what is %s may not, and one sentence says why', (_, password) => {
  const outcome = checkPassword(password, OWN)
  expect(outcome).toMatchObject({
    ok: false,
    problems: [{ field: 'password', sentence: expect.stringMatching(/\.$/) }],
  })
})
