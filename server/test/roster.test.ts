import { checkBundleModel } from '@gavrin/core'
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { randomUUID } from 'node:crypto'
import request from 'supertest'
import { LiveClient } from './support/liveClient.js'
import { TestSchool } from './support/school.js'

let school: TestSchool
beforeAll(async () => {
  school = await TestSchool.open()
})
afterAll(() => school.close())

interface Student {
  personId: string
  first: string
  last: string
  email: string | null
  leftAt: number | null
  cells: Record<string, string>
}

interface Card {
  personId: string
  first: string
  signInName: string
  password: string
}

describe('saving a list', () => {
  test('adds who is new, renames who is known by e-mail, removes nobody', async () => {
    const { id, teacher } = await school.classOf(0)
    const save = (rows: object[]) => teacher.http.post(`/api/classes/${id}/roster`).send({ rows })
    await save([
      { last: 'Abara', first: 'Chidi', email: 'chidi@fennickquay.example' },
      { last: '', first: 'Suryani', email: '' },
    ]).expect(200, { added: 2, changed: 0, unchanged: 0, back: 0, left: 0 })
    await save([
      { last: 'Abara-Cole', first: ' Chidi\u200e ', email: 'CHIDI@fennickquay.example' },
      { last: '', first: 'Suryani', email: '' },
      { last: 'حداد', first: 'ليلى', email: 'layla@fennickquay.example' },
    ]).expect(200, { added: 1, changed: 1, unchanged: 1, back: 0, left: 0 })
    const { body } = await teacher.http.get(`/api/classes/${id}/roster`).expect(200)
    expect((body as Student[]).map(({ last, first, email }) => [last, first, email])).toEqual([
      ['Abara-Cole', 'Chidi', 'chidi@fennickquay.example'],
      ['', 'Suryani', null],
      ['حداد', 'ليلى', 'layla@fennickquay.example'],
    ])
  })

  test('a name with another e-mail is the same person or another, as it is said', async () => {
    const { id, teacher } = await school.classOf(0)
    const other = await school.classOf(1)
    const save = (rows: object[]) => teacher.http.post(`/api/classes/${id}/roster`).send({ rows })
    const people = async () => (await teacher.http.get(`/api/classes/${id}/roster`).expect(200)).body as Student[]
    await save([{ last: 'Okafor', first: 'Ngozi', email: 'ngozi@fennickquay.example' }]).expect(200)
    const [{ personId }] = (await people()) as [Student]
    const renamed = { last: 'Okafor', first: 'Ngozi', email: 'n.okafor@fennickquay.example' }
    await save([{ ...renamed, sameAs: personId }]).expect(200, { added: 0, changed: 1, unchanged: 0, back: 0, left: 0 })
    expect((await people()).map(({ personId: who, email }) => [who, email])).toEqual([
      [personId, 'n.okafor@fennickquay.example'],
    ])
    const second = { last: 'Okafor', first: 'Ngozi', email: 'ngozi.second@fennickquay.example' }
    await save([{ ...second, sameAs: null }]).expect(200, { added: 1, changed: 0, unchanged: 0, back: 0, left: 0 })
    expect(await people()).toHaveLength(2)
    // Only of this class: nobody else's address is changed by naming them.
    const [stranger] = (await other.teacher.http.get(`/api/classes/${other.id}/roster`).expect(200)).body as [Student]
    const third = { last: 'Okafor', first: 'Amara', email: 'amara@fennickquay.example' }
    await save([{ ...third, sameAs: stranger.personId }]).expect(200, {
      added: 1,
      changed: 0,
      unchanged: 0,
      back: 0,
      left: 0,
    })
    expect((await other.teacher.http.get(`/api/classes/${other.id}/roster`).expect(200)).body).toEqual([stranger])
    await save([{ ...third, sameAs: 'nobody' }]).expect(422)
    // One person is not two rows.
    await save([
      { ...renamed, email: 'one@fennickquay.example', sameAs: personId },
      { ...renamed, email: 'two@fennickquay.example', sameAs: personId },
    ]).expect(422)
  })

  test('what cannot be saved is said at its row and cell, and nothing of the list is saved', async () => {
    const { id, teacher } = await school.classOf(0)
    const { body } = await teacher.http
      .post(`/api/classes/${id}/roster`)
      .send({
        rows: [
          // The row of a list in which it stands is the one that is named.
          { last: 'A', first: 'A', email: 'a@fennickquay.example', line: 11 },
          { last: 'B', first: 'B', email: 'b@' },
          { last: 'x'.repeat(301), first: '', email: '' },
          { last: 'C', first: 'C', email: 'A@fennickquay.example' },
        ],
      })
      .expect(422)
    const { errors } = body as { errors: { row: number; field: string; code: string; sentence: string }[] }
    expect(errors.map(({ row, code }) => [row, code])).toEqual([
      [0, 'double-email'],
      [1, 'malformed-email'],
      [2, 'name-too-long'],
      [3, 'double-email'],
    ])
    expect(errors[1]!.field).toBe('rows.1.email')
    expect(errors[3]!.sentence).toBe('A A (row 12) has the same e-mail.')
    expect((await teacher.http.get(`/api/classes/${id}/roster`)).body).toEqual([])
  })

  test('2,000 rows, a name of 300 characters and emoji go in', async () => {
    const { id, teacher } = await school.classOf(0)
    const rows = Array.from({ length: 2_000 }, (_, at) => ({
      last: at ? `L${at}` : '🦭'.repeat(150),
      first: 'F',
      email: `big${at}@fennickquay.example`,
    }))
    await teacher.http
      .post(`/api/classes/${id}/roster`)
      .send({ rows })
      .expect(200, { added: 2_000, changed: 0, unchanged: 0, back: 0, left: 0 })
    expect((await teacher.http.get(`/api/classes/${id}/roster`)).body).toHaveLength(2_000)
  })

  test('an address of the staff is refused; one of another class joins without being renamed', async () => {
    const { id, teacher } = await school.classOf(0)
    const other = await school.classOf(1)
    const staff = await teacher.http
      .post(`/api/classes/${id}/roster`)
      .send({ rows: [{ last: 'X', first: 'Y', email: other.teacher.email }] })
      .expect(422)
    expect(staff.body).toMatchObject({ errors: [{ code: 'email-of-staff', field: 'rows.0.email' }] })
    await teacher.http
      .post(`/api/classes/${id}/roster`)
      .send({ rows: [{ last: 'Other', first: 'Name', email: other.emails[0] }] })
      .expect(200)
    expect((await teacher.http.get(`/api/classes/${id}/roster`)).body).toMatchObject([
      { last: 'Last0000', first: 'First0' },
    ])
  })

  test('the same list sent twice at once makes nobody twice', async () => {
    const { id, teacher } = await school.classOf(0)
    const rows = [
      { last: '', first: 'Suryani', email: '' },
      { last: 'A', first: 'B', email: 'twice@fennickquay.example' },
    ]
    await Promise.all([1, 2, 3].map(() => teacher.http.post(`/api/classes/${id}/roster`).send({ rows }).expect(200)))
    expect((await teacher.http.get(`/api/classes/${id}/roster`)).body).toHaveLength(2)
  })
})

