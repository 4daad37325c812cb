import {
  type BoardRow,
  type ClassPart,
  type ClientMessage,
  type ServerMessage,
  type SpaceUpdate,
  type WorksheetWriter,
  readSpaceUpdate,
  writeSpaceUpdate,
} from '@gavrin/core'

/** What a channel over the connection takes. */
export interface ChannelEnd {
  /** The connection is there: open the copy. */
  connected(): void
  disconnected(): void
  message(message: Extract<ServerMessage, { channel: number }>): void
  update(update: SpaceUpdate): void
}

type RowsListener = (rows: readonly BoardRow[]) => void
type ClassListener = (part: ClassPart | 'everything', columnId?: string) => void

/** What is told of a worksheet of the library that is open. */
export interface WorksheetEnd {
  writers(writers: readonly WorksheetWriter[]): void
  /** Its draft was kept by somebody; null: the connection was away, it may have been. */
  changed(version: number | null): void
}

const FIRST_PAUSE = 300
const LONGEST_PAUSE = 5_000
/** A connection that is not there after so long is said to be away, in milliseconds. */
const SLOW = 4_000

/** The one live connection of a window. It comes back by itself; whoever uses it is told when it went and came. */
export class LiveConnection {
  private socket: WebSocket | null = null
  private readonly channels = new Map<number, ChannelEnd>()
  private readonly watches = new Map<string, Set<RowsListener>>()
  private readonly classWatches = new Map<string, Set<ClassListener>>()
  private readonly worksheets = new Map<string, { end: WorksheetEnd; block: string | null; at: number | null }>()
  private readonly listeners = new Set<() => void>()
  private nextChannel = 1
  private wasAway = false
  private missing = false
  private pause = FIRST_PAUSE
  private timer: ReturnType<typeof setTimeout> | null = null

  constructor(private readonly address: string) {
    window.addEventListener('online', () => this.retryNow())
    window.addEventListener('gavrin:signed-in', () => this.retryNow())
    document.addEventListener('visibilitychange', () => !document.hidden && this.retryNow())
  }

  get isOpen(): boolean {
    return this.socket?.readyState === WebSocket.OPEN
  }

  /** Whether it is wanted and cannot be had; one that is only just opened is not away. */
  get isAway(): boolean {
    return this.missing
  }

