import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals'
import { DocLoader } from '../dist/kept/docLoader.js'
import type { LiveCopy } from '../dist/live/liveCopy.js'
import { LiveCopies } from '../dist/live/liveCopies.js'
import type { LiveStore } from '../dist/live/liveStore.js'

/** A copy that nobody has open, and how often it was looked at to be put away. */
function idleCopy() {
  const written = jest.fn(() => [][Symbol.iterator]())
  const copy = { id: 'chart', channels: new Set(), pending: 0, dropped: false, written, destroy: () => undefined }
  return { copy: copy as unknown as LiveCopy, written }
}

describe('copies in memory', () => {
  const database = {} as LiveStore
  beforeEach(() => void jest.useFakeTimers())
  afterEach(() => void jest.useRealTimers())

  test('one that nobody has open is put away after a while, unless the server stops first', async () => {
    const copies = new LiveCopies(database, new DocLoader(), () => false)
    const first = idleCopy()
    copies.release(first.copy)
    await jest.advanceTimersByTimeAsync(60_000)
    expect(first.written).toHaveBeenCalledTimes(1)

    const second = idleCopy()
    copies.release(second.copy)
    await copies.stop()
    copies.release(second.copy)
    await jest.advanceTimersByTimeAsync(60_000)
    expect(second.written).not.toHaveBeenCalled()
  })

  test('one that was dropped and opened again lingers for a time of its own', async () => {
    const copies = new LiveCopies(database, new DocLoader(), () => false)
    const before = idleCopy()
    copies.release(before.copy)
    await jest.advanceTimersByTimeAsync(15_000)
    copies.drop('chart')
    const again = idleCopy()
    copies.release(again.copy)
    await jest.advanceTimersByTimeAsync(10_000)
    expect(again.written).not.toHaveBeenCalled()
    await jest.advanceTimersByTimeAsync(10_000)
    expect(again.written).toHaveBeenCalledTimes(1)
  })
})
