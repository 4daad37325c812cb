import {
  type KeptThread,
  type SpaceUpdate,
  type Viewer,
  NOT_THERE,
  itemsOf,
  maySeeAt,
  mayWithCopy,
  mayWriteAt,
  starterClient,
  starterOf,
  threadSeen,
} from '@gavrin/core'
import { Logger } from '@nestjs/common'
import * as Y from 'yjs'
import { ProblemException, isDatabaseAway } from '../common/problemDetails.js'
import { type CopyRecord, couldWriteIn, roleIn } from '../kept/copyRecord.js'
import { acceptUpdate } from './acceptUpdate.js'
import type { BoardWatch } from './boardWatch.js'
import { type DocLoader } from '../kept/docLoader.js'
import { CopyPeople, type Whereabouts } from './copyPeople.js'
import type { PensMoved } from '../kept/pens.js'
import { DocWorker } from '../kept/docWorker.js'
import { GroupCommit } from './groupCommit.js'
import { LateSpace } from './lateSpace.js'
import { ANSWER_LIMITS } from '../kept/limits.js'
import { LIMITS } from './limits.js'
import { LiveCopies } from './liveCopies.js'
import type { Channel, ChannelConnection, LiveCopy, LiveSpace, Writer } from './liveCopy.js'
import type { Uncounted } from './live.queries.js'
import type { LiveStore } from './liveStore.js'
import { checksFor } from '../kept/checksFor.js'
import { ProgressKeeper } from './progressKeeper.js'
import type { LoggedUpdate } from '../kept/spaces.queries.js'

/** Late writing within this time of the last has no journal entry of its own, in milliseconds. */
const LATE_GATHER = 60_000
const AWAY = 'Gavrin cannot reach its database at the moment. What you write is kept in this browser meanwhile.'

/** Copies as they are open in connections: every change is checked, applied, committed, acknowledged and only then sent on. */
export class CopyChannels {
  private readonly worker = new DocWorker()
  private readonly people = new CopyPeople()
  private readonly commits: GroupCommit
  private readonly copies: LiveCopies
  private readonly progress: ProgressKeeper
  private readonly log = new Logger('live')
  private lookedAt = Date.now()
  private readings = 0

  constructor(
    private readonly store: LiveStore,
    private readonly boards: Pick<BoardWatch, 'send'>,
    private readonly connections: ReadonlySet<ChannelConnection>,
    loader: DocLoader,
  ) {
    this.commits = new GroupCommit(
      store,
      (copyId) => this.copies.drop(copyId),
      () => this.easeOff(),
    )
    this.progress = new ProgressKeeper(
      store,
      (copy) => this.copies.load(copy.record.schoolId, copy.id),
      (kept) => this.progressKept(kept),
    )
    this.copies = new LiveCopies(store, loader, (copyId) => this.progress.has(copyId))
  }

  /** More is waiting for its commit than new connections should add to. */
  get isCrowded(): boolean {
    return this.commits.backlog > LIMITS.backlog
  }

  /** Commits and counts what is there, until `waited` at most. */
  async settle(waited: Promise<unknown>): Promise<void> {
    await Promise.race([this.commits.settled(), waited])
    this.commits.stop()
    await Promise.race([Promise.all([this.progress.flush(), this.copies.stop()]), waited])
  }

  /** Ends what checks large changes aside. */
  async close(): Promise<void> {
    this.people.stop()
    await this.worker.close()
  }

  /**
   * Does something that ends or begins writing in a copy, with all pens held still meanwhile: what came before it is
   * applied before it, what comes after is judged by what it made of the copy.
   */
  async holdStill<T>(schoolId: string, copyId: string, work: () => Promise<T>): Promise<T> {
    const release = await this.copies.hold(copyId)
    try {
      return await work()
    } finally {
      await this.refreshCopy(schoolId, copyId).finally(release)
    }
  }

