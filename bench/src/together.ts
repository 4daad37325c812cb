import {
  type AnswerSpace,
  type ClientMessage,
  type ServerMessage,
  type WorksheetContent,
  answerSpaces,
  lettersOf,
  newAnswerDoc,
  openRoot,
  positionAt,
  readSpaceUpdate,
  writeSpaceUpdate,
} from '@gavrin/core'
import { type LaunchOptions, chromium } from '@playwright/test'
import { WebSocket } from 'ws'
import * as Y from 'yjs'
import { print, quantile } from './figures.js'

// A class in one document, each in the place of their group at three keys a second with their carets, and one page in a browser that
// shows all of it: how many pictures a second it draws.

const URL_OF = process.env['GAVRIN_URL']!
const CHROMIUM = JSON.parse(process.env['CHROMIUM']!) as LaunchOptions
const TITLE = 'Shore survey'
const MOST = 30
const SECONDS = 10
const PAUSE = 1_000 / 3

interface Demo {
  readonly demo: { readonly password: string; readonly people: readonly { readonly email: string }[] }
}
interface Held {
  readonly id: string
  readonly title: string
}
interface Opened {
  readonly content: WorksheetContent
  readonly others: readonly string[]
}

const json = async <T>(path: string, init: RequestInit = {}): Promise<T> =>
  (await (await fetch(`${URL_OF}/api/${path}`, init)).json()) as T

/** The session of a demo person. */
async function signIn(email: string, password: string): Promise<string> {
  const answer = await fetch(`${URL_OF}/api/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json', origin: URL_OF },
    body: JSON.stringify({ email, password }),
  })
  return answer.headers
    .getSetCookie()
    .map((cookie) => cookie.split(';')[0]!)
    .join('; ')
}

/** Somebody who writes in their place, a key at each call. */
async function writerIn(cookie: string, copyId: string, space: AnswerSpace): Promise<() => void> {
  const socket = new WebSocket(`${URL_OF.replace('http', 'ws')}/api/live`, { headers: { cookie, origin: URL_OF } })
  const doc = newAnswerDoc('passage')
  const send = (message: ClientMessage) => socket.send(JSON.stringify(message))
  await new Promise<void>((resolve, reject) => {
    socket.on('error', reject)
    socket.on('open', () => send({ type: 'open', channel: 1, copyId }))
    socket.on('message', (data: Buffer, isBinary) => {
      if (isBinary) {
        const update = readSpaceUpdate(new Uint8Array(data))!
        if (update.space === space.id) Y.applyUpdate(doc, update.bytes, 'server')
        return
      }
      const message = JSON.parse(data.toString()) as ServerMessage
      if (message.type === 'refused') reject(new Error(message.sentence))
      if (message.type === 'ready') resolve()
    })
  })
  send({ type: 'writer', channel: 1, space: space.id, client: doc.clientID })
  let number = 0
  return () => {
    const before = Y.encodeStateVector(doc)
    doc.transact(() => {
      const root = openRoot(doc, 'passage') as Y.XmlFragment
      if (root.length === 0) root.insert(0, [new Y.XmlElement('paragraph')])
      const paragraph = root.get(root.length - 1) as Y.XmlElement
      if (paragraph.length === 0) paragraph.insert(0, [new Y.XmlText()])
      const text = paragraph.get(0) as Y.XmlText
      text.insert(text.length, number % 6 === 5 ? ' ' : 'x')
    })
    const bytes = Y.encodeStateAsUpdate(doc, before)
    socket.send(writeSpaceUpdate({ channel: 1, space: space.id, number: ++number, bytes }))
    const letters = lettersOf('passage', doc)
    send({
      type: 'here',
      channel: 1,
      space: space.id,
      at: positionAt(letters, letters.text.length, 'before'),
      away: false,
    })
  }
}

const { demo } = await json<Demo>('session')
const writers: (() => void)[] = []
let looker: { cookie: string; copyId: string } | null = null
for (const { email } of demo.people) {
  if (writers.length >= MOST) break
  const cookie = await signIn(email, demo.password)
  const held = await json<Held[] | object>('copies', { headers: { cookie } })
  const copy = Array.isArray(held) ? (held as Held[]).find(({ title }) => title === TITLE) : undefined
  if (!copy) continue
  if (!looker) {
    looker = { cookie, copyId: copy.id }
    continue
  }
  const { content, others } = await json<Opened>(`copies/${copy.id}`, { headers: { cookie } })
  const space = answerSpaces(content).find(({ id, kind }) => kind === 'passage' && !others.includes(id))
  if (space) writers.push(await writerIn(cookie, copy.id, space))
}
if (!looker || writers.length < 20) throw new Error(`Only ${writers.length} of the demo share “${TITLE}”.`)

const browser = await chromium.launch(CHROMIUM)
try {
  const context = await browser.newContext({ viewport: { width: 1366, height: 768 } })
  await context.addCookies(
    looker.cookie
      .split('; ')
      .map((pair) => ({ name: pair.split('=')[0]!, value: pair.slice(pair.indexOf('=') + 1), url: URL_OF })),
  )
  const page = await context.newPage()
  await page.goto(`${URL_OF}/copies/${looker.copyId}`)
  await page.getByText('All saved').waitFor()
  const end = performance.now() + (SECONDS + 3) * 1_000
  const writing = Promise.all(
    writers.map(async (write, at) => {
      await new Promise((resolve) => setTimeout(resolve, (at / writers.length) * PAUSE))
      while (performance.now() < end) {
        write()
        await new Promise((resolve) => setTimeout(resolve, PAUSE))
      }
    }),
  )
  await page.waitForTimeout(2_000)
  const frames = await page.evaluate(
    (milliseconds) =>
      new Promise<number[]>((resolve) => {
        const times: number[] = []
        const until = performance.now() + milliseconds
        const look = (now: number) => {
          times.push(now)
          if (now < until) requestAnimationFrame(look)
          else resolve(times.slice(1).map((time, at) => time - times[at]!))
        }
        requestAnimationFrame(look)
      }),
    SECONDS * 1_000,
  )
  await writing
  const shown = await page.locator('.people-here li').count()
  const of = `${writers.length + 1} in one document with places`
  const total = frames.reduce((sum, frame) => sum + frame, 0)
  print({
    bench: 'together',
    case: `${of}, pictures a second`,
    value: (frames.length * 1_000) / total,
    unit: '1/s',
    asked: 60,
    people: shown,
  })
  for (const [share, name] of [
    [0.5, 'p50'],
    [0.95, 'p95'],
    [0.99, 'p99'],
  ] as const)
    print({
      bench: 'together',
      case: `${of}, from one picture to the next, ${name}`,
      value: quantile(frames, share),
      unit: 'ms',
    })
} finally {
  await browser.close()
}
process.exit(0)
