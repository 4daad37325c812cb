import {
  type AnswerKind,
  type ClientMessage,
  type ServerMessage,
  newAnswerDoc,
  openRoot,
  readSpaceUpdate,
  writeSpaceUpdate,
} from '@gavrin/core'
import WebSocket from 'ws'
import * as Y from 'yjs'

const KINDS: Record<string, AnswerKind> = {
  line: 'line',
  passage: 'passage',
  choice: 'choice',
  number: 'number',
  drawing: 'drawing',
}
/** All other answer spaces of tests are lines. */
const kindOf = (space: string): AnswerKind => KINDS[space] ?? 'line'
const CHANNEL = 1

/** The text of a paragraph of a passage, which is put at its end if it is not there yet. */
export function paragraphOf(doc: Y.Doc, at = 0): Y.XmlText {
  const passage = doc.getXmlFragment('passage')
  if (at === passage.length) {
    const paragraph = new Y.XmlElement('paragraph')
    passage.push([paragraph])
    paragraph.push([new Y.XmlText()])
  }
  return (passage.get(at) as Y.XmlElement).get(0) as Y.XmlText
}

/** A browser's side of the live connection, bare: it sends what a test tells it to and remembers what comes. */
export class LiveClient {
  readonly messages: ServerMessage[] = []
  readonly docs = new Map<string, Y.Doc>()
  private readonly waiting = new Set<() => void>()
  private number = 0
  closed = false
  /** With which code it was closed. */
  code: number | null = null

  private constructor(readonly socket: WebSocket) {
    socket.on('message', (data: Buffer, isBinary) => {
      if (isBinary) {
        const update = readSpaceUpdate(new Uint8Array(data))!
        Y.applyUpdate(this.doc(update.space), update.bytes, 'server')
      } else this.messages.push(JSON.parse(data.toString()) as ServerMessage)
      for (const wake of [...this.waiting]) wake()
    })
    socket.on('close', (code) => {
      this.closed = true
      this.code = code
      for (const wake of [...this.waiting]) wake()
    })
    socket.on('error', () => undefined)
  }

  static async connect(url: string, cookie: string, headers: Record<string, string> = {}): Promise<LiveClient> {
    const socket = new WebSocket(`${url.replace('http', 'ws')}/api/live`, {
      headers: { cookie, origin: url, ...headers },
    })
    const client = new LiveClient(socket)
    await new Promise<void>((resolve, reject) => {
      socket.once('open', resolve)
      socket.once('error', reject)
    })
    return client
  }

  /** Connects and opens a copy; resolves when its state is here. */
  static async open(url: string, cookie: string, copyId: string): Promise<LiveClient> {
    const client = await LiveClient.connect(url, cookie)
    await client.openCopy(copyId)
    return client
  }

  async openCopy(copyId: string, channel = CHANNEL): Promise<ServerMessage> {
    this.send({ type: 'open', channel, copyId })
    return this.message((message) => message.type === 'ready' || message.type === 'closed')
  }

  doc(space: string): Y.Doc {
    let doc = this.docs.get(space)
    if (!doc) this.docs.set(space, (doc = newAnswerDoc(kindOf(space))))
    return doc
  }

  text(space: string): string {
    return (openRoot(this.doc(space), kindOf(space)) as Y.Text).toJSON()
  }

  send(message: ClientMessage): void {
    this.socket.send(JSON.stringify(message))
  }

  /** Resolves when the server has answered that it is there, or has closed the connection. */
  ping(): Promise<void> {
    return new Promise((resolve) => {
      this.socket.once('pong', () => resolve())
      this.socket.once('close', () => resolve())
      this.socket.ping()
    })
  }

  register(space: string, client = this.doc(space).clientID): void {
    this.send({ type: 'writer', channel: CHANNEL, space, client })
  }

  /** Sends bytes as a change of a space; its number. */
  sendBytes(space: string, bytes: Uint8Array): number {
    const number = ++this.number
    this.socket.send(writeSpaceUpdate({ channel: CHANNEL, space, number, bytes }))
    return number
  }

  /** Does something to a space and sends it; its number. */
  write(space: string, act: (doc: Y.Doc) => void): number {
    const doc = this.doc(space)
    this.register(space)
    const before = Y.encodeStateVector(doc)
    act(doc)
    return this.sendBytes(space, Y.encodeStateAsUpdate(doc, before))
  }

  /** Types at the end of a line; its number. */
  type(text: string, space = 'line'): number {
    return this.write(space, (doc) => {
      const root = openRoot(doc, kindOf(space)) as Y.Text
      root.insert(root.length, text)
    })
  }

  /** The refusal of a change. */
  refusal(number: number): Promise<ServerMessage> {
    return this.message((message) => message.type === 'refused' && message.number === number)
  }

  /** That a change came too late, and is kept beside the answer. */
  late(number: number): Promise<ServerMessage> {
    return this.message((message) => message.type === 'late' && message.number === number)
  }

  saved(number: number): Promise<ServerMessage> {
    return this.message((message) => message.type === 'saved' && message.number >= number)
  }

  /** The first message, come or to come, for which this is true. */
  async message(is: (message: ServerMessage) => boolean): Promise<ServerMessage> {
    await this.until(() => this.messages.some(is))
    return this.messages.find(is)!
  }

  /** Resolves when something is true, looked at whenever anything comes. */
  until(is: () => boolean, patience = 60_000): Promise<void> {
    return new Promise((resolve, reject) => {
      const look = () => {
        if (!is()) {
          if (!this.closed) return
          end()
          return reject(new Error('the connection was closed'))
        }
        end()
        resolve()
      }
      const end = () => {
        clearTimeout(timer)
        this.waiting.delete(look)
      }
      const timer = setTimeout(() => {
        end()
        reject(new Error(`this did not happen; last messages: ${JSON.stringify(this.messages.slice(-3))}`))
      }, patience)
      this.waiting.add(look)
      look()
    })
  }

  close(): void {
    this.socket.close()
  }
}
