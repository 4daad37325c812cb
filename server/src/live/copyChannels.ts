import { type SpaceUpdate, type Viewer, NOT_THERE, mayWithCopy } from '@gavrin/core'
import type { DataSource } from 'typeorm'
import * as Y from 'yjs'
import { ProblemException, isDatabaseAway } from '../common/problemDetails.js'
import { copyOf, roleIn } from '../copy/copyRecord.js'
import { addToJournal } from '../copy/journal.js'
import { acceptUpdate } from './acceptUpdate.js'
import type { BoardWatch } from './boardWatch.js'
import type { Channel, Connection } from './connection.js'
import { GroupCommit } from './groupCommit.js'
import { keepLateWriting } from './lateWriting.js'
import { LIMITS } from './limits.js'
import { LiveCopies } from './liveCopies.js'
import type { LiveCopy, LiveSpace } from './liveCopy.js'
import { ProgressKeeper } from './progressKeeper.js'
import { SlowCheck } from './slowCheck.js'
import { type LoggedUpdate, appendUpdates, fencedCopies } from './spaceStore.js'

const AWAY = 'Gavrin cannot reach its database at the moment. What you write is kept in this browser meanwhile.'

/** Copies as they are open in connections: every change is checked, applied, committed, acknowledged and only then sent on. */
export class CopyChannels {
  private readonly slow = new SlowCheck()
  private readonly commits: GroupCommit
  private readonly copies: LiveCopies
  private readonly progress: ProgressKeeper
  private lookedAt = Date.now()

