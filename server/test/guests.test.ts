import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { randomUUID } from 'node:crypto'
import { LINE, copiesIn, part, section } from './support/copies.js'
import { LiveClient } from './support/liveClient.js'
import { type TestClass, type TestPerson, TestSchool, changesNow, statementFor } from './support/school.js'

let school: TestSchool
beforeAll(async () => {
  school = await TestSchool.open()
})
afterAll(() => school.close())
const { there, rowsOf, given, shared, walksIn, write, read } = copiesIn(() => school)

interface List {
  guests: {
    personId: string
    name: string
    copyId: string
    answers: number
    match: { studentId: string; beside: boolean } | null
  }[]
  students: {
    personId: string
    first: string
    has: { itemId: string; own: { isTouched: boolean } | null; hasWritten: boolean }[]
  }[]
}

const listOf = async (teacher: TestPerson, handoutId: string) =>
  (await teacher.http.get(`/api/handouts/${handoutId}/guests`).expect(200)).body as List
const matchPath = (handoutId: string, guest: TestPerson) =>
  `/api/handouts/${handoutId}/walk-ins/first/guests/${guest.viewer.personId}/match`
const match = (of: TestClass, handoutId: string, guest: TestPerson, student: TestPerson, beside: boolean) =>
  of.teacher.http.post(matchPath(handoutId, guest)).send({ studentId: student.viewer.personId, beside })
const unmatch = (of: TestClass, handoutId: string, guest: TestPerson) =>
  of.teacher.http.delete(matchPath(handoutId, guest))
const kept = async (copyId: string) =>
  (
    await school.source.query<{ kind: string }[]>('SELECT kind FROM copy_journal WHERE copy_id = $1 ORDER BY number', [
      copyId,
    ])
  ).map(({ kind }) => kind)

