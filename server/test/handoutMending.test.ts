import {
  type Existing,
  type HandoutItem,
  type Statement,
  type UndoProof,
  plainItem,
  plainNote,
  token,
  withWay,
} from '@gavrin/core'
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import * as Y from 'yjs'
import { HOUR, LINE, QUESTION, copiesIn } from './support/copies.js'
import { LiveClient } from './support/liveClient.js'
import { type TestClass, type TestPerson, TestSchool, changesNow, openHandout, statementFor } from './support/school.js'

let school: TestSchool
beforeAll(async () => {
  school = await TestSchool.open()
})
afterAll(() => school.close())
const { rowsOf, there, given, write, read } = copiesIn(() => school)

describe('mending afterwards', () => {
  test('from one together to one each: who wrote has it in their own copy, and it is kept aside too', async () => {
    const of = await school.classOf(3)
    const worksheet = await school.worksheet(of.teacher)
    const together = withWay(plainItem('first', worksheet.id, 1), 'one together', [])
    const id = await given(of, statementFor(of.id, worksheet.id, null, together))
    const [shared] = await there(id)
    const [ana, ben] = (await Promise.all(of.emails.slice(0, 2).map((email) => school.signInByEmail(email)))) as [
      TestPerson,
      TestPerson,
    ]
    await write(ana, shared!.id, 'line', 'By Ana')
    await write(ben, shared!.id, 'number', '3.7')
    const each: HandoutItem = { ...withWay(together, 'one each', []), carry: 'give to writer' }
    const { version } = await openHandout(of.teacher, id)
    await of.teacher.http
      .put(`/api/handouts/${id}`)
      .send({ title: 'x', statement: statementFor(of.id, worksheet.id, null, each), version })
      .expect(200)
    expect((await changesNow(of.teacher, id)).map(({ kind }) => kind)).toEqual([
      'create',
      'create',
      'create',
      'set aside',
      'carry',
      'carry',
    ])
    await school.handOut(of.teacher, id)
    const copies = await school.copiesByEmail(id)
    const own = async (email: string) =>
      (
        await school.source.query<{ id: string }[]>(
          `SELECT c.id FROM copy c JOIN copy_holder o ON o.copy_id = c.id JOIN person p ON p.id = o.person_id WHERE c.handout_id = $1 AND p.email = $2 AND c.way = 'one each'`,
          [id, email],
        )
      )[0]!.id
    expect(copies.size).toBeGreaterThan(0)
    const anas = await own(of.emails[0]!)
    expect(await read(ana, anas, 'line')).toBe('By Ana')
    expect(await read(ben, await own(of.emails[1]!), 'number')).toBe('3.7')
    // What is hers she goes on with; what was set aside can be read, as it was.
    await write(ana, anas, 'line', 'And ')
    expect(await read(ana, anas, 'line')).toContain('By Ana')
    expect(await read(ana, shared!.id, 'line')).toBe('By Ana')
    expect(await changesNow(of.teacher, id)).toEqual([])
    const board = (await of.teacher.http.get(`/api/handouts/${id}/board`).expect(200)).body as {
      rows: { copyId: string; state: string; answered: number }[]
    }
    expect(board.rows.find(({ copyId }) => copyId === anas)).toMatchObject({ state: 'working', answered: 1 })
  })

  test('passages of several go under each other into the copy of their group; what stays behind is on the desk, kept from before', async () => {
    const of = await school.classOf(3)
    const crews = await school.groupSet(of, 'Crews', { Crane: [0, 1, 2] })
    const worksheet = await school.worksheet(of.teacher)
    const item = plainItem('first', worksheet.id, 1)
    const id = await given(of, statementFor(of.id, worksheet.id, null, item))
    const copies = await school.copiesByEmail(id)
    const [ana, ben] = (await Promise.all(of.emails.slice(0, 2).map((email) => school.signInByEmail(email)))) as [
      TestPerson,
      TestPerson,
    ]
    for (const [at, person] of [ana, ben].entries()) {
      const client = await LiveClient.open(school.url, person.cookie, copies.get(of.emails[at]!)!)
      await client.saved(
        client.write('passage', (doc) => {
          const paragraph = new Y.XmlElement('paragraph')
          paragraph.insert(0, [new Y.XmlText(`Passage ${at}`)])
          doc.getXmlFragment('passage').insert(0, [paragraph])
        }),
      )
      await client.saved(client.type(`Line ${at}`))
      client.close()
    }
    await ana.http.post(`/api/copies/${copies.get(of.emails[0]!)}/submit`).expect(200)
    const perGroup: HandoutItem = { ...withWay(item, 'one per group', [crews]), carry: 'give all' }
    const { version } = await openHandout(of.teacher, id)
    await of.teacher.http
      .put(`/api/handouts/${id}`)
      .send({ title: 'x', statement: statementFor(of.id, worksheet.id, null, perGroup), version })
      .expect(200)
    const seen = (await of.teacher.http.get(`/api/handouts/${id}`).expect(200)).body as {
      parts: { existing: Existing }[]
    }
    const { asked, sizes, copies: before } = seen.parts[0]!.existing
    expect(asked).toEqual({
      line: { kind: 'line', label: 'Answer 1: When is high water?' },
      passage: { kind: 'passage', label: 'Answer 2: When is high water?' },
    })
    expect(Object.keys(sizes!)).toHaveLength(4)
    expect(before.map(({ submitted }) => submitted).toSorted()).toEqual([false, false, true])
    await school.handOut(of.teacher, id)
    const [shared] = await there(id)
    const client = await LiveClient.open(school.url, ben.cookie, shared!.id)
    const passage = () => client.doc('passage').getXmlFragment('passage').toJSON()
    expect(passage()).toMatch(
      /^<paragraph><bold>First\d Last\d+<\/bold><\/paragraph><paragraph>Passage \d<\/paragraph><paragraph><bold>First\d Last\d+<\/bold><\/paragraph><paragraph>Passage \d<\/paragraph>$/,
    )
    expect(client.text('line')).toBe('')
    // They go on in it.
    await client.saved(
      client.write('passage', (doc) => {
        const root = doc.getXmlFragment('passage')
        ;((root.get(1) as Y.XmlElement).get(0) as Y.XmlText).insert(0, 'More: ')
      }),
    )
    client.close()
    const mine = (await ana.http.get('/api/copies').expect(200)).body as { id: string; setAside: boolean }[]
    expect(mine.map(({ id: copyId, setAside }) => [copyId, setAside]).toSorted()).toEqual(
      [
        [shared!.id, false],
        [copies.get(of.emails[0]!), true],
      ].toSorted(),
    )
    expect(await read(ana, copies.get(of.emails[0]!)!, 'line')).toBe('Line 0')
  })

  test('a corrected worksheet reaches copies in work: answers stay, and those whose space is gone are kept and shown', async () => {
    const of = await school.classOf(2)
    const worksheet = await school.worksheetOf(of.teacher, 'Tides', [
      QUESTION('q1', 'High water?'),
      LINE('high'),
      QUESTION('q2', 'Low water?'),
      LINE('low'),
    ])
    const statement = statementFor(of.id, worksheet)
    const id = await given(of, statement)
    const rows = await there(id)
    const ana = await school.signInByEmail(of.emails[0]!)
    const client = await LiveClient.open(school.url, ana.cookie, rows[0]!.id)
    await client.saved(client.type('at six', 'high'))
    await client.saved(client.type('at noon', 'low'))
    await school.keepEdition(of.teacher, worksheet, 'Tides', [
      QUESTION('q1', 'When is high water?'),
      LINE('high'),
      QUESTION('q3', 'Slack water?'),
      LINE('slack'),
    ])
    // To one of the two at first.
    const second = { ...statement.items[0]!, edition: 2 }
    await school.mend(of.teacher, id, {
      ...statement,
      items: [{ ...second, earlier: { [rows[1]!.slot_key]: 1 } }],
    })
    expect((await there(id)).map(({ edition }) => edition)).toEqual([2, 1])
    // Who has it open is shown the page anew.
    await client.message((message) => message.type === 'closed')
    client.messages.length = 0
    await client.openCopy(rows[0]!.id)
    await client.saved(client.type('at nine', 'slack'))
    client.close()
    const opened = (await ana.http.get(`/api/copies/${rows[0]!.id}`).expect(200)).body as { kept: object[] }
    expect(opened.kept).toEqual([{ space: 'low', label: 'Answer 2: Low water?', text: 'at noon', edition: 1 }])
    expect(await read(ana, rows[0]!.id, 'high')).toBe('at six')
    await school.mend(of.teacher, id, { ...statement, items: [second] })
    expect((await there(id)).map(({ edition }) => edition)).toEqual([2, 2])
    // Counted a moment after it is saved.
    while ((await school.count('copy', `id = '${rows[0]!.id}' AND answered = 2`)) < 1)
      await new Promise((resolve) => setImmediate(resolve))
  })

  const undoProof = async (of: TestClass, id: string) =>
    (await of.teacher.http.get(`/api/handouts/${id}/undo`).expect(200)).body as UndoProof
  const undo = (of: TestClass, id: string) => school.undo(of.teacher, id)

  test('the last hand-out is undone: copies are set aside, and the one before it is back; the undo is undone itself', async () => {
    const of = await school.classOf(2)
    const statement = statementFor(of.id, (await school.worksheet(of.teacher)).id)
    const id = await given(of, statement)
    await school.mend(of.teacher, id, { ...statement, items: [{ ...statement.items[0]!, pattern: [token('first')] }] })
    const titles = async () => (await there(id)).map(({ title }) => title)
    expect(await titles()).toEqual(['First0', 'First1'])
    await undo(of, id)
    const before = ['Last0000, First0 – Reading a tide table', 'Last0001, First1 – Reading a tide table']
    expect(await titles()).toEqual(before)
    expect(await changesNow(of.teacher, id)).toEqual([])
    expect(await openHandout(of.teacher, id)).toMatchObject({ undoable: { kind: 'undo' } })
    expect(await undoProof(of, id)).toMatchObject({ kind: 'undo', counts: { make: 0, change: 2, aside: 0 } })
    await undo(of, id)
    expect(await titles()).toEqual(['First0', 'First1'])
    await undo(of, id)
    expect(await titles()).toEqual(before)

    const once = await given(of, statement)
    await undo(of, once)
    expect(await there(once)).toEqual([])
    expect(await openHandout(of.teacher, once)).toMatchObject({ handedOutAt: null, undoable: { kind: 'undo' } })
    await school.handOut(of.teacher, once)
    expect(await there(once)).toHaveLength(2)
    expect(await rowsOf(once)).toHaveLength(2)
  })

  test('an undo shows first what it does, with the writing; what was not seen does not happen', async () => {
    const of = await school.classOf(3)
    const statement = statementFor(of.id, (await school.worksheet(of.teacher)).id)
    const id = await given(of, {
      ...statement,
      cover: { text: plainNote('Dear all'), by: 'here', staffCopied: false },
    })
    const [first] = await there(id)
    const ana = await school.signInByEmail(of.emails[0]!)
    await write(ana, first!.id, 'line', 'Mine')
    const seen = await undoProof(of, id)
    expect(seen).toMatchObject({ kind: 'hand out', counts: { make: 0, change: 0, aside: 3 }, notes: 3 })
    expect(seen.copies.map(({ becomes, written }) => [becomes, written])).toEqual([
      [['set aside'], true],
      [['set aside'], false],
      [['set aside'], false],
    ])
    // A student leaves meanwhile and the copy is set aside: that is another undo.
    await of.teacher.http
      .post(`/api/handouts/${id}/take-back`)
      .send({ slotKeys: [first!.slot_key], back: false })
      .expect(202)
    await school.finished(of.teacher, id)
    const refused = await of.teacher.http
      .post(`/api/handouts/${id}/undo`)
      .send({ fingerprint: seen.fingerprint })
      .expect(409)
    expect(refused.body).toMatchObject({ code: 'proof-changed' })
    expect(await there(id)).toHaveLength(2)
    // What was done last is undone, in the one class.
    expect((await undoProof(of, id)).copies.map(({ becomes }) => becomes)).toEqual([['bring back']])
    await undo(of, id)
    expect(await there(id)).toHaveLength(3)
  })

  test('of a handout to two classes that is undone which was done last: a copy taken back in one, and nothing of the other', async () => {
    const of = await school.classOf(1)
    const other = await school.classOf(1, of.teacher)
    const worksheet = await school.worksheet(of.teacher)
    const classes = [of, other].map((one) => ({ classId: one.id, opensAt: null, dueAt: null }))
    const id = await given(of, { ...statementFor(of.id, worksheet.id), classes })
    const [row] = await there(id)
    await of.teacher.http
      .post(`/api/handouts/${id}/take-back`)
      .send({ slotKeys: [row!.slot_key], back: false })
      .expect(202)
    await school.finished(of.teacher, id)
    await undo(of, id)
    expect(await there(id)).toHaveLength(1)
    expect(await school.count('copy', `NOT set_aside AND worksheet_id = '${worksheet.id}'`)).toBe(2)
    // Both go on having one statement and one version, and nothing of either is left to hand out.
    const both = await school.source.query<{ version: number; statement: object; given: object }[]>(
      'SELECT version, statement, given FROM handout WHERE class_id = ANY($1)',
      [[of.id, other.id]],
    )
    expect(both[0]).toEqual(both[1])
    expect(both[0]!.given).toEqual(both[0]!.statement)
  })

  test('who hands out again for a late joiner has nothing to undo but what the slip said', async () => {
    const of = await school.classOf(1)
    const statement = statementFor(of.id, (await school.worksheet(of.teacher)).id, null, {}, { joiners: 'wait' })
    const id = await given(of, statement)
    await of.teacher.http
      .post(`/api/classes/${of.id}/roster`)
      .send({ rows: [{ last: 'Tupou', first: 'Late', email: 'late.tupou.undo@fennickquay.example' }] })
    while ((await changesNow(of.teacher, id)).length === 0) await new Promise((resolve) => setImmediate(resolve))
    await school.handOut(of.teacher, id)
    expect(await openHandout(of.teacher, id)).toMatchObject({ undoable: null })
    await of.teacher.http.get(`/api/handouts/${id}/undo`).expect(409)
  })

  test('a copy is taken back and brought back with what is in it; the rest stays as it is', async () => {
    const of = await school.classOf(2)
    const id = await given(of, statementFor(of.id, (await school.worksheet(of.teacher)).id))
    const [row] = await there(id)
    const ana = await school.signInByEmail(of.emails[0]!)
    await write(ana, row!.id, 'line', 'Kept')
    const take = (back: boolean) =>
      of.teacher.http.post(`/api/handouts/${id}/take-back`).send({ slotKeys: [row!.slot_key], back })
    await take(false).expect(202)
    await school.finished(of.teacher, id)
    expect(await there(id)).toHaveLength(1)
    // What she wrote in it is on her desk, kept from before.
    expect((await ana.http.get('/api/copies')).body).toMatchObject([{ setAside: true }])
    expect(await changesNow(of.teacher, id)).toEqual([])
    await take(false).expect(409)
    await take(true).expect(202)
    await school.finished(of.teacher, id)
    expect(await there(id)).toHaveLength(2)
    expect(await read(ana, row!.id, 'line')).toBe('Kept')
  })

  test('a row that fails says why, all others are done, and it is tried again alone', async () => {
    const of = await school.classOf(4)
    const statement = statementFor(of.id, (await school.worksheet(of.teacher)).id)
    const { id } = await school.draft(of, statement)
    const people = await school.peopleOf(of)
    await school.source.query(
      `CREATE OR REPLACE FUNCTION stumble() RETURNS trigger LANGUAGE plpgsql AS $$ BEGIN RAISE EXCEPTION 'stumbled'; END $$`,
    )
    await school.source.query(
      `CREATE TRIGGER stumbles BEFORE INSERT ON copy FOR EACH ROW WHEN (NEW.handout_id = '${id}' AND NEW.slot_key LIKE '%${people[1]}') EXECUTE FUNCTION stumble()`,
    )
    await school.handOut(of.teacher, id)
    const failures = async () =>
      ((await of.teacher.http.get(`/api/handouts/${id}/hand-out`).expect(200)).body as { failures: object[] }).failures
    // The roster was saved just before: the one who is missing may be tried once more by itself.
    let failed = await failures()
    while (failed.length === 0) failed = await failures()
    expect(failed).toEqual([
      {
        slotKey: `first:each:${people[1]}`,
        reason: 'It could not be written. Try again; if it fails again, tell the office.',
      },
    ])
    expect(await there(id)).toHaveLength(3)
    await school.source.query('DROP TRIGGER stumbles ON copy')
    await of.teacher.http
      .post(`/api/handouts/${id}/hand-out/retry`)
      .send({ slotKeys: [`first:each:${people[1]}`] })
      .expect(202)
    await school.finished(of.teacher, id)
    expect(await failures()).toEqual([])
    expect(await there(id)).toHaveLength(4)
  })

  test('the same again for another class, and the shape of it as a recipe', async () => {
    const of = await school.classOf(2)
    const worksheet = await school.worksheet(of.teacher)
    const people = await school.peopleOf(of)
    const statement = statementFor(of.id, worksheet.id, Date.now() + HOUR, {
      audience: { kind: 'some', personIds: [people[0]!] },
      pattern: [token('first')],
    })
    const id = await given(of, statement)
    const next = await school.classOf(3, of.teacher)
    const { body } = await of.teacher.http.post(`/api/handouts/${id}/repeat`).send({ classId: next.id }).expect(201)
    const made = await openHandout(of.teacher, (body as { id: string }).id)
    expect(made.statement).toMatchObject({
      items: [
        {
          worksheetId: worksheet.id,
          audience: { kind: 'not said', was: '1 of 8 Heron' },
          pattern: [token('first')],
        },
      ],
      classes: [{ classId: next.id, dueAt: null }],
    })
    // Whom it is for here is asked: nothing goes out until it is said.
    const refused = await of.teacher.http
      .post(`/api/handouts/${made.id}/hand-out`)
      .send({ version: made.version, fingerprint: 'x' })
      .expect(422)
    expect(refused.body).toMatchObject({ errors: [{ code: 'nobody' }] })
    await school.mend(of.teacher, made.id, {
      ...made.statement,
      items: [{ ...made.statement.items[0]!, audience: { kind: 'all' } }],
    })
    expect(await there(made.id)).toHaveLength(3)

    const recipes = (await of.teacher.http.post('/api/recipes').send({ name: 'By first name', statement }).expect(201))
      .body as { id: string; name: string; statement: Statement }[]
    expect(recipes).toMatchObject([
      { name: 'By first name', statement: { items: [{ worksheetId: null, pattern: [token('first')] }], classes: [] } },
    ])
    const other = await school.person('teacher', 'Other')
    expect((await other.http.get('/api/recipes')).body).toEqual([])
    await other.http.delete(`/api/recipes/${recipes[0]!.id}`).expect(404)
    await of.teacher.http.delete(`/api/recipes/${recipes[0]!.id}`).expect(204)
  })
})

