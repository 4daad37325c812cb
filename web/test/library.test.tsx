import { afterEach, beforeEach, expect, test } from '@jest/globals'
import { act, cleanup, fireEvent, render, screen, waitFor, within } from '@testing-library/react'
import { content, text } from '../../core/src/worksheet/testing/samples'
import { WorksheetsPage } from '../src/worksheets/WorksheetsPage'
import { FinishForm } from '../src/worksheets/bringIn/FinishForm'
import type { WorksheetListed } from '../src/worksheets/queries'
import { type Asked, serveWith, surroundings } from './support/server'

/** What watches whether something comes into view; the tests say when it does. */
const watched: { element: Element; seen: () => void }[] = []
beforeEach(() => {
  watched.length = 0
  localStorage.clear()
  globalThis.IntersectionObserver = class {
    constructor(private readonly told: IntersectionObserverCallback) {}
    observe(element: Element) {
      watched.push({
        element,
        seen: () =>
          this.told([{ isIntersecting: true } as IntersectionObserverEntry], this as unknown as IntersectionObserver),
      })
    }
    disconnect() {}
    unobserve() {}
  } as unknown as typeof IntersectionObserver
})
afterEach(cleanup)

const worksheet = (at: number, more: Partial<WorksheetListed> = {}): WorksheetListed => ({
  id: `w${at}`,
  title: `Worksheet ${at}`,
  version: 1,
  keptVersion: 1,
  updatedAt: 1_000_000 - at,
  isOwner: true,
  owner: 'Adaeze Okonjo-Reyes',
  may: 'edit',
  folderId: null,
  archived: false,
  shared: false,
  pinned: false,
  openedAt: null,
  edition: 1,
  answerSpaces: 3,
  copies: 0,
  ...more,
})

function library(worksheets: readonly WorksheetListed[], found: readonly string[] = []): Asked[] {
  const asked = serveWith(({ method, path }) => {
    if (method === 'GET' && path === 'worksheets') return { body: worksheets }
    if (path.startsWith('worksheets/find')) return { body: { ids: found } }
    if (path === 'folders') return { body: [{ id: 'f1', parentId: null, name: 'Ropes' }] }
    if (path.endsWith('first-page')) return { body: { title: '', content: content(text('a', 'First page')) } }
    return { body: [] }
  })
  const { Around } = surroundings()
  render(<WorksheetsPage />, { wrapper: Around })
  return asked
}

test('of hundreds only the first are drawn, more as their end comes into view; pages are asked for once they are seen', async () => {
  const asked = library(Array.from({ length: 100 }, (_, at) => worksheet(at)))
  expect(await screen.findByRole('link', { name: 'Worksheet 0' })).toBeTruthy()
  expect(screen.queryByRole('link', { name: 'Worksheet 60' })).toBeNull()
  expect(asked.some(({ path }) => path.endsWith('first-page'))).toBe(false)
  act(() => watched.find(({ element }) => element.className === 'thumbnail')!.seen())
  await waitFor(() => expect(asked.some(({ path }) => path === 'worksheets/w0/first-page')).toBe(true))
  act(() => watched.findLast(({ element }) => element.className === 'more-below')!.seen())
  expect(screen.getByRole('link', { name: 'Worksheet 60' })).toBeTruthy()
})

test('what is typed is found in titles at once and in the text by the server', async () => {
  library(
    [worksheet(1, { title: 'Lighthouse sectors' }), worksheet(2, { title: 'Ropes' }), worksheet(3, { archived: true })],
    ['w2'],
  )
  fireEvent.change(await screen.findByLabelText('Find in titles and text'), { target: { value: 'light' } })
  expect(screen.getByRole('link', { name: 'Lighthouse sectors' })).toBeTruthy()
  expect(await screen.findByRole('link', { name: 'Ropes' })).toBeTruthy()
  expect(screen.queryByRole('link', { name: 'Worksheet 3' })).toBeNull()
})

