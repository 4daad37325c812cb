import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { plainNote } from '@gavrin/core'
import { randomInt, randomUUID } from 'node:crypto'
import request from 'supertest'
import { type Cluster, openCluster } from '../../scripts/lib/postgres.mjs'
import { runs } from '../../scripts/lib/runs.mjs'
import { migrate } from '../dist/database/dataSource.js'
import { LiveClient } from './support/liveClient.js'
import { ServerProcess } from './support/process.js'
import {
  type TestClass,
  type TestPerson,
  TestSchool,
  fingerprint,
  newDatabase,
  statementFor,
} from './support/school.js'

const after = (milliseconds: number) => new Promise((resolve) => setTimeout(resolve, milliseconds))

describe('the server is killed', () => {
  let school: TestSchool
  let given: TestClass
  let writers: TestPerson[]
  beforeAll(async () => {
    school = await TestSchool.open({ databaseUrl: await newDatabase() })
    given = await school.classOf(12)
    writers = await Promise.all(given.emails.slice(0, 12).map((email) => school.signInByEmail(email)))
  })
  afterAll(async () => {
    ServerProcess.endAll()
    await school.close()
  })

  test('while copies are saved as documents: it goes on, and each is in the file once', async () => {
    const given = await school.classOf(8)
    const { id: handoutId } = await school.handedOut(given)
    let server = await ServerProcess.start(school.databaseUrl)
    const asked = (method: 'get' | 'post', path: string) =>
      request(server.url)[method](`/api/${path}`).set('cookie', given.teacher.cookie)
    const { body: begun } = await asked('post', 'saved-copies').send({ handoutId, format: 'html' }).expect(202)
    const { id } = begun as { id: string }
    const soFar = async () => {
      const { body } = await asked('get', 'saved-copies').expect(200)
      return (body as { id: string; done: number; total: number; finishedAt: number | null }[])[0]!
    }
    for (const until of [2, 5]) {
      while ((await soFar()).done < until);
      await server.kill()
      server = await ServerProcess.start(school.databaseUrl)
    }
    while ((await soFar()).finishedAt === null);
    expect(await soFar()).toMatchObject({ done: 8, total: 8 })
    const [{ files, places }] = await school.source.query<[{ files: number; places: number }]>(
      'SELECT count(*)::int AS files, count(DISTINCT place)::int AS places FROM saved_copies_file WHERE saved_id = $1',
      [id],
    )
    expect([files, places]).toEqual([8, 8])
    await server.kill('SIGTERM')
  })

  test('at any moment of a hand-out: after a restart the rest is done, and each copy exists once', async () => {
    const given = await school.classOf(1_000)
    const worksheet = await school.worksheet(given.teacher)
    const cover = { text: plainNote('Bring your chart.'), by: 'mail' as const, staffCopied: false }
    // It opens tomorrow, so that the mails lie in the queue to be counted.
    const classes = [{ classId: given.id, opensAt: Date.now() + 86_400_000, dueAt: null }]
    let server = await ServerProcess.start(school.databaseUrl)
    for (let round = 0; round < runs(4, 24); round++) {
      const statement = statementFor(given.id, worksheet.id, null, {}, { cover, classes })
      const { id, version } = await school.draft(given, statement)
      const seen = await fingerprint(given.teacher, id)
      const sent = request(server.url)
        .post(`/api/handouts/${id}/hand-out`)
        .set('cookie', given.teacher.cookie)
        .send({ version, fingerprint: seen })
        .then(
          () => undefined,
          () => undefined,
        )
      await after(randomInt(0, 500))
      await server.kill()
      await sent

      server = await ServerProcess.start(school.databaseUrl)
      const call = (method: 'get' | 'post') =>
        request(server.url)[method](`/api/handouts/${id}/hand-out`).set('cookie', given.teacher.cookie)
      // Killed before it was begun, the teacher presses again; else it goes on by itself.
      await call('post').send({ version, fingerprint: seen })
      for (;;) {
        const { body } = await call('get')
        if ((body as { finished: boolean }).finished) break
      }
      expect(await school.count('copy', `handout_id = '${id}'`)).toBe(1_000)
      expect(await school.count('copy_holder o JOIN copy c ON c.id = o.copy_id', `c.handout_id = '${id}'`)).toBe(1_000)
      expect(await school.count('notice', `handout_id = '${id}'`)).toBe(1_000)
      expect(await school.count('message', `handout_id = '${id}'`)).toBe(1_000)
      expect(
        await school.count(
          "jobs.job j JOIN message m ON m.id::text = j.data ->> 'messageId'",
          `m.handout_id = '${id}'`,
        ),
      ).toBe(1_000)
      expect(
        await school.count(
          'copy_journal j JOIN copy c ON c.id = j.copy_id',
          `c.handout_id = '${id}' AND j.kind = 'given'`,
        ),
      ).toBe(1_000)
    }
    await server.kill()
  }, 3_600_000)

  test('at any moment of a hand-back: all of it or nothing, and each student is told once', async () => {
    const students = runs(100, 1_000)
    const given = await school.classOf(students)
    let server = await ServerProcess.start(school.databaseUrl)
    for (let round = 0; round < runs(2, 20); round++) {
      const { id, copies } = await school.handedOut(given)
      await school.source.query(`UPDATE copy SET state = 'submitted', submitted_at = now() WHERE handout_id = $1`, [id])
      const call = (method: 'post' | 'put', path: string) =>
        request(server.url)[method](`/api/handouts/${id}/${path}`).set('cookie', given.teacher.cookie)
      const changes = [{ of: 'remark', was: '', to: 'Well tied.' }]
      await call('put', 'marks')
        .send({ marks: [...copies.values()].map((copyId) => ({ copyId, personId: null, changes, done: true })) })
        .expect(200)
      const wish = { message: 'Dear {first name}.', byMail: true }
      const proof = async () =>
        ((await call('post', 'hand-back/proof').send(wish).expect(200)).body as { fingerprint: string }).fingerprint
      const seen = await proof()
      const sent = call('post', 'hand-back')
        .send({ ...wish, fingerprint: seen })
        .then(
          () => undefined,
          () => undefined,
        )
      await after(randomInt(0, runs(150, 900)))
      await server.kill()
      await sent

      const counts = async () => {
        const of = (table: string, where = 'true') =>
          school.count(`${table} t JOIN copy c ON c.id = t.copy_id`, `c.handout_id = '${id}' AND ${where}`)
        return {
          copies: await school.count('copy', `handout_id = '${id}' AND state = 'handed back'`),
          marks: await of('handed_back'),
          entries: await of('copy_journal', `t.kind = 'handed back'`),
          told: await of('reminder', `t.reminded_of = 'handed back'`),
          mails: await school.count(
            "jobs.job j JOIN message m ON m.id::text = j.data ->> 'messageId'",
            `m.handout_id = '${id}' AND m.kind = 'reminder'`,
          ),
        }
      }
      const all = { copies: students, marks: students, entries: students, told: students, mails: students }
      const none = { copies: 0, marks: 0, entries: 0, told: 0, mails: 0 }
      const there = await counts()
      expect(there).toEqual(there.copies === 0 ? none : all)
      server = await ServerProcess.start(school.databaseUrl)
      // Pressed again, the rest is done, which may be nothing.
      await call('post', 'hand-back').send({ ...wish, fingerprint: await proof() })
      expect(await counts()).toEqual(all)
    }
    await server.kill()
  }, 3_600_000)

  test('while students type and comment: nothing that was said to be kept is lost, and the answers are counted after', async () => {
    const handout = await school.handedOut(given)
    const kept = new Map<string, number>()
    const [speaker] = writers
    const spokenIn = `/api/copies/${handout.copies.get(speaker!.email)!}/comments`
    const said: string[] = []
    /** Comments one after the other, until the server is gone. */
    const speak = async (url: string, heard: () => void) => {
      for (let count = 0; count < 30; count++) {
        const commentId = randomUUID()
        const begins = { kind: 'comment', staffOnly: false, anchor: { is: 'copy' } }
        const answer = await fetch(`${url}${spokenIn}/${commentId}`, {
          method: 'PUT',
          headers: { cookie: speaker!.cookie, origin: url, 'content-type': 'application/json' },
          body: JSON.stringify({ text: 'Who is that?', threadId: randomUUID(), begins }),
        }).catch(() => null)
        if (!answer?.ok) return
        said.push(commentId)
        heard()
      }
    }
    for (let round = 0; round < runs(2, 20); round++) {
      const server = await ServerProcess.start(school.databaseUrl)
      const clients = await Promise.all(
        writers.map(async (writer) => {
          const copyId = handout.copies.get(writer.email)!
          return { copyId, client: await LiveClient.open(server.url, writer.cookie, copyId) }
        }),
      )
      const typing = clients.map(async ({ copyId, client }) => {
        for (let key = 0; key < 10_000 && !client.closed; key++) {
          try {
            await client.saved(client.type(`${round}.${key} `))
            kept.set(copyId, (kept.get(copyId) ?? 0) + 1)
          } catch {
            return
          }
        }
      })
      // However slow the machine: something was said before it is killed.
      let heard!: () => void
      const first = new Promise<void>((resolve) => (heard = resolve))
      const speaking = speak(server.url, heard)
      await Promise.race([first, speaking])
      await after(randomInt(150, 600))
      await server.kill()
      await Promise.all([...typing, speaking])
    }
    const server = await ServerProcess.start(school.databaseUrl)
    let sum = 0
    for (const writer of writers) {
      const copyId = handout.copies.get(writer.email)!
      const reader = await LiveClient.open(server.url, writer.cookie, copyId)
      const words = reader.text('line').trim().split(' ').length
      expect(words).toBeGreaterThanOrEqual(kept.get(copyId) ?? 0)
      expect(await school.count('copy', `id = '${copyId}' AND state = 'working' AND answered = 1`)).toBe(1)
      sum += kept.get(copyId) ?? 0
      reader.close()
    }
    expect(sum).toBeGreaterThan(20)
    const { body } = await request(server.url).get(spokenIn).set('cookie', speaker!.cookie).expect(200)
    const there = (body as { threads: { comments: { id: string }[] }[] }).threads.flatMap(({ comments }) =>
      comments.map(({ id }) => id),
    )
    expect(said.length).toBeGreaterThan(0)
    expect(said.filter((id) => !there.includes(id))).toEqual([])
    expect(new Set(there).size).toBe(there.length)
    await server.kill('SIGTERM')
  }, 3_600_000)
})

