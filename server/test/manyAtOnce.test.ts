import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { randomUUID } from 'node:crypto'
import { LINE, QUESTION, copiesIn } from './support/copies.js'
import { LiveClient } from './support/liveClient.js'
import { type TestClass, type TestPerson, TestSchool, statementFor } from './support/school.js'

// What is done with several copies at once: names, permissions and editions of their own, submitting for them, one comment on all,
// a message to all; each with what it does shown first, and with the way back.

let school: TestSchool
beforeAll(async () => {
  school = await TestSchool.open({ demo: true })
})
afterAll(() => school.close())
const { given, rowsOf, write } = copiesIn(() => school)

interface Handed {
  readonly of: TestClass
  readonly id: string
  readonly copyIds: string[]
}
async function handedOut(students: number): Promise<Handed> {
  const of = await school.classOf(students)
  const { id } = await school.handedOut(of)
  const copies = await school.copiesByEmail(id)
  return { of, id, copyIds: of.emails.map((email) => copies.get(email)!) }
}
const single = ({ of, id }: Handed, body: object, person: TestPerson = of.teacher) =>
  person.http.post(`/api/handouts/${id}/single`).send(body)
const singleProof = async ({ of, id }: Handed, body: object) =>
  (await of.teacher.http.post(`/api/handouts/${id}/single/proof`).send(body).expect(200)).body as {
    renamed: { from: string; to: string }[]
    permitted: number
    moved: { from: number; to: number }[]
  }
const titlesOf = async ({ id }: Handed) => new Map((await rowsOf(id)).map((row) => [row.id, row.title]))
const stateOf = async (person: TestPerson, copyId: string) =>
  ((await person.http.get(`/api/copies/${copyId}`).expect(200)).body as { state: string }).state

describe('names of their own', () => {
  test('are shown first, given to these copies alone, and stay when the slip is handed out again', async () => {
    const handed = await handedOut(3)
    const before = await titlesOf(handed)
    const wish = { copyIds: handed.copyIds.slice(0, 2), renaming: { how: 'after', text: '(second try)' } }
    const proof = await singleProof(handed, wish)
    expect(proof.renamed.map(({ from, to }) => [from, to]).toSorted()).toEqual(
      handed.copyIds
        .slice(0, 2)
        .map((copyId) => [before.get(copyId), `${before.get(copyId)!} (second try)`])
        .toSorted(),
    )
    // Nothing has happened yet.
    expect(await titlesOf(handed)).toEqual(before)
    await single(handed, wish).expect(202)
    await school.finished(handed.of.teacher, handed.id)
    const after = await titlesOf(handed)
    expect(after.get(handed.copyIds[1]!)).toBe(`${before.get(handed.copyIds[1]!)!} (second try)`)
    expect(after.get(handed.copyIds[2]!)).toBe(before.get(handed.copyIds[2]!))
    const { body } = await handed.of.teacher.http.get(`/api/handouts/${handed.id}/differences`).expect(200)
    expect(body).toEqual({ differences: null })
    await single(handed, wish).expect(202)
    await single(handed, { copyIds: handed.copyIds, renaming: { how: 'as the slip says', text: '' } }).expect(202)
    await school.finished(handed.of.teacher, handed.id)
    expect(await titlesOf(handed)).toEqual(before)
  })

  test('are undone as a hand-out is', async () => {
    const handed = await handedOut(1)
    const before = await titlesOf(handed)
    await single(handed, { copyIds: handed.copyIds, renaming: { how: 'another title', text: 'Mine' } }).expect(202)
    await school.finished(handed.of.teacher, handed.id)
    expect([...(await titlesOf(handed)).values()]).toEqual(['Mine'])
    await school.undo(handed.of.teacher, handed.id)
    expect(await titlesOf(handed)).toEqual(before)
  })

  test('that two would have are refused, with which; so are none and too long ones', async () => {
    const handed = await handedOut(2)
    const { body } = await single(handed, {
      copyIds: handed.copyIds,
      renaming: { how: 'another title', text: 'The same' },
    }).expect(422)
    expect((body as { detail: string }).detail).toBe(
      'Two copies would be called “The same”: say what tells them apart.',
    )
    await single(handed, { copyIds: handed.copyIds, renaming: { how: 'before', text: 'x'.repeat(201) } }).expect(422)
    await single(handed, { copyIds: handed.copyIds.slice(1), renaming: { how: 'another title', text: '  ' } }).expect(
      422,
    )
    await single(handed, { copyIds: [], renaming: { how: 'before', text: 'x' } }).expect(409)
  })

  test('are for the copies of this handout alone, and only by its teachers', async () => {
    const handed = await handedOut(1)
    const other = await handedOut(1)
    await single(handed, { copyIds: other.copyIds, may: 'view' }).expect(409)
    await single(handed, { copyIds: handed.copyIds, may: 'view' }, other.of.teacher).expect(404)
    const student = await school.signInByEmail(handed.of.emails[0]!)
    await single(handed, { copyIds: handed.copyIds, may: 'edit' }, student).expect(404)
  })
})

