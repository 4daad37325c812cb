import { afterEach, beforeEach, describe, expect, test } from '@jest/globals'
import { act, cleanup, fireEvent, render, screen, waitFor, within } from '@testing-library/react'
import { type GroupWish, makeGroups, moved } from '@gavrin/core'
import { GroupBoard } from '../src/class/groups/GroupBoard'
import {
  type ClassOpened,
  type GroupSet,
  type Student,
  groupsKey,
  useClassWatch,
  useGroupSets,
} from '../src/class/queries'
import { type Answer, type Asked, serveWith, surroundings } from './support/server'

const student = (personId: string, first: string, band = ''): Student => ({
  personId,
  first,
  last: 'L',
  email: null,
  number: null,
  cells: { band },
  joinedAt: 0,
  leftAt: null,
  canSignIn: true,
  invitedAt: null,
})
const STUDENTS = [student('a', 'Ada', 'A'), student('b', 'Bo', 'B'), student('c', 'Cy', 'A'), student('d', 'Di')]
const OPENED: ClassOpened = {
  id: 'k',
  name: '8 Heron',
  subject: '',
  year: '',
  ink: 'plum',
  role: 'lead',
  archived: false,
  staff: [],
  units: [],
  columns: [{ id: 'band', name: 'Reading band', kind: 'text' }],
  classmatesComment: true,
  staffShown: true,
  helpersMark: false,
  carriedFrom: null,
}
const SET: GroupSet = {
  id: 's',
  name: 'Survey crews',
  balanceColumn: 'band',
  version: 1,
  different: [],
  signUp: { open: false, opensAt: null, closesAt: null },
  groups: [
    { id: 'g1', name: 'Crane', places: null, personIds: ['a', 'b'] },
    { id: 'g2', name: 'Cranes', places: 3, personIds: ['c'] },
  ],
  locked: [],
  pairs: [{ a: 'a', b: 'b', kind: 'apart' }],
}

/** The live connection, that says what somebody changed. */
class LiveSocket {
  static readonly OPEN = 1
  static last: LiveSocket | null = null
  readyState = 1
  onopen: (() => void) | null = null
  onmessage: ((event: { data: string }) => void) | null = null
  constructor() {
    LiveSocket.last = this
  }
  send(): void {}
  close(): void {
    this.readyState = 3
  }
}
const groupsChanged = () =>
  act(() =>
    LiveSocket.last!.onmessage!({ data: JSON.stringify({ type: 'class changed', classId: 'k', part: 'groups' }) }),
  )

function Board({ may }: { may: boolean }) {
  const sets = useGroupSets('k')
  useClassWatch('k')
  return <GroupBoard opened={OPENED} students={STUDENTS} set={sets.data![0]!} may={may} remove={() => undefined} />
}

/** The board with a server that counts versions. */
function opened({
  may = true,
  set = SET,
  list = () => [set],
  answer,
}: { may?: boolean; set?: GroupSet; list?: () => GroupSet[]; answer?: (asked: Asked) => Answer } = {}) {
  let version = 1
  const asked = serveWith((one) =>
    one.method === 'GET' ? { body: list() } : (answer?.(one) ?? { body: { version: ++version } }),
  )
  const { client, Around } = surroundings([[groupsKey('k'), [set]]])
  render(<Board may={may} />, { wrapper: Around })
  return { asked: () => asked.filter(({ method }) => method !== 'GET'), client }
}

const group = (name: string) => screen.getByRole('region', { name })
const names = (region: HTMLElement) => [...region.querySelectorAll('[data-person]')].map((name) => name.textContent)
const chip = (name: string) => screen.getByRole('button', { name })
const press = (name: string, key: string, more: object = {}) => fireEvent.keyDown(chip(name), { key, ...more })

beforeEach(() => {
  Element.prototype.scrollIntoView = () => undefined
  Object.assign(globalThis, { WebSocket: LiveSocket })
})
afterEach(cleanup)

