import { type HandoutItem, type Statement, plainItem, plainNote, token, withWay } from '@gavrin/core'
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { randomUUID } from 'node:crypto'
import request from 'supertest'
import { LiveGateway } from '../dist/live/live.gateway.js'
import { LiveClient } from './support/liveClient.js'
import { type TestClass, type TestPerson, TestSchool, changesNow, openHandout, statementFor } from './support/school.js'

let school: TestSchool
beforeAll(async () => {
  school = await TestSchool.open()
}, 30_000)
afterAll(() => school.close())

const HOUR = 3_600_000
const QUESTION = (id: string, text: string) => ({
  id,
  kind: 'text',
  rich: { type: 'paragraph', content: [{ type: 'text', text }] },
})
const LINE = (id: string) => ({ id, kind: 'line', width: 'full' })
const section = (id: string, is: 'each member' | 'each group' | readonly string[], blocks: readonly object[]) => ({
  id,
  kind: 'section',
  title: 'Part',
  whose: typeof is === 'string' ? { is } : { is: 'named', people: is.map((of) => ({ id: of, name: 'Somebody' })) },
  blocks,
})

interface CopyRow {
  readonly id: string
  readonly slot_key: string
  readonly title: string
  readonly way: string
  readonly edition: number
  readonly set_aside: boolean
  readonly due_at: Date | null
  readonly people: string[]
}
const rowsOf = (handoutId: string) =>
  school.source.query<CopyRow[]>(
    `SELECT c.id, c.slot_key, c.title, c.way, c.edition, c.set_aside, c.due_at,
            (SELECT coalesce(json_agg(o.person_id ORDER BY o.person_id), '[]') FROM copy_holder o WHERE o.copy_id = c.id) AS people
       FROM copy c WHERE c.handout_id = $1 ORDER BY c.title`,
    [handoutId],
  )
const there = async (handoutId: string) => (await rowsOf(handoutId)).filter((row) => !row.set_aside)

/** Draws up a handout and hands it out. */
async function given(of: TestClass, statement: Statement): Promise<string> {
  const { id } = await school.draft(of, statement)
  await school.handOut(of.teacher, id)
  return id
}

/** Somebody writes a text in an answer space, and it is saved. */
async function write(person: TestPerson, copyId: string, space: string, text: string): Promise<void> {
  const client = await LiveClient.open(school.url, person.cookie, copyId)
  await client.saved(client.type(text, space))
  client.close()
}

async function read(person: TestPerson, copyId: string, space: string): Promise<string> {
  const client = await LiveClient.open(school.url, person.cookie, copyId)
  const text = client.text(space)
  client.close()
  return text
}

const part = (space: string, id: string) => `${space}_${id.replaceAll('-', '')}`

