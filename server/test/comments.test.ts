import {
  type Anchor,
  type KeptThread,
  type ServerMessage,
  type ThreadSeen,
  anchorAtWords,
  askedTogether,
} from '@gavrin/core'
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { randomUUID } from 'node:crypto'
import { copiesIn } from './support/copies.js'
import { LiveClient } from './support/liveClient.js'
import { type TestClass, type TestPerson, TestSchool } from './support/school.js'

let school: TestSchool
let given: TestClass
let students: TestPerson[]
const clients: LiveClient[] = []

beforeAll(async () => {
  school = await TestSchool.open()
  given = await school.classOf(3)
  students = await Promise.all(given.emails.map((email) => school.signInByEmail(email)))
})
afterAll(async () => {
  for (const client of clients) client.close()
  await school.close()
})

async function open(person: TestPerson, copyId: string): Promise<LiveClient> {
  const client = await LiveClient.open(school.url, person.cookie, copyId)
  clients.push(client)
  return client
}

const { shared, walksIn } = copiesIn(() => school)

/** The first student's own copy. */
async function own(): Promise<{ handoutId: string; copyId: string }> {
  const { id, copies } = await school.handedOut(given)
  return { handoutId: id, copyId: copies.get(given.emails[0]!)! }
}

type Question = Parameters<typeof askedTogether>[0][number] & { readonly threadId: string }

interface Said {
  readonly text?: string
  readonly commentId?: string
  readonly threadId?: string
  readonly kind?: KeptThread['kind']
  readonly staffOnly?: boolean
  readonly anchor?: Anchor | object
}

function send(person: TestPerson, copyId: string, said: Said = {}) {
  const { text = 'Who is that?', commentId = randomUUID(), threadId = randomUUID() } = said
  const { kind = 'comment', staffOnly = false, anchor = { is: 'copy' } } = said
  return person.http
    .put(`/api/copies/${copyId}/comments/${commentId}`)
    .send({ text, threadId, begins: { kind, staffOnly, anchor } })
}
const seenIn = ({ body }: { body: unknown }) => (body as { thread: ThreadSeen | null }).thread
const begin = async (person: TestPerson, copyId: string, said: Said = {}): Promise<ThreadSeen> =>
  seenIn(await send(person, copyId, said).expect(200))!
const reply = (person: TestPerson, copyId: string, threadId: string, text: string) =>
  person.http.put(`/api/copies/${copyId}/comments/${randomUUID()}`).send({ text, threadId, begins: null })
const listed = async (person: TestPerson, copyId: string): Promise<ThreadSeen[]> =>
  ((await person.http.get(`/api/copies/${copyId}/comments`).expect(200)).body as { threads: ThreadSeen[] }).threads
const wordsIn = (threads: readonly ThreadSeen[]) => threads.map(({ comments }) => comments.map(({ text }) => text))

type Told = Extract<ServerMessage, { type: 'comments' }>
const isTold = (message: ServerMessage): message is Told => message.type === 'comments'
const told = async (client: LiveClient, is: (message: Told) => boolean): Promise<Told> =>
  (await client.message((message) => isTold(message) && is(message))) as Told

