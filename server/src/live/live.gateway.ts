import {
  type ClassPart,
  type ClientMessage,
  type SpaceUpdate,
  type Viewer,
  NOT_THERE,
  mayWithCopy,
  readClientMessage,
  readSpaceUpdate,
} from '@gavrin/core'
import { type BeforeApplicationShutdown, Inject, Injectable, Logger } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { type IncomingMessage, type Server, ServerResponse } from 'node:http'
import type { Duplex } from 'node:stream'
import { DataSource } from 'typeorm'
import { type WebSocket, WebSocketServer } from 'ws'
import * as Y from 'yjs'
import type { Sessions } from '../account/sessions.js'
import { ProblemException, isDatabaseAway } from '../common/problemDetails.js'
import { sameOrigin } from '../common/sameOrigin.js'
import { SESSIONS } from '../common/tokens.js'
import { viewerOfSession } from '../common/viewer.js'
import { copyOf, roleIn } from '../copy/copyRecord.js'
import { addToJournal } from '../copy/journal.js'
import { acceptUpdate } from './acceptUpdate.js'
import { BoardWatch } from './boardWatch.js'
import { ClassWatch } from './classWatch.js'
import { type Channel, Connection } from './connection.js'
import { GroupCommit } from './groupCommit.js'
import { keepLateWriting } from './lateWriting.js'
import { LIMITS } from './limits.js'
import { LiveCopies } from './liveCopies.js'
import type { LiveCopy, LiveSpace } from './liveCopy.js'
import { ProgressKeeper } from './progressKeeper.js'
import { SlowCheck } from './slowCheck.js'
import { WorksheetWatch } from './worksheetWatch.js'
import { appendUpdates, fencedCopies, type LoggedUpdate } from './spaceStore.js'

export const LIVE_PATH = '/api/live'
const HEARTBEAT = 30_000
/** How often opening and due times are looked at, in milliseconds. */
const CLOCK = 1_000
const AWAY = 'Gavrin cannot reach its database at the moment. What you write is kept in this browser meanwhile.'

/**
 * The live side of copies: every change is checked, applied, committed, acknowledged and only then sent on. docs/live.md
 * tells the order of things.
 */
@Injectable()
export class LiveGateway implements BeforeApplicationShutdown {
  private readonly log = new Logger('live')
  private readonly sockets = new WebSocketServer({
    noServer: true,
    maxPayload: LIMITS.frameBytes,
    perMessageDeflate: false,
  })
  private readonly connections = new Set<Connection>()
  private readonly slow = new SlowCheck()
  private readonly commits: GroupCommit
  private readonly copies: LiveCopies
  private readonly progress: ProgressKeeper
  private readonly boards: BoardWatch
  private readonly classes: ClassWatch
  private readonly worksheets: WorksheetWatch
  private readonly classListeners: ((schoolId: string, classId: string) => void)[] = []
  private heartbeat: NodeJS.Timeout | null = null
  private clock: NodeJS.Timeout | null = null
  private lookedAt = Date.now()
  private stopping = false

  constructor(
    @InjectDataSource() private readonly source: DataSource,
    @Inject(SESSIONS) private readonly sessions: Sessions,
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
    this.boards = new BoardWatch(source, this.connections)
    this.classes = new ClassWatch(source, this.connections)
    this.worksheets = new WorksheetWatch(source)
    this.copies = new LiveCopies(source, (copyId) => this.progress.has(copyId))
  }

  /** Takes the WebSocket upgrades of a server, and brings up to date what a crash left behind. */
  async attach(server: Server): Promise<void> {
    server.on('upgrade', (request: IncomingMessage, socket: Duplex, head: Buffer) => {
      this.upgrade(request, socket, head).catch((error: unknown) => {
        if (!isDatabaseAway(error)) this.log.error(String(error))
        refuseUpgrade(socket, 503)
      })
    })
    this.heartbeat = setInterval(() => this.beat(), HEARTBEAT)
    this.heartbeat.unref()
    this.clock = setInterval(() => void this.lookAtClock(), CLOCK)
    this.clock.unref()
    await this.recount()
  }