describe('a guest with a copy of their own', () => {
  let of: TestClass
  let handoutId: string
  let student: TestPerson
  let own: string
  let guest: TestPerson
  let theirs: string

  const begin = async () => {
    of = await school.classOf(2)
    handoutId = await given(of, statementFor(of.id, (await school.worksheet(of.teacher)).id))
    student = await school.signInByEmail(of.emails[0]!)
    own = (await school.copiesByEmail(handoutId)).get(of.emails[0]!)!
    guest = await walksIn(of, handoutId, 'First 0', 'edit')
    theirs = ((await guest.http.get('/api/copies').expect(200)).body as { id: string }[])[0]!.id
    await write(guest, theirs, 'line', 'High water at ten')
  }
  const mine = async (person: TestPerson) =>
    ((await person.http.get('/api/copies').expect(200)).body as { id: string; title: string }[]).map(({ id }) => id)

  test('becomes the student’s, where theirs is untouched, with all that was written; the guest goes on in it', async () => {
    await begin()
    const before = await listOf(of.teacher, handoutId)
    expect(before.guests).toMatchObject([{ name: 'First 0', copyId: theirs, answers: 1, match: null }])
    expect(before.students[0]).toMatchObject({ first: 'First0', has: [{ own: { isTouched: false } }] })
    const slots = new Map((await rowsOf(handoutId)).map(({ id, slot_key, title }) => [id, { slot_key, title }]))

    const open = await LiveClient.open(school.url, guest.cookie, theirs)
    const { body } = await match(of, handoutId, guest, student, false).expect(200)
    expect((body as List).guests).toMatchObject([
      { copyId: theirs, match: { studentId: student.viewer.personId, beside: false } },
    ])
    expect(await mine(student)).toEqual([theirs])
    expect(await read(student, theirs, 'line')).toBe('High water at ten')
    await write(student, theirs, 'line', 'And low at four. ')
    open.close()
    expect(await mine(guest)).toEqual([theirs])
    await write(guest, theirs, 'line', 'Both are one. ')
    const now = new Map((await rowsOf(handoutId)).map((row) => [row.id, row]))
    expect(now.get(theirs)).toMatchObject({ ...slots.get(own)!, set_aside: false })
    expect(now.get(own)).toMatchObject({ ...slots.get(theirs)!, set_aside: true })
    // The proof has nothing to add, whoever comes next.
    expect(await changesNow(of.teacher, handoutId)).toEqual([])
    expect(await kept(theirs)).toContain('guest matched')

    // The student has worked in it: it stays theirs.
    expect((await unmatch(of, handoutId, guest).expect(409)).body).toMatchObject({ code: 'worked-in' })
    // Guests who are cleared away are not those who are a student.
    await of.teacher.http
      .post(`/api/handouts/${handoutId}/walk-ins/first/clear`)
      .send({ all: true })
      .expect(200)
      .expect(({ body: answer }) => expect(answer).toMatchObject({ cleared: 0 }))
    expect(await mine(student)).toEqual([theirs])
  })

  test('and it can be undone: each has again what was theirs', async () => {
    await begin()
    const before = await rowsOf(handoutId)
    await match(of, handoutId, guest, student, false).expect(200)
    await write(guest, theirs, 'line', 'More. ')
    const undone = await unmatch(of, handoutId, guest).expect(200)
    expect((undone.body as List).guests).toMatchObject([{ copyId: theirs, match: null }])
    expect(await rowsOf(handoutId)).toEqual(before)
    expect(await mine(student)).toEqual([own])
    expect(await mine(guest)).toEqual([theirs])
    expect(await kept(own)).toEqual(['given', 'set aside', 'brought back'])
    expect(await changesNow(of.teacher, handoutId)).toEqual([])
    await unmatch(of, handoutId, guest).expect(409)
  })

  test('stands beside theirs, where they have written; what is not as the page showed it is refused', async () => {
    await begin()
    await write(student, own, 'line', 'Mine')
    expect((await match(of, handoutId, guest, student, false).expect(409)).body).toMatchObject({ code: 'changed' })
    await match(of, handoutId, guest, student, true).expect(200)
    expect(new Set(await mine(student))).toEqual(new Set([own, theirs]))
    expect((await student.http.get(`/api/copies/${theirs}`).expect(200)).body).toMatchObject({ permission: 'edit' })
    expect(await changesNow(of.teacher, handoutId)).toEqual([])
    // Another teacher, or a second click, is told.
    expect((await match(of, handoutId, guest, student, true).expect(409)).body).toMatchObject({
      code: 'matched-already',
    })
    await unmatch(of, handoutId, guest).expect(200)
    expect(await mine(student)).toEqual([own])
    await student.http.get(`/api/copies/${theirs}`).expect(404)
  })

  test('two guests who are one student: the second stands beside the first', async () => {
    await begin()
    const again = await walksIn(of, handoutId, 'First0', 'edit')
    await match(of, handoutId, guest, student, false).expect(200)
    await match(of, handoutId, again, student, true).expect(200)
    expect(await mine(student)).toHaveLength(2)
    expect(await changesNow(of.teacher, handoutId)).toEqual([])
  })

  test('of two teachers at once one is told, and nothing is exchanged twice', async () => {
    await begin()
    const answers = await Promise.all([1, 2].map(() => match(of, handoutId, guest, student, false)))
    expect(answers.map(({ status }) => status).toSorted()).toEqual([200, 409])
    expect(await mine(student)).toEqual([theirs])
    expect((await rowsOf(handoutId)).filter(({ slot_key }) => slot_key.includes('exchanged'))).toEqual([])
  })

  test('is nobody’s who is not in the class, and nobody’s who was taken back', async () => {
    await begin()
    const stranger = await school.person('student', 'Stranger')
    await match(of, handoutId, guest, stranger, false).expect(404)
    await of.teacher.http
      .post(`/api/handouts/${handoutId}/take-back`)
      .send({ slotKeys: [`first:each:${guest.viewer.personId}`], back: false })
      .expect(202)
    while ((await there(handoutId)).length > 2);
    expect((await match(of, handoutId, guest, student, false).expect(409)).body).toMatchObject({ code: 'taken-back' })
    await of.teacher.http
      .post(matchPath(handoutId, { ...guest, viewer: { ...guest.viewer, personId: randomUUID() } }))
      .send({ studentId: student.viewer.personId, beside: false })
      .expect(404)
  })

  test('is still the student’s when two records of the student become one', async () => {
    await begin()
    await match(of, handoutId, guest, student, false).expect(200)
    const office = await school.person('office', 'Office')
    const twin = await school.person('student', 'First0')
    const keep = { keepId: twin.viewer.personId, otherId: student.viewer.personId }
    await office.http
      .post('/api/office/merge')
      .send(keep)
      .expect(({ status }) => expect(status).toBeLessThan(300))
    expect((await listOf(of.teacher, handoutId)).guests).toMatchObject([
      { copyId: theirs, match: { studentId: twin.viewer.personId } },
    ])
    expect(await changesNow(of.teacher, handoutId)).toMatchObject([{ kind: 'rename' }])
    await unmatch(of, handoutId, guest).expect(200)
    expect(await mine(twin)).toEqual([own])
  })
})

