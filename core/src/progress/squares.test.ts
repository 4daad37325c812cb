import { expect, test } from '@jest/globals'
import { partAddressOf } from '../worksheet/sections.js'
import { squaresOf } from './squares.js'

const ANA = { id: '00000000-0000-4000-8000-000000000001', name: 'Ana Costa' }
const BEN = { id: '00000000-0000-4000-8000-000000000002', name: 'Ben Lund' }
const SPACES = [
  { id: 'title', label: 'Title', of: null },
  { id: 'seen', label: 'What I saw', of: 'member' },
  { id: 'heard', label: 'What I heard', of: 'member' },
] as const
const DONE = { share: 1, words: 3 }

test('a shared copy has a square for each place, as far as its own spaces are', () => {
  const progress = {
    title: DONE,
    [partAddressOf('seen', ANA.id)]: DONE,
    [partAddressOf('heard', ANA.id)]: DONE,
    [partAddressOf('seen', BEN.id)]: DONE,
  }
  expect(squaresOf(progress, SPACES, [ANA, BEN], [])).toEqual({
    squares: [
      { id: 'title', label: 'Title', share: 1 },
      { id: ANA.id, label: 'Ana Costa', share: 1 },
      { id: BEN.id, label: 'Ben Lund', share: 0.5 },
    ],
    places: 2,
  })
})

test('a copy of one, and a worksheet without such sections, has a square for each space', () => {
  const alone = squaresOf({ [partAddressOf('seen', ANA.id)]: DONE }, SPACES, [ANA], [])
  expect(alone.places).toBe(0)
  expect(alone.squares.map(({ share }) => share)).toEqual([0, 1, 0])
  expect(squaresOf({}, SPACES.slice(0, 1), [ANA, BEN], [ANA, BEN]).squares).toHaveLength(1)
})

test('sections for each group have a square for each group', () => {
  const spaces = [{ id: 'seen', label: 'Seen', of: 'group' }] as const
  expect(squaresOf({}, spaces, [ANA, BEN], [ANA, BEN]).squares.map(({ label }) => label)).toEqual([
    'Ana Costa',
    'Ben Lund',
  ])
})
