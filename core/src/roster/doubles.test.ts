import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { slipsBetween } from '../groups/twins.js'
import { DOUBLES_LIMIT, possibleDoubles } from './doubles.js'

const person = (name: string, role = 'student') => {
  const [first, ...last] = name.split(' ')
  return { first: first!, last: last.join(' '), role }
}
const pairs = (...names: string[]) =>
  possibleDoubles(names.map((name) => person(name))).map(({ one, two, reason }) => [names[one], names[two], reason])

describe('who may be there twice', () => {
  test.each([
    ['Zofia Dąbrowska', 'Zofia Dabrowska', 'the same name'],
    ['Zofia Dąbrowska', 'DĄBROWSKA Zofia', 'the same name'],
    ['Finn O’Hara', "finn o'hara", 'the same name'],
    ['Giulia Rossi', 'Guilia Rossi', 'nearly the same name'],
    ['Giulia Rossi', 'Rossi Gulia', 'nearly the same name'],
    ['Giulia Rossi', 'Giuliaa Rossi', 'nearly the same name'],
    ['Mei Sato', 'Mei Saso', 'nearly the same name'],
    ['Thandi Mbeki-Jones', 'Thandi Mbekijones', 'nearly the same name'],
  ])('%s and %s: %s', (one, two, reason) => {
    expect(pairs(one, 'Chidi Abara', two)).toEqual([[one, two, reason]])
  })

  test.each([
    ['Marco Rossi', 'Giulia Rossi'],
    ['Maria Jensen', 'Marie Hansen'],
    ['Ann B', 'Anna C'],
    ['Bo Li', 'Bo Lu'],
    ['Kim 1', 'Kim 2'],
  ])('%s and %s are two', (one, two) => {
    expect(pairs(one, two)).toEqual([])
  })

  test('a teacher and a student of one name are two, and nobody without a name is anybody', () => {
    expect(possibleDoubles([person('Mei Sato'), person('Mei Sato', 'teacher')])).toEqual([])
    expect(possibleDoubles([person(''), person('')])).toEqual([])
  })

  test('three of one name are three pairs: that two of them are two people says nothing of the third', () => {
    expect(pairs('Mei Sato', 'Mei Sato', 'Sato Mei')).toHaveLength(3)
  })

  test('whoever is one slip away is found, as comparing each with each finds them', () => {
    const letter = fc.constantFrom('a', 'b', 'c')
    const word = fc.array(letter, { minLength: 4, maxLength: 6 }).map((letters) => letters.join(''))
    fc.assert(
      fc.property(fc.uniqueArray(word, { minLength: 2, maxLength: 25 }), (words) => {
        const people = words.map((last) => ({ first: 'Xx', last, role: 'student' }))
        const found = new Set(possibleDoubles(people).map(({ one, two }) => `${one} ${two}`))
        const near = words.flatMap((one, at) =>
          words.flatMap((two, other) =>
            other > at && slipsBetween(`xx${one}`, `xx${two}`, 1) <= 1 ? [`${at} ${other}`] : [],
          ),
        )
        expect([...found].toSorted()).toEqual(near.toSorted())
      }),
      { numRuns: 300 },
    )
  })

  test('of thousands who are all alike there are no more pairs than anybody reads, and not each with each', () => {
    const same = Array.from({ length: 20_000 }, () => person('Mei Sato'))
    expect(possibleDoubles(same)).toHaveLength(DOUBLES_LIMIT)
    const near = Array.from({ length: 20_000 }, (_, at) => person(`Mei Sa${String.fromCodePoint(0x4e00 + at)}to`))
    expect(possibleDoubles(near)).toHaveLength(DOUBLES_LIMIT)
  })
})
