import { afterEach, describe, expect, test } from '@jest/globals'
import { cleanup, fireEvent, render, screen, waitFor, within } from '@testing-library/react'
import { SetUpPage } from '../src/class/SetUpPage'
import { SignInCardsPage } from '../src/class/roster/SignInCardsPage'
import { StaffPage } from '../src/class/StaffPage'
import { type ClassOpened, type Student, classKey, rosterKey } from '../src/class/queries'
import { schoolYear, yearAfter } from '../src/class/schoolYear'
import { ClassesPage } from '../src/desk/ClassesPage'
import { classListed, classOpened } from './support/samples'
import { type Asked, refusal, serveWith, surroundings, withoutLive } from './support/server'

withoutLive()
afterEach(cleanup)

const CLASS = classOpened({
  staff: [
    {
      personId: 't1',
      first: 'Maren',
      last: 'Holt',
      email: 'maren@f.example',
      canSignIn: true,
      role: 'lead',
      studentIds: [],
    },
    {
      personId: 't2',
      first: 'Jonas',
      last: 'Weir',
      email: 'jonas@f.example',
      canSignIn: false,
      role: 'helper',
      studentIds: [],
    },
  ],
  units: [
    { id: 'u1', name: 'Tides' },
    { id: 'u2', name: 'Maps' },
  ],
  carriedFrom: { id: 'k0', name: '7 Heron', year: '2025/26' },
})
const student = (personId: string, first: string, more: Partial<Student> = {}): Student => ({
  personId,
  first,
  last: 'Aalto',
  email: `${personId}@f.example`,
  number: null,
  cells: {},
  joinedAt: 1,
  leftAt: null,
  canSignIn: false,
  invitedAt: null,
  ...more,
})
const STUDENTS = [student('s1', 'Mika'), student('s2', 'Noa'), student('s3', 'Ola', { leftAt: 2 })]
type Answerer = (asked: Asked) => ReturnType<Parameters<typeof serveWith>[0]>

/** A page of the class; what is asked apart from reading the class itself. */
function open(page: 'staff' | 'set-up' | 'cards', answer: Answerer, given: Partial<ClassOpened> = {}) {
  const of = { ...CLASS, ...given }
  const asked = serveWith((one) => {
    if (one.method !== 'GET') return answer(one)
    return { body: one.path === 'classes/k' ? of : one.path.endsWith('/roster') ? STUDENTS : [] }
  })
  const { Around } = surroundings(
    [
      [classKey('k'), of],
      [rosterKey('k'), STUDENTS],
    ],
    { path: '/class/:classId/*', address: `/class/k/${page}` },
  )
  const Page = { staff: StaffPage, 'set-up': SetUpPage, cards: SignInCardsPage }[page]
  render(<Page />, { wrapper: Around })
  return () => asked.filter(({ method }) => method !== 'GET')
}
const press = (name: string | RegExp) => fireEvent.click(screen.getByRole('button', { name }))