  /** The same for several copies at once, whose pens it moves: nothing else of them need be read anew. */
  async holdAllStill<T extends PensMoved>(
    schoolId: string,
    copyIds: readonly string[],
    work: () => Promise<T>,
  ): Promise<T> {
    const releases: (() => void)[] = []
    try {
      // Always in the same order: two who hold several wait for each other in no ring.
      for (const copyId of copyIds.toSorted()) releases.push(await this.copies.hold(copyId))
      const done = await work()
      for (const [copyId, stand] of done.pens) {
        const copy = await this.copies.ifLoaded(copyId)
        if (copy?.record.schoolId !== schoolId) continue
        copy.movePens(stand, ++this.readings)
        this.tellAll(copy)
      }
      return done
    } catch (error) {
      // In doubt about what was done: as it is in the database.
      for (const copyId of copyIds) {
        const copy = await this.copies.ifLoaded(copyId)
        if (copy)
          await this.readAnew(schoolId, copyId, copy).then(
            () => this.tellAll(copy),
            () => this.copies.drop(copyId),
          )
      }
      throw error
    } finally {
      for (const release of releases) release()
    }
  }

  /** Tells whoever has a copy open what they may do now. */
  private tellAll(copy: LiveCopy): void {
    for (const channel of [...copy.channels]) if (copy.tell(channel, 'permission') === 'none') this.shut(channel)
  }

  /** Other answers are right in a handout now: copies are counted by it, and nobody who has one open notices. */
  async keyChanged(schoolId: string, handoutId: string, copyIds: readonly string[]): Promise<void> {
    for (const { record } of await this.copies.loaded())
      if (record.schoolId === schoolId && record.handoutId === handoutId)
        await this.refreshCopy(schoolId, record.copyId)
    await this.recountHandout(schoolId, handoutId, copyIds)
    await this.boards.send(schoolId, handoutId, copyIds)
  }

  /**
   * Copies of a handout were made or changed.
   * @param written copies that answers were carried into: they are opened again, and counted anew
   */
  async refreshHandout(schoolId: string, handoutId: string, written: readonly string[] = []): Promise<void> {
    for (const copyId of written) this.copies.drop(copyId)
    for (const { record } of await this.copies.loaded())
      if (record.schoolId === schoolId && record.handoutId === handoutId) {
        const now = await this.store.copy(schoolId, record.copyId)
        // Other answer spaces, or other people with parts of their own: the page is drawn anew.
        if (now.page !== record.page) this.copies.drop(record.copyId)
        else await this.refreshCopy(schoolId, record.copyId)
      }
    await this.recountHandout(schoolId, handoutId, written)
    await this.boards.send(schoolId, handoutId)
  }

  /** Counts answers anew where an edition or a carried answer changed what there is to count. */
  private async recountHandout(schoolId: string, handoutId: string, written: readonly string[]): Promise<void> {
    await this.count(await this.store.outdated(schoolId, handoutId, written))
  }

  private async count(copies: readonly Uncounted[]): Promise<void> {
    for (const { schoolId, copyId, at, personId } of copies)
      try {
        this.progress.note(await this.copies.load(schoolId, copyId), at, personId)
      } catch (error) {
        // One that cannot be opened keeps its figures.
        if (!(error instanceof ProblemException)) throw error
      }
    if (copies.length > 0) await this.progress.flush()
  }

  /** Something is said in a copy: whoever has it open is shown what of it is for them, and the board counts it. */
  async commented(schoolId: string, handoutId: string, copyId: string, threads: readonly KeptThread[]): Promise<void> {
    const copy = await this.copies.ifLoaded(copyId)
    for (const { connection, number } of copy?.channels ?? []) {
      const { viewer } = connection
      const reader = { viewer, role: roleIn(copy!.record, viewer), copy: copy!.record.facts, now: Date.now() }
      const seen = threads.flatMap((thread) => threadSeen(thread, reader) ?? [])
      const gone = threads.map(({ id }) => id).filter((id) => !seen.some((thread) => thread.id === id))
      connection.send({ type: 'comments', channel: number, threads: seen, gone })
    }
    await this.boards.send(schoolId, handoutId, [copyId])
  }