describe('who comes later', () => {
  const join = (of: TestClass, name: string) =>
    of.teacher.http
      .post(`/api/classes/${of.id}/roster`)
      .send({ rows: [{ last: name, first: 'Late', email: `${name}.${of.id.slice(0, 6)}@fennickquay.example` }] })
      .expect(200)
  /** Resolves when this many copies are there. */
  const copiesAre = async (id: string, count: number) => {
    while ((await there(id)).length !== count) await new Promise((resolve) => setImmediate(resolve))
  }

  test('gets theirs by itself, with the cover note, and nobody else is written to', async () => {
    const of = await school.classOf(2)
    const cover = { text: plainNote('Bring your chart.'), by: 'here' as const, staffCopied: false }
    const statement = statementFor(of.id, (await school.worksheet(of.teacher)).id, null, {}, { cover })
    const id = await given(of, statement)
    // An edit that was not handed out stays out of it.
    const { version } = await openHandout(of.teacher, id)
    await of.teacher.http
      .put(`/api/handouts/${id}`)
      .send({
        title: 'x',
        statement: { ...statement, items: [{ ...statement.items[0]!, pattern: [token('title')] }] },
        version,
      })
      .expect(200)
    await join(of, 'Tupou')
    await copiesAre(id, 3)
    expect((await there(id)).map(({ title }) => title)).toContain('Tupou, Late – Reading a tide table')
    expect(await school.count('notice', `handout_id = '${id}'`)).toBe(3)
  })

  test('gets a due time of their own when the class’s is past, and the slip says so', async () => {
    const of = await school.classOf(1)
    const statement = statementFor(of.id, (await school.worksheet(of.teacher)).id, null)
    const id = await given(of, {
      ...statement,
      classes: [{ classId: of.id, opensAt: null, dueAt: Date.now() + 60_000 }],
    })
    // Two days later, for the class.
    const due = Date.now() - 2 * 86_400_000
    await school.source.query(
      `UPDATE handout SET handed_out_at = to_timestamp($2), statement = jsonb_set(statement, '{classes,0,dueAt}', $3), given = jsonb_set(given, '{classes,0,dueAt}', $3), due_at = to_timestamp($4) WHERE id = $1`,
      [id, due / 1_000 - 3 * 86_400, String(due), due / 1_000],
    )
    await school.source.query('UPDATE copy SET due_at = to_timestamp($2) WHERE handout_id = $1', [id, due / 1_000])
    await join(of, 'Tupou')
    await copiesAre(id, 2)
    const copies = await school.source.query<{ due: Date }[]>('SELECT due_at AS due FROM copy WHERE handout_id = $1', [
      id,
    ])
    const dues = copies.map((copy) => copy.due.getTime())
    expect(dues).toContain(due)
    // As long as the class had: three days, at the hour of the class's.
    const own = Math.max(...dues)
    expect((own - due) % 86_400_000).toBe(0)
    expect(own - Date.now()).toBeGreaterThan(3 * 86_400_000 - 60_000)
    expect(own - Date.now()).toBeLessThanOrEqual(4 * 86_400_000)
    expect((await openHandout(of.teacher, id)).statement.exceptions).toMatchObject([{ dueAt: own }])
    expect(await changesNow(of.teacher, id)).toEqual([])
  })

  test('is put down to be looked for with the change of the roster itself', async () => {
    const of = await school.classOf(1)
    const runner = await school.source.transaction()
    await runner.query('DELETE FROM class_look')
    await runner.query('UPDATE class_member SET left_at = NULL WHERE class_id = $1', [of.id])
    expect(await runner.query('SELECT class_id FROM class_look')).toEqual([{ class_id: of.id }])
    await runner.end('ROLLBACK')
  })

  test('waits where the slip says so, and is shown under "Needs you"', async () => {
    const of = await school.classOf(1)
    const statement = statementFor(of.id, (await school.worksheet(of.teacher)).id, null, {}, { joiners: 'wait' })
    const id = await given(of, statement)
    await join(of, 'Tupou')
    expect((await of.teacher.http.get('/api/desk/needs').expect(200)).body).toMatchObject([
      { handoutId: id, count: 1, sentence: 'Late Tupou has no copy yet' },
    ])
    expect(await there(id)).toHaveLength(1)
    await school.handOut(of.teacher, id)
    expect((await of.teacher.http.get('/api/desk/needs').expect(200)).body).toEqual([])
  })

  test('put in a group, they share its copy', async () => {
    const of = await school.classOf(3)
    const crews = await school.groupSet(of, 'Crews', { Crane: [0, 1] })
    const worksheet = await school.worksheet(of.teacher)
    const item = withWay(plainItem('first', worksheet.id, 1), 'one per group', [crews])
    const id = await given(of, statementFor(of.id, worksheet.id, null, item))
    const people = await school.peopleOf(of)
    const { body } = await of.teacher.http.get(`/api/classes/${of.id}/group-sets`).expect(200)
    const [set] = body as { version: number; pairs: []; locked: []; groups: { personIds: string[] }[] }[]
    await of.teacher.http
      .put(`/api/group-sets/${crews.id}/arrangement`)
      .send({
        groups: [{ ...crews.groups[0]!, personIds: people }],
        locked: set!.locked,
        pairs: set!.pairs,
        version: set!.version,
      })
      .expect(200)
    while ((await there(id))[0]!.people.length !== 3) await new Promise((resolve) => setImmediate(resolve))
    expect((await there(id))[0]!.people).toEqual(people.toSorted())
  })

  test('who of a group submitted its copy is told to the others', async () => {
    const of = await school.classOf(2)
    const crews = await school.groupSet(of, 'Crews', { Crane: [0, 1] })
    const worksheet = await school.worksheet(of.teacher)
    const item = withWay(plainItem('first', worksheet.id, 1), 'one per group', [crews])
    const id = await given(of, statementFor(of.id, worksheet.id, null, item))
    const [shared] = await there(id)
    const [ana, ben] = (await Promise.all(of.emails.map((email) => school.signInByEmail(email)))) as [
      TestPerson,
      TestPerson,
    ]
    const seen = async () => (await ben.http.get(`/api/copies/${shared!.id}`).expect(200)).body as object
    expect(await seen()).toMatchObject({ handingIn: null })
    await ana.http.post(`/api/copies/${shared!.id}/submit`).expect(200)
    const by = 'First0 Last0000'
    expect(await seen()).toMatchObject({ handingIn: { kind: 'submitted', by, isSelf: false }, mayTakeBack: true })
    // One of them says "not yet": the others are told that too.
    await ben.http.post(`/api/copies/${shared!.id}/take-back`).expect(200)
    expect(await seen()).toMatchObject({ handingIn: { kind: 'taken back', isSelf: true } })
    expect((await ana.http.get(`/api/copies/${shared!.id}`).expect(200)).body).toMatchObject({
      handingIn: { kind: 'taken back', by: 'First1 Last0001', isSelf: false },
    })
  })

  test('two who change groups one after the other both get the copy of their group; that they are in the former too is said', async () => {
    const of = await school.classOf(4)
    const crews = await school.groupSet(of, 'Crews', { Crane: [0, 1], Slipway: [2, 3] })
    const worksheet = await school.worksheet(of.teacher)
    const item = withWay(plainItem('first', worksheet.id, 1), 'one per group', [crews])
    const id = await given(of, statementFor(of.id, worksheet.id, null, item))
    const [ana, , cleo] = await school.peopleOf(of)
    const differences = async () =>
      (
        (await of.teacher.http.get(`/api/handouts/${id}/differences`).expect(200)).body as {
          differences: { count: number; sentence: string } | null
        }
      ).differences
    expect(await differences()).toBeNull()
    const move = async (personId: string, to: number, copies: number[]) => {
      await of.teacher.http
        .post(`/api/group-sets/${crews.id}/moves`)
        .send({ personIds: [personId], groupId: crews.groups[to]!.id })
        .expect(200)
      const sizes = async () => (await there(id)).map(({ people }) => people.length).toSorted()
      while ((await sizes()).join() !== copies.join()) await new Promise((resolve) => setImmediate(resolve))
    }
    await move(ana!, 1, [2, 3])
    await move(cleo!, 0, [3, 3])
    const now = await differences()
    expect(now).toMatchObject({
      count: 2,
      sentence: expect.stringMatching(/^2 students belong to other copies now \(/),
    })
    expect((await of.teacher.http.get('/api/desk/needs').expect(200)).body).toMatchObject([{ handoutId: id, ...now }])
    await school.handOut(of.teacher, id)
    expect((await there(id)).map(({ people }) => people.length)).toEqual([2, 2])
    expect(await differences()).toBeNull()
  })
})

test('handouts of a set are locked in one order, whichever of them is asked for: two teachers never wait for each other', async () => {
  const of = await school.classOf(1)
  const other = await school.classOf(1, of.teacher)
  const worksheet = await school.worksheet(of.teacher)
  const classes = [of, other].map(({ id }) => ({ classId: id, opensAt: null, dueAt: null }))
  await school.draft(of, { ...statementFor(of.id, worksheet.id), classes })
  const rows = await school.source.query<{ id: string }[]>(
    'SELECT id FROM handout WHERE class_id = ANY($1) ORDER BY id',
    [[of.id, other.id]],
  )
  const [first, last] = rows.map(({ id }) => id) as [string, string]
  const seen = (await of.teacher.http.get(`/api/handouts/${last}`).expect(200)).body as { version: number }
  const holding = await school.source.transaction()
  await holding.query('SELECT 1 FROM handout WHERE id = $1 FOR UPDATE', [first])
  const answer = of.teacher.http
    .post(`/api/handouts/${last}/hand-out`)
    .send({ version: seen.version, fingerprint: 'x' })
    .then(({ status }) => status)
  await school.someoneWaits()
  // It waits for the first and holds the last not yet.
  await holding.query('SELECT 1 FROM handout WHERE id = $1 FOR UPDATE NOWAIT', [last])
  await holding.end('COMMIT')
  expect(await answer).toBe(409)
})