describe('a comment', () => {
  test('is kept, and shown in every open window of those who see the copy', async () => {
    const { copyId } = await shared(given)
    const [writer, teacher] = await Promise.all([open(students[1]!, copyId), open(given.teacher, copyId)])
    const thread = await begin(students[0]!, copyId)
    expect(thread).toMatchObject({ kind: 'comment', isMine: true, mayReply: true, mayDo: true })
    for (const [client, isMine] of [
      [writer, false],
      [teacher, false],
    ] as const) {
      const { threads, gone } = await told(client, ({ threads }) => threads.some(({ id }) => id === thread.id))
      expect(gone).toEqual([])
      expect(threads[0]).toMatchObject({ isMine, comments: [{ text: 'Who is that?', name: 'First0 Last0000' }] })
    }
    expect(wordsIn(await listed(students[2]!, copyId))).toEqual([['Who is that?']])
  })

  test('sent twice is there once; in other words it is changed, by who wrote it alone', async () => {
    const { copyId } = await shared(given)
    const [commentId, threadId] = [randomUUID(), randomUUID()]
    await begin(students[0]!, copyId, { commentId, threadId })
    const again = await begin(students[0]!, copyId, { commentId, threadId })
    expect(again.comments).toHaveLength(1)
    expect(again.comments[0]!.editedAt).toBeNull()
    const changed = await begin(students[0]!, copyId, { commentId, threadId, text: 'Who is he?' })
    expect(changed.comments[0]).toMatchObject({ text: 'Who is he?' })
    expect(changed.comments[0]!.editedAt).not.toBeNull()
    await send(students[1]!, copyId, { commentId, threadId, text: 'Mine now' }).expect(403)
    await send(given.teacher, copyId, { commentId, threadId, text: 'Mine now' }).expect(403)
    expect(wordsIn(await listed(students[0]!, copyId))).toEqual([['Who is he?']])
  })

  test('on words follows them in what is written, and is read strictly', async () => {
    const { copyId } = await own()
    const writer = await open(students[0]!, copyId)
    await writer.saved(writer.type('The harbour master waited.'))
    const anchor = anchorAtWords({ space: 'line', kind: 'line' }, writer.doc('line'), { from: 4, to: 18 })!
    const thread = await begin(given.teacher, copyId, { anchor })
    expect(thread.anchor).toEqual(anchor)
    for (const bad of [
      { is: 'words', space: 'line' },
      { is: 'space', space: 'nowhere' },
      { is: 'print', block: 'nowhere', from: 0, words: 'x', before: '', after: '' },
    ])
      expect((await send(given.teacher, copyId, { anchor: bad }).expect(422)).body).toMatchObject({
        errors: [{ field: 'anchor' }],
      })
    await begin(given.teacher, copyId, {
      anchor: { is: 'print', block: 'q', from: 5, words: 'is high', before: 'When ', after: ' water' },
    })
  })

  test('takes so many letters and no more, says so, and none of nothing', async () => {
    const { copyId } = await own()
    for (const text of ['   ', 'a'.repeat(10_000)])
      expect((await send(given.teacher, copyId, { text }).expect(422)).body).toMatchObject({
        errors: [{ field: 'text' }],
      })
    expect(await listed(given.teacher, copyId)).toEqual([])
  })

  test('is deleted, brought back by who deleted it, and gone from all open windows meanwhile', async () => {
    const { copyId } = await shared(given)
    const other = await open(students[1]!, copyId)
    const { id, comments } = await begin(students[0]!, copyId)
    const at = `/api/copies/${copyId}/comments/${comments[0]!.id}`
    await students[1]!.http.post(`${at}/delete`).expect(403)
    const gone = seenIn(await given.teacher.http.post(`${at}/delete`).expect(200))!
    expect(gone.comments[0]).toMatchObject({ isDeleted: true, text: '' })
    expect((await told(other, (message) => message.gone.includes(id))).threads).toEqual([])
    expect(await listed(students[1]!, copyId)).toEqual([])
    // Who wrote it does not undo what a teacher did.
    await students[0]!.http.post(`${at}/bring-back`).expect(404)
    await given.teacher.http.post(`${at}/bring-back`).expect(200)
    expect(wordsIn(await listed(students[1]!, copyId))).toEqual([['Who is that?']])
  })

  test('is not for who may only look, nor in a copy set aside, nor for a stranger', async () => {
    const { copyId } = await shared(given, { holdersMay: 'view' })
    await send(students[0]!, copyId).expect(403)
    const aside = await own()
    await school.source.query('UPDATE copy SET set_aside = true WHERE id = $1', [aside.copyId])
    await send(students[0]!, aside.copyId).expect(403)
    await send(students[1]!, aside.copyId).expect(404)
    const stranger = await school.person('teacher', 'Stranger')
    await stranger.http.get(`/api/copies/${copyId}/comments`).expect(404)
    await send(stranger, copyId).expect(404)
  })

  test('of another copy is not reached by its ids', async () => {
    const [mine, other] = [await own(), await shared(given)]
    const { id, comments } = await begin(students[1]!, other.copyId)
    const there = `/api/copies/${mine.copyId}`
    await reply(students[0]!, mine.copyId, id, 'Here?').expect(404)
    await send(students[0]!, mine.copyId, { threadId: id }).expect(404)
    await send(students[0]!, mine.copyId, { commentId: comments[0]!.id }).expect(404)
    await students[0]!.http.post(`${there}/comments/${comments[0]!.id}/delete`).expect(404)
    await students[0]!.http.put(`${there}/threads/${id}`).send({ done: true }).expect(404)
  })

  test('of who sends them without end is put off, and others go on', async () => {
    const { copyId } = await shared(given)
    const thread = await begin(students[2]!, copyId)
    const { id } = thread.comments[0]!
    let status = 200
    for (let at = 0; at < 200 && status === 200; at++)
      status = (await send(students[2]!, copyId, { commentId: id, threadId: thread.id, text: `words ${at}` })).status
    expect(status).toBe(429)
    await begin(students[1]!, copyId)
  })

  test('that had arrived is kept also when it is sent again after the copy was closed to them', async () => {
    const { copyId } = await own()
    const said = { commentId: randomUUID(), threadId: randomUUID() }
    await begin(students[0]!, copyId, said)
    await school.source.query('UPDATE copy SET set_aside = true WHERE id = $1', [copyId])
    await begin(students[0]!, copyId, said)
    await send(students[0]!, copyId, { ...said, text: 'In other words' }).expect(403)
  })

  test('is not taken without end, nor made longer without end', async () => {
    const { copyId } = await shared(given)
    const { id, comments } = await begin(students[0]!, copyId)
    const [own] = comments
    const fill = (count: number, letters: number, personId: string) =>
      school.source.query(
        `INSERT INTO comment (school_id, id, copy_id, thread_id, person_id, by_staff, text)
         SELECT $1, gen_random_uuid(), $2, $3, $4, false, repeat('x', $6) FROM generate_series(1, $5::int)`,
        [school.schoolId, copyId, id, personId, count, letters],
      )
    await fill(29, 5_000, students[0]!.viewer.personId)
    const long = 'a'.repeat(5_000)
    expect((await send(students[0]!, copyId, { text: long }).expect(409)).body).toMatchObject({
      code: 'too-many-comments',
    })
    await begin(students[0]!, copyId, { text: 'short' })
    await send(students[0]!, copyId, { commentId: own!.id, threadId: id, text: long }).expect(409)
    await fill(300, 1, students[1]!.viewer.personId)
    await send(students[1]!, copyId).expect(409)
    // One of them takes nothing from the others.
    await begin(given.teacher, copyId)
  })

  test('has a version that grows, so that what comes late is told from what is newer', async () => {
    const { copyId } = await own()
    const { id, version } = await begin(given.teacher, copyId)
    const next = seenIn(await reply(students[0]!, copyId, id, 'Is it?').expect(200))!
    expect(next.version).toBe(version + 1)
    expect((await listed(given.teacher, copyId))[0]!.version).toBe(next.version)
  })

  test('by two at once in the same thread: both are there', async () => {
    const { copyId } = await shared(given)
    const threadId = randomUUID()
    await Promise.all([
      begin(students[0]!, copyId, { threadId, text: 'one' }),
      begin(students[1]!, copyId, { threadId, text: 'two' }),
      begin(given.teacher, copyId, { threadId, text: 'three' }),
    ])
    const [thread] = await listed(given.teacher, copyId)
    expect(thread!.comments.map(({ text }) => text).toSorted()).toEqual(['one', 'three', 'two'])
  })
})

