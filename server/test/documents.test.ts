import { readOdt } from '@gavrin/core'
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { strFromU8, unzipSync } from 'fflate'
import type { Response } from 'supertest'
import { LINE, QUESTION, copiesIn, part, section } from './support/copies.js'
import { type TestClass, type TestPerson, TestSchool, statementFor } from './support/school.js'

let school: TestSchool
let of: TestClass
let student: TestPerson
let mate: TestPerson
beforeAll(async () => {
  school = await TestSchool.open()
  of = await school.classOf(2)
  ;[student, mate] = (await Promise.all(of.emails.map((email) => school.signInByEmail(email)))) as [
    TestPerson,
    TestPerson,
  ]
})
afterAll(() => school.close())
const { given, shared, write } = copiesIn(() => school)

const own = async () => {
  const handoutId = await given(of, statementFor(of.id, (await school.worksheet(of.teacher)).id))
  return { handoutId, copyId: (await school.copiesByEmail(handoutId)).get(of.emails[0]!)! }
}
const bytesOf = (response: Response) => response.body as Buffer
const saved = async (person: TestPerson, copyId: string, format: string) =>
  new Uint8Array(
    bytesOf(
      await person.http
        .post(`/api/copies/${copyId}/out/${format}`)
        .buffer()
        .parse((response, done) => {
          const parts: Buffer[] = []
          response.on('data', (one: Buffer) => parts.push(one))
          response.on('end', () => done(null, Buffer.concat(parts)))
        })
        .expect(200),
    ),
  )

interface Document {
  readonly id: string
  readonly name: string
  readonly by: string
  readonly isAnswer: boolean
  readonly isOwn: boolean
}
const put = (person: TestPerson, copyId: string, name: string, text = 'My report') =>
  person.http
    .post(`/api/copies/${copyId}/documents?name=${encodeURIComponent(name)}`)
    .set('content-type', 'application/octet-stream')
    .send(Buffer.from(text))
const documents = async (person: TestPerson, copyId: string) =>
  ((await person.http.get(`/api/copies/${copyId}`).expect(200)).body as { documents: Document[] }).documents

describe('a copy as a document', () => {
  test('has the print, and what was written in its answers', async () => {
    const { copyId } = await own()
    await write(student, copyId, 'line', 'At ten <o’clock> & later')
    const odt = await saved(student, copyId, 'odt')
    expect(JSON.stringify(readOdt(odt))).toContain('<p>At ten &lt;o’clock&gt; &amp; later</p>')
    const docx = strFromU8(unzipSync(await saved(of.teacher, copyId, 'docx'))['word/document.xml']!)
    expect(docx).toContain('At ten &lt;o’clock&gt; &amp; later')
    await mate.http.post(`/api/copies/${copyId}/out/odt`).expect(404)
    await student.http.post(`/api/copies/${copyId}/out/exe`).expect(400)
  })

  test('has no place of others, where these are hidden', async () => {
    const blocks = [section('s', 'each member', [QUESTION('q', 'What did you see?'), LINE('note')])]
    const { copyId } = await shared(of, { othersPlaces: 'hidden' }, blocks)
    await write(student, copyId, part('note', student.viewer.personId), 'A seal')
    await write(mate, copyId, part('note', mate.viewer.personId), 'A tern')
    const text = async (person: TestPerson) => JSON.stringify(readOdt(await saved(person, copyId, 'odt')))
    expect(await text(student)).toContain('A seal')
    expect(await text(student)).not.toContain('A tern')
    expect(await text(of.teacher)).toContain('A tern')
  })
})

describe('documents with a whole copy', () => {
  test('are put there, said to be the answer, taken out and put back by whose they are, while it is written in', async () => {
    const { copyId, handoutId } = await own()
    const [document] = (await put(student, copyId, 'report.txt').expect(201)).body as Document[]
    expect(document).toMatchObject({ name: 'report.txt', isAnswer: false, isOwn: true })
    const alter = (person: TestPerson, to: object) =>
      person.http.put(`/api/copies/${copyId}/documents/${document!.id}`).send(to)
    const onBoard = async () =>
      (
        (await of.teacher.http.get(`/api/handouts/${handoutId}/board`).expect(200)).body as {
          rows: { copyId: string; hasDocument: boolean }[]
        }
      ).rows.find((row) => row.copyId === copyId)!.hasDocument
    expect(await onBoard()).toBe(false)
    expect((await alter(student, { isAnswer: true }).expect(200)).body).toMatchObject([{ isAnswer: true }])
    expect(await onBoard()).toBe(true)
    const file = await of.teacher.http.get(`/api/copies/${copyId}/files/${document!.id}`).buffer(true).expect(200)
    expect(file.headers['content-disposition']).toContain('report.txt')
    expect((await alter(student, { isOut: true }).expect(200)).body).toEqual([])
    expect(await onBoard()).toBe(false)
    expect((await alter(student, { isOut: false }).expect(200)).body).toMatchObject([{ id: document!.id }])
    await alter(of.teacher, { isOut: true }).expect(403)
    await alter(mate, { isOut: true }).expect(404)
    await put(student, copyId, 'empty.txt', '').expect(422)

    await student.http.post(`/api/copies/${copyId}/submit`).expect(({ status }) => expect(status).toBeLessThan(300))
    await alter(student, { isOut: true }).expect(403)
    await put(student, copyId, 'later.txt').expect(403)
    expect(await documents(of.teacher, copyId)).toMatchObject([{ name: 'report.txt', isAnswer: true, isOwn: false }])
  })

  test('are ten at most at once; of a shared copy each is altered by who put it there', async () => {
    const { copyId } = await shared(of)
    for (let at = 0; at < 10; at++) await put(student, copyId, `${at}.txt`, `words ${at}`).expect(201)
    expect((await put(mate, copyId, 'one more.txt').expect(409)).body).toMatchObject({ code: 'too-many-files' })
    const [first] = await documents(mate, copyId)
    expect(first).toMatchObject({ isOwn: false, by: 'First0 Last0000' })
    await mate.http.put(`/api/copies/${copyId}/documents/${first!.id}`).send({ isOut: true }).expect(404)
    await student.http.put(`/api/copies/${copyId}/documents/${first!.id}`).send({ isOut: true }).expect(200)
    await put(mate, copyId, 'one more.txt').expect(201)
  })

  test('of others are hidden with their places', async () => {
    const { copyId } = await shared(of, { othersPlaces: 'hidden' }, [section('s', 'each member', [LINE('note')])])
    const [theirs] = (await put(student, copyId, 'mine.txt').expect(201)).body as Document[]
    expect(await documents(mate, copyId)).toEqual([])
    await mate.http.get(`/api/copies/${copyId}/files/${theirs!.id}`).expect(404)
    expect(await documents(of.teacher, copyId)).toHaveLength(1)
    await of.teacher.http.get(`/api/copies/${copyId}/files/${theirs!.id}`).expect(200)
  })
})
