import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import {
  newAnswerDoc,
  plainItem,
  plainStatement,
  readAnswer,
  starterClient,
  starterUpdate,
  withWay,
} from '@gavrin/core'
import * as Y from 'yjs'
import { LiveClient, paragraphOf } from './support/liveClient.js'
import { type TestClass, type TestHandout, type TestPerson, TestSchool } from './support/school.js'

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

/** A new handout; the first student's copy of it, and that student. */
async function fresh(dueAt?: number): Promise<{ handout: TestHandout; copyId: string; student: TestPerson }> {
  const handout = await school.handedOut(given, dueAt)
  return { handout, copyId: handout.copies.get(given.emails[0]!)!, student: students[0]! }
}

const logged = (copyId: string) => school.count('live_update', `copy_id = '${copyId}'`)
const copyRow = async (copyId: string) =>
  (
    await school.source.query<{ state: string; answered: number; words: number }[]>(
      'SELECT state, answered, words FROM copy WHERE id = $1',
      [copyId],
    )
  )[0]!

describe('writing', () => {
  test('is saved when it says so, and the teacher sees it', async () => {
    const { copyId, student } = await fresh()
    const [writer, teacher] = await Promise.all([open(student, copyId), open(given.teacher, copyId)])
    expect(writer.messages[0]).toMatchObject({ type: 'ready', permission: 'edit' })
    expect(teacher.messages[0]).toMatchObject({ type: 'ready', permission: 'comment' })
    await writer.saved(writer.type('05:48'))
    expect(await logged(copyId)).toBe(1)
    await teacher.until(() => teacher.text('line') === '05:48')
  })

  test('comes back when the copy is opened again, whoever opens it', async () => {
    const { copyId, student } = await fresh()
    const writer = await open(student, copyId)
    await writer.saved(writer.write('choice', (doc) => doc.getMap('choice').set('a', true)))
    await writer.saved(writer.type('3,7', 'number'))
    writer.close()
    for (const person of [student, given.teacher]) {
      const reader = await open(person, copyId)
      expect(reader.text('number')).toBe('3,7')
      expect(reader.doc('choice').getMap('choice').get('a')).toBe(true)
    }
  })

  test('is counted: states, answers and words reach the board’s rows', async () => {
    const { copyId, student, handout } = await fresh()
    const board = await LiveClient.connect(school.url, given.teacher.cookie)
    clients.push(board)
    board.send({ type: 'watch', handoutId: handout.id })
    const rows = () =>
      board.messages
        .flatMap((message) => (message.type === 'rows' ? message.rows : []))
        .filter((row) => row.copyId === copyId)
    await board.until(() => rows().some(({ state }) => state === 'not opened'))
    const writer = await open(student, copyId)
    await board.until(() => rows().some(({ state }) => state === 'opened'))
    await writer.saved(writer.type('high water at six'))
    await board.until(() =>
      rows().some(({ state, answered, words }) => state === 'working' && answered === 1 && words === 4),
    )
    expect(await copyRow(copyId)).toEqual({ state: 'working', answered: 1, words: 4 })
  })

  test('by two windows of one person ends the same in both', async () => {
    const { copyId, student } = await fresh()
    const [one, two] = await Promise.all([open(student, copyId), open(student, copyId)])
    const numbers = Array.from({ length: 40 }, (_, at) => {
      const client = at % 2 ? two : one
      return { client, number: client.type(`${at} `) }
    })
    for (const { client, number } of numbers) await client.saved(number)
    await one.until(() => one.text('line').split(' ').length === 41)
    await two.until(() => two.text('line') === one.text('line'))
  })

  test('a re-sent change is acknowledged and not doubled', async () => {
    const { copyId, student } = await fresh()
    const writer = await open(student, copyId)
    await writer.saved(writer.type('05:48'))
    await writer.saved(writer.sendBytes('line', Y.encodeStateAsUpdate(writer.doc('line'))))
    expect(await logged(copyId)).toBe(1)
    expect((await open(given.teacher, copyId)).text('line')).toBe('05:48')
  })

  test('faster than a person can write is slowed, and nothing of it is lost', async () => {
    const { copyId, student } = await fresh()
    const writer = await open(student, copyId)
    let last = 0
    for (let key = 0; key < 900; key++) last = writer.type(String(key % 10))
    await writer.saved(last)
    expect((await open(given.teacher, copyId)).text('line')).toHaveLength(900)
  })

  test('a large paste goes the slower way and is saved too; more than an answer has room for is not', async () => {
    const { copyId, student } = await fresh()
    const writer = await open(student, copyId)
    const paste = (from: number, to: number) =>
      writer.write('passage', (doc) => {
        for (let at = from; at < to; at++) paragraphOf(doc, at).insert(0, 'tide '.repeat(2_000))
      })
    await writer.saved(paste(0, 15))
    const parts = writer.write('passage', (doc) =>
      doc.transact(() => Array.from({ length: 1_000 }, () => paragraphOf(doc).insert(0, 'x'))),
    )
    await writer.saved(parts)
    const reader = await open(given.teacher, copyId)
    expect(reader.doc('passage').getXmlFragment('passage')).toHaveLength(15)
    expect(paragraphOf(reader.doc('passage')).toJSON()).toBe('x'.repeat(1_000) + 'tide '.repeat(2_000))
    expect(await writer.refusal(paste(15, 20))).toMatchObject({ code: 'full' })
    expect(await writer.refusal(writer.type('x'.repeat(2_001)))).toMatchObject({ code: 'full' })
  })
})

