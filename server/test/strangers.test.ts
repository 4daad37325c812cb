import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { randomUUID } from 'node:crypto'
import { createServer, request as plainRequest } from 'node:http'
import type { AddressInfo } from 'node:net'
import request from 'supertest'
import { waitAfter } from '../dist/access/attempts.js'
import { cameOverTls, sameOrigin, trustIn } from '../dist/common/sameOrigin.js'
import { LiveClient } from './support/liveClient.js'
import { PASSWORD, type TestPerson, TestSchool, sessionCookie, statementFor } from './support/school.js'

// Who tries passwords and codes is slowed down, and shuts nobody else out.

let school: TestSchool
beforeAll(async () => {
  school = await TestSchool.open()
})
afterAll(() => school.close())

/** A try to sign in from an address; the proxy's word is taken on this machine. */
const trySignIn = (email: string, password: string, address: string, cookie = '') =>
  request(school.url)
    .post('/api/session')
    .set('x-forwarded-for', address)
    .set('cookie', cookie)
    .send({ email, password })
const deviceIn = (headers: Record<string, unknown>) =>
  (headers['set-cookie'] as string[]).find((one) => one.startsWith('gavrin.device='))!.split(';')[0]!
const fail = async (email: string, address: string, times: number, cookie = '') => {
  const statuses: number[] = []
  for (let at = 0; at < times; at++) statuses.push((await trySignIn(email, `guess ${at}`, address, cookie)).status)
  return statuses
}
/** As if so much time had passed since the failures. */
const later = (seconds: number) =>
  school.source.query(`UPDATE sign_in_failure SET at = at - $1 * interval '1 second'`, [seconds])

describe('signing in', () => {
  test('who tries passwords at an account waits longer and longer; the person comes in from elsewhere', async () => {
    const victim = await school.person('teacher', 'Vic')
    expect(await fail(victim.email, '10.0.0.1', 7)).toEqual([401, 401, 401, 401, 401, 401, 429])
    const { body } = await trySignIn(victim.email, PASSWORD, '10.0.0.1').expect(429)
    expect(body).toMatchObject({ code: 'too-many-attempts', retryAfter: 5 })
    // From anywhere else the right password is taken at once.
    await trySignIn(victim.email, PASSWORD, '10.0.0.2').expect(204)
    // It is over by itself, and doubles with the next failure.
    await later(5)
    expect(await fail(victim.email, '10.0.0.1', 1)).toEqual([401])
    expect((await trySignIn(victim.email, 'x', '10.0.0.1').expect(429)).body).toMatchObject({ retryAfter: 10 })
    await later(10)
    await trySignIn(victim.email, PASSWORD, '10.0.0.1').expect(204)
  })

  test('a browser in which they signed in before comes in, whatever is tried from the same address', async () => {
    const victim = await school.person('teacher', 'Known')
    const first = await trySignIn(victim.email, PASSWORD, '10.0.1.1').expect(204)
    const device = deviceIn(first.headers)
    expect(await fail(victim.email, '10.0.1.1', 8)).toContain(429)
    await trySignIn(victim.email, PASSWORD, '10.0.1.1').expect(429)
    await trySignIn(victim.email, PASSWORD, '10.0.1.1', device).expect(204)
    // It is no way to try passwords either.
    await later(600)
    expect(await fail(victim.email, '10.0.1.1', 9, device)).toEqual([...new Array<number>(8).fill(401), 429])
    // A mark that somebody made up is worth nothing.
    await later(4_000)
    await fail(victim.email, '10.0.1.1', 6)
    await trySignIn(victim.email, PASSWORD, '10.0.1.1', `gavrin.device=${'A'.repeat(43)}`).expect(429)
  })

  test('two hundred failures from one address shut out nobody who came from there before', async () => {
    const [pupil, stranger] = [await school.person('student', 'Pupil'), await school.person('student', 'New')]
    await trySignIn(pupil.email, PASSWORD, '10.0.2.1').expect(204)
    await school.source.query(
      `INSERT INTO sign_in_failure (email_key, address) SELECT 'nobody' || n, '10.0.2.1' FROM generate_series(1, 200) AS n`,
    )
    await trySignIn(pupil.email, PASSWORD, '10.0.2.1').expect(204)
    expect((await trySignIn(stranger.email, PASSWORD, '10.0.2.1').expect(429)).body).toMatchObject({ retryAfter: 20 })
    await later(20)
    await trySignIn(stranger.email, PASSWORD, '10.0.2.1').expect(204)
  })

  test('the office is told of it, and nobody else', async () => {
    const [victim, office] = [await school.person('teacher', 'Tried'), await school.person('office', 'Office')]
    for (const address of ['10.0.3.1', '10.0.3.2', '10.0.3.3']) await fail(victim.email, address, 5)
    const { body } = await office.http.get('/api/office/sign-in-trouble').expect(200)
    expect(body).toContainEqual(
      expect.objectContaining({ personId: victim.viewer.personId, failures: 15, addresses: 3 }),
    )
    await victim.http.get('/api/office/sign-in-trouble').expect(404)
  })

  test('waits grow from a number of failures on, to a limit, and are over by themselves', () => {
    const growing = { free: 2, first: 3, most: 20 }
    const waits = (count: number, sinceLast: number | null) => waitAfter({ count, sinceLast }, growing)
    expect([waits(0, null), waits(1, 0), waits(2, 0), waits(3, 0), waits(9, 0), waits(2_000, 0)]).toEqual([
      0, 0, 3, 6, 20, 20,
    ])
    expect([waits(3, 4), waits(3, 6), waits(3, 60)]).toEqual([2, 0, 0])
  })
})

