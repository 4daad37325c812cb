import { type JournalKind, type LateDecision, type Moment, momentsOf, readLog } from '@gavrin/core'
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import * as Y from 'yjs'
import { copiesIn } from './support/copies.js'
import { LiveClient, paragraphOf } from './support/liveClient.js'
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

const { shared } = copiesIn(() => school)

async function open(person: TestPerson, copyId: string): Promise<LiveClient> {
  const client = await LiveClient.open(school.url, person.cookie, copyId)
  clients.push(client)
  return client
}
const own = async (): Promise<string> => (await school.handedOut(given)).copies.get(given.emails[0]!)!
/** What somebody who opens the copy now is shown of an answer. */
const answerFor = async (person: TestPerson, copyId: string, space = 'line') => (await open(person, copyId)).text(space)

interface Late {
  readonly id: string
  readonly by: string
  readonly parts: { key: string; is: string; before: string; after: string }[]
  readonly seen: { answer: number; late: number }
  readonly decided: { decision: LateDecision; by: string } | null
}
const lateOf = async (person: TestPerson, copyId: string) =>
  (await person.http.get(`/api/copies/${copyId}/late-writing`).expect(200)).body as Late[]
const decide = (person: TestPerson, copyId: string, { id, seen }: Late, parts: readonly string[] | null) =>
  person.http.post(`/api/copies/${copyId}/late-writing`).send({ id, seen, parts })
const journal = async (copyId: string) =>
  (
    await school.source.query<{ kind: JournalKind }[]>(
      'SELECT kind FROM copy_journal WHERE copy_id = $1 ORDER BY number',
      [copyId],
    )
  ).map(({ kind }) => kind)

/** A submitted copy of the first student, with words that came too late in its line. */
async function lateCopy(words = ' and too late') {
  const copyId = await own()
  const writer = await open(students[0]!, copyId)
  await writer.saved(writer.type('in time'))
  await students[0]!.http.post(`/api/copies/${copyId}/submit`).expect(200)
  await writer.late(writer.type(words))
  return { copyId, writer }
}

