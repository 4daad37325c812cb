import { afterEach, beforeEach, expect, jest, test } from '@jest/globals'
import { LiveConnection } from '../src/live/connection'

class Socket {
  static readonly OPEN = 1
  static last: Socket
  readyState = 0
  onopen: (() => void) | null = null
  onclose: ((event: { code: number }) => void) | null = null
  constructor() {
    Socket.last = this
  }
  send(): void {}
  close(): void {
    this.readyState = 3
    this.onclose?.({ code: 1000 })
  }
  opens(): void {
    this.readyState = 1
    this.onopen?.()
  }
  breaks(): void {
    this.readyState = 3
    this.onclose?.({ code: 1006 })
  }
}

let connection: LiveConnection
beforeEach(() => {
  jest.useFakeTimers()
  Object.assign(globalThis, { WebSocket: Socket })
  connection = new LiveConnection('ws://fennickquay.example/api/live')
})
afterEach(() => {
  jest.useRealTimers()
})

test('a connection that is just being opened is not away; one that cannot be had is', () => {
  const told = jest.fn()
  connection.subscribe(told)
  connection.watch('h', () => undefined)
  expect(connection.isAway).toBe(false)
  jest.advanceTimersByTime(3_900)
  expect(connection.isAway).toBe(false)
  jest.advanceTimersByTime(200)
  expect(connection.isAway).toBe(true)
  expect(told).toHaveBeenCalledTimes(1)
  Socket.last.opens()
  expect(connection.isAway).toBe(false)
  expect(told).toHaveBeenCalledTimes(2)
})

test('one that broke is away until it is back', () => {
  connection.watch('h', () => undefined)
  Socket.last.opens()
  jest.advanceTimersByTime(60_000)
  expect(connection.isAway).toBe(false)
  const first = Socket.last
  first.breaks()
  expect(connection.isAway).toBe(true)
  jest.advanceTimersByTime(1_000)
  expect(Socket.last).not.toBe(first)
  Socket.last.opens()
  expect(connection.isAway).toBe(false)
})

test('one that nobody wants any more is not missed', () => {
  const stop = connection.watch('h', () => undefined)
  Socket.last.opens()
  stop()
  jest.advanceTimersByTime(3_000)
  expect(Socket.last.readyState).toBe(3)
  expect(connection.isAway).toBe(false)
})
