import { afterEach, expect, test } from '@jest/globals'
import type { WorksheetContent } from '@gavrin/core'
import { act, cleanup, renderHook, waitFor } from '@testing-library/react'
import { content, text } from '../../core/src/worksheet/testing/samples'
import { useDraft } from '../src/editor/useDraft'
import type { WorksheetOpened } from '../src/worksheets/queries'
import { serveWith } from './support/server'

afterEach(cleanup)

const opened = (draft: WorksheetContent, version: number): WorksheetOpened => ({
  id: 'w',
  title: 'T',
  draft,
  version,
  keptVersion: null,
  updatedAt: 5,
  isOwner: true,
  mayChange: true,
  archived: false,
  editions: [],
})

/** A server that keeps a draft as the real one does, and an author who writes in it. */
function written(first: WorksheetContent) {
  const server = { draft: first, version: 1 }
  const page = { now: first, both: [] as readonly string[] }
  const asked = serveWith(({ method, body }) => {
    if (method === 'GET') return { body: opened(server.draft, server.version) }
    const sent = body as { content: WorksheetContent; version: number }
    if (sent.version !== server.version) return { status: 409, body: { code: 'changed-meanwhile', detail: 'Changed.' } }
    server.draft = sent.content
    server.version++
    return { body: { version: server.version, updatedAt: 9 } }
  })
  const { result } = renderHook(() =>
    useDraft(opened(first, 1), {
      read: () => ({ title: 'T', content: page.now }),
      show: ({ content: shown }, both) => {
        page.now = shown
        page.both = both
      },
    }),
  )
  const write = (next: WorksheetContent) => {
    page.now = next
    result.current.change()
  }
  return { server, page, asked, result, write }
}

const [a, b] = [text('a', 'One'), text('b', 'Two')]

test('what is changed is kept, and only once if nothing more is', async () => {
  const { server, asked, result, write } = written(content(a, b))
  act(() => write(content(text('a', 'One.'), b)))
  expect(result.current.state.is).toBe('changed')
  await act(async () => void (await result.current.flush()))
  expect(server.draft).toEqual(content(text('a', 'One.'), b))
  expect(result.current.state).toEqual({ is: 'kept', at: 9 })
  expect(await result.current.flush()).toBe(2)
  expect(asked.filter(({ method }) => method === 'PUT')).toHaveLength(1)
})

test('what another author kept meanwhile is put together with mine, and both are kept', async () => {
  const { server, page, result, write } = written(content(a, b))
  server.draft = content(a, text('b', 'Two, theirs'))
  server.version = 2
  act(() => write(content(text('a', 'One, mine'), b)))
  await act(async () => void (await result.current.flush()))
  expect(server).toEqual({ draft: content(text('a', 'One, mine'), text('b', 'Two, theirs')), version: 3 })
  expect(page.now).toEqual(server.draft)
  expect(page.both).toEqual([])
})

test('told that another author kept the draft, the page shows it; nothing of it is kept again', async () => {
  const { server, page, asked, result } = written(content(a, b))
  server.draft = content(a, b, text('c', 'Three'))
  server.version = 2
  act(() => result.current.changedElsewhere(2))
  await waitFor(() => expect(page.now).toEqual(server.draft))
  expect(asked.some(({ method }) => method === 'PUT')).toBe(false)
  act(() => result.current.changedElsewhere(2))
  expect(asked.filter(({ method }) => method === 'GET')).toHaveLength(1)
})

test('a block that both changed stands as mine, and it is said', async () => {
  const { server, page, result, write } = written(content(a))
  server.draft = content(text('a', 'Theirs'))
  server.version = 2
  act(() => write(content(text('a', 'Mine'))))
  await act(async () => void (await result.current.flush()))
  expect(server.draft).toEqual(content(text('a', 'Mine')))
  expect(page.both).toEqual(['a'])
})

test('what cannot be kept is said, and kept when it can be', async () => {
  const { server, page, result, write } = written(content(a))
  const works = globalThis.fetch
  globalThis.fetch = () => Promise.reject(new Error('no connection'))
  act(() => write(content(text('a', 'Offline'))))
  await act(async () => void (await result.current.flush()))
  expect(result.current.state).toMatchObject({ is: 'not kept', stale: false })
  expect(page.now).toEqual(content(text('a', 'Offline')))
  globalThis.fetch = works
  await act(async () => void (await result.current.flush()))
  expect(server.draft).toEqual(content(text('a', 'Offline')))
  expect(result.current.state.is).toBe('kept')
})
