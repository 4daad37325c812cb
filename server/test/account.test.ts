import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import request from 'supertest'
import { LiveClient } from './support/liveClient.js'
import { PASSWORD, TestSchool, sessionCookie } from './support/school.js'

let school: TestSchool
beforeAll(async () => {
  school = await TestSchool.open()
})
afterAll(() => school.close())

describe('signing in', () => {
  test('the cookie is http-only and same-site, the session is in the database, and the answer knows the person', async () => {
    const person = await school.person('teacher', 'Ada')
    const answer = await request(school.url)
      .post('/api/session')
      .send({ email: ` ${person.email.toUpperCase()} `, password: PASSWORD })
      .expect(204)
    for (const cookie of answer.headers['set-cookie'] as unknown as string[]) {
      expect(cookie).toMatch(/HttpOnly/)
      expect(cookie).toMatch(/SameSite=Lax/)
    }
    expect(
      await school.count('session', `person_id = '${person.viewer.personId}' AND school_id = '${school.schoolId}'`),
    ).toBe(2)
    const { body } = await person.http.get('/api/session').expect(200)
    expect(body).toEqual({ person: expect.objectContaining({ first: 'Ada', role: 'teacher' }) as unknown })
  })

  test('a session that was planted before signing in is worth nothing after it', async () => {
    const person = await school.person('teacher', 'Fix')
    const planted = request.agent(school.url)
    const first = await planted.post('/api/session').send({ email: person.email, password: PASSWORD }).expect(204)
    const second = await planted.post('/api/session').send({ email: person.email, password: PASSWORD }).expect(204)
    const sid = (answer: { headers: Record<string, unknown> }) => sessionCookie(answer.headers)
    expect(sid(first)).not.toBe(sid(second))
    expect((await request(school.url).get('/api/session').set('cookie', sid(first)).expect(200)).body).toEqual({
      person: null,
    })
  })

  test('a wrong password and an unknown person are told the same', async () => {
    const person = await school.person('teacher', 'Eve')
    const wrong = await request(school.url)
      .post('/api/session')
      .send({ email: person.email, password: 'guess' })
      .expect(401)
    const unknown = await request(school.url)
      .post('/api/session')
      .send({ email: 'nobody@fennickquay.example', password: 'guess' })
      .expect(401)
    expect(wrong.body).toEqual(unknown.body)
    expect(wrong.headers['content-type']).toContain('application/problem+json')
    expect(wrong.body).toMatchObject({
      status: 401,
      code: 'wrong-password',
      title: expect.any(String) as unknown as string,
      detail: expect.any(String) as unknown as string,
    })
  })

  test('what is missing is said at its field', async () => {
    const { body } = await request(school.url).post('/api/session').send({ email: '', password: '' }).expect(422)
    expect(body).toMatchObject({
      errors: [
        { field: 'email', sentence: 'Type your e-mail address.' },
        { field: 'password', sentence: 'Type your password.' },
      ],
    })
  })

  test('signing out ends it', async () => {
    const person = await school.person('teacher', 'Out')
    await person.http.delete('/api/session').expect(204)
    await person.http.get('/api/classes').expect(401)
  })

  /** Resolves when a query with these words waits for a lock. */
  const waits = async (words: string) => {
    for (let look = 0; look < 5_000; look++)
      if (
        await school.count(
          'pg_stat_activity',
          `datname = current_database() AND wait_event_type = 'Lock' AND query LIKE '%${words}%'`,
        )
      )
        return
    throw new Error(`no query with ${words} waited`)
  }

  test('the other windows are told when it has ended, not while it is still ending', async () => {
    const person = await school.person('teacher', 'Twin')
    const window = await LiveClient.connect(school.url, person.cookie)
    const held = await school.source.transaction()
    await held.query('SELECT FROM session WHERE person_id = $1 FOR UPDATE', [person.viewer.personId])
    const signedOut = person.http.delete('/api/session').expect(204)
    const answered = signedOut.then(() => undefined)
    await waits('DELETE FROM "session"')
    await window.ping()
    expect(window.closed).toBe(false)
    await held.end('ROLLBACK')
    await answered
    await window.until(() => window.closed)
    expect(window.code).toBe(4401)
  })

  test('a connection that was being opened meanwhile ends too', async () => {
    const person = await school.person('teacher', 'Late')
    const held = await school.source.transaction()
    await held.query('LOCK TABLE person IN ACCESS EXCLUSIVE MODE')
    const opening = LiveClient.connect(school.url, person.cookie)
    await waits('SELECT role FROM person')
    await school.source.query('DELETE FROM session WHERE person_id = $1', [person.viewer.personId])
    await held.end('ROLLBACK')
    const window = await opening
    await window.until(() => window.closed)
    expect(window.code).toBe(4401)
  })
})

describe('every answer', () => {
  test('health, the API’s description, and strict headers', async () => {
    const health = await request(school.url).get('/api/health').expect(200)
    expect(health.body).toEqual({ status: 'well' })
    const policy = health.headers['content-security-policy']!
    expect(policy).toContain("default-src 'self'")
    // Recognising text runs as WebAssembly; nothing else is evaluated, and nothing comes from elsewhere.
    expect(policy.replace("'wasm-unsafe-eval'", '')).not.toMatch(/unsafe|\*|https?:/)
    expect(health.headers).toMatchObject({ 'x-content-type-options': 'nosniff', 'cache-control': 'no-store' })
    expect(health.headers['x-powered-by']).toBeUndefined()
    const { body } = await request(school.url).get('/api/openapi.json').expect(200)
    const { paths, openapi } = body as { paths: Record<string, unknown>; openapi: string }
    expect(openapi).toMatch(/^3\./)
    expect(Object.keys(paths)).toEqual(
      expect.arrayContaining(['/api/handouts/{handoutId}/hand-out', '/api/copies/{copyId}/submit', '/api/health']),
    )
  })

  test('changes from another site are refused, whatever cookie comes with them', async () => {
    const person = await school.person('teacher', 'Csrf')
    for (const headers of [{ origin: 'http://evil.example' }, { origin: 'null' }, { 'sec-fetch-site': 'cross-site' }])
      expect(
        (await person.http.post('/api/worksheets').set(headers).send({ title: 'x' }).expect(403)).body,
      ).toMatchObject({ code: 'other-origin' })
  })

  test.each<[string, string, string | object, number, string]>([
    ['broken JSON', '/api/session', '{"email":', 400, 'not-understood'],
    ['more than is taken at once', '/api/session', { email: 'x'.repeat(5_000_000), password: 'x' }, 413, 'too-large'],
    ['a field that is not known', '/api/session', { email: 'a', password: 'b', admin: true }, 422, 'malformed'],
    ['an unknown address', '/api/nothing', {}, 404, 'not-there'],
  ])('%s gets problem details', async (_, path, body, status, code) => {
    const answer = await request(school.url).post(path).set('content-type', 'application/json').send(body)
    expect(answer.status).toBe(status)
    expect(answer.headers['content-type']).toContain('application/problem+json')
    expect(answer.body).toMatchObject({ status, code })
  })

  test('the demo people exist in demo mode only', async () => {
    expect((await request(school.url).get('/api/session').expect(200)).body).toEqual({ person: null })
    const demo = await TestSchool.open({ demo: true })
    expect((await request(demo.url).get('/api/session').expect(200)).body).toHaveProperty('demo.people')
    await demo.close()
  })
})
