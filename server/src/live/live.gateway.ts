import { type ClientMessage, type PersonName, type Viewer, readClientMessage, readSpaceUpdate } from '@gavrin/core'
import { type BeforeApplicationShutdown, Inject, Injectable, Logger } from '@nestjs/common'
import { InjectDataSource } from '@nestjs/typeorm'
import { type IncomingMessage, type Server, ServerResponse } from 'node:http'
import type { Duplex } from 'node:stream'
import { DataSource } from 'typeorm'
import { type WebSocket, WebSocketServer } from 'ws'
import type { Sessions } from '../account/sessions.js'
import { isDatabaseAway } from '../common/problemDetails.js'
import { type Trust, sameOrigin, trustIn } from '../common/sameOrigin.js'
import { SESSIONS, SETTINGS } from '../common/tokens.js'
import { Person } from '../access/access.entity.js'
import { viewerOfSession } from '../access/viewer.js'
import { inSchool } from '../database/inSchool.js'
import type { Settings } from '../common/settings.js'
import { Events } from '../events/events.js'
import { DocLoader } from '../kept/docLoader.js'
import { Pens } from '../kept/pens.js'
import { BoardWatch } from './boardWatch.js'
import { Budgets } from './budget.js'
import { ClassWatch } from './classWatch.js'
import { Connection } from './connection.js'
import type { Channel, ChannelConnection } from './liveCopy.js'
import { CopyChannels } from './copyChannels.js'
import { LIMITS } from './limits.js'
import { DatabaseLiveStore } from './liveStore.js'
import { WorksheetWatch } from './worksheetWatch.js'