describe('guests', () => {
  let teacher: TestPerson
  let handoutId: string
  let code: string
  const enter = (name: string, address = '10.1.0.1') =>
    request(school.url).post(`/api/walk-in/${code}`).set('x-forwarded-for', address).send({ name })
  const links = async () =>
    (await teacher.http.get(`/api/handouts/${handoutId}/walk-ins`).expect(200)).body as { guests: number }[]

  beforeAll(async () => {
    const of = await school.classOf(1)
    teacher = of.teacher
    const statement = statementFor(of.id, (await school.worksheet(teacher)).id, null)
    const { id } = await school.draft(of, statement)
    await school.handOut(teacher, id)
    handoutId = id
    const { body } = await teacher.http
      .put(`/api/handouts/${id}/walk-ins/${statement.items[0]!.id}`)
      .send({ permission: 'edit', open: true, endsAt: null, places: 4 })
      .expect(200)
    code = (body as { code: string }[])[0]!.code
  })
  const itemId = async () =>
    (
      await school.source.query<{ item_id: string }[]>('SELECT item_id FROM walk_in WHERE handout_id = $1', [handoutId])
    )[0]!.item_id

  test('are as many as the teacher lets in; those who wrote nothing are cleared away in one act', async () => {
    const first = await enter('Ola').expect(200)
    for (const name of ['A', 'B', 'C']) await enter(name).expect(200)
    expect((await enter('D').expect(409)).body).toMatchObject({ code: 'too-many-guests' })
    const cookie = sessionCookie(first.headers)
    const { copyId } = first.body as { copyId: string }
    const guest = await LiveClient.open(school.url, cookie, copyId)
    await guest.saved(guest.type('written'))
    const { body } = await teacher.http
      .post(`/api/handouts/${handoutId}/walk-ins/${await itemId()}/clear`)
      .send({ all: false })
      .expect(200)
    expect(body).toMatchObject({ cleared: 3, list: [{ guests: 1 }] })
    expect(await school.count('copy', `handout_id = '${handoutId}' AND NOT set_aside`)).toBe(2)
    await enter('D').expect(200)
    await teacher.http
      .post(`/api/handouts/${handoutId}/walk-ins/${await itemId()}/clear`)
      .send({ all: true })
      .expect(200)
    expect((await links())[0]!.guests).toBe(0)
    // Set aside, with what was written.
    expect(await school.count('live_update', `copy_id = '${copyId}'`)).toBe(1)
    guest.close()
  })

  test('in a loop are slowed down by code and address; others come in', async () => {
    await school.source.query('UPDATE walk_in SET places = 500')
    await school.source.query(
      `INSERT INTO stranger_attempt (kind, key) SELECT 'new guest', w.id || ' 10.1.0.2' FROM walk_in w, generate_series(1, 70) WHERE w.handout_id = $1`,
      [handoutId],
    )
    expect((await enter('Loop', '10.1.0.2').expect(429)).body).toMatchObject({
      retryAfter: expect.any(Number) as unknown,
    })
    await enter('Honest', '10.1.0.3').expect(200)
  })

  test('wrong codes slow an address down, and never for long', async () => {
    await school.source.query(
      `INSERT INTO stranger_attempt (kind, key) SELECT 'walk-in', '10.1.0.4' FROM generate_series(1, 300)`,
    )
    const { body } = await request(school.url)
      .get(`/api/walk-in/${code}`)
      .set('x-forwarded-for', '10.1.0.4')
      .expect(429)
    expect((body as { retryAfter: number }).retryAfter).toBeLessThanOrEqual(10)
    await school.source.query(`UPDATE stranger_attempt SET at = at - interval '10 seconds' WHERE key = '10.1.0.4'`)
    await request(school.url).get(`/api/walk-in/${code}`).set('x-forwarded-for', '10.1.0.4').expect(200)
  })
})

