import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { createHmac, randomUUID } from 'node:crypto'
import { type Server, createServer } from 'node:http'
import type { AddressInfo } from 'node:net'
import request from 'supertest'
import { isPublicAddress } from '../dist/automation/publicAddress.js'
import { sendSigned } from '../dist/automation/sendSigned.js'
import { WebhooksService } from '../dist/automation/webhooks.service.js'
import { copiesIn } from './support/copies.js'
import { type TestClass, type TestPerson, TestSchool, openHere } from './support/school.js'

// Programs of one's own: tokens, the feed of what happens, and addresses that are told of it.

let here: Awaited<ReturnType<typeof openHere>>
let school: TestSchool
let of: TestClass
beforeAll(async () => {
  school = await TestSchool.open({ by: async (opening) => (here = await openHere(opening)) })
  // What is sent here is sent when a test says so, and not by the clock too.
  await here.app.get(WebhooksService).beforeApplicationShutdown()
  of = await school.classOf(2)
})
afterAll(() => school.close())
const { write } = copiesIn(() => school)

const tokenOf = async (person: TestPerson, scopes: readonly string[] = ['read'], days = 30) =>
  (await person.http.post('/api/tokens').send({ name: 'Morning script', scopes, days }).expect(201)).body as {
    id: string
    token: string
  }
const by = (token: string) => ({
  get: (path: string) => request(school.url).get(`/api/${path}`).set('authorization', `Bearer ${token}`),
  post: (path: string, body: object = {}) =>
    request(school.url).post(`/api/${path}`).set('authorization', `Bearer ${token}`).send(body),
})
const codeOf = (answer: { body: unknown }) => (answer.body as { code: string }).code

describe('a token', () => {
  test('lets a program do what it is for in the name of its owner, and nothing else', async () => {
    const { token } = await tokenOf(of.teacher, ['read', 'rosters'])
    const { body } = await by(token).get('classes').expect(200)
    expect((body as { id: string }[]).map(({ id }) => id)).toContain(of.id)
    await by(token).post(`classes/${of.id}/roster`, { rows: [] }).expect(200)
    expect(codeOf(await by(token).post(`handouts/${randomUUID()}/hand-out`).expect(403))).toBe('token-scope')
    for (const path of ['tokens', 'webhooks', 'account/calendar'])
      expect(codeOf(await by(token).get(path).expect(403))).toBe('not-by-token')
    // Of another class it knows no more than its owner.
    const other = await school.classOf(1)
    await by(token).get(`classes/${other.id}`).expect(404)
  })

  test('is told once, kept as a hash, listed with when it was used, and taken back', async () => {
    const person = await school.person('teacher', 'Timo')
    const { id, token } = await tokenOf(person)
    await by(token).get('classes').expect(200)
    const { body } = await person.http.get('/api/tokens').expect(200)
    expect(body).toMatchObject([{ id, name: 'Morning script', scopes: ['read'] }])
    expect((body as { usedAt: number | null }[])[0]!.usedAt).not.toBeNull()
    expect(JSON.stringify(body)).not.toContain(token.slice(10))
    expect(await school.count('access_token', `position('${token.slice(7)}' IN encode(hash, 'escape')) > 0`)).toBe(0)
    // Another's is not there.
    await of.teacher.http.delete(`/api/tokens/${id}`).expect(404)
    await person.http.delete(`/api/tokens/${id}`).expect(204)
    expect(codeOf(await by(token).get('classes').expect(401))).toBe('token-unknown')
  })

  test('ends when it was said to', async () => {
    const { id, token } = await tokenOf(of.teacher)
    await school.source.query(`UPDATE access_token SET ends_at = now() - interval '1 second' WHERE id = $1`, [id])
    await by(token).get('classes').expect(401)
    await of.teacher.http
      .post('/api/tokens')
      .send({ name: 'x', scopes: ['read'], days: 367 })
      .expect(422)
    await of.teacher.http
      .post('/api/tokens')
      .send({ name: 'x', scopes: ['everything'], days: 1 })
      .expect(422)
  })

  test('a session beside it counts for nothing, and guesses are slowed down', async () => {
    await request(school.url)
      .get('/api/classes')
      .set('cookie', of.teacher.cookie)
      .set('authorization', 'Bearer gavrin_nothing')
      .expect(401)
    let status = 401
    for (let tries = 0; tries < 40 && status === 401; tries++)
      ({ status } = await by(`gavrin_${'x'.repeat(43)}`).get('classes'))
    expect(status).toBe(429)
    await school.source.query(`DELETE FROM stranger_attempt WHERE kind = 'token'`)
  })

  test('makes no more requests than others can be served with', async () => {
    const { token } = await tokenOf(of.teacher)
    const all: Awaited<ReturnType<ReturnType<typeof by>['get']>>[] = []
    // However slow the machine: more than it lets through, at once.
    for (let rounds = 0; rounds < 10 && !all.some(({ status }) => status === 429); rounds++)
      all.push(...(await Promise.all(Array.from({ length: 160 }, () => by(token).get('tokens')))))
    expect(
      Number((all.find(({ status }) => status === 429)!.body as { retryAfter: number }).retryAfter),
    ).toBeGreaterThan(0)
  })
})

