import { afterEach, beforeEach, expect, jest, test } from '@jest/globals'
import { forgetPages, keepOnlyOf, keepPage } from '../src/offline/keepPages'

/** What a browser keeps, as far as pages go. A cache that was deleted is open still to whoever had opened it. */
class Pages {
  entries = new Map<string, Response>()
  open = () => {
    const { entries } = this
    return Promise.resolve({
      put: (path: string, page: Response) => Promise.resolve(void entries.set(path, page)),
      delete: (path: string) => Promise.resolve(entries.delete(path)),
    })
  }
  delete = () => {
    this.entries = new Map()
    return Promise.resolve(true)
  }
}

let pages: Pages
let answer: (page: Response) => void
const pageFor = (person: string) => new Response('page', { headers: { 'Gavrin-For': person } })
/** Past the time after which nobody waits for anything, and what follows of promises. */
const settle = async () => {
  await jest.advanceTimersByTimeAsync(6_000)
}

beforeEach(() => {
  jest.useFakeTimers()
  pages = new Pages()
  const worker = { active: { postMessage: () => undefined } }
  Object.assign(globalThis, {
    caches: pages,
    fetch: () => new Promise<Response>((resolve) => (answer = resolve)),
  })
  Object.defineProperty(navigator, 'serviceWorker', {
    configurable: true,
    value: { register: () => Promise.resolve(worker), ready: Promise.resolve(worker) },
  })
})

afterEach(async () => {
  const forgetting = forgetPages()
  await settle()
  await forgetting
  jest.useRealTimers()
})

test('a page is kept that the server sent to the one who is here', async () => {
  void keepPage('suryani', '/copies/1', 'first')
  await settle()
  answer(pageFor('suryani'))
  await settle()
  expect([...pages.entries.keys()]).toEqual(['/copies/1'])
})

test('who signs out while a page is on its way to be kept leaves nothing', async () => {
  void keepPage('suryani', '/copies/1', 'first')
  await settle()
  void forgetPages()
  await settle()
  answer(pageFor('suryani'))
  await settle()
  expect([...pages.entries.keys()]).toEqual([])
})

test('who signs out before it is asked for leaves nothing', async () => {
  void keepPage('suryani', '/copies/1', 'first')
  void keepOnlyOf(null)
  await settle()
  answer(pageFor('suryani'))
  await settle()
  expect([...pages.entries.keys()]).toEqual([])
})

test('a page that was sent to nobody, or to somebody else, is not kept, and asked for again', async () => {
  for (const page of [new Response('sign in'), pageFor('ren'), new Response('gone', { status: 404 })]) {
    void keepPage('suryani', '/copies/1', 'first')
    await settle()
    answer(page)
    await settle()
    expect([...pages.entries.keys()]).toEqual([])
  }
  void keepPage('suryani', '/copies/1', 'first')
  await settle()
  answer(pageFor('suryani'))
  await settle()
  expect([...pages.entries.keys()]).toEqual(['/copies/1'])
})