describe('a newer list', () => {
  test('changes what differs, brings back who had left, keeps columns, and takes out only who is named', async () => {
    const { id, teacher } = await school.classOf(0)
    const save = (rows: object[], leave: string[] = []) =>
      teacher.http.post(`/api/classes/${id}/roster`).send({ rows, leave })
    const row = (number: string, last: string, band: string) => ({
      last,
      first: 'F',
      email: `${last.toLowerCase()}.${id.slice(0, 5)}@fennickquay.example`,
      number: `${id.slice(0, 5)}-${number}`,
      cells: { 'Reading band': band },
    })
    await save([row('1', 'Abara', 'A'), row('2', 'Rossi', 'B'), row('3', 'Ueda', 'C')]).expect(200)
    const roster = async () => (await teacher.http.get(`/api/classes/${id}/roster`).expect(200)).body as Student[]
    const [abara, rossi, ueda] = (await roster()) as [Student, Student, Student]
    await teacher.http
      .post(`/api/classes/${id}/roster/leave`)
      .send({ personIds: [ueda.personId] })
      .expect(200)
    await save(
      [{ ...row('1', 'Abara-Cole', ''), email: '' }, row('3', 'Ueda', 'A')],
      [rossi.personId, abara.personId],
    ).expect(
      200,
      // Abara is in the list: the tick beside the name counts for nothing.
      { added: 0, changed: 1, unchanged: 0, back: 1, left: 1 },
    )
    const columns = (
      (await teacher.http.get(`/api/classes/${id}`).expect(200)).body as { columns: { id: string; name: string }[] }
    ).columns
    expect(columns.map(({ name }) => name)).toEqual(['Reading band'])
    expect(
      (await roster()).map(({ last, email, leftAt, cells }) => [last, email, leftAt === null, cells[columns[0]!.id]]),
    ).toEqual([
      ['Abara-Cole', abara.email, true, 'A'],
      ['Ueda', ueda.email, true, 'A'],
      ['Rossi', rossi.email, false, 'B'],
    ])
  })

  test('a student number of somebody in another class joins that person; one of another and an e-mail of a third stop', async () => {
    const one = await school.classOf(2)
    const { id, teacher } = await school.classOf(0)
    await school.source.query(`UPDATE person SET number = 'N-77', number_key = 'n-77' WHERE email = $1`, [
      one.emails[0],
    ])
    await teacher.http
      .post(`/api/classes/${id}/roster`)
      .send({ rows: [{ last: 'Whoever', first: '', email: '', number: 'n-77' }] })
      .expect(200)
    expect((await teacher.http.get(`/api/classes/${id}/roster`)).body).toMatchObject([{ email: one.emails[0] }])
    const { body } = await (
      await school.classOf(0, teacher)
    ).teacher.http
      .post(`/api/classes/${(await school.classOf(0, teacher)).id}/roster`)
      .send({ rows: [{ last: 'X', first: '', email: one.emails[1], number: 'N-77' }] })
      .expect(422)
    expect(body).toMatchObject({ errors: [{ code: 'two-people', field: 'rows.0.number' }] })
  })
})

