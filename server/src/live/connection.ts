import type { BoardShown } from '../kept/boardRows.js'
import { type PersonName, type ServerMessage, type SpaceUpdate, type Viewer, writeSpaceUpdate } from '@gavrin/core'
import type { WebSocket } from 'ws'
import type { Budget } from './budget.js'

/** What keeps a socket from being read. */
type Hold = 'inbox' | 'backlog'

const INBOX_HIGH = 256
const INBOX_LOW = 64
const OUTBOX_LIMIT = 16_000_000

/** One browser's socket, with what is open over it by number. Its messages are dealt with one after the other, at a rate. */
export class Connection<Open = unknown> {
  readonly channels = new Map<number, Open>()
  /** The boards it is shown, each with the students whose copies are shown; null for all of them. */
  readonly watched = new Map<string, BoardShown>()
  readonly watchedClasses = new Set<string>()
  alive = true
  /** Of the person, as others are told who is here. */
  name: PersonName = { first: '', last: '' }
  private readonly inbox: (string | Uint8Array)[] = []
  private pumping = false
  private readonly holds = new Set<Hold>()
  /** The answer spaces that this person could write in when they began to, by copy and space. */
  readonly begun = new Set<string>()

  constructor(
    readonly socket: WebSocket,
    readonly viewer: Viewer,
    /** Of the session it was opened with. */
    readonly sessionId: string,
    /** Of the person, shared by all their connections. */
    readonly budget: Budget,
    private readonly handle: (message: string | Uint8Array) => Promise<void>,
  ) {}

  get open(): boolean {
    return this.socket.readyState === this.socket.OPEN
  }

  /** Takes a message in; it waits for those before it. */
  receive(message: string | Uint8Array): void {
    this.inbox.push(message)
    if (this.inbox.length >= INBOX_HIGH) this.hold('inbox')
    if (!this.pumping) void this.pump()
  }

  /** Stops reading from the socket until it is let go; the browser's messages wait on its side. */
  hold(reason: Hold): void {
    if (this.holds.size === 0) this.socket.pause()
    this.holds.add(reason)
  }

  letGo(reason: Hold): void {
    if (this.holds.delete(reason) && this.holds.size === 0) this.socket.resume()
  }

  send(message: ServerMessage): void {
    this.write(JSON.stringify(message))
  }

  sendUpdate(update: SpaceUpdate): void {
    this.write(writeSpaceUpdate(update))
  }

  private write(data: string | Uint8Array): void {
    if (!this.open) return
    // A browser that does not read is cut; it comes back and is sent the state as it is then.
    if (this.socket.bufferedAmount > OUTBOX_LIMIT) this.socket.terminate()
    else this.socket.send(data)
  }

  private async pump(): Promise<void> {
    this.pumping = true
    while (this.inbox.length > 0 && this.open) {
      const wait = this.budget.message()
      if (wait > 0) await new Promise((resolve) => setTimeout(resolve, wait))
      const message = this.inbox.shift()!
      if (this.inbox.length <= INBOX_LOW) this.letGo('inbox')
      await this.handle(message)
    }
    this.pumping = false
  }
}
