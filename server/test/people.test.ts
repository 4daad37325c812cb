import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { randomUUID } from 'node:crypto'
import request from 'supertest'
import { LiveClient } from './support/liveClient.js'
import { type TestPerson, PASSWORD, TestSchool, sessionCookie } from './support/school.js'

let school: TestSchool
beforeAll(async () => {
  school = await TestSchool.open()
})
afterAll(() => school.close())

const NEW_PASSWORD = 'four grey gulls on a wall'
const sign = (email: string, password: string) => request(school.url).post('/api/session').send({ email, password })

/** The newest message that came to an address, once it is there. */
async function letterTo(address: string): Promise<{ subject: string; body: string; token: string }> {
  for (;;) {
    const [mail] = await school.source.query<{ subject: string; body: string }[]>(
      'SELECT subject, body FROM stand_in_mail WHERE recipient = $1 ORDER BY id DESC LIMIT 1',
      [address],
    )
    if (mail) return { ...mail, token: /#([\w-]+)/.exec(mail.body)![1]! }
  }
}

describe('accounts by mail', () => {
  test('an invitation goes out once, names the person, and its link sets a password once', async () => {
    const { id, teacher, emails } = await school.classOf(2)
    await teacher.http.post(`/api/classes/${id}/invitations`).send({}).expect(200, { invited: 2 })
    const letter = await letterTo(emails[0]!)
    expect(letter.body).toContain('Hello First0 Last0000')
    expect(letter.body).toContain('https://gavrin.fennickquay.example/password#')
    const link = await request(school.url).post('/api/account/link').send({ token: letter.token }).expect(200)
    expect(link.body).toMatchObject({ first: 'First0', email: emails[0], purpose: 'invitation' })
    const set = (password: string) =>
      request(school.url).post('/api/account/password-by-link').send({ token: letter.token, password })
    expect((await set('short').expect(422)).body).toMatchObject({ errors: [{ field: 'password' }] })
    const answer = await set(NEW_PASSWORD).expect(204)
    const cookie = sessionCookie(answer.headers)
    expect((await request(school.url).get('/api/session').set('cookie', cookie)).body).toMatchObject({
      person: { email: emails[0] },
    })
    await set(NEW_PASSWORD).expect(410)
    await sign(emails[0]!, NEW_PASSWORD).expect(204)
    await letterTo(emails[1]!)
    // Whoever can sign in is not invited again; the other one is, on purpose.
    await teacher.http.post(`/api/classes/${id}/invitations`).send({}).expect(200, { invited: 1 })
    const lines = (await teacher.http.get(`/api/classes/${id}/mail`).expect(200)).body as {
      address: string
      state: string
    }[]
    expect(lines.filter(({ address }) => address === emails[0])).toMatchObject([{ state: 'sent' }])
    const columns = await school.source.query<{ column_name: string }[]>(
      `SELECT column_name FROM information_schema.columns WHERE table_name IN ('message', 'account_link')`,
    )
    expect(columns.map(({ column_name }) => column_name)).not.toContain('token')
    expect(await school.count('account_link', `token_hash = '${letter.token}'`)).toBe(0)
  })

  test('a name and a class with line breaks or tricks in them make no second header', async () => {
    const { id, teacher } = await school.classOf(0)
    await school.source.query(`UPDATE class SET name = E'8 Heron\\r\\nBcc: all@fennickquay.example' WHERE id = $1`, [
      id,
    ])
    const email = `odd.${id.slice(0, 6)}@fennickquay.example`
    await teacher.http
      .post(`/api/classes/${id}/roster`)
      .send({ rows: [{ last: 'X" <y@z.example>', first: 'A', email }] })
    await teacher.http.post(`/api/classes/${id}/invitations`).send({}).expect(200)
    expect((await letterTo(email)).subject).toBe('Your way into Gavrin at Test School')
    expect(await school.count('stand_in_mail', `recipient LIKE '%all@%'`)).toBe(0)
  })

  test('a link goes to nobody but who has the address when it is sent', async () => {
    const { id, teacher, emails } = await school.classOf(1)
    await school.source.query(
      `INSERT INTO message (school_id, kind, person_id, address, class_id) SELECT school_id, 'invitation', id, 'other@fennickquay.example', $2 FROM person WHERE email = $1`,
      [emails[0], id],
    )
    const [message] = await school.source.query<{ id: string }[]>('SELECT id FROM message WHERE class_id = $1', [id])
    await school.source.query(
      `INSERT INTO jobs.job (name, data) VALUES ('mail', jsonb_build_object('schoolId', $1::text, 'messageId', $2::text))`,
      [school.schoolId, message!.id],
    )
    for (;;) {
      const { body } = await teacher.http.get(`/api/classes/${id}/mail`).expect(200)
      const [line] = body as { state: string; problem: string }[]
      if (line!.state === 'waiting') continue
      expect(line).toMatchObject({ state: 'failed', problem: 'The e-mail of this person has changed since.' })
      break
    }
    expect(await school.count('stand_in_mail', `recipient = 'other@fennickquay.example'`)).toBe(0)
  })

  test('a forgotten password: the same answer for everybody, a link, and the old sessions end', async () => {
    const person = await school.person('teacher', 'Fay')
    const forgotten = (email: string) => request(school.url).post('/api/account/forgotten').send({ email })
    await forgotten('nobody.at.all@fennickquay.example').expect(204)
    await forgotten(person.email.toUpperCase()).expect(204)
    const live = await LiveClient.connect(school.url, person.cookie)
    const { token, subject } = await letterTo(person.email)
    expect(subject).toBe('A new password for Gavrin')
    await request(school.url).post('/api/account/password-by-link').send({ token, password: NEW_PASSWORD }).expect(204)
    await live.until(() => live.closed)
    await person.http.get('/api/classes').expect(401)
    await sign(person.email, PASSWORD).expect(401)
    await sign(person.email, NEW_PASSWORD).expect(204)
    // Asked for again and again, it is held back; the same way for an address that nobody has.
    for (const email of [person.email, 'nobody.at.all@fennickquay.example']) {
      await forgotten(email).expect(204)
      await forgotten(email).expect(204)
      await forgotten(email).expect(429)
    }
  })

  test('changing the own password needs the old one and ends the other sessions, not this one', async () => {
    const person = await school.person('teacher', 'Gus')
    const elsewhere = request.agent(school.url)
    await elsewhere.post('/api/session').send({ email: person.email, password: PASSWORD }).expect(204)
    const change = (current: string, password: string) =>
      person.http.put('/api/account/password').send({ current, password })
    expect((await change('wrong', NEW_PASSWORD).expect(422)).body).toMatchObject({ errors: [{ field: 'current' }] })
    expect((await change(PASSWORD, 'Tester2026').expect(422)).body).toMatchObject({ errors: [{ field: 'password' }] })
    await change(PASSWORD, NEW_PASSWORD).expect(204)
    await person.http.get('/api/classes').expect(200)
    await elsewhere.get('/api/classes').expect(401)
  })
})

describe('the join page', () => {
  const opened = async (students = 0) => {
    const given = await school.classOf(students)
    const page = async () =>
      (await given.teacher.http.get(`/api/classes/${given.id}/join`).expect(200)).body as {
        code: string
        requests: { id: string; first: string; twins: { personId: string; reason: string }[] }[]
      }
    const keep = (times: object) =>
      given.teacher.http
        .put(`/api/classes/${given.id}/join`)
        .send({ open: true, opensAt: null, closesAt: null, ...times })
    const { code } = await page()
    const ask = (first: string, last: string, email: string) =>
      request(school.url).post(`/api/join/${code}`).send({ first, last, email })
    return { ...given, page, keep, ask, code, mark: given.id.slice(0, 6) }
  }

  test('opens and closes by hand and by time, and a new code shuts the old one', async () => {
    const { code, keep, ask, teacher, id } = await opened()
    const state = async (typed = code) =>
      ((await request(school.url).get(`/api/join/${typed}`).expect(200)).body as { state: string }).state
    expect(await state()).toBe('closed')
    await keep({ opensAt: Date.now() + 60_000 }).expect(204)
    expect(await state()).toBe('not yet')
    await ask('A', 'B', 'a@fennickquay.example').expect(409)
    await keep({ closesAt: Date.now() - 1 }).expect(204)
    expect(await state()).toBe('over')
    await keep({ opensAt: 2, closesAt: 1 }).expect(422)
    await keep({}).expect(204)
    expect(await state(`${code.slice(0, 3).toLowerCase()} ${code.slice(3)}`)).toBe('open')
    await teacher.http.post(`/api/classes/${id}/join/new-code`).expect(200)
    await request(school.url).get(`/api/join/${code}`).expect(404)
  })

  test('who asks is let in, as somebody new or as who they are already; twins are pointed out', async () => {
    const { keep, ask, page, teacher, id, mark } = await opened()
    await keep({}).expect(204)
    await teacher.http.post(`/api/classes/${id}/roster`).send({
      rows: [
        { last: 'Dąbrowska', first: 'Zofia', email: '' },
        { last: 'Ueda', first: 'Haruki', email: `u.${mark}@fennickquay.example` },
      ],
    })
    expect((await ask(' ', '', 'x').expect(422)).body).toMatchObject({
      errors: [{ field: 'last', sentence: 'Type your name.' }, { field: 'email' }],
    })
    await ask('Dabrowska', 'zofia', `z.${mark}@fennickquay.example`).expect(204)
    await ask('Signe', 'Halvorsen', `s.${mark}@fennickquay.example`).expect(204)
    await ask('Signe', 'Halvorsen-Berg', `S.${mark}@fennickquay.example`).expect(204)
    await ask('Nobody', 'Wanted', `n.${mark}@fennickquay.example`).expect(204)
    const { requests } = await page()
    expect(requests.map(({ first, twins }) => [first, twins[0]?.reason])).toEqual([
      ['Dabrowska', 'the same name'],
      ['Signe', undefined],
      ['Nobody', undefined],
    ])
    const [zofia, signe, nobody] = requests
    const decide = {
      letIn: [
        { id: zofia!.id, as: zofia!.twins[0]!.personId },
        { id: signe!.id, as: null },
      ],
      turnAway: [nobody!.id],
    }
    await teacher.http.post(`/api/classes/${id}/join/decide`).send(decide).expect(200, { letIn: 2, turnedAway: 1 })
    // Pressed twice: nobody is in twice.
    await teacher.http.post(`/api/classes/${id}/join/decide`).send(decide).expect(200, { letIn: 0, turnedAway: 0 })
    const { body } = await teacher.http.get(`/api/classes/${id}/roster`).expect(200)
    expect((body as { last: string; email: string }[]).map(({ last, email }) => [last, email])).toEqual([
      ['Dąbrowska', `z.${mark}@fennickquay.example`],
      ['Halvorsen-Berg', `s.${mark}@fennickquay.example`],
      ['Ueda', `u.${mark}@fennickquay.example`],
    ])
    expect((await letterTo(`z.${mark}@fennickquay.example`)).body).toContain('Zofia')
    await letterTo(`s.${mark}@fennickquay.example`)
  })
})

describe('staff', () => {
  test('a colleague is added, a new one invited; a helper of some sees these students, their copies, and no proof', async () => {
    const given = await school.classOf(3)
    const { id, teacher, emails } = given
    const handout = await school.handedOut(given)
    const students = (await teacher.http.get(`/api/classes/${id}/roster`)).body as { personId: string }[]
    const add = (input: object) => teacher.http.post(`/api/classes/${id}/staff`).send({ studentIds: [], ...input })
    const helper = await school.person('teacher', 'Hilde')
    await add({ email: helper.email, role: 'named helper' }).expect(422)
    await add({ email: helper.email, role: 'named helper', studentIds: [students[1]!.personId] }).expect(201)
    await add({ email: helper.email, role: 'helper' }).expect(409)
    await add({ email: emails[0], role: 'helper' }).expect(422)
    const unknown = `new.${id.slice(0, 6)}@fennickquay.example`
    expect((await add({ email: unknown, role: 'co-teacher' }).expect(422)).body).toMatchObject({
      errors: [{ code: 'unknown-colleague' }],
    })
    await add({ email: unknown, role: 'co-teacher', first: 'Nils', last: 'Ny' }).expect(201)
    await letterTo(unknown)

    const seen = (await helper.http.get(`/api/classes/${id}/roster`).expect(200)).body as { personId: string }[]
    expect(seen.map(({ personId }) => personId)).toEqual([students[1]!.personId])
    const board = (await helper.http.get(`/api/handouts/${handout.id}/board`).expect(200)).body as { rows: unknown[] }
    expect(board.rows).toHaveLength(1)
    await helper.http.get(`/api/copies/${handout.copies.get(emails[1]!)}`).expect(200)
    await helper.http.get(`/api/copies/${handout.copies.get(emails[0]!)}`).expect(404)
    await helper.http.get(`/api/handouts/${handout.id}`).expect(403)
    await helper.http.get(`/api/people/${students[0]!.personId}`).expect(404)
    await helper.http.get(`/api/people/${students[1]!.personId}`).expect(200)
    const found = (await helper.http.get('/api/find?typed=First').expect(200)).body as { people: unknown[] }
    expect(found.people).toHaveLength(1)
    const live = await LiveClient.connect(school.url, helper.cookie)
    live.send({ type: 'watch', handoutId: handout.id })
    const rows = await live.message(({ type }) => type === 'rows')
    expect(rows).toMatchObject({ rows: [{ copyId: handout.copies.get(emails[1]!) }] })
    live.close()

    await teacher.http
      .put(`/api/classes/${id}/staff/${helper.viewer.personId}`)
      .send({ role: 'helper', studentIds: [] })
      .expect(204)
    expect((await helper.http.get(`/api/classes/${id}/roster`).expect(200)).body).toHaveLength(3)
    await teacher.http.delete(`/api/classes/${id}/staff/${helper.viewer.personId}`).expect(204)
    await helper.http.get(`/api/classes/${id}/roster`).expect(404)
    await teacher.http.delete(`/api/classes/${id}/staff/${teacher.viewer.personId}`).expect(409)
  })
})

describe('finding a person', () => {
  test('any part of a name, without accents, in the own classes only; the page has classes, groups and copies', async () => {
    const given = await school.classOf(1)
    const { id, teacher } = given
    await teacher.http.post(`/api/classes/${id}/roster`).send({
      rows: [
        { last: 'Nguyễn', first: 'Minh Anh', email: '' },
        { last: 'حداد', first: 'ليلى', email: '' },
      ],
    })
    const find = async (typed: string, by = teacher) =>
      (
        (await by.http.get(`/api/find?typed=${encodeURIComponent(typed)}`).expect(200)).body as {
          people: { last: string }[]
        }
      ).people.map(({ last }) => last)
    expect(await find('nguyen minh')).toEqual(['Nguyễn'])
    expect(await find('حداد')).toEqual(['حداد'])
    expect(await find('nguyen', await school.person('teacher', 'Stranger'))).toEqual([])
    const handout = await school.handedOut(given)
    const student = (await school.signInByEmail(given.emails[0]!)).viewer.personId
    await teacher.http
      .post(`/api/classes/${id}/group-sets`)
      .send({
        name: 'Crews',
        balanceColumn: null,
        arrangement: {
          groups: [{ id: randomUUID(), name: 'Crane', places: null, personIds: [student] }],
          locked: [],
          pairs: [],
        },
      })
      .expect(201)
    const found = async (typed: string, by = teacher) =>
      (await by.http.get(`/api/find?typed=${encodeURIComponent(typed)}`).expect(200)).body as {
        handouts: { id: string; handedOut: boolean }[]
        worksheets: { title: string }[]
      }
    const { handouts, worksheets } = await found('tide')
    expect(handouts).toMatchObject([{ id: handout.id, handedOut: true }])
    expect(worksheets).toMatchObject([{ title: 'Reading a tide table' }])
    // What a draft is about is for those who may hand out; nothing of it for strangers.
    expect(await found('tide', await school.person('teacher', 'Passer-by'))).toMatchObject({
      handouts: [],
      worksheets: [],
    })
    const { body } = await teacher.http.get(`/api/people/${student}`).expect(200)
    expect(body).toMatchObject({
      person: { first: 'First0' },
      classes: [{ id, role: 'student' }],
      groups: [{ set: 'Crews', group: 'Crane' }],
      copies: [{ handoutId: handout.id, state: 'not opened' }],
    })
    const office = await school.person('office', 'Olga')
    expect((await office.http.get(`/api/people/${student}`).expect(200)).body).toMatchObject({
      classes: [{ id }],
      copies: [],
    })
  })
})

describe('the office', () => {
  test('adds, changes, resets; nobody shares an address, and roles follow the classes', async () => {
    const office = await school.person('office', 'Oda')
    const mark = randomUUID().slice(0, 6)
    const entry = {
      first: 'Ines',
      last: 'Falk',
      email: `ines.${mark}@fennickquay.example`,
      number: '',
      role: 'teacher',
    }
    const { personId } = (await office.http.post('/api/office/people').send(entry).expect(201)).body as {
      personId: string
    }
    await letterTo(entry.email)
    expect((await office.http.post('/api/office/people').send(entry).expect(409)).body).toMatchObject({
      errors: [{ field: 'email' }],
    })
    await office.http
      .post('/api/office/people')
      .send({ ...entry, email: '' })
      .expect(422)
    const { teacher, emails } = await school.classOf(1)
    const put = (id: string, input: object) => office.http.put(`/api/office/people/${id}`).send({ ...entry, ...input })
    await put(personId, { last: 'Falk-Moe' }).expect(204)
    await put(teacher.viewer.personId, { email: teacher.email, role: 'office' }).expect(422)
    await put(office.viewer.personId, { email: office.email, role: 'teacher' }).expect(422)
    const student = await school.signInByEmail(emails[0]!)
    const reset = (id: string, how: string) => office.http.post(`/api/office/people/${id}/reset`).send({ how })
    const { card } = (await reset(student.viewer.personId, 'card').expect(200)).body as {
      card: { signInName: string; password: string }
    }
    await student.http.get('/api/classes').expect(401)
    await sign(card.signInName, card.password).expect(204)
    await reset(personId, 'card').expect(422)
    await reset(student.viewer.personId, 'mail').expect(200, { card: null })
    expect((await letterTo(emails[0]!)).subject).toMatch(/new password/)
  })

  test('makes two records of one person into one, and no work is lost', async () => {
    const office = await school.person('office', 'Otto')
    const given = await school.classOf(2)
    const [keep, other] = (await Promise.all(given.emails.map((email) => school.signInByEmail(email)))) as [
      Awaited<ReturnType<TestSchool['signInByEmail']>>,
      Awaited<ReturnType<TestSchool['signInByEmail']>>,
    ]
    const elsewhere = await school.classOf(0)
    await elsewhere.teacher.http
      .post(`/api/classes/${elsewhere.id}/roster`)
      .send({ rows: [{ last: 'x', first: 'x', email: other.email, cells: { Band: 'B' } }] })
      .expect(200)
    const there = await school.handedOut(elsewhere)
    const here = await school.handedOut(given)
    await office.http
      .post('/api/office/merge')
      .send({ keepId: keep.viewer.personId, otherId: given.teacher.viewer.personId })
      .expect(422)
    const noted = async ({ id, teacher }: typeof given, personId: string, to: string) =>
      teacher.http.put(`/api/classes/${id}/mark-book/notes/${personId}`).send({ was: '', to }).expect(204)
    await noted(given, keep.viewer.personId, 'Asks after the lesson.')
    await noted(given, other.viewer.personId, 'Reads ahead.')
    await noted(elsewhere, other.viewer.personId, 'Came late.')
    const merge = () =>
      office.http.post('/api/office/merge').send({ keepId: keep.viewer.personId, otherId: other.viewer.personId })
    await merge().expect(200, { classes: 2, copies: 2 })
    const notesIn = async ({ id, teacher }: typeof given) =>
      ((await teacher.http.get(`/api/classes/${id}/mark-book`).expect(200)).body as { notes: object[] }).notes
    const studentId = keep.viewer.personId
    expect(await notesIn(given)).toEqual([{ studentId, text: 'Asks after the lesson.\nReads ahead.' }])
    expect(await notesIn(elsewhere)).toEqual([{ studentId, text: 'Came late.' }])
    await merge().expect(404)
    await other.http.get('/api/classes').expect(401)
    const copies = (await keep.http.get('/api/copies').expect(200)).body as { id: string }[]
    expect(copies.map(({ id }) => id).toSorted()).toEqual(
      [...here.copies.values(), there.copies.get(other.email)!].toSorted(),
    )
    // The copy in the other class goes on in its place: the proof has nothing to give again.
    const proof = (await elsewhere.teacher.http.get(`/api/handouts/${there.id}`).expect(200)).body as {
      parts: { existing: { copies: { slotKey: string }[] } }[]
    }
    expect(proof.parts[0]!.existing.copies.map(({ slotKey }) => slotKey)).toEqual([
      `first:each:${keep.viewer.personId}`,
    ])
    expect((await given.teacher.http.get(`/api/classes/${given.id}/roster`)).body).toHaveLength(1)
  })

  test('waits with that for a hand-out that is being planned for one of them, and refuses while one is written', async () => {
    const office = await school.person('office', 'Oda')
    const given = await school.classOf(2)
    const { id } = await school.handedOut(given)
    const [keepId, otherId] = await school.peopleOf(given)
    const merge = () => office.http.post('/api/office/merge').send({ keepId, otherId })
    await school.source.query(
      `INSERT INTO hand_out_run (school_id, id, handout_id, kind, statement, person_id, total) SELECT school_id, gen_random_uuid(), id, 'hand out', statement, created_by, 1 FROM handout WHERE id = $1`,
      [id],
    )
    expect((await merge().expect(409)).body).toMatchObject({ code: 'running' })
    await school.source.query('UPDATE hand_out_run SET finished_at = now() WHERE handout_id = $1', [id])
    const planning = await school.source.transaction()
    await planning.query('SELECT 1 FROM handout WHERE id = $1 FOR UPDATE', [id])
    let done = false
    const merging = merge()
      .expect(200)
      .then(() => (done = true))
    expect(await school.someoneWaits(() => done)).toBe(true)
    await planning.end('COMMIT')
    await merging
  })
})

describe('a school of thousands', () => {
  const schoolId = randomUUID()
  let office: TestPerson
  const named = (first: string, last: string, more: object = {}) => ({ first, last, role: 'student', ...more })
  beforeAll(async () => {
    await school.addSchool(schoolId)
    office = await school.person('office', 'Ottilie', schoolId)
    const people = [
      ...Array.from({ length: 3_000 }, (_, at) => named(`Ada${at}`, `Quay${at}`)),
      named('Zofia', 'Dąbrowska', { email: 'zo_fia@fennickquay.example' }),
      named('Zofia', 'Dabrowska'),
      named('Finn', 'O’Hara'),
      named('Åse', 'Ödman'),
      named('Suryani', ''),
      named('Giulia', 'Rossi'),
      named('Guilia', 'Rossi', { number: 'K-7%' }),
    ]
    await school.source.query(
      `INSERT INTO person (school_id, id, role, first_name, last_name, email, email_key, number, number_key)
       SELECT $1, gen_random_uuid(), r.role, r.first, r.last, r.email, r.email, r.number, r.number
         FROM json_to_recordset($2) AS r(first text, last text, role text, email text, number text)`,
      [schoolId, JSON.stringify(people)],
    )
  })
  const page = async (query: Record<string, string | number>) =>
    (await office.http.get('/api/office/people').query(query).expect(200)).body as {
      people: { first: string; last: string; personId: string }[]
      total: number
      everybody: number
    }
  const names = async (query: Record<string, string | number>) =>
    (await page(query)).people.map(({ first, last }) => `${first} ${last}`)

  test('is shown by pages, the staff first, and by the order of the reader’s language', async () => {
    const first = await page({})
    expect(first).toMatchObject({ total: 3_008, everybody: 3_008 })
    expect(first.people.slice(0, 2).map(({ last }) => last)).toEqual(['Tester', 'Dabrowska'])
    expect(first.people).toHaveLength(100)
    const last = await page({ page: 30 })
    expect(last.people).toHaveLength(8)
    const seen = new Set<string>()
    for (let at = 0; at <= 30; at++) for (const { personId } of (await page({ page: at })).people) seen.add(personId)
    expect(seen.size).toBe(3_008)
    expect((await page({ page: 31 })).people).toEqual([])
    expect((await names({ language: 'sv-SE', page: 30 })).at(-1)).toBe('Åse Ödman')
    expect((await names({ language: 'de-DE', page: 30 })).at(-1)).toBe('Suryani ')
    expect(await names({ role: 'office', language: '"; DROP TABLE person' })).toEqual(['Ottilie Tester'])
  })

  test('is searched by the server, without accents, in e-mails, numbers and classes', async () => {
    for (const [find, found] of [
      ['dabrow', ['Zofia Dąbrowska', 'Zofia Dabrowska']],
      ['zofia dąb', ['Zofia Dąbrowska', 'Zofia Dabrowska']],
      ['ohara', ['Finn O’Hara']],
      ["o'hara finn", ['Finn O’Hara']],
      ['zo_fia@', ['Zofia Dąbrowska']],
      ['k-7%', ['Guilia Rossi']],
      ['%', ['Guilia Rossi']],
      ['zofia nobody', []],
    ] as const)
      expect((await names({ find })).toSorted()).toEqual([...found].toSorted())
    expect((await page({ find: 'ada2 quay2', role: 'student' })).total).toBe(1_111)
  })

  test('finds whom a class of this name has, and nobody who has left it', async () => {
    const other = await school.person('office', 'Orsolya')
    const given = await school.classOf(2)
    const [gone, stays] = await school.peopleOf(given)
    await school.source.query(`UPDATE class SET name = '9 Storm Petrel' WHERE id = $1`, [given.id])
    await given.teacher.http
      .post(`/api/classes/${given.id}/roster/leave`)
      .send({ personIds: [gone] })
      .expect(200)
    const { body } = await other.http.get('/api/office/people').query({ find: 'petrel', role: 'student' }).expect(200)
    expect((body as { people: object[] }).people).toMatchObject([{ personId: stays, classes: '9 Storm Petrel' }])
  })

  test('finds whoever was renamed or has just come, also from anywhere', async () => {
    const { personId } = (await page({ find: 'suryani' })).people[0]!
    const entry = { first: 'Suryani', last: 'Wijaya', email: '', number: '', role: 'student' }
    await office.http.put(`/api/office/people/${personId}`).send(entry).expect(204)
    expect(await names({ find: 'wijaya' })).toEqual(['Suryani Wijaya'])
    await office.http
      .put(`/api/office/people/${personId}`)
      .send({ ...entry, last: '' })
      .expect(204)
    expect(await names({ find: 'wijaya' })).toEqual([])
    const found = async (typed: string) =>
      ((await office.http.get('/api/find').query({ typed }).expect(200)).body as { people: object[] }).people
    expect(await found('ohar')).toMatchObject([{ last: 'O’Hara', role: 'student', classes: '' }])
    expect(await found('ad')).toHaveLength(12)
    expect(await found(' ')).toEqual([])
  })

  test('has doubles, which can be said to be two, and that taken back', async () => {
    interface Doubles {
      pairs: { personId: string; first: string; last: string }[][]
      more: number
      isAll: boolean
    }
    const doubles = async () => (await office.http.get('/api/office/doubles').expect(200)).body as Doubles
    const { pairs, more, isAll } = await doubles()
    expect(isAll).toBe(true)
    const said = ({ pairs: found }: Doubles) =>
      found.map((pair) =>
        pair
          .map(({ first }) => first)
          .toSorted()
          .join(' '),
      )
    // Ada1 and Ada11 differ in a number, so they are two.
    expect([said({ pairs, more, isAll }), more]).toEqual([['Zofia Zofia', 'Giulia Guilia'], 0])
    const [one, two] = pairs[0]!.map(({ personId }) => personId)
    await office.http.put(`/api/office/different/${two}/${one}`).expect(204)
    await office.http.put(`/api/office/different/${one}/${two}`).expect(204)
    expect(said(await doubles())).toEqual(['Giulia Guilia'])
    await office.http.delete(`/api/office/different/${one}/${two}`).expect(204)
    expect(said(await doubles())).toHaveLength(2)
    const stranger = await school.person('office', 'Olaf')
    await stranger.http.put(`/api/office/different/${one}/${two}`).expect(404)
    await office.http.put(`/api/office/different/${one}/${one}`).expect(404)
  })
})