  /** For `useSyncExternalStore`: called when the connection goes or comes. */
  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener)
    return () => this.listeners.delete(listener)
  }

  /** Adds a channel; its number. */
  join(end: ChannelEnd): number {
    const number = this.nextChannel++
    this.channels.set(number, end)
    // Not before the caller knows the number.
    if (this.isOpen) queueMicrotask(() => this.isOpen && this.channels.has(number) && end.connected())
    else this.connect()
    return number
  }

  leave(channel: number): void {
    if (this.channels.delete(channel)) this.send({ type: 'close', channel })
    this.rest()
  }

  /** Hears of the rows of a board that change, and of all of them now and whenever the connection comes back. */
  watch(handoutId: string, listener: RowsListener): () => void {
    const known = this.watches.get(handoutId)
    if (known) known.add(listener)
    else this.watches.set(handoutId, new Set([listener]))
    if (this.isOpen) this.send({ type: 'watch', handoutId })
    else this.connect()
    return () => {
      const listeners = this.watches.get(handoutId)
      listeners?.delete(listener)
      if (listeners?.size === 0) {
        this.watches.delete(handoutId)
        this.send({ type: 'unwatch', handoutId })
        this.rest()
      }
    }
  }

  /** Hears which part of a class was changed by somebody; `everything` when the connection was away meanwhile. */
  watchClass(classId: string, listener: ClassListener): () => void {
    const known = this.classWatches.get(classId)
    if (known) known.add(listener)
    else this.classWatches.set(classId, new Set([listener]))
    if (this.isOpen) this.send({ type: 'watch class', classId })
    else this.connect()
    return () => {
      const listeners = this.classWatches.get(classId)
      listeners?.delete(listener)
      if (listeners?.size === 0) {
        this.classWatches.delete(classId)
        this.send({ type: 'unwatch class', classId })
        this.rest()
      }
    }
  }

  /** Hears who else writes in a worksheet and when its draft is kept. One end for each worksheet. */
  watchWorksheet(worksheetId: string, end: WorksheetEnd): () => void {
    this.worksheets.set(worksheetId, { end, block: null, at: null })
    if (this.isOpen) this.send({ type: 'watch worksheet', worksheetId, block: null, at: null })
    else this.connect()
    return () => {
      if (this.worksheets.get(worksheetId)?.end !== end) return
      this.worksheets.delete(worksheetId)
      this.send({ type: 'unwatch worksheet', worksheetId })
      this.rest()
    }
  }

  /** Says in which block of a worksheet one is, and how far into it the caret is. */
  standAt(worksheetId: string, block: string | null, at: number | null): void {
    const watched = this.worksheets.get(worksheetId)
    if (!watched || (watched.block === block && watched.at === at)) return
    Object.assign(watched, { block, at })
    this.send({ type: 'watch worksheet', worksheetId, block, at })
  }

  send(message: ClientMessage): void {
    if (this.isOpen) this.socket?.send(JSON.stringify(message))
  }

  sendUpdate(update: SpaceUpdate): void {
    if (this.isOpen) this.socket?.send(writeSpaceUpdate(update) as Uint8Array<ArrayBuffer>)
  }

  private get wanted(): boolean {
    return this.channels.size > 0 || this.watches.size > 0 || this.classWatches.size > 0 || this.worksheets.size > 0
  }

  private retryNow(): void {
    if (!this.wanted || this.socket) return
    this.pause = FIRST_PAUSE
    this.connect()
  }

  private connect(): void {
    if (this.timer) clearTimeout(this.timer)
    this.timer = null
    if (this.socket) return
    const socket = new WebSocket(this.address)
    socket.binaryType = 'arraybuffer'
    this.socket = socket
    const slow = setTimeout(() => this.miss(), SLOW)
    socket.onopen = () => {
      clearTimeout(slow)
      this.missing = false
      this.pause = FIRST_PAUSE
      for (const end of this.channels.values()) end.connected()
      for (const handoutId of this.watches.keys()) this.send({ type: 'watch', handoutId })
      for (const [classId, listeners] of this.classWatches) {
        this.send({ type: 'watch class', classId })
        if (this.wasAway) for (const listener of listeners) listener('everything')
      }
      for (const [worksheetId, { end, block, at }] of this.worksheets) {
        this.send({ type: 'watch worksheet', worksheetId, block, at })
        if (this.wasAway) end.changed(null)
      }
      this.wasAway = false
      this.tell()
    }
    socket.onmessage = ({ data }: MessageEvent<string | ArrayBuffer>) => this.receive(data)
    socket.onclose = ({ code }) => {
      clearTimeout(slow)
      this.socket = null
      this.wasAway = true
      this.missing = this.wanted
      for (const end of this.channels.values()) end.disconnected()
      this.tell()
      // 4401: signed out.
      if (code === 4401) window.dispatchEvent(new Event('gavrin:signed-out'))
      if (!this.wanted) return
      this.timer = setTimeout(() => this.connect(), this.pause * (0.5 + Math.random()))
      this.pause = Math.min(this.pause * 2, LONGEST_PAUSE)
    }
  }

  private receive(data: string | ArrayBuffer): void {
    if (typeof data !== 'string') {
      const update = readSpaceUpdate(new Uint8Array(data))
      if (update) this.channels.get(update.channel)?.update(update)
      return
    }
    const message = JSON.parse(data) as ServerMessage
    if ('channel' in message) this.channels.get(message.channel)?.message(message)
    else if (message.type === 'rows')
      for (const listener of this.watches.get(message.handoutId) ?? []) listener(message.rows)
    else if (message.type === 'worksheet writers')
      this.worksheets.get(message.worksheetId)?.end.writers(message.writers)
    else if (message.type === 'worksheet changed')
      this.worksheets.get(message.worksheetId)?.end.changed(message.version)
    else if (message.type === 'class changed')
      for (const listener of this.classWatches.get(message.classId) ?? []) listener(message.part, message.columnId)
  }

  private miss(): void {
    this.missing = true
    this.tell()
  }

  /** Lets the socket go when nothing is open over it any more, unless something is opened at once. */
  private rest(): void {
    setTimeout(() => {
      if (!this.wanted) this.socket?.close()
    }, 2_000)
  }

  private tell(): void {
    for (const listener of this.listeners) listener()
  }
}

let connection: LiveConnection | null = null

/** The live connection of this window. */
export function live(): LiveConnection {
  return (connection ??= new LiveConnection(`${location.origin.replace(/^http/, 'ws')}/api/live`))
}
