import { expect, test } from '@jest/globals'
import type { BoardRow } from '../live/protocol.js'
import { boardTable, gridTable } from './boardTable.js'

const HOUR = 3_600_000
const ROW = {
  copyId: 'k1',
  way: 'one each',
  title: 'Costa, Ana – Tides',
  holders: [{ personId: 'p1', first: 'Ana', last: 'Costa', isGuest: false, guestOf: null }],
  places: [],
  state: 'submitted',
  pensDown: true,
  pensDownFrom: null,
  pensDownAtDue: false,
  setAside: false,
  dueAt: 5 * HOUR,
  submittedAt: 6 * HOUR,
  answered: 1,
  spaces: 2,
  words: 12,
  sittings: 3,
  questions: 0,
  lateWritings: 1,
  lastActivityAt: null,
  comments: { staff: 1, holders: 2, peers: 0, done: 1, onOthers: 4, spaces: [], asked: [] },
  progress: { one: { share: 1, words: 12, right: true }, two: { share: 0.5, words: 0 } },
} as unknown as BoardRow

test('a board is a table: its head, and of each copy what the screen shows, numbers as numbers', () => {
  const [head, line] = boardTable([ROW], {
    fields: [{ label: 'Crew', valueOf: (id) => (id === 'p1' ? 'Crane' : '') }],
    time: (at) => `hour ${at / HOUR}`,
    linkOf: (id) => `/copies/${id}`,
    now: 9 * HOUR,
  })
  const cells = Object.fromEntries(head!.map((name, at) => [name, line![at]]))
  expect(line).toHaveLength(head!.length)
  expect(cells).toMatchObject({
    'Copy of': 'Costa, Ana',
    'Held by': 'Ana Costa',
    State: 'submitted',
    Pens: 'down',
    Answered: 1,
    Words: 12,
    Sittings: 3,
    'On copies of others': 4,
    'Last change': '',
    Submitted: 'hour 6',
    'Late by, minutes': 60,
    Crew: 'Crane',
    Link: '/copies/k1',
  })
})

test('the grid is a table of words', () => {
  const spaces = [
    { id: 'one', label: 'Answer 1', of: null },
    { id: 'two', label: 'Answer 2', of: null },
    { id: 'three', label: 'Answer 3', of: null },
  ]
  expect(gridTable([ROW], spaces)).toEqual([
    ['Copy of', 'Answer 1', 'Answer 2', 'Answer 3'],
    ['Costa, Ana', 'right', 'begun', 'empty'],
  ])
})