describe('a thing that is said', () => {
  test('is done with, and taken up again by the next word', async () => {
    const { copyId } = await shared(given)
    const { id } = await begin(students[0]!, copyId)
    const done = (person: TestPerson, is: boolean) =>
      person.http.put(`/api/copies/${copyId}/threads/${id}`).send({ done: is })
    expect(seenIn(await done(given.teacher, true).expect(200))!.done).toMatchObject({ by: 'Lead Tester' })
    const again = seenIn(await reply(students[1]!, copyId, id, 'Not quite.').expect(200))!
    expect(again.done).toBeNull()
    expect(again.comments).toHaveLength(2)
  })

  test('is new until it is seen', async () => {
    const { copyId } = await own()
    const news = async () =>
      ((await students[0]!.http.get('/api/copies').expect(200)).body as { id: string; newComments: number }[]).find(
        ({ id }) => id === copyId,
      )!.newComments
    expect(await news()).toBe(0)
    const { id } = await begin(given.teacher, copyId)
    await reply(given.teacher, copyId, id, 'And why?').expect(200)
    expect(await news()).toBe(2)
    await students[0]!.http.post(`/api/copies/${copyId}/comments/seen`).expect(204)
    expect(await news()).toBe(0)
  })
})

test('a class that keeps its students from commenting on one another, and its staff from being seen, does so at once', async () => {
  const of = await school.classOf(2)
  const [one, two] = await Promise.all(of.emails.map((email) => school.signInByEmail(email)))
  const { copyId } = await shared(of)
  const rules = (classmatesComment: boolean, staffShown: boolean) =>
    of.teacher.http
      .put(`/api/classes/${of.id}/rules`)
      .send({ classmatesComment, staffShown, helpersMark: false })
      .expect(204)
  const before = await begin(one!, copyId)
  const [window, theirs] = [await open(one!, copyId), await open(of.teacher, copyId)]
  const told = () => window.messages.flatMap((message) => (message.type === 'people' ? [message.people] : [])).at(-1)
  await window.until(() => told()?.some(({ isStaff }) => isStaff) === true)
  await rules(false, false)
  await window.until(() => told()?.every(({ isStaff }) => !isStaff) === true)
  expect((await send(one!, copyId).expect(403)).body).toMatchObject({ code: 'class' })
  expect((await reply(two!, copyId, before.id, 'Me too.').expect(403)).body).toMatchObject({ code: 'class' })
  await begin(two!, copyId, { kind: 'question' })
  const thread = await begin(of.teacher, copyId)
  await reply(one!, copyId, thread.id, 'Yes.').expect(200)
  expect((await one!.http.get(`/api/copies/${copyId}`).expect(200)).body).toMatchObject({ staffShown: false })
  await rules(true, true)
  await window.until(() => told()?.some(({ isStaff }) => isStaff) === true)
  await reply(two!, copyId, before.id, 'Me too.').expect(200)
  theirs.close()
})

