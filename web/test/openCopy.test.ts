import type { ClientMessage, ServerMessage, SpaceUpdate, WorksheetContent } from '@gavrin/core'
import { newAnswerDoc } from '@gavrin/core'
import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals'
import * as Y from 'yjs'
import type { ChannelEnd, LiveConnection } from '../src/live/connection'
import { OpenCopy } from '../src/live/openCopy'
import { browserKeeping } from '../src/live/unsent'

const CONTENT: WorksheetContent = {
  version: 2,
  page: 'A4',
  source: '',
  blocks: [{ id: 'a', kind: 'line', width: 'full' }],
}

/** Stands for the connection and the server behind it. */
class FakeServer {
  end: ChannelEnd | null = null
  readonly sent: ClientMessage[] = []
  readonly updates: SpaceUpdate[] = []
  readonly doc = newAnswerDoc('line')
  channel = 0

  readonly connection = {
    join: (end: ChannelEnd) => {
      this.end = end
      // As the connection does once it is there.
      if (this.channel++ > 0) queueMicrotask(() => end.connected())
      return this.channel
    },
    leave: () => undefined,
    send: (message: ClientMessage) => void this.sent.push(message),
    sendUpdate: (update: SpaceUpdate) => void this.updates.push(update),
  } as unknown as LiveConnection

  say(message: Record<string, unknown>): void {
    this.end!.message({ channel: this.channel, ...message } as Extract<ServerMessage, { channel: number }>)
  }

  /** Takes the copy's opening: its state, then what may be done. */
  async ready(permission = 'edit', state = 'working'): Promise<void> {
    this.end!.update({ channel: 1, space: 'a', number: 0, bytes: Y.encodeStateAsUpdate(this.doc) })
    this.say({ type: 'ready', permission, reason: '', state, page: 'p' })
    await settle()
  }
}

const settle = async () => {
  for (let turn = 0; turn < 20; turn++) await Promise.resolve()
}

let server: FakeServer
let copy: OpenCopy
beforeEach(async () => {
  jest.useFakeTimers()
  server = new FakeServer()
  copy = new OpenCopy(server.connection, 'copy', 'person', CONTENT)
  server.end!.connected()
  await settle()
})
afterEach(() => {
  copy.close()
  jest.useRealTimers()
})
const type = (text: string) => copy.doc('a').getText('line').insert(copy.doc('a').getText('line').length, text)