describe('the staff of a class', () => {
  test('a place is changed; a helper of some is given their names, and nobody who has left', async () => {
    const asked = open('staff', () => ({ status: 204 }))
    const place = screen.getByLabelText<HTMLSelectElement>('What Jonas Weir is in this class')
    expect(screen.getByText('invited')).toBeTruthy()
    // Who leads keeps the class.
    expect(screen.queryByLabelText('What Maren Holt is in this class')).toBeNull()
    fireEvent.change(place, { target: { value: 'co-teacher' } })
    await waitFor(() => expect(asked().at(-1)).toMatchObject({ method: 'PUT', path: 'classes/k/staff/t2' }))
    expect(asked().at(-1)!.body).toEqual({ role: 'co-teacher', studentIds: [] })
    fireEvent.change(place, { target: { value: 'named helper' } })
    const ticks = within(screen.getByRole('group', { name: 'Whom Jonas Weir helps' }))
    expect(ticks.queryByLabelText('Ola Aalto')).toBeNull()
    expect(ticks.getByRole<HTMLButtonElement>('button', { name: 'Keep 0' }).disabled).toBe(true)
    fireEvent.click(ticks.getByLabelText('Mika Aalto'))
    fireEvent.click(ticks.getByLabelText('Noa Aalto'))
    fireEvent.click(ticks.getByLabelText('Mika Aalto'))
    fireEvent.click(ticks.getByRole('button', { name: 'Keep 1' }))
    await waitFor(() => expect(asked().at(-1)!.body).toEqual({ role: 'named helper', studentIds: ['s2'] }))
    await waitFor(() => expect(screen.queryByRole('group', { name: 'Whom Jonas Weir helps' })).toBeNull())
  })

  test('somebody unknown is asked for by name, then invited', async () => {
    const answers = [
      refusal(422, 'x', [
        { field: 'email', code: 'unknown-colleague', sentence: 'Nobody has this e-mail: say who it is.' },
      ]),
      refusal(422, 'x', [{ field: 'last', sentence: 'Give a last name.' }]),
      { body: { invited: true } },
    ]
    const asked = open('staff', () => answers[asked().length - 1]!)
    const form = within(screen.getByRole('form', { name: 'Add somebody to the staff' }))
    const type = (label: string, value: string) => fireEvent.change(form.getByLabelText(label), { target: { value } })
    expect(form.queryByLabelText('First name')).toBeNull()
    type('Their e-mail', 'ilse@f.example')
    fireEvent.click(form.getByRole('button', { name: 'Add' }))
    expect(await form.findByText('Nobody has this e-mail: say who it is.')).toBeTruthy()
    type('First name', 'Ilse')
    fireEvent.click(form.getByRole('button', { name: 'Invite and add' }))
    expect(await form.findByText('Give a last name.')).toBeTruthy()
    type('Last name', 'Brandt')
    fireEvent.click(form.getByRole('button', { name: 'Invite and add' }))
    expect(await form.findByText('ilse@f.example is invited by mail.')).toBeTruthy()
    expect(asked().at(-1)!.body).toEqual({
      email: 'ilse@f.example',
      role: 'co-teacher',
      first: 'Ilse',
      last: 'Brandt',
      studentIds: [],
    })
    expect(form.getByLabelText<HTMLInputElement>('Their e-mail').value).toBe('')
  })

  test('cannot be changed by a helper; a refusal is said', async () => {
    open('staff', () => ({}), { role: 'helper' })
    expect(screen.queryByRole('form')).toBeNull()
    expect(screen.queryByRole('combobox')).toBeNull()
    cleanup()
    open('staff', () => refusal(409, 'They were taken off meanwhile.'))
    press('Take off: Jonas Weir')
    expect(await screen.findByText('They were taken off meanwhile.')).toBeTruthy()
  })
})

describe('setting a class up', () => {
  const units = () => screen.getAllByLabelText<HTMLInputElement>(/^Name of the unit/).map(({ value }) => value)

  test('units are added, renamed, ordered, taken away, and all that undone', async () => {
    const asked = open('set-up', () => ({ status: 204 }))
    const sent = async (count: number) => {
      await waitFor(() => expect(asked()).toHaveLength(count))
      return (asked().at(-1)!.body as { units: { name: string }[] }).units.map(({ name }) => name)
    }
    expect(units()).toEqual(['Tides', 'Maps'])
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Up: Tides' }).disabled).toBe(true)
    press('Down: Tides')
    expect(await sent(1)).toEqual(['Maps', 'Tides'])
    fireEvent.change(screen.getByLabelText('Name of a new unit'), { target: { value: 'Harbours' } })
    press('Add')
    expect(await sent(2)).toEqual(['Tides', 'Maps', 'Harbours'])
    const first = screen.getByLabelText('Name of the unit Tides')
    fireEvent.change(first, { target: { value: 'Tides and moon' } })
    fireEvent.blur(first)
    expect(await sent(3)).toEqual(['Tides and moon', 'Maps'])
    press('Take away: Maps')
    expect(await sent(4)).toEqual(['Tides'])
    fireEvent.click(await screen.findByRole('button', { name: 'Undo' }))
    expect(await sent(5)).toEqual(['Tides', 'Maps'])
    await waitFor(() => expect(screen.queryByRole('button', { name: 'Undo' })).toBeNull())
  })

  test('a name that is refused comes back as it was; Escape takes back what was typed', async () => {
    const asked = open('set-up', () =>
      refusal(422, 'x', [{ field: 'units.0.name', sentence: 'Two units are called Maps.' }]),
    )
    const first = screen.getByLabelText<HTMLInputElement>('Name of the unit Tides')
    fireEvent.change(first, { target: { value: 'M' } })
    fireEvent.keyDown(first, { key: 'Escape' })
    expect(first.value).toBe('Tides')
    fireEvent.blur(first)
    expect(asked()).toHaveLength(0)
    fireEvent.change(first, { target: { value: 'Maps' } })
    fireEvent.blur(first)
    expect(await screen.findByText('Two units are called Maps.')).toBeTruthy()
    await waitFor(() => expect(first.value).toBe('Tides'))
  })

  test('the class is renamed; what is wrong stands at its field', async () => {
    let wrong = true
    const asked = open('set-up', () =>
      wrong ? refusal(422, 'x', [{ field: 'name', sentence: 'Give the class a name.' }]) : { status: 204 },
    )
    const field = screen.getByLabelText('Name, as the school says it')
    fireEvent.change(field, { target: { value: '' } })
    press('Keep')
    expect(await screen.findByText('Give the class a name.')).toBeTruthy()
    wrong = false
    fireEvent.change(field, { target: { value: '8 Gull' } })
    fireEvent.click(screen.getByLabelText('forest'))
    press('Keep')
    expect(await screen.findByText('Kept.')).toBeTruthy()
    expect(asked().at(-1)!.body).toEqual({ name: '8 Gull', subject: 'Geography', year: '2026/27', ink: 'forest' })
  })

  test('is carried into the next year with what is ticked', async () => {
    const asked = open('set-up', () => ({ body: { id: 'k2' } }))
    expect(screen.getByRole('link', { name: '7 Heron 2025/26' })).toBeTruthy()
    press('Carry to the next year')
    expect((await screen.findByLabelText<HTMLInputElement>('School year', { selector: '#carry-year' })).value).toBe(
      '2027/28',
    )
    fireEvent.click(screen.getByLabelText(/^Columns/))
    press(/^Make the class/)
    await waitFor(() =>
      expect(asked().at(-1)).toMatchObject({
        path: 'classes/k/carry',
        body: {
          name: '8 Heron',
          year: '2027/28',
          staff: true,
          units: true,
          columns: false,
          handouts: true,
          shelf: true,
          cells: false,
          groups: true,
          students: null,
        },
      }),
    )
    await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull())
  })

  test('is archived and brought back; archived, nothing of it can be changed', async () => {
    const asked = open('set-up', () => ({ status: 204 }))
    press('Archive the class')
    await waitFor(() => expect(asked().at(-1)!.path).toBe('classes/k/archive'))
    cleanup()
    const askedThen = open('set-up', () => ({ status: 204 }), { archived: true })
    expect(screen.queryByLabelText('Name of a new unit')).toBeNull()
    press('Bring the class back')
    await waitFor(() => expect(askedThen().at(-1)!.path).toBe('classes/k/bring-back'))
  })
})

