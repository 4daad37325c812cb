import { randomUUID } from 'node:crypto'
import { type Statement, DEFAULT_PATTERN, token } from '@gavrin/core'
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { type TestClass, type TestPerson, TestSchool, fingerprint, statementFor } from './support/school.js'

let school: TestSchool
beforeAll(async () => {
  school = await TestSchool.open()
})
afterAll(() => school.close())

async function drafted(students = 5): Promise<{ given: TestClass; id: string; statement: Statement; version: number }> {
  const given = await school.classOf(students)
  const statement = statementFor(given.id, (await school.worksheet(given.teacher)).id)
  return { given, statement, ...(await school.draft(given, statement)) }
}
const handOut = (person: TestPerson, id: string, version: number, seen: string) =>
  person.http.post(`/api/handouts/${id}/hand-out`).send({ version, fingerprint: seen })
const copies = (id: string, where = 'true') => school.count('copy', `handout_id = '${id}' AND ${where}`)

async function coTeacher(classId: string): Promise<TestPerson> {
  const person = await school.person('teacher', 'Co')
  await school.source.query(
    `INSERT INTO class_member (school_id, class_id, person_id, role) VALUES ($1, $2, $3, 'co-teacher')`,
    [school.schoolId, classId, person.viewer.personId],
  )
  return person
}

