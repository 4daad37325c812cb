import {
  type ClientMessage,
  type PlanFacts,
  type ProofPart,
  fingerprintChanges,
  lettersOf,
  positionAt,
  proofOf,
  withWay,
  type ServerMessage,
} from '@gavrin/core'
import { type ChildProcess, spawn } from 'node:child_process'
import { readFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import pg from 'pg'
import WebSocket from 'ws'
import type * as Y from 'yjs'
import { SECRET, makeSchool, signIn, statementFor } from './school.js'

// A server with a handout to a class whose students type, as the measurements of live copies and of boards need it.

export const KEYS_A_SECOND = 3
export const SECONDS = 12
export const WARM_UP = 2
const databaseUrl = process.env['DATABASE_URL']!
export const database = new pg.Pool({ connectionString: databaseUrl, max: 4 })
const SERVER = fileURLToPath(new URL('../../server/dist/main.js', import.meta.url))

export function start(script: string): Promise<{ child: ChildProcess; address: string }> {
  const child = spawn(process.execPath, [script], {
    env: { ...process.env, SESSION_SECRET: SECRET, PORT: '0' },
    stdio: ['ignore', 'pipe', 'inherit'],
  })
  return new Promise((resolve, reject) => {
    child.stdout.on('data', (data: Buffer) => {
      const address = /listens on (\S+)/.exec(data.toString())?.[1]
      if (address) resolve({ child, address })
    })
    child.once('exit', (code) => reject(new Error(`${script} ended with ${code}`)))
  })
}

/** Processor time a process has used, in seconds. */
export function processorTime(pid: number): number {
  const fields = readFileSync(`/proc/${pid}/stat`, 'utf8').split(') ')[1]!.split(' ')
  return (Number(fields[11]) + Number(fields[12])) / 100
}

export const opened = (socket: WebSocket) =>
  new Promise<void>((resolve, reject) => (socket.once('open', resolve), socket.once('error', reject)))

/** Lets each writer press a key three times a second, not all at once, and gathers what came back. */
export async function press(writers: readonly ((key: number) => void)[]): Promise<void> {
  const end = performance.now() + (SECONDS + WARM_UP) * 1_000
  await Promise.all(
    writers.map(async (write, index) => {
      await new Promise((resolve) => setTimeout(resolve, (index / writers.length) * (1_000 / KEYS_A_SECOND)))
      for (let key = 0; performance.now() < end; key++) {
        write(key)
        await new Promise((resolve) => setTimeout(resolve, 1_000 / KEYS_A_SECOND))
      }
    }),
  )
  await new Promise((resolve) => setTimeout(resolve, 1_000))
}

/** What a page says with a key to those who have the copy open too: where its caret is. */
export function whereIn(doc: Y.Doc): string {
  const letters = lettersOf('line', doc)
  const at = positionAt(letters, letters.text.length, 'before')
  return JSON.stringify({ type: 'here', channel: 1, space: 'line', at, away: false } satisfies ClientMessage)
}

/** A server with a handout to so many students, and what talks to it. */
export async function begin(count: number, way: 'one each' | 'one together', spaces = 1) {
  const school = await makeSchool(database, count, spaces)
  const { child, address } = await start(SERVER)
  const cookies = await signIn(database, school.schoolId, [school.teacherId, ...school.studentIds])
  const call = async <T>(method: string, path: string, body?: unknown): Promise<T> =>
    (await (
      await fetch(`${address}/api/${path}`, {
        method,
        headers: { cookie: cookies[0]!, 'content-type': 'application/json' },
        ...(body !== undefined && { body: JSON.stringify(body) }),
      })
    ).json()) as T
  const plain = statementFor(school)
  const statement = { ...plain, items: plain.items.map((item) => withWay(item, way, [])) }
  const { id, version } = await call<{ id: string; version: number }>('POST', `classes/${school.classId}/handouts`, {
    title: 'Bench',
    statement,
  })
  const { worksheets, parts } = await call<{ worksheets: PlanFacts['worksheets']; parts: ProofPart[] }>(
    'GET',
    `handouts/${id}`,
  )
  await call('POST', `handouts/${id}/hand-out`, {
    version,
    fingerprint: fingerprintChanges(proofOf(statement, worksheets, parts, Date.now()).changes),
  })
  const { rows } = await database.query<{ id: string; person_id: string }>(
    'SELECT c.id, o.person_id FROM copy c JOIN copy_holder o ON o.copy_id = c.id WHERE c.handout_id = $1',
    [id],
  )
  const cookieOf = new Map(school.studentIds.map((person, at) => [person, cookies[at + 1]!]))
  const connect = async (cookie: string) => {
    const socket = new WebSocket(`${address.replace('http', 'ws')}/api/live`, { headers: { cookie, origin: address } })
    await opened(socket)
    return socket
  }
  const ready = (socket: WebSocket, channel: number) =>
    new Promise<void>((resolve) => {
      const look = (data: Buffer, isBinary: boolean) => {
        if (isBinary) return
        const message = JSON.parse(data.toString()) as ServerMessage
        if (message.type === 'ready' && message.channel === channel) {
          socket.off('message', look)
          resolve()
        }
      }
      socket.on('message', look)
    })
  return { address, school, child, cookies, call, id, rows, cookieOf, connect, ready }
}
