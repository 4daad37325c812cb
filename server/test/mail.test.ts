import { afterEach, describe, expect, test } from '@jest/globals'
import { type AddressInfo, createServer } from 'node:net'
import { SMTPServer } from 'smtp-server'
import { TestSchool, newDatabase } from './support/school.js'

const closing: (() => Promise<unknown>)[] = []
afterEach(async () => {
  for (const close of closing.splice(0).toReversed()) await close()
})

interface Line {
  id: string
  state: string
  attempts: number
  problem: string | null
}

/** A mail server of the test's own; what it took. */
async function mailServer(accept: (address: string) => boolean) {
  const taken: string[] = []
  const server = new SMTPServer({
    disabledCommands: ['AUTH', 'STARTTLS'],
    onData: (stream, session, done) => {
      stream.resume()
      stream.on('end', () => {
        const [to] = session.envelope.rcptTo.map(({ address }) => address)
        if (!accept(to!)) return done(new Error('not now'))
        taken.push(to!)
        done()
      })
    },
  })
  server.on('error', () => undefined)
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
  closing.push(() => new Promise((resolve) => server.close(() => resolve(null))))
  return { taken, url: `smtp://127.0.0.1:${(server.server.address() as AddressInfo).port}` }
}

async function schoolWith(smtpUrl: string | null, databaseUrl?: string): Promise<TestSchool> {
  const school = await TestSchool.open({ ...(databaseUrl && { databaseUrl }), smtpUrl })
  closing.push(() => school.close())
  return school
}

