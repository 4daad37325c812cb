import { type HandoutItem, type Statement, plainItem, plainPeers, token, withWay } from '@gavrin/core'
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { HOUR, LINE, QUESTION, copiesIn, part, section } from './support/copies.js'
import { LiveClient } from './support/liveClient.js'
import { type TestPerson, TestSchool, changesNow, openHandout, statementFor } from './support/school.js'

let school: TestSchool
beforeAll(async () => {
  school = await TestSchool.open()
})
afterAll(() => school.close())
const { there, given, write, read } = copiesIn(() => school)

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
    expect(await client.refusal(refused)).toMatchObject({ code: 'not-yours' })
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
    expect(await client.refusal(client.type('Not for me', 'why'))).toMatchObject({ code: 'not-yours' })
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
    expect((await ana.http.get(`/api/copies/${row!.id}`).expect(200)).body).toMatchObject({
      others: [crane],
      language: '',
    })
    // The board has the places, by id and name alone.
    const board = (await of.teacher.http.get(`/api/handouts/${id}/board`).expect(200)).body as {
      rows: { places: object[] }[]
      sheets: object[]
    }
    expect(board.rows[0]!.places).toEqual(crews.groups.map((group) => ({ id: group.id, name: group.name })))
    expect(board.sheets).toMatchObject([{ spaces: [{ id: 'found', of: 'group' }] }])
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
    const item: Partial<HandoutItem> = { peers: { ...plainPeers(1), seed: 5 }, mayInvite: true }
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
    expect((told as { reason: string }).reason).toMatch(/^Pens are down since \d\d:\d\d\. Only your teacher/)
    expect(await client.late(client.type(' too late', 'line'))).toMatchObject({ space: 'line' })
    client.close()
    await ana.http.post(`/api/copies/${row!.id}/submit`).expect(200)
    await school.mend(of.teacher, id, { ...statement, classes: times(null, Date.now() - 1_000), lateWork: false })
    await ana.http.post(`/api/copies/${row!.id}/take-back`).expect(403)
  })
})
