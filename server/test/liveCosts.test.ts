import { afterAll, beforeAll, describe, expect, jest, test } from '@jest/globals'
import * as encoding from 'lib0/encoding'
import request from 'supertest'
import * as Y from 'yjs'
import { Budgets } from '../dist/live/budget.js'
import { Connection } from '../dist/live/connection.js'
import { DocWorker } from '../dist/kept/docWorker.js'
import { ANSWER_LIMITS } from '../dist/kept/limits.js'
import { LIMITS } from '../dist/live/limits.js'
import { LiveClient, paragraphOf } from './support/liveClient.js'
import { type TestClass, type TestPerson, TestSchool, statementFor } from './support/school.js'

// What one person sends must not keep anybody else waiting, neither when it comes nor whenever the copy is opened again.

let school: TestSchool
let given: TestClass
let students: TestPerson[]
const clients: LiveClient[] = []
beforeAll(async () => {
  school = await TestSchool.open()
  given = await school.classOf(2)
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

const copyOf = async () => (await school.handedOut(given)).copies.get(given.emails[0]!)!

/** The copy of a drawing, of which much can be kept. */
async function drawingCopy(): Promise<string> {
  const blocks = [{ id: 'drawing', kind: 'drawing', height: 50, ground: null }]
  const worksheet = await school.worksheetOf(given.teacher, 'The harbour wall', blocks)
  const { id } = await school.draft(given, statementFor(given.id, worksheet))
  await school.handOut(given.teacher, id)
  return (await school.copiesByEmail(id)).get(given.emails[0]!)!
}

let strokes = 0
/** Draws strokes of so many bytes in all; the number of the change. */
const draw = (writer: LiveClient, bytes: number): number =>
  writer.write('drawing', (doc) => {
    const stroke = `3${' 120,45'.repeat(599)}`
    doc.transact(() => {
      for (let left = bytes; left > 0; left -= stroke.length) doc.getMap('drawing').set(`s${strokes++}`, stroke)
    })
  })

/** Updates of one-character items, each put before the last. */
function backwards(doc: Y.Doc, updates: number, text: Y.Text = doc.getText('line'), structs = 290): Uint8Array[] {
  return Array.from({ length: updates }, () => {
    const before = Y.encodeStateVector(doc)
    doc.transact(() => {
      for (let at = 0; at < structs; at++) text.insert(0, 'x')
    })
    return Y.encodeStateAsUpdate(doc, before)
  })
}

/** Items without a left neighbour whose right ones are the first letter that was written, the second … */
function dear(target: number, client: number, first = 0, structs = 290): Uint8Array {
  const encoder = encoding.createEncoder()
  for (const value of [1, structs, client, 0]) encoding.writeVarUint(encoder, value)
  for (let at = 0; at < structs; at++) {
    encoding.writeUint8(encoder, 0x40 | 4)
    encoding.writeVarUint(encoder, target)
    encoding.writeVarUint(encoder, first + at)
    encoding.writeVarString(encoder, 'y')
  }
  encoding.writeVarUint(encoder, 0)
  return encoding.toUint8Array(encoder)
}

/** One of the final answers to a change. */
const answerTo = (client: LiveClient, number: number) =>
  client.message(
    (message) =>
      (message.type === 'saved' || message.type === 'refused' || message.type === 'late') && message.number === number,
  )

describe('a small message that would cost seconds', () => {
  test('is refused by what it will cost; the copy opens and is written in as before', async () => {
    const copyId = await copyOf()
    const attacker = await open(students[0]!, copyId)
    const doc = attacker.doc('passage')
    let last = attacker.write('passage', (made) => paragraphOf(made))
    for (const update of backwards(doc, 52, paragraphOf(doc))) last = attacker.sendBytes('passage', update)
    await attacker.saved(last)
    attacker.register('passage', 5)
    // The paragraph and its text came before the letters.
    const message = dear(doc.clientID, 5, 2)
    expect(message.length).toBeLessThan(3_000)
    expect(await answerTo(attacker, attacker.sendBytes('passage', message))).toMatchObject({
      type: 'refused',
      code: 'too-many',
    })
    const again = await open(students[0]!, copyId)
    expect(paragraphOf(again.doc('passage'))).toHaveLength(52 * 290)
    await again.saved(again.write('passage', (doc) => paragraphOf(doc).insert(0, 'still here')))
  })

  test('an answer is not filled without end: its writer is told before, and then', async () => {
    const copyId = await copyOf()
    const writer = await open(students[0]!, copyId)
    const doc = writer.doc('passage')
    await writer.saved(writer.write('passage', (made) => [0, 1].map((at) => paragraphOf(made, at))))
    const answers: string[] = []
    for (const update of [0, 1].flatMap((at) => backwards(doc, 60, paragraphOf(doc, at)))) {
      const answer = await answerTo(writer, writer.sendBytes('passage', update))
      answers.push(answer.type)
      if (answer.type === 'refused') {
        expect(answer).toMatchObject({ code: 'full' })
        break
      }
    }
    expect(writer.messages.filter(({ type }) => type === 'filling')).toHaveLength(1)
    expect(answers.at(-1)).toBe('refused')
    expect(answers.length * 290).toBeGreaterThan(ANSWER_LIMITS.spaceItems * 0.9)
  })

  test('a person has one account of time and messages, over all connections', () => {
    const budgets = new Budgets()
    const one = budgets.of('ada')
    one.charge(LIMITS.workBurst + LIMITS.workRate)
    expect(budgets.of('ada').debt()).toBeGreaterThan(500)
    expect(budgets.of('bo').debt()).toBe(0)
  })
})

describe('a copy whose log holds such a message already', () => {
  const poisoned = async () => {
    const copyId = await copyOf()
    const doc = new Y.Doc()
    const rows = [...backwards(doc, 100), dear(doc.clientID, 5), ...backwards(doc, 1)]
    for (const [at, bytes] of rows.entries())
      await school.source.query(
        `INSERT INTO live_update (school_id, copy_id, space, seq, person_id, at, bytes) VALUES ($1, $2, 'line', $3, $4, now(), $5)`,
        [students[0]!.viewer.schoolId, copyId, at + 1, students[0]!.viewer.personId, Buffer.from(bytes)],
      )
    return copyId
  }

  test('is said to its people alone, and its teacher brings it to its last good state', async () => {
    const copyId = await poisoned()
    const reader = await LiveClient.connect(school.url, students[0]!.cookie)
    clients.push(reader)
    expect(await reader.openCopy(copyId)).toMatchObject({ type: 'closed', again: false, takes: false })
    await request(school.url).get('/api/health').expect(200)
    await students[0]!.http.post(`/api/copies/${copyId}/last-good`).expect(403)
    expect((await given.teacher.http.get(`/api/copies/${copyId}`).expect(200)).body).toMatchObject({
      mayBringToLastGood: true,
    })
    const { body } = await given.teacher.http.post(`/api/copies/${copyId}/last-good`).expect(200)
    expect(body).toEqual({ setAside: 2 })
    expect(await school.count('live_update_aside', `copy_id = '${copyId}'`)).toBe(2)
    const again = await open(students[0]!, copyId)
    expect(again.text('line')).toHaveLength(100 * 290)
    await given.teacher.http.post(`/api/copies/${copyId}/last-good`).expect(409)
  })

  test('stands on the board as such, and the others are opened', async () => {
    const handout = await school.handedOut(given)
    const [mine, other] = [handout.copies.get(given.emails[0]!)!, handout.copies.get(given.emails[1]!)!]
    await school.source.query(`UPDATE copy SET unreadable_space = 'line' WHERE id = $1`, [mine])
    const board = await LiveClient.connect(school.url, given.teacher.cookie)
    clients.push(board)
    board.send({ type: 'watch', handoutId: handout.id })
    const rows = await board.message(({ type }) => type === 'rows')
    expect(rows).toMatchObject({
      rows: expect.arrayContaining([
        expect.objectContaining({ copyId: mine, unreadable: true }),
        expect.objectContaining({ copyId: other, unreadable: false }),
      ]) as unknown,
    })
    await (await open(students[1]!, other)).ping()
  })
})

test('a worker that does not end in time is ended, and the next job is done', async () => {
  const worker = new DocWorker()
  const doc = new Y.Doc()
  const updates = backwards(doc, 50)
  expect(await worker.run({ what: 'load', kind: 'line', updates }, 1)).toBeNull()
  expect(await worker.run({ what: 'load', kind: 'line', updates }, 60_000)).toMatchObject({ applied: 50 })
  await worker.close()
})

describe('late writing', () => {
  test('rests on late writing: a chain of late changes is one document, whoever reads it', async () => {
    const copyId = await copyOf()
    const writer = await open(students[0]!, copyId)
    await writer.saved(writer.type('in time'))
    await students[0]!.http.post(`/api/copies/${copyId}/submit`).expect(200)
    for (const words of [' and', ' too', ' late']) await writer.late(writer.type(words))
    const read = async () =>
      (await given.teacher.http.get(`/api/copies/${copyId}/late-writing`).expect(200)).body as object[]
    expect(await read()).toMatchObject([{ space: 'line', parts: [{ after: 'in time and too late' }] }])
    expect(await school.count('copy_journal', `copy_id = '${copyId}' AND kind = 'late writing'`)).toBe(1)

    // Taken back, what goes on from late words stays with them; a page that begins anew writes in the answer.
    await students[0]!.http.post(`/api/copies/${copyId}/take-back`).expect(200)
    await writer.late(writer.type(', indeed'))
    const fresh = await open(students[0]!, copyId)
    expect(fresh.text('line')).toBe('in time')
    await fresh.saved(fresh.type(', again'))
    expect(await read()).toMatchObject([{ parts: [{ after: expect.stringContaining('indeed') as unknown }] }])
    expect((await open(given.teacher, copyId)).text('line')).toBe('in time, again')
  })

  test('sent twice is kept once and answered twice; a second device has its own place in it', async () => {
    const copyId = await copyOf()
    const [laptop, phone] = [await open(students[0]!, copyId), await open(students[0]!, copyId)]
    await students[0]!.http.post(`/api/copies/${copyId}/submit`).expect(200)
    await laptop.late(laptop.type('laptop '))
    await laptop.late(laptop.sendBytes('line', Y.encodeStateAsUpdate(laptop.doc('line'))))
    await phone.late(phone.type('phone'))
    expect(await school.count('late_update', `copy_id = '${copyId}'`)).toBe(2)
    const { body } = await students[0]!.http.get(`/api/copies/${copyId}/late-writing`).expect(200)
    const [only, ...more] = body as { parts: { after: string }[] }[]
    expect(more).toEqual([])
    expect(only!.parts[0]!.after).toContain('laptop ')
    expect(only!.parts[0]!.after).toContain('phone')
  })

  test('is limited', async () => {
    const copyId = await drawingCopy()
    const writer = await open(students[0]!, copyId)
    await students[0]!.http.post(`/api/copies/${copyId}/submit`).expect(200)
    await writer.late(draw(writer, 900_000))
    expect(await writer.refusal(draw(writer, 200_000))).toMatchObject({ code: 'full' })
  })

  test('of somebody whose permission was taken away between two keys is kept as well', async () => {
    const copyId = await copyOf()
    const writer = await open(students[0]!, copyId)
    await school.source.query(`UPDATE copy_holder SET permission = 'view' WHERE copy_id = $1`, [copyId])
    await given.teacher.http.post(`/api/classes/${given.id}/roster`).send({ rows: [] }).expect(200)
    await writer.message((message) => message.type === 'permission' && message.permission === 'view')
    await writer.late(writer.type('was on the way'))
    // Not so a reader who never could.
    const teacher = await open(given.teacher, copyId)
    expect(await teacher.refusal(teacher.type('mine'))).toMatchObject({ code: 'may-not-write' })
  })
})

test('a row that the database never takes closes the copy to its writer alone; the others write on', async () => {
  const handout = await school.handedOut(given)
  const [bad, good] = given.emails.map((email) => handout.copies.get(email)!)
  const [unlucky, other] = [await open(students[0]!, bad!), await open(students[1]!, good!)]
  const teacher = await open(given.teacher, bad!)
  await school.source.query(`
    CREATE FUNCTION refuse_one() RETURNS trigger LANGUAGE plpgsql AS $$ BEGIN RAISE EXCEPTION 'never'; END $$;
    CREATE TRIGGER refuse_one BEFORE INSERT ON live_update FOR EACH ROW WHEN (NEW.copy_id = '${bad}') EXECUTE FUNCTION refuse_one()`)
  try {
    unlucky.type('never saved')
    const number = other.type('saved all the same')
    await other.saved(number)
    expect(await unlucky.message(({ type }) => type === 'closed')).toMatchObject({
      again: false,
      sentence: expect.stringContaining('cannot be saved') as unknown,
    })
    // Who only looks opens it again.
    expect(await teacher.message(({ type }) => type === 'closed')).toMatchObject({ again: true })
  } finally {
    await school.source.query('DROP TRIGGER refuse_one ON live_update; DROP FUNCTION refuse_one()')
  }
  const again = await open(students[0]!, bad!)
  await again.saved(again.type('now it is'))
})

describe('limits', () => {
  test('an answer takes so many bytes and no more', async () => {
    const copyId = await drawingCopy()
    const writer = await open(students[0]!, copyId)
    for (let part = 0; part < 4; part++) await writer.saved(draw(writer, 950_000))
    expect(await writer.refusal(draw(writer, 500_000))).toMatchObject({ code: 'full' })
    expect(await school.count('live_update', `copy_id = '${copyId}'`)).toBe(4)
  })

  test('a person has so many connections and no more; others still come', async () => {
    const person = await school.person('student', 'Many')
    const many = await Promise.all(
      Array.from({ length: LIMITS.connectionsOfPerson }, () => LiveClient.connect(school.url, person.cookie)),
    )
    await expect(LiveClient.connect(school.url, person.cookie)).rejects.toThrow('429')
    const other = await LiveClient.connect(school.url, given.teacher.cookie)
    for (const client of [...many, other]) client.close()
  })

  test('a message is not dealt with before the account of its person allows it', async () => {
    // The clock stands still: while it runs the account fills up.
    jest.useFakeTimers({ doNotFake: ['setImmediate', 'nextTick'] })
    try {
      const budget = new Budgets().of('ada')
      const waits = Array.from({ length: LIMITS.messageBurst + 1 }, () => budget.message())
      expect(waits.slice(0, -1).every((wait) => wait === 0)).toBe(true)
      expect(waits.at(-1)).toBeGreaterThan(0)

      const dealt: unknown[] = []
      const socket = { readyState: 1, OPEN: 1, pause: () => undefined, resume: () => undefined }
      const slow = { message: () => 500 } as unknown as typeof budget
      const connection = new Connection(socket as never, {} as never, 's', slow, (message) => {
        dealt.push(message)
        return Promise.resolve()
      })
      connection.receive('one')
      await jest.advanceTimersByTimeAsync(400)
      expect(dealt).toEqual([])
      await jest.advanceTimersByTimeAsync(200)
      expect(dealt).toEqual(['one'])
    } finally {
      jest.useRealTimers()
    }
  })
})