test('as many may wait to be let into a class as its teacher says', async () => {
  const of = await school.classOf(0)
  await of.teacher.http
    .put(`/api/classes/${of.id}/join`)
    .send({ open: true, opensAt: null, closesAt: null, places: 2 })
    .expect(204)
  const page = async () =>
    (await of.teacher.http.get(`/api/classes/${of.id}/join`).expect(200)).body as {
      code: string
      places: number
      requests: { id: string }[]
    }
  const { code, places } = await page()
  expect(places).toBe(2)
  const ask = (name: string) =>
    request(school.url)
      .post(`/api/join/${code}`)
      .send({ first: name, last: 'Wait', email: `${name}@fennickquay.example` })
  await ask('one').expect(204)
  await ask('two').expect(204)
  expect((await ask('three').expect(409)).body).toMatchObject({ code: 'join-full' })
  const { requests } = await page()
  await of.teacher.http
    .post(`/api/classes/${of.id}/join/decide`)
    .send({ letIn: [], turnAway: requests.map(({ id }) => id) })
    .expect(200)
  await ask('three').expect(204)
})

describe('where a request comes from', () => {
  const trust = trustIn('loopback')
  const from = (headers: Record<string, string>, socket: object = { remoteAddress: '127.0.0.1' }) =>
    ({ headers, socket }) as unknown as Parameters<typeof sameOrigin>[0]
  const host = 'gavrin.school.example'

  test.each<[string, Record<string, string>, object, boolean]>([
    ['a page of ours behind a proxy with TLS', { origin: `https://${host}`, 'x-forwarded-proto': 'https' }, {}, true],
    ['the same page without TLS', { origin: `http://${host}`, 'x-forwarded-proto': 'https' }, {}, false],
    ['a page with TLS at a plain server', { origin: `https://${host}` }, {}, false],
    ['a page of ours at a plain server', { origin: `http://${host}` }, {}, true],
    ['another host', { origin: 'https://evil.example', 'x-forwarded-proto': 'https' }, {}, false],
    [
      'a stranger who says what only a proxy may',
      { origin: `https://${host}`, 'x-forwarded-proto': 'https' },
      { remoteAddress: '203.0.113.9' },
      false,
    ],
    ['TLS without a proxy', { origin: `https://${host}` }, { encrypted: true, remoteAddress: '203.0.113.9' }, true],
  ])('%s', (_, headers, socket, isOurs) => {
    const asked = from({ host, ...headers }, { remoteAddress: '127.0.0.1', ...socket })
    expect(sameOrigin(asked, trust)).toBe(isOurs)
  })

  test('cookies are for TLS alone whenever the request came over it', async () => {
    const person = await school.person('teacher', 'Tls')
    const sign = (proto: string) =>
      request(school.url)
        .post('/api/session')
        .set('x-forwarded-proto', proto)
        .send({ email: person.email, password: PASSWORD })
        .expect(204)
    const cookies = (answer: { headers: Record<string, unknown> }) => answer.headers['set-cookie'] as string[]
    const overTls = await sign('https')
    expect(cookies(overTls).every((cookie) => cookie.includes('Secure'))).toBe(true)
    expect(cookies(overTls)).toHaveLength(2)
    expect(overTls.headers['strict-transport-security']).toContain('max-age')
    const plain = await sign('http')
    expect(cookies(plain).some((cookie) => cookie.includes('Secure'))).toBe(false)
    expect(plain.headers['strict-transport-security']).toBeUndefined()
  })

  test('a socket that is no proxy’s is not believed', async () => {
    const server = createServer((incoming, response) => response.end(String(cameOverTls(incoming, () => false))))
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
    const { port } = server.address() as AddressInfo
    const said = await new Promise<string>((resolve) =>
      plainRequest({ port, headers: { 'x-forwarded-proto': 'https' } }, (answer) =>
        answer.on('data', (data: Buffer) => resolve(data.toString())),
      ).end(),
    )
    expect(said).toBe('false')
    await new Promise((resolve) => server.close(resolve))
  })
})

