/** @jest-environment node */
import {
  type ClientMessage,
  type CopyFacts,
  type CopyLife,
  type JournalKind,
  type Permission,
  type ServerMessage,
  type SpaceUpdate,
  type WorksheetContent,
  UNTOUCHED,
  afterEntry,
  newAnswerDoc,
  openRoot,
  readClientMessage,
  readSpaceUpdate,
  writeSpaceUpdate,
} from '@gavrin/core'
import { describe, expect, jest, test } from '@jest/globals'
import fc from 'fast-check'
import type { WebSocket } from 'ws'
import * as Y from 'yjs'
import type { CopyRecord } from '../../server/dist/kept/copyRecord.js'
import { Budget } from '../../server/dist/live/budget.js'
import { Connection } from '../../server/dist/live/connection.js'
import type { Channel, ChannelConnection } from '../../server/dist/live/liveCopy.js'
import { DocLoader } from '../../server/dist/kept/docLoader.js'
import { CopyChannels } from '../../server/dist/live/copyChannels.js'
import type { LiveStore } from '../../server/dist/live/liveStore.js'
import type { LoggedUpdate, StoredLate, StoredSpace } from '../../server/dist/kept/spaces.queries.js'
import type { ChannelEnd, LiveConnection } from '../src/live/connection'
import { OpenCopy } from '../src/live/openCopy'
import type { KeptCopy, StateKeeping } from '../src/live/keptStates'
import type { Keeping, RefusedWords, UnsentUpdate } from '../src/live/unsent'
import { runs } from '../../scripts/lib/runs.mjs'

// The browser's and the server's side of a live copy, the real ones, with a network between that delays, reorders answers
// and breaks, a database that takes its time, and people who submit, stop pens, change permissions and reload at any moment.
// There is one law: every letter that stood on a screen is afterwards in the answer or in late writing, and the page said so.

// A browser has them, and this is none.
Object.assign(globalThis, {
  navigator: { onLine: false },
  addEventListener: () => undefined,
  removeEventListener: () => undefined,
})

const SCHOOL = 'school'
const COPY = 'copy'
const SPACES = ['a', 'b'] as const
const CONTENT: WorksheetContent = {
  version: 2,
  page: 'A4',
  source: '',
  blocks: SPACES.map((id) => ({ id, kind: 'line', width: 'full' })),
}
type Person = 'ada' | 'bo'
/** Ada writes on two devices in a copy that she shares with Bo. */
const DEVICES: readonly Person[] = ['ada', 'ada', 'bo']

/** Turns of the event loop that nothing is faked of. */
const turns = async (count = 3) => {
  for (let turn = 0; turn < count; turn++) await new Promise((resolve) => setImmediate(resolve))
}

/** A database that commits when it is told to. */
class Database {
  readonly rows: LoggedUpdate[] = []
  readonly snapshots = new Map<string, { seq: number; bytes: Uint8Array; writers: ReadonlyMap<number, string> }>()
  readonly permissions = new Map<Person, Permission>([
    ['ada', 'edit'],
    ['bo', 'edit'],
  ])
  life: CopyLife = UNTOUCHED
  private waiting: { updates: readonly LoggedUpdate[]; done: () => void }[] = []

  commit(): void {
    const next = this.waiting.shift()
    if (!next) return
    this.rows.push(...next.updates)
    next.done()
  }

  /** The server was killed: what it had sent may have arrived or not; it never hears of it. */
  forget(arrived: boolean): void {
    if (arrived) for (const { updates } of this.waiting) this.rows.push(...updates)
    this.waiting = []
  }

