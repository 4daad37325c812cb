import {
  type AnswerSpace,
  type CopyState,
  type Permission,
  type ServerMessage,
  type SpaceUpdate,
  type ThreadSeen,
  type WorksheetContent,
  answerSpaces,
  answerText,
  newAnswerDoc,
  readAnswer,
} from '@gavrin/core'
import * as Y from 'yjs'
import type { ChannelEnd, LiveConnection } from './connection'
import { type Here, People, Whereabouts } from './whereabouts'
import { CopyKeeper, type KeptFrom } from './copyKeeper'
import { type StateKeeping, browserStates } from './keptStates'
import { type Unsaved, runsOf } from './unsaved'
import { type Keeping, type RefusedWords, browserKeeping } from './unsent'

/** Whether what is written here is on the server's disk. */
export type SaveState =
  | { readonly is: 'opening' }
  | { readonly is: 'saved'; readonly at: number | null }
  | { readonly is: 'saving' }
  /** Kept in this browser; sent when the connection is back. */
  | { readonly is: 'not saved' }

/** Writing that came too late for the answer: it is kept beside it, where it can be read. */
export interface LateNote {
  readonly space: string
  /** Why the copy stood still. */
  readonly sentence: string
}

export interface CopyView {
  readonly ready: boolean
  /** The page the server has now; null until it said so. */
  readonly page: string | null
  readonly permission: Permission
  /** Why not more may be done. */
  readonly reason: string
  readonly state: CopyState | null
  /** When pens go down by themselves, by this machine's clock; null: they do not, or are down. */
  readonly pensDownAt: number | null
  readonly save: SaveState
  /** What was not taken, with the words, so that nothing is lost. */
  readonly refusals: readonly RefusedWords[]
  readonly late: readonly LateNote[]
  /** Answer spaces whose pen rests until the server has answered everything that was written in them. */
  readonly resting: ReadonlySet<string>
  /** The browser keeps nothing of what is written: its storage is full, or forbidden. */
  readonly keepsNothing: boolean
  /** Answer spaces that are nearly full. */
  readonly filling: ReadonlySet<string>
  /** Which answers are right, as it was told last; null: it was not. */
  readonly checks: Readonly<Record<string, boolean>> | null
  /** Why this cannot be opened at all. */
  readonly closed: string | null
  /** Grows when the document of a space was replaced. */
  readonly generation: number
  /** Grows when there may be other late writing beside the copy than before, from elsewhere. */
  readonly lateNews: number
  /** How often it was opened: what is not sent with it is to be read again. */
  readonly openings: number
}

type CommentsListener = (threads: readonly ThreadSeen[], gone: readonly string[]) => void

/** What was answered otherwise than by "saved" in a space: it is settled once nothing of the space is unanswered. */
interface Stopped {
  late: string | null
  refused: string | null
}

/** After this time without an acknowledgement the page says so, in milliseconds. */
const PATIENCE = 2_500
/** How long after it was closed for a moment a copy is opened again, in milliseconds. */
const AGAIN = 700
/** After this time without a connection a copy is opened as it was the last time, in milliseconds. */
const WITHOUT = 3_000
/** How often all of a space is sent again without anything of it being answered. */
const RESENDS = 3

const START: CopyView = {
  ready: false,
  page: null,
  permission: 'none',
  reason: '',
  state: null,
  pensDownAt: null,
  save: { is: 'opening' },
  refusals: [],
  late: [],
  resting: new Set(),
  keepsNothing: false,
  filling: new Set(),
  checks: null,
  closed: null,
  generation: 0,
  lateNews: 0,
  openings: 0,
}

const isServers = (origin: unknown) => origin === 'server'

/**
 * A copy that is open in this window: one document for each answer space, what of them is not answered yet, and what the
 * person may do. Nothing is sent before the server's state has come. Every change stays here, and in the browser's own
 * storage, until the server has said of exactly this change where it went: into the answer, beside it as late writing, or
 * nowhere. After the last two the pen of that space rests, until all that was written in it is answered; then its document
 * begins again from the server's state.
 */
export class OpenCopy implements ChannelEnd {
  private readonly spaces: ReadonlyMap<string, AnswerSpace>
  private readonly docs = new Map<string, Y.Doc>()
  private readonly registered = new Set<string>()
  private readonly listeners = new Set<() => void>()
  /** Who has it open; oneself is among them. Empty: nobody else. */
  readonly people = new People()
  private readonly where = new Whereabouts((here) =>
    this.connection.send({ type: 'here', channel: this.channel, ...here }),
  )
  private readonly commentListeners = new Set<CommentsListener>()
  private readonly stopped = new Map<string, Stopped>()
  private readonly resent = new Map<string, number>()
  private unsaved: Unsaved[] = []
  private channel: number
  /** Counts the changes over all openings, so that an old answer is never taken for that to a new change. */
  private number = 0
  private shown: CopyView = START
  private savedAt: number | null = null
  private waitingSince: number | null = null
  private connectedNow = false
  private synced = false
  private isClosed = false
  private restored: Promise<void> | null = null
  private readonly timer: ReturnType<typeof setInterval>
  private again: ReturnType<typeof setTimeout> | null = null
  private keeper: CopyKeeper | null = null
  private without: ReturnType<typeof setTimeout> | null = null

