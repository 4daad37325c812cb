import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { column, literal, token } from './pattern.js'
import { readTyped, writeTyped } from './typed.js'

const COLUMNS = ['Reading band', 'Tutor']

describe('a typed pattern', () => {
  test('tokens stand in brackets, in any case and spacing; a doubled bracket is a bracket', () => {
    expect(readTyped('[last  NAME], [First name] – [Title] [[draft]] [reading band]', COLUMNS)).toEqual({
      parts: [
        token('last'),
        literal(', '),
        token('first'),
        literal(' – '),
        token('title'),
        literal(' [draft] '),
        column('Reading band'),
      ],
      problems: [],
    })
  })

  test.each<[string, string, string | null]>([
    ['[Lastname] x', 'token-unknown', 'Last name'],
    ['[Frist name]', 'token-unknown', 'First name'],
    ['[Titel]', 'token-unknown', 'Title'],
    ['[Tutors]', 'token-unknown', 'Tutor'],
    ['[Last]', 'token-unknown', 'Last name'],
    ['[Weather]', 'token-unknown', null],
    ['[Last name, [Title]', 'token-open', 'Last name'],
    ['[First name', 'token-open', 'First name'],
    ['Title]', 'token-close', null],
    ['<last name> – x', 'token-marks', 'Last name'],
    ['{Title}', 'token-marks', 'Title'],
    ['{{first name}}', 'token-marks', 'First name'],
    ['%group%', 'token-marks', 'Group'],
  ])('%s is explained', (text, code, meant) => {
    const { problems, parts } = readTyped(text, COLUMNS)
    expect(problems[0]).toMatchObject({ code, meant })
    // What could not be read is still there.
    const words = text.replace(/[[\]]/g, '')
    expect(
      parts.map((part) => (part.kind === 'text' ? part.text.replace(/[[\]]/g, '') : '')).join('').length,
    ).toBeLessThanOrEqual(words.length)
    expect(parts.length).toBeGreaterThan(0)
  })

  test('what is written is read back as the same pattern', () => {
    const part = fc.oneof(
      fc
        .constantFrom('last', 'first', 'group', 'members', 'title', 'number', 'class', 'unit', 'date')
        .map((name) => token(name as 'last')),
      fc.constantFrom(...COLUMNS).map(column),
      fc.string({ unit: fc.constantFrom('[', ']', 'a', ' ', '–', '🦭'), minLength: 1, maxLength: 6 }).map(literal),
    )
    const joined = fc.array(part, { maxLength: 8 }).map((parts) =>
      parts.reduce<typeof parts>((all, next) => {
        const last = all.at(-1)
        if (last?.kind === 'text' && next.kind === 'text') return [...all.slice(0, -1), literal(last.text + next.text)]
        return [...all, next]
      }, []),
    )
    fc.assert(
      fc.property(joined, (pattern) => {
        expect(readTyped(writeTyped(pattern), COLUMNS)).toEqual({ parts: pattern, problems: [] })
      }),
    )
  })

  test('any text is read, and nothing typed is lost', () => {
    fc.assert(
      fc.property(
        fc.string({ unit: fc.constantFrom('[', ']', '<', '>', '%', 'T', 'i', 't', 'l', 'e', ' '), maxLength: 30 }),
        (text) => {
          const { parts } = readTyped(text, COLUMNS)
          const squeeze = (shown: string) => shown.replace(/[[\]\s]/g, '').toLowerCase()
          expect(squeeze(writeTyped(parts))).toBe(squeeze(text))
        },
      ),
    )
  })
})