test('a hint comes when it is asked for, and is not in what is sent before', async () => {
  const of = await school.classOf(1)
  const student = await school.signInByEmail(of.emails[0]!)
  const worksheetId = await school.worksheetOf(of.teacher, 'Hints', [
    { id: 'a', kind: 'line', width: 'full', hint: 'Take the low from the high.' },
    { id: 'b', kind: 'line', width: 'full' },
  ])
  const { id } = await school.draft(of, statementFor(of.id, worksheetId, null))
  await school.handOut(of.teacher, id)
  const [copy] = await school.source.query<{ id: string }[]>('SELECT id FROM copy WHERE handout_id = $1', [id])
  const { text } = await student.http.get(`/api/copies/${copy!.id}`).expect(200)
  expect(text).not.toContain('Take the low')
  expect(text).toContain('hasHint')
  expect((await student.http.get(`/api/copies/${copy!.id}/hint?space=a`).expect(200)).body).toEqual({
    hint: 'Take the low from the high.',
  })
  await student.http.get(`/api/copies/${copy!.id}/hint?space=b`).expect(404)
  await student.http.get(`/api/copies/${randomUUID()}/hint?space=a`).expect(404)
})

test('of the demo’s post the office sees its school’s, a teacher the notes of their classes, and nobody else any', async () => {
  const demo = await TestSchool.open({ demo: true })
  try {
    const of = await demo.classOf(1)
    const [office, student, other] = [
      await demo.person('office', 'Post'),
      await demo.signInByEmail(of.emails[0]!),
      await demo.person('teacher', 'Elsewhere'),
    ]
    await of.teacher.http.post(`/api/classes/${of.id}/invitations`).send({}).expect(200)
    await request(demo.url).post('/api/account/forgotten').send({ email: of.teacher.email }).expect(204)
    while ((await demo.count('stand_in_mail')) < 1) await new Promise((resolve) => setImmediate(resolve))
    expect((await office.http.get('/api/mail/stand-in').expect(200)).text).toContain('new password')
    expect((await of.teacher.http.get('/api/mail/stand-in').expect(200)).body).toEqual([])
    expect((await other.http.get('/api/mail/stand-in').expect(200)).body).toEqual([])
    await student.http.get('/api/mail/stand-in').expect(404)
  } finally {
    await demo.close()
  }
})
