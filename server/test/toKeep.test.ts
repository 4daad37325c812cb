import { afterAll, beforeAll, expect, test } from '@jest/globals'
import type { Answers } from '../../web/src/contract.js'
import { LINE, QUESTION, copiesIn, part, section } from './support/copies.js'
import { LiveClient } from './support/liveClient.js'
import { codeOf } from './support/marked.js'
import { type TestPerson, TestSchool } from './support/school.js'

let school: TestSchool
beforeAll(async () => {
  school = await TestSchool.open()
})
afterAll(() => school.close())
const { write, read, shared } = copiesIn(() => school)

type Proof = Answers['POST to-keep/proof']
type Kept = Answers['GET to-keep']
type Of = { handoutId?: string; classId?: string; studentId?: string; copyIds?: string[] }

const proofOf = async (person: TestPerson, of: Of, unfinished = false) =>
  (
    await person.http
      .post('/api/to-keep/proof')
      .send({ ...of, unfinished })
      .expect(200)
  ).body as Proof
const give = async (person: TestPerson, of: Of, unfinished = false) => {
  const { fingerprint } = await proofOf(person, of, unfinished)
  return (
    await person.http
      .post('/api/to-keep')
      .send({ ...of, unfinished, fingerprint })
      .expect(200)
  ).body as Answers['POST to-keep']
}
const keptOf = async (person: TestPerson) => (await person.http.get('/api/to-keep').expect(200)).body as Kept
const openKept = async (person: TestPerson, keptId: string) =>
  ((await person.http.post(`/api/to-keep/${keptId}/copy`).expect(200)).body as { copyId: string }).copyId

/** A class of two whose first has submitted what they wrote. */
async function submitted() {
  const of = await school.classOf(2)
  const { id: handoutId, copies } = await school.handedOut(of)
  const [student, mate] = [await school.signInByEmail(of.emails[0]!), await school.signInByEmail(of.emails[1]!)]
  const copyId = copies.get(of.emails[0]!)!
  await write(student, copyId, 'line', 'Kept words')
  await student.http.post(`/api/copies/${copyId}/submit`).expect(200)
  return { of, handoutId, copyId, mateCopyId: copies.get(of.emails[1]!)!, student, mate }
}

test('what is submitted becomes the student’s own: as it was then, gone on with, seen by nobody else, and the class keeps its copy', async () => {
  const { of, handoutId, copyId, mateCopyId, student, mate } = await submitted()
  await write(mate, mateCopyId, 'line', 'Half')
  const { lines } = await proofOf(of.teacher, { handoutId })
  expect(lines.map(({ is, names }) => [is, names.length]).toSorted()).toEqual([
    ['given', 1],
    ['not submitted', 1],
  ])
  expect(await give(of.teacher, { handoutId })).toMatchObject({ copies: 1, students: 1 })
  expect((await proofOf(of.teacher, { handoutId })).lines.map(({ is }) => is).toSorted()).toEqual([
    'given before',
    'not submitted',
  ])

  // What is written in the copy of the class after is not in theirs.
  await of.teacher.http
    .post(`/api/handouts/${handoutId}/submitted`)
    .send({ copyIds: [copyId], submitted: false })
    .expect(200)
  await write(student, copyId, 'line', ' and more')
  expect(await keptOf(mate)).toEqual([])
  const [kept, ...none] = await keptOf(student)
  expect(none).toEqual([])
  expect(kept).toMatchObject({ copyId: null, fromCopyId: copyId, lastActivityAt: null })
  await mate.http.post(`/api/to-keep/${kept!.id}/copy`).expect(404)
  // Two windows at once: one copy.
  const [ownId, again] = await Promise.all([openKept(student, kept!.id), openKept(student, kept!.id)])
  expect(again).toBe(ownId)
  expect(await read(student, ownId, 'line')).toBe('Kept words')
  await write(student, ownId, 'line', 'Again: ')
  expect(await read(student, ownId, 'line')).toContain('Again: ')
  expect(await read(student, copyId, 'line')).toContain('and more')

  // It is the class's no more: nobody else opens it, and nothing is submitted or said in it.
  for (const other of [of.teacher, mate]) {
    await other.http.get(`/api/copies/${ownId}`).expect(404)
    const client = await LiveClient.open(school.url, other.cookie, ownId)
    expect(client.messages).toMatchObject([{ type: 'closed', sentence: expect.stringContaining('not for you') }])
    client.close()
  }
  await (await school.person('office', 'Office')).http.get(`/api/copies/${ownId}`).expect(404)
  expect(codeOf(await student.http.post(`/api/copies/${ownId}/submit`).expect(403))).toBe('kept')
  expect((await student.http.get(`/api/copies/${ownId}`).expect(200)).body).toMatchObject({
    permission: 'edit',
    keptFrom: { copyId },
    mayInvite: false,
    dueAt: null,
    handedBack: null,
  })
  await student.http.get(`/api/copies/${ownId}/history`).expect(200)
  await student.http.post(`/api/copies/${ownId}/out/html`).expect(200)
  // Lists of the class, of what is to be done, and of the staff know nothing of it.
  const { body: mine } = await student.http.get('/api/copies').expect(200)
  expect((mine as { id: string }[]).map(({ id }) => id)).not.toContain(ownId)
  const { body: board } = await of.teacher.http.get(`/api/handouts/${handoutId}/board`).expect(200)
  expect(JSON.stringify(board)).not.toContain(ownId)
  const { body: person } = await of.teacher.http.get(`/api/people/${student.viewer.personId}`).expect(200)
  expect(JSON.stringify(person)).not.toContain(ownId)
  const { body: classes } = await of.teacher.http.get('/api/classes').expect(200)
  expect((classes as { id: string }[]).map(({ id }) => id)).toEqual([of.id])
  expect((await student.http.get('/api/classes').expect(200)).body).toHaveLength(1)
})

