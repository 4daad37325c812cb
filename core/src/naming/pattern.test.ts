import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import {
  COPY_NAME_LIMIT,
  DEFAULT_PATTERN,
  NAME_TOKENS,
  type NameToken,
  checkPattern,
  literal,
  nameFrom,
  nameKey,
  resolveClashes,
  token,
} from './pattern.js'

const values = {
  last: 'Abara',
  first: 'Chidi',
  group: 'Lock gate',
  members: 'Chidi Abara',
  title: 'Reading a tide table',
  number: '12',
  class: '8 Heron',
  unit: 'Tides',
  date: '3 Dec',
}

describe('names from a pattern', () => {
  test('the default is last name, first name and title', () => {
    expect(nameFrom(DEFAULT_PATTERN, values)).toBe('Abara, Chidi – Reading a tide table')
  })

  test('every token gives its value', () => {
    for (const name of Object.keys(NAME_TOKENS) as NameToken[])
      expect(nameFrom([token(name)], values)).toBe(values[name])
  })

  test('a token without a value takes its comma with it', () => {
    expect(nameFrom(DEFAULT_PATTERN, { ...values, last: '' })).toBe('Chidi – Reading a tide table')
    expect(nameFrom(DEFAULT_PATTERN, { ...values, first: '' })).toBe('Abara – Reading a tide table')
    const titleFirst = [token('title'), literal(' – '), token('last'), literal(', '), token('first')]
    expect(nameFrom(titleFirst, { ...values, last: '' })).toBe('Reading a tide table – Chidi')
    expect(nameFrom(titleFirst, { ...values, first: '' })).toBe('Reading a tide table – Abara')
  })

  test('typed codes are text, not tokens', () => {
    expect(nameFrom([literal('{last} %FIRST% ['), token('class'), literal(']')], values)).toBe(
      '{last} %FIRST% [8 Heron]',
    )
  })

  test('what file systems cannot hold is replaced', () => {
    expect(nameFrom([literal('../a:b*c?"<>|'), token('last')], values)).toBe('-a-b-c-----Abara')
  })

  test('a very long name is shortened so that each part still says something', () => {
    const name = nameFrom(DEFAULT_PATTERN, { ...values, last: 'L'.repeat(300) })
    expect(name.length).toBeLessThanOrEqual(COPY_NAME_LIMIT)
    expect(name).toContain('Chidi')
    expect(name).toContain('Reading a tide table')
  })

  test('any values give a safe name within the limit', () => {
    const text = fc.string({ unit: 'binary', maxLength: 320 })
    const any = fc.record({ last: text, first: text, title: text, class: text, date: text })
    fc.assert(
      fc.property(
        any,
        fc.array(
          fc.oneof(fc.constantFrom(...(Object.keys(NAME_TOKENS) as NameToken[])).map(token), text.map(literal)),
          { maxLength: 8 },
        ),
        (given, pattern) => {
          const name = nameFrom(pattern, given)
          expect([...new Intl.Segmenter().segment(name)].length).toBeLessThanOrEqual(COPY_NAME_LIMIT)
          expect(name).not.toMatch(/[\\/:*?"<>|\p{Cc}]/u)
          expect(name).not.toMatch(/^[. ]|[. ]$/)
        },
      ),
      { numRuns: 300 },
    )
  })
})

describe('clashes', () => {
  test('the first keeps its name, the others are numbered past names that exist', () => {
    expect(resolveClashes(['A', 'a', 'A', 'A (2)'], 'Copy')).toEqual(['A', 'a (3)', 'A (4)', 'A (2)'])
  })

  test('names never clash, whatever the roster', () => {
    const name = fc.oneof(
      fc.string({ unit: 'grapheme', maxLength: 6 }),
      fc.constantFrom('', 'A', 'a', 'Å', 'A\u030a', 'ﬁ', 'fi', 'A (2)', 'a (2)', 'A (2) (2)'),
    )
    fc.assert(
      fc.property(fc.array(name, { maxLength: 40 }), (names) => {
        const resolved = resolveClashes(names, 'Copy')
        expect(resolved).toHaveLength(names.length)
        expect(new Set(resolved.map(nameKey)).size).toBe(names.length)
        resolved.forEach((made, at) => expect(made.startsWith(names[at] || 'Copy')).toBe(true))
      }),
      { numRuns: 500 },
    )
  })

  test('2,000 equal names are told apart', () => {
    expect(new Set(resolveClashes(new Array<string>(2_000).fill('Tide'), 'Copy')).size).toBe(2_000)
  })
})

test('a pattern from outside is read strictly, and what is wrong is said with its place', () => {
  expect(
    checkPattern([
      { kind: 'token', token: 'last' },
      { kind: 'text', text: ' – ' },
    ]),
  ).toEqual({ ok: true, value: [token('last'), literal(' – ')] })
  expect(checkPattern([{ kind: 'token', token: 'constructor' }])).toMatchObject({
    ok: false,
    problems: [{ field: 'pattern.0' }],
  })
  for (const input of [null, 'last', [null], [{ kind: 'text', text: 'x'.repeat(101) }]])
    expect(checkPattern(input).ok).toBe(false)
})

test.each(['CON', 'aux', 'Nul', 'COM1', 'lpt9', 'con.txt', 'Aux. Tides'])(
  '%s is the name of a device on one system',
  (name) => {
    const made = nameFrom([token('title')], { ...values, title: name })
    expect(made).not.toMatch(/^(con|prn|aux|nul|com\d|lpt\d)(\.|$)/i)
    expect(made.toLowerCase()).toContain(name.slice(0, 3).toLowerCase())
  },
)

test('a name that only begins like that of a device stays', () => {
  expect(nameFrom([token('title')], { ...values, title: 'Conger eels' })).toBe('Conger eels')
})