  constructor(
    private readonly connection: LiveConnection,
    private readonly copyId: string,
    private readonly personId: string,
    content: WorksheetContent,
    private readonly keeping: Keeping = browserKeeping,
  ) {
    this.spaces = new Map(answerSpaces(content).map((space) => [space.id, space]))
    this.timer = setInterval(() => this.showSave(), 500)
    this.channel = connection.join(this)
  }

  /** It is one's own: from now on it is kept in this browser as the server has it, and opened as it was where there is no connection. */
  keepHere(states: StateKeeping = browserStates): void {
    const from: KeptFrom = {
      settled: (changed) => this.settled(changed),
      about: () => {
        const { permission, reason, state } = this.shown
        return this.synced ? { permission, reason, state } : null
      },
    }
    this.keeper = new CopyKeeper(this.draftKey, from, states)
    this.without = setTimeout(() => void this.openAsKept(), navigator.onLine ? WITHOUT : 0)
  }

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener)
    return () => this.listeners.delete(listener)
  }

  readonly view = (): CopyView => this.shown

  /** Hears what of the comments has changed, and which threads are gone. */
  hearComments(listener: CommentsListener): () => void {
    this.commentListeners.add(listener)
    return () => this.commentListeners.delete(listener)
  }

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

  /** Whether something written here is not answered by the server. */
  get hasUnsaved(): boolean {
    return this.unsaved.length > 0
  }

  /** Resolves once it is open, with what an earlier page left on its way; false if that does not happen in time. */
  opened(patience = 10_000): Promise<boolean> {
    return this.until(() => this.shown.ready || this.shown.closed !== null, patience)
  }

  /** Resolves once everything written so far is answered; false if that does not happen in time. */
  saved(patience = 5_000): Promise<boolean> {
    return this.until(() => this.unsaved.length === 0, patience)
  }

  private async until(is: () => boolean, patience: number): Promise<boolean> {
    const end = Date.now() + patience
    while (!is() && Date.now() < end)
      await new Promise<void>((resolve) => {
        const stop = this.subscribe(done)
        const timer = setTimeout(done, 250)
        function done() {
          clearTimeout(timer)
          stop()
          resolve()
        }
      })
    return is()
  }

  forgetRefusal(refusal: RefusedWords): void {
    void this.keeping.keepRefused(this.draftKey, refusal.space, null)
    this.show({ refusals: this.shown.refusals.filter((other) => other !== refusal) })
  }

  /** Tells the others where in the copy one is now. */
  stand(look: () => Here): void {
    this.where.stand(look)
  }

  /** Opens a copy again that was closed. */
  tryAgain(): void {
    this.show({ closed: null })
    if (this.connectedNow) this.openAnew()
  }

  forgetLate(): void {
    this.show({ late: [] })
  }

  close(): void {
    this.isClosed = true
    clearInterval(this.timer)
    if (this.again) clearTimeout(this.again)
    if (this.without) clearTimeout(this.without)
    this.keeper?.stop()
    this.where.stop()
    this.connection.leave(this.channel)
    this.listeners.clear()
    this.commentListeners.clear()
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
    // Who is there is not known from here.
    this.people.show([])
    this.showSave()
  }

  update({ space, bytes }: SpaceUpdate): void {
    if (!this.spaces.has(space)) return
    Y.applyUpdate(this.doc(space), bytes, 'server')
    this.keeper?.note(space)
  }

  message(message: Extract<ServerMessage, { channel: number }>): void {
    switch (message.type) {
      case 'ready':
      case 'permission': {
        const { permission, reason, state, pensGoDown } = message
        // The clock of this machine may be another: what is left until then is the same on both.
        const pensDownAt = pensGoDown && Date.now() + pensGoDown.at - pensGoDown.now
        this.show({ permission, reason, state, pensDownAt, closed: null })
        this.keeper?.note()
        if (message.type === 'ready') {
          // What a window before this one sent may have come in between the page and this.
          const { lateNews, openings } = this.shown
          this.show({ page: message.page, lateNews: lateNews + 1, openings: openings + 1 })
          void this.begin()
        }
        return
      }
      case 'saved':
        if (this.answered(message.number)) this.savedAt = message.at
        return this.showSave()
      case 'late':
        return this.stop(message.number, message.space, { late: message.sentence })
      case 'late writing':
        return this.show({ lateNews: this.shown.lateNews + 1 })
      case 'refused':
        return this.stop(message.number, message.space, { refused: message.sentence })
      case 'resend':
        return this.resend(message.number, message.space)
      case 'people':
        this.people.show(message.people)
        return this.where.heardBySomebody(message.people.some(({ isSelf }) => !isSelf))
      case 'comments':
        for (const listener of [...this.commentListeners]) listener(message.threads, message.gone)
        return
      case 'checks':
        return this.show({ checks: message.right })
      case 'filling':
        return this.show({ filling: new Set([...this.shown.filling, message.space]) })
      case 'writer-taken':
        return this.takeNewClient(message.space)
      case 'closed':
        return this.closedByServer(message)
    }
  }

  private open(): void {
    this.synced = false
    this.registered.clear()
    this.where.again()
    for (const entry of this.unsaved) entry.number = 0
    this.connection.send({ type: 'open', channel: this.channel, copyId: this.copyId })
  }

  /** Opens the copy anew, under a channel of its own: nothing that is still on its way to the old one is taken for news. */
  private openAnew(): void {
    this.synced = false
    this.connection.leave(this.channel)
    this.channel = this.connection.join(this)
  }

  private closedByServer({ sentence, again, takes }: Extract<ServerMessage, { type: 'closed' }>): void {
    this.synced = false
    if (again) this.again = setTimeout(() => this.connectedNow && this.openAnew(), AGAIN)
    else {
      this.show({ closed: sentence, ready: false, permission: 'none' })
      if (takes) void this.sendWhatIsLeft()
    }
    this.showSave()
  }

  /** The copy is closed to this person, but what they wrote before is still taken, beside the answers. */
  private async sendWhatIsLeft(): Promise<void> {
    const { channel } = this
    await (this.restored ??= this.restore())
    if (!this.connectedNow || channel !== this.channel) return
    for (const space of new Set(this.unsaved.map((entry) => entry.space))) this.sendTogether(space)
  }

  /** The server's state is here: what is not saved is put on top of it, and sent. */
  private async begin(): Promise<void> {
    const { channel } = this
    await (this.restored ??= this.restore())
    if (!this.connectedNow || channel !== this.channel || this.isClosed) return
    this.synced = true
    for (const space of new Set(this.unsaved.map((entry) => entry.space))) this.sendTogether(space)
    this.show({ ready: true })
    this.showSave()
  }

  /** Without a connection it is opened as it was the last time; what is written goes on from there, and is sent later. */
  private async openAsKept(): Promise<void> {
    if (this.synced || this.shown.ready) return
    const kept = await this.keeper?.read()
    const isToo = () => this.synced || this.shown.ready || this.shown.closed !== null || this.isClosed
    if (!kept || isToo()) return
    for (const [space, bytes] of kept.states)
      if (this.spaces.has(space)) Y.applyUpdate(this.doc(space), bytes, 'server')
    await (this.restored ??= this.restore())
    if (isToo()) return
    this.show({ ...kept.about, ready: true })
    this.showSave()
  }

  /** Of these answers those that are as the server has them. */
  private settled(changed: Iterable<string>): ReadonlyMap<string, Y.Doc> {
    const open = new Set(this.unsaved.map(({ space }) => space))
    const settled = [...changed].filter((space) => !open.has(space) && !this.stopped.has(space) && this.docs.has(space))
    return new Map(settled.map((space) => [space, this.docs.get(space)!]))
  }

  /** Brings back what an earlier page of this browser wrote and the server has not answered, and what it refused. */
  private async restore(): Promise<void> {
    const [unsent, refused] = await Promise.all([
      this.keeping.unsent(this.draftKey),
      this.keeping.refused(this.draftKey),
    ])
    const before: Unsaved[] = []
    for (const { key, update } of unsent) {
      if (!this.spaces.has(update.space)) continue
      before.push({ ...update, number: 0, key: Promise.resolve(key) })
      // Applied as the server's: it is in the list of what is to be sent already.
      Y.applyUpdate(this.doc(update.space), update.bytes, 'server')
    }
    // What was written in this page meanwhile comes after it, and is not in the list twice.
    const keys = new Set(await Promise.all(this.unsaved.map(({ key }) => key)))
    const known = await Promise.all(before.map(async (entry) => keys.has(await entry.key)))
    this.unsaved = [...before.filter((_, at) => !known[at]), ...this.unsaved]
    if (refused.length) this.show({ refusals: [...refused, ...this.shown.refusals] })
  }

  private get draftKey(): string {
    return `${this.personId}/${this.copyId}`
  }

  private written(space: string, bytes: Uint8Array): void {
    const entry: Unsaved = { space, bytes, number: 0, key: this.keeping.keep(this.draftKey, { space, bytes }) }
    this.unsaved.push(entry)
    void entry.key.then(
      (key) => this.shown.keepsNothing !== (key === null) && this.show({ keepsNothing: key === null }),
    )
    this.waitingSince ??= Date.now()
    if (this.synced) this.transmit(space, bytes, [entry])
    this.showSave()
  }

  /** Sends bytes as one change that answers for these entries. */
  private transmit(space: string, bytes: Uint8Array, entries: readonly Unsaved[]): void {
    // Only what was written here: what it rests on may be of others.
    for (const client of entries.flatMap((entry) => [...Y.parseUpdateMeta(entry.bytes).from.keys()])) {
      const mark = `${space}/${client}`
      if (this.registered.has(mark)) continue
      this.registered.add(mark)
      this.connection.send({ type: 'writer', channel: this.channel, space, client })
    }
    const number = ++this.number
    for (const entry of entries) entry.number = number
    this.connection.sendUpdate({ channel: this.channel, space, number, bytes })
  }

  /** Sends all that is not answered of a space, in as few changes as can be: one must not have gaps. */
  private sendTogether(space: string): void {
    for (const run of runsOf(this.unsaved.filter((entry) => entry.space === space)))
      this.transmit(space, Y.mergeUpdates(run.map(({ bytes }) => bytes)), run)
  }

  private resend(number: number, space: string): void {
    if (!this.unsaved.some((entry) => entry.number === number)) return
    const times = (this.resent.get(space) ?? 0) + 1
    this.resent.set(space, times)
    const known = this.docs.get(space)
    if (times > RESENDS || this.stopped.get(space)?.refused || !known)
      return this.stop(number, space, { refused: 'This change did not fit what is saved.' })
    this.transmit(space, Y.encodeStateAsUpdate(known), [])
    this.sendTogether(space)
  }

  /** The server has answered this change; false if that was about a change that went again since. */
  private answered(number: number): boolean {
    const done = this.unsaved.filter((entry) => entry.number === number)
    const space = done[0]?.space
    if (space === undefined) return false
    this.unsaved = this.unsaved.filter((entry) => entry.number !== number)
    this.waitingSince = this.unsaved.length === 0 ? null : Date.now()
    this.resent.delete(space)
    void this.dropKeys(done)
    this.renew(space)
    this.keeper?.note(space)
    return true
  }

  private async dropKeys(entries: readonly Unsaved[]): Promise<void> {
    const keys = await Promise.all(entries.map(({ key }) => key))
    await this.keeping.drop(keys.filter((key) => key !== null))
  }

  /** A change went beside the answer, or nowhere: the pen rests until everything written in the space is answered. */
  private stop(number: number, space: string, how: Partial<Stopped>): void {
    if (!this.unsaved.some((entry) => entry.number === number)) return
    const before = this.stopped.get(space) ?? { late: null, refused: null }
    this.stopped.set(space, { late: how.late ?? before.late, refused: how.refused ?? before.refused })
    this.show({ resting: new Set(this.stopped.keys()) })
    // Refused words are kept before the change that held them goes.
    if (how.refused) this.keepWords(space, how.refused)
    this.answered(number)
    this.showSave()
  }

  private keepWords(space: string, sentence: string): void {
    const known = this.spaces.get(space)
    const doc = this.docs.get(space)
    if (!known || !doc) return
    const words = { space, text: answerText(known, readAnswer(known, doc)), sentence }
    void this.keeping.keepRefused(this.draftKey, space, words)
    this.show({ refusals: [...this.shown.refusals.filter((other) => other.space !== space), words] })
  }

  /** Begins a space again from the server's state, under a new client id, once nothing of it is unanswered. */
  private renew(space: string): void {
    const stopped = this.stopped.get(space)
    if (!stopped || this.unsaved.some((entry) => entry.space === space)) return
    // What was written after the refused change is in the words too.
    if (stopped.refused) this.keepWords(space, stopped.refused)
    this.stopped.delete(space)
    this.docs.get(space)?.destroy()
    this.docs.delete(space)
    const late = this.shown.late.filter((other) => other.space !== space)
    this.show({
      late: stopped.late === null ? this.shown.late : [...late, { space, sentence: stopped.late }],
      resting: new Set(this.stopped.keys()),
      generation: this.shown.generation + 1,
    })
    if (this.shown.closed === null) this.openAnew()
  }

  /** Somebody else writes under the same number: the space begins again under another, with the words on top of it. */
  private takeNewClient(space: string): void {
    const known = this.docs.get(space)
    if (!known) return
    this.keepWords(space, 'This could not be told from what somebody else wrote.')
    const entries = this.unsaved.filter((entry) => entry.space === space)
    this.unsaved = this.unsaved.filter((entry) => entry.space !== space)
    void this.dropKeys(entries)
    this.stopped.set(space, { late: null, refused: null })
    this.renew(space)
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
