import { afterEach, describe, expect, test } from '@jest/globals'
import { cleanup, fireEvent, render, screen, waitFor, within } from '@testing-library/react'
import { content, text } from '../../core/src/worksheet/testing/samples'
import { AboutPage } from '../src/worksheets/AboutPage'
import { ComparePage } from '../src/worksheets/ComparePage'
import { TryPage } from '../src/worksheets/TryPage'
import TrySheet from '../src/worksheets/TrySheet'
import { type Asked, refusal, serveWith, surroundings } from './support/server'

// What comes into view is another test's matter.
Object.assign(globalThis, {
  IntersectionObserver: class {
    observe(): void {}
    disconnect(): void {}
  },
})
afterEach(cleanup)

const gap = (accepted: string[]) => ({
  type: 'gap',
  attrs: { space: { id: 'g', kind: 'gap' as const, width: 6, points: 2, accepted } },
})
const FIRST = content(text('q', 'The tide goes ', gap(['out'])))
const DRAFT = content(text('q', 'The tide runs ', gap(['out'])), { id: 'why', kind: 'passage', lines: 3 })
const WORKSHEET = {
  id: 'w1',
  title: 'Reading a tide table',
  draft: DRAFT,
  version: 5,
  keptVersion: 3,
  updatedAt: 1,
  isOwner: true,
  mayChange: true,
  archived: false,
  editions: [{ number: 1, title: 'Reading a tide table', answerSpaces: 1, keptAt: 1, copies: 28 }],
}

/** A page of the worksheet; what the server is asked beside it. */
function opened(
  Page: () => React.ReactNode,
  more: (asked: Asked) => ReturnType<Parameters<typeof serveWith>[0]>,
  search = '',
  given: object = {},
) {
  const asked = serveWith((one) => {
    if (one.path === 'worksheets/w1') return { body: { ...WORKSHEET, ...given } }
    if (one.path === 'worksheets/w1/editions/1')
      return { body: { number: 1, title: WORKSHEET.title, content: FIRST, keptAt: 1 } }
    return more(one)
  })
  const { Around } = surroundings([], { path: '/worksheets/:worksheetId', address: `/worksheets/w1${search}` })
  render(<Page />, { wrapper: Around })
  return asked
}

describe('what changed between editions', () => {
  test('the newest edition and the draft, word by word; an edition and itself are the same', async () => {
    opened(ComparePage, () => ({}))
    expect(await screen.findByText('2 blocks, 1 new answer space')).toBeTruthy()
    expect(screen.getByText('goes', { selector: 'del' })).toBeTruthy()
    expect(screen.getByText('runs', { selector: 'ins' })).toBeTruthy()
    expect(screen.getByText('new')).toBeTruthy()
    fireEvent.change(screen.getByLabelText('Later edition'), { target: { value: '1' } })
    expect(await screen.findByText('Nothing changed between these two.')).toBeTruthy()
  })

  test('of a worksheet without an edition there is nothing to compare', async () => {
    opened(ComparePage, () => ({}), '', { editions: [] })
    expect(await screen.findByText(/^No edition was kept yet/)).toBeTruthy()
  })
})

