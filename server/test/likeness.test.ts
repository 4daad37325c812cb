import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { LINE, QUESTION, copiesIn } from './support/copies.js'
import { LiveClient, paragraphOf } from './support/liveClient.js'
import { type TestClass, type TestPerson, TestSchool, statementFor } from './support/school.js'

// Copies that are alike: for teachers of the class, by what is written in them, with how and when it came.

let school: TestSchool
beforeAll(async () => {
  school = await TestSchool.open()
})
afterAll(() => school.close())
const { given, write } = copiesIn(() => school)

const SHARED =
  'My grandfather keeps his boat behind the sill and he counts back from the top of the tide never from the table alone'
const PRINT =
  'The water rises twice a day because the moon pulls at the sea and the earth turns beneath it every single day'

interface Found {
  compared: { own: number; others: number; unread: number }
  pairs: { a: string; b: string; words: number; runs: { a: { space: string; from: number; to: number } }[] }[]
  copies: { copyId: string; name: string; isOwn: boolean }[]
  texts: { id: string; parts: { space: string; text: string; question: string }[] }[]
  beside: string[]
}
const compared = async (person: TestPerson, id: string, wish: object = {}): Promise<Found> =>
  (
    await person.http
      .post(`/api/handouts/${id}/likeness`)
      .send({ withOthers: false, beside: [], ...wish })
      .expect(200)
  ).body as Found

/** A class of three that writes: two of them the same. */
async function alike(teacher?: TestPerson, worksheet?: string) {
  const of: TestClass = await school.classOf(3, teacher)
  const worksheetId =
    worksheet ?? (await school.worksheetOf(of.teacher, 'Sill', [QUESTION('q', PRINT), LINE('line'), LINE('more')]))
  const id = await given(of, statementFor(of.id, worksheetId))
  const copies = await school.copiesByEmail(id)
  const copyIds = of.emails.map((email) => copies.get(email)!)
  const people = await Promise.all(of.emails.map((email) => school.signInByEmail(email)))
  return { of, id, worksheetId, copyIds, people }
}