describe('handing out', () => {
  test('makes a copy for each student, held by them alone, and says so in the journal', async () => {
    const { given, id, version } = await drafted()
    const answer = await handOut(given.teacher, id, version, await fingerprint(given.teacher, id)).expect(202)
    expect(answer.body).toEqual({ total: 5, done: 5, finished: true, failures: [] })
    expect((await school.copiesByEmail(id)).size).toBe(5)
    expect(
      await school.count(
        'copy_holder o JOIN copy c ON c.id = o.copy_id',
        `c.handout_id = '${id}' AND o.permission = 'edit'`,
      ),
    ).toBe(5)
    expect(
      await school.count(
        'copy_journal j JOIN copy c ON c.id = j.copy_id',
        `c.handout_id = '${id}' AND j.kind = 'given'`,
      ),
    ).toBe(5)
    const student = await school.signInByEmail(given.emails[0]!)
    expect((await student.http.get('/api/copies').expect(200)).body).toMatchObject([
      { worksheet: 'Reading a tide table', state: 'not opened', spaces: 4, permission: 'edit' },
    ])
  })

  test('never makes one twice, however often and however fast it is pressed', async () => {
    const { given, id, version } = await drafted(30)
    const seen = await fingerprint(given.teacher, id)
    const answers = await Promise.all(Array.from({ length: 8 }, () => handOut(given.teacher, id, version, seen)))
    for (const { status } of answers) expect([202, 409]).toContain(status)
    expect(answers.filter(({ status }) => status === 202).length).toBeGreaterThan(0)
    expect(await copies(id)).toBe(30)
    expect((await handOut(given.teacher, id, version, seen).expect(409)).body).toMatchObject({ code: 'nothing-to-do' })
    expect(await copies(id)).toBe(30)
  })

  test('two teachers at once: each copy once', async () => {
    const { given, id, version } = await drafted(30)
    const other = await coTeacher(given.id)
    const seen = await fingerprint(given.teacher, id)
    await Promise.all([handOut(given.teacher, id, version, seen), handOut(other, id, version, seen)])
    expect(await copies(id)).toBe(30)
  })

  test('the database itself refuses a second copy of a slot', async () => {
    const { given, id, version } = await drafted(1)
    await handOut(given.teacher, id, version, await fingerprint(given.teacher, id)).expect(202)
    const again = school.source.query(
      `INSERT INTO copy (school_id, handout_id, slot_key, item_id, title, worksheet_id, edition, classmates_may) SELECT school_id, handout_id, slot_key, item_id, title, worksheet_id, edition, classmates_may FROM copy WHERE handout_id = $1`,
      [id],
    )
    await expect(again).rejects.toThrow('unique')
  })

  test('2,000 copies are made in one go', async () => {
    const { given, id, version } = await drafted(2_000)
    await handOut(given.teacher, id, version, await fingerprint(given.teacher, id)).expect(202)
    await school.finished(given.teacher, id)
    expect(await copies(id)).toBe(2_000)
    expect((await given.teacher.http.get(`/api/handouts/${id}/board`).expect(200)).body).toMatchObject({ leftOut: [] })
  })

  test('what the teacher saw is what happens: a student who joined meanwhile stops it, and it says so', async () => {
    const { given, id, version } = await drafted(2)
    const seen = await fingerprint(given.teacher, id)
    await given.teacher.http
      .post(`/api/classes/${given.id}/roster`)
      .send({ rows: [{ last: 'Late', first: 'Joiner', email: `late.${id.slice(0, 5)}@fennickquay.example` }] })
      .expect(200)
    const { body } = await handOut(given.teacher, id, version, seen).expect(409)
    expect(body).toMatchObject({ code: 'proof-changed', counts: { create: 3 } })
    expect(await copies(id)).toBe(0)
  })

  test.each<[string, (statement: Statement) => Statement, number, string]>([
    ['an empty class', (statement) => statement, 0, 'empty-class'],
    [
      'nobody chosen',
      (statement) => ({ ...statement, items: [{ ...statement.items[0]!, audience: { kind: 'some', personIds: [] } }] }),
      2,
      'nobody',
    ],
    [
      'no worksheet',
      (statement) => ({ ...statement, items: [{ ...statement.items[0]!, worksheetId: null, edition: null }] }),
      2,
      'no-worksheet',
    ],
  ])('%s: nothing is made, and a sentence says why', async (_, change, students, code) => {
    const given = await school.classOf(students)
    const statement = change(statementFor(given.id, (await school.worksheet(given.teacher)).id))
    const { id, version } = await school.draft(given, statement)
    const { body } = await handOut(given.teacher, id, version, await fingerprint(given.teacher, id)).expect(422)
    expect(body).toMatchObject({ errors: [expect.objectContaining({ code })] })
    expect(await copies(id)).toBe(0)
  })

  test('a due time in the past and one name for all are allowed, knowingly', async () => {
    const given = await school.classOf(3)
    const made = statementFor(given.id, (await school.worksheet(given.teacher)).id, Date.now() - 1_000)
    const { id, version } = await school.draft(given, {
      ...made,
      items: [{ ...made.items[0]!, pattern: [token('title')] }],
    })
    await handOut(given.teacher, id, version, await fingerprint(given.teacher, id)).expect(202)
    const titles = await school.source.query<{ title: string }[]>(
      'SELECT title FROM copy WHERE handout_id = $1 ORDER BY title',
      [id],
    )
    expect(titles.map(({ title }) => title)).toEqual([
      'Reading a tide table',
      'Reading a tide table (2)',
      'Reading a tide table (3)',
    ])
  })

  test('begun twice under one id it is one draft, at once or later; for another it is not there', async () => {
    const of = await school.classOf(1)
    const statement = statementFor(of.id, (await school.worksheet(of.teacher)).id)
    const id = randomUUID()
    const begin = (by: TestPerson, classId: string) =>
      by.http.post(`/api/classes/${classId}/handouts`).send({ id, title: 'Tides', statement })
    const [one, other] = await Promise.all([begin(of.teacher, of.id), begin(of.teacher, of.id)])
    expect([one, other].map(({ status }) => status)).toEqual([201, 201])
    expect([one, other].map(({ body }) => (body as { wasThere: boolean }).wasThere).toSorted()).toEqual([false, true])
    expect(await school.count('handout', `class_id = '${of.id}'`)).toBe(1)
    expect((await begin(of.teacher, of.id).expect(201)).body).toMatchObject({ id, version: 1, wasThere: true })
    const elsewhere = await school.classOf(1)
    await elsewhere.teacher.http
      .post(`/api/classes/${elsewhere.id}/handouts`)
      .send({
        id,
        title: 'Tides',
        statement: statementFor(elsewhere.id, (await school.worksheet(elsewhere.teacher)).id),
      })
      .expect(404)
  })

  test('a worksheet of somebody else cannot be given out', async () => {
    const given = await school.classOf(1)
    const foreign = await school.worksheet(await school.person('teacher', 'Owner'))
    const { body } = await given.teacher.http
      .post(`/api/classes/${given.id}/handouts`)
      .send({ title: 'x', statement: statementFor(given.id, foreign.id) })
      .expect(422)
    expect(body).toMatchObject({ errors: [{ code: 'worksheet-gone', field: 'items.0.worksheetId' }] })
  })
})

