import {
  type AnswerSpace,
  type CopyState,
  type Permission,
  type ServerMessage,
  type SpaceUpdate,
  type WorksheetContent,
  answerSpaces,
  answerText,
  newAnswerDoc,
  readAnswer,
} from '@gavrin/core'
import * as Y from 'yjs'
import type { ChannelEnd, LiveConnection } from './connection'
import { dropUnsent, keepUnsent, unsentOf } from './unsent'

/** Whether what is written here is on the server's disk. */
export type SaveState =
  | { readonly is: 'opening' }
  | { readonly is: 'saved'; readonly at: number | null }
  | { readonly is: 'saving' }
  /** Kept in this browser; sent when the connection is back. */
  | { readonly is: 'not saved' }

/** Something that was written and not taken, with the words, so that nothing is lost. */
export interface Refusal {
  readonly space: string
  readonly text: string
  readonly sentence: string
  /** Kept on the server, for the teacher. */
  readonly kept: boolean
}

export interface CopyView {
  readonly ready: boolean
  /** The page the server has now; null until it said so. */
  readonly page: string | null
  readonly permission: Permission
  /** Why not more may be done. */
  readonly reason: string
  readonly state: CopyState | null
  readonly save: SaveState
  readonly refusals: readonly Refusal[]
  /** Why this cannot be opened at all. */
  readonly closed: string | null
  /** Grows when the document of a space was replaced. */
  readonly generation: number
}

interface Unsaved {
  readonly space: string
  readonly bytes: Uint8Array
  /** Of the message it went with; 0: not sent. */
  number: number
  key: Promise<number | null>
}

/** After this time without an acknowledgement the page says so, in milliseconds. */
const PATIENCE = 2_500

const START: CopyView = {
  ready: false,
  page: null,
  permission: 'none',
  reason: '',
  state: null,
  save: { is: 'opening' },
  refusals: [],
  closed: null,
  generation: 0,
}

const isServers = (origin: unknown) => origin === 'server'

/**
 * A copy that is open in this window: one document for each answer space, what of them is not saved yet, and what the
 * person may do. Nothing is sent before the server's state has come; nothing is called saved before the server said so.
 */
export class OpenCopy implements ChannelEnd {
  private readonly spaces: ReadonlyMap<string, AnswerSpace>
  private readonly docs = new Map<string, Y.Doc>()
  private readonly registered = new Set<string>()
  private readonly listeners = new Set<() => void>()
  private unsaved: Unsaved[] = []
  private readonly channel: number
  private number = 0
  private shown: CopyView = START
  private savedAt: number | null = null
  private waitingSince: number | null = null
  private connectedNow = false
  private synced = false
  private restored: Promise<void> | null = null
  private readonly timer: ReturnType<typeof setInterval>
  private again: ReturnType<typeof setTimeout> | null = null
  private readonly resent = new Map<string, number>()

