import { plainItem, plainNote, withWay } from '@gavrin/core'
import { afterEach, describe, expect, test } from '@jest/globals'
import { cleanup, fireEvent, render, screen, waitFor, within } from '@testing-library/react'
import { BoardActs, TakeBackOne } from '../src/board/BoardActs'
import { rowName } from '../src/board/rowName'
import { LinksDialog } from '../src/board/LinksDialog'
import { ShelfPage } from '../src/class/ShelfPage'
import { Invite } from '../src/copy/Invite'
import { KeptAnswers } from '../src/copy/KeptAnswers'
import StudentDesk from '../src/student/StudentDesk'
import { NoteView } from '../src/ui/NoteView'
import type { SignedIn } from '../src/frame/session'
import ClassLinkPage from '../src/walkin/ClassLinkPage'
import WalkInPage from '../src/walkin/WalkInPage'
import { serveWith, surroundings } from './support/server'

afterEach(cleanup)

const STUDENT: SignedIn = {
  id: 'p1',
  role: 'student',
  first: 'Zofia',
  last: 'Dąbrowska',
  email: '',
  school: 'Fennick Quay School',
  timeZone: 'Europe/Lisbon',
  locale: 'en-GB',
}
const MINE = {
  id: 'k1',
  title: 'Dąbrowska, Zofia – Tides',
  handout: 'Tides at the quay',
  worksheet: 'Tides',
  number: 2,
  class: '8 Heron',
  subject: 'Geography',
  ink: 'plum',
  way: 'one each',
  link: null,
  kind: 'handout',
  unit: 'Tides and harbours',
  note: plainNote('Dear Zofia, bring your chart.'),
  state: 'not opened',
  pensDown: false,
  answered: 0,
  spaces: 4,
  permission: 'edit',
  dueAt: null,
  submittedAt: null,
}

const OF_OTHERS = {
  handout: 'Knots',
  number: 6,
  class: '8 Heron',
  ink: 'teal',
  state: 'working',
  permission: 'comment',
  invited: false,
  dueAt: null,
  until: null,
  openedAt: null,
  doneAt: null,
  comments: 0,
}