describe('changing cells', () => {
  const opened = async (students = 2) => {
    const given = await school.classOf(students)
    const roster = async () => (await given.teacher.http.get(`/api/classes/${given.id}/roster`)).body as Student[]
    const edit = (edits: object[], by = given.teacher) =>
      by.http.patch(`/api/classes/${given.id}/roster`).send({ edits })
    return { ...given, roster, edit, students: await roster() }
  }

  test('what is wrong is said at its cell, and nothing of the change is kept', async () => {
    const { edit, emails, students, roster } = await opened()
    const [one, two] = students as [Student, Student]
    const personId = one.personId
    expect((await edit([{ personId, field: 'last', value: ' New ' }]).expect(200)).body).toMatchObject([
      { last: 'New' },
    ])
    const { body } = await edit([
      { personId: two.personId, field: 'first', value: 'Kept?' },
      { personId, field: 'email', value: 'nonsense' },
    ]).expect(422)
    expect(body).toMatchObject({ errors: [{ personId, field: 'email', sentence: 'This is not an e-mail address.' }] })
    expect((await roster()).find((found) => found.personId === two.personId)!.first).toBe(two.first)
    expect(
      (
        await edit([
          { personId, field: 'last', value: '' },
          { personId, field: 'first', value: ' ' },
        ]).expect(422)
      ).body,
    ).toMatchObject({ errors: [{ code: 'no-name' }] })
    expect((await edit([{ personId, field: 'email', value: emails[1] }]).expect(409)).body).toMatchObject({
      code: 'email-taken',
      errors: [{ field: 'email', personId }],
    })
  })

  test('two people can change addresses with each other', async () => {
    const { edit, students } = await opened()
    const [one, two] = students as [Student, Student]
    await edit([
      { personId: one.personId, field: 'email', value: two.email },
      { personId: two.personId, field: 'email', value: one.email },
    ]).expect(200)
  })

  test('two who edit at once: both changes are kept, and of one cell one of the two', async () => {
    const { id, teacher, edit, students, roster } = await opened()
    const colleague = await school.person('teacher', 'Colleague')
    await teacher.http
      .post(`/api/classes/${id}/staff`)
      .send({ email: colleague.email, role: 'co-teacher', studentIds: [] })
      .expect(201)
    const [{ personId }] = students as [Student]
    const column = (
      await teacher.http.post(`/api/classes/${id}/columns`).send({ name: 'Tutor', kind: 'text' }).expect(201)
    ).body as { id: string }
    await Promise.all(
      Array.from({ length: 10 }, (_, at) =>
        Promise.all([
          edit([{ personId, field: 'last', value: `Mine ${at}` }]).expect(200),
          edit([{ personId, field: 'first', value: `Theirs ${at}` }], colleague).expect(200),
          edit([{ personId, field: column.id, value: `Tutor ${at}` }], at % 2 ? colleague : teacher).expect(200),
        ]),
      ),
    )
    const student = (await roster()).find((found) => found.personId === personId)!
    expect([student.last, student.first, student.cells[column.id]]).toEqual([
      expect.stringMatching(/^Mine \d$/),
      expect.stringMatching(/^Theirs \d$/),
      expect.stringMatching(/^Tutor \d$/),
    ])
  })

  test('a change is told to everybody who has the class open', async () => {
    const { id, teacher, edit, students } = await opened()
    const watching = await LiveClient.connect(school.url, teacher.cookie)
    watching.send({ type: 'watch class', classId: id })
    // The watch is taken up in order, before what comes after it over the same connection.
    watching.send({ type: 'open', channel: 1, copyId: randomUUID() })
    await watching.message(({ type }) => type === 'closed')
    await edit([{ personId: students[0]!.personId, field: 'last', value: 'Told' }]).expect(200)
    await watching.message((message) => message.type === 'class changed' && message.part === 'roster')
    watching.close()
  })

  test('a column is renamed, taken away, and comes back with what stood in it', async () => {
    const { id, teacher, edit, students, roster } = await opened(1)
    const add = (name: string) => teacher.http.post(`/api/classes/${id}/columns`).send({ name, kind: 'text' })
    const { id: band } = (await add('Band').expect(201)).body as { id: string }
    for (const name of ['', 'band ', 'E-mail']) await add(name).expect(422)
    await edit([{ personId: students[0]!.personId, field: band, value: 'A' }]).expect(200)
    await teacher.http.delete(`/api/classes/${id}/columns/${band}`).expect(204)
    expect((await edit([{ personId: students[0]!.personId, field: band, value: 'B' }]).expect(422)).body).toMatchObject(
      {
        errors: [{ code: 'no-column' }],
      },
    )
    const { id: other } = (await add('Band').expect(201)).body as { id: string }
    await teacher.http.post(`/api/classes/${id}/columns/${band}/return`).expect(422)
    await teacher.http.put(`/api/classes/${id}/columns/${other}`).send({ name: 'Other' }).expect(204)
    await teacher.http.post(`/api/classes/${id}/columns/${band}/return`).expect(204)
    expect((await roster())[0]!.cells[band]).toBe('A')
  })
})

