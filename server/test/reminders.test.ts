import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { HOUR, copiesIn } from './support/copies.js'
import { type TestClass, type TestPerson, TestSchool, openHere, statementFor } from './support/school.js'

// Reminders: proved before, limited, sent by mail once, withdrawn where nothing is missing any more, and by themselves.

let school: TestSchool
beforeAll(async () => {
  school = await TestSchool.open({ demo: true })
})
afterAll(() => school.close())
const { given, write } = copiesIn(() => school)

interface Proof {
  goes: { name: string; of: string }[]
  passed: { name: string; why: string }[]
  example: { to: string; subject: string; text: string } | null
}
async function handedOutTo(students: number, more: object = {}, dueAt: number | null = Date.now() + 48 * HOUR) {
  const of = await school.classOf(students)
  const worksheet = await school.worksheet(of.teacher)
  const id = await given(of, statementFor(of.id, worksheet.id, dueAt, {}, more))
  const copies = await school.copiesByEmail(id)
  return { of, id, copyIds: of.emails.map((email) => copies.get(email)!) }
}
const remind = (person: TestPerson, id: string, copyIds: readonly string[], words = '') =>
  person.http.post(`/api/handouts/${id}/reminders`).send({ copyIds, words })
const proofOf = async (of: TestClass, id: string, copyIds: readonly string[], words = ''): Promise<Proof> =>
  (await of.teacher.http.post(`/api/handouts/${id}/reminders/proof`).send({ copyIds, words }).expect(200)).body as Proof
const messagesTo = (email: string) =>
  school.source.query<{ state: string; problem: string | null; subject: string; text: string }[]>(
    `SELECT m.state, m.problem, r.subject, r.text FROM message m JOIN reminder r ON r.message_id = m.id WHERE m.address = $1 ORDER BY r.at`,
    [email],
  )
/** Resolves once what is on its way to somebody has gone, or has not. */
async function arrivedAt(email: string) {
  for (;;) {
    const rows = await messagesTo(email)
    if (rows.length > 0 && rows.every(({ state }) => state !== 'waiting')) return rows
  }
}

describe('a reminder', () => {
  test('goes out as it was proved, with what is missing in each copy, and once', async () => {
    const { of, id, copyIds } = await handedOutTo(3)
    const ana = await school.signInByEmail(of.emails[0]!)
    await write(ana, copyIds[0]!, 'line', 'ebb')
    const ben = await school.signInByEmail(of.emails[1]!)
    await ben.http.post(`/api/copies/${copyIds[1]}/submit`).expect(200)
    // What is written is counted a moment after it is saved.
    while ((await proofOf(of, id, [copyIds[0]!])).goes[0]!.of === 'not begun');
    const words = '  Two questions are enough.\nSee you on Monday. '
    const proof = await proofOf(of, id, copyIds, words)
    expect(proof.goes.map(({ name, of: what }) => [name, what])).toEqual([
      ['First0 Last0000', 'not submitted'],
      ['First2 Last0002', 'not begun'],
    ])
    expect(proof.passed).toMatchObject([{ name: 'First1 Last0001', why: 'nothing is missing' }])
    expect(proof.example!.text).toContain('Two questions are enough.\nSee you on Monday.')
    expect((await remind(of.teacher, id, copyIds, words).expect(200)).body).toEqual({ sent: 2, passed: 1 })
    const [mail] = await arrivedAt(of.emails[0]!)
    expect(mail).toMatchObject({ state: 'sent', subject: proof.example!.subject, text: proof.example!.text })
    // Within a day nobody is reminded of the same once more.
    expect((await proofOf(of, id, copyIds)).passed.map(({ why }) => why).sort()).toEqual([
      'nothing is missing',
      'reminded already',
      'reminded already',
    ])
    expect((await remind(of.teacher, id, copyIds).expect(409)).body).toMatchObject({ code: 'nobody' })
    const { body: mailroom } = await of.teacher.http.get(`/api/classes/${of.id}/mail`).expect(200)
    expect(mailroom).toMatchObject([{ kind: 'reminder' }, { kind: 'reminder' }])
  })

  test('pressed twice at once it goes once', async () => {
    const { of, id, copyIds } = await handedOutTo(1)
    const answers = await Promise.all([remind(of.teacher, id, copyIds), remind(of.teacher, id, copyIds)])
    expect(answers.map(({ status }) => status).sort()).toEqual([200, 409])
    expect(await arrivedAt(of.emails[0]!)).toHaveLength(1)
  })

  test('does not go out any more where it was submitted meanwhile', async () => {
    const { of, id, copyIds } = await handedOutTo(1)
    const ana = await school.signInByEmail(of.emails[0]!)
    // The queue takes nothing while its table is held.
    const held = await school.source.transaction()
    await held.query('LOCK TABLE jobs.job IN EXCLUSIVE MODE')
    const sending = remind(of.teacher, id, copyIds).then((answer) => answer.status)
    await school.someoneWaits()
    await ana.http.post(`/api/copies/${copyIds[0]}/submit`).expect(200)
    await held.end('COMMIT')
    expect(await sending).toBe(200)
    expect(await arrivedAt(of.emails[0]!)).toMatchObject([{ state: 'withdrawn' }])
  })

  test('nobody has more than three a day, of whatever', async () => {
    const of = await school.classOf(1)
    const worksheet = await school.worksheet(of.teacher)
    const sent = []
    for (let at = 0; at < 4; at++) {
      const id = await given(of, statementFor(of.id, worksheet.id))
      const [copyId] = (await school.copiesByEmail(id)).values()
      sent.push((await remind(of.teacher, id, [copyId!])).status)
    }
    expect(sent).toEqual([200, 200, 200, 409])
  })

  test('is for the copies of this handout alone, and only from its teachers', async () => {
    const { of, id } = await handedOutTo(1)
    const other = await handedOutTo(1)
    expect((await proofOf(of, id, other.copyIds)).goes).toEqual([])
    await remind(other.of.teacher, id, other.copyIds).expect(404)
    await remind(of.teacher, id, other.copyIds, 'x'.repeat(1_001)).expect(422)
  })
})

test('by itself it goes a day before due where the slip says so: once for each due time, also after a restart', async () => {
  let here!: Awaited<ReturnType<typeof openHere>>
  const own = await TestSchool.open({ by: async (opening) => (here = await openHere(opening)) })
  const { given: give } = copiesIn(() => own)
  const { ReminderService } = await import('../dist/reminder/reminder.service.js')
  const of = await own.classOf(2)
  const worksheet = await own.worksheet(of.teacher)
  const statement = (dueAt: number, remindBefore: boolean) =>
    statementFor(of.id, worksheet.id, dueAt, {}, { remindBefore })
  const asked = await give(of, statement(Date.now() + 23 * HOUR, true))
  await give(of, statement(Date.now() + 23 * HOUR, false))
  await give(of, statement(Date.now() + 25 * HOUR, true))
  const look = () => here.app.get(ReminderService).lookAtDue()
  await look()
  await look()
  expect(await own.count('reminder', `copy_id IN (SELECT id FROM copy WHERE handout_id = '${asked}')`)).toBe(2)
  expect(await own.count('reminder')).toBe(2)
  // Due later, they are reminded again when that is near: but not twice within a day.
  await own.source.query(`UPDATE reminder SET at = at - interval '2 days'`)
  await own.mend(of.teacher, asked, statement(Date.now() + 22 * HOUR, true))
  await look()
  expect(await own.count('reminder')).toBe(4)
  await own.close()
})
