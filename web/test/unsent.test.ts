import { beforeEach, expect, jest, test } from '@jest/globals'

// What was written and not sent, when the page goes before the browser's database has said that it has it.

interface Row {
  readonly copy: string
  readonly space: string
  readonly bytes: Uint8Array
}
const rows: Row[] = []
/** Whether the database gets to its end. */
let writes = true
const add = (row: Row) => {
  if (!writes) return new Promise<number>(() => undefined)
  rows.push(row)
  return Promise.resolve(rows.length)
}
const of = (copy: string) => rows.filter((row) => row.copy === copy)
jest.unstable_mockModule('idb', () => ({
  openDB: () =>
    Promise.resolve({
      add: (_: string, row: Row) => add(row),
      getAll: () => Promise.resolve(rows),
      getAllFromIndex: (_: string, __: string, copy: string) => Promise.resolve(of(copy)),
      getAllKeysFromIndex: (_: string, __: string, copy: string) =>
        Promise.resolve(of(copy).map((row) => rows.indexOf(row) + 1)),
      transaction: () => ({ store: { add }, done: Promise.resolve() }),
    }),
}))
const { browserKeeping } = await import('../src/live/unsent')

const change = (...bytes: number[]) => ({ space: 'line', bytes: Uint8Array.from(bytes) })
beforeEach(() => {
  rows.length = 0
  writes = true
  localStorage.clear()
})

test('what the database has is in it alone', async () => {
  await browserKeeping.keep('ana/1', change(1, 2))
  window.dispatchEvent(new Event('pagehide'))
  expect(localStorage).toHaveLength(0)
  expect((await browserKeeping.unsent('ana/1')).map(({ update }) => [...update.bytes])).toEqual([[1, 2]])
})

test('what is on its way as the page goes is found when a copy is opened next, after what was there before, and once', async () => {
  await browserKeeping.keep('ana/1', change(1))
  writes = false
  void browserKeeping.keep('ana/1', change(0, 128, 255))
  void browserKeeping.keep('ana/2', change(7))
  // The database has been asked.
  for (let turn = 0; turn < 5; turn++) await Promise.resolve()
  window.dispatchEvent(new Event('pagehide'))
  writes = true
  expect((await browserKeeping.unsent('ana/1')).map(({ update }) => [...update.bytes])).toEqual([[1], [0, 128, 255]])
  expect(await browserKeeping.copies('ana')).toEqual(['1', '2'])
  expect((await browserKeeping.unsent('ana/2')).map(({ update }) => [...update.bytes])).toEqual([[7]])
  expect(localStorage).toHaveLength(0)
})

test('what cannot be read of it keeps nobody from their copy', async () => {
  localStorage.setItem('gavrin.unsent', 'broken')
  expect(await browserKeeping.unsent('ana/1')).toEqual([])
})
