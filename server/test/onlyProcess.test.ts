import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { spawn } from 'node:child_process'
import { type AddressInfo, type Socket, connect, createServer } from 'node:net'
import { fileURLToPath } from 'node:url'
import pg from 'pg'
import request from 'supertest'
import { OnlyProcess, SECOND_PROCESS } from '../dist/onlyProcess.js'
import { ServerProcess } from './support/process.js'
import { newDatabase } from './support/school.js'

let databaseUrl: string
beforeAll(async () => {
  databaseUrl = await newDatabase()
})
afterAll(() => ServerProcess.endAll())

const HOLDER = `SELECT pid FROM pg_locks WHERE locktype = 'advisory' AND objid = 7341002 AND granted
  AND database = (SELECT oid FROM pg_database WHERE datname = current_database())`

async function connected(): Promise<pg.Client> {
  const client = new pg.Client({ connectionString: databaseUrl })
  await client.connect()
  return client
}

describe('one process serves a database', () => {
  test('a second one says so and does not start; after a kill -9 the next one does', async () => {
    const first = await ServerProcess.start(databaseUrl)
    await expect(OnlyProcess.hold(databaseUrl, () => undefined, 0)).rejects.toThrow(SECOND_PROCESS)
    await first.kill()
    const second = await ServerProcess.start(databaseUrl)
    await request(second.url).get('/api/health').expect(200)
    await second.kill('SIGTERM')
  })

  test('the process that is refused says the sentence and ends with an error', async () => {
    const only = await OnlyProcess.hold(databaseUrl, () => undefined)
    const child = spawn(process.execPath, [fileURLToPath(new URL('../dist/main.js', import.meta.url))], {
      env: { PATH: process.env['PATH'], DATABASE_URL: databaseUrl, PORT: '0', SESSION_SECRET: 'x'.repeat(40) },
      stdio: ['ignore', 'ignore', 'pipe'],
    })
    let said = ''
    child.stderr.on('data', (data: Buffer) => (said += data.toString()))
    const code = await new Promise((resolve) => child.once('exit', resolve))
    expect(code).toBe(1)
    expect(said).toContain('Another Gavrin process serves this database.')
    await only.release()
  })

  test('waits for a database that is there and does not answer yet', async () => {
    // A door in front of the database that lets nobody through at first.
    const waiting: Socket[] = []
    let isOpen = false
    const { port: there } = new URL(databaseUrl)
    const through = (socket: Socket) => {
      const to = connect(Number(there), '127.0.0.1')
      socket.pipe(to).pipe(socket)
      for (const end of [socket, to]) end.on('error', () => end.destroy())
    }
    const door = createServer((socket) => {
      socket.on('error', () => undefined)
      if (isOpen) return through(socket)
      waiting.push(socket)
      // The first one gave up waiting by the time the second one came.
      if (waiting.length === 2) {
        isOpen = true
        through(socket)
      }
    })
    await new Promise<void>((resolve) => door.listen(0, '127.0.0.1', resolve))
    const behind = new URL(databaseUrl)
    behind.port = String((door.address() as AddressInfo).port)
    behind.hostname = '127.0.0.1'
    const only = await OnlyProcess.hold(behind.href, () => undefined)
    expect(waiting).toHaveLength(2)
    await only.release()
    for (const socket of waiting) socket.destroy()
    await new Promise((resolve) => door.close(resolve))
  })

  test('takes the lock again when its connection broke', async () => {
    const client = await connected()
    let lost = 0
    const only = await OnlyProcess.hold(databaseUrl, () => lost++)
    const holder = async () => (await client.query<{ pid: number }>(HOLDER)).rows[0]?.pid
    const before = await holder()
    await client.query('SELECT pg_terminate_backend($1)', [before])
    for (let now = before; now === before || now === undefined; now = await holder());
    expect(lost).toBe(0)
    await only.release()
    await client.end()
  })

  test('released in the moment in which it takes the lock again, it holds it no more', async () => {
    const client = await connected()
    const holder = async () => (await client.query<{ pid: number }>(HOLDER)).rows[0]?.pid
    for (let round = 0; round < 12; round++) {
      const only = await OnlyProcess.hold(databaseUrl, () => undefined)
      const before = await holder()
      await client.query('SELECT pg_terminate_backend($1)', [before])
      // The database has given it again; whether it is known here yet is left to chance.
      for (let now = before; now === before || now === undefined; now = await holder());
      await only.release()
      const other = await OnlyProcess.hold(databaseUrl, () => undefined, 5_000)
      await other.release()
    }
    await client.end()
  })

  test('gives up when another has taken over by then', async () => {
    const [client, rival] = await Promise.all([connected(), connected()])
    let isLost!: () => void
    const lost = new Promise<void>((resolve) => (isLost = resolve))
    await OnlyProcess.hold(databaseUrl, isLost)
    const pid = (await client.query<{ pid: number }>(HOLDER)).rows[0]?.pid
    // Waits in the line for it, and has it the moment the other's connection breaks.
    const taken = rival.query('SELECT pg_advisory_lock(7341002)')
    await client.query('SELECT pg_terminate_backend($1)', [pid])
    await taken
    await lost
    await Promise.all([client.end(), rival.end()])
  })
})
