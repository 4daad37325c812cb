import { newAnswerDoc, readSpaceUpdate, writeSpaceUpdate, type ServerMessage } from '@gavrin/core'
import { randomUUID } from 'node:crypto'
import { fileURLToPath } from 'node:url'
import WebSocket from 'ws'
import * as Y from 'yjs'
import { median, print, quantile } from './figures.js'
import {
  KEYS_A_SECOND,
  SECONDS,
  WARM_UP,
  begin,
  database,
  opened,
  press,
  processorTime,
  start,
  whereIn,
} from './liveSchool.js'

// Writers at three keys a second each: from the key to the teacher's screen, and to "Saved", beside a bare relay that passes
// the same messages on without looking at them, and a bare commit of as many rows.

const COMMENTS = 30
const RELAY = fileURLToPath(new URL('relay.js', import.meta.url))

interface Samples {
  readonly seen: number[]
  readonly saved: number[]
  readonly processor: number
  readonly sent: number
}

async function throughGavrin(count: number): Promise<Samples> {
  const { school, child, cookies, id, rows, cookieOf, connect, ready } = await begin(count, 'one each')
  const samples = { seen: [] as number[], saved: [] as number[] }
  const pressedAt = rows.map(() => new Map<number, number>())
  const from = performance.now() + WARM_UP * 1_000
  // The teacher looks at every copy, fifty over one connection, and has the board open.
  const teachers: WebSocket[] = []
  for (let at = 0; at < rows.length; at += 50) {
    const socket = await connect(cookies[0]!)
    teachers.push(socket)
    const part = rows.slice(at, at + 50)
    const arrived = part.map(() => 0)
    for (const [channel, { id: copyId }] of part.entries()) {
      const opening = ready(socket, channel)
      socket.send(JSON.stringify({ type: 'open', channel, copyId }))
      await opening
    }
    socket.on('message', (data: Buffer, isBinary) => {
      if (!isBinary) return
      const { channel } = readSpaceUpdate(new Uint8Array(data))!
      const key = arrived[channel]!++
      const pressed = pressedAt[at + channel]!.get(key)!
      if (pressed > from) samples.seen.push(performance.now() - pressed)
    })
  }
  teachers[0]!.send(JSON.stringify({ type: 'watch', handoutId: id }))
  const writers: ((key: number) => void)[] = []
  const sockets: WebSocket[] = []
  for (const [index, { id: copyId, person_id }] of rows.entries()) {
    const socket = await connect(cookieOf.get(person_id)!)
    sockets.push(socket)
    const opening = ready(socket, 1)
    socket.send(JSON.stringify({ type: 'open', channel: 1, copyId }))
    await opening
    const doc = newAnswerDoc('line')
    socket.send(JSON.stringify({ type: 'writer', channel: 1, space: 'line', client: doc.clientID }))
    socket.on('message', (data: Buffer, isBinary) => {
      if (isBinary) return
      const message = JSON.parse(data.toString()) as ServerMessage
      if (message.type === 'refused') throw new Error(message.sentence)
      if (message.type !== 'saved') return
      const pressed = pressedAt[index]!.get(message.number - 1)!
      if (pressed > from) samples.saved.push(performance.now() - pressed)
    })
    writers.push((key) => {
      const before = Y.encodeStateVector(doc)
      doc.getText('line').insert(key, 'x')
      pressedAt[index]!.set(key, performance.now())
      socket.send(
        writeSpaceUpdate({ channel: 1, space: 'line', number: key + 1, bytes: Y.encodeStateAsUpdate(doc, before) }),
      )
      socket.send(whereIn(doc))
    })
  }
  const before = processorTime(child.pid!)
  await press(writers)
  const processor = (processorTime(child.pid!) - before) / (SECONDS + WARM_UP + 1)
  const sent = pressedAt.reduce((sum, keys) => sum + [...keys.values()].filter((at) => at > from).length, 0)
  const logged = await database.query<{ n: number }>(
    'SELECT count(*)::int AS n FROM live_update WHERE school_id = $1',
    [school.schoolId],
  )
  const all = pressedAt.reduce((sum, keys) => sum + keys.size, 0)
  if (logged.rows[0]!.n !== all) throw new Error(`${logged.rows[0]!.n} of ${all} keys are in the database`)
  for (const socket of [...teachers, ...sockets]) socket.terminate()
  child.kill('SIGTERM')
  return { ...samples, processor, sent }
}

