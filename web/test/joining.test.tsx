import { afterEach, describe, expect, test } from '@jest/globals'
import { cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react'
import { Link, Route, Routes } from 'react-router'
import { JoinSettingsPage } from '../src/class/JoinSettingsPage'
import { classKey, rosterKey } from '../src/class/queries'
import JoinPage from '../src/join/JoinPage'
import SignUpPage from '../src/student/SignUpPage'
import type { SignedIn } from '../src/frame/session'
import { classOpened } from './support/samples'
import { type Asked, serveWith, surroundings, withoutLive } from './support/server'

const PERSON: SignedIn = {
  id: 'me',
  role: 'student',
  first: 'Maja',
  last: 'Kowalska',
  email: 'maja@fennickquay.example',
  school: 'Fennick Quay School',
  timeZone: 'Europe/Lisbon',
  locale: 'en-GB',
}
const OPENED = classOpened()
type Answerer = (asked: Asked) => { status?: number; body?: unknown }

function at(path: string, answer: Answerer, known: Parameters<typeof surroundings>[0] = []) {
  const asked = serveWith(answer)
  const { Around } = surroundings(known)
  render(
    <Around>
      <Routes>
        <Route path="/" element={<Link to={path}>begin</Link>} />
        <Route path="/join/:code?" element={<JoinPage person={null} />} />
        <Route path="/sign-up/:setId" element={<SignUpPage person={PERSON} />} />
        <Route path="/class/:classId/join" element={<JoinSettingsPage />} />
      </Routes>
    </Around>,
  )
  fireEvent.click(screen.getByRole('link', { name: 'begin' }))
  return () => asked.filter(({ method }) => method !== 'GET')
}

withoutLive()
afterEach(cleanup)

describe('asking to join', () => {
  const face = { class: '8 Heron', subject: 'Geography', school: 'Fennick Quay School', opensAt: null, closesAt: null }

  test('a code that no class has is said at its field, as it was typed', async () => {
    at('/join/ABC', () => ({ status: 404, body: { detail: 'x', code: 'not-there' } }))
    expect((await screen.findByText(/There is no class with this code/)).textContent).toBeTruthy()
    expect(screen.getByLabelText<HTMLInputElement>('Class code, from the board').value).toBe('ABC')
  })

  test('what is wrong stands at its field and what was typed stays; then the teacher has it', async () => {
    let wrong = true
    const asked = at('/join/CDFHJK', ({ method }) =>
      method === 'GET'
        ? { body: { ...face, state: 'open' } }
        : wrong
          ? { status: 422, body: { detail: 'x', errors: [{ field: 'email', sentence: 'Type your e-mail address.' }] } }
          : { status: 204 },
    )
    const first = await screen.findByLabelText<HTMLInputElement>('First name')
    fireEvent.change(first, { target: { value: 'Signe' } })
    fireEvent.click(screen.getByRole('button', { name: 'Ask to join' }))
    expect((await screen.findByRole('alert')).textContent).toBe('Type your e-mail address.')
    expect(first.value).toBe('Signe')
    wrong = false
    fireEvent.change(screen.getByLabelText('E-mail'), { target: { value: 'signe@fennickquay.example' } })
    fireEvent.click(screen.getByRole('button', { name: 'Ask to join' }))
    expect(await screen.findByText('Your teacher has your name now')).toBeTruthy()
    expect(asked().at(-1)).toEqual({
      method: 'POST',
      path: 'join/CDFHJK',
      body: { first: 'Signe', last: '', email: 'signe@fennickquay.example' },
    })
  })

  test.each(['over', 'closed'])('a page that is %s says so and has no field', async (state) => {
    at('/join/CDFHJK', () => ({ body: { ...face, state } }))
    expect(await screen.findByText('This page is closed. Ask your teacher.')).toBeTruthy()
    expect(screen.queryByLabelText('First name')).toBeNull()
  })
})

describe('letting in', () => {
  const twin = (reason: string) => ({
    personId: 'p1',
    first: 'Zofia',
    last: 'Dąbrowska',
    email: null,
    left: false,
    reason,
  })
  const request = (id: string, first: string, twins: object[] = []) => ({
    id,
    first,
    last: 'L',
    email: `${id}@fennickquay.example`,
    at: 0,
    twins,
  })
  const page = {
    code: 'CDFHJK',
    open: true,
    places: 30,
    opensAt: null,
    closesAt: null,
    requests: [
      request('r1', 'Zofia', [twin('the same name')]),
      request('r2', 'Signe'),
      request('r3', 'Same', [twin('the same e-mail')]),
    ],
  }
  const opened = () =>
    at(
      '/class/k/join',
      ({ path }) => ({ body: path.endsWith('join') ? page : path.endsWith('roster') ? [] : OPENED }),
      [
        [classKey('k'), OPENED],
        [rosterKey('k'), []],
      ],
    )

  test('all of those who are sure are let in at once; a twin by name waits to be told who it is', async () => {
    const asked = opened()
    expect(await screen.findByText('CDF HJK')).toBeTruthy()
    expect(screen.getByRole('button', { name: 'Let in: Zofia L' })).toHaveProperty('disabled', true)
    fireEvent.click(screen.getByRole('button', { name: 'Let 2 in' }))
    await waitFor(() => expect(asked()).toHaveLength(1))
    expect(asked()[0]!.body).toEqual({
      letIn: [
        { id: 'r2', as: null },
        { id: 'r3', as: 'p1' },
      ],
      turnAway: [],
    })
  })

  test('who it is is chosen, or that it is somebody else; or they are turned away', async () => {
    const asked = opened()
    fireEvent.click((await screen.findAllByLabelText('somebody else, new in the class'))[0]!)
    fireEvent.click(screen.getByRole('button', { name: 'Let in: Zofia L' }))
    await waitFor(() => expect(asked()).toHaveLength(1))
    expect(asked()[0]!.body).toEqual({ letIn: [{ id: 'r1', as: null }], turnAway: [] })
    fireEvent.click(screen.getByRole('button', { name: 'Turn away: Signe L' }))
    await waitFor(() => expect(asked()).toHaveLength(2))
    expect(asked()[1]!.body).toEqual({ letIn: [], turnAway: ['r2'] })
  })
})

describe('signing up for a group', () => {
  const group = (id: string, name: string, places: number | null, people: object[] = []) => ({
    id,
    name,
    places,
    people,
  })
  const signUp = (more: object = {}) => ({
    id: 's',
    name: 'Harbour trades',
    class: '8 Tern',
    state: 'open',
    opensAt: null,
    closesAt: null,
    groups: [
      group('g1', 'Pilots', 2, [{ first: 'Joost', last: 'Achterberg' }]),
      group('g2', 'Chart makers', 1, [{ first: 'Pip', last: 'Calloway' }]),
      group('g3', 'Net menders', null),
    ],
    mine: null,
    kept: false,
    ...more,
  })

  test('shows what is free, who is in, and lets one choose what is not full', async () => {
    const asked = at('/sign-up/s', ({ method }) => ({ body: signUp(method === 'POST' ? { mine: 'g1' } : {}) }))
    expect(await screen.findByText('1 place left of 2')).toBeTruthy()
    expect(screen.getByText('full')).toBeTruthy()
    expect(screen.getByText('0 in it')).toBeTruthy()
    expect(screen.getByRole('button', { name: 'Choose Chart makers' })).toHaveProperty('disabled', true)
    fireEvent.click(screen.getByRole('button', { name: 'Choose Pilots' }))
    await waitFor(() => expect(asked()).toEqual([{ method: 'POST', path: 'sign-ups/s', body: { groupId: 'g1' } }]))
  })

  test('the last place was taken a moment before: said, and one may choose again', async () => {
    at('/sign-up/s', ({ method }) =>
      method === 'POST'
        ? {
            status: 409,
            body: { detail: 'Pilots is full. Choose another group; your place so far is kept.', code: 'x' },
          }
        : { body: signUp() },
    )
    fireEvent.click(await screen.findByRole('button', { name: 'Choose Pilots' }))
    expect((await screen.findByRole('alert')).textContent).toContain('Pilots is full.')
    expect(screen.getByRole('button', { name: 'Choose Net menders' })).toHaveProperty('disabled', false)
  })

  test('who is in a group may leave it while it is open, unless the teacher keeps them there', async () => {
    at('/sign-up/s', () => ({ body: signUp({ mine: 'g1' }) }))
    expect(await screen.findByRole('button', { name: 'Leave' })).toBeTruthy()
    cleanup()
    at('/sign-up/s', () => ({ body: signUp({ mine: 'g1', kept: true }) }))
    expect(await screen.findByText(/Your teacher has put you there\./)).toBeTruthy()
    expect(screen.queryByRole('button', { name: /Leave|Choose/ })).toBeNull()
    cleanup()
    at('/sign-up/s', () => ({ body: signUp({ mine: 'g1', state: 'over' }) }))
    expect(await screen.findByText(/· closed/)).toBeTruthy()
    expect(screen.queryByRole('button', { name: /Leave|Choose/ })).toBeNull()
  })
})