describe('a given beginning', () => {
  const STARTER = 'On Tuesday morning,'

  /** A passage with a beginning that the class shares; its copy. */
  async function shared(): Promise<string> {
    const worksheet = await school.worksheetOf(given.teacher, 'Diary', [
      { id: 'passage', kind: 'passage', lines: 4, starter: STARTER },
    ])
    const statement = plainStatement(
      [withWay(plainItem('first', worksheet, 1), 'one together', [])],
      [{ classId: given.id, opensAt: null, dueAt: null }],
    )
    const { id } = await school.draft(given, statement)
    await school.handOut(given.teacher, id)
    const [copyId] = (await school.copiesByEmail(id)).values()
    return copyId!
  }

  const words = (client: LiveClient) =>
    (readAnswer({ id: 'passage', kind: 'passage', lines: 4 }, client.doc('passage')) as { text: string }).text

  /** As a window begins it: the beginning, and the first own words behind it. */
  const begin = (client: LiveClient, own: string): number =>
    client.write('passage', (doc) => {
      Y.applyUpdate(doc, starterUpdate(STARTER))
      const line = (doc.getXmlFragment('passage').get(0) as Y.XmlElement).get(0) as Y.XmlText
      line.insert(line.length, own)
    })

  test('that two write on at once is there once, whoever claimed it', async () => {
    const copyId = await shared()
    const [one, other] = [await open(students[0]!, copyId), await open(students[1]!, copyId)]
    // Somebody claims the number it comes under: it stays everybody's.
    one.register('passage', starterClient(STARTER))
    await one.ping()
    const numbers = [begin(one, ' I rose'), begin(other, ' we sailed')] as const
    await Promise.all([one.saved(numbers[0]), other.saved(numbers[1])])
    const after = await open(given.teacher, copyId)
    expect(words(after).split(STARTER)).toHaveLength(2)
    expect(words(after)).toContain(' I rose')
    expect(words(after)).toContain(' we sailed')
    await one.until(() => words(one) === words(after))
    expect(other.messages.some(({ type }) => type === 'writer-taken' || type === 'refused')).toBe(false)
  })

  test('under its number nothing else is taken', async () => {
    const copyId = await shared()
    const writer = await open(students[0]!, copyId)
    const forged = newAnswerDoc('passage')
    forged.clientID = starterClient(STARTER)
    forged.getXmlFragment('passage').insert(0, [new Y.XmlElement('paragraph')])
    writer.register('passage', forged.clientID)
    const number = writer.sendBytes('passage', Y.encodeStateAsUpdate(forged))
    expect(await writer.message((message) => 'number' in message && message.number === number)).toMatchObject({
      type: 'refused',
      code: 'not-yours',
    })
  })
})

