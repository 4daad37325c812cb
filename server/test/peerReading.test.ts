import { type Peers, plainPeers } from '@gavrin/core'
import { afterAll, beforeAll, expect, test } from '@jest/globals'
import { randomUUID } from 'node:crypto'
import { copiesIn } from './support/copies.js'
import { LiveClient } from './support/liveClient.js'
import { type TestClass, type TestPerson, TestSchool, changesNow, statementFor } from './support/school.js'

let school: TestSchool
beforeAll(async () => {
  school = await TestSchool.open()
})
afterAll(() => school.close())
const { given, walksIn, rowsOf } = copiesIn(() => school)

interface Opened {
  asReader: {
    lookFor: string[]
    until: number | null
    isNamed: boolean
    doneAt: number | null
    comments: number
  } | null
  readBy: { name: string | null; openedAt: number | null; doneAt: number | null; comments: number }[] | null
}

interface Given {
  of: TestClass
  id: string
  copyId: string
  holder: TestPerson
  reader: TestPerson
  mate: TestPerson
}

/** A class of three with one reader for each copy, and the copy of the first. */
async function begin(peers: Partial<Peers>): Promise<Given> {
  const of = await school.classOf(3)
  const wish = { ...plainPeers(1), ...peers }
  const id = await given(of, statementFor(of.id, (await school.worksheet(of.teacher)).id, null, { peers: wish }))
  const people = await Promise.all(of.emails.map((email) => school.signInByEmail(email)))
  const copyId = (await school.copiesByEmail(id)).get(of.emails[0]!)!
  const [row] = await school.source.query<{ person_id: string }[]>(
    'SELECT person_id FROM copy_reader WHERE copy_id = $1',
    [copyId],
  )
  const reader = people.find(({ viewer }) => viewer.personId === row!.person_id)!
  const mate = people.find((one) => one !== people[0] && one !== reader)!
  return { of, id, copyId, holder: people[0]!, reader, mate }
}

const open = async (person: TestPerson, copyId: string) =>
  (await person.http.get(`/api/copies/${copyId}`).expect(200)).body as Opened
const say = (person: TestPerson, copyId: string, text: string) =>
  person.http.put(`/api/copies/${copyId}/comments/${randomUUID()}`).send({
    text,
    threadId: randomUUID(),
    begins: { kind: 'comment', staffOnly: false, anchor: { is: 'copy' } },
  })
const names = async (person: TestPerson, copyId: string) => {
  const { body } = await person.http.get(`/api/copies/${copyId}/comments`).expect(200)
  return (body as { threads: { comments: { name: string }[] }[] }).threads.flatMap(({ comments }) =>
    comments.map(({ name }) => name),
  )
}
const toRead = async (person: TestPerson) => (await person.http.get('/api/copies/reading').expect(200)).body as object[]

test('a reader is told what to look for and until when; their desk ticks off what is read and commented', async () => {
  const until = Date.now() + 86_400_000
  const { of, copyId, holder, reader, mate } = await begin({ lookFor: ['Is each step clear?'], until })
  expect(await toRead(reader)).toMatchObject([{ id: copyId, until, openedAt: null, doneAt: null, comments: 0 }])
  expect(await open(reader, copyId)).toMatchObject({
    asReader: { lookFor: ['Is each step clear?'], until, isNamed: true, doneAt: null },
    readBy: null,
  })
  await say(reader, copyId, 'The third is not.').expect(200)
  await reader.http.put(`/api/copies/${copyId}/reading`).send({ done: true }).expect(204)
  expect(await toRead(reader)).toMatchObject([
    { openedAt: expect.any(Number), doneAt: expect.any(Number), comments: 1 },
  ])
  // Whose copy it is and the teacher see how far it is; a classmate has nothing to say of it.
  for (const person of [holder, of.teacher])
    expect(await open(person, copyId)).toMatchObject({
      asReader: null,
      readBy: [{ name: expect.stringMatching(/^First/), doneAt: expect.any(Number), comments: 1 }],
    })
  await reader.http.put(`/api/copies/${copyId}/reading`).send({ done: false }).expect(204)
  expect((await open(holder, copyId)).readBy).toMatchObject([{ doneAt: null }])
  for (const person of [holder, of.teacher])
    await person.http.put(`/api/copies/${copyId}/reading`).send({ done: true }).expect(403)
  await mate.http.put(`/api/copies/${copyId}/reading`).send({ done: true }).expect(404)
})