describe('the database is stopped for ten seconds', () => {
  let cluster: Cluster
  let school: TestSchool
  beforeAll(async () => {
    cluster = await openCluster('test-faults', { fresh: true })
    cluster.createDatabase('gavrin')
    await migrate(cluster.url('gavrin'))
    school = await TestSchool.open({ databaseUrl: cluster.url('gavrin') })
  })
  afterAll(async () => {
    await school.close()
    cluster.stop('immediate')
  })

  test('writing goes on unacknowledged, the API says 503, and all is saved after', async () => {
    const given = await school.classOf(3)
    const handout = await school.handedOut(given)
    const writers = await Promise.all(
      given.emails.map(async (email) => {
        const person = await school.signInByEmail(email)
        return LiveClient.open(school.url, person.cookie, handout.copies.get(email)!)
      }),
    )
    for (const writer of writers) await writer.saved(writer.type('before '))
    cluster.stop('fast')
    const end = Date.now() + 10_000
    const numbers = writers.map(() => 0)
    let keys = 0
    do {
      writers.forEach((writer, at) => (numbers[at] = writer.type(`${keys} `)))
      keys++
      const { status, body } = await request(school.url).get('/api/health')
      expect(status).toBe(503)
      expect(body).toMatchObject({ code: 'database-away', status: 503 })
      await after(200)
    } while (Date.now() < end)
    for (const [at, writer] of writers.entries())
      expect(
        writer.messages.some((message) => message.type === 'saved' && message.number >= numbers[at]! - keys + 2),
      ).toBe(false)
    await cluster.start()
    for (const [at, writer] of writers.entries()) await writer.saved(numbers[at]!)
    await request(school.url).get('/api/health').expect(200)
    const reader = await LiveClient.open(school.url, given.teacher.cookie, handout.copies.get(given.emails[0]!)!)
    expect(reader.text('line')).toBe(`before ${Array.from({ length: keys }, (_, at) => `${at} `).join('')}`)
    for (const client of [...writers, reader]) client.close()
  })
})
