import type { BoardRow, ServerMessage } from '@gavrin/core'
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { copiesIn } from './support/copies.js'
import { LiveClient } from './support/liveClient.js'
import { type TestClass, type TestHandout, type TestPerson, TestSchool } from './support/school.js'

// Pens down and up: in all copies or some, now or in some minutes, on open pages, in journals, and undone.

let school: TestSchool
beforeAll(async () => {
  school = await TestSchool.open()
})
afterAll(() => school.close())
const { read } = copiesIn(() => school)

interface Moved {
  id: string
  changes: { copyId: string; after: { down: boolean; from: number | null } }[]
  same: string[]
  stayDown: string[]
}

async function handedOutTo(students: number, dueAt?: number | null) {
  const of = await school.classOf(students)
  const handout = await school.handedOut(of, dueAt)
  const copyIds = of.emails.map((email) => handout.copies.get(email)!)
  const people: TestPerson[] = []
  for (const email of of.emails) people.push(await school.signInByEmail(email))
  return { of, handout, copyIds, people }
}
const move = async (of: TestClass, handout: TestHandout, body: object): Promise<Moved> =>
  (await of.teacher.http.post(`/api/handouts/${handout.id}/pens`).send(body).expect(200)).body as Moved
const rowsOf = async (of: TestClass, handout: TestHandout): Promise<BoardRow[]> =>
  ((await of.teacher.http.get(`/api/handouts/${handout.id}/board`).expect(200)).body as { rows: BoardRow[] }).rows
const permission = (client: LiveClient, is: (message: Extract<ServerMessage, { type: 'permission' }>) => boolean) =>
  client.message((message) => message.type === 'permission' && is(message))
const journal = async (copyId: string): Promise<string[]> =>
  (
    await school.source.query<{ kind: string }[]>('SELECT kind FROM copy_journal WHERE copy_id = $1 ORDER BY number', [
      copyId,
    ])
  ).map(({ kind }) => kind)

describe('pens down now', () => {
  test('open pages are told, what comes after is late writing, and up again it goes on', async () => {
    const { of, handout, copyIds, people } = await handedOutTo(2)
    const client = await LiveClient.open(school.url, people[0]!.cookie, copyIds[0]!)
    await client.saved(client.type('in time'))
    const { changes } = await move(of, handout, { copyIds, act: 'down' })
    expect(changes.map(({ copyId }) => copyId).sort()).toEqual([...copyIds].sort())
    expect(await permission(client, (message) => message.permission === 'comment')).toMatchObject({
      reason:
        'Pens are down: your teacher has stopped writing in this copy. Only your teacher can let you write again.',
    })
    await client.late(client.type('5', 'number'))
    expect(await journal(copyIds[1]!)).toEqual(['given', 'pens down'])

    expect((await move(of, handout, { copyIds, act: 'down' })).same.sort()).toEqual([...copyIds].sort())
    await move(of, handout, { copyIds: [copyIds[0]!], act: 'up' })
    await permission(client, (message) => message.permission === 'edit')
    await client.saved(client.type(', and again', 'line'))
    expect(await read(of.teacher, copyIds[0]!, 'line')).toBe('in time, and again')
    expect((await rowsOf(of, handout)).map(({ pensDown }) => pensDown).sort()).toEqual([false, true])
    client.close()
  })

  test('of what is typed meanwhile all that is acknowledged before is in the answer, and nothing after', async () => {
    const { of, handout, copyIds, people } = await handedOutTo(3)
    const clients = await Promise.all(people.map(({ cookie }, at) => LiveClient.open(school.url, cookie, copyIds[at]!)))
    let isStopped = false
    const typing = clients.map(async (client) => {
      const answered = (number: number) =>
        client.message((message) => (message.type === 'saved' || message.type === 'late') && message.number >= number)
      let typed = ''
      for (let at = 0; !isStopped; at++) {
        const letter = String.fromCharCode(97 + (at % 26))
        const answer = await answered(client.type(letter))
        if (answer.type === 'late') break
        typed += letter
      }
      return typed
    })
    await Promise.all(clients.map((client) => client.message(({ type }) => type === 'saved')))
    await move(of, handout, { copyIds, act: 'down' })
    // Each types on until it is told that it came too late.
    const typed = await Promise.all(typing)
    isStopped = true
    for (const [at, copyId] of copyIds.entries()) expect(await read(of.teacher, copyId, 'line')).toBe(typed[at])
    for (const client of clients) client.close()
  })

  test('what is only to read, set aside or of another handout is left alone', async () => {
    const { of, handout, copyIds } = await handedOutTo(2)
    const other = await handedOutTo(1)
    await school.source.query('UPDATE copy SET set_aside = true WHERE id = $1', [copyIds[1]])
    const { changes } = await move(of, handout, { copyIds: [...copyIds, ...other.copyIds], act: 'down' })
    expect(changes.map(({ copyId }) => copyId)).toEqual([copyIds[0]])
  })
})