test('readers who are not named are so nowhere: not by their comments, not where they are, not once they are', async () => {
  const { of, id, copyId, holder, reader } = await begin({ named: false })
  await say(reader, copyId, 'Who wrote this?').expect(200)
  expect(await names(holder, copyId)).toEqual(['Peer reader 1'])
  expect(await names(of.teacher, copyId)).toEqual([expect.stringMatching(/^First/)])
  expect((await open(holder, copyId)).readBy).toMatchObject([{ name: null, comments: 1 }])
  expect((await open(of.teacher, copyId)).readBy).toMatchObject([{ name: expect.stringMatching(/^First/) }])

  const [first, second] = [
    await LiveClient.open(school.url, holder.cookie, copyId),
    await LiveClient.open(school.url, reader.cookie, copyId),
  ]
  // What the holder's window is told over the live connection: who is here, and what is said.
  const told = () => JSON.stringify(first.messages)
  await first.until(() => told().includes('A peer reader'))
  await say(reader, copyId, 'And this?').expect(200)
  await first.until(() => told().includes('And this?'))
  const readersName = (await names(of.teacher, copyId))[0]!
  expect(readersName).toMatch(/^First/)
  expect(told()).not.toContain(readersName)
  first.close()
  second.close()

  // Who sees it, and why: to whose it is a reader without a name, to the staff with it; to nobody else at all.
  const seenBy = async (person: TestPerson) => {
    const { body } = await person.http.get(`/api/copies/${copyId}/access`).expect(200)
    const { people } = body as {
      people: { name: string | null; ground: string; permission: string; isSelf: boolean }[]
    }
    return people.map(({ name, ground, permission }) => [name && name.split(' ')[0], ground, permission])
  }
  expect(await seenBy(holder)).toEqual(
    expect.arrayContaining([
      ['First0', 'holder', 'edit'],
      [null, 'peer reader', 'comment'],
      ['Lead', 'teacher', 'comment'],
    ]),
  )
  expect(await seenBy(of.teacher)).toEqual(
    expect.arrayContaining([[expect.stringMatching(/^First[12]/), 'peer reader', 'comment']]),
  )
  await reader.http.get(`/api/copies/${copyId}/access`).expect(403)

  // Named from now on: what was said before is not.
  const statement = statementFor(of.id, (await school.worksheet(of.teacher)).id)
  const { body } = await of.teacher.http.get(`/api/handouts/${id}`).expect(200)
  const { items } = (body as { given: typeof statement }).given
  const peers = { ...items[0]!.peers!, named: true }
  await school.mend(of.teacher, id, { ...statement, items: [{ ...items[0]!, peers }] })
  await say(reader, copyId, 'Signed.').expect(200)
  expect((await names(holder, copyId)).map((name) => name.replace(/^First.*/, 'First'))).toEqual([
    'Peer reader 1',
    'Peer reader 1',
    'First',
  ])
})

test('guests who come and go, and are matched, change no reader', async () => {
  const { of, id, holder } = await begin({})
  const guest = await walksIn(of, id, 'First', 'edit')
  expect(await changesNow(of.teacher, id)).toEqual([])
  await of.teacher.http
    .post(`/api/handouts/${id}/walk-ins/first/guests/${guest.viewer.personId}/match`)
    .send({ studentId: holder.viewer.personId, beside: false })
    .expect(200)
  expect(await changesNow(of.teacher, id)).toEqual([])
  expect((await rowsOf(id)).filter(({ set_aside }) => set_aside)).toHaveLength(1)
})