describe('about a worksheet', () => {
  const HANDED = {
    handoutId: 'h1',
    classId: 'c1',
    number: 2,
    title: 'Tides at the quay',
    class: '8 Heron',
    subject: 'Geography',
    edition: 1,
    copies: 28,
    submitted: 5,
    handedOutAt: 1,
  }
  const SHARES = {
    schoolMay: 'none',
    people: [
      { personId: 't2', name: 'Jonas Weir', may: 'view' },
      { personId: 't3', name: 'Ilse Brandt', may: null },
    ],
  }
  const page = (given: object, refuse = false) =>
    opened(
      AboutPage,
      ({ path, method }) => {
        if (method === 'PUT') return refuse ? refusal(403, 'Only its owner may do this.') : { status: 204 }
        if (path.endsWith('/handouts')) return { body: [HANDED] }
        return path.endsWith('/shares') ? { body: SHARES } : { body: { title: 'x', content: FIRST } }
      },
      '',
      given,
    )

  test('says where it was handed out; its owner lets colleagues in', async () => {
    const asked = page({})
    const row = within((await screen.findByRole('link', { name: 'No. 2 · Tides at the quay' })).closest('tr')!)
    expect(row.getByText('8 Heron, Geography')).toBeTruthy()
    expect(screen.getByRole('link', { name: 'Write in it' })).toBeTruthy()
    fireEvent.change(await screen.findByLabelText('What Ilse Brandt may do'), { target: { value: 'edit' } })
    await waitFor(() =>
      expect(asked.find(({ method }) => method === 'PUT')).toMatchObject({
        path: 'worksheets/w1/shares',
        body: {
          schoolMay: 'none',
          people: [
            { personId: 't2', may: 'view' },
            { personId: 't3', may: 'edit' },
          ],
        },
      }),
    )
    fireEvent.change(screen.getByLabelText('All teachers of the school'), { target: { value: 'view' } })
    await waitFor(() =>
      expect(asked.findLast(({ method }) => method === 'PUT')!.body).toMatchObject({ schoolMay: 'view' }),
    )
  })

  test('what is refused is said, and what holds is shown again', async () => {
    page({}, true)
    const choice = await screen.findByLabelText<HTMLSelectElement>('What Jonas Weir may do')
    fireEvent.change(choice, { target: { value: '' } })
    expect(await screen.findByText('Only its owner may do this.')).toBeTruthy()
    await waitFor(() => expect(choice.value).toBe('view'))
  })

  test('of many colleagues those who are let in are listed; the others are found by name', async () => {
    const many = Array.from({ length: 20 }, (_, at) => ({ personId: `p${at}`, name: `Teacher ${at}`, may: null }))
    const asked = opened(AboutPage, ({ path, method }) => {
      if (method === 'PUT') return { status: 204 }
      if (path.endsWith('/shares')) return { body: { ...SHARES, people: [...SHARES.people, ...many] } }
      return { body: path.endsWith('/handouts') ? [] : { title: 'x', content: FIRST } }
    })
    expect(await screen.findByLabelText('What Jonas Weir may do')).toBeTruthy()
    expect(screen.queryByLabelText('What Teacher 7 may do')).toBeNull()
    expect(screen.getByText('22 colleagues: find the others by name.')).toBeTruthy()
    fireEvent.change(screen.getByLabelText('Find a colleague'), { target: { value: 'teacher 7' } })
    fireEvent.change(screen.getByLabelText('What Teacher 7 may do'), { target: { value: 'view' } })
    await waitFor(() =>
      expect(asked.find(({ method }) => method === 'PUT')!.body).toMatchObject({
        people: [
          { personId: 't2', may: 'view' },
          { personId: 'p7', may: 'view' },
        ],
      }),
    )
  })

  test('who may only read it lets nobody in', async () => {
    page({ isOwner: false, mayChange: false })
    expect(await screen.findByRole('link', { name: 'Read' })).toBeTruthy()
    expect(screen.queryByRole('heading', { name: 'Colleagues' })).toBeNull()
  })
})

describe('trying a worksheet', () => {
  test('what is written is checked at once, and nothing of it is sent', async () => {
    const asked = opened(TrySheet, () => ({}))
    const field = await screen.findByLabelText(/^Answer 1/)
    fireEvent.change(field, { target: { value: 'in' } })
    expect((await screen.findByRole('status')).textContent).toBe('0 of 1 checked answers right, 0 of 2 points')
    expect(screen.getByText(/not yet/)).toBeTruthy()
    fireEvent.change(field, { target: { value: 'out' } })
    await waitFor(() =>
      expect(screen.getByRole('status').textContent).toBe('1 of 1 checked answers right, 2 of 2 points'),
    )
    expect(screen.getByText(/✓ right/)).toBeTruthy()
    fireEvent.click(screen.getByLabelText('Show what is right'))
    expect(screen.queryByText(/✓ right/)).toBeNull()
    expect(asked.filter(({ method }) => method !== 'GET')).toEqual([])
  })

  test('in three widths, and from the beginning again; with real names where it has sections', async () => {
    const sections = content({
      id: 's',
      kind: 'section',
      title: 'Your part',
      whose: { is: 'each member' },
      blocks: [{ id: 'l', kind: 'line', width: 'full' }],
    })
    opened(
      TryPage,
      ({ path }) => ({
        body:
          path === 'classes'
            ? [{ id: 'c1', name: '8 Heron' }]
            : path.endsWith('group-sets')
              ? [{ id: 's1', name: 'Crews', groups: [] }]
              : {},
      }),
      '',
      { draft: sections },
    )
    const frame = () => screen.getByTitle<HTMLIFrameElement>('Reading a tide table, as a student sees it')
    await screen.findByRole('button', { name: 'laptop' })
    expect(frame().width).toBe('1180')
    fireEvent.click(screen.getByRole('button', { name: 'phone' }))
    expect(frame().width).toBe('375')
    const before = frame()
    fireEvent.click(screen.getByRole('button', { name: 'Begin again' }))
    expect(frame()).not.toBe(before)
    await screen.findByRole('option', { name: 'with 8 Heron' })
    fireEvent.change(screen.getByLabelText('With which class'), { target: { value: 'c1' } })
    fireEvent.change(await screen.findByLabelText('With which groups'), { target: { value: 's1' } })
    expect(frame().getAttribute('src')).toBe('/try/w1?for=c1%20s1')
    cleanup()
    opened(TryPage, () => ({ body: [] }))
    await screen.findByRole('button', { name: 'laptop' })
    expect(screen.queryByLabelText('With which class')).toBeNull()
  })
})