describe('a permission of their own', () => {
  test('holds for these copies, at once where they are open', async () => {
    const handed = await handedOut(2)
    const ana = await school.signInByEmail(handed.of.emails[0]!)
    const live = await LiveClient.open(school.url, ana.cookie, handed.copyIds[0]!)
    expect((await singleProof(handed, { copyIds: [handed.copyIds[0]], may: 'comment' })).permitted).toBe(1)
    await single(handed, { copyIds: [handed.copyIds[0]], may: 'comment' }).expect(202)
    await school.finished(handed.of.teacher, handed.id)
    await live.message((message) => message.type === 'permission' && message.permission === 'comment')
    live.close()
    const ben = await school.signInByEmail(handed.of.emails[1]!)
    await write(ben, handed.copyIds[1]!, 'line', 'still mine')
    await single(handed, { copyIds: handed.copyIds, may: null }).expect(202)
    await school.finished(handed.of.teacher, handed.id)
    await write(ana, handed.copyIds[0]!, 'line', 'mine again')
  })
})

test('to the newest edition go those that are chosen; all others stay, also when the slip is handed out again', async () => {
  const of = await school.classOf(3)
  const worksheetId = await school.worksheetOf(of.teacher, 'Quay', [QUESTION('q', 'Why?'), LINE('line')])
  const id = await given(of, statementFor(of.id, worksheetId))
  const copies = await school.copiesByEmail(id)
  const handed = { of, id, copyIds: of.emails.map((email) => copies.get(email)!) }
  await single(handed, { copyIds: handed.copyIds, newest: true }).expect(409)
  await school.keepEdition(of.teacher, worksheetId, 'Quay', [QUESTION('q', 'Why so?'), LINE('line')])
  expect((await singleProof(handed, { copyIds: [handed.copyIds[0]], newest: true })).moved).toMatchObject([
    { from: 1, to: 2 },
  ])
  await single(handed, { copyIds: [handed.copyIds[0]], newest: true }).expect(202)
  await school.finished(of.teacher, id)
  const editions = async () => new Map((await rowsOf(id)).map((row) => [row.id, row.edition]))
  expect(
    handed.copyIds.map(
      (
        (all) => (copyId: string) =>
          all.get(copyId)
      )(await editions()),
    ),
  ).toEqual([2, 1, 1])
  const { body } = await of.teacher.http.get(`/api/handouts/${id}/differences`).expect(200)
  expect(body).toEqual({ differences: null })
})

describe('submitting for them', () => {
  const enter = ({ of, id }: Handed, copyIds: readonly string[], submitted: boolean, person = of.teacher) =>
    person.http.post(`/api/handouts/${id}/submitted`).send({ copyIds, submitted })

  test('submits what is not in, stops the pens where it is open, and is taken back for them', async () => {
    const handed = await handedOut(3)
    const people = await Promise.all(handed.of.emails.map((email) => school.signInByEmail(email)))
    await people[2]!.http.post(`/api/copies/${handed.copyIds[2]!}/submit`).expect(200)
    const live = await LiveClient.open(school.url, people[0]!.cookie, handed.copyIds[0]!)
    const { body } = await enter(handed, handed.copyIds, true).expect(200)
    const entered = body as { done: string[]; passed: { copyId: string }[] }
    expect(entered.done.toSorted()).toEqual(handed.copyIds.slice(0, 2).toSorted())
    expect(entered.passed).toMatchObject([{ copyId: handed.copyIds[2] }])
    await live.message((message) => message.type === 'permission' && message.permission !== 'edit')
    live.close()
    expect(await stateOf(people[1]!, handed.copyIds[1]!)).toBe('submitted')
    // Whose it is reads who did it; who submitted their own reads nothing of it.
    const by = async (at: number) =>
      (
        (await people[at]!.http.get(`/api/copies/${handed.copyIds[at]!}`).expect(200)).body as {
          handingIn: object | null
        }
      ).handingIn
    expect(await by(1)).toMatchObject({ kind: 'submitted', isStaff: true, isSelf: false })
    expect(await by(2)).toBeNull()
    await enter(handed, entered.done, false).expect(200)
    expect(await stateOf(people[1]!, handed.copyIds[1]!)).toBe('taken back')
    await write(people[1]!, handed.copyIds[1]!, 'line', 'one word more')
    // What was never submitted cannot be taken back.
    const other = await handedOut(1)
    const again = (await enter(other, other.copyIds, false).expect(200)).body as { passed: unknown[] }
    expect(again.passed).toHaveLength(1)
  })

  test('is for teachers of the class, and of its own copies alone', async () => {
    const handed = await handedOut(1)
    const other = await handedOut(1)
    const student = await school.signInByEmail(handed.of.emails[0]!)
    await enter(handed, handed.copyIds, true, student).expect(404)
    const { body } = await enter(handed, other.copyIds, true).expect(200)
    expect(body).toEqual({ done: [], passed: [] })
  })
})