describe('the student’s desk', () => {
  const shown = (person: SignedIn, copies: object[], reading: object[] = []) => {
    const asked = serveWith(({ path }) => ({
      body: path === 'copies' ? copies : path === 'copies/reading' ? reading : [],
    }))
    const { Around } = surroundings()
    render(<StudentDesk person={person} />, { wrapper: Around })
    return asked
  }

  test('finds one’s own by a word of it, and folds what is in by class and unit once it is more than a few', async () => {
    const done = Array.from({ length: 8 }, (_, at) => ({
      ...MINE,
      id: `d${at}`,
      worksheet: `Sheet ${at}`,
      unit: at < 5 ? 'Tides' : 'Ropes',
      state: 'submitted' as const,
      submittedAt: at,
    }))
    shown(STUDENT, [MINE, ...done], [])
    const field = await screen.findByLabelText('Find a worksheet, a class or a unit')
    const folders = () => screen.getAllByRole('group').map((folder) => folder.querySelector('summary')!.textContent)
    expect(folders()).toEqual([expect.stringContaining('Ropes 3'), expect.stringContaining('Tides 5')])
    fireEvent.change(field, { target: { value: 'ropes sheet 6' } })
    expect(screen.getAllByRole('link', { name: /Sheet/ })).toHaveLength(1)
    expect(screen.queryByRole('group')).toBeNull()
    fireEvent.change(field, { target: { value: 'xyz' } })
    expect(screen.getByText(/Nothing of yours is found by/)).toBeTruthy()
    fireEvent.click(screen.getByRole('button', { name: 'Show all' }))
    expect(folders()).toHaveLength(2)
  })

  test('has what is to be done with its note, what is to be read, the shelf, and classmates’ copies', async () => {
    shown(
      STUDENT,
      [
        MINE,
        { ...MINE, id: 'k2', worksheet: 'Quayside safety', way: 'to read', note: null },
        { ...MINE, id: 'k3', title: 'Harbour tides', link: 'https://fennickquay.example', way: 'to read', note: null },
        { ...MINE, id: 'k4', worksheet: 'Blank page', way: 'one together', kind: 'shelf', number: 0, note: null },
        { ...MINE, id: 'k5', worksheet: 'Knots', state: 'submitted', submittedAt: 1 },
      ],
      [
        { ...OF_OTHERS, id: 'k8', title: 'Rossi, Giulia – Knots', doneAt: 5, openedAt: 4, comments: 2 },
        { ...OF_OTHERS, id: 'k9', title: 'Kamakau, Noa – Knots', until: 2_000_000_000_000 },
        { ...OF_OTHERS, id: 'k10', title: 'Lindqvist, Elsa – Tides', invited: true, permission: 'view' },
      ],
    )
    const part = async (name: string) => within((await screen.findByRole('heading', { name })).closest('section')!)
    expect((await part('To do')).getAllByRole('link')).toHaveLength(1)
    expect((await part('To do')).getByText('Dear Zofia, bring your chart.')).toBeTruthy()
    expect((await part('To read')).getAllByRole('link').map((link) => link.getAttribute('href'))).toEqual([
      '/copies/k2',
      '/copies/k3',
    ])
    expect((await part('To read')).getByText('Harbour tides')).toBeTruthy()
    expect((await part('Shelf')).queryByText(/No\. 0/)).toBeNull()
    // What is still to be read is first.
    const reading = (await part('Peer reading')).getAllByRole('link')
    expect(reading.map((link) => link.getAttribute('href'))).toEqual(['/copies/k9', '/copies/k8'])
    expect(reading[0]!.textContent).toContain('to read')
    expect(reading[0]!.textContent).toContain('read it by')
    expect(reading[1]!.textContent).toContain('✓ read2 comments of yours')
    expect((await part('From classmates')).getByText('you were let in')).toBeTruthy()
    // A note is for what is still to be done.
    expect((await part('Submitted')).queryByText(/bring your chart/)).toBeNull()
  })

  test('of a guest has only what their link is for', async () => {
    const asked = shown({ ...STUDENT, role: 'guest' }, [MINE])
    await screen.findByText('Tides')
    expect(asked.map(({ path }) => path)).not.toContain('copies/reading')
    expect(asked.map(({ path }) => path)).not.toContain('sign-ups')
  })
})

describe('the class link', () => {
  const opened = async (answer: object, address = '/to/h1') => {
    serveWith(() => ({
      body: { classId: 'c1', title: 'Tides', board: false, opensAt: null, copies: [], others: [], ...answer },
    }))
    const { Around } = surroundings([], { path: '/to/:handoutId', address })
    render(<ClassLinkPage />, { wrapper: Around })
    await waitFor(() => expect(screen.queryByText('One moment …')).toBeNull())
  }

  test('opens the one copy there is, and the board for staff', async () => {
    await opened({ copies: [{ id: 'k1', title: 'Mine', way: 'one each' }] })
    expect(await screen.findByText('elsewhere')).toBeTruthy()
    cleanup()
    await opened({ board: true })
    expect(await screen.findByText('elsewhere')).toBeTruthy()
  })

  test('lists several, says when it opens, or that there is none', async () => {
    await opened({
      copies: [
        { id: 'k1', title: 'Mine', way: 'one each' },
        { id: 'k2', title: 'Safety', way: 'to read' },
      ],
    })
    expect((await screen.findAllByRole('link')).map((link) => link.getAttribute('href'))).toEqual([
      '/copies/k1',
      '/copies/k2',
    ])
    cleanup()
    await opened({ opensAt: new Date(2030, 4, 6, 8).getTime() })
    expect(await screen.findByText(/This opens Mon 6 May 2030 08:00\./)).toBeTruthy()
    cleanup()
    await opened({})
    expect(await screen.findByText(/There is no copy of this for you/)).toBeTruthy()
  })

  test('lists the copies of the others where they may be seen', async () => {
    await opened(
      { copies: [{ id: 'k1', title: 'Mine', way: 'one each' }], others: [{ id: 'k7', title: 'Noa’s' }] },
      '/to/h1?others',
    )
    expect(await screen.findByRole('heading', { name: 'Copies of the others' })).toBeTruthy()
    expect(screen.getByRole('link', { name: 'Noa’s' }).getAttribute('href')).toBe('/copies/k7')
  })
})

