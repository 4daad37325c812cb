import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { strFromU8, unzipSync } from 'fflate'
import { randomUUID } from 'node:crypto'
import { copiesIn } from './support/copies.js'
import { type TestClass, type TestPerson, TestSchool } from './support/school.js'

// Many copies as documents in one file: for a handout, a class, a student; put down first, and made whatever happens.

let school: TestSchool
let of: TestClass
let handoutId: string
let copyIds: string[]
beforeAll(async () => {
  school = await TestSchool.open()
  of = await school.classOf(3)
  ;({ id: handoutId } = await school.handedOut(of))
  const copies = await school.copiesByEmail(handoutId)
  copyIds = of.emails.map((email) => copies.get(email)!)
  await write(await school.signInByEmail(of.emails[0]!), copyIds[0]!, 'line', 'Low water at four')
})
afterAll(() => school.close())
const { write } = copiesIn(() => school)

interface Saved {
  readonly id: string
  readonly title: string
  readonly total: number
  readonly done: number
  readonly failed: { name: string; why: string }[]
  readonly finishedAt: number | null
}
const begin = (person: TestPerson, body: object) =>
  person.http.post('/api/saved-copies').send({ format: 'html', ...body })
const allOf = async (person: TestPerson) => (await person.http.get('/api/saved-copies').expect(200)).body as Saved[]
async function finished(person: TestPerson, id: string): Promise<Saved> {
  for (;;) {
    const one = (await allOf(person)).find((saved) => saved.id === id)!
    if (one.finishedAt !== null) return one
  }
}
const fetched = async (person: TestPerson, id: string) => {
  const { body } = await person.http
    .get(`/api/saved-copies/${id}/file`)
    .buffer()
    .parse((response, done) => {
      const parts: Buffer[] = []
      response.on('data', (one: Buffer) => parts.push(one))
      response.on('end', () => done(null, Buffer.concat(parts)))
    })
    .expect(200)
  return unzipSync(new Uint8Array(body as Buffer))
}
const begun = async (person: TestPerson, body: object) =>
  ((await begin(person, body).expect(202)).body as { id: string }).id

describe('saving many copies', () => {
  test('makes a document of each, called as the copy is, with what is written in it', async () => {
    const id = await begun(of.teacher, { handoutId })
    expect(await finished(of.teacher, id)).toMatchObject({ total: 3, done: 3, failed: [] })
    const files = await fetched(of.teacher, id)
    expect(Object.keys(files)).toHaveLength(3)
    expect(Object.keys(files).every((name) => name.endsWith('.html') && !name.includes('/'))).toBe(true)
    expect(
      Object.values(files)
        .map((bytes) => strFromU8(bytes))
        .filter((page) => page.includes('Low water at four')),
    ).toHaveLength(1)
  })

  test('of a class or a student they lie in a folder for each handout, and no name is there twice', async () => {
    await school.handedOut(of)
    const ofClass = await begun(of.teacher, { classId: of.id, format: 'odt' })
    await finished(of.teacher, ofClass)
    const names = Object.keys(await fetched(of.teacher, ofClass))
    expect(names).toHaveLength(6)
    expect(new Set(names.map((name) => name.split('/')[0])).size).toBe(2)
    const [studentId] = await school.peopleOf(of)
    const ofStudent = await begun(of.teacher, { studentId })
    await finished(of.teacher, ofStudent)
    expect(Object.keys(await fetched(of.teacher, ofStudent))).toHaveLength(2)
  })

  test('names that would be the same file get a number', async () => {
    const { id: alike } = await school.handedOut(of)
    const titles = ['Tides: low', 'tides / low', 'Tides? low.']
    for (const copyId of (await school.copiesByEmail(alike)).values())
      await school.source.query('UPDATE copy SET title = $2 WHERE id = $1', [copyId, titles.pop()])
    const id = await begun(of.teacher, { handoutId: alike })
    await finished(of.teacher, id)
    expect(Object.keys(await fetched(of.teacher, id)).map((name) => name.toLowerCase())).toEqual([
      'tides low.html',
      'tides low (2).html',
      'tides low (3).html',
    ])
  })

  test('only some, and only what somebody is shown', async () => {
    const id = await begun(of.teacher, { handoutId, copyIds: copyIds.slice(0, 2) })
    expect(await finished(of.teacher, id)).toMatchObject({ total: 2 })
    const [studentId] = await school.peopleOf(of)
    const helper = await school.person('teacher', 'Hilde')
    await of.teacher.http
      .post(`/api/classes/${of.id}/staff`)
      .send({ email: helper.email, role: 'named helper', studentIds: [studentId] })
      .expect(201)
    const own = await begun(helper, { handoutId })
    expect(await finished(helper, own)).toMatchObject({ total: 1 })
    // Another's are not there.
    await helper.http.get(`/api/saved-copies/${id}/file`).expect(404)
    await helper.http.delete(`/api/saved-copies/${id}`).expect(404)
    const stranger = await school.person('teacher', 'Sten')
    await begin(stranger, { handoutId }).expect(409)
  })

  test('who is taken out of the class meanwhile gets none of them', async () => {
    const helper = await school.person('teacher', 'Hanno')
    await of.teacher.http
      .post(`/api/classes/${of.id}/staff`)
      .send({ email: helper.email, role: 'helper', studentIds: [] })
      .expect(201)
    const id = await begun(helper, { handoutId })
    await finished(helper, id)
    expect(Object.keys(await fetched(helper, id))).toHaveLength(3)
    await of.teacher.http.delete(`/api/classes/${of.id}/staff/${helper.viewer.personId}`).expect(204)
    await helper.http.get(`/api/saved-copies/${id}/file`).expect(409)
  })

  test('a handout, a class or a student: one of them', async () => {
    await begin(of.teacher, {}).expect(422)
    await begin(of.teacher, { handoutId, classId: of.id }).expect(422)
    await begin(of.teacher, { handoutId, format: 'exe' }).expect(422)
  })

  test('what is not done cannot be fetched; what is begun can be stopped', async () => {
    const own = await school.person('teacher', 'Una')
    const lying = async () => {
      const id = randomUUID()
      await school.source.query(
        `INSERT INTO saved_copies (school_id, id, person_id, format, title, copies, begun_at, worked_at)
         VALUES ($1, $2, $3, 'pdf', 'Lies here', $4, now(), 'infinity')`,
        [
          school.schoolId,
          id,
          own.viewer.personId,
          JSON.stringify([{ copyId: copyIds[0], classId: of.id, name: 'a.pdf' }]),
        ],
      )
      return id
    }
    const ids = [await lying(), await lying(), await lying()]
    await own.http.get(`/api/saved-copies/${ids[0]!}/file`).expect(409)
    await of.teacher.http
      .post(`/api/classes/${of.id}/staff`)
      .send({ email: own.email, role: 'helper', studentIds: [] })
      .expect(201)
    const { body: refused } = await begin(own, { handoutId }).expect(409)
    expect((refused as { code: string }).code).toBe('too-many-unfinished')
    for (const id of ids) await own.http.delete(`/api/saved-copies/${id}`).expect(204)
    expect(await allOf(own)).toEqual([])
  })
})