interface Feed {
  events: { number: number; kind: string; copyId: string; classId: string; byPersonId: string | null }[]
  next: number
}
const feedOf = async (person: TestPerson, query = ''): Promise<Feed> =>
  (await person.http.get(`/api/events?${query}`).expect(200)).body as Feed

describe('the feed of what happens', () => {
  test('tells what happened in the order of its numbers, of one’s own classes alone', async () => {
    const own = await school.classOf(1)
    const { next: before } = await feedOf(own.teacher)
    const { copies } = await school.handedOut(own)
    const copyId = copies.get(own.emails[0]!)!
    const ana = await school.signInByEmail(own.emails[0]!)
    await ana.http.get(`/api/copies/${copyId}`).expect(200)
    await write(ana, copyId, 'line', 'one')
    await ana.http.post(`/api/copies/${copyId}/submit`).expect(200)
    const { events, next } = await feedOf(own.teacher, `after=${before}`)
    expect(events.map(({ kind }) => kind)).toEqual(['handed out', 'opened', 'submitted'])
    expect(events.every((event) => event.copyId === copyId && event.classId === own.id)).toBe(true)
    expect(events.at(-1)!.byPersonId).toBe(ana.viewer.personId)
    expect((await feedOf(own.teacher, `after=${next}`)).events).toEqual([])
    const { events: others } = await feedOf(of.teacher)
    expect(others.some((event) => event.classId === own.id)).toBe(false)
    expect((await feedOf(own.teacher, 'kinds=submitted,handed%20back')).events.map(({ kind }) => kind)).toEqual([
      'submitted',
    ])
    await own.teacher.http.get('/api/events?kinds=everything').expect(422)
  })

  test('read page by page it has each event once, and none is missed that is committed late', async () => {
    const own = await school.classOf(6)
    const { next: before } = await feedOf(own.teacher)
    const { copies } = await school.handedOut(own)
    const [late] = copies.values()
    // An entry that has its place among the others, and is not there yet.
    const transaction = await school.source.transaction()
    await transaction.query(`INSERT INTO copy_journal (school_id, copy_id, kind) VALUES ($1, $2, 'pens down')`, [
      school.schoolId,
      late,
    ])
    for (const copyId of copies.values())
      await school.source.query(`INSERT INTO copy_journal (school_id, copy_id, kind) VALUES ($1, $2, 'pens up')`, [
        school.schoolId,
        copyId,
      ])
    const seen: string[] = []
    let after = before
    const readOn = async () => {
      for (;;) {
        const { events, next } = await feedOf(own.teacher, `after=${after}&most=4`)
        after = next
        seen.push(...events.map(({ kind }) => kind))
        if (events.length === 0) return
      }
    }
    await readOn()
    expect(seen.toSorted()).toEqual([...Array<string>(6).fill('handed out'), ...Array<string>(6).fill('pens up')])
    await transaction.end('COMMIT')
    await readOn()
    expect(seen.filter((kind) => kind === 'pens down')).toHaveLength(1)
    expect(seen).toHaveLength(13)
  })

  test('two who read at once number nothing twice', async () => {
    const own = await school.classOf(8)
    await school.handedOut(own)
    const all = await Promise.all(Array.from({ length: 8 }, () => feedOf(own.teacher)))
    for (const feed of all)
      expect(feed.events.map(({ number }) => number)).toEqual(all[0]!.events.map(({ number }) => number))
    const [{ gaps }] = await school.source.query<[{ gaps: number }]>(
      'SELECT (max(number) - count(*))::int AS gaps FROM feed_event WHERE school_id = $1',
      [school.schoolId],
    )
    expect(gaps).toBe(0)
  })

  test('who helps some students is told of these', async () => {
    const own = await school.classOf(2)
    await school.handedOut(own)
    const [first] = await school.peopleOf(own)
    const helper = await school.person('teacher', 'Hilde')
    await own.teacher.http
      .post(`/api/classes/${own.id}/staff`)
      .send({ email: helper.email, role: 'named helper', studentIds: [first] })
      .expect(201)
    expect((await feedOf(helper)).events).toHaveLength(1)
  })
})

/** A receiver that answers as it is told to, and keeps what it was sent. */
async function receiver(answer: (times: number) => { status: number; location?: string } | 'nothing') {
  const taken: { body: string; signature: string }[] = []
  const server: Server = createServer((asked, response) => {
    const parts: Buffer[] = []
    asked.on('data', (part: Buffer) => parts.push(part))
    asked.on('end', () => {
      taken.push({ body: Buffer.concat(parts).toString(), signature: String(asked.headers['gavrin-signature']) })
      const is = answer(taken.length)
      if (is === 'nothing') return
      response.writeHead(is.status, is.location ? { location: is.location } : {})
      response.end()
    })
  })
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
  return {
    taken,
    url: `http://127.0.0.1:${(server.address() as AddressInfo).port}/told`,
    close: () => {
      server.closeAllConnections()
      server.close()
    },
  }
}