/**
 * So many in one line of one copy, each at three keys a second with their carets: from the key to the screen of another one. Then
 * comments, one after the other: from the sending to the screen of everybody else.
 */
async function inOneCopy(count: number): Promise<{ seen: number[]; said: number[]; processor: number }> {
  const { child, call, rows, cookieOf, connect, ready } = await begin(count, 'one together')
  const copyId = rows[0]!.id
  const seen: number[] = []
  const said: number[] = []
  const from = performance.now() + WARM_UP * 1_000
  const pressedAt = new Map<number, Map<number, number>>()
  const sockets: WebSocket[] = []
  const sentAt = new Map<string, number>()
  const writers: ((key: number) => void)[] = []
  for (const [index, { person_id }] of rows.entries()) {
    const socket = await connect(cookieOf.get(person_id)!)
    sockets.push(socket)
    const opening = ready(socket, 1)
    socket.send(JSON.stringify({ type: 'open', channel: 1, copyId }))
    await opening
    const doc = newAnswerDoc('line')
    const keys = new Map<number, number>()
    pressedAt.set(doc.clientID, keys)
    socket.send(JSON.stringify({ type: 'writer', channel: 1, space: 'line', client: doc.clientID }))
    socket.on('message', (data: Buffer, isBinary) => {
      if (isBinary) {
        const { bytes } = readSpaceUpdate(new Uint8Array(data))!
        Y.applyUpdate(doc, bytes)
        // One of them looks.
        if (index > 0) return
        for (const { id } of Y.decodeUpdate(bytes).structs) {
          const pressed = pressedAt.get(id.client)?.get(id.clock)
          if (pressed !== undefined && pressed > from) seen.push(performance.now() - pressed)
        }
        return
      }
      const message = JSON.parse(data.toString()) as ServerMessage
      if (message.type === 'refused') throw new Error(message.sentence)
      if (message.type !== 'comments') return
      for (const { id } of message.threads) said.push(performance.now() - sentAt.get(id)!)
    })
    writers.push((key) => {
      const before = Y.encodeStateVector(doc)
      doc.getText('line').insert(0, 'x')
      keys.set(key, performance.now())
      socket.send(
        writeSpaceUpdate({ channel: 1, space: 'line', number: key + 1, bytes: Y.encodeStateAsUpdate(doc, before) }),
      )
      socket.send(whereIn(doc))
    })
  }
  const before = processorTime(child.pid!)
  await press(writers)
  const processor = (processorTime(child.pid!) - before) / (SECONDS + WARM_UP + 1)
  for (let comment = 0; comment < COMMENTS; comment++) {
    const threadId = randomUUID()
    sentAt.set(threadId, performance.now())
    await call('PUT', `copies/${copyId}/comments/${randomUUID()}`, {
      text: 'Who is that?',
      threadId,
      begins: { kind: 'comment', staffOnly: false, anchor: { is: 'space', space: 'line' } },
    })
  }
  await new Promise((resolve) => setTimeout(resolve, 1_000))
  if (said.length !== COMMENTS * count) throw new Error(`${said.length} of ${COMMENTS * count} comments were shown`)
  for (const socket of sockets) socket.terminate()
  child.kill('SIGTERM')
  return { seen, said, processor }
}