describe('walking in', () => {
  const at = (address: string, answer: Parameters<typeof serveWith>[0], person: SignedIn | null = null) => {
    const asked = serveWith(answer)
    const { Around } = surroundings([], { path: '/in/:code?', address })
    render(<WalkInPage person={person} />, { wrapper: Around })
    return asked
  }

  test('a name is asked for; what is wrong with it is said under it', async () => {
    const asked = at('/in/HJK234', ({ method }) =>
      method === 'GET'
        ? { body: { class: '8 Heron', title: 'Shore survey', permission: 'comment' } }
        : {
            status: 422,
            body: {
              status: 422,
              detail: 'x',
              errors: [{ code: 'guest-name', field: 'name', sentence: 'Give your name, in up to 100 characters.' }],
            },
          },
    )
    expect(await screen.findByText(/You can read it and comment/)).toBeTruthy()
    fireEvent.click(screen.getByRole('button', { name: 'Come in' }))
    expect(await screen.findByText('Give your name, in up to 100 characters.')).toBeTruthy()
    expect(asked.at(-1)).toMatchObject({ method: 'POST', path: 'walk-in/HJK234', body: { name: '' } })
  })

  test('a code that leads nowhere can be typed again; a closed link says so', async () => {
    at('/in/XXXXXX', () => ({ status: 404, body: { status: 404, code: 'not-there', detail: 'Not here.' } }))
    expect(await screen.findByText('Nothing has this code: compare it with the board.')).toBeTruthy()
    cleanup()
    at('/in/HJK234', () => ({
      status: 403,
      body: { status: 403, code: 'walk-in-shut', detail: 'This link is closed.' },
    }))
    expect(await screen.findByText('This link is closed.')).toBeTruthy()
  })

  test('who has an account is told that they leave it here', async () => {
    at('/in/HJK234', () => ({ body: { class: '8 Heron', title: 'Shore survey', permission: 'edit' } }), STUDENT)
    expect(await screen.findByText(/signs you out here/)).toBeTruthy()
  })
})

describe('links of a handout', () => {
  const GIVEN = {
    given: {
      items: [
        withWay(plainItem('a', 'w1', 1), 'one together', []),
        withWay(plainItem('b', 'w1', 1), 'one per group', []),
      ],
    },
    worksheets: [{ id: 'w1', title: 'Shore survey', editions: [] }],
  }
  const LINK = {
    itemId: 'a',
    code: 'HJK234',
    permission: 'edit',
    open: true,
    endsAt: null,
    uses: [{ name: 'Mika', at: 1, again: true, like: 'Mika Aalto' }],
  }

  test('a walk-in link is made, closed, limited, and each use listed', async () => {
    let list: object[] = []
    const asked = serveWith(({ method, path, body }) => {
      if (method === 'PUT') return { body: (list = [{ ...LINK, ...(body as object) }]) }
      return { body: path.endsWith('walk-ins') ? list : GIVEN }
    })
    const { Around } = surroundings()
    render(<LinksDialog handoutId="h1" close={() => undefined} />, { wrapper: Around })
    // None for copies of groups.
    fireEvent.click(await screen.findByRole('button', { name: 'Make a walk-in link' }))
    expect(await screen.findByText('HJK234')).toBeTruthy()
    expect(screen.getByText('same name as Mika Aalto of the class')).toBeTruthy()
    fireEvent.change(screen.getByLabelText('What guests may do'), { target: { value: 'view' } })
    await waitFor(() => expect(asked.at(-1)!.body).toMatchObject({ permission: 'view', open: true }))
    fireEvent.click(await screen.findByRole('checkbox', { name: 'open' }))
    expect(await screen.findByText('closed: nobody comes in')).toBeTruthy()
    expect(asked.at(-1)).toMatchObject({ path: 'handouts/h1/walk-ins/a', body: { open: false } })
    expect(screen.getByLabelText<HTMLInputElement>('Class link').value).toMatch(/\/to\/h1$/)
  })
})

