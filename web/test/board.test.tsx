import type { BoardRow } from '@gavrin/core'
import { afterEach, describe, expect, test } from '@jest/globals'
import { cleanup, fireEvent, render, screen, waitFor, within } from '@testing-library/react'
import { BoardPage } from '../src/board/BoardPage'
import { BoardTable } from '../src/board/BoardTable'
import { COLUMNS } from '../src/board/boardColumns'
import { classKey } from '../src/class/queries'
import { handoutsKey } from '../src/composer/queries'
import { TeacherDesk } from '../src/desk/TeacherDesk'
import type { SignedIn } from '../src/frame/session'
import { classListed } from './support/samples'
import { serveWith, surroundings, withRoom, withoutLive } from './support/server'

withoutLive()
withRoom()
afterEach(cleanup)

const TEACHER: SignedIn = {
  id: 't1',
  role: 'teacher',
  first: 'Maren',
  last: 'Holt',
  email: 'maren@fennickquay.example',
  school: 'Fennick Quay School',
  timeZone: 'Europe/Lisbon',
  locale: 'en-GB',
}
const HOUR = 3_600_000

const row = (copyId: string, first: string, last: string, more: object = {}) => ({
  copyId,
  slotKey: `i:each:${copyId}`,
  way: 'one each',
  title: `${last}, ${first} – Tides`,
  holders: [{ personId: `p-${copyId}`, first, last, isGuest: false, guestOf: null }],
  places: [],
  state: 'working',
  pensDown: false,
  pensDownFrom: null,
  pensDownAtDue: false,
  worksheetId: 'w1',
  sittings: 1,
  comments: { staff: 0, holders: 0, peers: 0, done: 0, onOthers: 0, spaces: [], asked: [] },
  writtenAt: null,
  setAside: false,
  answered: 1,
  spaces: 2,
  words: 12,
  progress: { line: { share: 1, words: 12 } },
  dueAt: null,
  submittedAt: null,
  lastActivityAt: null,
  lateWritings: 0,
  questions: 0,
  hasDocument: false,
  unreadable: false,
  ...more,
})
const ROWS = [
  row('k1', 'Zofia', 'Dąbrowska'),
  row('k2', 'Noa', 'Aalto', { state: 'not opened', dueAt: 1_000 }),
  row('k3', 'Ola', 'Ekman', { state: 'submitted', submittedAt: Date.now() - HOUR, lateWritings: 1 }),
  row('k4', 'Mika', 'Faber', { setAside: true }),
  row('k5', 'x', 'y', { way: 'to read', title: 'Quayside safety', holders: [] }),
]
const board = (rows: readonly object[], leftOut: readonly object[] = []) => ({
  handout: {
    id: 'h1',
    number: 2,
    title: 'Tides at the quay',
    classId: 'c1',
    class: '8 Heron',
    ink: 'deep blue',
    kind: 'handout',
    opensAt: null,
    dueAt: Date.now() + 3 * HOUR,
    handedOutAt: 1,
  },
  rows,
  sheets: [
    {
      worksheetId: 'w1',
      title: 'Reading a tide table',
      spaces: [
        { id: 'line', label: 'Answer 1', of: null },
        { id: 'why', label: 'Answer 2', of: null },
      ],
    },
  ],
  looked: [],
  leftOut,
})

const names = () =>
  screen.getAllByRole('button').flatMap((button) => (button.className === 'row-button' ? button.textContent : []))