describe('late writing', () => {
  test('is taken into the answer by a teacher: every open window has it, and both sides see what became of it', async () => {
    const { copyId } = await lateCopy()
    const student = await open(students[0]!, copyId)
    expect(student.text('line')).toBe('in time')
    const [late] = await lateOf(given.teacher, copyId)
    expect(late).toMatchObject({
      by: 'First0 Last0000',
      parts: [{ is: 'changed', before: 'in time', after: 'in time and too late' }],
      decided: null,
    })
    const waiting = async (person: TestPerson) =>
      (
        (await person.http.get('/api/copies/late-writing').expect(200)).body as { copyId: string; count: number }[]
      ).filter((one) => one.copyId === copyId)
    expect(await waiting(given.teacher)).toMatchObject([{ count: 1 }])
    expect(await waiting(students[0]!)).toEqual([])
    const { body } = await decide(given.teacher, copyId, late!, null).expect(200)
    expect(await waiting(given.teacher)).toEqual([])
    expect(body).toMatchObject([{ parts: [], decided: { decision: 'taken in', by: expect.any(String) as unknown } }])
    // The window is told to open the copy again.
    await student.message((message) => message.type === 'closed' && message.again)
    expect(await answerFor(students[0]!, copyId)).toBe('in time and too late')
    expect(await lateOf(students[0]!, copyId)).toMatchObject([{ decided: { decision: 'taken in' } }])
    expect((await journal(copyId)).at(-1)).toBe('late writing taken in')
    // Whose words they are stays with them.
    const rows = await school.source.query<{ person_id: string }[]>(
      `SELECT DISTINCT person_id FROM live_update WHERE copy_id = $1`,
      [copyId],
    )
    expect(rows).toHaveLength(1)
  })

  test('is left out, stays readable, and can be taken in after all', async () => {
    const { copyId } = await lateCopy()
    const student = await open(students[0]!, copyId)
    const [late] = await lateOf(given.teacher, copyId)
    await decide(given.teacher, copyId, late!, []).expect(200)
    await student.message(({ type }) => type === 'late writing')
    expect(student.text('line')).toBe('in time')
    const [left] = await lateOf(students[0]!, copyId)
    expect(left).toMatchObject({ parts: [{ after: 'in time and too late' }], decided: { decision: 'left out' } })
    await decide(given.teacher, copyId, left!, null).expect(200)
    expect(await answerFor(students[0]!, copyId)).toBe('in time and too late')
  })

  test('is taken in part: the paragraphs that were chosen, and nothing else', async () => {
    const copyId = await own()
    const writer = await open(students[0]!, copyId)
    await writer.saved(writer.write('passage', (doc) => paragraphOf(doc).insert(0, 'The tide was low.')))
    await students[0]!.http.post(`/api/copies/${copyId}/submit`).expect(200)
    await writer.late(writer.write('passage', (doc) => paragraphOf(doc).insert(17, ' We waited.')))
    await writer.late(writer.write('passage', (doc) => paragraphOf(doc, 1).insert(0, 'Copied from a friend.')))
    const [late] = await lateOf(given.teacher, copyId)
    expect(late!.parts.map(({ is, after }) => [is, after])).toEqual([
      ['changed', 'The tide was low. We waited.'],
      ['new', 'Copied from a friend.'],
    ])
    await decide(given.teacher, copyId, late!, [late!.parts[0]!.key]).expect(200)
    const reader = await open(students[0]!, copyId)
    expect(reader.doc('passage').getXmlFragment('passage').toJSON()).toBe(
      '<paragraph>The tide was low. We waited.</paragraph>',
    )
    expect(await lateOf(students[0]!, copyId)).toMatchObject([
      {
        parts: [],
        decided: {
          decision: 'taken in part',
          parts: [
            { after: 'The tide was low. We waited.', taken: true },
            { after: 'Copied from a friend.', taken: false },
          ],
        },
      },
    ])
    // What goes on from it is what is new, and nothing is there twice.
    const again = await open(students[0]!, copyId)
    paragraphOf(writer.doc('passage')).insert(28, ' It came.')
    again.register('passage', writer.doc('passage').clientID)
    await again.late(again.sendBytes('passage', Y.encodeStateAsUpdate(writer.doc('passage'))))
    expect(await lateOf(given.teacher, copyId)).toMatchObject([
      { parts: [{ is: 'changed', after: 'The tide was low. We waited. It came.' }], decided: null },
    ])
  })

  test('that has grown, or whose answer has changed, since it was looked at is not taken in unseen', async () => {
    const { copyId, writer } = await lateCopy()
    const [late] = await lateOf(given.teacher, copyId)
    await writer.late(writer.type(', and more'))
    expect((await decide(given.teacher, copyId, late!, null).expect(409)).body).toMatchObject({ code: 'changed' })
    const [now] = await lateOf(given.teacher, copyId)
    await students[0]!.http.post(`/api/copies/${copyId}/take-back`).expect(200)
    const fresh = await open(students[0]!, copyId)
    await fresh.saved(fresh.type(', again'))
    await decide(given.teacher, copyId, now!, null).expect(409)
    await decide(given.teacher, copyId, now!, ['nothing']).expect(409)
    expect(await answerFor(students[0]!, copyId)).toBe('in time, again')
    const [last] = await lateOf(given.teacher, copyId)
    await decide(given.teacher, copyId, last!, null).expect(200)
    const words = await answerFor(students[0]!, copyId)
    for (const some of ['in time', ' and too late', ', and more', ', again']) expect(words).toContain(some)
  })

  test('goes on to be late after it was left out, and is then offered again', async () => {
    const { copyId, writer } = await lateCopy()
    await decide(given.teacher, copyId, (await lateOf(given.teacher, copyId))[0]!, []).expect(200)
    await students[0]!.http.post(`/api/copies/${copyId}/take-back`).expect(200)
    await writer.late(writer.type(', still'))
    expect(await answerFor(students[0]!, copyId)).toBe('in time')
    expect(await lateOf(given.teacher, copyId)).toMatchObject([
      { decided: null, parts: [{ after: 'in time and too late, still' }] },
    ])
  })

  test('is decided on by the teachers of the class alone, and read by holders, staff and who wrote it', async () => {
    const { copyId } = await lateCopy()
    const [late] = await lateOf(given.teacher, copyId)
    await decide(students[0]!, copyId, late!, null).expect(403)
    await decide(students[1]!, copyId, late!, null).expect(404)
    await decide(given.teacher, copyId, { ...late!, id: 'line nobody' }, null).expect(404)
    const invited = await shared(given)
    expect(await lateOf(students[1]!, invited.copyId)).toEqual([])
  })

  test('decided on by two teachers at once is taken in once, and one of them is told that it has changed', async () => {
    const { copyId } = await lateCopy()
    const [late] = await lateOf(given.teacher, copyId)
    const answers = await Promise.all([
      decide(given.teacher, copyId, late!, null),
      decide(given.teacher, copyId, late!, null),
    ])
    expect(answers.map(({ status }) => status).sort()).toEqual([200, 409])
    expect(await answerFor(given.teacher, copyId)).toBe('in time and too late')
  })
})