  /** What one process of the server reads and writes. */
  store(): LiveStore {
    const facts = (): CopyFacts => ({
      schoolId: SCHOOL,
      way: 'one together',
      isKept: false,
      holders: new Map(this.permissions),
      readers: new Map(),
      othersPlaces: 'read',
      invited: new Map(),
      ownCopies: false,
      checks: 'no',
      classmatesComment: true,
      staffShown: true,
      viewersReadComments: true,
      readersNamed: true,
      mayInvite: false,
      classmatesMay: 'none',
      places: [],
      reserved: new Map(),
      state: this.life.state,
      pensDown: this.life.pensDown,
      pensDownFrom: null,
      setAside: this.life.setAside,
      opensAt: null,
      dueAt: null,
      pensDownAtDue: false,
      lateWork: true,
      guestsUntil: 0,
      guestIs: new Map(),
      namedHelpers: new Set(),
      timeZone: 'Europe/Lisbon',
      locale: 'en-GB',
    })
    return {
      copy: () =>
        Promise.resolve({
          schoolId: SCHOOL,
          copyId: COPY,
          handoutId: 'handout',
          classId: 'class',
          edition: 1,
          content: CONTENT,
          page: 'page',
          facts: facts(),
          unreadable: null,
          formerWriters: new Set(['ada', 'bo']),
          roles: new Map([
            ['ada', 'student'],
            ['bo', 'student'],
          ]),
        } as unknown as CopyRecord),
      spaces: () => Promise.resolve(this.stored()),
      late: () => Promise.resolve(this.storedLate()),
      append: (updates) => new Promise<void>((done) => this.waiting.push({ updates, done })),
      fenced: () => Promise.resolve(new Set()),
      keepSnapshot: () => Promise.resolve(),
      foldLate: () => Promise.resolve(),
      journal: (_school, _copy, kind, _person, at) => Promise.resolve(this.enter(kind, at)),
      keepProgress: () => Promise.resolve(),
      keepUnreadable: () => Promise.reject(new Error('every answer can be read')),
      outdated: () => Promise.resolve([]),
      uncounted: () => Promise.resolve([]),
    }
  }

  enter(kind: JournalKind, at = 0): void {
    this.life = afterEntry(this.life, { kind, at })
  }

  private stored(): Map<string, StoredSpace> {
    const spaces = new Map<string, StoredSpace & { seq: number; unfolded: number }>()
    for (const { space, seq, bytes, personId, late } of this.rows) {
      if (late !== null) continue
      const found = spaces.get(space) ?? {
        updates: [],
        seq: 0,
        unfolded: 0,
        writers: new Map<number, string>(),
        at: null,
      }
      expect(seq).toBe(found.seq + 1)
      found.updates.push(bytes)
      found.seq = seq
      for (const client of Y.parseUpdateMeta(bytes).to.keys())
        if (!found.writers.has(client)) found.writers.set(client, personId)
      spaces.set(space, found)
    }
    return spaces
  }

  private storedLate(): StoredLate[] {
    const found = new Map<string, StoredLate>()
    for (const { space, seq, bytes, personId, late } of this.rows) {
      if (late === null) continue
      const key = `${space} ${personId}`
      const before = found.get(key)
      expect(seq).toBe((before?.seq ?? 0) + 1)
      const updates = [...(before?.updates ?? []), bytes]
      found.set(key, { space, personId, updates, seq, reason: late, began: 0, at: 0, decided: null })
    }
    return [...found.values()]
  }

  answer(space: string): string {
    return textOf(this.stored().get(space)?.updates ?? [])
  }

  lateText(space: string, person: string): string {
    const late = this.storedLate().find((one) => one.space === space && one.personId === person)
    return late ? textOf([...(this.stored().get(space)?.updates ?? []), ...late.updates]) : ''
  }
}

function textOf(updates: readonly Uint8Array[]): string {
  const doc = newAnswerDoc('line')
  for (const update of updates) Y.applyUpdate(doc, update)
  // Nothing was kept that rests on something that was not.
  expect(doc.store.pendingStructs).toBeNull()
  return (openRoot(doc, 'line') as Y.Text).toJSON()
}

const NO_BOARDS = { send: () => Promise.resolve() }
const LOADER = new DocLoader()

/** One server process. */
class Server {
  readonly connections = new Set<ChannelConnection>()
  readonly channels: CopyChannels

  constructor(database: Database) {
    this.channels = new CopyChannels(database.store(), NO_BOARDS, this.connections, LOADER)
  }