describe('the board', () => {
  const opened = async (answer: object, role = 'lead', differences: object | null = null) => {
    serveWith(({ path }) =>
      path.endsWith('/board')
        ? { body: answer }
        : path.endsWith('/differences')
          ? { body: { differences } }
          : { status: 404, body: { status: 404, detail: 'Not here, or not for you.' } },
    )
    const { Around } = surroundings([[classKey('c1'), { id: 'c1', name: '8 Heron', role, archived: false }]], {
      path: '/class/:classId/handouts/:handoutId',
      address: '/class/c1/handouts/h1',
    })
    render(<BoardPage person={TEACHER} />, { wrapper: Around })
    await screen.findByRole('heading', { name: 'Tides at the quay' })
  }
  const strip = () => within(screen.getByRole('group', { name: 'Copies by state' }))
  const filter = (name: RegExp) => fireEvent.click(strip().getByRole('button', { name }))

  test('stands in order of names; the strip counts and filters by state', async () => {
    await opened(board(ROWS, [{ personId: 'p9', first: 'Hugo', last: 'Ibsen' }]))
    expect(names()).toEqual(['Aalto, Noa', 'Dąbrowska, Zofia', 'Ekman, Ola'])
    expect(
      strip()
        .getAllByRole('button')
        .map((part) => part.textContent.trim()),
    ).toEqual(['1 not opened', '1 working', '1 submitted', '1 overdue', '1 to read', '1 set aside', '1 left out'])
    filter(/submitted/)
    expect(names()).toEqual(['Ekman, Ola'])
    expect(screen.getByText(/^1 of 3 copies · 1 set aside/)).toBeTruthy()
    expect(screen.getByText('late writing')).toBeTruthy()
    filter(/overdue/)
    expect(names()).toEqual(['Aalto, Noa'])
    filter(/to read/)
    expect(names()).toEqual(['Quayside safety'])
    filter(/set aside/)
    expect(names()).toEqual(['Faber, Mika'])
    filter(/left out/)
    expect(screen.getByText('has no copy of this handout').closest('tr')!.textContent).toContain('Ibsen, Hugo')
    filter(/left out/)
    expect(names()).toHaveLength(3)
    expect(screen.getByText(/h 0 min left|h 59 min left/)).toBeTruthy()
  })

  test('says in one line where what exists is not what was handed out, with the proof one click away', async () => {
    await opened(board(ROWS), 'lead', { count: 2, sentence: '2 students belong to other copies now (Ana, Ben)' })
    const line = await screen.findByText('2 students belong to other copies now (Ana, Ben)')
    const act = within(line.parentElement!).getByRole('link', { name: 'Look at the proof' })
    expect(act.getAttribute('href')).toBe('/class/c1/slip/h1')
  })

  test('a row opens beside the table and is flipped through by keys', async () => {
    await opened(board(ROWS))
    fireEvent.click(screen.getByRole('button', { name: 'Aalto, Noa' }))
    const drawer = () => screen.getByRole('complementary')
    expect(drawer().ariaLabel).toBe('Copy of Noa Aalto')
    // Only the columns that fit beside it are left.
    expect(screen.queryByRole('columnheader', { name: 'Submitted' })).toBeNull()
    expect(within(drawer()).getByRole<HTMLButtonElement>('button', { name: 'The copy before' }).disabled).toBe(true)
    fireEvent.keyDown(window.document.body, { key: 'ArrowDown' })
    expect(drawer().ariaLabel).toBe('Copy of Zofia Dąbrowska')
    fireEvent.click(within(drawer()).getByRole('button', { name: 'The next copy' }))
    expect(drawer().ariaLabel).toBe('Copy of Ola Ekman')
    fireEvent.keyDown(window.document.body, { key: 'ArrowDown' })
    expect(drawer().ariaLabel).toBe('Copy of Ola Ekman')
    fireEvent.keyDown(window.document.body, { key: 'Escape' })
    expect(screen.queryByRole('complementary')).toBeNull()
  })

  test('without copies says what to do; a helper is offered nothing that is not theirs', async () => {
    await opened(board([]))
    expect(screen.getByRole('heading', { name: 'No copies yet' })).toBeTruthy()
    expect(screen.getAllByRole('link', { name: 'Edit the slip' })).toHaveLength(2)
    cleanup()
    await opened(board(ROWS), 'helper')
    expect(screen.queryByRole('link', { name: 'Edit the slip' })).toBeNull()
    expect(screen.queryByRole('button', { name: 'More' })).toBeNull()
  })

  test('many answer spaces are counted and not drawn; groups have their people under their title', () => {
    const spaces = Array.from({ length: 25 }, (_, at) => ({ id: `s${at}`, label: `Answer ${at + 1}`, of: null }))
    const group = row('k7', 'Ana', 'Weir', { way: 'one per group', title: 'Crane – Tides' })
    const { Around } = surroundings()
    const { container } = render(
      <BoardTable
        rows={[group as unknown as BoardRow]}
        leftOut={[]}
        columns={COLUMNS.filter(({ atFirst }) => atFirst)}
        around={{ spacesOf: () => spaces, now: Date.now(), valueOf: () => '', isNew: () => false }}
        sort={null}
        setSort={() => undefined}
        chosen={null}
        choose={() => undefined}
        selected={null}
        select={() => undefined}
        selectAll={() => undefined}
        give={null}
        writers={null}
      />,
      { wrapper: Around },
    )
    expect(container.querySelector('.squares')).toBeNull()
    expect(screen.getByRole('button', { name: 'Crane – Tides' })).toBeTruthy()
    expect(screen.getByText('Ana Weir').title).toBe('Ana Weir')
    expect(screen.getByRole('columnheader', { name: 'Copy' })).toBeTruthy()
    expect(screen.getByRole('link', { name: 'Open the copy of Crane – Tides' })).toBeTruthy()
  })
})