describe('a real mail server', () => {
  test('gets each message once, though two processes look for work', async () => {
    const { taken, url } = await mailServer(() => true)
    const databaseUrl = await newDatabase()
    const school = await schoolWith(url, databaseUrl)
    await schoolWith(url, databaseUrl)
    const { id, teacher, emails } = await school.classOf(20)
    await teacher.http.post(`/api/classes/${id}/invitations`).send({}).expect(200, { invited: 20 })
    // Pressed again before the first are out: nobody is written to twice.
    await teacher.http.post(`/api/classes/${id}/invitations`).send({}).expect(200)
    for (;;) {
      const lines = (await teacher.http.get(`/api/classes/${id}/mail`).expect(200)).body as Line[]
      if (lines.every(({ state }) => state === 'sent')) break
    }
    expect([...new Set(taken)].toSorted()).toEqual(emails.toSorted())
    expect(await school.count('stand_in_mail')).toBe(0)
    // The demo's post is nobody's where a real server is set.
    await teacher.http.get('/api/mail/stand-in').expect(404)
  })

  test('that does not take a message gets it again, and the mailroom says so meanwhile', async () => {
    let up = false
    const { taken, url } = await mailServer(() => up)
    const school = await schoolWith(url)
    const { id, teacher, emails } = await school.classOf(1)
    await teacher.http.post(`/api/classes/${id}/invitations`).send({}).expect(200)
    const line = async () => ((await teacher.http.get(`/api/classes/${id}/mail`).expect(200)).body as Line[])[0]!
    while ((await line()).attempts === 0);
    expect(await line()).toMatchObject({
      state: 'waiting',
      problem: 'The mail server did not take this message yet; it is tried again.',
    })
    up = true
    // The pause before it is tried again is the queue's; here it is over at once.
    while ((await line()).state !== 'sent')
      await school.source.query(`UPDATE jobs.job SET start_after = now() WHERE name = 'mail' AND state = 'retry'`)
    expect(taken).toEqual(emails)
    expect(await line()).toMatchObject({ state: 'sent', problem: null })
    // Each try made a new link, and the older ones are worth nothing.
    expect(await school.count('account_link')).toBe(1)
  })

  test('that refuses one message takes all others meanwhile', async () => {
    let refused = ''
    const { taken, url } = await mailServer((address) => address !== refused)
    const school = await schoolWith(url)
    const { id, teacher, emails } = await school.classOf(5)
    refused = emails[0]!
    await teacher.http.post(`/api/classes/${id}/invitations`).send({}).expect(200, { invited: 5 })
    const lines = async () => (await teacher.http.get(`/api/classes/${id}/mail`).expect(200)).body as Line[]
    while ((await lines()).filter(({ state }) => state === 'sent').length < 4);
    expect(taken.toSorted()).toEqual(emails.slice(1).toSorted())
    expect((await lines()).find(({ state }) => state !== 'sent')).toMatchObject({ state: 'waiting' })
  })

  test('that never took a cover note gets it once more when the teacher says so, at the address of now', async () => {
    let up = false
    const { taken, url } = await mailServer(() => up)
    const school = await schoolWith(url)
    const of = await school.mailedTo(2)
    const lines = async () => (await of.teacher.http.get(`/api/classes/${of.id}/mail`).expect(200)).body as Line[]
    // All its tries are over at once.
    while ((await lines()).some(({ state }) => state !== 'failed'))
      await school.source.query(
        `UPDATE jobs.job SET start_after = now(), retry_limit = 1 WHERE name = 'mail' AND state IN ('created', 'retry')`,
      )
    expect((await lines())[0]).toMatchObject({ problem: 'The mail server did not take this message.' })
    const edit = (email: string, value: string) => ({
      personId: people[of.emails.indexOf(email)]!,
      field: 'email',
      value,
    })
    const people = await school.peopleOf(of)
    await of.teacher.http
      .patch(`/api/classes/${of.id}/roster`)
      .send({ edits: [edit(of.emails[0]!, 'moved@fennickquay.example'), edit(of.emails[1]!, '')] })
      .expect(200)
    up = true
    const again = (body: object) => of.teacher.http.post(`/api/classes/${of.id}/mail/again`).send(body)
    // Who has no e-mail any more is not written to.
    await again({}).expect(200, { sent: 1 })
    while ((await lines()).every(({ state }) => state !== 'sent'));
    expect(taken).toEqual(['moved@fennickquay.example'])
    // What was sent is not sent again.
    await again({ messageIds: (await lines()).map(({ id: message }) => message) }).expect(200, { sent: 0 })
  })

  test.each([
    {
      of: 'somebody who has left',
      act: 'roster/leave',
      sent: 1,
      problem: 'They had left the class before this went out.',
    },
    { of: 'an archived class', act: 'archive', sent: 0, problem: 'The class was archived before this went out.' },
  ])('gets no cover note of $of before it was to go out', async ({ act, sent, problem }) => {
    let up = false
    const { taken, url } = await mailServer(() => up)
    const school = await schoolWith(url)
    const of = await school.mailedTo(2)
    const [leaver] = await school.peopleOf(of)
    const lines = () => school.source.query<Line[]>('SELECT * FROM message WHERE class_id = $1', [of.id])
    while ((await lines()).some(({ attempts }) => attempts === 0));
    const { status } = await of.teacher.http.post(`/api/classes/${of.id}/${act}`).send({ personIds: [leaver] })
    expect(status).toBeLessThan(300)
    up = true
    while ((await lines()).some(({ state }) => state === 'waiting'))
      await school.source.query(`UPDATE jobs.job SET start_after = now() WHERE name = 'mail' AND state = 'retry'`)
    expect(taken).toEqual(of.emails.slice(2 - sent))
    expect((await lines()).filter(({ state }) => state === 'withdrawn').map((line) => line.problem)).toEqual(
      Array.from({ length: 2 - sent }, () => problem),
    )
  })

  test('that is not there at all is no reason for anything else to wait', async () => {
    const nobody = createServer()
    await new Promise<void>((resolve) => nobody.listen(0, '127.0.0.1', resolve))
    const { port } = nobody.address() as AddressInfo
    await new Promise((resolve) => nobody.close(resolve))
    const school = await schoolWith(`smtp://127.0.0.1:${port}`)
    const { id, teacher } = await school.classOf(1)
    await teacher.http.post(`/api/classes/${id}/invitations`).send({}).expect(200, { invited: 1 })
    await teacher.http.get(`/api/classes/${id}/roster`).expect(200)
    for (;;) {
      const [line] = (await teacher.http.get(`/api/classes/${id}/mail`).expect(200)).body as Line[]
      if (line!.attempts === 0) continue
      expect(line!.state).toBe('waiting')
      break
    }
  })

  test('that is not set at all is said in the mailroom, and nothing claims to be sent', async () => {
    const school = await schoolWith(null)
    const { id, teacher } = await school.classOf(1)
    await teacher.http.post(`/api/classes/${id}/invitations`).send({}).expect(200, { invited: 1 })
    for (;;) {
      const [line] = (await teacher.http.get(`/api/classes/${id}/mail`).expect(200)).body as Line[]
      if (line!.state === 'waiting') continue
      expect(line).toMatchObject({
        state: 'failed',
        problem: 'No mail server is set for this school: print sign-in cards instead.',
      })
      break
    }
    expect(await school.count('stand_in_mail')).toBe(0)
  })
})