describe('somebody who is named in a comment', () => {
  const named = async (person: TestPerson) =>
    ((await person.http.get('/api/desk/mentions').expect(200)).body as { text: string }[]).map(({ text }) => text)
  const people = async (person: TestPerson, copyId: string) =>
    (
      (await person.http.get(`/api/copies/${copyId}/comments`).expect(200)).body as {
        people: { id: string; name: string; seenAt: number | null }[]
      }
    ).people

  test('finds it on their desk until they have seen it; who has seen it is shown', async () => {
    const { copyId } = await shared(given)
    const teacher = (await people(students[0]!, copyId)).find(({ id }) => id === given.teacher.viewer.personId)!
    expect(teacher.seenAt).toBeNull()
    const { id, comments } = await begin(students[0]!, copyId, {
      text: `Look, @${teacher.name}! And @First1 Last0001.`,
    })
    expect(await named(given.teacher)).toEqual([`Look, @${teacher.name}! And @First1 Last0001.`])
    const mine = (await students[1]!.http.get('/api/copies').expect(200)).body as { id: string; newMentions: number }[]
    expect(mine.find((copy) => copy.id === copyId)).toMatchObject({ newMentions: 1 })
    // In other words it names nobody any more, and then somebody again.
    const change = (text: string) =>
      send(students[0]!, copyId, { commentId: comments[0]!.id, threadId: id, text }).expect(200)
    await change('Look!')
    expect(await named(given.teacher)).toEqual([])
    await change(`Look, @${teacher.name}!`)
    expect(await named(given.teacher)).toHaveLength(1)
    await given.teacher.http.post(`/api/copies/${copyId}/comments/seen`).expect(204)
    expect(await named(given.teacher)).toEqual([])
    const seen = (await people(students[0]!, copyId)).find(({ id: one }) => one === teacher.id)!
    expect(seen.seenAt).toBeGreaterThanOrEqual(comments[0]!.at)
  })

  test('is nobody who does not see it: not in a copy of somebody’s own, nor in what is for the staff', async () => {
    const { copyId } = await own()
    expect((await people(students[0]!, copyId)).map(({ id }) => id)).toEqual([given.teacher.viewer.personId])
    await begin(students[0]!, copyId, { text: '@First1 Last0001' })
    const { copyId: together } = await shared(given)
    const asked = { kind: 'question' as const, staffOnly: true, text: '@First1 Last0001 is unkind.' }
    const { id } = await begin(students[0]!, together, asked)
    await students[0]!.http.put(`/api/copies/${together}/threads/${id}`).send({ done: true }).expect(200)
    const [{ count }] = await school.source.query<[{ count: number }]>(
      `SELECT count(*)::int AS count FROM comment_mention n JOIN comment o ON o.id = n.comment_id WHERE o.copy_id = ANY($1)`,
      [[copyId, together]],
    )
    expect(count).toBe(0)
    const guest = await walksIn(given, (await shared(given)).handoutId, 'Mika', 'comment')
    const copies = (await guest.http.get('/api/copies').expect(200)).body as { id: string }[]
    expect((await people(guest, copies[0]!.id)).map(({ id }) => id)).toEqual([given.teacher.viewer.personId])
  })
})