describe('pens down in some minutes', () => {
  test('pages count down to it, some have more time, and it can be called off', async () => {
    const { of, handout, copyIds, people } = await handedOutTo(2)
    const client = await LiveClient.open(school.url, people[0]!.cookie, copyIds[0]!)
    const body = { copyIds, act: 'down later', minutes: 10, more: [{ copyId: copyIds[1], minutes: 3 }] }
    const { changes, id } = await move(of, handout, body)
    const [first, second] = copyIds.map((of) => changes.find(({ copyId }) => copyId === of)!.after.from!)
    expect(second! - first!).toBe(3 * 60_000)
    const told = (await permission(client, ({ pensGoDown }) => pensGoDown !== null)) as { pensGoDown: { at: number } }
    expect(told.pensGoDown.at).toBe(first)
    const other = await LiveClient.open(school.url, people[1]!.cookie, copyIds[1]!)
    expect(await other.message(({ type }) => type === 'ready')).toMatchObject({ pensGoDown: { at: second } })
    other.close()
    expect((await rowsOf(of, handout)).map(({ pensDownFrom }) => pensDownFrom).sort()).toEqual([first, second])
    await client.saved(client.type('meanwhile'))
    // A time that was set is no step of the copy yet.
    expect(await journal(copyIds[1]!)).not.toContain('pens down')

    await of.teacher.http.post(`/api/handouts/${handout.id}/pens/${id}/undo`).expect(200)
    await permission(client, ({ pensGoDown, permission: may }) => may === 'edit' && pensGoDown === null)
    expect((await rowsOf(of, handout)).map(({ pensDownFrom }) => pensDownFrom)).toEqual([null, null])
    client.close()
  })

  test('at the moment they are down, on the page and in the journal', async () => {
    const { of, handout, copyIds, people } = await handedOutTo(1)
    const client = await LiveClient.open(school.url, people[0]!.cookie, copyIds[0]!)
    await move(of, handout, { copyIds, act: 'down later', minutes: 1 })
    // The minute is nearly over, and what is open is read anew.
    await school.source.query(`UPDATE copy SET pens_down_from = now() + interval '1.5 seconds' WHERE id = $1`, copyIds)
    const rules = { classmatesComment: true, staffShown: false, helpersMark: false }
    await of.teacher.http.put(`/api/classes/${of.id}/rules`).send(rules).expect(204)
    expect(await permission(client, ({ permission: may }) => may === 'comment')).toMatchObject({ pensGoDown: null })
    for (;;) if ((await journal(copyIds[0]!)).includes('pens down')) break
    const [row] = await rowsOf(of, handout)
    expect(row).toMatchObject({ pensDown: true, pensDownFrom: null })
    await people[0]!.http.post(`/api/copies/${copyIds[0]}/submit`).expect(403)
    client.close()
  })

  test.each<[string, object]>([
    ['in no minutes', { act: 'down later' }],
    ['at once, said as later', { act: 'down later', minutes: 0 }],
    ['next week', { act: 'down later', minutes: 10_000 }],
    ['something else', { act: 'sideways' }],
    ['of a copy that is none', { act: 'down', copyIds: ['x'] }],
  ])('%s is refused', async (_, body) => {
    const { of, handout, copyIds } = await handedOutTo(1)
    await of.teacher.http
      .post(`/api/handouts/${handout.id}/pens`)
      .send({ copyIds, ...body })
      .expect(422)
  })
})

