import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import request from 'supertest'
import { TestSchool } from './support/school.js'

let school: TestSchool
beforeAll(async () => {
  school = await TestSchool.open()
}, 30_000)
afterAll(() => school.close())

interface Student {
  personId: string
  first: string
  last: string
  email: string | null
}

describe('saving a list', () => {
  test('adds who is new, renames who is known by e-mail, removes nobody', async () => {
    const { id, teacher } = await school.classOf(0)
    const save = (rows: object[]) => teacher.http.post(`/api/classes/${id}/roster`).send({ rows })
    await save([
      { last: 'Abara', first: 'Chidi', email: 'chidi@fennickquay.example' },
      { last: '', first: 'Suryani', email: '' },
    ]).expect(200, { added: 2, changed: 0, unchanged: 0 })
    await save([
      { last: 'Abara-Cole', first: ' Chidi\u200e ', email: 'CHIDI@fennickquay.example' },
      { last: '', first: 'Suryani', email: '' },
      { last: 'حداد', first: 'ليلى', email: 'layla@fennickquay.example' },
    ]).expect(200, { added: 1, changed: 1, unchanged: 1 })
    const { body } = await teacher.http.get(`/api/classes/${id}/roster`).expect(200)
    expect((body as Student[]).map(({ last, first, email }) => [last, first, email])).toEqual([
      ['Abara-Cole', 'Chidi', 'chidi@fennickquay.example'],
      ['', 'Suryani', null],
      ['حداد', 'ليلى', 'layla@fennickquay.example'],
    ])
  })

  test('what cannot be saved is said at its row and cell, and nothing of the list is saved', async () => {
    const { id, teacher } = await school.classOf(0)
    const { body } = await teacher.http
      .post(`/api/classes/${id}/roster`)
      .send({
        rows: [
          { last: 'A', first: 'A', email: 'a@fennickquay.example' },
          { last: 'B', first: 'B', email: 'b@' },
          { last: 'x'.repeat(301), first: '', email: '' },
          { last: 'C', first: 'C', email: 'A@fennickquay.example' },
        ],
      })
      .expect(422)
    const { errors } = body as { errors: { row: number; field: string; code: string }[] }
    expect(errors.map(({ row, code }) => [row, code])).toEqual([
      [0, 'double-email'],
      [1, 'malformed-email'],
      [2, 'name-too-long'],
      [3, 'double-email'],
    ])
    expect(errors[1]!.field).toBe('rows.1.email')
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
      .expect(200, { added: 2_000, changed: 0, unchanged: 0 })
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

describe('correcting in place', () => {
  test('a cell is corrected, and what is wrong is said at its field', async () => {
    const { id, teacher, emails } = await school.classOf(2)
    const [first] = (await teacher.http.get(`/api/classes/${id}/roster`)).body as [Student]
    const put = (row: object) => teacher.http.put(`/api/classes/${id}/roster/${first.personId}`).send(row)
    expect(
      (await put({ last: 'New', first: 'Name', email: 'new.one@fennickquay.example' }).expect(200)).body,
    ).toMatchObject({ last: 'New' })
    expect((await put({ last: 'New', first: 'Name', email: 'nonsense' }).expect(422)).body).toMatchObject({
      errors: [{ field: 'email' }],
    })
    expect((await put({ last: '', first: ' ', email: '' }).expect(422)).body).toMatchObject({
      errors: [{ code: 'no-name' }],
    })
    expect((await put({ last: 'New', first: 'Name', email: emails[1] }).expect(409)).body).toMatchObject({
      code: 'email-taken',
      errors: [{ field: 'email' }],
    })
  })
})

describe('sign-in cards', () => {
  test('give a start password once, to those who have none, and it signs in', async () => {
    const { id, teacher, emails } = await school.classOf(2)
    const { body } = await teacher.http.post(`/api/classes/${id}/sign-in-cards`).expect(200)
    const cards = body as { email: string; password: string }[]
    expect(cards.map(({ email }) => email)).toEqual(emails)
    expect(new Set(cards.map(({ password }) => password)).size).toBe(2)
    await request(school.url).post('/api/session').send(cards[0]).expect(422)
    await request(school.url)
      .post('/api/session')
      .send({ email: cards[0]!.email, password: cards[0]!.password })
      .expect(204)
    expect((await teacher.http.post(`/api/classes/${id}/sign-in-cards`).expect(200)).body).toEqual([])
    expect(await school.count('person', `password_hash LIKE '%${cards[0]!.password}%'`)).toBe(0)
  })
})