test('it stays when its student has left and the class is archived, and can be given then too', async () => {
  const { of, handoutId, student } = await submitted()
  const inClass = (path: string, body: object = {}) => of.teacher.http.post(`/api/classes/${of.id}/${path}`).send(body)
  await inClass('roster/leave', { personIds: [student.viewer.personId] }).expect(200)
  await inClass('archive').expect(204)
  await give(of.teacher, { classId: of.id })
  const [kept] = await keptOf(student)
  const ownId = await openKept(student, kept!.id)
  await write(student, ownId, 'line', 'Later: ')
  expect(await read(student, ownId, 'line')).toContain('Later: ')
  expect((await proofOf(of.teacher, { handoutId })).lines.some(({ is }) => is === 'given')).toBe(false)
})

test('of what a group or a class shares each gets a copy of their own, without what was hidden from them', async () => {
  const of = await school.classOf(2)
  const [ids, one, other] = [
    await school.peopleOf(of),
    await school.signInByEmail(of.emails[0]!),
    await school.signInByEmail(of.emails[1]!),
  ]
  const blocks = [QUESTION('q', 'All'), LINE('all'), section('own', 'each member', [LINE('mine')])]
  for (const othersPlaces of ['read', 'hidden'] as const) {
    const { handoutId, copyId } = await shared(of, { othersPlaces }, blocks)
    await write(one, copyId, 'all', 'Together')
    await write(one, copyId, part('mine', ids[0]!), 'First')
    await write(other, copyId, part('mine', ids[1]!), 'Second')
    // Not submitted: only where that is wished.
    expect((await proofOf(of.teacher, { handoutId })).lines.map(({ is }) => is)).toEqual(['not submitted'])
    expect(await give(of.teacher, { handoutId }, true)).toMatchObject({ copies: 2, students: 2 })
    const [ownId, othersId] = await Promise.all(
      [one, other].map(async (person) => {
        const kept = (await keptOf(person)).find(({ fromCopyId }) => fromCopyId === copyId)
        return openKept(person, kept!.id)
      }),
    )
    expect(await read(one, ownId!, 'all')).toBe('Together')
    expect(await read(one, ownId!, part('mine', ids[0]!))).toBe('First')
    const { body } = await one.http.post(`/api/copies/${ownId}/out/html`).expect(200)
    const page = JSON.stringify((await one.http.get(`/api/copies/${ownId}`).expect(200)).body) + String(body)
    const rows = await school.source.query<{ space: string }[]>(
      'SELECT DISTINCT space FROM live_update WHERE copy_id = $1',
      [ownId],
    )
    const spaces = rows.map(({ space }) => space)
    expect(spaces.includes(part('mine', ids[1]!))).toBe(othersPlaces === 'read')
    expect(page.includes(part('mine', ids[1]!))).toBe(othersPlaces === 'read')
    // Each goes on alone.
    await write(one, ownId!, 'all', 'Alone ')
    expect(await read(other, othersId!, 'all')).toBe('Together')
    await other.http.get(`/api/copies/${ownId}`).expect(404)
  }
})