  /** What came late was decided on: whoever has the copy open reads it again. */
  async lateDecided(copyId: string): Promise<void> {
    for (const { connection, number } of (await this.copies.ifLoaded(copyId))?.channels ?? [])
      connection.send({ type: 'late writing', channel: number })
  }

  /** Members of a class, or what they are in it, have changed. */
  async refreshClass(schoolId: string, classId: string): Promise<void> {
    for (const { record } of await this.copies.loaded())
      if (record.schoolId === schoolId && record.classId === classId) await this.refreshCopy(schoolId, record.copyId)
  }

  private async refreshCopy(schoolId: string, copyId: string): Promise<void> {
    const copy = await this.copies.ifLoaded(copyId)
    const record = await this.readAnew(schoolId, copyId, copy)
    if (copy) {
      this.tellAll(copy)
      // Who is told of whom may be another too.
      if (copy.channels.size > 1) this.people.changedIn(copy)
    }
    await this.boards.send(schoolId, record.handoutId, [copyId])
  }

  /** Reads the facts of a copy. Of several readings at a time the one that began last stands, whichever comes last. */
  private async readAnew(schoolId: string, copyId: string, copy: LiveCopy | null): Promise<CopyRecord> {
    const reading = ++this.readings
    const record = await this.store.copy(schoolId, copyId)
    copy?.renew(record, reading)
    return record
  }

  /**
   * What the clock does to copies that are open: at their opening and due times whoever has them open is told what they may
   * do from then on. Every change is judged by the clock in any case.
   */
  async lookAtClock(): Promise<void> {
    const now = Date.now()
    const before = this.lookedAt
    this.lookedAt = now
    for (const copy of await this.copies.loaded()) {
      const { dueAt, opensAt, pensDownAtDue, pensDownFrom, guestsUntil, othersPlaces } = copy.record.facts
      const passed = (moment: number | null) => moment !== null && moment > before && moment <= now
      // What was hidden is on the page from now on: it is opened again.
      if (othersPlaces === 'hidden until due' && passed(dueAt)) this.copies.drop(copy.id)
      if ([opensAt, guestsUntil, pensDownFrom, pensDownAtDue ? dueAt : null].some(passed)) this.tellAll(copy)
    }
  }

  private easeOff(): void {
    if (this.commits.backlog < LIMITS.backlog / 2)
      for (const connection of this.connections) connection.letGo('backlog')
  }

  /** Opens a copy in a connection, under a number that the browser chose. */
  async open(connection: ChannelConnection, number: number, copyId: string): Promise<void> {
    const close = (sentence: string, again: boolean) =>
      connection.send({ type: 'closed', channel: number, sentence, again, takes: false })
    if (connection.channels.has(number)) return
    if (connection.channels.size >= LIMITS.channels) return close('Too many copies are open in this window.', false)
    const { viewer } = connection
    let copy: LiveCopy
    try {
      copy = await this.copies.load(viewer.schoolId, copyId)
    } catch (error) {
      if (error instanceof ProblemException) return close(error.sentence, false)
      if (isDatabaseAway(error)) return close(AWAY, true)
      throw error
    }
    const ruling = mayWithCopy(viewer, roleIn(copy.record, viewer), copy.record.facts, 'see', Date.now())
    const channel: Channel = {
      number,
      connection,
      copy,
      muted: false,
      registered: new Map(),
      told: '',
      filling: new Set(),
      here: { space: null, at: null, isAway: false, saidAt: Date.now() },
    }
    if (!ruling.may) {
      if (couldWriteIn(copy.record, viewer)) {
        connection.channels.set(number, channel)
        return this.shut(channel)
      }
      this.copies.release(copy)
      return close(ruling.sentence, false)
    }
    connection.channels.set(number, channel)
    const isShown = (space: string) => seesAt(copy, viewer, space)
    const states = [...copy.written()]
      .filter(([space]) => isShown(space))
      .map(([space, { doc }]) => ({ space, bytes: Y.encodeStateAsUpdate(doc) }))
    // Nobody is shown what is not committed: the state is sent when all that is in it is, and what follows comes after it.
    copy.pending++
    this.commits.push(copy.id, [], () => {
      copy.pending--
      if (connection.channels.get(number) !== channel) return this.copies.release(copy)
      for (const { space, bytes } of states) connection.sendUpdate({ channel: number, space, number: 0, bytes })
      copy.channels.add(channel)
      this.people.changedIn(copy)
      if (copy.tell(channel, 'ready') === 'none') this.shut(channel)
    })
    await this.noteOpened(copy, viewer)
  }