describe('likeness', () => {
  test('tells which copies share words, where, and to which question; the print is left out', async () => {
    const { of, id, copyIds, people } = await alike()
    await write(people[0]!, copyIds[0]!, 'line', `We think so. ${SHARED}`)
    await write(people[1]!, copyIds[1]!, 'line', `${SHARED.toUpperCase()}!`)
    await write(people[2]!, copyIds[2]!, 'line', PRINT)
    await write(people[0]!, copyIds[0]!, 'more', PRINT)
    let found: Found
    // What is written is counted a moment after it is saved, and only copies with something in them are compared.
    do found = await compared(of.teacher, id)
    while (found.compared.own < 3)
    expect(found.compared).toEqual({ own: 3, others: 0, unread: 0 })
    expect(found.pairs).toHaveLength(1)
    const [pair] = found.pairs
    expect([pair!.a, pair!.b].toSorted()).toEqual(copyIds.slice(0, 2).toSorted())
    expect(pair!.words).toBe(SHARED.split(' ').length)
    const text = found.texts.find((one) => one.id === pair!.a)!.parts[0]!
    expect(text.question).toBe(PRINT)
    const { from, to } = pair!.runs[0]!.a
    expect(text.text.slice(from, to).toLowerCase()).toBe(SHARED.toLowerCase())
    expect(found.copies.map(({ name }) => name)).toContain('First0 Last0000')
  })

  test('against a text put beside, and copies of the same worksheet in one’s other classes', async () => {
    const first = await alike()
    await write(first.people[0]!, first.copyIds[0]!, 'line', SHARED)
    const second = await alike(first.of.teacher, first.worksheetId)
    await write(second.people[0]!, second.copyIds[0]!, 'line', SHARED)
    let found: Found
    do found = await compared(second.of.teacher, second.id, { withOthers: true })
    while (found.compared.own + found.compared.others < 2)
    expect(found.pairs.map(({ a, b }) => [a, b])).toEqual([[second.copyIds[0], first.copyIds[0]]])
    expect(found.copies.map(({ isOwn }) => isOwn).toSorted()).toEqual([false, true])
    const beside = await compared(second.of.teacher, second.id, {
      beside: [{ name: 'A page', text: `Chapter one. ${SHARED}.` }],
    })
    expect(beside.pairs.map(({ a, b }) => [a, b])).toEqual([[second.copyIds[0], 'beside 0']])
    expect(beside.beside).toEqual(['A page'])
    // A colleague who teaches but one of the classes sees nothing of the other.
    const colleague = await school.person('teacher', 'Kai')
    await second.of.teacher.http
      .post(`/api/classes/${second.of.id}/staff`)
      .send({ email: colleague.email, role: 'co-teacher', studentIds: [] })
      .expect(201)
    expect((await compared(colleague, second.id, { withOthers: true })).compared.others).toBe(0)
  })

  test('mates of the groups it was given by are not compared', async () => {
    const of = await school.classOf(2)
    const set = await school.groupSet(of, 'Crews', { Crane: [0, 1] })
    const worksheetId = await school.worksheetOf(of.teacher, 'Sill', [QUESTION('q', 'Why?'), LINE('line')])
    const statement = statementFor(of.id, worksheetId)
    const items = [{ ...statement.items[0]!, groupSet: { id: set.id, name: 'Crews' } }]
    const id = await given(of, { ...statement, items })
    const copies = await school.copiesByEmail(id)
    for (const email of of.emails) await write(await school.signInByEmail(email), copies.get(email)!, 'line', SHARED)
    let found: Found
    do found = await compared(of.teacher, id)
    while (found.compared.own < 2)
    expect(found.pairs).toEqual([])
  })

  test('how it came is told from the log: typed, or in one piece', async () => {
    const of = await school.classOf(2)
    const worksheetId = await school.worksheetOf(of.teacher, 'Sill', [
      QUESTION('q', 'Why?'),
      { id: 'passage', kind: 'passage', lines: 4 },
    ])
    const id = await given(of, statementFor(of.id, worksheetId))
    const copies = await school.copiesByEmail(id)
    const copyIds = of.emails.map((email) => copies.get(email)!)
    const people = await Promise.all(of.emails.map((email) => school.signInByEmail(email)))
    const clients = await Promise.all(people.map(({ cookie }, at) => LiveClient.open(school.url, cookie, copyIds[at]!)))
    const put = async (client: LiveClient, words: string) => {
      const number = client.write('passage', (doc) => {
        const letters = paragraphOf(doc)
        letters.insert(letters.length, words)
      })
      await client.saved(number)
    }
    for (const word of SHARED.split(' ')) await put(clients[0]!, `${word} `)
    await put(clients[1]!, SHARED)
    for (const client of clients) client.close()
    const asked = copyIds.map((copyId) => ({ copyId, space: 'passage', words: SHARED }))
    const { body } = await of.teacher.http.post(`/api/handouts/${id}/likeness/came`).send({ runs: asked }).expect(200)
    const [typed, pasted] = body as { inOnePiece: boolean; changes: number; by: string; ended: number; began: number }[]
    expect(typed).toMatchObject({ inOnePiece: false, by: 'First0 Last0000' })
    expect(typed!.changes).toBeGreaterThan(15)
    expect(pasted).toMatchObject({ inOnePiece: true, by: 'First1 Last0001', changes: 1 })
    expect(pasted!.began).toBeGreaterThanOrEqual(typed!.ended)
    // Of what is not there, and of a copy of a class that is not one's own, nothing.
    const none = [{ copyId: copyIds[0], space: 'passage', words: 'Nothing of this was ever written here' }]
    expect(
      (await of.teacher.http.post(`/api/handouts/${id}/likeness/came`).send({ runs: none }).expect(200)).body,
    ).toEqual([null])
    const other = await alike()
    await of.teacher.http
      .post(`/api/handouts/${id}/likeness/came`)
      .send({ runs: [{ copyId: other.copyIds[0], space: 'line', words: SHARED }] })
      .expect(404)
  })

  test('a copy into which more was put than can be read is left out, and said; the others are compared', async () => {
    const { of, id, copyIds, people } = await alike()
    for (const at of [0, 1, 2]) await write(people[at]!, copyIds[at]!, 'line', SHARED)
    await school.source.query(
      `INSERT INTO live_update (school_id, copy_id, space, seq, person_id, at, bytes) VALUES ($1, $2, 'more', 1, $3, now(), $4)`,
      [school.schoolId, copyIds[2], people[2]!.viewer.personId, Buffer.alloc(4_000_001)],
    )
    let found: Found
    do found = await compared(of.teacher, id)
    while (found.compared.own < 3)
    expect(found.compared.unread).toBe(1)
    expect(found.pairs.map(({ a, b }) => [a, b].toSorted())).toEqual([copyIds.slice(0, 2).toSorted()])
  })

  test('what is too long, or too much, is refused in a sentence', async () => {
    const { of, id } = await alike()
    const send = (beside: object[]) =>
      of.teacher.http.post(`/api/handouts/${id}/likeness`).send({ withOthers: false, beside }).expect(422)
    await send([{ name: 'x', text: 'x'.repeat(100_001) }])
    await send(Array.from({ length: 11 }, () => ({ name: 'x', text: 'x' })))
  })
})