  constructor(
    private readonly connection: LiveConnection,
    private readonly copyId: string,
    private readonly personId: string,
    content: WorksheetContent,
  ) {
    this.spaces = new Map(answerSpaces(content).map((space) => [space.id, space]))
    this.timer = setInterval(() => this.showSave(), 500)
    this.channel = connection.join(this)
  }

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener)
    return () => this.listeners.delete(listener)
  }

  readonly view = (): CopyView => this.shown

  /** The document of an answer space, the same until the generation grows. */
  doc(space: string): Y.Doc {
    let doc = this.docs.get(space)
    if (!doc) {
      doc = newAnswerDoc(this.spaces.get(space)!.kind)
      doc.on('update', (bytes: Uint8Array, origin: unknown) => {
        if (!isServers(origin)) this.written(space, bytes)
      })
      this.docs.set(space, doc)
    }
    return doc
  }

  /** Resolves once everything written so far is saved; false if that does not happen in time. */
  async saved(patience = 5_000): Promise<boolean> {
    const end = Date.now() + patience
    while (this.unsaved.length > 0 && Date.now() < end)
      await new Promise<void>((resolve) => {
        const stop = this.subscribe(done)
        const timer = setTimeout(done, 250)
        function done() {
          clearTimeout(timer)
          stop()
          resolve()
        }
      })
    return this.unsaved.length === 0
  }

  forgetRefusal(refusal: Refusal): void {
    this.show({ refusals: this.shown.refusals.filter((other) => other !== refusal) })
  }

  close(): void {
    clearInterval(this.timer)
    if (this.again) clearTimeout(this.again)
    this.connection.leave(this.channel)
    this.listeners.clear()
    for (const doc of this.docs.values()) doc.destroy()
  }

  // The connection's side

  connected(): void {
    this.connectedNow = true
    this.open()
  }

  disconnected(): void {
    this.connectedNow = false
    this.synced = false
    this.showSave()
  }

  update({ space, bytes }: SpaceUpdate): void {
    if (this.spaces.has(space)) Y.applyUpdate(this.doc(space), bytes, 'server')
  }

  message(message: Extract<ServerMessage, { channel: number }>): void {
    switch (message.type) {
      case 'ready':
      case 'permission': {
        const { permission, reason, state } = message
        this.show({ permission, reason, state, closed: null })
        if (message.type === 'ready') {
          this.show({ page: message.page })
          void this.begin()
        }
        return
      }
      case 'saved':
        this.settle(({ number }) => number > 0 && number <= message.upTo)
        this.savedAt = message.at
        this.resent.clear()
        return this.showSave()
      case 'resend':
        return this.resend(message.space)
      case 'refused':
        return this.refused(message.space, message.sentence, message.kept)
      case 'writer-taken':
        return this.refused(message.space, 'This change could not be told from another one.', false)
      case 'closed':
        this.synced = false
        if (message.again) this.again = setTimeout(() => this.connectedNow && this.open(), 700)
        else this.show({ closed: message.sentence, ready: false, permission: 'none' })
        return this.showSave()
    }
  }

  private open(): void {
    this.synced = false
    this.registered.clear()
    this.number = 0
    for (const entry of this.unsaved) entry.number = 0
    this.connection.send({ type: 'open', channel: this.channel, copyId: this.copyId })
  }

  /** The server's state is here: what is not saved is put on top of it, and sent. */
  private async begin(): Promise<void> {
    await (this.restored ??= this.restore())
    if (!this.connectedNow) return
    this.synced = true
    for (const space of new Set(this.unsaved.map((entry) => entry.space))) this.sendTogether(space)
    this.show({ ready: true })
    this.showSave()
  }

  /** Brings back what an earlier page of this browser wrote and could not save. */
  private async restore(): Promise<void> {
    for (const { key, update } of await unsentOf(this.draftKey)) {
      if (!this.spaces.has(update.space)) continue
      const known = this.unsaved.push({ ...update, number: 0, key: Promise.resolve(key) })
      // Applied as the server's: it is in the list of what is to be sent already.
      if (known) Y.applyUpdate(this.doc(update.space), update.bytes, 'server')
    }
  }

  private get draftKey(): string {
    return `${this.personId}/${this.copyId}`
  }

  private written(space: string, bytes: Uint8Array): void {
    const entry: Unsaved = { space, bytes, number: 0, key: keepUnsent(this.draftKey, { space, bytes }) }
    this.unsaved.push(entry)
    this.waitingSince ??= Date.now()
    if (this.synced) this.transmit(entry)
    this.showSave()
  }

  private transmit(entry: Unsaved): void {
    for (const client of Y.parseUpdateMeta(entry.bytes).from.keys()) {
      const mark = `${entry.space}/${client}`
      if (this.registered.has(mark)) continue
      this.registered.add(mark)
      this.connection.send({ type: 'writer', channel: this.channel, space: entry.space, client })
    }
    entry.number = ++this.number
    this.connection.sendUpdate({ channel: this.channel, space: entry.space, number: entry.number, bytes: entry.bytes })
  }

  /** Sends all that is not saved of a space as one change. */
  private sendTogether(space: string): void {
    const entries = this.unsaved.filter((entry) => entry.space === space)
    this.replace(space, Y.mergeUpdates(entries.map(({ bytes }) => bytes)))
  }

  private resend(space: string): void {
    const times = (this.resent.get(space) ?? 0) + 1
    this.resent.set(space, times)
    if (times > 2) return this.refused(space, 'This change did not fit what is saved.', false)
    this.replace(space, Y.encodeStateAsUpdate(this.doc(space)))
  }

  private replace(space: string, bytes: Uint8Array): void {
    const before = this.unsaved.filter((entry) => entry.space === space)
    const key = keepUnsent(this.draftKey, { space, bytes })
    // What it replaces goes only once it is kept.
    void key.then(() => this.dropKeys(before))
    const entry: Unsaved = { space, bytes, number: 0, key }
    this.unsaved = [...this.unsaved.filter((other) => other.space !== space), entry]
    this.transmit(entry)
  }

  private settle(isSettled: (entry: Unsaved) => boolean): void {
    const done = this.unsaved.filter(isSettled)
    if (done.length === 0) return
    this.unsaved = this.unsaved.filter((entry) => !isSettled(entry))
    if (this.unsaved.length === 0) this.waitingSince = null
    else this.waitingSince = Date.now()
    void this.dropKeys(done)
  }

  private async dropKeys(entries: readonly Unsaved[]): Promise<void> {
    const keys = await Promise.all(entries.map(({ key }) => key))
    await dropUnsent(keys.filter((key) => key !== null))
  }

  /** What was refused is shown with its words; the space begins again from the server's state, under a new client id. */
  private refused(space: string, sentence: string, kept: boolean): void {
    const known = this.spaces.get(space)
    const doc = this.docs.get(space)
    if (!known || !doc) return
    const text = answerText(known, readAnswer(known, doc))
    this.settle((entry) => entry.space === space)
    this.docs.delete(space)
    doc.destroy()
    const others = this.shown.refusals.filter((refusal) => refusal.space !== space)
    this.show({
      refusals: [...others, { space, text, sentence, kept }],
      generation: this.shown.generation + 1,
    })
    this.connection.send({ type: 'close', channel: this.channel })
    this.open()
  }

  private showSave(): void {
    const waited = this.waitingSince === null ? 0 : Date.now() - this.waitingSince
    const away = !this.connectedNow || !this.synced
    let save: SaveState
    if (this.unsaved.length > 0) save = waited > PATIENCE || away ? { is: 'not saved' } : { is: 'saving' }
    else if (!this.shown.ready) save = { is: 'opening' }
    else save = { is: 'saved', at: this.savedAt }
    const was = this.shown.save
    const same = save.is === was.is && (save.is !== 'saved' || (was.is === 'saved' && was.at === save.at))
    if (!same) this.show({ save })
  }

  private show(change: Partial<CopyView>): void {
    this.shown = { ...this.shown, ...change }
    for (const listener of [...this.listeners]) listener()
  }
}