export const LIVE_PATH = '/api/live'
const HEARTBEAT = 30_000
/** The code with which connections end whose session has ended. */
const SIGNED_OUT = 4401
/** How often opening and due times are looked at, in milliseconds. */
const CLOCK = 1_000

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
  private readonly connections = new Set<ChannelConnection>()
  private readonly budgets = new Budgets()
  private readonly boards: BoardWatch
  private readonly copies: CopyChannels
  private readonly classes: ClassWatch
  private readonly worksheets: WorksheetWatch
  private heartbeat: NodeJS.Timeout | null = null
  private clock: NodeJS.Timeout | null = null
  private stopping = false
  private readonly trust: Trust

  constructor(
    @InjectDataSource() private readonly source: DataSource,
    @Inject(SESSIONS) private readonly sessions: Sessions,
    @Inject(SETTINGS) settings: Settings,
    events: Events,
    pens: Pens,
    loader: DocLoader,
  ) {
    this.trust = trustIn(settings.trustedProxies)
    this.boards = new BoardWatch(source, this.connections)
    this.classes = new ClassWatch(source, this.connections)
    this.worksheets = new WorksheetWatch(source)
    this.copies = new CopyChannels(new DatabaseLiveStore(source), this.boards, this.connections, loader)
    pens.areHeldBy(
      (schoolId, copyId, work) => this.copies.holdStill(schoolId, copyId, work),
      (schoolId, copyIds, work) => this.copies.holdAllStill(schoolId, copyIds, work),
    )
    this.listen(events)
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
    this.clock = setInterval(() => void this.copies.lookAtClock(), CLOCK)
    this.clock.unref()
    await this.copies.recount()
  }

  /** Before the server closes: it waits for its connections to end, and these would not by themselves. */
  async beforeApplicationShutdown(): Promise<void> {
    this.stopping = true
    if (this.heartbeat) clearInterval(this.heartbeat)
    if (this.clock) clearInterval(this.clock)
    for (const { socket } of this.connections) socket.close(1001)
    const waited = new Promise((resolve) => setTimeout(resolve, 2_000).unref())
    await this.copies.settle(waited)
    for (const { socket } of this.connections) socket.terminate()
    await this.copies.close()
  }

  /** Listens to what the others tell. */
  private listen(events: Events): void {
    events.on('handout changed', ({ schoolId, handoutId, written }) =>
      this.copies.refreshHandout(schoolId, handoutId, written),
    )
    events.on('key changed', ({ schoolId, handoutId, copyIds }) => this.copies.keyChanged(schoolId, handoutId, copyIds))
    events.on('members changed', async ({ schoolId, classId }) => {
      await this.copies.refreshClass(schoolId, classId)
      await this.boards.recheck(schoolId, classId)
      await this.classes.recheck(schoolId, classId)
      this.classes.tell(schoolId, classId, 'roster')
    })
    events.on('class changed', ({ schoolId, classId, part, columnId }) =>
      this.classes.tell(schoolId, classId, part, columnId),
    )
    events.on('pens moved', ({ schoolId, handoutId, copyIds }) => this.boards.send(schoolId, handoutId, copyIds))
    events.on('marks changed', ({ schoolId, handoutId, copyIds }) => this.boards.send(schoolId, handoutId, copyIds))
    events.on('documents changed', ({ schoolId, handoutId, copyId }) => this.boards.send(schoolId, handoutId, [copyId]))
    events.on('late writing decided', ({ copyId }) => this.copies.lateDecided(copyId))
    events.on('comments changed', ({ schoolId, handoutId, copyId, threads }) =>
      this.copies.commented(schoolId, handoutId, copyId, threads),
    )
    events.on('worksheet kept', ({ by, worksheetId, version }) => this.worksheets.changed(by, worksheetId, version))
    events.on('account ended', ({ schoolId, personId, exceptSession }) => {
      for (const { viewer, sessionId, socket } of this.connections)
        if (viewer.schoolId === schoolId && viewer.personId === personId && sessionId !== exceptSession)
          socket.close(SIGNED_OUT)
    })
    events.on('session ended', ({ sessionId }) => {
      for (const connection of this.connections)
        if (connection.sessionId === sessionId) connection.socket.close(SIGNED_OUT)
    })
  }

  // Connections

  private async upgrade(request: IncomingMessage, socket: Duplex, head: Buffer): Promise<void> {
    socket.on('error', () => socket.destroy())
    if (request.url?.split('?')[0] !== LIVE_PATH || this.stopping) return refuseUpgrade(socket, 404)
    if (!sameOrigin(request, this.trust)) return refuseUpgrade(socket, 403)
    const session = await this.sessions.read(request, new ServerResponse(request))
    const viewer = await viewerOfSession(this.source, session)
    const [name] = viewer
      ? await inSchool(this.source, viewer.schoolId).find(
          Person,
          { id: viewer.personId },
          { select: ['first', 'last'] },
        )
      : []
    // Let in for a moment, since a browser is not told why it was refused.
    if (!viewer || !session || !name)
      return this.sockets.handleUpgrade(request, socket, head, (webSocket) => webSocket.close(SIGNED_OUT))
    const others = [...this.connections].filter((other) => other.viewer.personId === viewer.personId)
    if (others.length >= LIMITS.connectionsOfPerson) return refuseUpgrade(socket, 429)
    this.sockets.handleUpgrade(request, socket, head, (webSocket) => this.connect(webSocket, viewer, session.id, name))
  }

  private connect(socket: WebSocket, viewer: Viewer, sessionId: string, name: PersonName): void {
    const budget = this.budgets.of(viewer.personId)
    const connection: ChannelConnection = new Connection<Channel>(socket, viewer, sessionId, budget, (message) =>
      this.handle(connection, message),
    )
    connection.name = name
    this.connections.add(connection)
    socket.on('pong', () => (connection.alive = true))
    socket.on('error', () => socket.terminate())
    socket.on('message', (data, isBinary) =>
      connection.receive(isBinary ? new Uint8Array(data as Buffer) : (data as Buffer).toString('utf8')),
    )
    socket.on('close', () => {
      this.connections.delete(connection)
      this.worksheets.forget(connection)
      for (const channel of [...connection.channels.values()]) this.copies.forget(channel)
    })
    if (this.copies.isCrowded) connection.hold('backlog')
    // It may have been ended after it was read and before the connection was here to be closed.
    this.sessions.has(sessionId).then(
      (there) => there || socket.close(SIGNED_OUT),
      () => socket.close(1011),
    )
  }

  private beat(): void {
    for (const connection of this.connections) {
      if (!connection.alive) connection.socket.terminate()
      connection.alive = false
      connection.socket.ping()
    }
  }

  private async handle(connection: ChannelConnection, message: string | Uint8Array): Promise<void> {
    try {
      if (typeof message !== 'string') {
        const update = readSpaceUpdate(message)
        if (update) await this.copies.update(connection, update)
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

  private async obey(connection: ChannelConnection, message: ClientMessage): Promise<void> {
    switch (message.type) {
      case 'open':
        return this.copies.open(connection, message.channel, message.copyId)
      case 'close': {
        const channel = connection.channels.get(message.channel)
        if (channel) this.copies.forget(channel)
        return
      }
      case 'writer': {
        const channel = connection.channels.get(message.channel)
        if (channel) this.copies.registerWriter(channel, message.space, message.client)
        return
      }
      case 'here': {
        const channel = connection.channels.get(message.channel)
        if (channel) this.copies.moved(channel, message)
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
        return this.worksheets.watch(connection, message.worksheetId, message.block, message.at)
      case 'unwatch worksheet':
        this.worksheets.unwatch(connection, message.worksheetId)
    }
  }
}

const STATUS: Record<number, string> = {
  403: 'Forbidden',
  404: 'Not Found',
  429: 'Too Many Requests',
  503: 'Service Unavailable',
}

function refuseUpgrade(socket: Duplex, status: number): void {
  socket.end(`HTTP/1.1 ${status} ${STATUS[status]}\r\nConnection: close\r\nContent-Length: 0\r\n\r\n`)
}