describe('what must not pass', () => {
  test('nobody without a session, and no page of another site, gets a connection', async () => {
    const nobody = await LiveClient.connect(school.url, 'gavrin.session=forged')
    await nobody.until(() => nobody.closed)
    expect(nobody.code).toBe(4401)
    expect(nobody.messages).toEqual([])
    await expect(
      LiveClient.connect(school.url, students[0]!.cookie, { origin: 'http://evil.example' }),
    ).rejects.toThrow('403')
  })

  test('a classmate, a stranger and an unknown id are told the same', async () => {
    const { copyId } = await fresh()
    const stranger = await school.person('teacher', 'Other')
    for (const [person, id] of [
      [students[1]!, copyId],
      [stranger, copyId],
      [students[0]!, '00000000-0000-4000-8000-000000000000'],
      [students[0]!, 'nonsense'],
    ] as const) {
      const client = await LiveClient.connect(school.url, person.cookie)
      clients.push(client)
      expect(await client.openCopy(id)).toEqual({
        type: 'closed',
        channel: 1,
        sentence: 'This is not here, or not for you to see.',
        again: false,
        takes: false,
      })
    }
  })

  test('a board is not shown to students or other teachers', async () => {
    const { handout, copyId } = await fresh()
    const stranger = await school.person('teacher', 'Another')
    for (const person of [students[0]!, stranger]) {
      const client = await LiveClient.connect(school.url, person.cookie)
      clients.push(client)
      client.send({ type: 'watch', handoutId: handout.id })
      // Answered after the watch, so that a row would have come before it.
      await client.openCopy(copyId)
      expect(client.messages.filter(({ type }) => type === 'rows')).toEqual([])
    }
  })

  test('the teacher cannot write in a copy', async () => {
    const { copyId } = await fresh()
    const teacher = await open(given.teacher, copyId)
    const number = teacher.type('I know better')
    expect(await teacher.message(({ type }) => type === 'refused')).toMatchObject({
      number,
      code: 'may-not-write',
    })
    expect(await logged(copyId)).toBe(0)
  })

  test.each<[string, (client: LiveClient) => [string, Uint8Array], string]>([
    ['noise', () => ['line', new Uint8Array([9, 9, 9, 9])], 'malformed'],
    ['a space the worksheet has not', () => ['print', new Uint8Array([0, 0])], 'no-such-space'],
    ['another kind of answer', () => ['line', Y.encodeStateAsUpdate(withMap())], 'not-yours'],
    ['somebody else’s client id', () => ['line', Y.encodeStateAsUpdate(withText('x'))], 'not-yours'],
    ['more than an answer takes at once', () => ['line', new Uint8Array(1_100_000)], 'too-large'],
  ])('%s is refused with the reason; the next change is saved', async (_, forge, code) => {
    const { copyId, student } = await fresh()
    const writer = await open(student, copyId)
    const [space, bytes] = forge(writer)
    const number = writer.sendBytes(space, bytes)
    expect(await writer.message(({ type }) => type === 'refused')).toMatchObject({ number, code })
    await writer.saved(writer.type('05:48'))
    expect((await open(given.teacher, copyId)).text('line')).toBe('05:48')
  })

  test('a client id that another person registered cannot be taken', async () => {
    const { copyId, student } = await fresh()
    const writer = await open(student, copyId)
    await writer.saved(writer.type('mine'))
    await school.source.query(`UPDATE copy SET classmates_may = 'edit' WHERE id = $1`, [copyId])
    await given.teacher.http.post(`/api/classes/${given.id}/roster`).send({ rows: [] }).expect(200)
    const mate = await open(students[1]!, copyId)
    mate.register('line', writer.doc('line').clientID)
    expect(await mate.message(({ type }) => type === 'writer-taken')).toMatchObject({
      client: writer.doc('line').clientID,
    })
  })

  test('a gap is asked for again, never applied in part', async () => {
    const { copyId, student } = await fresh()
    const writer = await open(student, copyId)
    const doc = writer.doc('line')
    writer.register('line')
    doc.getText('line').insert(0, 'lost ')
    const before = Y.encodeStateVector(doc)
    doc.getText('line').insert(5, 'found')
    const number = writer.sendBytes('line', Y.encodeStateAsUpdate(doc, before))
    expect(await writer.message(({ type }) => type === 'resend')).toMatchObject({ space: 'line', number })
    await writer.saved(writer.sendBytes('line', Y.encodeStateAsUpdate(doc)))
    expect((await open(given.teacher, copyId)).text('line')).toBe('lost found')
  })

  test('a message that costs Yjs seconds is refused within its deadline, and others write on meanwhile', async () => {
    const { copyId, student, handout } = await fresh()
    const [attacker, other] = await Promise.all([
      open(student, copyId),
      open(students[1]!, handout.copies.get(given.emails[1]!)!),
    ])
    const target = new Y.Doc()
    paragraphOf(target).insert(0, 'x'.repeat(14_000))
    attacker.register('passage', target.clientID)
    await attacker.saved(attacker.sendBytes('passage', Y.encodeStateAsUpdate(target)))
    const number = attacker.sendBytes(
      'passage',
      pileUp(target, (client) => attacker.register('passage', client)),
    )
    await other.saved(other.type('calm'))
    await attacker.until(() =>
      attacker.messages.some(
        (message) =>
          (message.type === 'refused' && message.number === number) ||
          (message.type === 'saved' && message.number >= number),
      ),
    )
    await attacker.saved(attacker.type('still here'))
    expect((await open(given.teacher, copyId)).text('line')).toContain('still here')
  })

  test('text frames that are no messages are answered and change nothing', async () => {
    const { copyId, student } = await fresh()
    const writer = await open(student, copyId)
    for (const text of ['', 'null', '{"type":"saved"}', 'x'.repeat(5_000)]) writer.socket.send(text)
    await writer.until(() => writer.messages.filter(({ type }) => type === 'trouble').length === 4)
    await writer.saved(writer.type('05:48'))
  })
})