describe('an address that is told what happens', () => {
  const look = () => here.app.get(WebhooksService).look()
  const due = (id: string) => school.source.query('UPDATE webhook SET next_at = now() WHERE id = $1', [id])
  const add = async (person: TestPerson, address: string, kinds = ['submitted']) =>
    (await person.http.post('/api/webhooks').send({ address, kinds }).expect(201)).body as {
      id: string
      secret: string
    }
  const hookOf = async (person: TestPerson) =>
    (
      (await person.http.get('/api/webhooks').expect(200)).body as {
        failures: number
        problem: string | null
        stoppedAt: number | null
      }[]
    )[0]!
  async function submittedIn() {
    const own = await school.classOf(1)
    const { copies } = await school.handedOut(own)
    const ana = await school.signInByEmail(own.emails[0]!)
    const submit = () => ana.http.post(`/api/copies/${copies.get(own.emails[0]!)!}/submit`).expect(200)
    return { own, submit }
  }

  test('gets each event once, signed', async () => {
    const there = await receiver(() => ({ status: 204 }))
    const { own, submit } = await submittedIn()
    const { id, secret } = await add(own.teacher, there.url)
    await submit()
    await due(id)
    await look()
    expect(there.taken).toHaveLength(1)
    const [{ body, signature }] = there.taken as [{ body: string; signature: string }]
    expect((JSON.parse(body) as { events: { kind: string }[] }).events.map(({ kind }) => kind)).toEqual(['submitted'])
    const [, at, signed] = /^t=(\d+),v1=([0-9a-f]{64})$/.exec(signature)!
    expect(createHmac('sha256', secret).update(`${at!}.${body}`).digest('hex')).toBe(signed)
    await due(id)
    await look()
    expect(there.taken).toHaveLength(1)
    expect(await hookOf(own.teacher)).toMatchObject({ failures: 0, problem: null })
    there.close()
  })

  test('that does not take it is tried again later, with the same; what redirects is not followed', async () => {
    const elsewhere = await receiver(() => ({ status: 200 }))
    const there = await receiver((times) =>
      times === 1 ? { status: 302, location: elsewhere.url } : { status: times < 3 ? 500 : 200 },
    )
    const { own, submit } = await submittedIn()
    const { id } = await add(own.teacher, there.url)
    await submit()
    for (const problem of ['It answered 302.', 'It answered 500.', null]) {
      await due(id)
      await look()
      expect((await hookOf(own.teacher)).problem).toBe(problem)
    }
    expect(new Set(there.taken.map(({ body }) => body)).size).toBe(1)
    expect(elsewhere.taken).toEqual([])
    there.close()
    elsewhere.close()
  })

  test('that is dead, or never answers, keeps no other waiting, and is given up in the end', async () => {
    const slow = await receiver(() => 'nothing')
    const quick = await receiver(() => ({ status: 200 }))
    const { own, submit } = await submittedIn()
    const hooks = [await add(own.teacher, slow.url), await add(own.teacher, quick.url)]
    await submit()
    for (const { id } of hooks) await due(id)
    await look()
    expect(quick.taken).toHaveLength(1)
    expect((await hookOf(own.teacher)).problem).toBe('It did not answer within 5 seconds.')
    slow.close()
    await school.source.query('UPDATE webhook SET failures = 14 WHERE id = $1', [hooks[0]!.id])
    await due(hooks[0]!.id)
    await look()
    expect(await hookOf(own.teacher)).toMatchObject({ problem: 'It could not be reached.', failures: 15 })
    expect((await hookOf(own.teacher)).stoppedAt).not.toBeNull()
    await own.teacher.http.post(`/api/webhooks/${hooks[0]!.id}/again`).expect(204)
    expect((await hookOf(own.teacher)).stoppedAt).toBeNull()
    await own.teacher.http.delete(`/api/webhooks/${hooks[0]!.id}`).expect(204)
    quick.close()
  })

  test('is one of the internet: not of the school’s own network, and without a name and a password in it', async () => {
    for (const address of ['nowhere', 'ftp://fennickquay.example/x', 'https://a:b@fennickquay.example/'])
      await of.teacher.http
        .post('/api/webhooks')
        .send({ address, kinds: ['submitted'] })
        .expect(422)
    for (const inside of [
      '10.1.2.3',
      '127.0.0.1',
      '169.254.169.254',
      '192.168.1.1',
      '100.64.0.1',
      '0.0.0.0',
      '::1',
      'fe80::1',
      'fd00::1',
      '::ffff:127.0.0.1',
      '2002:7f00:1::',
    ])
      expect([inside, isPublicAddress(inside)]).toEqual([inside, false])
    for (const outside of ['1.1.1.1', '93.184.216.34', '2606:4700::1111']) expect(isPublicAddress(outside)).toBe(true)
    const there = await receiver(() => ({ status: 200 }))
    const port = new URL(there.url).port
    for (const host of ['127.0.0.1', 'localhost', '[::1]'])
      expect(await sendSigned(`http://${host}:${port}/`, 'secret', '{}', false)).toBe('This is not a public address.')
    expect(there.taken).toEqual([])
    there.close()
  })
})