test('pinned ones stand first; places show what is theirs', async () => {
  library([
    worksheet(1),
    worksheet(2, { pinned: true }),
    worksheet(3, { isOwner: false, may: 'view', owner: 'Birgit Sandvik' }),
    worksheet(4, { archived: true }),
    worksheet(5, { folderId: 'f1' }),
  ])
  await screen.findByRole('link', { name: 'Worksheet 2' })
  const titles = () => [...document.querySelectorAll('.page-words > a')].map((link) => link.textContent)
  expect(titles()).toEqual(['Worksheet 2', 'Worksheet 1', 'Worksheet 3', 'Worksheet 5'])
  const places = within(screen.getByRole('navigation', { name: 'Places of the library' }))
  fireEvent.click(places.getByRole('button', { name: /^From colleagues/ }))
  expect(titles()).toEqual(['Worksheet 3'])
  expect(screen.getByText('Birgit Sandvik')).toBeTruthy()
  fireEvent.click(places.getByRole('button', { name: /^Archive/ }))
  expect(titles()).toEqual(['Worksheet 4'])
  fireEvent.click(places.getByRole('button', { name: /^Ropes/ }))
  expect(titles()).toEqual(['Worksheet 5'])
})

test('several are archived at once; those of others stay where they are', async () => {
  const asked = library([worksheet(1), worksheet(2), worksheet(3, { isOwner: false, may: 'view' })])
  fireEvent.click(await screen.findByLabelText('Select Worksheet 1'))
  fireEvent.click(screen.getByRole('button', { name: 'Select all 3' }))
  fireEvent.click(screen.getByRole('button', { name: 'Archive 2' }))
  await waitFor(() =>
    expect(asked.find(({ path }) => path === 'worksheets/archive')?.body).toEqual({
      ids: ['w1', 'w2'],
      archived: true,
    }),
  )
})

test('renaming several replaces words in all of them', async () => {
  const asked = library([worksheet(1, { title: 'Tides 2025' }), worksheet(2, { title: 'Ropes 2025' })])
  fireEvent.click(await screen.findByLabelText('Select Tides 2025'))
  fireEvent.click(screen.getByLabelText('Select Ropes 2025'))
  fireEvent.click(screen.getByRole('button', { name: 'Rename' }))
  const dialog = within(await screen.findByRole('dialog'))
  fireEvent.change(dialog.getByLabelText('Words to replace'), { target: { value: '2025' } })
  fireEvent.change(dialog.getByLabelText('Words to put in their place'), { target: { value: '2026' } })
  fireEvent.click(dialog.getByRole('button', { name: 'Replace' }))
  fireEvent.click(dialog.getByRole('button', { name: 'Rename' }))
  await waitFor(() =>
    expect(asked.find(({ path }) => path === 'worksheets/rename')?.body).toEqual({
      titles: [
        { id: 'w1', title: 'Tides 2026' },
        { id: 'w2', title: 'Ropes 2026' },
      ],
    }),
  )
})

test('a document before it is kept: what was left out is said; title and source go with it; a refusal keeps what was typed', async () => {
  const asked = serveWith(({ path }) =>
    path === 'folders'
      ? { body: [] }
      : { status: 503, body: { detail: 'Gavrin cannot reach its database at the moment.', code: 'database-away' } },
  )
  const upload = { id: 'b1', name: 'tide_table-2.docx', kind: 'docx', size: 9, at: 0 } as const
  const read = content(text('q', 'When?'), { id: 'l', kind: 'line', width: 'full', proposed: { was: '____' } })
  const { Around } = surroundings()
  render(
    <FinishForm
      upload={upload}
      title=""
      content={read}
      notes={['Charts were left out (2): put them in as pictures.']}
    />,
    {
      wrapper: Around,
    },
  )
  expect(screen.getByLabelText<HTMLInputElement>('Title').value).toBe('tide table 2')
  expect(screen.getByText(/One blank was found/)).toBeTruthy()
  expect(screen.getByText('Charts were left out (2): put them in as pictures.')).toBeTruthy()
  fireEvent.change(screen.getByLabelText('Where does it come from?'), { target: { value: 'Harbour office' } })
  expect(screen.getAllByText('Harbour office').length).toBe(2)
  fireEvent.click(screen.getByRole('button', { name: 'Put in the library' }))
  expect(await screen.findByText('Gavrin cannot reach its database at the moment.')).toBeTruthy()
  expect(asked.find(({ path }) => path === 'bring-in/b1/finish')?.body).toMatchObject({
    title: 'tide table 2',
    content: { source: 'Harbour office' },
    folderId: null,
  })
  expect(screen.getByLabelText<HTMLTextAreaElement>('Where does it come from?').value).toBe('Harbour office')
})