describe('a question', () => {
  const waiting = async (person: TestPerson) =>
    (await person.http.get('/api/desk/questions').expect(200)).body as { threadId: string; text: string; by: string }[]
  const onBoard = async (handoutId: string) =>
    (
      (await given.teacher.http.get(`/api/handouts/${handoutId}/board`).expect(200)).body as {
        rows: { questions: number }[]
      }
    ).rows.reduce((sum, { questions }) => sum + questions, 0)

  test('stands on the desk and the board of the staff until it is answered, and again when it is asked on', async () => {
    const { copyId, handoutId } = await own()
    const { id } = await begin(students[0]!, copyId, { kind: 'question', text: 'May it be a drawing?' })
    expect(await waiting(given.teacher)).toMatchObject([
      { threadId: id, text: 'May it be a drawing?', by: 'First0 Last0000' },
    ])
    expect(await onBoard(handoutId)).toBe(1)
    expect(await waiting(students[0]!)).toEqual([])
    const answered = seenIn(await reply(given.teacher, copyId, id, 'Yes.').expect(200))!
    expect(answered.isWaiting).toBe(false)
    expect([await waiting(given.teacher), await onBoard(handoutId)]).toEqual([[], 0])
    await reply(students[0]!, copyId, id, 'In colour?').expect(200)
    expect(await waiting(given.teacher)).toMatchObject([{ threadId: id, text: 'In colour?' }])
    await students[0]!.http.put(`/api/copies/${copyId}/threads/${id}`).send({ done: true }).expect(200)
    expect([await waiting(given.teacher), await onBoard(handoutId)]).toEqual([[], 0])
  })

  test('asked by several of the same place is shown so, and answered once for all who still wait for it', async () => {
    const { copies } = await school.handedOut(given)
    const copyOf = (at: number) => copies.get(given.emails[at]!)!
    const asking = [0, 1, 2].map((at) => ({ copyId: copyOf(at), by: students[at]!, commentId: randomUUID() }))
    const asked: { copyId: string; commentId: string; threadId: string }[] = []
    for (const { copyId, by, commentId } of asking) {
      const said = { kind: 'question' as const, anchor: { is: 'space', space: 'line' }, text: 'In metres?' }
      asked.push({ copyId, commentId, threadId: (await begin(by, copyId, said)).id })
    }
    const listedNow = (await given.teacher.http.get('/api/desk/questions').expect(200)).body as Question[]
    const same = listedNow.filter(({ threadId }) => asked.some((one) => one.threadId === threadId))
    expect(askedTogether(same)).toHaveLength(1)
    expect(same[0]).toMatchObject({ asked: 'line', label: expect.stringMatching(/Answer 1/) })

    const answer = (person: TestPerson, text = 'Yes, in metres.') =>
      person.http.post('/api/desk/questions/answer').send({ text, to: asked })
    // No student answers for the staff, not even their own question, and nothing empty is sent to anybody.
    expect((await answer(students[0]!).expect(200)).body).toMatchObject({ failed: [{}, {}, {}] })
    expect((await answer(given.teacher, ' ').expect(422)).body).toMatchObject({ errors: [{ field: 'text' }] })
    const gone = { copyId: randomUUID(), threadId: randomUUID(), commentId: randomUUID() }
    const { body } = await given.teacher.http
      .post('/api/desk/questions/answer')
      .send({ text: 'Yes, in metres.', to: [...asked, gone] })
      .expect(200)
    expect((body as { failed: object[] }).failed).toMatchObject([{ threadId: gone.threadId }])
    // A second time it is there once.
    await answer(given.teacher).expect(200)
    for (const { by, copyId, threadId } of asking.map((one, at) => ({ ...one, ...asked[at]! }))) {
      const thread = (await listed(by, copyId)).find(({ id }) => id === threadId)!
      expect(thread.comments.map(({ text }) => text)).toEqual(['In metres?', 'Yes, in metres.'])
      expect(thread.isWaiting).toBe(false)
    }
  })

  test('for the staff alone reaches nobody else, in no window and no list', async () => {
    const { copyId } = await shared(given)
    const [other, teacher] = await Promise.all([open(students[1]!, copyId), open(given.teacher, copyId)])
    const { id } = await begin(students[0]!, copyId, { kind: 'question', staffOnly: true, text: 'I am lost.' })
    await told(teacher, ({ threads }) => threads.some((thread) => thread.id === id))
    await reply(students[1]!, copyId, id, 'What is it?').expect(404)
    // What is told after it has come, and it has not.
    const next = await begin(students[2]!, copyId)
    await told(other, ({ threads }) => threads.some((thread) => thread.id === next.id))
    const heard = other.messages.filter(isTold).flatMap(({ threads }) => threads)
    expect(heard.map((thread) => thread.id)).toEqual([next.id])
    expect((await listed(students[1]!, copyId)).map((thread) => thread.id)).toEqual([next.id])
    expect((await listed(students[0]!, copyId)).map((thread) => thread.id)).toEqual([id, next.id])
  })

  test('is asked by who was given a copy to look at, and not by the staff', async () => {
    const { copyId } = await shared(given, { holdersMay: 'view' })
    await begin(students[0]!, copyId, { kind: 'question' })
    await send(given.teacher, copyId, { kind: 'question' }).expect(403)
  })
})