  private async noteOpened(copy: LiveCopy, viewer: Viewer): Promise<void> {
    const { schoolId, facts } = copy.record
    if (facts.state !== 'not opened' || !facts.holders.has(viewer.personId)) return
    await this.store.journal(schoolId, copy.id, 'opened', viewer.personId, Date.now())
    await this.refreshCopy(schoolId, copy.id)
  }

  /**
   * A copy is closed to somebody. Nothing of it is sent any more; what they wrote before they knew is still taken, and kept
   * beside the answers.
   */
  private shut(channel: Channel): void {
    const { connection, copy, number } = channel
    const takes = couldWriteIn(copy.record, connection.viewer)
    connection.send({ type: 'closed', channel: number, sentence: NOT_THERE.sentence, again: false, takes })
    if (!takes) return this.forget(channel)
    channel.muted = true
    copy.channels.delete(channel)
    this.people.changedIn(copy)
    this.copies.release(copy)
  }

  /** A copy is no longer open in a connection. */
  forget(channel: Channel): void {
    channel.connection.channels.delete(channel.number)
    if (channel.copy.channels.delete(channel)) this.people.changedIn(channel.copy)
    this.copies.release(channel.copy)
  }

  /** Somebody is elsewhere in a copy now. */
  moved(channel: Channel, whereabouts: Whereabouts): void {
    if (!channel.muted) this.people.moved(channel, whereabouts)
  }

  /** A browser says under which number it writes in an answer space. */
  registerWriter(channel: Channel, space: string, client: number): void {
    const { copy, connection } = channel
    const { personId } = connection.viewer
    const live = copy.space(space)
    const count = channel.registered.get(space) ?? 0
    if (!live || count >= LIMITS.writers) return
    const may =
      copy.access(connection.viewer).permission === 'edit' &&
      mayWriteAt(connection.viewer, copy.record.facts, space).may
    if (!may && !this.writerOf(channel).couldWrite(live)) return
    channel.registered.set(space, count + 1)
    if (may) connection.begun.add(`${copy.id} ${space}`)
    // A given beginning is nobody's own.
    const starter = starterOf(live.space)
    if (starter && client === starterClient(starter)) return
    const owner = live.writers.get(client)
    if (owner === undefined) live.writers.set(client, personId)
    else if (owner !== personId) connection.send({ type: 'writer-taken', channel: channel.number, space, client })
  }

  private writerOf({ connection, copy }: Channel): Writer {
    const { viewer } = connection
    return {
      viewer,
      couldWrite: (live) => {
        if (connection.begun.has(`${copy.id} ${live.space.id}`)) return true
        if ([...live.writers.values()].includes(viewer.personId) && live.seq > 0) return true
        return couldWriteIn(copy.record, viewer) && mayWriteAt(viewer, copy.record.facts, live.space.id).may
      },
    }
  }