describe('the board', () => {
  const ROW = {
    copyId: 'k1',
    slotKey: 'i:each:p1',
    way: 'one each',
    title: 'Rossi, Giulia – Tides',
    holders: [{ personId: 'p1', first: 'Giulia', last: 'Rossi', isGuest: false, guestOf: null }],
    state: 'not opened',
    setAside: false,
  } as unknown as Parameters<typeof rowName>[0]

  test('a row is called by its holder, a shared copy by its title', () => {
    expect(rowName(ROW)).toBe('Rossi, Giulia')
    expect(rowName({ ...ROW, way: 'one per group', title: 'Crane – Tides' })).toBe('Crane – Tides')
    expect(rowName({ ...ROW, way: 'one together', title: 'Tides' })).toBe('Tides')
  })

  test('one copy is taken back, set aside, or brought back, by what it is', async () => {
    const asked = serveWith(() => ({ body: {} }))
    const { Around } = surroundings()
    render(
      <>
        <TakeBackOne row={ROW} handoutId="h1" />
        <TakeBackOne row={{ ...ROW, state: 'working' }} handoutId="h1" />
        <TakeBackOne row={{ ...ROW, setAside: true }} handoutId="h1" />
      </>,
      { wrapper: Around },
    )
    fireEvent.click(screen.getByRole('button', { name: 'Bring it back' }))
    await waitFor(() => expect(asked.at(-1)?.body).toEqual({ slotKeys: ['i:each:p1'], back: true }))
    fireEvent.click(screen.getByRole('button', { name: 'Set it aside' }))
    await waitFor(() => expect(asked.at(-1)?.body).toEqual({ slotKeys: ['i:each:p1'], back: false }))
    expect(screen.getByRole('button', { name: 'Take it back' })).toBeTruthy()
  })

  test('what nobody has opened is taken back, in numbers first', async () => {
    const asked = serveWith(({ path }) => ({ body: path === 'classes' ? [] : {} }))
    const { Around } = surroundings()
    const rows = [ROW, { ...ROW, copyId: 'k2', slotKey: 'i:each:p2', state: 'working' as const }]
    render(<BoardActs handout={{ id: 'h1', classId: 'c1', title: 'Tides', kind: 'handout' }} rows={rows} />, {
      wrapper: Around,
    })
    fireEvent.click(screen.getByRole('button', { name: 'More' }))
    fireEvent.click(await screen.findByRole('button', { name: 'Take back what nobody has opened' }))
    expect(await screen.findByText(/^Its student does not have it any more. Nothing is written in it\./)).toBeTruthy()
    fireEvent.click(screen.getByRole('button', { name: 'Set 1 copy aside' }))
    await waitFor(() =>
      expect(asked.find(({ path }) => path === 'handouts/h1/take-back')?.body).toEqual({
        slotKeys: ['i:each:p1'],
        back: false,
      }),
    )
  })
})