test('a guest comments, is told no names of the class, and is not cleared away as one who wrote nothing', async () => {
  const { copyId, handoutId } = await shared(given)
  const mika = await walksIn(given, handoutId, 'Mika', 'comment')
  await begin(students[0]!, copyId)
  await begin(mika, copyId, { text: 'By a guest' })
  const names = (await listed(mika, copyId)).flatMap(({ comments }) => comments.map(({ name }) => name))
  expect(names).toEqual(['Somebody in the class', 'Mika'])
  await given.teacher.http.post(`/api/handouts/${handoutId}/walk-ins/first/clear`).send({ all: false }).expect(200)
  await begin(mika, copyId, { text: 'Still here' })
})

test('two records made one: what both said stands under the one that is kept', async () => {
  const of = await school.classOf(2)
  const [keep, other] = await Promise.all(of.emails.map((email) => school.signInByEmail(email)))
  const { copyId } = await shared(of)
  await begin(other!, copyId, { kind: 'question', staffOnly: true })
  await other!.http.post(`/api/copies/${copyId}/comments/seen`).expect(204)
  const office = await school.person('office', 'Merging')
  await office.http
    .post('/api/office/merge')
    .send({ keepId: keep!.viewer.personId, otherId: other!.viewer.personId })
    .expect(200)
  expect(await listed(keep!, copyId)).toMatchObject([{ isMine: true, isWaiting: true }])
})