  constructor(
    private readonly source: DataSource,
    private readonly boards: BoardWatch,
    private readonly connections: ReadonlySet<Connection>,
  ) {
    this.commits = new GroupCommit(
      { append: (updates) => appendUpdates(source, updates), fenced: (updates) => fencedCopies(source, updates) },
      (copyId) => this.copies.drop(copyId),
      () => this.easeOff(),
    )
    this.progress = new ProgressKeeper(
      source,
      (copy) => this.copies.load(copy.record.schoolId, copy.id),
      (kept) => this.progressKept(kept),
    )
    this.copies = new LiveCopies(source, (copyId) => this.progress.has(copyId))
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
  close(): Promise<void> {
    return this.slow.close()
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

  /**
   * Copies of a handout were made or changed.
   * @param written copies that answers were carried into: they are opened again, and counted anew
   */
  async refreshHandout(schoolId: string, handoutId: string, written: readonly string[] = []): Promise<void> {
    for (const copyId of written) this.copies.drop(copyId)
    for (const { record } of await this.copies.loaded())
      if (record.schoolId === schoolId && record.handoutId === handoutId) {
        const now = await copyOf(this.source, schoolId, record.copyId)
        // Other answer spaces, or other people with parts of their own: the page is drawn anew.
        if (now.page !== record.page) this.copies.drop(record.copyId)
        else await this.refreshCopy(schoolId, record.copyId)
      }
    await this.recountHandout(schoolId, handoutId, written)
    await this.boards.send(schoolId, handoutId)
  }

  /** Counts answers anew where an edition or a carried answer changed what there is to count. */
  private async recountHandout(schoolId: string, handoutId: string, written: readonly string[]): Promise<void> {
    const rows = await this.source.query<{ id: string; at: Date; person_id: string }[]>(
      `SELECT DISTINCT ON (c.id) c.id, u.at, u.person_id FROM copy c JOIN live_update u ON u.school_id = c.school_id AND u.copy_id = c.id
        WHERE c.school_id = $1 AND c.handout_id = $2 AND (c.id = ANY($3) OR c.counted_edition IS DISTINCT FROM c.edition) ORDER BY c.id, u.at DESC`,
      [schoolId, handoutId, written],
    )
    for (const { id, at, person_id } of rows)
      this.progress.note(await this.copies.load(schoolId, id), at.getTime(), person_id)
    if (rows.length > 0) await this.progress.flush()
  }

  /** Members of a class, or what they are in it, have changed. */
  async refreshClass(schoolId: string, classId: string): Promise<void> {
    for (const { record } of await this.copies.loaded())
      if (record.schoolId === schoolId && record.classId === classId) await this.refreshCopy(schoolId, record.copyId)
  }

  private async refreshCopy(schoolId: string, copyId: string): Promise<void> {
    const copy = await this.copies.ifLoaded(copyId)
    const record = await copyOf(this.source, schoolId, copyId)
    if (copy) {
      copy.renew(record)
      for (const channel of [...copy.channels])
        if (copy.tell(channel, 'permission') === 'none') this.closeChannel(channel, NOT_THERE.sentence, false)
    }
    await this.boards.send(schoolId, record.handoutId, [copyId])
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
      const { dueAt, opensAt, pensDownAtDue } = copy.record.facts
      const passed = (moment: number | null) => moment !== null && moment > before && moment <= now
      if (!passed(opensAt) && !(pensDownAtDue && passed(dueAt))) continue
      for (const channel of [...copy.channels])
        if (copy.tell(channel, 'permission') === 'none') this.closeChannel(channel, NOT_THERE.sentence, false)
    }
  }

  private easeOff(): void {
    if (this.commits.backlog < LIMITS.backlog / 2)
      for (const connection of this.connections) connection.letGo('backlog')
  }

  /** Opens a copy in a connection, under a number that the browser chose. */
  async open(connection: Connection, number: number, copyId: string): Promise<void> {
    const close = (sentence: string, again: boolean) =>
      connection.send({ type: 'closed', channel: number, sentence, again })
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
    if (!ruling.may) {
      this.copies.release(copy)
      return close(ruling.sentence, false)
    }
    const channel: Channel = { number, connection, copy, received: 0, registered: new Map(), told: '' }
    connection.channels.set(number, channel)
    const states = [...copy.written()].map(([space, { doc }]) => ({ space, bytes: Y.encodeStateAsUpdate(doc) }))
    // Nobody is shown what is not committed: the state is sent when all that is in it is, and what follows comes after it.
    copy.pending++
    this.commits.push(copy.id, [], () => {
      copy.pending--
      if (connection.channels.get(number) !== channel) return this.copies.release(copy)
      for (const { space, bytes } of states) connection.sendUpdate({ channel: number, space, number: 0, bytes })
      copy.channels.add(channel)
      if (copy.tell(channel, 'ready') === 'none') this.closeChannel(channel, NOT_THERE.sentence, false)
    })
    await this.noteOpened(copy, viewer)
  }

  private async noteOpened(copy: LiveCopy, viewer: Viewer): Promise<void> {
    const { schoolId, facts } = copy.record
    if (facts.state !== 'not opened' || !facts.holders.has(viewer.personId)) return
    await this.source.transaction((tx) => addToJournal(tx, schoolId, copy.id, 'opened', viewer.personId, Date.now()))
    await this.refreshCopy(schoolId, copy.id)
  }

  private closeChannel(channel: Channel, sentence: string, again: boolean): void {
    channel.connection.send({ type: 'closed', channel: channel.number, sentence, again })
    this.forget(channel)
  }

  /** A copy is no longer open in a connection. */
  forget(channel: Channel): void {
    channel.connection.channels.delete(channel.number)
    channel.copy.channels.delete(channel)
    this.copies.release(channel.copy)
  }

  /** A browser says under which number it writes in an answer space. */
  registerWriter(channel: Channel, space: string, client: number): void {
    const { copy, connection } = channel
    const { personId } = connection.viewer
    if (!copy.record.facts.holders.has(personId) && copy.access(connection.viewer).permission !== 'edit') return
    const live = copy.space(space)
    const count = channel.registered.get(space) ?? 0
    if (!live || count >= LIMITS.writers) return
    channel.registered.set(space, count + 1)
    const owner = live.writers.get(client)
    if (owner === undefined) live.writers.set(client, personId)
    else if (owner !== personId) connection.send({ type: 'writer-taken', channel: channel.number, space, client })
  }

  /** A change of an answer space came in. */
  async update(connection: Connection, update: SpaceUpdate): Promise<void> {
    const channel = connection.channels.get(update.channel)
    if (!channel) return
    const { copy } = channel
    const held = this.copies.held(copy.id)
    if (held) await held
    // Dropped or closed meanwhile: the browser opens it again and sends what was not acknowledged.
    if (copy.dropped || connection.channels.get(update.channel) !== channel) return
    channel.received = Math.max(channel.received, update.number)
    const { number } = update
    const began = performance.now()
    const accepted = await acceptUpdate(copy, connection.viewer, update, this.slow, (live, updates) =>
      this.enqueue(channel, live, update.space, updates, number),
    )
    connection.charge(update.bytes.length > LIMITS.quickBytes ? LIMITS.workRate : performance.now() - began)
    switch (accepted.outcome) {
      case 'applied':
        break
      case 'known':
        this.mark(channel, number)
        break
      case 'missing':
        connection.send({ type: 'resend', channel: channel.number, space: update.space, number })
        break
      case 'late':
        await this.keepLate(channel, update, accepted.bytes, accepted.reason)
        break
      case 'broken':
        this.copies.drop(copy.id)
        break
      case 'refused': {
        const { code, sentence } = accepted
        connection.send({
          type: 'refused',
          channel: channel.number,
          space: update.space,
          number,
          code,
          sentence,
          kept: false,
        })
      }
    }
    if (this.isCrowded) for (const other of this.connections) other.hold('backlog')
  }

  /** Queues accepted updates; after their commit the writer is told, and everybody else is sent them. */
  private enqueue(
    channel: Channel,
    live: LiveSpace,
    space: string,
    updates: readonly Uint8Array[],
    number: number,
  ): void {
    const { copy } = channel
    const { personId } = channel.connection.viewer
    const at = Date.now()
    const logged = updates.map((bytes): LoggedUpdate => {
      live.seq++
      live.unfolded++
      live.bytes += bytes.length
      return { schoolId: copy.record.schoolId, copyId: copy.id, space, seq: live.seq, personId, at, bytes }
    })
    live.progress = null
    const last = live.seq
    copy.pending++
    this.commits.push(copy.id, logged, (committedAt) => {
      copy.pending--
      live.committedSeq = last
      this.acknowledge(channel, number, committedAt)
      for (const other of copy.channels)
        if (other !== channel)
          for (const bytes of updates) other.connection.sendUpdate({ channel: other.number, space, number: 0, bytes })
      this.progress.note(copy, at, personId)
      this.copies.foldIfLong(copy, space, live)
      this.copies.release(copy)
    })
  }

  private mark(channel: Channel, number: number): void {
    channel.copy.pending++
    this.commits.push(channel.copy.id, [], (at) => {
      channel.copy.pending--
      this.acknowledge(channel, number, at)
      this.copies.release(channel.copy)
    })
  }

  private acknowledge(channel: Channel, upTo: number, at: number): void {
    if (channel.connection.channels.get(channel.number) === channel)
      channel.connection.send({ type: 'saved', channel: channel.number, upTo, at })
  }

  private async keepLate(channel: Channel, update: SpaceUpdate, bytes: Uint8Array, reason: string): Promise<void> {
    const { copy, connection, number } = channel
    const kept = await keepLateWriting(this.source, copy.record, {
      space: update.space,
      personId: connection.viewer.personId,
      reason,
      bytes,
    })
    const sentence = kept
      ? `${reason} What you wrote meanwhile was not added; it is kept for your teacher.`
      : `${reason} What you wrote meanwhile was not added.`
    connection.send({
      type: 'refused',
      channel: number,
      space: update.space,
      number: update.number,
      code: 'late',
      sentence,
      kept,
    })
    if (kept) await this.boards.send(copy.record.schoolId, copy.record.handoutId, [copy.id])
  }

  private async progressKept(kept: readonly { copy: LiveCopy; at: number; personId: string }[]): Promise<void> {
    for (const { copy, at, personId } of kept) {
      const { schoolId, facts } = copy.record
      if (facts.state !== 'opened' && facts.state !== 'not opened') continue
      await this.source.transaction((tx) => addToJournal(tx, schoolId, copy.id, 'first written in', personId, at))
      copy.renew(await copyOf(this.source, schoolId, copy.id))
      for (const channel of copy.channels) copy.tell(channel, 'permission')
    }
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

  /** Copies whose last changes were committed, but not yet counted, when the server was stopped. */
  async recount(): Promise<void> {
    const rows = await this.source.query<{ school_id: string; id: string; at: Date; person_id: string }[]>(
      `SELECT DISTINCT ON (c.school_id, c.id) c.school_id, c.id, u.at, u.person_id
         FROM live_update u JOIN copy c ON c.school_id = u.school_id AND c.id = u.copy_id
        WHERE u.at > now() - interval '2 days' AND (c.last_activity_at IS NULL OR u.at > c.last_activity_at)
        ORDER BY c.school_id, c.id, u.at DESC`,
    )
    for (const { school_id, id, at, person_id } of rows)
      this.progress.note(await this.copies.load(school_id, id), at.getTime(), person_id)
    await this.progress.flush()
  }
}