interface History {
  readonly people: { id: string; name: string }[]
  readonly steps: { kind: JournalKind; at: number; personId: string | null; space: string | null }[]
  readonly mayBringBack: boolean
}
/** As a page reads it: the moments are made from the log. */
const historyOf = async (person: TestPerson, copyId: string): Promise<History & { moments: Moment[] }> => {
  const history = (await person.http.get(`/api/copies/${copyId}/history`).expect(200)).body as History
  const steps = history.steps.map(({ at }) => at)
  return { ...history, moments: momentsOf(await logOf(person, copyId), steps) }
}

const logOf = async (person: TestPerson, copyId: string, after = { space: '', seq: 0 }) => {
  const { body } = await person.http
    .get(`/api/copies/${copyId}/history/log`)
    .query(after)
    .buffer()
    .parse((response, done) => {
      const parts: Buffer[] = []
      response.on('data', (part: Buffer) => parts.push(part))
      response.on('end', () => done(null, Buffer.concat(parts)))
    })
    .expect(200)
  return readLog(new Uint8Array(body as Buffer))
}

describe('the history of a copy', () => {
  test('says who wrote, when and where, with the steps between, and its log makes every answer as it was', async () => {
    const copyId = await own()
    const writer = await open(students[0]!, copyId)
    for (const words of ['high', ' water']) await writer.saved(writer.type(words))
    await students[0]!.http.post(`/api/copies/${copyId}/submit`).expect(200)
    await students[0]!.http.post(`/api/copies/${copyId}/take-back`).expect(200)
    const again = await open(students[0]!, copyId)
    await again.saved(again.type(' at nine'))
    await again.saved(again.write('choice', (doc) => doc.getMap('choice').set(':one', 'a')))

    const { steps, moments, people, mayBringBack } = await historyOf(given.teacher, copyId)
    expect(steps.map(({ kind }) => kind).filter((kind) => kind !== 'first written in')).toEqual([
      'given',
      'opened',
      'submitted',
      'taken back',
    ])
    // By name, however the database found them.
    expect(people.map(({ name }) => name)).toEqual(['First0 Last0000', 'Lead Tester'])
    expect(mayBringBack).toBe(true)
    // How many moments these are depends on how fast the machine is; a step always ends one.
    const submitted = steps.find(({ kind }) => kind === 'submitted')!
    const lines = moments.filter(({ space }) => space === 'line')
    expect(lines.findLast(({ at }) => at < submitted.at)!.count).toBe(2)
    expect(lines.at(-1)).toMatchObject({ count: 3, changes: 1 })
    expect(lines.at(-1)!.began).toBeGreaterThan(submitted.at)
    expect(moments.find(({ space }) => space === 'choice')).toMatchObject({ count: 1 })

    const log = await logOf(students[0]!, copyId)
    expect(log.map(({ space, seq }) => [space, seq])).toEqual([
      ['choice', 1],
      ['line', 1],
      ['line', 2],
      ['line', 3],
    ])
    const doc = new Y.Doc()
    for (const { bytes } of log.filter(({ space, seq }) => space === 'line' && seq <= 2)) Y.applyUpdate(doc, bytes)
    expect(doc.getText('line').toJSON()).toBe('high water')
    // Piece by piece.
    expect((await logOf(students[0]!, copyId, { space: 'line', seq: 2 })).map(({ seq }) => seq)).toEqual([3])
    expect(await logOf(students[0]!, copyId, { space: 'line', seq: 3 })).toEqual([])
    await students[0]!.http.get(`/api/copies/${copyId}/history/log?space=line&seq=x`).expect(400)
    // Addresses and numbers that nothing has.
    expect(await logOf(students[0]!, copyId, { space: 'line', seq: 10 ** 12 })).toEqual([])
    expect(await logOf(students[0]!, copyId, { space: 'zz\0', seq: -5 })).toEqual([])
  })

  test('is for its holders and the staff, and for nobody else who may read it', async () => {
    const { copyId } = await shared(given, { classmatesMay: 'view' } as object)
    expect((await historyOf(students[1]!, copyId)).mayBringBack).toBe(false)
    // A peer reader reads the copy, and neither its history nor what others wrote too late into it.
    const late = await lateCopy()
    await school.source.query(
      `INSERT INTO copy_reader (school_id, copy_id, person_id, permission) SELECT school_id, id, $2, 'comment' FROM copy WHERE id = $1`,
      [late.copyId, students[1]!.viewer.personId],
    )
    await students[1]!.http.get(`/api/copies/${late.copyId}`).expect(200)
    await students[1]!.http.get(`/api/copies/${late.copyId}/history`).expect(403)
    await students[1]!.http.get(`/api/copies/${late.copyId}/history/log?space=&seq=0`).expect(403)
    expect(await lateOf(students[1]!, late.copyId)).toEqual([])
    const { copies } = await school.handedOut(given)
    const other = copies.get(given.emails[1]!)!
    await students[0]!.http.get(`/api/copies/${other}/history`).expect(404)
    await students[0]!.http.get(`/api/copies/${other}/history/log?space=&seq=0`).expect(404)
  })

  test('of a copy that cannot be opened in time is not gone through before it is mended', async () => {
    const copyId = await own()
    await school.source.query(`UPDATE copy SET unreadable_space = 'line' WHERE id = $1`, [copyId])
    for (const path of ['history', 'history/log?space=&seq=0'])
      expect((await given.teacher.http.get(`/api/copies/${copyId}/${path}`).expect(409)).body).toMatchObject({
        code: 'unreadable',
      })
  })

  test('an earlier state of an answer is brought back as a step more, which can be taken back too', async () => {
    const copyId = await own()
    const writer = await open(students[0]!, copyId)
    for (const words of ['high', ' water', ' at nine']) await writer.saved(writer.type(words))
    await writer.saved(writer.type('9', 'number'))
    const bring = (person: TestPerson, answers: object[]) =>
      person.http.post(`/api/copies/${copyId}/history/bring-back`).send({ answers })
    await bring(students[0]!, [{ space: 'line', count: 1 }]).expect(403)
    await bring(students[1]!, [{ space: 'line', count: 1 }]).expect(404)
    await bring(given.teacher, [{ space: 'nowhere', count: 1 }]).expect(404)
    await bring(given.teacher, [{ space: 'line', count: -1 }]).expect(422)
    await bring(given.teacher, []).expect(422)

    const { body } = await bring(given.teacher, [
      { space: 'line', count: 2 },
      { space: 'passage', count: 0 },
    ]).expect(200)
    expect(body).toEqual({ changed: [{ space: 'line', count: 3 }] })
    await writer.message((message) => message.type === 'closed' && message.again)
    expect(await answerFor(students[0]!, copyId)).toBe('high water')
    const { steps, moments } = await historyOf(given.teacher, copyId)
    const step = steps.find(({ kind }) => kind === 'answers brought back')!
    expect(step.space).toBe('line')
    expect(moments.at(-1)).toMatchObject({ space: 'line', count: 4, changes: 1, personId: step.personId })
    // Nothing to do; and back again.
    expect((await bring(given.teacher, [{ space: 'line', count: 2 }]).expect(200)).body).toEqual({ changed: [] })
    await bring(given.teacher, [{ space: 'line', count: 3 }]).expect(200)
    expect(await answerFor(students[0]!, copyId)).toBe('high water at nine')
  })

  test('while somebody goes on writing nothing of theirs is lost: what is not acknowledged is sent again', async () => {
    const copyId = await own()
    const writer = await open(students[0]!, copyId)
    await writer.saved(writer.type('high water'))
    const brought = given.teacher.http
      .post(`/api/copies/${copyId}/history/bring-back`)
      .send({ answers: [{ space: 'line', count: 0 }] })
    const answer = brought.then(({ status }) => status)
    writer.type(' at nine')
    const status = await answer
    expect([200, 409]).toContain(status)
    const again = await open(students[0]!, copyId)
    const before = Y.encodeStateVector(again.doc('line'))
    again.register('line', writer.doc('line').clientID)
    await again.saved(again.sendBytes('line', Y.encodeStateAsUpdate(writer.doc('line'), before)))
    // In the answer, or in its history from before it was brought back.
    const doc = new Y.Doc()
    const states = (await logOf(given.teacher, copyId)).map(({ bytes }) => {
      Y.applyUpdate(doc, bytes)
      return doc.getText('line').toJSON()
    })
    expect(states.some((text) => text.includes(' at nine'))).toBe(true)
  })
})