describe('mending a slip', () => {
  test('renames, re-permits and re-dates the copies there are; who is no longer meant is set aside and comes back with the work', async () => {
    const { given, id, version, statement } = await drafted(3)
    await handOut(given.teacher, id, version, await fingerprint(given.teacher, id)).expect(202)
    const before = await school.copiesByEmail(id)
    const first = await school.source.query<{ person_id: string }[]>(
      `SELECT o.person_id FROM copy_holder o JOIN copy c ON c.id = o.copy_id WHERE c.handout_id = $1 ORDER BY c.title LIMIT 1`,
      [id],
    )
    const only = first[0]!.person_id
    const mend = async (from: number, next: Statement) => {
      const { body } = await given.teacher.http
        .put(`/api/handouts/${id}`)
        .send({ title: 'Mended', statement: next, version: from })
        .expect(200)
      await handOut(
        given.teacher,
        id,
        (body as { version: number }).version,
        await fingerprint(given.teacher, id),
      ).expect(202)
    }
    const item = statement.items[0]!
    await mend(1, {
      ...statement,
      classes: [{ classId: given.id, opensAt: null, dueAt: 1_800_000_000_000 }],
      items: [
        { ...item, audience: { kind: 'some', personIds: [only] }, holdersMay: 'view', pattern: [token('first')] },
      ],
    })
    expect(await copies(id, 'set_aside')).toBe(2)
    expect(await copies(id, `NOT set_aside AND title = 'First0' AND due_at = to_timestamp(1800000000)`)).toBe(1)
    await mend(2, { ...statement, items: [{ ...item, pattern: DEFAULT_PATTERN }] })
    expect(await copies(id, 'NOT set_aside AND due_at IS NULL')).toBe(3)
    expect(await school.copiesByEmail(id)).toEqual(before)
    expect(
      await school.count(
        'copy_journal j JOIN copy c ON c.id = j.copy_id',
        `c.handout_id = '${id}' AND j.kind IN ('set aside', 'brought back')`,
      ),
    ).toBe(4)
  })

  test('two people edit one slip: the second is told, nothing is overwritten', async () => {
    const { given, id, statement } = await drafted(1)
    const other = await coTeacher(given.id)
    await given.teacher.http.put(`/api/handouts/${id}`).send({ title: 'Mine', statement, version: 1 }).expect(200)
    expect(
      (await other.http.put(`/api/handouts/${id}`).send({ title: 'Theirs', statement, version: 1 }).expect(409)).body,
    ).toMatchObject({ code: 'changed-meanwhile', version: 2 })
    expect((await other.http.get(`/api/handouts/${id}`).expect(200)).body).toMatchObject({ title: 'Mine' })
  })

  test('a draft can be thrown away, a handout that was handed out cannot', async () => {
    const { given, id, version } = await drafted(1)
    const draft = await school.draft(given, statementFor(given.id, (await school.worksheet(given.teacher)).id))
    await given.teacher.http.delete(`/api/handouts/${draft.id}`).expect(204)
    await handOut(given.teacher, id, version, await fingerprint(given.teacher, id)).expect(202)
    expect((await given.teacher.http.delete(`/api/handouts/${id}`).expect(409)).body).toMatchObject({
      code: 'handed-out',
    })
  })
})