  /** A change of an answer space came in. */
  async update(connection: ChannelConnection, update: SpaceUpdate): Promise<void> {
    const channel = connection.channels.get(update.channel)
    if (!channel) return
    if (channel.muted && channel.copy.dropped)
      channel.copy = await this.copies.load(connection.viewer.schoolId, channel.copy.id)
    const { copy } = channel
    await this.pensFree(copy)
    // Dropped or closed meanwhile: the browser opens it again and sends what was not acknowledged.
    if (copy.dropped || connection.channels.get(update.channel) !== channel) return
    const { number, space } = update
    const accepted = await acceptUpdate(copy, this.writerOf(channel), update, {
      worker: this.worker,
      budget: connection.budget,
      pensFree: () => this.pensFree(copy),
      log: (to, updates) => this.enqueue(channel, to, updates, number),
    })
    switch (accepted.outcome) {
      case 'applied':
        break
      case 'known':
        this.mark(channel, (at) => this.acknowledge(channel, number, at))
        break
      case 'known late':
        this.mark(channel, (at) => this.tellLate(channel, accepted.late, number, at))
        break
      case 'missing':
        connection.send({ type: 'resend', channel: channel.number, space, number })
        break
      case 'broken':
        this.copies.drop(copy.id)
        break
      case 'refused': {
        const { code, sentence } = accepted
        connection.send({ type: 'refused', channel: channel.number, space, number, code, sentence })
      }
    }
    if (this.isCrowded) for (const other of this.connections) other.hold('backlog')
  }

  /** Resolves when the pens of a copy are not held still, at once if they are not. */
  private async pensFree(copy: LiveCopy): Promise<void> {
    for (let held = this.copies.held(copy.id); held; held = this.copies.held(copy.id)) await held
  }

  /** Queues accepted updates; after their commit the writer is told, and everybody else is sent what is of the answer. */
  private enqueue(
    channel: Channel,
    to: LiveSpace | LateSpace<LiveSpace>,
    updates: readonly Uint8Array[],
    number: number,
  ): void {
    const { copy } = channel
    const { personId } = channel.connection.viewer
    const late = to instanceof LateSpace ? to.reason : null
    const live = to instanceof LateSpace ? to.live : to
    const at = Date.now()
    const logged = updates.map((bytes): LoggedUpdate => {
      to.seq++
      to.unfolded++
      to.bytes += bytes.length
      const { schoolId } = copy.record
      return { schoolId, copyId: copy.id, space: live.space.id, seq: to.seq, personId, at, bytes, late }
    })
    if (to instanceof LateSpace) live.late.set(personId, to)
    else {
      live.progress = null
      live.changedAt = at
    }
    const last = to.seq
    copy.pending++
    this.commits.push(
      copy.id,
      logged,
      (committedAt) => {
        copy.pending--
        to.committedSeq = last
        if (to instanceof LateSpace) this.keptLate(channel, to, number, committedAt)
        else this.keptInAnswer(channel, to, updates, number, { at, committedAt })
        this.copies.release(copy)
      },
      () => this.cannotSave(channel),
    )
  }

  private keptInAnswer(
    channel: Channel,
    live: LiveSpace,
    updates: readonly Uint8Array[],
    number: number,
    { at, committedAt }: { at: number; committedAt: number },
  ): void {
    const { copy, connection } = channel
    const space = live.space.id
    this.acknowledge(channel, number, committedAt)
    for (const other of copy.channels)
      if (other !== channel && seesAt(copy, other.connection.viewer, space))
        for (const bytes of updates) other.connection.sendUpdate({ channel: other.number, space, number: 0, bytes })
    this.progress.note(copy, at, connection.viewer.personId)
    this.copies.foldIfLong(copy, space, live)
    const share = Math.max(live.bytes / ANSWER_LIMITS.spaceBytes, itemsOf(live.doc) / ANSWER_LIMITS.spaceItems)
    if (share < ANSWER_LIMITS.fillingShare || channel.filling.has(space)) return
    channel.filling.add(space)
    connection.send({ type: 'filling', channel: channel.number, space })
  }