describe('the roster as a file', () => {
  test.each(['csv', 'xlsx', 'ods', 'bundle'])('%s is read back as it was, and no cell can run', async (format) => {
    const { id, teacher } = await school.classOf(0)
    const rows = [
      { last: '=2+3', first: 'Chidi', email: `f.${id.slice(0, 6)}@fennickquay.example`, cells: { Notes: '@SUM(A1)' } },
      { last: 'حداد', first: 'ليلى', email: '', number: `00${id.slice(0, 4)}`, cells: { Notes: 'a "b", c' } },
    ]
    await teacher.http.post(`/api/classes/${id}/roster`).send({ rows }).expect(200)
    const answer = await teacher.http
      .post(`/api/classes/${id}/roster/out/${format}`)
      .send({})
      .buffer(true)
      .parse((response, done) => {
        const parts: Buffer[] = []
        response.on('data', (part: Buffer) => parts.push(part))
        response.on('end', () => done(null, Buffer.concat(parts)))
      })
      .expect(200)
    expect(answer.headers['content-disposition']).toMatch(/^attachment; filename="roster\.(csv|xlsx|ods|zip)"/)
    const bytes = answer.body as Buffer
    if (format === 'csv') {
      const text = bytes.toString('utf8')
      expect(text).toContain("'=2+3")
      expect(text).toContain("'@SUM(A1)")
      expect(text).toContain('"a ""b"", c"')
      return
    }
    const { body } = await teacher.http
      .post('/api/lists/read')
      .set('content-type', 'application/octet-stream')
      .send(bytes)
      .expect(200)
    if (format === 'bundle') {
      // As the standard says.
      expect(checkBundleModel(new Uint8Array(bytes))).toEqual([])
      expect(body).toMatchObject({
        kind: 'bundle',
        classes: [{ name: '8 Heron', students: [{ last: '=2+3' }, { last: 'حداد', number: `00${id.slice(0, 4)}` }] }],
      })
    } else
      expect((body as { tables: { rows: string[][] }[] }).tables[0]!.rows.map((cells) => cells.slice(0, 2))).toEqual([
        ['Last name', 'First name'],
        ["'=2+3", 'Chidi'],
        ['حداد', 'ليلى'],
      ])
  })
})

