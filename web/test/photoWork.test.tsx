import { afterEach, expect, test } from '@jest/globals'
import { act, cleanup, renderHook, waitFor } from '@testing-library/react'
import { newPage, usePhotoWork } from '../src/worksheets/bringIn/usePhotoWork'

const works = globalThis.fetch
afterEach(() => {
  cleanup()
  globalThis.fetch = works
})

test('what could not be sent as the window went out of sight is sent again by itself', async () => {
  const page = { ...newPage(null, { width: 9, height: 9 }), found: true }
  let away = true
  globalThis.fetch = (_path, init) => {
    if (init?.method === 'PUT' && away) return Promise.reject(new Error('no connection'))
    const answer = init?.method === 'PUT' ? { version: 1 } : { version: 0, work: { pages: [page] } }
    return Promise.resolve(new Response(JSON.stringify(answer), { status: 200 }))
  }
  const { result } = renderHook(() => usePhotoWork('u'))
  await waitFor(() => expect(result.current.pages).toHaveLength(1))
  act(() => result.current.change(page.key, { turn: 90 }))
  Object.defineProperty(document, 'visibilityState', { configurable: true, value: 'hidden' })
  act(() => void document.dispatchEvent(new Event('visibilitychange')))
  delete (document as { visibilityState?: unknown }).visibilityState
  await waitFor(() => expect(result.current.state).toBe('away'))
  away = false
  await waitFor(() => expect(result.current.state).toBe('saved'))
})

test('what is changed is kept, and what is taken back before it was kept is said to be saved', async () => {
  const page = { ...newPage(null, { width: 9, height: 9 }), found: true }
  const kept: { version: number; work: { pages: { turn: number }[] } }[] = []
  globalThis.fetch = (_path, init) => {
    const answer = init?.method === 'PUT' ? { version: kept.length + 1 } : { version: 0, work: { pages: [page] } }
    if (init?.method === 'PUT') kept.push(JSON.parse(init.body as string) as (typeof kept)[number])
    return Promise.resolve(new Response(JSON.stringify(answer), { status: 200 }))
  }
  const { result } = renderHook(() => usePhotoWork('u'))
  await waitFor(() => expect(result.current.pages).toHaveLength(1))
  act(() => result.current.change(page.key, { turn: 90 }))
  act(() => result.current.undo())
  expect(result.current.pages![0]!.turn).toBe(0)
  await waitFor(() => expect(result.current.state).toBe('saved'))
  expect(kept).toEqual([])
  act(() => result.current.change(page.key, { turn: 180 }))
  expect(result.current.state).toBe('saving')
  await waitFor(() => expect(result.current.state).toBe('saved'))
  expect(kept.map(({ version, work }) => [version, work.pages[0]!.turn])).toEqual([[0, 180]])
})