describe('a copy that stands still', () => {
  test('is submitted with all that was written, and can be taken back until the due time', async () => {
    const { copyId, student } = await fresh()
    const writer = await open(student, copyId)
    await writer.saved(writer.type('last words'))
    await student.http.post(`/api/copies/${copyId}/submit`).expect(200)
    await writer.message((message) => message.type === 'permission' && message.permission === 'comment')
    expect(await copyRow(copyId)).toMatchObject({ state: 'submitted' })
    expect((await student.http.post(`/api/copies/${copyId}/submit`).expect(403)).body).toMatchObject({
      code: 'submitted',
    })
    await student.http.post(`/api/copies/${copyId}/take-back`).expect(200)
    await writer.message(
      (message) => message.type === 'permission' && message.permission === 'edit' && message.state === 'taken back',
    )
    await writer.saved(writer.type(', and more'))
    const journal = await school.source.query<{ kind: string }[]>(
      'SELECT kind FROM copy_journal WHERE copy_id = $1 ORDER BY number',
      [copyId],
    )
    expect(journal.map(({ kind }) => kind).filter((kind) => kind !== 'first written in')).toEqual([
      'given',
      'opened',
      'submitted',
      'taken back',
    ])
  })

  test('cannot be taken back after the due time', async () => {
    const { copyId, student } = await fresh(Date.now() - 1_000)
    await student.http.post(`/api/copies/${copyId}/submit`).expect(200)
    expect((await student.http.post(`/api/copies/${copyId}/take-back`).expect(403)).body).toMatchObject({
      code: 'due-passed',
    })
  })

  test('what is written too late changes no answer, is kept, and can be read by teacher and student', async () => {
    const { copyId, student } = await fresh()
    const writer = await open(student, copyId)
    await writer.saved(writer.type('in time'))
    await student.http.post(`/api/copies/${copyId}/submit`).expect(200)
    const other = await open(student, copyId)
    const reading = await open(given.teacher, copyId)
    const number = writer.type(' and too late')
    expect(await writer.message(({ type }) => type === 'late')).toMatchObject({ number, space: 'line' })
    // Whoever looks at the copy elsewhere hears that there is something to read.
    for (const window of [other, reading])
      expect(await window.message(({ type }) => type === 'late writing')).toBeTruthy()
    expect(writer.messages.some(({ type }) => type === 'late writing')).toBe(false)
    // Once for what is written in one go: each is read again by everybody who has the copy open.
    writer.type('!')
    await writer.message((message) => message.type === 'late' && message.number > number)
    other.type('?')
    await other.message(({ type }) => type === 'late')
    expect(other.messages.filter(({ type }) => type === 'late writing')).toHaveLength(1)
    expect(reading.text('line')).toBe('in time')
    for (const person of [given.teacher, student]) {
      const { body } = await person.http.get(`/api/copies/${copyId}/late-writing`).expect(200)
      expect(body).toMatchObject([
        { space: 'line', parts: [{ after: expect.stringContaining(' and too late!') as unknown }] },
      ])
    }
    await students[1]!.http.get(`/api/copies/${copyId}/late-writing`).expect(404)
  })

  test('a student who is removed while writing is told, and nothing that was saved is lost', async () => {
    const leaver = await school.classOf(1)
    const student = await school.signInByEmail(leaver.emails[0]!)
    const handout = await school.handedOut(leaver)
    const copyId = handout.copies.get(leaver.emails[0]!)!
    const writer = await open(student, copyId)
    await writer.saved(writer.type('before'))
    await leaver.teacher.http
      .post(`/api/classes/${leaver.id}/roster/leave`)
      .send({ personIds: [student.viewer.personId] })
      .expect(200)
    expect(
      await writer.message((message) => message.type === 'permission' && message.permission === 'view'),
    ).toMatchObject({ reason: expect.stringContaining('your work is kept') as unknown as string })
    writer.type(' after')
    expect(await writer.message(({ type }) => type === 'late')).toMatchObject({ space: 'line' })
    expect((await open(leaver.teacher, copyId)).text('line')).toBe('before')
    await leaver.teacher.http
      .post(`/api/classes/${leaver.id}/roster/return`)
      .send({ personIds: [student.viewer.personId] })
      .expect(200)
    await writer.message((message) => message.type === 'permission' && message.permission === 'edit')
  })

  test('signing out closes the connections of that session', async () => {
    const { copyId } = await fresh()
    const again = await school.signInByEmail(given.emails[0]!)
    const writer = await open(again, copyId)
    await again.http.delete('/api/session').expect(204)
    await writer.until(() => writer.closed).catch(() => undefined)
    expect(writer.closed).toBe(true)
  })
})

function withText(text: string): Y.Doc {
  const doc = new Y.Doc()
  doc.getText('line').insert(0, text)
  return doc
}

function withMap(): Y.Doc {
  const doc = new Y.Doc()
  doc.getMap('line').set('x', true)
  return doc
}

/** Many items at one origin with different right neighbours, from many clients: quadratic work for Yjs, in few bytes. */
function pileUp(target: Y.Doc, register: (client: number) => void): Uint8Array {
  const updates: Uint8Array[] = []
  for (let at = 0; at < 90; at++) {
    const doc = new Y.Doc()
    Y.applyUpdate(doc, Y.encodeStateAsUpdate(target))
    register(doc.clientID)
    const before = Y.encodeStateVector(doc)
    for (let more = 0; more < 60; more++) paragraphOf(doc).insert(10 + ((at * 7 + more) % 5), 'y')
    updates.push(Y.encodeStateAsUpdate(doc, before))
  }
  return Y.mergeUpdates(updates)
}
