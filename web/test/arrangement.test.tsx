import { afterEach, expect, test } from '@jest/globals'
import { act, cleanup, renderHook } from '@testing-library/react'
import { useArrangement } from '../src/class/groups/useArrangement'
import { type GroupSet, groupsKey } from '../src/class/queries'
import { serveWith, surroundings } from './support/server'

afterEach(cleanup)

const SET = {
  id: 's1',
  name: 'Crews',
  balanceColumn: null,
  version: 1,
  signUp: { open: false, opensAt: null, closesAt: null },
  groups: [
    { id: 'g1', name: 'Crane', places: null, personIds: [] },
    { id: 'g2', name: 'Lock gate', places: null, personIds: ['p1'] },
  ],
  locked: [],
  pairs: [],
} as unknown as GroupSet

test('what is read while a change is on its way does not undo it', async () => {
  let answer: (given: { body: object }) => void = () => undefined
  const asked = serveWith(() => new Promise((resolve) => (answer = resolve)))
  const { client, Around } = surroundings([[groupsKey('c1'), [SET]]])
  const { result } = renderHook(() => useArrangement('c1', SET), { wrapper: Around })
  const crane = () => client.getQueryData<GroupSet[]>(groupsKey('c1'))![0]!.groups[0]!.personIds
  const moving = result.current.move(['p1'], 'g1')
  await act(async () => {
    while (asked.length === 0) await new Promise((resolve) => setTimeout(resolve, 0))
  })
  expect(crane()).toEqual(['p1'])
  // An answer from before the change comes in.
  client.setQueryData(groupsKey('c1'), [SET])
  await act(async () => {
    answer({ body: { version: 2 } })
    await moving
  })
  expect(crane()).toEqual(['p1'])
})
