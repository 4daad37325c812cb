import { afterEach, beforeEach, describe, expect, test } from '@jest/globals'
import { cleanup, fireEvent, render, screen, waitFor, within } from '@testing-library/react'
import { isFound } from '@gavrin/core'
import { OfficePage } from '../src/people/OfficePage'
import { PersonPage } from '../src/people/PersonPage'
import type { SignedIn } from '../src/frame/session'
import { type Asked, refusal, serveWith, surroundings, withRoom } from './support/server'

withRoom()
afterEach(cleanup)

const OFFICE: SignedIn = {
  id: 'o1',
  role: 'office',
  first: 'Ilse',
  last: 'Brandt',
  email: 'ilse@fennickquay.example',
  school: 'Fennick Quay School',
  timeZone: 'Europe/Lisbon',
  locale: 'en-GB',
}
const person = (personId: string, first: string, last: string, more: object = {}) => ({
  personId,
  first,
  last,
  email: `${personId}@fennickquay.example`,
  number: null,
  role: 'student',
  canSignIn: true,
  cardName: null,
  classes: '8 Heron',
  copies: 0,
  ...more,
})
const EVERYBODY = [
  person('t1', 'Maren', 'Holt', { role: 'teacher', classes: '8 Heron, 7 Gull' }),
  person('s1', 'Zofia', 'Dąbrowska', { number: '1042', copies: 3 }),
  person('s2', 'Zofia', 'Dabrowska', { email: null, canSignIn: false, classes: '', copies: 5 }),
  person('s3', 'Noa', 'Kamakau', { email: null, cardName: 'heron-7' }),
]

let trouble: object[] = []
afterEach(() => {
  trouble = []
})
const TROUBLE = [{ personId: 't1', first: 'Maren', last: 'Holt', failures: 31, addresses: 4, lastAt: Date.now() }]

/** What the server answers to what is asked of the people, with pages of a hundred. */
function pageOf(query: string, people: readonly ReturnType<typeof person>[]) {
  const asked = new URLSearchParams(query)
  const role = asked.get('role')
  const found = people.filter(
    (one) => (!role || one.role === role) && isFound(`${one.first} ${one.last} ${one.email ?? ''}`, asked.get('find')!),
  )
  const from = Number(asked.get('page')) * 100
  return { people: found.slice(from, from + 100), total: found.length, everybody: people.length }
}