describe('one comment on all', () => {
  const named = (copyIds: readonly string[]) =>
    copyIds.map((copyId) => ({ copyId, threadId: randomUUID(), commentId: randomUUID() }))
  const said = async (person: TestPerson, copyId: string) =>
    (
      (await person.http.get(`/api/copies/${copyId}/comments`).expect(200)).body as {
        threads: { comments: { text: string; isDeleted: boolean }[] }[]
      }
    ).threads.flatMap(({ comments }) => comments.filter(({ isDeleted }) => !isDeleted).map(({ text }) => text))

  test('stands in each copy once, however often it is sent, and is taken back from all', async () => {
    const handed = await handedOut(2)
    const of = named(handed.copyIds)
    const say = () =>
      handed.of.teacher.http.post(`/api/handouts/${handed.id}/comments`).send({ text: 'Look at the units.', of })
    expect((await say().expect(200)).body).toEqual({ failed: [] })
    expect((await say().expect(200)).body).toEqual({ failed: [] })
    const ana = await school.signInByEmail(handed.of.emails[0]!)
    expect(await said(ana, handed.copyIds[0]!)).toEqual(['Look at the units.'])
    await handed.of.teacher.http.post(`/api/handouts/${handed.id}/comments/take-back`).send({ of }).expect(200)
    expect(await said(ana, handed.copyIds[0]!)).toEqual([])
  })

  test('is of the copies of this handout alone, by its staff alone', async () => {
    const handed = await handedOut(1)
    const other = await handedOut(1)
    const student = await school.signInByEmail(handed.of.emails[0]!)
    const send = (person: TestPerson, copyIds: readonly string[]) =>
      person.http.post(`/api/handouts/${handed.id}/comments`).send({ text: 'Hello', of: named(copyIds) })
    expect((await send(handed.of.teacher, other.copyIds).expect(200)).body).toMatchObject({
      failed: [{ copyId: other.copyIds[0] }],
    })
    expect((await send(student, handed.copyIds).expect(200)).body).toMatchObject({
      failed: [{ copyId: handed.copyIds[0] }],
    })
  })
})

describe('a message', () => {
  const letters = ({ of, id }: Handed, path: string, body: object) =>
    of.teacher.http.post(`/api/handouts/${id}/reminders${path}`).send(body)

  test('goes to whoever holds one of the copies, in whatever state these are', async () => {
    const handed = await handedOut(2)
    const ana = await school.signInByEmail(handed.of.emails[0]!)
    await ana.http.post(`/api/copies/${handed.copyIds[0]!}/submit`).expect(200)
    const wish = { copyIds: handed.copyIds, words: 'We meet at the slipway.', about: 'message' }
    const { body } = await letters(handed, '/proof', wish).expect(200)
    const proof = body as { goes: unknown[]; example: { subject: string; text: string } }
    expect(proof.goes).toHaveLength(2)
    expect(proof.example.subject).toContain('a message from')
    expect(proof.example.text).toContain('We meet at the slipway.')
    await letters(handed, '', { ...wish, words: ' ' }).expect(422)
    expect((await letters(handed, '', wish).expect(200)).body).toMatchObject({ sent: 2 })
    // Also to who has submitted: it is not about what is missing.
    const states = () =>
      school.source.query<{ state: string }[]>(
        'SELECT m.state FROM message m JOIN reminder r ON r.message_id = m.id WHERE r.copy_id = ANY ($1::uuid[])',
        [handed.copyIds],
      )
    while ((await states()).some(({ state }) => state === 'waiting'));
    expect((await states()).map(({ state }) => state)).toEqual(['sent', 'sent'])
  })

  test('about an answered question goes to who asked it and has not seen the answer', async () => {
    const handed = await handedOut(2)
    const ana = await school.signInByEmail(handed.of.emails[0]!)
    const copyId = handed.copyIds[0]!
    const threadId = randomUUID()
    const ask = (person: TestPerson, text: string, begins: object | null) =>
      person.http.put(`/api/copies/${copyId}/comments/${randomUUID()}`).send({ text, threadId, begins }).expect(200)
    await ask(ana, 'Which tide?', { kind: 'question', staffOnly: true, anchor: { is: 'copy' } })
    const wish = { copyIds: handed.copyIds, words: '', about: 'question answered' }
    const goes = async () =>
      ((await letters(handed, '/proof', wish).expect(200)).body as { goes: { of: string }[] }).goes
    expect(await goes()).toEqual([])
    await ask(handed.of.teacher, 'The morning one.', null)
    expect(await goes()).toMatchObject([{ of: 'question answered' }])
    await ana.http.post(`/api/copies/${copyId}/comments/seen`).expect(204)
    expect(await goes()).toEqual([])
  })
})