  connect(person: Person, send: (data: string | Uint8Array) => void): ChannelConnection {
    const socket = { readyState: 1, OPEN: 1, bufferedAmount: 0, send, pause: () => undefined, resume: () => undefined }
    const viewer = { schoolId: SCHOOL, personId: person, role: 'student' } as const
    const connection: ChannelConnection = new Connection<Channel>(
      socket as unknown as WebSocket,
      viewer,
      'session',
      new Budget(),
      async (message) => {
        if (typeof message !== 'string') return this.channels.update(connection, readSpaceUpdate(message)!)
        const read = readClientMessage(message)!
        if (read.type === 'open') return this.channels.open(connection, read.channel, read.copyId)
        const channel = 'channel' in read ? connection.channels.get(read.channel) : undefined
        if (!channel) return
        if (read.type === 'close') this.channels.forget(channel)
        if (read.type === 'writer') this.channels.registerWriter(channel, read.space, read.client)
      },
    )
    this.connections.add(connection)
    return connection
  }

  drop(connection: ChannelConnection): void {
    this.connections.delete(connection)
    for (const channel of [...connection.channels.values()]) this.channels.forget(channel)
  }

  /** An act that ends or begins writing. */
  act(change: () => void): void {
    void this.channels.holdStill(SCHOOL, COPY, () => Promise.resolve(change())).catch(() => undefined)
  }
}

/** What a browser keeps over a reload. */
class Kept implements Keeping {
  private next = 1
  private readonly updates = new Map<number, UnsentUpdate>()
  private readonly words = new Map<string, RefusedWords>()
  unsent = () => Promise.resolve([...this.updates].map(([key, update]) => ({ key, update })))
  keep = (_copy: string, update: UnsentUpdate) => {
    const key = this.next++
    this.updates.set(key, update)
    return Promise.resolve(key)
  }
  drop = (keys: readonly number[]) => {
    for (const key of keys) this.updates.delete(key)
    return Promise.resolve()
  }
  copies = () => Promise.resolve([])
  refused = () => Promise.resolve([...this.words.values()])
  keepRefused = (_copy: string, space: string, words: RefusedWords | null) => {
    if (words) this.words.set(space, words)
    else this.words.delete(space)
    return Promise.resolve()
  }
}

/** How a browser keeps a copy as the server has it. */
class KeptStates implements StateKeeping {
  about: KeptCopy | null = null
  readonly states = new Map<string, Uint8Array>()
  mayKeep = () => true
  read = () => Promise.resolve(this.about && { about: this.about, states: new Map(this.states) })
  keep = (_copy: string, about: KeptCopy, states: ReadonlyMap<string, Uint8Array>) => {
    this.about = about
    for (const [space, bytes] of states) this.states.set(space, bytes)
    return Promise.resolve()
  }
}