async function throughRelay(count: number): Promise<number[]> {
  const { child, address } = await start(RELAY)
  const seen: number[] = []
  const from = performance.now() + WARM_UP * 1_000
  const sockets: WebSocket[] = []
  const connect = async (rooms: readonly number[]) => {
    const socket = new WebSocket(`ws://127.0.0.1:${address}/?${rooms.map((room) => `room=${room}`).join('&')}`)
    await opened(socket)
    sockets.push(socket)
    return socket
  }
  for (let at = 0; at < count; at += 50) {
    const teacher = await connect(Array.from({ length: Math.min(50, count - at) }, (_, index) => at + index))
    teacher.on('message', (data: Buffer) => {
      const pressed = data.readDoubleLE(0)
      if (pressed > from) seen.push(performance.now() - pressed)
    })
  }
  const writers: ((key: number) => void)[] = []
  for (let room = 0; room < count; room++) {
    const socket = await connect([room])
    writers.push(() => {
      const bytes = Buffer.alloc(45)
      bytes.writeDoubleLE(performance.now(), 0)
      socket.send(bytes)
    })
  }
  await press(writers)
  for (const socket of sockets) socket.terminate()
  child.kill('SIGTERM')
  return seen
}

/** How long one commit of this many rows of the log takes when nothing else is done, in milliseconds. */
async function bareCommits(rows: number): Promise<number[]> {
  const times: number[] = []
  const schoolId = randomUUID()
  for (let round = 0; round < 300; round++) {
    const copyId = randomUUID()
    const before = performance.now()
    await database.query(
      `INSERT INTO live_update (school_id, copy_id, space, seq, person_id, at, bytes) SELECT $1, $2, 'line', n, $1, now(), $3 FROM generate_series(1, $4::int) n`,
      [schoolId, copyId, Buffer.alloc(45), rows],
    )
    times.push(performance.now() - before)
  }
  await database.query('DELETE FROM live_update WHERE school_id = $1', [schoolId])
  return times
}

for (const count of [30, 200, 500]) {
  const relay = await throughRelay(count)
  const commits = await bareCommits(Math.max(1, Math.round((count * KEYS_A_SECOND) / 100)))
  const ours = await throughGavrin(count)
  for (const [share, name] of [
    [0.5, 'p50'],
    [0.95, 'p95'],
  ] as const) {
    print({
      bench: 'live',
      case: `${count} writers, key to the teacher's screen, ${name}`,
      value: quantile(ours.seen, share),
      unit: 'ms',
      limit: quantile(relay, share),
      limitOf: 'a bare relay of the same messages',
      samples: ours.seen.length,
      sent: ours.sent,
    })
    print({
      bench: 'live',
      case: `${count} writers, key to "Saved", ${name}`,
      value: quantile(ours.saved, share),
      unit: 'ms',
      limit: quantile(commits, share),
      limitOf: 'one bare commit of as many rows as come in 10 ms',
      samples: ours.saved.length,
    })
  }
  print({ bench: 'live', case: `${count} writers, the server's processor time`, value: ours.processor, unit: 'cores' })
}
const together = await inOneCopy(30)
for (const [share, name] of [
  [0.5, 'p50'],
  [0.95, 'p95'],
] as const) {
  print({
    bench: 'live',
    case: `30 in one copy, key to another screen, ${name}`,
    value: quantile(together.seen, share),
    unit: 'ms',
    limit: 30,
    limitOf: 'what is asked of it',
    samples: together.seen.length,
  })
  print({
    bench: 'live',
    case: `a comment, from its sending to the screens of 30, ${name}`,
    value: quantile(together.said, share),
    unit: 'ms',
    limit: 100,
    limitOf: 'what is asked of it',
    samples: together.said.length,
  })
}
print({ bench: 'live', case: "30 in one copy, the server's processor time", value: together.processor, unit: 'cores' })
print({ bench: 'live', case: 'one bare commit of one row', value: median(await bareCommits(1)), unit: 'ms' })
await database.end()
