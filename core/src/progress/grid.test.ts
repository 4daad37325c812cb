import { expect, test } from '@jest/globals'
import type { BoardRow } from '../live/protocol.js'
import { partAddressOf } from '../worksheet/sections.js'
import { gridHeads, gridLines } from './grid.js'

const ANA = '00000000-0000-4000-8000-000000000001'
const BEN = '00000000-0000-4000-8000-000000000002'
const holder = (personId: string, first: string) => ({ personId, first, last: 'Costa', isGuest: false, guestOf: null })
const row = (more: Partial<BoardRow>): BoardRow =>
  ({
    copyId: 'k',
    holders: [holder(ANA, 'Ana')],
    places: [],
    progress: {},
    comments: { staff: 0, holders: 0, peers: 0, done: 0, onOthers: 0, spaces: [], asked: [] },
    ...more,
  }) as BoardRow

const ONE = { id: 'one', label: 'Answer 1', of: null }
const OWN = { id: 'own', label: 'Answer 2', of: 'member' } as const

test('a copy is a line with a cell for each answer: how far, whether right, what is said of it', () => {
  const [line, ...others] = gridLines(
    row({
      progress: { one: { share: 1, words: 2, at: 7, right: false }, own: { share: 0.5, words: 0 } },
      comments: { staff: 1, holders: 1, peers: 0, done: 0, onOthers: 0, spaces: ['one', 'own'], asked: ['own'] },
    }),
    [ONE, { id: 'own', label: 'Answer 2', of: null }],
  )
  expect(others).toEqual([])
  expect(line).toMatchObject({
    name: null,
    cells: [
      { address: 'one', share: 1, right: false, said: 'said', at: 7 },
      { address: 'own', share: 0.5, right: null, said: 'asked', at: undefined },
    ],
  })
})

test('in a copy with places each place is a line, with what is there once in every one of them', () => {
  const progress = {
    one: { share: 1, words: 1 },
    [partAddressOf('own', ANA)]: { share: 1, words: 3 },
  }
  const shared = row({ holders: [holder(ANA, 'Ana'), holder(BEN, 'Ben')], progress })
  const lines = gridLines(shared, [ONE, OWN])
  expect(lines.map(({ name, cells }) => [name, cells.map(({ share }) => share)])).toEqual([
    ['Costa, Ana', [1, 1]],
    ['Costa, Ben', [1, 0]],
  ])
  expect(new Set(lines.map(({ key }) => key)).size).toBe(2)
  // Who has it alone has a place in it too, and no name is needed.
  expect(gridLines(row({ progress }), [ONE, OWN])).toMatchObject([{ name: null, cells: [{ share: 1 }, { share: 1 }] }])
})

test('what is repeated for groups is, in the line of a member, as far as all its parts', () => {
  const crew = { id: BEN, name: 'Crane' }
  const lines = gridLines(
    row({
      holders: [holder(ANA, 'Ana'), holder(BEN, 'Ben')],
      places: [crew, { id: ANA, name: 'Lock' }],
      progress: {
        [partAddressOf('all', BEN)]: { share: 1, words: 1 },
        [partAddressOf('all', ANA)]: { share: 0.5, words: 0 },
      },
    }),
    [OWN, { id: 'all', label: 'Answer 3', of: 'group' }],
  )
  expect(lines.map(({ cells }) => cells[1]!.share)).toEqual([0.75, 0.75])
})

test('the head of a column says how the lines do', () => {
  const lines = [true, false, undefined].flatMap((right, at) =>
    gridLines(
      row({
        copyId: `k${at}`,
        progress: { one: { share: at === 2 ? 0.5 : 1, words: 1, ...(right !== undefined && { right }) } },
      }),
      [ONE],
    ),
  )
  expect(gridHeads(lines, [ONE])).toEqual([{ answered: 2, right: 1, wrong: 1 }])
})
