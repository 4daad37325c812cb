import { newAnswerDoc, writeSpaceUpdate, type ServerMessage } from '@gavrin/core'
import { once } from 'node:events'
import { Worker } from 'node:worker_threads'
import type WebSocket from 'ws'
import * as Y from 'yjs'
import { clock, inBrowser, scrolled } from './browser.js'
import { median, print, quantile, timed } from './figures.js'
import { SECONDS, WARM_UP, begin, database, press } from './liveSchool.js'
import type { Look, Looked } from './looker.js'

// The board of 500 copies while 200 students type: what the server takes to answer, beside the bare query in the same run; then
// pens down in all of them at once, until the last open page has been told.

const COPIES = 500
const WRITERS = 200
const SPACES = 40

const { address, school, child, cookies, call, id, rows, cookieOf, connect, ready } = await begin(
  COPIES,
  'one each',
  SPACES,
)
// As in a school that has been there for a minute: the database knows how much of what it has.
await database.query('ANALYZE')

const sockets: WebSocket[] = []
const writers: ((key: number) => void)[] = []
for (const { id: copyId, person_id } of rows.slice(0, WRITERS)) {
  const socket = await connect(cookieOf.get(person_id)!)
  sockets.push(socket)
  const opening = ready(socket, 1)
  socket.send(JSON.stringify({ type: 'open', channel: 1, copyId }))
  await opening
  const doc = newAnswerDoc('line')
  socket.send(JSON.stringify({ type: 'writer', channel: 1, space: 'line', client: doc.clientID }))
  writers.push((key) => {
    const before = Y.encodeStateVector(doc)
    doc.getText('line').insert(key, 'x')
    socket.send(
      writeSpaceUpdate({ channel: 1, space: 'line', number: key + 1, bytes: Y.encodeStateAsUpdate(doc, before) }),
    )
  })
}
const look: Look = {
  address,
  cookie: cookies[0]!,
  schoolId: school.schoolId,
  handoutId: id,
  milliseconds: (SECONDS + WARM_UP) * 1_000,
}
const worker = new Worker(new URL('looker.js', import.meta.url), { workerData: look })
const [[{ answered, bare, bytes }]] = (await Promise.all([once(worker, 'message'), press(writers)])) as [[Looked], void]
for (const [share, name] of [
  [0.5, 'p50'],
  [0.95, 'p95'],
] as const) {
  print({
    bench: 'board',
    case: `${COPIES} copies, ${WRITERS} writing, the board answered, ${name}`,
    value: quantile(answered, share),
    unit: 'ms',
    limit: share === 0.95 ? 50 : 1.5 * quantile(bare, share),
    limitOf: share === 0.95 ? 'what is asked of it' : 'one and a half times the bare query',
    samples: answered.length,
    bytes,
  })
  print({ bench: 'board', case: `the bare query, ${name}`, value: quantile(bare, share), unit: 'ms' })
}

const told: number[] = []
for (let round = 0; round < 5; round++) {
  const act = round % 2 === 0 ? 'down' : 'up'
  const before = performance.now()
  const all = sockets.map(
    (socket) =>
      new Promise<void>((resolve) => {
        const look = (data: Buffer, isBinary: boolean) => {
          if (isBinary || (JSON.parse(data.toString()) as ServerMessage).type !== 'permission') return
          socket.off('message', look)
          resolve()
        }
        socket.on('message', look)
      }),
  )
  const acting = call('POST', `handouts/${id}/pens`, { copyIds: rows.map((row) => row.id), act })
  await Promise.all(all)
  told.push(performance.now() - before)
  await acting
}
print({
  bench: 'board',
  case: `pens down in ${COPIES} copies, until the last of ${WRITERS} open pages is told, median of 5`,
  value: median(told),
  unit: 'ms',
  limit: 1_000,
  limitOf: 'what is asked of it',
})
// In a browser: how soon the board is there, how soon a change is on it, and how evenly table and answer grid are scrolled.
await call('POST', `handouts/${id}/pens`, { copyIds: rows.map((row) => row.id), act: 'up' })
await inBrowser(address, cookies[0]!, async (page) => {
  const board = `${address}/class/${school.classId}/handouts/${id}`
  // The second visit: what a teacher does all day.
  for (const visit of ['first', 'second']) {
    const opened = await timed(async () => {
      await page.goto(board)
      await page.locator('.board-table tbody tr .title-cell').first().waitFor()
    })
    print({
      bench: 'board',
      case: `the board of ${COPIES} opened, until its rows stand there, ${visit} visit`,
      value: opened,
      unit: 'ms',
      limit: 1_000,
      limitOf: 'what is asked of it',
    })
  }
  const first = await page.locator('.board-table tbody tr .title-cell button').first().textContent()
  const { rows: found } = await database.query<{ id: string }>(
    `SELECT c.id FROM copy c JOIN copy_holder o ON o.copy_id = c.id JOIN person p ON p.id = o.person_id
      WHERE c.handout_id = $1 AND p.last_name || ', ' || p.first_name = $2`,
    [id, first],
  )
  const at = rows.findIndex((row) => row.id === found[0]!.id)
  const socket = await connect(cookieOf.get(rows[at]!.person_id)!)
  const opening = ready(socket, 1)
  socket.send(JSON.stringify({ type: 'open', channel: 1, copyId: rows[at]!.id }))
  await opening
  const doc = newAnswerDoc('line')
  socket.send(JSON.stringify({ type: 'writer', channel: 1, space: 'line2', client: doc.clientID }))
  const shown: number[] = []
  const words = Number(await page.locator('.board-table tbody tr td.n').first().textContent())
  for (let key = 0; key < 15; key++) {
    const stands = page.evaluate(
      (most) =>
        new Promise<number>((resolve) => {
          const look = () =>
            [...document.querySelectorAll('.board-table tbody tr:first-child td.n')].some(
              (cell) => cell.textContent === most,
            )
              ? resolve(performance.timeOrigin + performance.now())
              : requestAnimationFrame(look)
          look()
        }),
      String(words + key + 1),
    )
    const before = clock()
    const known = Y.encodeStateVector(doc)
    doc.getText('line').insert(doc.getText('line').length, ' word')
    socket.send(
      writeSpaceUpdate({ channel: 1, space: 'line2', number: key + 1, bytes: Y.encodeStateAsUpdate(doc, known) }),
    )
    shown.push((await stands) - before)
    await new Promise((resolve) => setTimeout(resolve, 300 + 40 * key))
  }
  print({
    bench: 'board',
    case: 'a word written until it is counted on an open board, p95',
    value: quantile(shown, 0.95),
    unit: 'ms',
    limit: 300,
    limitOf: 'what is asked of it',
    samples: shown.length,
    median: Math.round(median(shown)),
  })
  for (const [view, name] of [
    ['', 'the board'],
    ['?view=answers', `the answer grid of ${COPIES} by ${SPACES}`],
  ] as const) {
    await page.goto(`${board}${view}`)
    await page.locator('.grid-scroll tbody tr .title-cell').first().waitFor()
    print({
      bench: 'board',
      case: `${name} scrolled, pictures a second`,
      ...(await scrolled(page, '.grid-scroll')),
      unit: '1/s',
      asked: 60,
    })
  }
  socket.terminate()
})
for (const socket of sockets) socket.terminate()
child.kill('SIGTERM')
await database.end()