describe('sign-in cards', () => {
  const sign = (email: string, password: string) => request(school.url).post('/api/session').send({ email, password })

  test('give a start password once, to those who have none, and it signs in', async () => {
    const { id, teacher, emails } = await school.classOf(2)
    const cards = (await teacher.http.post(`/api/classes/${id}/sign-in-cards`).send({}).expect(200)).body as Card[]
    expect(cards.map(({ signInName }) => signInName)).toEqual(emails)
    expect(new Set(cards.map(({ password }) => password)).size).toBe(2)
    await sign(cards[0]!.signInName, cards[0]!.password).expect(204)
    expect((await teacher.http.post(`/api/classes/${id}/sign-in-cards`).send({}).expect(200)).body).toEqual([])
    expect(await school.count('person', `password_hash LIKE '%${cards[0]!.password}%'`)).toBe(0)
  })

  test('who has no e-mail signs in with the class code and a number, and gets a new card when it is lost', async () => {
    const { id, teacher, emails } = await school.classOf(1)
    await teacher.http.post(`/api/classes/${id}/roster`).send({ rows: [{ last: '', first: 'Suryani', email: '' }] })
    const make = async (personIds?: string[]) =>
      (await teacher.http.post(`/api/classes/${id}/sign-in-cards`).send({ personIds }).expect(200)).body as Card[]
    const card = (await make()).find(({ first }) => first === 'Suryani')!
    const { code } = (await teacher.http.get(`/api/classes/${id}/join`)).body as { code: string }
    expect(card.signInName).toBe(`${code}-01`)
    await sign(` ${card.signInName.toLowerCase()} `, card.password).expect(204)
    const [again] = (await make([card.personId])) as [Card]
    expect(again.signInName).toBe(card.signInName)
    await sign(card.signInName, card.password).expect(401)
    await sign(card.signInName, again.password).expect(204)
    // A student with an e-mail has another way: their password is theirs.
    const [other] = await school.source.query<{ id: string }[]>('SELECT id FROM person WHERE email = $1', [emails[0]])
    expect(await make([other!.id])).toEqual([])
  })
})
