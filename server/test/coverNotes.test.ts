import { plainNote, token } from '@gavrin/core'
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { HOUR, copiesIn } from './support/copies.js'
import { type TestClass, TestSchool, statementFor } from './support/school.js'

let school: TestSchool
beforeAll(async () => {
  school = await TestSchool.open()
})
afterAll(() => school.close())
const { there, given } = copiesIn(() => school)

describe('cover notes', () => {
  test('to each with their own name, by mail and on their desk, once however often it is handed out', async () => {
    const of = await school.classOf(2)
    const cover = {
      text: {
        type: 'doc' as const,
        content: [
          {
            type: 'paragraph',
            content: [
              { type: 'text', text: 'Dear ' },
              { type: 'nameToken', attrs: { token: 'first' } },
              { type: 'text', text: ', about ', marks: [{ type: 'bold' }] },
              { type: 'nameToken', attrs: { token: 'title' } },
            ],
          },
        ],
      },
      by: 'mail' as const,
      staffCopied: true,
    }
    const statement = statementFor(of.id, (await school.worksheet(of.teacher)).id, null, {}, { cover })
    const id = await given(of, statement)
    // Two students, and each of their notes to the one who teaches them.
    expect(await school.count('message', `handout_id = '${id}'`)).toBe(4)
    while ((await school.count('stand_in_mail', `recipient = '${of.emails[1]}'`)) < 1)
      await new Promise((resolve) => setImmediate(resolve))
    const [mail] = await school.source.query<{ subject: string; body: string }[]>(
      'SELECT subject, body FROM stand_in_mail WHERE recipient = $1',
      [of.emails[1]],
    )
    expect(mail!.subject).toBe('8 Heron, No. 1: Tides at the quay')
    expect(mail!.body).toContain('Dear First1, about Reading a tide table')
    expect(mail!.body).toContain(`/to/${id}`)
    await school.mend(of.teacher, id, { ...statement, items: [{ ...statement.items[0]!, pattern: [token('first')] }] })
    expect(await school.count('message', `handout_id = '${id}'`)).toBe(4)
    const ana = await school.signInByEmail(of.emails[0]!)
    const [mine] = (await ana.http.get('/api/copies').expect(200)).body as { note: { content: object[] } }[]
    expect(JSON.stringify(mine!.note)).toContain('First0')
  })

  /** The jobs of a handout's messages: when they are due, by address. */
  const jobsOf = async (handoutId: string) => {
    const rows = await school.source.query<{ address: string; at: Date }[]>(
      `SELECT m.address, j.start_after AS at FROM jobs.job j JOIN message m ON m.id::text = j.data ->> 'messageId'
        WHERE m.handout_id = $1 AND j.state = 'created' ORDER BY m.address`,
      [handoutId],
    )
    return rows.map(({ address, at }) => [address, at.getTime()] as const)
  }
  const opening = async (of: TestClass, opensAt: number | null) =>
    statementFor(
      of.id,
      (await school.worksheet(of.teacher)).id,
      null,
      {},
      {
        cover: { text: plainNote('Soon.'), by: 'mail', staffCopied: false },
        classes: [{ classId: of.id, opensAt, dueAt: null }],
      },
    )
  const DAY = 24 * HOUR

  test('go out when the handout opens, be it moved to another time, and for some at a time of their own', async () => {
    const of = await school.classOf(2)
    const opensAt = Date.now() + DAY
    const statement = await opening(of, opensAt)
    const id = await given(of, statement)
    const [first, second] = of.emails.toSorted()
    expect(await jobsOf(id)).toEqual([
      [first, opensAt],
      [second, opensAt],
    ])
    const own = { personId: (await school.peopleOf(of))[1]!, opensAt: opensAt + DAY }
    const later = [{ classId: of.id, opensAt: opensAt + HOUR, dueAt: null }]
    await school.mend(of.teacher, id, { ...statement, classes: later, exceptions: [{ ...own, dueAt: null }] })
    expect(await jobsOf(id)).toEqual([
      [first, opensAt + HOUR],
      [second, opensAt + DAY],
    ])
    const lines = (await of.teacher.http.get(`/api/classes/${of.id}/mail`).expect(200)).body as object[]
    expect(lines).toHaveLength(2)
    expect(lines[1]).toMatchObject({
      kind: 'cover note',
      state: 'waiting',
      opensAt: opensAt + DAY,
      handout: { id, number: 1, title: 'Tides at the quay' },
    })
    // Open at once: so are the notes, each once.
    await school.mend(of.teacher, id, { ...statement, classes: [{ classId: of.id, opensAt: null, dueAt: null }] })
    while ((await school.count('message', `handout_id = '${id}' AND state = 'sent'`)) < 2)
      await new Promise((resolve) => setImmediate(resolve))
    expect(await school.count('stand_in_mail', `recipient IN ('${first}', '${second}')`)).toBe(2)
    expect(await jobsOf(id)).toEqual([])
  })

  test('that wait do not go out for what is taken back, and wait again once it is given again', async () => {
    const of = await school.classOf(2)
    const opensAt = Date.now() + DAY
    const id = await given(of, await opening(of, opensAt))
    await school.undo(of.teacher, id)
    expect(await jobsOf(id)).toEqual([])
    const states = async () =>
      ((await of.teacher.http.get(`/api/classes/${of.id}/mail`).expect(200)).body as { state: string }[]).map(
        ({ state }) => state,
      )
    expect(await states()).toEqual(['withdrawn', 'withdrawn'])
    await school.handOut(of.teacher, id)
    expect(await states()).toEqual(['waiting', 'waiting'])
    expect((await jobsOf(id)).map(([, at]) => at)).toEqual([opensAt, opensAt])
    // One alone is taken back: only theirs does not go out.
    const [row] = await there(id)
    await of.teacher.http
      .post(`/api/handouts/${id}/take-back`)
      .send({ slotKeys: [row!.slot_key], back: false })
      .expect(202)
    await school.finished(of.teacher, id)
    expect((await states()).toSorted()).toEqual(['waiting', 'withdrawn'])
    expect(await jobsOf(id)).toHaveLength(1)
  })
})