  /** Before the server closes: it waits for its connections to end, and these would not by themselves. */
  async beforeApplicationShutdown(): Promise<void> {
    this.stopping = true
    if (this.heartbeat) clearInterval(this.heartbeat)
    if (this.clock) clearInterval(this.clock)
    for (const { socket } of this.connections) socket.close(1001)
    const waited = new Promise((resolve) => setTimeout(resolve, 2_000).unref())
    await Promise.race([this.commits.settled(), waited])
    this.commits.stop()
    await Promise.race([this.progress.flush(), waited])
    for (const { socket } of this.connections) socket.terminate()
    await this.slow.close()
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

  /** Members of a class, or what they are in it, have changed. */
  async refreshClass(schoolId: string, classId: string): Promise<void> {
    for (const { record } of await this.copies.loaded())
      if (record.schoolId === schoolId && record.classId === classId) await this.refreshCopy(schoolId, record.copyId)
    await this.boards.recheck(schoolId, classId)
    await this.classes.recheck(schoolId, classId)
    this.tellClass(schoolId, classId, 'roster')
  }

  /** Calls back when people, groups or columns of a class have changed. */
  onClassChanged(listener: (schoolId: string, classId: string) => void): void {
    this.classListeners.push(listener)
  }

  /** A part of a class has changed: whoever has it open reads it again. */
  tellClass(schoolId: string, classId: string, part: ClassPart): void {
    this.classes.tell(schoolId, classId, part)
    if (part !== 'join page') for (const listener of this.classListeners) listener(schoolId, classId)
  }

  /** The draft of a worksheet was kept. */
  worksheetChanged(by: Viewer, worksheetId: string, version: number): void {
    this.worksheets.changed(by, worksheetId, version)
  }

  /** The account of somebody has ended or changed hands: so do the connections opened under it. */
  closePerson(schoolId: string, personId: string, except?: string): void {
    for (const { viewer, sessionId, socket } of this.connections)
      if (viewer.schoolId === schoolId && viewer.personId === personId && sessionId !== except) socket.close(4401)
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

  /** A session has ended: so do the connections it opened. */
  closeSession(sessionId: string): void {
    for (const connection of this.connections) if (connection.sessionId === sessionId) connection.socket.close(4401)
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

  // Connections

  private async upgrade(request: IncomingMessage, socket: Duplex, head: Buffer): Promise<void> {
    socket.on('error', () => socket.destroy())
    if (request.url?.split('?')[0] !== LIVE_PATH || this.stopping) return refuseUpgrade(socket, 404)
    if (!sameOrigin(request)) return refuseUpgrade(socket, 403)
    const session = await this.sessions.read(request, new ServerResponse(request))
    const viewer = await viewerOfSession(this.source, session)
    if (!viewer || !session) return refuseUpgrade(socket, 401)
    const others = [...this.connections].filter((other) => other.viewer.personId === viewer.personId)
    if (others.length >= LIMITS.connectionsOfPerson) return refuseUpgrade(socket, 429)
    this.sockets.handleUpgrade(request, socket, head, (webSocket) => this.connect(webSocket, viewer, session.id))
  }

  private connect(socket: WebSocket, viewer: Viewer, sessionId: string): void {
    const connection = new Connection(socket, viewer, sessionId, (from, message) => this.handle(from, message))
    this.connections.add(connection)
    socket.on('pong', () => (connection.alive = true))
    socket.on('error', () => socket.terminate())
    socket.on('message', (data, isBinary) =>
      connection.receive(isBinary ? new Uint8Array(data as Buffer) : (data as Buffer).toString('utf8')),
    )
    socket.on('close', () => {
      this.connections.delete(connection)
      this.worksheets.forget(connection)
      for (const channel of [...connection.channels.values()]) this.forget(channel)
    })
    if (this.commits.backlog > LIMITS.backlog) connection.hold('backlog')
  }

  /**
   * What the clock does to copies that are open: at their opening and due times whoever has them open is told what they may
   * do from then on. Every change is judged by the clock in any case.
   */
  private async lookAtClock(): Promise<void> {
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

  private beat(): void {
    for (const connection of this.connections) {
      if (!connection.alive) connection.socket.terminate()
      connection.alive = false
      connection.socket.ping()
    }
  }

  private easeOff(): void {
    if (this.commits.backlog < LIMITS.backlog / 2)
      for (const connection of this.connections) connection.letGo('backlog')
  }

  private async handle(connection: Connection, message: string | Uint8Array): Promise<void> {
    try {
      if (typeof message !== 'string') {
        const update = readSpaceUpdate(message)
        if (update) await this.update(connection, update)
        else connection.send({ type: 'trouble', sentence: 'This message could not be read.' })
        return
      }
      const read = message.length > 4_000 ? null : readClientMessage(message)
      if (read) await this.obey(connection, read)
      else connection.send({ type: 'trouble', sentence: 'This message could not be read.' })
    } catch (error) {
      if (!isDatabaseAway(error)) this.log.error(error instanceof Error ? error.stack : String(error))
      // In doubt about what was done with it, the browser begins again and sends what was not acknowledged.
      connection.socket.close(1011)
    }
  }

  private async obey(connection: Connection, message: ClientMessage): Promise<void> {
    switch (message.type) {
      case 'open':
        return this.openChannel(connection, message.channel, message.copyId)
      case 'close': {
        const channel = connection.channels.get(message.channel)
        if (channel) this.forget(channel)
        return
      }
      case 'writer': {
        const channel = connection.channels.get(message.channel)
        if (channel) this.registerWriter(channel, message.space, message.client)
        return
      }
      case 'watch':
        return this.boards.watch(connection, message.handoutId)
      case 'unwatch':
        connection.watched.delete(message.handoutId)
        return
      case 'watch class':
        return this.classes.watch(connection, message.classId)
      case 'unwatch class':
        connection.watchedClasses.delete(message.classId)
        return
      case 'watch worksheet':
        return this.worksheets.watch(connection, message.worksheetId, message.block)
      case 'unwatch worksheet':
        this.worksheets.unwatch(connection, message.worksheetId)
    }
  }

  // Copies

  private async openChannel(connection: Connection, number: number, copyId: string): Promise<void> {
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

  private forget(channel: Channel): void {
    channel.connection.channels.delete(channel.number)
    channel.copy.channels.delete(channel)
    this.copies.release(channel.copy)
  }

  private registerWriter(channel: Channel, space: string, client: number): void {
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

  private async update(connection: Connection, update: SpaceUpdate): Promise<void> {
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
    if (this.commits.backlog > LIMITS.backlog) for (const other of this.connections) other.hold('backlog')
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

  // Progress and boards

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
  private async recount(): Promise<void> {
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

const STATUS: Record<number, string> = {
  401: 'Unauthorized',
  403: 'Forbidden',
  404: 'Not Found',
  429: 'Too Many Requests',
  503: 'Service Unavailable',
}

function refuseUpgrade(socket: Duplex, status: number): void {
  socket.end(`HTTP/1.1 ${status} ${STATUS[status]}\r\nConnection: close\r\nContent-Length: 0\r\n\r\n`)
}