describe('an open copy', () => {
  test('sends nothing before the server’s state has come', async () => {
    type('early')
    expect(server.updates).toEqual([])
    expect(copy.view().save.is).toBe('not saved')
    await server.ready()
    expect(server.updates).toHaveLength(1)
  })

  test('registers its client id before its first change, once', async () => {
    await server.ready()
    type('a')
    type('b')
    expect(server.sent.filter(({ type: kind }) => kind === 'writer')).toEqual([
      { type: 'writer', channel: 1, space: 'a', client: copy.doc('a').clientID },
    ])
  })

  test('says "saved" only when the server did, for everything up to there', async () => {
    await server.ready()
    type('a')
    type('b')
    expect(copy.view().save.is).toBe('saving')
    server.say({ type: 'saved', number: 1, at: 5 })
    expect(copy.view().save.is).toBe('saving')
    server.say({ type: 'saved', number: 2, at: 7 })
    expect(copy.view().save).toEqual({ is: 'saved', at: 7 })
    expect(await copy.saved()).toBe(true)
  })

  test('says at once that the browser keeps nothing, goes on, and says so no more when it does', async () => {
    const room = { is: false }
    const keeping = { ...browserKeeping, keep: () => Promise.resolve(room.is ? 1 : null) }
    const other = new OpenCopy(server.connection, 'copy', 'person', CONTENT, keeping)
    const add = (text: string) => other.doc('a').getText('line').insert(0, text)
    add('a')
    await settle()
    expect(other.view().keepsNothing).toBe(true)
    expect(other.hasUnsaved).toBe(true)
    room.is = true
    add('b')
    await settle()
    expect(other.view().keepsNothing).toBe(false)
    expect(other.doc('a').getText('line').toJSON()).toBe('ba')
    other.close()
  })

  test('says honestly that it is not saved when no answer comes, and when the connection is gone', async () => {
    await server.ready()
    type('a')
    jest.advanceTimersByTime(4_000)
    expect(copy.view().save.is).toBe('not saved')
    server.say({ type: 'saved', number: 1, at: 5 })
    expect(copy.view().save.is).toBe('saved')
    server.end!.disconnected()
    type('b')
    expect(copy.view().save.is).toBe('not saved')
  })

  test('sends what is not saved again, as one change, when the connection is back', async () => {
    await server.ready()
    type('a')
    server.end!.disconnected()
    type('b')
    type('c')
    server.end!.connected()
    await server.ready()
    const last = server.updates.at(-1)!
    Y.applyUpdate(server.doc, last.bytes)
    expect(server.doc.getText('line').toJSON()).toBe('abc')
    // An answer to what went over the line that broke says nothing of what went since.
    server.say({ type: 'saved', number: 1, at: 5 })
    expect(copy.view().save.is).toBe('saving')
    server.say({ type: 'saved', number: last.number, at: 5 })
    expect(copy.view().save.is).toBe('saved')
  })

  test('shows what others write without sending it back', async () => {
    await server.ready()
    server.doc.getText('line').insert(0, 'theirs')
    server.end!.update({ channel: 1, space: 'a', number: 0, bytes: Y.encodeStateAsUpdate(server.doc) })
    expect(copy.doc('a').getText('line').toJSON()).toBe('theirs')
    expect(server.updates).toEqual([])
  })

  test('keeps the words of a refused change, begins again from the server’s state under a new client id', async () => {
    server.doc.getText('line').insert(0, 'kept')
    await server.ready()
    const before = copy.doc('a').clientID
    type(' refused')
    server.say({ type: 'refused', space: 'a', number: 1, code: 'full', sentence: 'This answer space is full.' })
    expect(copy.view().refusals).toEqual([{ space: 'a', text: 'kept refused', sentence: 'This answer space is full.' }])
    expect(copy.view().generation).toBe(1)
    await server.ready()
    expect(copy.doc('a').getText('line').toJSON()).toBe('kept')
    expect(copy.doc('a').clientID).not.toBe(before)
    expect(copy.view().save.is).toBe('saved')
  })

  test('late writing from elsewhere is news, and so is all that may have come before this page was open', async () => {
    expect(copy.view().lateNews).toBe(0)
    await server.ready()
    expect(copy.view().lateNews).toBe(1)
    server.say({ type: 'late writing' })
    expect(copy.view().lateNews).toBe(2)
  })

  test('after one change came too late, the document and the rest of the changes stay until each is answered', async () => {
    await server.ready()
    type('a')
    type('b')
    type('c')
    server.say({ type: 'saved', number: 1, at: 5 })
    server.say({ type: 'late', space: 'a', number: 2, sentence: 'This copy is submitted.', at: 6 })
    expect(copy.view().resting).toEqual(new Set(['a']))
    expect(copy.doc('a').getText('line').toJSON()).toBe('abc')
    expect(copy.hasUnsaved).toBe(true)
    expect(copy.view().late).toEqual([])
    server.say({ type: 'late', space: 'a', number: 3, sentence: 'This copy is submitted.', at: 7 })
    expect(copy.view().late).toEqual([{ space: 'a', sentence: 'This copy is submitted.' }])
    expect(copy.view().resting.size).toBe(0)
    expect(copy.hasUnsaved).toBe(false)
    // What is in the answer comes from the server.
    server.doc.getText('line').insert(0, 'a')
    await server.ready('comment', 'submitted')
    expect(copy.doc('a').getText('line').toJSON()).toBe('a')
    expect(copy.view().refusals).toEqual([])
  })

  test('answers "send again" with all it has, and gives up in the end, losing no words', async () => {
    await server.ready()
    type('a')
    for (let times = 0; times < 3; times++)
      server.say({ type: 'resend', space: 'a', number: server.updates.at(-1)!.number })
    expect(server.updates).toHaveLength(7)
    server.say({ type: 'resend', space: 'a', number: server.updates.at(-1)!.number })
    expect(copy.view().refusals).toMatchObject([{ text: 'a', sentence: 'This change did not fit what is saved.' }])
  })

  test('a copy that was closed while words were on their way has them taken beside the answers, if the server does', async () => {
    await server.ready()
    type('a')
    const before = server.updates.length
    server.say({ type: 'closed', sentence: 'This is not here.', again: false, takes: true })
    await settle()
    expect(server.updates.slice(before)).toHaveLength(1)
    server.say({ type: 'late', space: 'a', number: server.updates.at(-1)!.number, sentence: 'Set aside.', at: 6 })
    expect(copy.view()).toMatchObject({ closed: 'This is not here.', late: [{ space: 'a' }] })
  })

  test('a copy that cannot be opened says why; one that will come back is tried again', async () => {
    server.say({ type: 'closed', sentence: 'This is not here, or not for you to see.', again: false, takes: false })
    expect(copy.view().closed).toBe('This is not here, or not for you to see.')
    const before = server.sent.length
    server.say({ type: 'closed', sentence: 'In a moment.', again: true, takes: false })
    jest.advanceTimersByTime(1_000)
    await settle()
    expect(server.sent.length).toBe(before + 1)
  })
})
