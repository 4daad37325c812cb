import { bookCopies, bookOf, checkBundleModel } from '@gavrin/core'
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { strFromU8, unzipSync } from 'fflate'
import { randomUUID } from 'node:crypto'
import type { Answers } from '../../web/src/contract.js'
import { LiveClient } from './support/liveClient.js'
import { WHOLE, codeOf, markingIn, space } from './support/marked.js'
import { type TestClass, type TestPerson, TestSchool } from './support/school.js'

// Mark books: students by handouts, and what was marked on paper.

let school: TestSchool
beforeAll(async () => {
  school = await TestSchool.open({ demo: true })
})
afterAll(() => school.close())
const { handed, submit, markWhole, handAllBack, put } = markingIn(() => school)
type Book = Answers['GET classes/{classId}/mark-book']

describe('a mark book', () => {
  const book = async (of: TestClass, person: TestPerson = of.teacher) => {
    const sent = (await person.http.get(`/api/classes/${of.id}/mark-book`).expect(200)).body as Book
    return { ...sent, copies: bookCopies(sent.copies, sent.students) }
  }

  test('has the marks of the copies, columns of its own, and rules by which it reckons', async () => {
    const copies = await handed(2)
    const { of } = copies
    await submit(copies)
    await markWhole(copies)
    const people = await school.peopleOf(of)
    const columnId = randomUUID()
    const base = `/api/classes/${of.id}/mark-book`
    await of.teacher.http.put(`${base}/columns/${columnId}`).send({ name: 'Oral', unit: null, most: 1000 }).expect(204)
    const none = { total: null, excused: false }
    const marks = [
      { personId: people[0], was: none, to: { total: 750, excused: false } },
      { personId: people[1], was: none, to: { total: null, excused: true } },
    ]
    await of.teacher.http.put(`${base}/columns/${columnId}/marks`).send({ marks }).expect(204)
    expect(codeOf(await of.teacher.http.put(`${base}/columns/${columnId}/marks`).send({ marks }).expect(409))).toBe(
      'changed-meanwhile',
    )
    const read = await book(of)
    expect(read.handouts).toMatchObject([{ id: copies.id, number: 1 }])
    expect(read.copies.find(({ personId }) => personId === people[0])).toMatchObject({
      total: 850,
      most: 1000,
      isDone: true,
      state: 'marked',
    })
    expect(read.paperMarks).toHaveLength(2)
    await of.teacher.http
      .put(`${base}/rules`)
      .send({ missing: 'zero', best: 2, weights: { [copies.id]: 2 } })
      .expect(204)
    expect((await book(of)).rules).toEqual({ missing: 'zero', best: 2, weights: { [copies.id]: 2 } })
    const csv = await of.teacher.http.post(`${base}/out/csv`).expect(200)
    expect(csv.text).toContain('"Last0000, First0",8.5,7.5,81.67')
    const bundle = await of.teacher.http
      .post(`${base}/out/bundle`)
      .buffer(true)
      .parse((response, done) => {
        const chunks: Buffer[] = []
        response.on('data', (chunk: Buffer) => chunks.push(chunk))
        response.on('end', () => done(null, Buffer.concat(chunks)))
      })
      .expect(200)
    const bytes = new Uint8Array(bundle.body as Buffer)
    expect(checkBundleModel(bytes)).toEqual([])
    const results = strFromU8(unzipSync(bytes)['results.csv']!)
    expect(results).toContain(`${copies.id},${people[0]},fully graded,8.5,`)
    expect(results).toContain(`${columnId},${people[1]},exempt,,`)
    await of.teacher.http
      .put(`${base}/rules`)
      .send({ missing: 'zero', best: null, weights: { x: -1 } })
      .expect(422)
    expect(
      codeOf(await of.teacher.http.post(`${base}/columns/${columnId}/remove`).send({ withMarks: false }).expect(409)),
    ).toBe('has-marks')
    await of.teacher.http.post(`${base}/columns/${columnId}/remove`).send({ withMarks: true }).expect(204)
    expect((await book(of)).paper).toEqual([])
  })

  test.each([
    ['last', 900],
    ['best', 950],
    ['mean', 925],
  ] as const)('of several rounds the %s counts', async (rounds, total) => {
    const copies = await handed(1, { rounds })
    const { of, id, copyIds } = copies
    const cell = async () => {
      const read = await book(of)
      return bookOf(read, Date.now()).cellOf(read.students[0]!.personId, id)
    }
    await submit(copies)
    await markWhole(copies, 0, [space(200), ...WHOLE.slice(1), { of: 'total', was: null, to: 950 }])
    await handAllBack(copies)
    await of.teacher.http.post(`/api/handouts/${id}/hand-back/open-again`).send({ copyIds }).expect(200)
    expect(await cell()).toMatchObject({ is: 'mark', total: 950 })
    await submit(copies)
    await put(copies, [
      { copyId: copyIds[0], personId: null, changes: [{ of: 'total', was: 950, to: null }], done: true },
    ]).expect(200)
    expect(await cell()).toEqual({ is: 'mark', total, most: 1000 })
    await handAllBack(copies)
    expect(await cell()).toEqual({ is: 'mark', total, most: 1000 })
    expect((await book(of)).earlier).toHaveLength(rounds === 'last' ? 0 : 1)
  })

  test('a column alone is as it is in the whole; who has the book open is told which one has changed, and no student is', async () => {
    const copies = await handed(2)
    const { of } = copies
    const student = await submit(copies)
    const people = await school.peopleOf(of)
    const base = `/api/classes/${of.id}/mark-book`
    const columnId = randomUUID()
    await of.teacher.http.put(`${base}/columns/${columnId}`).send({ name: 'Oral', unit: null, most: 1000 }).expect(204)
    const watching = await Promise.all(
      [of.teacher, student].map(async (person) => {
        const client = await LiveClient.open(school.url, person.cookie, copies.copyIds[0]!)
        client.send({ type: 'watch class', classId: of.id })
        await client.ping()
        return client
      }),
    )
    const told = (column: string) =>
      watching[0]!.message(
        (message) => message.type === 'class changed' && message.part === 'marks' && message.columnId === column,
      )
    await Promise.all([told(copies.id), markWhole(copies)])
    const marks = [{ personId: people[1], was: { total: null, excused: false }, to: { total: 750, excused: false } }]
    await Promise.all([
      told(columnId),
      of.teacher.http.put(`${base}/columns/${columnId}/marks`).send({ marks }).expect(204),
    ])
    await watching[1]!.ping()
    expect(watching[1]!.messages.some(({ type }) => type === 'class changed')).toBe(false)
    for (const client of watching) client.close()
    const whole = await book(of)
    const column = async (id: string) => {
      const { body } = await of.teacher.http.get(`${base}/columns/${id}`).expect(200)
      const { copies: sent, students, ...rest } = body as Answers['GET classes/{classId}/mark-book/columns/{columnId}']
      return { ...rest, copies: bookCopies(sent, students) }
    }
    expect(await column(copies.id)).toEqual({ copies: whole.copies, earlier: [], paperMarks: [] })
    expect(await column(columnId)).toEqual({ copies: [], earlier: [], paperMarks: whole.paperMarks })
    await of.teacher.http.get(`${base}/columns/${randomUUID()}`).expect(404)
    // Of another class it is none.
    const other = await handed(1)
    await of.teacher.http.get(`${base}/columns/${other.id}`).expect(404)
  })

  test('what one notes of a student is for oneself alone', async () => {
    const of = await school.classOf(2)
    const [ana, ben] = await school.peopleOf(of)
    const helper = await school.person('teacher', 'Help')
    await of.teacher.http
      .post(`/api/classes/${of.id}/staff`)
      .send({ email: helper.email, role: 'named helper', studentIds: [ben] })
      .expect(201)
    const note = (was: string, to: string, personId = ana, person = of.teacher) =>
      person.http.put(`/api/classes/${of.id}/mark-book/notes/${personId!}`).send({ was, to })
    await note('', 'Shy; asks after the lesson.').expect(204)
    // Sent twice it is there already; from another window it is told.
    await note('', 'Shy; asks after the lesson.').expect(204)
    expect(codeOf(await note('', 'Other').expect(409))).toBe('changed-meanwhile')
    expect((await book(of)).notes).toEqual([{ studentId: ana, text: 'Shy; asks after the lesson.' }])
    await note('', 'Mine', ana, helper).expect(404)
    await note('', 'Mine', ben, helper).expect(204)
    expect((await book(of, helper)).notes).toEqual([{ studentId: ben, text: 'Mine' }])
    expect((await book(of)).notes).toHaveLength(1)
    await note('', 'x'.repeat(2_001), ben).expect(422)
    await note('Shy; asks after the lesson.', ' ').expect(204)
    expect((await book(of)).notes).toEqual([])
  })

  test('a column is of one class alone, and its marks of students of it', async () => {
    const one = await school.classOf(1)
    const other = await school.classOf(1)
    const columnId = randomUUID()
    const column = { name: 'Oral', unit: null, most: 1000 }
    await one.teacher.http.put(`/api/classes/${one.id}/mark-book/columns/${columnId}`).send(column).expect(204)
    await other.teacher.http.put(`/api/classes/${other.id}/mark-book/columns/${columnId}`).send(column).expect(404)
    const [stranger] = await school.peopleOf(other)
    const none = { total: null, excused: false }
    await one.teacher.http
      .put(`/api/classes/${one.id}/mark-book/columns/${columnId}/marks`)
      .send({ marks: [{ personId: stranger, was: none, to: { total: 1, excused: false } }] })
      .expect(404)
  })
})