  private keptLate(channel: Channel, late: LateSpace<LiveSpace>, number: number, at: number): void {
    const { copy } = channel
    this.tellLate(channel, late, number, at)
    this.copies.foldLateIfLong(copy, late)
    // One entry for what is written in one go.
    const isNews = at - late.noted > LATE_GATHER
    late.noted = at
    if (!isNews) return
    for (const other of copy.channels)
      if (other !== channel) other.connection.send({ type: 'late writing', channel: other.number })
    const { schoolId, handoutId } = copy.record
    this.store
      .journal(schoolId, copy.id, 'late writing', late.personId, at)
      .then(() => this.boards.send(schoolId, handoutId, [copy.id]))
      .catch((error: unknown) => {
        if (!isDatabaseAway(error)) this.log.error(error instanceof Error ? error.stack : String(error))
      })
  }

  private tellLate(channel: Channel, late: LateSpace<LiveSpace>, number: number, at: number): void {
    if (channel.connection.channels.get(channel.number) !== channel) return
    const space = late.live.space.id
    channel.connection.send({ type: 'late', channel: channel.number, space, number, sentence: late.reason, at })
  }

  /** What somebody wrote cannot be put into the database: they are told, and nobody else waits for it. */
  private cannotSave(channel: Channel): void {
    const sentence =
      'What you wrote last in this copy cannot be saved. It is kept in this browser: tell your teacher, and leave this page open.'
    channel.connection.send({ type: 'closed', channel: channel.number, sentence, again: false, takes: false })
    this.forget(channel)
    this.copies.drop(channel.copy.id)
  }

  private mark(channel: Channel, reached: (at: number) => void): void {
    channel.copy.pending++
    this.commits.push(channel.copy.id, [], (at) => {
      channel.copy.pending--
      reached(at)
      this.copies.release(channel.copy)
    })
  }

  private acknowledge(channel: Channel, number: number, at: number): void {
    if (channel.connection.channels.get(channel.number) === channel)
      channel.connection.send({ type: 'saved', channel: channel.number, number, at })
  }

  private async progressKept(kept: readonly { copy: LiveCopy; at: number; personId: string }[]): Promise<void> {
    for (const { copy, at, personId } of kept) {
      const { schoolId, facts } = copy.record
      if (facts.state !== 'opened' && facts.state !== 'not opened') continue
      await this.store.journal(schoolId, copy.id, 'first written in', personId, at)
      await this.readAnew(schoolId, copy.id, copy)
      for (const channel of copy.channels) copy.tell(channel, 'permission')
    }
    for (const { copy } of kept) this.tellChecks(copy)
    for (const handoutId of new Set(kept.map(({ copy }) => copy.record.handoutId))) {
      const records = kept.map(({ copy }) => copy.record).filter((record) => record.handoutId === handoutId)
      await this.boards.send(
        records[0]!.schoolId,
        handoutId,
        records.map(({ copyId }) => copyId),
      )
    }
    for (const { copy } of kept) this.copies.release(copy)
  }

  /** Tells whoever writes in a copy which answers are right, where the slip says so. */
  private tellChecks(copy: LiveCopy): void {
    if (copy.record.facts.checks === 'no') return
    const record = { ...copy.record, progress: copy.progress() }
    for (const { connection, number } of copy.channels) {
      const right = checksFor(record, connection.viewer)
      if (right) connection.send({ type: 'checks', channel: number, right })
    }
  }

  /** Copies whose last changes were committed, but not yet counted, when the server was stopped. */
  async recount(): Promise<void> {
    await this.count(await this.store.uncounted())
  }
}

/** Whether somebody is sent what stands in an answer. */
const seesAt = (copy: LiveCopy, viewer: Viewer, space: string): boolean =>
  maySeeAt(viewer, roleIn(copy.record, viewer), copy.record.facts, space, Date.now())
