import { afterEach, expect, test } from '@jest/globals'
import type { WorksheetContent } from '@gavrin/core'
import { act, cleanup, renderHook, waitFor } from '@testing-library/react'
import { content, text } from '../../core/src/worksheet/testing/samples'
import type { DraftKeeping, UnkeptDraft } from '../src/editor/unkept'
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

/** A browser that keeps what it is given, as long as the test. */
function keeping(): DraftKeeping & { readonly drafts: Map<string, UnkeptDraft>; readonly written: UnkeptDraft[] } {
  const drafts = new Map<string, UnkeptDraft>()
  const written: UnkeptDraft[] = []
  return {
    drafts,
    written,
    all: (prefix) => Promise.resolve([...drafts.values()].filter(({ key }) => key.startsWith(prefix))),
    keep: (draft) => {
      written.push(draft)
      drafts.set(draft.key, draft)
      return Promise.resolve()
    },
    drop: (keys) => Promise.resolve(keys.forEach((key) => drafts.delete(key))),
  }
}
const broken = () => Promise.reject(new Error('no connection'))

/** A server that keeps a draft as the real one does, and an author who writes in it. */
function written(first: WorksheetContent, here: DraftKeeping = keeping()) {
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
  const { result, unmount } = renderHook(() =>
    useDraft(
      opened(first, 1),
      'p',
      {
        read: () => ({ title: 'T', content: page.now }),
        show: ({ content: shown }, both) => {
          page.now = shown
          page.both = both
        },
      },
      here,
    ),
  )
  const write = (next: WorksheetContent) => {
    page.now = next
    result.current.change()
  }
  return { server, page, asked, result, write, unmount }
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

test('what both wrote in one paragraph stands there, and nothing is said to stand alone', async () => {
  const { server, page, result, write } = written(content(a))
  server.draft = content(text('a', 'Theirs'))
  server.version = 2
  act(() => write(content(text('a', 'Mine'))))
  await act(async () => void (await result.current.flush()))
  expect(server.draft).toEqual(content(text('a', 'Theirs Mine')))
  expect(page.now).toEqual(server.draft)
  expect(page.both).toEqual([])
})

test('what came through though its answer was lost is not put together with itself', async () => {
  const { server, result, write } = written(content(a))
  const works = globalThis.fetch
  globalThis.fetch = async (path, init) => {
    await works(path, init)
    throw new Error('the answer was lost')
  }
  act(() => write(content(text('a', 'One tide'))))
  await act(async () => void (await result.current.flush()))
  globalThis.fetch = works
  expect(server.version).toBe(2)
  act(() => write(content(text('a', 'One ebb'))))
  await act(async () => void (await result.current.flush()))
  expect(server.draft).toEqual(content(text('a', 'One ebb')))
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

/** The window goes out of sight, as it does before it is closed. */
function hide() {
  const before = Object.getOwnPropertyDescriptor(document, 'visibilityState')
  Object.defineProperty(document, 'visibilityState', { configurable: true, value: 'hidden' })
  document.dispatchEvent(new Event('visibilitychange'))
  if (before) Object.defineProperty(document, 'visibilityState', before)
  else delete (document as { visibilityState?: unknown }).visibilityState
}

test('a window that is closed right after typing has sent it, and keeps it in the browser until the server has it', async () => {
  const here = keeping()
  const { server, result, write, unmount } = written(content(a), here)
  const works = globalThis.fetch
  const options: (RequestInit | undefined)[] = []
  globalThis.fetch = (path, init) => {
    options.push(init)
    return works(path, init)
  }
  act(() => write(content(text('a', 'Just typed'))))
  await act(async () => {
    hide()
    await Promise.resolve()
  })
  expect(here.written).toMatchObject([{ draft: { content: content(text('a', 'Just typed')) } }])
  expect(options).toMatchObject([{ method: 'PUT', keepalive: true }])
  await waitFor(() => expect(result.current.state.is).toBe('kept'))
  expect(server.draft).toEqual(content(text('a', 'Just typed')))
  expect(here.drafts.size).toBe(0)
  globalThis.fetch = works
  unmount()
})

test('what did not reach the server is put in again by the next window, with what others kept since', async () => {
  const here = keeping()
  const first = written(content(a, b), here)
  const works = globalThis.fetch
  globalThis.fetch = broken
  act(() => first.write(content(text('a', 'Never sent'), b)))
  await act(async () => {
    hide()
    await Promise.resolve()
  })
  first.unmount()
  expect(here.drafts.size).toBe(1)
  globalThis.fetch = works
  const next = written(content(a, text('b', 'By another')), here)
  await waitFor(() => expect(next.result.current.takenUp).toEqual({ isNew: true, words: [] }))
  expect(next.page.now).toEqual(content(text('a', 'Never sent'), text('b', 'By another')))
  await act(async () => void (await next.result.current.flush()))
  expect(next.server.draft).toEqual(next.page.now)
  expect(here.drafts.size).toBe(0)
})

test('what the server has already is not put in again, nor what somebody else wrote in this browser', async () => {
  const here = keeping()
  const [was, now] = [
    { title: 'T', content: content(a) },
    { title: 'T', content: content(text('a', 'Sent')) },
  ]
  here.drafts.set('p/w/1', { key: 'p/w/1', base: was, draft: now })
  here.drafts.set('q/w/1', { key: 'q/w/1', base: was, draft: { ...now, content: content(text('a', 'Another’s')) } })
  const { page, result, asked } = written(now.content, here)
  await waitFor(() => expect([...here.drafts.keys()]).toEqual(['q/w/1']))
  expect(result.current.takenUp).toBeNull()
  expect(page.now).toEqual(now.content)
  expect(asked).toEqual([])
})

test('what was kept since stands, also if it is ours from a moment later; words that are not in it are shown', async () => {
  const here = keeping()
  const record = (key: string, ...blocks: WorksheetContent['blocks']) =>
    here.drafts.set(key, {
      key,
      base: { title: 'T', content: content(a, b) },
      draft: { title: 'T', content: content(...blocks) },
    })
  // Of the moment before the window was closed; the server has the whole word.
  record('p/w/1', text('a', 'Just ty'), b)
  const first = written(content(text('a', 'Just typed'), b), here)
  await waitFor(() => expect(here.drafts.size).toBe(0))
  expect(first.page.now).toEqual(content(text('a', 'Just typed'), b))
  expect(first.result.current.takenUp).toBeNull()
  first.unmount()

  record('p/w/2', text('a', 'My own words'), text('b', 'Mine alone'))
  const next = written(content(text('a', 'By another'), b), here)
  await waitFor(() => expect(next.result.current.takenUp).toEqual({ isNew: true, words: ['My own words'] }))
  expect(next.page.now).toEqual(content(text('a', 'By another'), text('b', 'Mine alone')))
  await act(async () => void (await next.result.current.flush()))
  // Words that are in the worksheet nowhere stay in the browser until somebody has read them.
  expect([...here.drafts.keys()]).toEqual(['p/w/2'])
  act(() => next.result.current.readTakenUp())
  expect(next.result.current.takenUp).toBeNull()
  expect(here.drafts.size).toBe(0)
})

test('leaving asks only where the server cannot be reached', async () => {
  const { result, write } = written(content(a))
  const leave = () => !window.dispatchEvent(new Event('beforeunload', { cancelable: true }))
  act(() => write(content(text('a', 'Typed'))))
  expect(leave()).toBe(false)
  const works = globalThis.fetch
  globalThis.fetch = broken
  await act(async () => void (await result.current.flush()))
  expect(leave()).toBe(true)
  globalThis.fetch = works
  await act(async () => void (await result.current.flush()))
  expect(leave()).toBe(false)
})
