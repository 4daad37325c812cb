import { expect, test } from '@jest/globals'
import { bundleMarks } from './bundleMarks.js'
import type { Book, MarkCell } from './markBook.js'

const NOW = Date.UTC(2026, 10, 28, 23, 30)
const book = (cells: Record<string, MarkCell>): Book<{ personId: string }> => ({
  students: [{ personId: 'ren' }, { personId: 'noa' }],
  columns: ['h1', 'h2', 'p1'].map((id) => ({
    id,
    title: id,
    number: '',
    unit: id === 'h1' ? 'Tides' : null,
    weight: 1,
  })),
  cellOf: (personId, columnId) => cells[`${personId} ${columnId}`] ?? { is: 'open' },
})

test('marks, who is excused and what is missing become results; what is open, or in words, none', () => {
  const { marked, results } = bundleMarks(
    'c1',
    book({
      'ren h1': { is: 'mark', total: 1_550, most: 2_100, step: null, isLate: false } as MarkCell,
      'noa h1': { is: 'excused' },
      'ren p1': { is: 'missing' },
      'noa p1': { is: 'words' },
    }),
    [{ id: 'h1', givenAt: Date.UTC(2026, 10, 20, 9), dueAt: Date.UTC(2026, 10, 27, 23, 30) }],
    'Asia/Tokyo',
    NOW,
  )
  expect(marked).toEqual([
    { id: 'h1', classId: 'c1', title: 'h1', unit: 'Tides', given: '2026-11-20', due: '2026-11-28', most: 21 },
    { id: 'p1', classId: 'c1', title: 'p1', unit: '', given: '2026-11-29', due: '2026-11-29', most: 0 },
  ])
  expect(results).toEqual([
    { markedId: 'h1', studentId: 'ren', day: '2026-11-29', status: 'fully graded', score: 15.5 },
    { markedId: 'h1', studentId: 'noa', day: '2026-11-29', status: 'exempt', score: null },
    { markedId: 'p1', studentId: 'ren', day: '2026-11-29', status: 'not submitted', score: null },
  ])
})