describe('the teacher’s desk', () => {
  const handout = (id: string, title: string, more: object) => ({
    id,
    number: 3,
    title,
    dueAt: null,
    handedOutAt: 1,
    states: {},
    ...more,
  })

  test('says what waits: joiners, what is not in, what is submitted, and nothing else', async () => {
    serveWith(({ path }) => ({
      body:
        path === 'desk/needs'
          ? [
              {
                handoutId: 'h3',
                classId: 'c1',
                class: '8 Heron',
                number: 3,
                title: 'Maps',
                count: 1,
                sentence: 'Hugo Ibsen has no copy yet',
              },
            ]
          : [],
    }))
    const { Around } = surroundings([
      [['classes'], [classListed('c1', '8 Heron')]],
      [
        handoutsKey('c1'),
        [
          handout('h1', 'Tides', { dueAt: Date.now() - HOUR, states: { working: 2, 'not opened': 1, submitted: 5 } }),
          handout('h2', 'Draft of a slip', { handedOutAt: null, dueAt: Date.now() - HOUR, states: { working: 9 } }),
        ],
      ],
    ])
    render(<TeacherDesk />, { wrapper: Around })
    await screen.findByText(/Hugo Ibsen has no copy yet/)
    const needs = within(screen.getByRole('heading', { name: 'Needs you' }).parentElement!)
    expect(needs.getAllByRole('listitem').map((item) => item.textContent)).toEqual([
      '1“Maps”: Hugo Ibsen has no copy yet 8 Heron, No. 3Look at the proof',
      expect.stringMatching(/^3not in, though “Tides” was due .*8 Heron, No\. 3See who$/) as unknown,
      '5submitted in “Tides” 8 Heron, No. 3Mark',
    ])
  })

  test('has a lane a class over ten school days, each handout on its day; what is due on a weekend on the day before', async () => {
    serveWith(() => ({ body: [] }))
    const day = new Date()
    day.setHours(12, 0, 0, 0)
    do day.setDate(day.getDate() + 1)
    while (day.getDay() !== 5)
    const friday = day.getTime()
    const saturday = friday + 24 * HOUR
    const { Around } = surroundings([
      [['classes'], [classListed('c1', '8 Heron'), classListed('c2', '7 Gull')]],
      [
        handoutsKey('c1'),
        [handout('h1', 'Tides', { dueAt: friday }), handout('h2', 'Maps', { dueAt: saturday, handedOutAt: null })],
      ],
      [handoutsKey('c2'), []],
    ])
    render(<TeacherDesk />, { wrapper: Around })
    const [head, heron, gull] = (await screen.findAllByRole('row')) as [HTMLElement, HTMLElement, HTMLElement]
    const days = within(head).getAllByRole('columnheader').slice(1)
    expect(days).toHaveLength(10)
    expect(days.some(({ textContent }) => /^(Sat|Sun)/.test(textContent))).toBe(false)
    const slip = within(heron).getByRole('link', { name: /Tides/ })
    const draft = within(heron).getByRole('link', { name: /Maps/ })
    expect(slip.closest('td')).toBe(draft.closest('td'))
    expect(days[within(heron).getAllByRole('cell').indexOf(slip.closest('td')!)]!.textContent).toMatch(/^Fri/)
    // A draft leads to its slip, what was handed out to its board.
    expect(slip.getAttribute('href')).toBe('/class/c1/handouts/h1')
    expect(draft.getAttribute('href')).toBe('/class/c1/slip/h2')
    expect(within(gull).queryByRole('link', { name: /No\. / })).toBeNull()
    expect(screen.getByText('Nothing at the moment.')).toBeTruthy()
  })

  test('of somebody new asks for the first class', async () => {
    serveWith(() => ({ body: [] }))
    const { Around } = surroundings([[['classes'], []]])
    render(<TeacherDesk />, { wrapper: Around })
    fireEvent.click(await screen.findByRole('button', { name: 'New class' }))
    await waitFor(() => expect(screen.getByRole('dialog')).toBeTruthy())
  })
})