describe('the group board', () => {
  test('what is read while a move is on its way does not take it back: nothing jumps, and it is read after it', async () => {
    let arrive = () => undefined as void
    const { client, asked } = opened({
      answer: () => new Promise((resolve) => (arrive = () => resolve({ body: { version: 2 } }))),
    })
    press('Ada L', '2')
    await waitFor(() => expect(asked()).toHaveLength(1))
    expect(names(group('Cranes'))).toContain('Ada L')
    const seen: string[][] = []
    const stop = client
      .getQueryCache()
      .subscribe(() => seen.push(client.getQueryData<GroupSet[]>(groupsKey('k'))![0]!.groups[1]!.personIds.slice()))
    // Of the change before this one: the server still says what was.
    groupsChanged()
    await act(() => new Promise((resolve) => setTimeout(resolve)))
    expect(names(group('Cranes'))).toContain('Ada L')
    expect(seen.every((ids) => ids.includes('a'))).toBe(true)
    stop()
    await act(async () => {
      arrive()
      await Promise.resolve()
    })
    // Then it is read: here the server has it otherwise.
    await waitFor(() => expect(names(group('Cranes'))).not.toContain('Ada L'))
  })

  test('shows size and balance, who is in none, and what to look at', () => {
    opened()
    expect(group('Crane').textContent).toContain('2 · A B')
    expect(group('Cranes').textContent).toContain('1 of 3 · A')
    expect(names(group('In no group'))).toEqual(['Di L'])
    expect(screen.getByText(/Crane and Cranes look like one group \(a plural\)\./)).toBeTruthy()
    expect(screen.getByText('Ada L and Bo L are to be apart, and both are in Crane.')).toBeTruthy()
    expect(within(group('Cranes')).getByText('one alone')).toBeTruthy()
  })

  test('a number moves to that group, nought to none, and undo brings back', async () => {
    const { asked } = opened()
    press('Di L', '2')
    await waitFor(() => expect(names(group('Cranes'))).toEqual(['Cy L', 'Di L']))
    expect(asked()[0]).toEqual({
      method: 'POST',
      path: 'group-sets/s/moves',
      body: { personIds: ['d'], groupId: 'g2' },
    })
    press('Di L', '0')
    await waitFor(() => expect(names(group('In no group'))).toEqual(['Di L']))
    press('Di L', '9')
    press('Di L', 'z', { ctrlKey: true })
    await waitFor(() => expect(names(group('Cranes'))).toEqual(['Cy L', 'Di L']))
    await waitFor(() => expect(asked()).toHaveLength(3))
    expect(asked()[2]).toMatchObject({ method: 'PUT', path: 'group-sets/s/arrangement', body: { version: 3 } })
    await waitFor(() => expect(screen.getByRole('button', { name: 'Undo' })).toHaveProperty('disabled', false))
  })

  test('several are selected and moved together, as one step', async () => {
    const { asked } = opened()
    fireEvent.click(chip('Ada L'))
    press('Di L', ' ')
    expect(chip('Di L').getAttribute('aria-pressed')).toBe('true')
    expect(screen.getByText('2 selected')).toBeTruthy()
    press('Di L', '2')
    await waitFor(() => expect(names(group('Cranes'))).toEqual(['Cy L', 'Ada L', 'Di L']))
    expect(asked()[0]).toMatchObject({ path: 'group-sets/s/moves', body: { personIds: ['a', 'd'], groupId: 'g2' } })
    // Moved, nobody is selected; somebody who is not is moved alone.
    expect(screen.queryByText('2 selected')).toBeNull()
    await waitFor(() => expect(screen.getByRole('button', { name: 'Undo' })).toHaveProperty('disabled', false))
    fireEvent.click(screen.getByRole('button', { name: 'Undo' }))
    await waitFor(() => expect(names(group('Cranes'))).toEqual(['Cy L']))
    press('Ada L', ' ')
    press('Ada L', 'Escape')
    expect(chip('Ada L').getAttribute('aria-pressed')).toBe('false')
  })

  test('that two groups of names that look alike are two is said once', async () => {
    const { asked } = opened({ answer: () => ({ status: 204 }) })
    fireEvent.click(screen.getByRole('button', { name: 'These are two groups' }))
    await waitFor(() => expect(screen.queryByText(/look like one group/)).toBeNull())
    expect(asked()[0]).toMatchObject({ path: 'group-sets/s/different', body: { one: 'g1', two: 'g2' } })
  })

  test('arrows go from name to name', () => {
    opened()
    chip('Ada L').focus()
    press('Ada L', 'ArrowDown')
    expect(document.activeElement?.textContent).toBe('Bo L')
    press('Bo L', 'ArrowUp')
    expect(document.activeElement?.textContent).toBe('Ada L')
  })

  test('two that look like one are joined with one click, and undone with another', async () => {
    const { asked } = opened()
    fireEvent.click(screen.getByRole('button', { name: 'Join them as Crane' }))
    await waitFor(() => expect(screen.queryByRole('region', { name: 'Cranes' })).toBeNull())
    expect(names(group('Crane'))).toEqual(['Ada L', 'Bo L', 'Cy L'])
    await waitFor(() => expect(asked()).toHaveLength(1))
    await waitFor(() => expect(screen.getByRole('button', { name: 'Undo' })).toHaveProperty('disabled', false))
    fireEvent.click(screen.getByRole('button', { name: 'Undo' }))
    await waitFor(() => expect(names(group('Cranes'))).toEqual(['Cy L']))
  })

  test('renamed to what another one is called, two become one; an empty name is refused', async () => {
    opened()
    const confirm = () =>
      act(async () => {
        fireEvent.click(within(screen.getByRole('dialog')).getByRole('button', { name: 'Rename it' }))
        await Promise.resolve()
      })
    const rename = async (name: string) => {
      fireEvent.click(screen.getByRole('button', { name: '··· More for the group Cranes' }))
      fireEvent.click(await screen.findByRole('button', { name: 'Rename it' }))
      fireEvent.change(screen.getByLabelText('Name of the group'), { target: { value: name } })
      await confirm()
    }
    await rename(' ')
    expect((await screen.findByText('Give the group a name.')).textContent).toBeTruthy()
    fireEvent.change(screen.getByLabelText('Name of the group'), { target: { value: 'crane ' } })
    await confirm()
    await waitFor(() => expect(names(group('Crane'))).toEqual(['Ada L', 'Bo L', 'Cy L']))
  })

  test('what a colleague changed meanwhile is told, and nothing of theirs is written over', async () => {
    opened({ answer: () => ({ status: 409, body: { detail: 'These groups were changed.', code: 'groups-changed' } }) })
    fireEvent.click(screen.getByRole('button', { name: 'Join them as Crane' }))
    expect((await screen.findByRole('alert')).textContent).toContain('These groups were changed.')
    expect(names(group('Cranes'))).toEqual(['Cy L'])
    expect(screen.getByRole('button', { name: 'Undo' })).toHaveProperty('disabled', true)
  })

  test('made anew with a column spread evenly, the groups show that column from now on', async () => {
    Object.assign(globalThis, {
      Worker: class {
        onmessage: ((event: { data: unknown }) => void) | null = null
        postMessage(wish: GroupWish): void {
          queueMicrotask(() => this.onmessage?.({ data: makeGroups(wish) }))
        }
        terminate(): void {
          this.onmessage = null
        }
      },
    })
    const { asked } = opened({ set: { ...SET, balanceColumn: null, pairs: [] } })
    expect(group('Crane').textContent).not.toContain('· A')
    fireEvent.click(screen.getByRole('button', { name: 'Make the groups anew' }))
    fireEvent.click(screen.getByLabelText('Reading band'))
    await act(async () => {
      fireEvent.click(within(screen.getByRole('dialog')).getByRole('button', { name: 'Make groups' }))
      await Promise.resolve()
    })
    await waitFor(() => expect(asked()).toHaveLength(2))
    expect(asked().map(({ method, path }) => `${method} ${path}`)).toEqual([
      'PUT group-sets/s/arrangement',
      'PUT group-sets/s',
    ])
    expect(asked()[1]!.body).toMatchObject({ name: 'Survey crews', balanceColumn: 'band' })
    await waitFor(() => expect(group('Crane').textContent).toMatch(/2 · A/))
    expect(group('Cranes').textContent).toMatch(/2 of 3 · A/)
  })

  test('places are shown once they are kept, and stay as they are when a move before them is taken back', async () => {
    let now = { ...SET, signUp: { ...SET.signUp, open: true } }
    const { asked } = opened({
      set: now,
      list: () => [now],
      answer: ({ method, path, body }) => {
        const version = now.version + 1
        if (path === 'group-sets/s') {
          const { places } = body as { places: { groupId: string; places: number | null }[] }
          if (places.some((one) => one.places === 0))
            return { status: 422, body: { errors: [{ field: 'places.g2', sentence: 'A group has 1 to 500 places.' }] } }
          const limits = new Map(places.map((one) => [one.groupId, one.places]))
          const groups = now.groups.map((one) => ({
            ...one,
            places: limits.has(one.id) ? limits.get(one.id)! : one.places,
          }))
          now = { ...now, version, groups }
          return { status: 204 }
        }
        if (method === 'POST') now = { ...now, version, groups: moved(now, ['d'], 'g1').groups }
        return { body: { version } }
      },
    })
    press('Di L', '1')
    await waitFor(() => expect(names(group('Crane'))).toContain('Di L'))
    fireEvent.click(screen.getByRole('button', { name: 'Settings' }))
    const dialog = within(screen.getByRole('dialog'))
    const keep = () => fireEvent.click(dialog.getByRole('button', { name: 'Keep' }))
    fireEvent.change(dialog.getByLabelText('Cranes'), { target: { value: '0' } })
    keep()
    await dialog.findByText('A group has 1 to 500 places.')
    expect(dialog.getByLabelText('Cranes')).toHaveProperty('value', '0')
    fireEvent.change(dialog.getByLabelText('Cranes'), { target: { value: '' } })
    fireEvent.change(dialog.getByLabelText('Crane'), { target: { value: '4' } })
    keep()
    expect(group('Crane').textContent).not.toContain('of 4')
    await waitFor(() => expect(group('Crane').textContent).toContain('3 of 4'))
    expect(asked().at(-1)!.body).toMatchObject({
      places: [
        { groupId: 'g1', places: 4 },
        { groupId: 'g2', places: null },
      ],
    })
    fireEvent.click(screen.getByRole('button', { name: 'Undo' }))
    await waitFor(() => expect(group('Crane').textContent).toContain('2 of 4'))
    expect(asked().at(-1)!.body).toMatchObject({ version: 3, groups: [{ places: 4 }, { places: null }] })
  })

  test('a helper sees it and changes nothing', () => {
    const { asked } = opened({ may: false })
    press('Di L', '1')
    expect(asked()).toEqual([])
    expect(screen.queryByRole('button', { name: /Join them|Make the groups anew|Add a group|···/ })).toBeNull()
  })
})
