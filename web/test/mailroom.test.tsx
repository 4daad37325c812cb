import { afterEach, expect, test } from '@jest/globals'
import { cleanup, fireEvent, render, screen, waitFor, within } from '@testing-library/react'
import { classKey, rosterKey } from '../src/class/queries'
import { MailroomPage } from '../src/mail/MailroomPage'
import { type Asked, refusal, serveWith, surroundings } from './support/server'

afterEach(cleanup)

const SOON = Date.now() + 3 * 86_400_000
const line = (id: string, first: string, more: object) => ({
  id,
  kind: 'cover note',
  personId: `p-${id}`,
  first,
  last: 'Weir',
  address: `${id}@fennickquay.example`,
  state: 'sent',
  attempts: 1,
  createdAt: 1,
  sentAt: Date.now() - 5 * 60_000,
  opensAt: null,
  problem: null,
  handout: { id: 'h1', number: 2, title: 'Tides at the quay' },
  ...more,
})
const LINES = [
  line('sent', 'Ana', {}),
  line('soon', 'Ben', { state: 'waiting', sentAt: null, opensAt: SOON }),
  line('now', 'Cleo', { state: 'waiting', sentAt: null }),
  line('back', 'Dov', { state: 'withdrawn', sentAt: null, problem: 'The copy was taken back before this went out.' }),
  line('bad1', 'Ewa', { state: 'failed', sentAt: null, problem: 'The mail server did not take this message.' }),
  line('bad2', 'Finn', { state: 'failed', sentAt: null, problem: 'The e-mail of this person has changed since.' }),
  line('inv1', 'Gus', { kind: 'invitation', handout: null }),
  line('inv2', 'Hana', { kind: 'invitation', handout: null }),
]

async function opened(lines: readonly object[], answer: (asked: Asked) => ReturnType<Parameters<typeof serveWith>[0]>) {
  const asked = serveWith((one) => {
    if (one.path === 'classes/k/mail') return { body: lines }
    if (one.path === 'mail/stand-in') return refusal(404, 'Not here.')
    return answer(one)
  })
  const { Around } = surroundings(
    [
      [classKey('k'), { id: 'k', name: '8 Heron', role: 'lead', staff: [], units: [], columns: [] }],
      // Hana has taken her invitation up.
      [rosterKey('k'), [{ personId: 'p-inv2', canSignIn: true, leftAt: null }]],
    ],
    { path: '/class/:classId/mailroom', address: '/class/k/mailroom' },
  )
  render(<MailroomPage />, { wrapper: Around })
  await screen.findByText('messages of 8 Heron')
  return asked
}
const rowOf = (name: string) => within(screen.getByRole('link', { name }).closest('tr')!)

test('each message says what it is about and how it went', async () => {
  await opened(LINES, () => ({}))
  await screen.findByRole('table')
  expect(rowOf('Ana Weir').getByText('sent 5 min ago')).toBeTruthy()
  expect(rowOf('Ana Weir').getByRole('link', { name: 'No. 2 Tides at the quay' }).getAttribute('href')).toBe(
    '/class/k/handouts/h1',
  )
  expect(rowOf('Ben Weir').getByText(/^goes out /)).toBeTruthy()
  expect(rowOf('Cleo Weir').getByText('on its way')).toBeTruthy()
  expect(rowOf('Dov Weir').getByText('The copy was taken back before this went out.')).toBeTruthy()
  expect(rowOf('Ewa Weir').getByText('The mail server did not take this message.')).toBeTruthy()
  // What was sent is not sent again, nor what is on its way; an invitation only until it is taken up.
  expect(screen.getAllByRole('button', { name: /^Send again to/ }).map((button) => button.ariaLabel)).toEqual([
    'Send again to Ewa Weir',
    'Send again to Finn Weir',
    'Send again to Gus Weir',
  ])
})

test('what failed is sent again, one or all; who has no e-mail any more is said', async () => {
  const asked = await opened(LINES, () => ({ body: { sent: 1 } }))
  fireEvent.click(await screen.findByRole('button', { name: 'Send again to Ewa Weir' }))
  await waitFor(() =>
    expect(asked.find(({ method }) => method === 'POST')).toMatchObject({
      path: 'classes/k/mail/again',
      body: { messageIds: ['bad1'] },
    }),
  )
  expect(screen.queryByText(/^Not all were sent again/)).toBeNull()
  fireEvent.click(screen.getByRole('button', { name: 'Send 2 that failed again' }))
  expect(await screen.findByText(/^Not all were sent again: some have no e-mail any more/)).toBeTruthy()
  fireEvent.click(screen.getByRole('button', { name: 'Send again to Gus Weir' }))
  await waitFor(() =>
    expect(asked.findLast(({ method }) => method === 'POST')).toMatchObject({
      path: 'classes/k/invitations',
      body: { personIds: ['p-inv1'] },
    }),
  )
})

test('without a message it says where one begins; a refusal is said', async () => {
  await opened([], () => ({}))
  expect(await screen.findByText(/^No message has gone out yet/)).toBeTruthy()
  cleanup()
  await opened(LINES, () => refusal(403, 'Only who leads the class may do this.'))
  fireEvent.click(await screen.findByRole('button', { name: 'Send again to Ewa Weir' }))
  expect(await screen.findByText('Only who leads the class may do this.')).toBeTruthy()
})

test('the post of the demo is opened letter by letter, its links beside', async () => {
  serveWith(({ path }) =>
    path === 'mail/stand-in'
      ? {
          body: [
            {
              id: '1',
              at: Date.now(),
              recipient: 'ana@fennickquay.example',
              subject: '8 Heron, No. 2: Tides',
              body: 'Dear Ana,\nopen http://127.0.0.1/to/h1 and begin.',
            },
          ],
        }
      : { body: [] },
  )
  const { Around } = surroundings(
    [
      [classKey('k'), { id: 'k', name: '8 Heron', role: 'lead', staff: [], units: [], columns: [] }],
      [rosterKey('k'), []],
    ],
    { path: '/class/:classId/mailroom', address: '/class/k/mailroom' },
  )
  render(<MailroomPage />, { wrapper: Around })
  const letter = await screen.findByRole('button', { name: 'ana@fennickquay.example' })
  expect(letter.getAttribute('aria-expanded')).toBe('false')
  fireEvent.click(letter)
  expect(screen.getByRole('link', { name: 'http://127.0.0.1/to/h1' }).getAttribute('rel')).toBe('noreferrer')
  fireEvent.click(letter)
  expect(screen.queryByText(/Dear Ana/)).toBeNull()
})