test('what was shown is given, and once; it is taken back from whoever has not opened it', async () => {
  const { of, handoutId, mate, mateCopyId, student } = await submitted()
  await write(mate, mateCopyId, 'line', 'Mine')
  const { fingerprint } = await proofOf(of.teacher, { handoutId })
  await mate.http.post(`/api/copies/${mateCopyId}/submit`).expect(200)
  const sent = { handoutId, unfinished: false }
  expect(
    codeOf(
      await of.teacher.http
        .post('/api/to-keep')
        .send({ ...sent, fingerprint })
        .expect(409),
    ),
  ).toBe('other-plan')
  const shown = await proofOf(of.teacher, { handoutId })
  const both = await Promise.all(
    [1, 2].map(() => of.teacher.http.post('/api/to-keep').send({ ...sent, fingerprint: shown.fingerprint })),
  )
  expect(both.map(({ status }) => status).toSorted()).toEqual([200, 409])
  expect(
    await school.count('given_to_keep', `copy_id IN (SELECT id FROM copy WHERE handout_id = '${handoutId}')`),
  ).toBe(2)
  const { actId } = both.find(({ status }) => status === 200)!.body as { actId: string }
  const [kept] = await keptOf(student)
  await openKept(student, kept!.id)
  const stranger = await school.person('teacher', 'Stranger')
  await stranger.http.delete(`/api/to-keep/acts/${actId}`).expect(404)
  await student.http.delete(`/api/to-keep/acts/${actId}`).expect(404)
  expect((await of.teacher.http.delete(`/api/to-keep/acts/${actId}`).expect(200)).body).toEqual({ taken: 1, opened: 1 })
  expect(await keptOf(mate)).toEqual([])
  expect(await keptOf(student)).toHaveLength(1)
  // And again for who has it no more.
  expect(await give(of.teacher, { studentId: mate.viewer.personId })).toMatchObject({ copies: 1, students: 1 })
})

test('only teachers of the class give, of one thing at a time; a colleague is shown nothing of it', async () => {
  const { of, handoutId, copyId, student } = await submitted()
  const stranger = await school.person('teacher', 'Stranger')
  await stranger.http.post('/api/to-keep/proof').send({ handoutId, unfinished: false }).expect(404)
  await stranger.http.post('/api/to-keep/proof').send({ classId: of.id, unfinished: false }).expect(404)
  expect(await proofOf(stranger, { studentId: student.viewer.personId })).toMatchObject({ lines: [] })
  await student.http.post('/api/to-keep/proof').send({ handoutId, unfinished: false }).expect(404)
  await of.teacher.http.post('/api/to-keep/proof').send({ handoutId, classId: of.id, unfinished: false }).expect(422)
  const { lines } = await proofOf(of.teacher, { classId: of.id, copyIds: [copyId] })
  expect(lines.map((line) => line.copyId)).toEqual([copyId])
})

test('of two records of one student that become one, all that both were given stays', async () => {
  const { of, handoutId, student, mate, mateCopyId } = await submitted()
  await write(mate, mateCopyId, 'line', 'Of the double')
  await give(of.teacher, { handoutId }, true)
  const [kept] = await keptOf(mate)
  const ownId = await openKept(mate, kept!.id)
  const office = await school.person('office', 'Office')
  await office.http
    .post('/api/office/merge')
    .send({ keepId: student.viewer.personId, otherId: mate.viewer.personId })
    .expect(200)
  expect(await keptOf(student)).toHaveLength(2)
  expect(await read(student, ownId, 'line')).toBe('Of the double')
})