const isAnswer = (data: string | Uint8Array) =>
  typeof data === 'string' && /^\{"type":"(saved|late|refused|resend)"/.test(data)

/** A device: its page, its line to the server, and what was typed on it. */
class Device {
  private readonly kept = new Kept()
  private readonly states = new KeptStates()
  /** How often its page was opened as it was kept. */
  openedAsKept = 0
  page: OpenCopy
  private ends = new Map<number, ChannelEnd>()
  private nextChannel = 1
  line: ChannelConnection | null = null
  up: (string | Uint8Array)[] = []
  down: (string | Uint8Array)[] = []
  readonly typed: { letter: string; space: string }[] = []
  readonly saidLate = new Set<string>()

  constructor(
    readonly person: Person,
    private readonly server: () => Server,
  ) {
    this.page = this.newPage()
  }

  private newPage(): OpenCopy {
    this.ends = new Map()
    const connection = {
      join: (end: ChannelEnd) => {
        const number = this.nextChannel++
        this.ends.set(number, end)
        if (this.line) queueMicrotask(() => this.line && this.ends.get(number) === end && end.connected())
        return number
      },
      leave: (channel: number) => {
        if (this.ends.delete(channel) && this.line) this.up.push(JSON.stringify({ type: 'close', channel }))
      },
      send: (message: ClientMessage) => {
        if (this.line) this.up.push(JSON.stringify(message))
      },
      sendUpdate: (update: SpaceUpdate) => {
        if (this.line) this.up.push(writeSpaceUpdate(update))
      },
    } as unknown as LiveConnection
    const page = new OpenCopy(connection, COPY, this.person, CONTENT, this.kept)
    // It is not asked whether there is a network: the page is opened as it was at once, and the server's state comes on top of it.
    page.keepHere(this.states)
    const stop = page.subscribe(() => {
      if (!page.view().ready) return
      if (page.view().openings === 0) this.openedAsKept++
      stop()
    })
    return page
  }

  connect(): void {
    if (this.line) return
    this.line = this.server().connect(this.person, (data) => this.down.push(data))
    for (const end of [...this.ends.values()]) end.connected()
  }

  disconnect(): void {
    if (!this.line) return
    this.server().drop(this.line)
    this.line = null
    this.up = []
    this.down = []
    for (const end of [...this.ends.values()]) end.disconnected()
  }

  reload(): void {
    const wasUp = this.line !== null
    this.disconnect()
    this.page.close()
    this.page = this.newPage()
    if (wasUp) this.connect()
  }

  type(space: string, letter: string, at: number): boolean {
    const { ready, permission, resting } = this.page.view()
    if (!ready || permission !== 'edit' || resting.has(space)) return false
    const text = openRoot(this.page.doc(space), 'line') as Y.Text
    text.insert(at % (text.length + 1), letter)
    this.typed.push({ letter, space })
    return true
  }

  deliverUp(): void {
    const message = this.up.shift()
    if (message !== undefined) this.line?.receive(message)
  }

  /** Answers may overtake one another. */
  deliverDown(choice: number): void {
    let answers = 0
    while (answers < this.down.length && isAnswer(this.down[answers]!)) answers++
    const [data] = this.down.splice(answers > 1 ? choice % answers : 0, 1)
    if (data === undefined) return
    if (typeof data !== 'string') {
      const update = readSpaceUpdate(data)!
      this.ends.get(update.channel)?.update(update)
      return
    }
    const message = JSON.parse(data) as Extract<ServerMessage, { channel: number }>
    this.ends.get(message.channel)?.message(message)
  }
}

const stepArb = fc.record({
  what: fc.constantFrom(
    ...([
      'type',
      'type',
      'type',
      'type',
      'type',
      'up',
      'up',
      'up',
      'down',
      'down',
      'down',
      'commit',
      'commit',
    ] as const),
    ...(['line', 'reload', 'submit', 'pens', 'permission', 'aside', 'kill', 'time'] as const),
  ),
  device: fc.nat(DEVICES.length - 1),
  space: fc.constantFrom(...SPACES),
  choice: fc.nat(1_000),
})
type Step = typeof stepArb extends fc.Arbitrary<infer S> ? S : never

class World {
  readonly database = new Database()
  server = new Server(this.database)
  readonly devices = DEVICES.map((person) => new Device(person, () => this.server))
  private letters = 0
  killed = 0

  async step({ what, device: index, space, choice }: Step): Promise<void> {
    const device = this.devices[index]!
    switch (what) {
      case 'type':
        for (let more = 0; more <= choice % 3; more++)
          if (device.type(space, String.fromCharCode(0x4e00 + this.letters), choice)) this.letters++
        break
      case 'up':
        for (let more = 0; more <= choice % 3; more++) device.deliverUp()
        break
      case 'down':
        for (let more = 0; more <= choice % 3; more++) device.deliverDown(choice)
        break
      case 'commit':
        this.database.commit()
        break
      case 'line':
        if (device.line) device.disconnect()
        else device.connect()
        break
      case 'reload':
        device.reload()
        break
      case 'submit':
        this.server.act(() =>
          this.database.enter(this.database.life.state === 'submitted' ? 'taken back' : 'submitted'),
        )
        break
      case 'pens':
        this.server.act(() => this.database.enter(this.database.life.pensDown ? 'pens up' : 'pens down'))
        break
      case 'aside':
        this.server.act(() => this.database.enter(this.database.life.setAside ? 'brought back' : 'set aside'))
        break
      case 'permission':
        this.server.act(() => {
          const now = this.database.permissions.get(device.person)
          this.database.permissions.set(device.person, now === 'edit' ? 'view' : 'edit')
        })
        break
      case 'kill':
        if (choice % 4 > 0) break
        for (const one of this.devices) one.disconnect()
        this.database.forget(choice % 8 === 0)
        this.server = new Server(this.database)
        this.killed++
        break
      case 'time':
        jest.advanceTimersByTime(1_000)
    }
    await turns(2)
    for (const one of this.devices) this.look(one)
  }

  /** What a page says now is true now. */
  private look(device: Device): void {
    const view = device.page.view()
    for (const { space } of view.late) device.saidLate.add(space)
    if (view.save.is !== 'saved') return
    for (const { letter, space } of device.typed)
      expect(`${this.database.answer(space)}${this.database.lateText(space, device.person)}`).toContain(letter)
  }

  /** Everything arrives in the end. */
  async end(): Promise<void> {
    for (let round = 0; round < 60; round++) {
      for (const device of this.devices) {
        device.connect()
        while (device.up.length) device.deliverUp()
        while (device.down.length) device.deliverDown(round)
      }
      this.database.commit()
      jest.advanceTimersByTime(500)
      await turns()
    }
    for (const device of this.devices) this.look(device)
  }

  close(): void {
    for (const device of this.devices) device.page.close()
  }
}

async function live(steps: readonly Step[]): Promise<World> {
  const world = new World()
  for (const device of world.devices) device.connect()
  for (let round = 0; round < 3; round++) {
    for (const device of world.devices) {
      while (device.up.length) device.deliverUp()
      await turns(2)
      while (device.down.length) device.deliverDown(0)
    }
  }
  for (const step of steps) await world.step(step)
  await world.end()
  return world
}

function check(world: World): void {
  for (const device of world.devices) {
    const view = device.page.view()
    expect(device.page.hasUnsaved).toBe(false)
    expect(view.resting.size).toBe(0)
    expect(view.refusals).toEqual([])
    for (const { letter, space } of device.typed) {
      const inAnswer = world.database.answer(space).includes(letter)
      const isLate = world.database.lateText(space, device.person).includes(letter)
      expect({ letter, kept: inAnswer || isLate }).toEqual({ letter, kept: true })
    }
    if (view.closed !== null) continue
    for (const space of SPACES)
      expect((openRoot(device.page.doc(space), 'line') as Y.Text).toJSON()).toBe(world.database.answer(space))
  }
}

describe('every letter that stood on a screen', () => {
  test('is afterwards in the answer or in late writing, and the page said which', async () => {
    jest.useFakeTimers({ doNotFake: ['setImmediate', 'nextTick', 'queueMicrotask', 'performance'] })
    let letters = 0
    let late = 0
    let asKept = 0
    try {
      await fc.assert(
        fc.asyncProperty(fc.array(stepArb, { minLength: 20, maxLength: 90 }), async (steps) => {
          const world = await live(steps)
          try {
            check(world)
            for (const { typed, person, openedAsKept } of world.devices) {
              asKept += openedAsKept
              letters += typed.length
              late += typed.filter(
                ({ letter, space }) =>
                  world.database.lateText(space, person).includes(letter) &&
                  !world.database.answer(space).includes(letter),
              ).length
            }
          } finally {
            world.close()
          }
        }),
        { numRuns: runs(100, 3_000) },
      )
    } finally {
      jest.useRealTimers()
    }
    // The runs meet what they are for.
    expect(letters).toBeGreaterThan(400)
    expect(late).toBeGreaterThan(20)
    expect(asKept).toBeGreaterThan(20)
  }, 3_600_000)
})