describe('a guest in a shared copy', () => {
  const begin = async () => {
    const of = await school.classOf(2)
    const { handoutId, copyId } = await shared(of, {}, [section('s', 'each member', [LINE('note')])])
    const student = await school.signInByEmail(of.emails[0]!)
    const guest = await walksIn(of, handoutId, 'First', 'edit')
    const parts = { guest: part('note', guest.viewer.personId), student: part('note', student.viewer.personId) }
    await write(guest, copyId, parts.guest, 'Seen from the mole')
    return { of, handoutId, copyId, student, guest, parts }
  }
  const words = async (person: TestPerson, copyId: string) =>
    JSON.stringify(((await person.http.get(`/api/copies/${copyId}`).expect(200)).body as { content: object }).content)

  test('has the part of the student from then on, if that is empty; both write in it, and nobody else', async () => {
    const { of, handoutId, copyId, student, guest, parts } = await begin()
    await match(of, handoutId, guest, student, false).expect(200)
    const page = await words(student, copyId)
    expect(page).toContain(parts.guest)
    expect(page).toContain('First0 Last0000')
    expect(page).not.toContain(parts.student)
    await write(student, copyId, parts.guest, 'By me too. ')
    await write(guest, copyId, parts.guest, 'Still here. ')
    expect(await read(guest, copyId, parts.guest)).toContain('By me too.')
    const mate = await school.signInByEmail(of.emails[1]!)
    const { others } = (await mate.http.get(`/api/copies/${copyId}`).expect(200)).body as { others: string[] }
    expect(others).toContain(parts.guest)
    // As many answers as parts: on the board and on the desk.
    const { rows } = (await of.teacher.http.get(`/api/handouts/${handoutId}/board`).expect(200)).body as {
      rows: { spaces: number }[]
    }
    expect(rows[0]!.spaces).toBe(2)
    await unmatch(of, handoutId, guest).expect(409)
  })

  test('has a part of their own beside it, if the student has written', async () => {
    const { of, handoutId, copyId, student, guest, parts } = await begin()
    await write(student, copyId, parts.student, 'Mine')
    expect((await listOf(of.teacher, handoutId)).students[0]!.has[0]).toMatchObject({ hasWritten: true })
    await match(of, handoutId, guest, student, true).expect(200)
    const page = await words(student, copyId)
    for (const words of [parts.guest, parts.student, 'First0 Last0000, as First']) expect(page).toContain(words)
    await unmatch(of, handoutId, guest).expect(200)
    expect(await words(student, copyId)).not.toContain('as First')
  })

  test('is no student who does not share it', async () => {
    const of = await school.classOf(2)
    const [student, other] = [await school.signInByEmail(of.emails[0]!), await school.signInByEmail(of.emails[1]!)]
    const audience = { kind: 'some' as const, personIds: [other.viewer.personId] }
    const { handoutId } = await shared(of, { audience })
    const guest = await walksIn(of, handoutId, 'First', 'edit')
    expect((await match(of, handoutId, guest, student, false).expect(409)).body).toMatchObject({ code: 'not-given' })
  })
})

test('the board says how many guests wrote who are nobody yet', async () => {
  const of = await school.classOf(1)
  const { handoutId, copyId } = await shared(of)
  const waiting = async () =>
    ((await of.teacher.http.get(`/api/handouts/${handoutId}/board`).expect(200)).body as { guestsToMatch: number })
      .guestsToMatch
  const guest = await walksIn(of, handoutId, 'First', 'edit')
  expect(await waiting()).toBe(0)
  await write(guest, copyId, 'line', 'Here')
  expect(await waiting()).toBe(1)
  await match(of, handoutId, guest, await school.signInByEmail(of.emails[0]!), false).expect(200)
  expect(await waiting()).toBe(0)
})