test('the shelf: things are put on, ordered and taken off; a colleague’s change is said', async () => {
  const item = (id: string, title: string, way: 'to read' | 'one together') => ({
    ...withWay(plainItem(id, 'w1', 1), way, []),
    title,
    newest: 2,
    copyId: `k-${id}`,
    words: 3,
    lastActivityAt: null,
  })
  let version = 4
  const items = [
    item('a', 'Quayside safety', 'to read'),
    item('b', 'Tides', 'to read'),
    item('c', 'Glossary', 'one together'),
  ]
  let refuse = false
  const asked = serveWith(({ method, path, body }) => {
    if (path.endsWith('/shelf') && method === 'PUT')
      return refuse
        ? {
            status: 409,
            body: { status: 409, code: 'changed-meanwhile', detail: 'A colleague changed the shelf meanwhile.' },
          }
        : { body: { version: ++version, mayChange: true, items: (body as { items: object[] }).items } }
    if (path.endsWith('/shelf')) return { body: { version, mayChange: true, items } }
    if (path.endsWith('/roster')) return { body: [] }
    return {
      body: { id: 'c1', name: '8 Heron', subject: '', year: '', ink: 'plum', role: 'lead', staff: [], archived: false },
    }
  })
  const { Around } = surroundings([], { path: '/class/:classId/shelf', address: '/class/c1/shelf' })
  render(<ShelfPage />, { wrapper: Around })
  const reading = within(await screen.findByRole('region', { name: 'To read' }))
  fireEvent.click(reading.getByRole('button', { name: 'Move Tides up' }))
  const sent = () =>
    asked.findLast(({ method }) => method === 'PUT')!.body as {
      version: number
      items: { id: string; edition: number }[]
    }
  await waitFor(() => expect(sent().items.map(({ id }) => id)).toEqual(['b', 'a', 'c']))
  expect(sent().version).toBe(4)
  await waitFor(() =>
    expect(reading.getAllByRole('link').map((link) => link.textContent)).toEqual(['Tides', 'Quayside safety']),
  )
  fireEvent.click(reading.getAllByRole('button', { name: 'Put edition 2 here' })[0]!)
  await waitFor(() => expect(sent().items[0]!.edition).toBe(2))
  refuse = true
  fireEvent.click(reading.getAllByRole('button', { name: 'Take off' })[0]!)
  expect(await screen.findByText('A colleague changed the shelf meanwhile.')).toBeTruthy()
})

test('a holder lets a classmate in, and out again', async () => {
  let may: string | null = null
  const asked = serveWith(({ method, body }) => {
    if (method === 'PUT') may = (body as { may: string | null }).may
    return { body: [{ personId: 'p2', name: 'Noa Kamakau', may }] }
  })
  const { Around } = surroundings()
  render(<Invite copyId="k1" />, { wrapper: Around })
  fireEvent.click(screen.getByRole('button', { name: 'Let someone in' }))
  const choice = await screen.findByLabelText('What Noa Kamakau may do')
  fireEvent.change(choice, { target: { value: 'comment' } })
  await waitFor(() => expect(screen.getByLabelText<HTMLSelectElement>('What Noa Kamakau may do').value).toBe('comment'))
  fireEvent.change(choice, { target: { value: '' } })
  await waitFor(() => expect(asked.findLast(({ method }) => method === 'PUT')!.body).toEqual({ may: null }))
})

test('answers of an earlier edition are shown with what they answered', () => {
  const { container } = render(<KeptAnswers kept={[]} />)
  expect(container.textContent).toBe('')
  render(<KeptAnswers kept={[{ space: 'low', label: 'Answer 2: Low water?', text: 'at noon', edition: 1 }]} />)
  expect(screen.getByText('at noon')).toBeTruthy()
  expect(screen.getByText(/edition 1/)).toBeTruthy()
})

test('a note is drawn with its marks and lists, and its links open beside', () => {
  render(
    <NoteView
      note={{
        type: 'doc',
        content: [
          {
            type: 'paragraph',
            content: [{ type: 'text', text: 'Bring', marks: [{ type: 'bold' }] }, { type: 'hardBreak' }],
          },
          {
            type: 'orderedList',
            content: [
              {
                type: 'listItem',
                content: [
                  {
                    type: 'paragraph',
                    content: [
                      {
                        type: 'text',
                        text: 'a chart',
                        marks: [{ type: 'link', attrs: { href: 'https://fennickquay.example' } }],
                      },
                    ],
                  },
                ],
              },
            ],
          },
        ],
      }}
    />,
  )
  expect(screen.getByText('Bring').tagName).toBe('STRONG')
  expect(within(screen.getByRole('listitem')).getByRole('link').getAttribute('rel')).toBe('noreferrer')
})