test('sign-in cards are made for those who cannot sign in, and shown this once', async () => {
  const made = [{ personId: 's1', first: 'Mika', last: 'Aalto', signInName: 'heron-1', password: 'tide-lamp-42' }]
  open('cards', () => ({ body: made }))
  expect(screen.getByText(/^2 students of 8 Heron cannot sign in yet/)).toBeTruthy()
  press('Make 2 cards')
  expect(await screen.findByText('tide-lamp-42')).toBeTruthy()
  expect(screen.getByRole('button', { name: 'Print 1 card' })).toBeTruthy()
  expect(screen.getByText(/the passwords are shown this once/)).toBeTruthy()
})

test('classes of earlier years stand apart; a new one leads to its list', async () => {
  const asked = serveWith(({ method }) => {
    if (method === 'GET')
      return { body: [classListed('k', '8 Heron'), classListed('k0', '7 Heron', { archived: true })] }
    return asked.filter((one) => one.method === 'POST').length === 1
      ? refusal(422, 'x', [{ field: 'name', sentence: 'Give the class a name.' }])
      : { body: { id: 'k9' } }
  })
  const { Around } = surroundings([], { path: '/classes', address: '/classes' })
  render(<ClassesPage />, { wrapper: Around })
  const [now, archived] = (await screen.findAllByRole('table')).map((table) => within(table))
  expect(now!.getAllByRole('link').map((link) => link.textContent)).toEqual(['8 Heron'])
  expect(archived!.getAllByRole('link').map((link) => link.textContent)).toEqual(['7 Heron'])
  press('New class')
  fireEvent.click(await screen.findByRole('button', { name: 'Make the class' }))
  expect((await screen.findByRole('alert')).textContent).toBe('Give the class a name.')
  fireEvent.change(screen.getByLabelText('Name, as the school says it'), { target: { value: '8 Tern' } })
  press('Make the class')
  expect(await screen.findByText('elsewhere')).toBeTruthy()
  expect(asked.findLast(({ method }) => method === 'POST')!.body).toMatchObject({ name: '8 Tern', subject: '' })
})

test('school years follow one another as they are written', () => {
  expect(schoolYear(new Date(2026, 7, 20))).toBe('2026/27')
  expect(schoolYear(new Date(2027, 5, 20))).toBe('2026/27')
  expect(schoolYear(new Date(2099, 8, 1))).toBe('2099/00')
  expect(['2026/27', '2026-2027', '2026', '2099/00', 'Year of the crab'].map(yearAfter)).toEqual([
    '2027/28',
    '2027-2028',
    '2027',
    '2100/01',
    'Year of the crab',
  ])
})
