import { expect, test } from '@jest/globals'
import fc from 'fast-check'
import { heapsOf } from './heaps.js'

const of = (...texts: string[]) => texts.map((text) => ({ text, right: null }))

test.each<[string, string[], [string, number][]]>([
  [
    'words however they are spelled and spaced',
    ['Slack  water', 'slack water.', 'ebb'],
    [
      ['Slack  water', 2],
      ['ebb', 1],
    ],
  ],
  [
    'case does not matter, accents do',
    ['MARÉE', 'marée', 'maree'],
    [
      ['MARÉE', 2],
      ['maree', 1],
    ],
  ],
  [
    'numbers by what they come to',
    ['3,70', '3.7', '3.8'],
    [
      ['3,70', 2],
      ['3.8', 1],
    ],
  ],
  [
    'signs alone',
    ['?', '!', '?'],
    [
      ['?', 2],
      ['!', 1],
    ],
  ],
  [
    'other scripts',
    ['مد', 'مد ', 'прилив'],
    [
      ['مد', 2],
      ['прилив', 1],
    ],
  ],
])('alike answers lie on one heap: %s', (_, texts, heaps) => {
  expect(heapsOf(of(...texts)).map(({ text, answers }) => [text, answers.length])).toEqual(heaps)
})

test('a heap is called as most of it write it, and is right only where all of it is', () => {
  const [heap] = heapsOf([
    { text: 'Ebb', right: true },
    { text: 'ebb', right: true },
    { text: 'ebb', right: false },
  ])
  expect(heap).toMatchObject({ text: 'ebb', right: null })
})

test('every answer lies on one heap, and larger heaps come first', () => {
  fc.assert(
    fc.property(fc.array(fc.constantFrom('a', 'A ', 'b', '1', '1.0', '', '…')), (texts) => {
      const heaps = heapsOf(of(...texts))
      expect(heaps.reduce((sum, { answers }) => sum + answers.length, 0)).toBe(texts.length)
      const sizes = heaps.map(({ answers }) => answers.length)
      expect(sizes).toEqual(sizes.toSorted((a, b) => b - a))
    }),
  )
})