describe('every way of giving', () => {
  test('one per group: a copy each group shares, where each member writes in their own part alone', async () => {
    const of = await school.classOf(5)
    const crews = await school.groupSet(of, 'Survey crews', { 'Lock gate': [0, 1], Crane: [2, 3] })
    const worksheet = await school.worksheetOf(of.teacher, 'Front page', [
      QUESTION('q', 'Name?'),
      LINE('line'),
      section('own', 'each member', [QUESTION('q2', 'Story?'), LINE('story')]),
    ])
    const item = withWay(plainItem('first', worksheet, 1), 'one per group', [crews])
    const id = await given(of, statementFor(of.id, worksheet, null, item))
    const people = await school.peopleOf(of)
    const rows = await there(id)
    expect(rows.map(({ title, people: holders }) => [title, holders])).toEqual([
      ['Crane – Front page', [people[2], people[3]].toSorted()],
      ['Lock gate – Front page', [people[0], people[1]].toSorted()],
    ])
    const gate = rows[1]!.id
    const [ana, ben, cleo, , eli] = (await Promise.all(of.emails.map((email) => school.signInByEmail(email)))) as [
      TestPerson,
      TestPerson,
      TestPerson,
      TestPerson,
      TestPerson,
    ]
    const opened = (await ana.http.get(`/api/copies/${gate}`).expect(200)).body as { others: string[] }
    expect(opened.others).toEqual([part('story', people[1]!)])
    await cleo.http.get(`/api/copies/${gate}`).expect(404)
    await eli.http.get(`/api/copies/${gate}`).expect(404)

    const client = await LiveClient.open(school.url, ben.cookie, gate)
    await client.saved(client.type('Mine', part('story', people[1]!)))
    const refused = client.type('Not mine', part('story', people[0]!))
    expect(await client.refusal(refused)).toMatchObject({ code: 'not-yours', kept: false })
    client.close()
    const board = (await of.teacher.http.get(`/api/handouts/${id}/board`).expect(200)).body as {
      rows: { title: string; spaces: number }[]
      leftOut: { personId: string }[]
    }
    // The line, and a story for each of the two.
    expect(board.rows.map(({ spaces }) => spaces)).toEqual([3, 3])
    expect(board.leftOut.map(({ personId }) => personId)).toEqual([people[4]])
  })

  test('a section reserved for some is in their copies alone, is counted there alone, and only they write in it', async () => {
    const of = await school.classOf(4)
    const crews = await school.groupSet(of, 'Survey crews', { 'Lock gate': [0, 1], Crane: [2, 3] })
    const people = await school.peopleOf(of)
    const worksheet = await school.worksheetOf(of.teacher, 'Front page', [
      QUESTION('q', 'Name?'),
      LINE('line'),
      section('more', [people[1]!], [QUESTION('q2', 'And why?'), LINE('why'), LINE('how')]),
    ])
    const item = withWay(plainItem('first', worksheet, 1), 'one per group', [crews])
    const id = await given(of, statementFor(of.id, worksheet, null, item))
    const [crane, gate] = (await there(id)).map((row) => row.id) as [string, string]
    const board = (await of.teacher.http.get(`/api/handouts/${id}/board`).expect(200)).body as {
      rows: { copyId: string; spaces: number }[]
    }
    expect(new Map(board.rows.map(({ copyId, spaces }) => [copyId, spaces]))).toEqual(
      new Map([
        [crane, 1],
        [gate, 3],
      ]),
    )
    const [ana, ben, cleo] = await Promise.all(of.emails.map((email) => school.signInByEmail(email)))
    const othersOf = async (who: TestPerson, copyId: string) =>
      ((await who.http.get(`/api/copies/${copyId}`).expect(200)).body as { others: string[] }).others
    expect(await othersOf(ana!, gate)).toEqual(['why', 'how'])
    expect(await othersOf(ben!, gate)).toEqual([])
    expect(await othersOf(cleo!, crane)).toEqual([])
    const client = await LiveClient.open(school.url, ana!.cookie, gate)
    expect(await client.refusal(client.type('Not for me', 'why'))).toMatchObject({ code: 'not-yours', kept: false })
    client.close()
    await write(ben!, gate, 'why', 'For the view')
    expect(await read(ana!, gate, 'why')).toBe('For the view')
  })

  test('one together: one copy for the class with a place for each group', async () => {
    const of = await school.classOf(3)
    const crews = await school.groupSet(of, 'Survey crews', { 'Lock gate': [0], Crane: [1] })
    const worksheet = await school.worksheetOf(of.teacher, 'Survey', [
      section('all', 'each group', [QUESTION('q', 'Found?'), LINE('found')]),
    ])
    const item = { ...withWay(plainItem('first', worksheet, 1), 'one together', []), groupSet: crews }
    const id = await given(of, statementFor(of.id, worksheet, null, item))
    const [row] = await there(id)
    expect(row).toMatchObject({ slot_key: 'first:together', title: 'Survey' })
    expect(row!.people).toHaveLength(3)
    const ana = await school.signInByEmail(of.emails[0]!)
    const [gate, crane] = crews.groups.map((group) => part('found', group.id)) as [string, string]
    expect((await ana.http.get(`/api/copies/${row!.id}`).expect(200)).body).toMatchObject({ others: [crane] })
    const client = await LiveClient.open(school.url, ana.cookie, row!.id)
    await client.saved(client.type('Limpets', gate))
    expect(await client.refusal(client.type('Whelks', crane))).toMatchObject({ code: 'not-yours' })
    client.close()
  })

  test('to read: the original once, nobody writes in it; a link beside it; nothing of it is due', async () => {
    const of = await school.classOf(2)
    const worksheet = await school.worksheetOf(of.teacher, 'Safety', [QUESTION('q', 'Read this.'), LINE('line')])
    const link = { address: 'https://fennickquay.example/tides', title: 'Tides' }
    const id = await given(
      of,
      statementFor(
        of.id,
        worksheet,
        Date.now() + HOUR,
        {},
        {
          items: [
            withWay(plainItem('sheet', worksheet, 1), 'to read', []),
            { ...withWay(plainItem('link', null, null), 'to read', []), link },
          ],
        },
      ),
    )
    const rows = await there(id)
    expect(rows.map(({ slot_key, due_at, people }) => [slot_key, due_at, people.length])).toEqual([
      ['sheet:read', null, 2],
      ['link:read', null, 2],
    ])
    const ana = await school.signInByEmail(of.emails[0]!)
    const mine = (await ana.http.get('/api/copies').expect(200)).body as { title: string; link: string | null }[]
    expect(mine.map(({ title, link: address }) => [title, address]).toSorted()).toEqual([
      ['Safety', null],
      ['Tides', link.address],
    ])
    const client = await LiveClient.open(school.url, ana.cookie, rows[0]!.id)
    expect(await client.refusal(client.type('x', 'line'))).toMatchObject({ code: 'may-not-write' })
    await ana.http.post(`/api/copies/${rows[0]!.id}/submit`).expect(403)
    client.close()
  })

  test('several classes at once: a number and times of their own, one statement', async () => {
    const one = await school.classOf(2)
    const two = await school.classOf(1, one.teacher)
    const worksheet = await school.worksheet(one.teacher)
    const [first, second] = [Date.now() + HOUR, Date.now() + 2 * HOUR]
    const { id } = await school.draft(
      one,
      statementFor(
        one.id,
        worksheet.id,
        first,
        {},
        {
          classes: [
            { classId: one.id, opensAt: null, dueAt: first },
            { classId: two.id, opensAt: null, dueAt: second },
          ],
        },
      ),
    )
    const opened = await openHandout(one.teacher, id)
    expect(opened.parts.map(({ classId }) => classId)).toEqual([one.id, two.id])
    await school.handOut(one.teacher, id)
    const due = async (part: string) => (await there(part)).map(({ due_at }) => due_at?.getTime())
    expect(await due(opened.parts[0]!.id)).toEqual([first, first])
    expect(await due(opened.parts[1]!.id)).toEqual([second])

    // Who teaches one of them alone sees that one, and hands neither out.
    const colleague = await school.person('teacher', 'Colleague')
    await school.source.query(
      `INSERT INTO class_member (school_id, class_id, person_id, role) VALUES ($1, $2, $3, 'co-teacher')`,
      [school.schoolId, two.id, colleague.viewer.personId],
    )
    const seen = await openHandout(colleague, opened.parts[1]!.id)
    expect([seen.mayHandOut, seen.parts.map(({ classId }) => classId)]).toEqual([false, [two.id]])
    await colleague.http
      .put(`/api/handouts/${opened.parts[1]!.id}`)
      .send({ title: 'Mine', statement: seen.statement, version: seen.version })
      .expect(404)
    // A class whose copies are out is not simply taken out of the slip.
    const { body } = await one.teacher.http
      .put(`/api/handouts/${id}`)
      .send({
        title: 'x',
        statement: { ...opened.statement, classes: opened.statement.classes.slice(0, 1) },
        version: 1,
      })
      .expect(409)
    expect(body).toMatchObject({ code: 'handed-out' })
  })

  test('what is taken back in one class stays out in the other', async () => {
    const one = await school.classOf(2)
    const two = await school.classOf(2, one.teacher)
    const worksheet = await school.worksheet(one.teacher)
    const together = withWay(plainItem('first', worksheet.id, 1), 'one together', [])
    const classes = [one, two].map(({ id }) => ({ classId: id, opensAt: null, dueAt: null }))
    const { id } = await school.draft(one, statementFor(one.id, worksheet.id, null, together, { classes }))
    await school.handOut(one.teacher, id)
    const [, other] = (await openHandout(one.teacher, id)).parts
    await one.teacher.http
      .post(`/api/handouts/${id}/take-back`)
      .send({ slotKeys: ['first:together'], back: false })
      .expect(202)
    await school.finished(one.teacher, id)
    expect([(await there(id)).length, (await there(other!.id)).length]).toEqual([0, 1])
    expect(await changesNow(one.teacher, id)).toEqual([])
    const listed = (await two.teacher.http.get(`/api/classes/${two.id}/handouts`)).body as { mended: boolean }[]
    expect(listed[0]!.mended).toBe(false)
  })

  test('a class is added to a draft and taken out of it again', async () => {
    const one = await school.classOf(1)
    const two = await school.classOf(1, one.teacher)
    const statement = statementFor(one.id, (await school.worksheet(one.teacher)).id)
    const { id } = await school.draft(one, statement)
    const both = { ...statement, classes: [...statement.classes, { classId: two.id, opensAt: null, dueAt: null }] }
    const keep = (made: Statement, version: number) =>
      one.teacher.http.put(`/api/handouts/${id}`).send({ title: 'x', statement: made, version }).expect(200)
    await keep(both, 1)
    expect((await two.teacher.http.get(`/api/classes/${two.id}/handouts`)).body).toHaveLength(1)
    await keep(statement, 2)
    expect((await two.teacher.http.get(`/api/classes/${two.id}/handouts`)).body).toEqual([])
    const stranger = await school.classOf(1)
    await one.teacher.http
      .put(`/api/handouts/${id}`)
      .send({
        title: 'x',
        statement: {
          ...statement,
          classes: [...statement.classes, { classId: stranger.id, opensAt: null, dueAt: null }],
        },
        version: 3,
      })
      .expect(404)
  })

  test('peer readers read and comment; a holder lets somebody in where the slip says so, and out again', async () => {
    const of = await school.classOf(4)
    const worksheet = await school.worksheet(of.teacher)
    const item: Partial<HandoutItem> = { peers: { each: 1, may: 'comment', seed: 5, chosen: {} }, mayInvite: true }
    const id = await given(of, statementFor(of.id, worksheet.id, null, item))
    const people = await school.peopleOf(of)
    const readers = await school.source.query<{ person_id: string; holder: string; id: string }[]>(
      `SELECT r.person_id, o.person_id AS holder, c.id FROM copy_reader r JOIN copy c ON c.id = r.copy_id JOIN copy_holder o ON o.copy_id = c.id WHERE c.handout_id = $1`,
      [id],
    )
    expect(readers.map(({ person_id }) => person_id).toSorted()).toEqual(people.toSorted())
    expect(readers.every(({ person_id, holder }) => person_id !== holder)).toBe(true)
    const byId = new Map(
      await Promise.all(of.emails.map(async (email, at) => [people[at]!, await school.signInByEmail(email)] as const)),
    )
    const [first] = readers
    const reader = byId.get(first!.person_id)!
    expect((await reader.http.get(`/api/copies/${first!.id}`).expect(200)).body).toMatchObject({
      permission: 'comment',
      isHolder: false,
    })
    const other = people.find((person) => person !== first!.person_id && person !== first!.holder)!
    await byId.get(other)!.http.get(`/api/copies/${first!.id}`).expect(404)
    const holder = byId.get(first!.holder)!
    const invite = (may: string | null) => holder.http.put(`/api/copies/${first!.id}/invited/${other}`).send({ may })
    await invite('edit').expect(200)
    expect((await byId.get(other)!.http.get(`/api/copies/${first!.id}`).expect(200)).body).toMatchObject({
      permission: 'edit',
    })
    // The staff stay, whatever holders do; another change of the slip leaves guests of holders in.
    await of.teacher.http.get(`/api/copies/${first!.id}`).expect(200)
    await school.mend(of.teacher, id, statementFor(of.id, worksheet.id, null, { ...item, pattern: [token('first')] }))
    await byId.get(other)!.http.get(`/api/copies/${first!.id}`).expect(200)
    await invite(null).expect(200)
    await byId.get(other)!.http.get(`/api/copies/${first!.id}`).expect(404)
    await holder.http
      .put(`/api/copies/${first!.id}/invited/${of.teacher.viewer.personId}`)
      .send({ may: 'view' })
      .expect(404)
  })

  test('before it opens it is not there for students; at the due time pens are down by themselves', async () => {
    const of = await school.classOf(1)
    const worksheet = await school.worksheet(of.teacher)
    const opensAt = Date.now() + HOUR
    const times = (opens: number | null, dueAt: number | null) => [{ classId: of.id, opensAt: opens, dueAt }]
    const statement = statementFor(of.id, worksheet.id, null, {}, { classes: times(opensAt, opensAt + HOUR) })
    const id = await given(of, statement)
    const ana = await school.signInByEmail(of.emails[0]!)
    const [row] = await there(id)
    expect((await ana.http.get('/api/copies').expect(200)).body).toEqual([])
    await ana.http.get(`/api/copies/${row!.id}`).expect(404)
    expect((await ana.http.get(`/api/handouts/${id}/mine`).expect(200)).body).toMatchObject({ copies: [], opensAt })
    await of.teacher.http.get(`/api/copies/${row!.id}`).expect(200)
    await school.mend(of.teacher, id, { ...statement, classes: times(null, Date.now() + 1_500), pensDownAtDue: true })
    const client = await LiveClient.open(school.url, ana.cookie, row!.id)
    await client.saved(client.type('In time', 'line'))
    const told = await client.message((message) => message.type === 'permission' && message.permission === 'comment')
    expect((told as { reason: string }).reason).toMatch(/^Pens are down since \d\d:\d\d\.$/)
    expect(await client.refusal(client.type(' too late', 'line'))).toMatchObject({ code: 'late', kept: true })
    client.close()
    await ana.http.post(`/api/copies/${row!.id}/submit`).expect(200)
    await school.mend(of.teacher, id, { ...statement, classes: times(null, Date.now() - 1_000), lateWork: false })
    await ana.http.post(`/api/copies/${row!.id}/take-back`).expect(403)
  })
})

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

  test('a page that is drawn anew just after somebody wrote counts what they wrote', async () => {
    const of = await school.classOf(1)
    const id = await given(of, statementFor(of.id, (await school.worksheet(of.teacher)).id))
    const [row] = await there(id)
    const ana = await school.signInByEmail(of.emails[0]!)
    const client = await LiveClient.open(school.url, ana.cookie, row!.id)
    await client.saved(client.type('just now', 'line'))
    await school.source.query(
      `UPDATE copy SET places = '[{"id": "g", "name": "Crane", "personIds": []}]' WHERE id = $1`,
      [row!.id],
    )
    await school.app.get(LiveGateway).refreshHandout(school.schoolId, id)
    client.close()
    while ((await school.count('copy', `id = '${row!.id}' AND last_activity_at IS NOT NULL AND words > 0`)) < 1)
      await new Promise((resolve) => setImmediate(resolve))
    expect(await school.count('copy', `id = '${row!.id}' AND answered = 1`)).toBe(1)
  }, 20_000)

  test('the last hand-out is undone: copies are set aside, and the one before it is back', async () => {
    const of = await school.classOf(2)
    const statement = statementFor(of.id, (await school.worksheet(of.teacher)).id)
    const id = await given(of, statement)
    await school.mend(of.teacher, id, { ...statement, items: [{ ...statement.items[0]!, pattern: [token('first')] }] })
    expect((await there(id)).map(({ title }) => title)).toEqual(['First0', 'First1'])
    await of.teacher.http.post(`/api/handouts/${id}/undo`).expect(202)
    await school.finished(of.teacher, id)
    expect((await there(id)).map(({ title }) => title)).toEqual([
      'Last0000, First0 – Reading a tide table',
      'Last0001, First1 – Reading a tide table',
    ])
    expect(await changesNow(of.teacher, id)).toEqual([])
    await of.teacher.http.post(`/api/handouts/${id}/undo`).expect(409)

    const once = await given(of, statement)
    await of.teacher.http.post(`/api/handouts/${once}/undo`).expect(202)
    await school.finished(of.teacher, once)
    expect(await there(once)).toEqual([])
    expect(await openHandout(of.teacher, once)).toMatchObject({ handedOutAt: null, undoable: null })
    await school.handOut(of.teacher, once)
    expect(await there(once)).toHaveLength(2)
    expect(await rowsOf(once)).toHaveLength(2)
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
    expect((await ana.http.get('/api/copies')).body).toEqual([])
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
      items: [{ worksheetId: worksheet.id, audience: { kind: 'all' }, pattern: [token('first')] }],
      classes: [{ classId: next.id, dueAt: null }],
    })
    await school.handOut(of.teacher, made.id)
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

  test('waits where the slip says so, and is shown under "Needs you"', async () => {
    const of = await school.classOf(1)
    const statement = statementFor(of.id, (await school.worksheet(of.teacher)).id, null, {}, { joiners: 'wait' })
    const id = await given(of, statement)
    await join(of, 'Tupou')
    expect((await of.teacher.http.get('/api/desk/needs').expect(200)).body).toMatchObject([
      { handoutId: id, waiting: ['Late Tupou'] },
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
  const holding = school.source.createQueryRunner()
  await holding.startTransaction()
  await holding.query('SELECT 1 FROM handout WHERE id = $1 FOR UPDATE', [first])
  const answer = of.teacher.http
    .post(`/api/handouts/${last}/hand-out`)
    .send({ version: seen.version, fingerprint: 'x' })
    .then(({ status }) => status)
  await school.someoneWaits()
  // It waits for the first and holds the last not yet.
  await holding.query('SELECT 1 FROM handout WHERE id = $1 FOR UPDATE NOWAIT', [last])
  await holding.commitTransaction()
  await holding.release()
  expect(await answer).toBe(409)
})

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
    await of.teacher.http.post(`/api/handouts/${id}/undo`).expect(202)
    await school.finished(of.teacher, id)
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

describe('links', () => {
  test('the class link opens each person’s own copy', async () => {
    const of = await school.classOf(2)
    const id = await given(of, statementFor(of.id, (await school.worksheet(of.teacher)).id))
    const copies = await school.copiesByEmail(id)
    for (const email of of.emails) {
      const person = await school.signInByEmail(email)
      expect((await person.http.get(`/api/handouts/${id}/mine`).expect(200)).body).toMatchObject({
        board: false,
        copies: [{ id: copies.get(email) }],
      })
    }
    expect((await of.teacher.http.get(`/api/handouts/${id}/mine`).expect(200)).body).toMatchObject({ board: true })
  })

  test('a walk-in link lets guests in under a name, to its item alone, while it is open', async () => {
    const of = await school.classOf(2)
    const worksheet = await school.worksheet(of.teacher)
    const id = await given(
      of,
      statementFor(
        of.id,
        worksheet.id,
        null,
        {},
        {
          items: [
            withWay(plainItem('each', worksheet.id, 1), 'one each', []),
            withWay(plainItem('shared', worksheet.id, 1), 'one together', []),
          ],
        },
      ),
    )
    const set = (item: string, wish: object) => of.teacher.http.put(`/api/handouts/${id}/walk-ins/${item}`).send(wish)
    const open = { permission: 'edit', open: true, endsAt: null }
    const [link] = (await set('each', open).expect(200)).body as { code: string }[]
    const guest = request.agent(school.url)
    expect((await guest.get(`/api/walk-in/${link!.code.toLowerCase()}`).expect(200)).body).toEqual({
      class: '8 Heron',
      title: 'Tides at the quay',
      permission: 'edit',
    })
    await guest.post(`/api/walk-in/${link!.code}`).send({ name: ' ' }).expect(422)
    const entered = (await guest.post(`/api/walk-in/${link!.code}`).send({ name: 'Mika' }).expect(200)).body as {
      copyId: string
    }
    expect((await guest.get('/api/copies').expect(200)).body).toMatchObject([{ id: entered.copyId }])
    expect((await guest.get(`/api/copies/${entered.copyId}`).expect(200)).body).toMatchObject({ permission: 'edit' })
    // Nothing else of the school is there for a guest.
    const shared = (await there(id)).find(({ way }) => way === 'one together')!
    for (const path of [
      `copies/${shared.id}`,
      `classes/${of.id}`,
      `handouts/${id}/board`,
      `handouts/${id}`,
      'worksheets',
    ])
      expect((await guest.get(`/api/${path}`)).status).toBe(404)

    // Again in this browser: the same. Somebody else of this name: another, with a number. A name of the roster is pointed out.
    expect((await guest.post(`/api/walk-in/${link!.code}`).send({ name: 'mika' }).expect(200)).body).toEqual(entered)
    const twin = request.agent(school.url)
    const other = (await twin.post(`/api/walk-in/${link!.code}`).send({ name: 'Mika' }).expect(200)).body as {
      copyId: string
    }
    expect(other.copyId).not.toBe(entered.copyId)
    await twin.post(`/api/walk-in/${link!.code}`).send({ name: 'First0 Last0000' }).expect(200)
    expect((await there(id)).map(({ title }) => title)).toEqual(
      expect.arrayContaining(['Mika – Reading a tide table', 'Mika (2) – Reading a tide table']),
    )
    const [uses] = (await of.teacher.http.get(`/api/handouts/${id}/walk-ins`).expect(200)).body as {
      uses: { name: string; again: boolean; like: string | null }[]
    }[]
    expect(uses!.uses.map(({ name, again, like }) => [name, again, like])).toEqual([
      ['First0 Last0000', false, 'First0 Last0000'],
      ['Mika', false, null],
      ['mika', true, null],
      ['Mika', false, null],
    ])
    // The proof knows the guests: nothing of theirs is set aside by handing out again.
    expect(await changesNow(of.teacher, id)).toEqual([])

    await set('each', { ...open, open: false }).expect(200)
    await guest.get(`/api/copies/${entered.copyId}`).expect(404)
    expect((await guest.get('/api/copies')).body).toEqual([])
    expect((await twin.get(`/api/walk-in/${link!.code}`).expect(403)).body).toMatchObject({ code: 'walk-in-shut' })
    await set('each', { ...open, endsAt: Date.now() - 1 }).expect(200)
    await twin.get(`/api/walk-in/${link!.code}`).expect(403)
    const renewed = (await set('each', { ...open, newCode: true }).expect(200)).body as { code: string }[]
    await twin.get(`/api/walk-in/${link!.code}`).expect(404)
    await twin.get(`/api/walk-in/${renewed[0]!.code}`).expect(200)
    await guest.get(`/api/copies/${entered.copyId}`).expect(200)
  })

  test('guests of a shared copy have the permission of their link', async () => {
    const of = await school.classOf(1)
    const worksheet = await school.worksheet(of.teacher)
    const together = withWay(plainItem('first', worksheet.id, 1), 'one together', [])
    const id = await given(of, statementFor(of.id, worksheet.id, null, together))
    const set = (permission: string) =>
      of.teacher.http
        .put(`/api/handouts/${id}/walk-ins/first`)
        .send({ permission, open: true, endsAt: null })
        .expect(200)
    const [link] = (await set('view')).body as { code: string }[]
    const guest = request.agent(school.url)
    const { copyId } = (await guest.post(`/api/walk-in/${link!.code}`).send({ name: 'Grandfather' }).expect(200))
      .body as { copyId: string }
    const may = async () => ((await guest.get(`/api/copies/${copyId}`)).body as { permission: string }).permission
    expect(await may()).toBe('view')
    await set('edit')
    expect(await may()).toBe('edit')
  })
})

describe('the shelf', () => {
  test('of a class that is still empty waits for those who come in', async () => {
    const of = await school.classOf(0)
    const worksheet = await school.worksheet(of.teacher)
    const items = [withWay(plainItem('read', worksheet.id, 1), 'to read', [])]
    await of.teacher.http.put(`/api/classes/${of.id}/shelf`).send({ items, version: 0 }).expect(200)
    const email = `${randomUUID()}@fennickquay.example`
    await of.teacher.http
      .post(`/api/classes/${of.id}/roster`)
      .send({ rows: [{ last: 'First', first: 'Fay', email, cells: {} }] })
      .expect(200)
    const fay = await school.signInByEmail(email)
    while (((await fay.http.get('/api/copies').expect(200)).body as object[]).length < 1);
  })

  test('is always out: to read and to work on together; what is taken off is set aside', async () => {
    const of = await school.classOf(2)
    const worksheet = await school.worksheet(of.teacher)
    const items = [
      withWay(plainItem('read', worksheet.id, 1), 'to read', []),
      withWay(plainItem('work', worksheet.id, 1), 'one together', []),
    ]
    const keep = (list: readonly HandoutItem[], version: number) =>
      of.teacher.http.put(`/api/classes/${of.id}/shelf`).send({ items: list, version })
    const made = (await keep(items, 0).expect(200)).body as { version: number; items: { copyId: string }[] }
    expect(made).toMatchObject({ version: 1, mayChange: true })
    expect(made.items).toHaveLength(2)
    const ana = await school.signInByEmail(of.emails[0]!)
    await write(ana, made.items[1]!.copyId, 'line', 'Together')
    expect((await ana.http.get('/api/copies').expect(200)).body).toHaveLength(2)
    // It has no number and is no handout of the list.
    expect((await of.teacher.http.get(`/api/classes/${of.id}/handouts`)).body).toEqual([])
    await keep(items, 0).expect(409)
    await keep([{ ...items[0]!, way: 'one each' }], 1).expect(422)
    await keep(items.slice(0, 1), 1).expect(200)
    expect((await ana.http.get('/api/copies').expect(200)).body).toHaveLength(1)
    const back = (await keep(items, 2).expect(200)).body as { items: { copyId: string }[] }
    expect(back.items[1]!.copyId).toBe(made.items[1]!.copyId)
    expect(await read(ana, back.items[1]!.copyId, 'line')).toBe('Together')
    expect((await ana.http.put(`/api/classes/${of.id}/shelf`).send({ items: [], version: 3 })).status).toBe(404)
  })
})