describe('the office', () => {
  let pairs: object[] = []
  let manyMore = 0
  beforeEach(() => {
    pairs = [[EVERYBODY[2], EVERYBODY[1]]]
    manyMore = 0
  })
  const opened = async (
    answer: (asked: Asked) => ReturnType<Parameters<typeof serveWith>[0]>,
    { people = EVERYBODY, address = '/' }: { people?: typeof EVERYBODY; address?: string } = {},
  ) => {
    const asked = serveWith((one) => {
      const [path, query] = one.path.split('?')
      if (path === 'office/people' && one.method === 'GET') return { body: pageOf(query!, people) }
      if (path === 'office/doubles') return { body: { pairs, more: manyMore, isAll: manyMore === 0 } }
      if (path === 'office/sign-in-trouble') return { body: trouble }
      return path === 'mail/stand-in' ? refusal(404, 'This is not here.') : answer(one)
    })
    const { Around } = surroundings([], { path: '/', address })
    render(<OfficePage person={OFFICE} />, { wrapper: Around })
    await screen.findAllByRole('row')
    return asked
  }
  const names = () => screen.getAllByRole('row').flatMap((row) => within(row).queryByRole('link')?.textContent ?? [])

  test('has the staff before the students, says who cannot sign in, and finds without accents', async () => {
    await opened(() => ({}))
    expect(names()[0]).toBe('Holt, Maren')
    const rowOf = (name: string) => within(screen.getByRole('link', { name }).closest('tr')!)
    expect(rowOf('Dabrowska, Zofia').getByText('no password yet')).toBeTruthy()
    expect(rowOf('Kamakau, Noa').getByText('card heron-7')).toBeTruthy()
    fireEvent.change(screen.getByLabelText('Find in the school'), { target: { value: 'dabrow' } })
    await waitFor(() => expect(names().toSorted()).toEqual(['Dabrowska, Zofia', 'Dąbrowska, Zofia']))
    expect(screen.getByRole('status').textContent).toBe('2, of 4 in all')
    fireEvent.change(screen.getByLabelText('Find in the school'), { target: { value: 'nobody' } })
    expect(await screen.findByText('Nobody of the school is found by “nobody”.')).toBeTruthy()
    fireEvent.change(screen.getByLabelText('Find in the school'), { target: { value: '' } })
    fireEvent.click(screen.getByRole('button', { name: 'Teachers' }))
    await waitFor(() => expect(names()).toEqual(['Holt, Maren']))
    expect(screen.getByRole('button', { name: 'Teachers' }).getAttribute('aria-pressed')).toBe('true')
  })

  test('of thousands, a page at a time; what is shown is in the address, and a page that is no longer there is the first', async () => {
    const people = Array.from({ length: 250 }, (_, at) => person(`p${at}`, `Ada${at}`, 'Quay'))
    await opened(() => ({}), { people, address: '/?page=3' })
    await waitFor(() => expect(screen.getByRole('status').textContent).toBe('201–250 of 250'))
    expect(screen.getByRole('button', { name: 'Next' })).toHaveProperty('disabled', true)
    fireEvent.click(screen.getByRole('button', { name: 'Back' }))
    await waitFor(() => expect(names()[0]).toBe('Quay, Ada100'))
    // Somebody who is ticked stays so on another page.
    fireEvent.click(screen.getByRole('checkbox', { name: 'Choose Ada100 Quay' }))
    fireEvent.click(screen.getByRole('button', { name: 'Back' }))
    await waitFor(() => expect(names()[0]).toBe('Quay, Ada0'))
    fireEvent.click(screen.getByRole('checkbox', { name: 'Choose Ada3 Quay' }))
    expect(screen.getByText('Ada100 Quay, Ada3 Quay')).toBeTruthy()
    expect(screen.getByRole('button', { name: 'Merge the two' })).toBeTruthy()
    // What is looked for begins at its first page.
    fireEvent.click(screen.getByRole('button', { name: 'Next' }))
    fireEvent.change(screen.getByLabelText('Find in the school'), { target: { value: 'ada24' } })
    await waitFor(() => expect(names()).toHaveLength(11))
    cleanup()
    await opened(() => ({}), { people, address: '/?page=9' })
    await waitFor(() => expect(names()[0]).toBe('Quay, Ada0'))
  })

  test('of very many doubles it is not said that these are all', async () => {
    manyMore = 1_998
    await opened(() => ({}))
    expect(await screen.findByRole('button', { name: 'at least 1999 possible doubles' })).toBeTruthy()
  })

  test('two who look like one are said to be two, and that is taken back', async () => {
    const asked = await opened(({ method }) => {
      if (method === 'PUT') pairs = []
      else pairs = [[EVERYBODY[2], EVERYBODY[1]]]
      return { status: 204 }
    })
    fireEvent.click(await screen.findByRole('button', { name: '1 possible double' }))
    fireEvent.click(screen.getByRole('button', { name: 'Zofia Dabrowska and Zofia Dąbrowska are two people' }))
    expect(await screen.findByText(/are two people: this is remembered/)).toBeTruthy()
    expect(asked.at(-1)!.path).toBe('office/doubles')
    fireEvent.click(screen.getByRole('button', { name: 'Undo' }))
    await screen.findByRole('button', { name: 'Look at the two' })
    expect(asked.filter(({ path }) => path === 'office/different/s2/s1').map(({ method }) => method)).toEqual([
      'PUT',
      'DELETE',
    ])
  })

  test('is told at whose account passwords are tried', async () => {
    trouble = TROUBLE
    await opened(() => ({}))
    const said = await screen.findByText(/Many wrong passwords within a day/)
    expect(said.textContent).toContain('Maren Holt 31 times from 4 addresses')
  })

  test('points out doubles; of two the one with more work stays, unless it is turned round', async () => {
    let refuse = true
    const asked = await opened(() => (refuse ? refusal(409, 'Both are in one copy: look at it first.') : {}))
    fireEvent.click(await screen.findByRole('button', { name: '1 possible double' }))
    fireEvent.click(screen.getByRole('button', { name: 'Look at the two' }))
    const dialog = within(await screen.findByRole('dialog'))
    expect(dialog.getByRole('heading', { name: 'Stays' }).parentElement!.textContent).toContain('5 copies')
    expect(dialog.getByText(/^3 copies and the classes and groups of the second/)).toBeTruthy()
    fireEvent.click(dialog.getByRole('button', { name: 'The other way round' }))
    fireEvent.click(dialog.getByRole('button', { name: 'Merge' }))
    expect(await dialog.findByText('Both are in one copy: look at it first.')).toBeTruthy()
    refuse = false
    fireEvent.click(dialog.getByRole('button', { name: 'Merge' }))
    await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull())
    expect(asked.findLast(({ method }) => method === 'POST')).toMatchObject({
      path: 'office/merge',
      body: { keepId: 's1', otherId: 's2' },
    })
  })

  test('two that are ticked can be merged, whoever they are; a third takes the place of the first', async () => {
    await opened(() => ({}))
    const tick = (name: string) => fireEvent.click(screen.getByRole('checkbox', { name }))
    tick('Choose Noa Kamakau')
    expect(screen.queryByRole('button', { name: 'Merge the two' })).toBeNull()
    tick('Choose Maren Holt')
    tick('Choose Zofia Dąbrowska')
    fireEvent.click(screen.getByRole('button', { name: 'Merge the two' }))
    const dialog = within(await screen.findByRole('dialog'))
    expect(dialog.getByText('Maren Holt')).toBeTruthy()
    expect(dialog.queryByText('Noa Kamakau')).toBeNull()
  })

  test('a person is added; what is wrong stands at its field and what was typed stays', async () => {
    let wrong = true
    const asked = await opened(() =>
      wrong
        ? refusal(422, 'x', [{ field: 'email', sentence: 'Somebody has this e-mail already: Maren Holt.' }])
        : { body: {} },
    )
    fireEvent.click(screen.getByRole('button', { name: 'Add a person' }))
    const type = (label: string, value: string) => fireEvent.change(screen.getByLabelText(label), { target: { value } })
    type('First name', 'Jonas')
    type('Last name', 'Weir')
    type('E-mail', 't1@fennickquay.example')
    fireEvent.click(screen.getByRole('button', { name: 'Add' }))
    expect((await screen.findByRole('alert')).textContent).toBe('Somebody has this e-mail already: Maren Holt.')
    expect(screen.getByLabelText<HTMLInputElement>('First name').value).toBe('Jonas')
    wrong = false
    type('E-mail', 'jonas@fennickquay.example')
    fireEvent.click(screen.getByRole('button', { name: 'Add' }))
    await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull())
    expect(asked.findLast(({ method }) => method === 'POST')!.body).toEqual({
      first: 'Jonas',
      last: 'Weir',
      email: 'jonas@fennickquay.example',
      number: '',
      role: 'teacher',
    })
  })

  test('a card is made for a student alone, and its password shown this once', async () => {
    const asked = await opened(() => ({ body: { card: { signInName: 'heron-7', password: 'tide-lamp-42' } } }))
    const teacher = screen.getByRole('button', { name: 'New password for Maren Holt' })
    fireEvent.click(teacher)
    expect(await screen.findByRole('button', { name: /Send a link by mail/ })).toBeTruthy()
    expect(screen.queryByRole('button', { name: /Make a card/ })).toBeNull()
    fireEvent.click(teacher)
    fireEvent.click(screen.getByRole('button', { name: 'New password for Noa Kamakau' }))
    fireEvent.click(await screen.findByRole('button', { name: /Make a card/ }))
    expect(await screen.findByText('tide-lamp-42')).toBeTruthy()
    expect(asked.find(({ path }) => path === 'office/people/s3/reset')!.body).toEqual({ how: 'card' })
  })
})

