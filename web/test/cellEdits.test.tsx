import { expect, test } from '@jest/globals'
import { act, renderHook, waitFor } from '@testing-library/react'
import { type BookRead, type CellEdit, useCellEdits } from '../src/markBook/queries'
import { type Answer, serveWith, surroundings } from './support/server'

const READ = {
  ...{ handouts: [], earlier: [], copies: [], paperMarks: [], students: [], notes: [] },
  paper: [{ id: 'p', name: 'Oral', unit: null, most: 2000 }],
} as unknown as BookRead
const edit = (to: number | null, was: number | null): CellEdit => ({
  ...{ personId: 'z', columnId: 'p' },
  was: { total: was, excused: false },
  to: { total: to, excused: false },
})

test('undo takes back what was typed last, also before it is kept, and after all that was typed', async () => {
  const held: (() => void)[] = []
  const asked = serveWith(
    ({ method }) =>
      (method === 'PUT' ? new Promise<Answer>((go) => held.push(() => go({ status: 204 }))) : { body: {} }) as Answer,
  )
  const { Around } = surroundings()
  const { result } = renderHook(() => useCellEdits('k', READ), { wrapper: Around })
  act(() => result.current.edit([edit(1000, null)]))
  act(() => result.current.edit([edit(1200, 1000)]))
  act(() => result.current.undo())
  for (let one = 0; one < 3; one++) {
    await waitFor(() => expect(held).toHaveLength(one + 1))
    act(() => held[one]!())
  }
  const sent = asked.filter(({ method }) => method === 'PUT').map(({ body }) => body as { marks: CellEdit[] })
  expect(sent.map(({ marks }) => marks[0]!.to.total)).toEqual([1000, 1200, 1000])
})