describe('what was done', () => {
  test('is listed with who did it, and undone once, but for what was moved since', async () => {
    const { of, handout, copyIds } = await handedOutTo(3)
    const { id } = await move(of, handout, { copyIds, act: 'down' })
    await move(of, handout, { copyIds: [copyIds[0]!], act: 'up' })
    const undo = () => of.teacher.http.post(`/api/handouts/${handout.id}/pens/${id}/undo`)
    const { body } = await undo().expect(200)
    expect(body).toMatchObject({ changedSince: [copyIds[0]] })
    expect((await rowsOf(of, handout)).map(({ pensDown }) => pensDown)).toEqual([false, false, false])
    await undo().expect(409)
    const { body: log } = await of.teacher.http.get(`/api/handouts/${handout.id}/pens`).expect(200)
    expect(log).toMatchObject([
      { act: 'up', copies: 1, by: 'Lead Tester', undoneAt: null },
      { act: 'down', copies: 3, by: 'Lead Tester', undoneBy: 'Lead Tester' },
    ])
    expect(await journal(copyIds[1]!)).toEqual(['given', 'pens down', 'pens up'])
  })

  test('two teachers undo the same at once: one does', async () => {
    const { of, handout, copyIds } = await handedOutTo(1)
    const { id } = await move(of, handout, { copyIds, act: 'down' })
    const undo = () => of.teacher.http.post(`/api/handouts/${handout.id}/pens/${id}/undo`)
    const answers = await Promise.all([undo(), undo()])
    expect(answers.map(({ status }) => status).sort()).toEqual([200, 409])
  })

  test('two teachers at once over all copies, in any order, wait for each other and end', async () => {
    const { of, handout, copyIds } = await handedOutTo(4)
    const turned = copyIds.toReversed()
    await Promise.all([
      move(of, handout, { copyIds, act: 'down' }),
      move(of, handout, { copyIds: turned, act: 'up' }),
      move(of, handout, { copyIds: turned, act: 'down' }),
      move(of, handout, { copyIds, act: 'down later', minutes: 5 }),
    ])
    const rows = await rowsOf(of, handout)
    expect(new Set(rows.map(({ pensDown, pensDownFrom }) => `${pensDown} ${pensDownFrom !== null}`)).size).toBe(1)
  })
})

describe('extra time', () => {
  test('is kept with the class, by student and by what stands in a column', async () => {
    const of = await school.classOf(3)
    const people = await school.peopleOf(of)
    const { body: column } = await of.teacher.http
      .post(`/api/classes/${of.id}/columns`)
      .send({ name: 'Time', kind: 'text' })
      .expect(201)
    const { id: columnId } = column as { id: string }
    await of.teacher.http
      .patch(`/api/classes/${of.id}/roster`)
      .send({ edits: [{ personId: people[0], field: columnId, value: 'A quarter' }] })
    const rules = [
      { columnId, is: 'a quarter', percent: 25 },
      { personId: people[1], percent: 50 },
    ]
    const kept = await of.teacher.http.put(`/api/classes/${of.id}/extra-time`).send({ extraTime: rules }).expect(200)
    const { body } = await of.teacher.http.get(`/api/classes/${of.id}/extra-time`).expect(200)
    expect(body).toEqual(kept.body)
    expect(
      (body as { students: { personId: string }[] }).students.sort((a, b) => (a.personId < b.personId ? -1 : 1)),
    ).toEqual(
      [
        { personId: people[0], percent: 25 },
        { personId: people[1], percent: 50 },
      ].sort((a, b) => (a.personId! < b.personId! ? -1 : 1)),
    )
    const { body: refused } = await of.teacher.http
      .put(`/api/classes/${of.id}/extra-time`)
      .send({ extraTime: [{ percent: 25 }] })
      .expect(422)
    expect(refused).toMatchObject({ errors: [{ field: 'extraTime' }] })
  })
})