describe('one person', () => {
  const ONE = {
    person: person('s1', 'Zofia', 'Dąbrowska', { number: '1042' }),
    classes: [
      {
        id: 'c1',
        name: '8 Heron',
        subject: 'Geography',
        year: '2026/27',
        ink: 'plum',
        role: 'student',
        archived: false,
        cells: { col1: 'tall', col2: '' },
        columns: [
          { id: 'col1', name: 'Desk' },
          { id: 'col2', name: 'House' },
        ],
        joinedAt: 1,
        leftAt: 86_400_000,
      },
    ],
    groups: [{ setId: 'g', classId: 'c1', set: 'Boats', group: 'Crane' }],
    copies: [
      {
        id: 'k1',
        handoutId: 'h1',
        classId: 'c1',
        number: 2,
        handout: 'Tides at the quay',
        title: 'Dąbrowska, Zofia – Tides',
        state: 'working',
        pensDown: false,
        setAside: false,
        answered: 2,
        spaces: 4,
        words: 31,
        dueAt: 86_400_000,
        submittedAt: null,
        lastActivityAt: 86_300_000,
      },
    ],
  }
  const shown = async (viewer: SignedIn, one: object = ONE) => {
    serveWith(() => ({ body: one }))
    const { Around } = surroundings([], { path: '/person/:personId', address: '/person/s1' })
    render(<PersonPage person={viewer} />, { wrapper: Around })
    await screen.findByRole('heading', { level: 1 })
  }

  test('is shown to a teacher with groups, columns that say something, and each copy', async () => {
    await shown({ ...OFFICE, role: 'teacher' })
    expect(screen.getByText(/^left /)).toBeTruthy()
    expect(screen.getByRole('link', { name: 'Crane' }).getAttribute('href')).toBe('/class/c1/groups?set=g')
    expect(screen.getByText('Desk')).toBeTruthy()
    expect(screen.queryByText('House')).toBeNull()
    const row = within(screen.getByRole('link', { name: 'Dąbrowska, Zofia – Tides' }).closest('tr')!)
    expect(row.getByText('2 of 4')).toBeTruthy()
    expect(row.getByText('overdue')).toBeTruthy()
    expect(row.getByRole('link', { name: 'No. 2 Tides at the quay' })).toBeTruthy()
    expect(screen.queryByRole('button', { name: /Correct/ })).toBeNull()
  })

  test('is shown to the office with what it may do, without copies', async () => {
    await shown(OFFICE)
    expect(screen.getByRole('button', { name: 'Correct Zofia Dąbrowska' })).toBeTruthy()
    expect(screen.queryByRole('table')).toBeNull()
    expect(screen.queryByRole('link', { name: 'Crane' })).toBeNull()
  })

  test('in no class, and not there at all, are said', async () => {
    await shown(OFFICE, { ...ONE, classes: [] })
    expect(screen.getByText('In no class.')).toBeTruthy()
    cleanup()
    serveWith(() => refusal(404, 'Not here, or not for you.'))
    const { Around } = surroundings([], { path: '/person/:personId', address: '/person/s9' })
    render(<PersonPage person={OFFICE} />, { wrapper: Around })
    expect(await screen.findByText('Not here, or not for you.')).toBeTruthy()
  })
})
