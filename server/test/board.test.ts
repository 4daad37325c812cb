import { type BoardRow, plainItem } from '@gavrin/core'
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { randomUUID } from 'node:crypto'
import type { Answers } from '../../web/src/contract.js'
import { HOUR, LINE, QUESTION, copiesIn, part, section } from './support/copies.js'
import { LiveClient } from './support/liveClient.js'
import { type TestClass, type TestPerson, TestSchool, statementFor } from './support/school.js'

// The board: what its rows count, all answers to one question, what is new since somebody looked, and single students.

let school: TestSchool
beforeAll(async () => {
  school = await TestSchool.open()
})
afterAll(() => school.close())
const { given, shared, write, there } = copiesIn(() => school)

interface Board {
  rows: BoardRow[]
  sheets: { worksheetId: string; spaces: { id: string }[] }[]
  leftOut: { personId: string }[]
  looked: { copyId: string; at: number }[]
}
const boardOf = async (person: TestPerson, handoutId: string): Promise<Board> =>
  (await person.http.get(`/api/handouts/${handoutId}/board`).expect(200)).body as Board
const rowOf = async (person: TestPerson, handoutId: string, copyId: string) =>
  (await boardOf(person, handoutId)).rows.find((row) => row.copyId === copyId)!
const say = (person: TestPerson, copyId: string, anchor: object, kind = 'comment') =>
  person.http
    .put(`/api/copies/${copyId}/comments/${randomUUID()}`)
    .send({ text: 'Look here.', threadId: randomUUID(), begins: { kind, staffOnly: false, anchor } })
    .expect(200)
/** Resolves once the row of a copy is so: what is written is counted a moment after it is saved. */
async function rowIs(person: TestPerson, handoutId: string, copyId: string, is: (row: BoardRow) => boolean) {
  for (;;) {
    const row = await rowOf(person, handoutId, copyId)
    if (is(row)) return row
  }
}
async function helping(of: TestClass, role: string, studentIds: readonly string[] = []): Promise<TestPerson> {
  const helper = await school.person('teacher', 'Hilde')
  await of.teacher.http.post(`/api/classes/${of.id}/staff`).send({ email: helper.email, role, studentIds }).expect(201)
  return helper
}

/** A line that is right when "ebb" stands in it. */
const KEYED = { ...LINE('line'), accepted: ['ebb'] }

describe('a row', () => {
  test('counts sittings by the pauses between what is written', async () => {
    const of = await school.classOf(1)
    const { id, copies } = await school.handedOut(of)
    const copyId = copies.get(of.emails[0]!)!
    const ana = await school.signInByEmail(of.emails[0]!)
    expect(await rowOf(of.teacher, id, copyId)).toMatchObject({ sittings: 0, writtenAt: null })
    await write(ana, copyId, 'line', 'one')
    await rowIs(of.teacher, id, copyId, ({ sittings }) => sittings === 1)
    await write(ana, copyId, 'line', ' two')
    await rowIs(of.teacher, id, copyId, ({ words }) => words === 2)
    expect((await rowOf(of.teacher, id, copyId)).sittings).toBe(1)
    // As if it had been eleven minutes ago.
    await school.source.query(`UPDATE copy SET written_at = written_at - interval '11 minutes' WHERE id = $1`, [copyId])
    await write(ana, copyId, 'line', ' three')
    const row = await rowIs(of.teacher, id, copyId, ({ words }) => words === 3)
    expect(row.sittings).toBe(2)
    expect(row.progress['line']).toMatchObject({ share: 1, words: 3, at: row.writtenAt! })
  })

  test('counts what is said by the staff, its holders and others, at which answers, and by its holders elsewhere', async () => {
    const of = await school.classOf(2)
    const worksheet = await school.worksheet(of.teacher)
    const id = await given(of, statementFor(of.id, worksheet.id, null, { classmatesMay: 'comment' }))
    const copies = await school.copiesByEmail(id)
    const [first, second] = of.emails.map((email) => copies.get(email)!)
    const [ana, ben] = [await school.signInByEmail(of.emails[0]!), await school.signInByEmail(of.emails[1]!)]
    await say(of.teacher, first!, { is: 'copy' })
    await say(ana, first!, { is: 'space', space: 'line' }, 'question')
    await say(ben, first!, { is: 'space', space: 'passage' })
    expect(await rowOf(of.teacher, id, first!)).toMatchObject({
      questions: 1,
      comments: { staff: 1, holders: 1, peers: 1, done: 0, onOthers: 0, spaces: ['line', 'passage'], asked: ['line'] },
    })
    expect((await rowOf(of.teacher, id, second!)).comments).toMatchObject({ onOthers: 1, staff: 0, spaces: [] })
  })

  test('says the same when it is opened and when it is sent', async () => {
    const of = await school.classOf(3)
    const { handoutId, copyId } = await shared(of, { othersPlaces: 'read' }, [
      LINE('all'),
      section('s', 'each member', [QUESTION('q', 'What did you see?'), LINE('note')]),
    ])
    const ana = await school.signInByEmail(of.emails[0]!)
    await write(ana, copyId, part('note', ana.viewer.personId), 'A seal "at the mole"\n')
    await say(ana, copyId, { is: 'space', space: 'all' }, 'question')
    const row = await rowIs(
      of.teacher,
      handoutId,
      copyId,
      ({ answered, state }) => answered === 1 && state === 'working',
    )
    expect(row).toMatchObject({ spaces: 4, answered: 1, questions: 1 })
    const watch = await LiveClient.connect(school.url, of.teacher.cookie)
    watch.send({ type: 'watch', handoutId })
    const sent = await watch.message(({ type }) => type === 'rows')
    expect(sent).toMatchObject({ rows: [row] })
    expect(Object.keys((sent as unknown as { rows: [object] }).rows[0]).toSorted()).toEqual(Object.keys(row).toSorted())
    watch.close()
  })

  test('says which answers are right to teachers alone, also over the live connection', async () => {
    const of = await school.classOf(1)
    const worksheetId = await school.worksheetOf(of.teacher, 'Tides', [QUESTION('q', 'It falls at?'), KEYED])
    const id = await given(of, statementFor(of.id, worksheetId))
    const copyId = (await school.copiesByEmail(id)).get(of.emails[0]!)!
    const ana = await school.signInByEmail(of.emails[0]!)
    const helper = await helping(of, 'helper')
    const watch = await LiveClient.connect(school.url, helper.cookie)
    watch.send({ type: 'watch', handoutId: id })
    await watch.message(({ type }) => type === 'rows')
    await write(ana, copyId, 'line', 'Ebb')
    const row = await rowIs(of.teacher, id, copyId, ({ answered }) => answered === 1)
    expect(row.progress['line']).toMatchObject({ right: true })
    await watch.message((message) => message.type === 'rows' && message.rows.some(({ answered }) => answered === 1))
    expect(JSON.stringify(watch.messages)).not.toContain('"right"')
    expect((await rowOf(helper, id, copyId)).progress['line']).not.toHaveProperty('right')
    watch.close()
  })
})

describe('all answers to one question', () => {
  interface Read {
    question: string
    key: string
    accepted: string[] | null
    answers: { copyId: string; of: string | null; text: string; right: boolean | null }[]
  }
  const answersTo = async (person: TestPerson, handoutId: string, worksheetId: string, space = 'line') =>
    (await person.http.get(`/api/handouts/${handoutId}/answers/${worksheetId}/${space}`).expect(200)).body as Read

  test('are read as they stand, with their key for teachers, and only of whom one helps', async () => {
    const of = await school.classOf(3)
    const people = await school.peopleOf(of)
    const worksheetId = await school.worksheetOf(of.teacher, 'Tides', [QUESTION('q', 'It falls at?'), KEYED])
    const id = await given(of, statementFor(of.id, worksheetId))
    const copies = await school.copiesByEmail(id)
    const [first, second] = of.emails.map((email) => copies.get(email)!)
    await write(await school.signInByEmail(of.emails[0]!), first!, 'line', 'ebb')
    await write(await school.signInByEmail(of.emails[1]!), second!, 'line', 'flood')
    const read = await answersTo(of.teacher, id, worksheetId)
    expect(read).toMatchObject({ question: 'It falls at?', key: 'ebb' })
    expect(new Map(read.answers.map(({ copyId, text, right }) => [copyId, [text, right]]))).toEqual(
      new Map([
        [first, ['ebb', true]],
        [second, ['flood', false]],
      ]),
    )
    const helper = await helping(of, 'named helper', [people[1]!])
    expect(await answersTo(helper, id, worksheetId)).toMatchObject({
      key: '',
      answers: [{ copyId: second, text: 'flood', right: null }],
    })
    await of.teacher.http.get(`/api/handouts/${id}/answers/${worksheetId}/no-such`).expect(404)
    await of.teacher.http.get(`/api/handouts/${id}/answers/${randomUUID()}/line`).expect(404)
  })

  test.each(['no', 'when submitted', 'while writing'] as const)(
    'whoever writes is told which are right: %s',
    async (checks) => {
      const of = await school.classOf(2)
      const worksheetId = await school.worksheetOf(of.teacher, 'Tides', [
        QUESTION('q', 'It falls at?'),
        KEYED,
        LINE('free'),
      ])
      const id = await given(of, statementFor(of.id, worksheetId, null, { classmatesMay: 'view' }, { checks }))
      const copies = await school.copiesByEmail(id)
      const copyId = copies.get(of.emails[0]!)!
      const [ana, ben] = [await school.signInByEmail(of.emails[0]!), await school.signInByEmail(of.emails[1]!)]
      const told = async (person: TestPerson) =>
        ((await person.http.get(`/api/copies/${copyId}`).expect(200)).body as Answers['GET copies/{copyId}']).checks
      const heard = await Promise.all([ana, ben].map((person) => LiveClient.open(school.url, person.cookie, copyId)))
      const last = (client: LiveClient) => client.messages.findLast(({ type }) => type === 'checks')
      await write(ana, copyId, 'line', 'flood')
      await write(ana, copyId, 'free', 'ebb')
      await rowIs(of.teacher, id, copyId, ({ answered }) => answered === 2)
      await Promise.all(heard.map((client) => client.ping()))
      const isWhile = checks === 'while writing'
      expect(await told(ana)).toEqual(isWhile ? { line: false } : null)
      if (isWhile) expect(last(heard[0]!)).toMatchObject({ right: { line: false } })
      else expect(last(heard[0]!)).toBeUndefined()
      await ana.http.post(`/api/copies/${copyId}/submit`).expect(200)
      expect(await told(ana)).toEqual(checks === 'no' ? null : { line: false })
      // Nobody else, and no key with it.
      expect(await told(ben)).toBeNull()
      expect(last(heard[1]!)).toBeUndefined()
      expect(JSON.stringify(heard.map(({ messages }) => messages))).not.toContain('accepted')
      for (const client of heard) client.close()
    },
  )

  test('one that is seen to be right is accepted too, in this handout: said before, counted, and known to its teachers alone', async () => {
    const of = await school.classOf(2)
    const worksheetId = await school.worksheetOf(of.teacher, 'Tides', [
      QUESTION('q', 'It falls at?'),
      KEYED,
      LINE('free'),
    ])
    const id = await given(of, statementFor(of.id, worksheetId))
    const copies = await school.copiesByEmail(id)
    const [first, second] = of.emails.map((email) => copies.get(email)!)
    const ana = await school.signInByEmail(of.emails[0]!)
    await write(ana, first!, 'line', 'low  water')
    await write(await school.signInByEmail(of.emails[1]!), second!, 'line', 'flood')
    const open = await LiveClient.open(school.url, ana.cookie, first!)
    const seen = async () => JSON.stringify((await ana.http.get(`/api/copies/${first!}`).expect(200)).body)
    await rowIs(of.teacher, id, first!, ({ state }) => state === 'working')
    const before = await seen()
    await open.ping()
    const heard = open.messages.length
    const base = `/api/handouts/${id}/answers/${worksheetId}`
    const proved = (texts: readonly string[], space = 'line') =>
      of.teacher.http.post(`${base}/${space}/accepted/proof`).send({ texts })
    const accept = (texts: readonly string[], was: readonly string[], person = of.teacher) =>
      person.http.put(`${base}/line/accepted`).send({ texts, was })
    const rights = async () =>
      Object.fromEntries((await answersTo(of.teacher, id, worksheetId)).answers.map(({ text, right }) => [text, right]))

    expect((await proved(['Low water']).expect(200)).body).toEqual({
      changes: [{ copyId: first, of: null, text: 'low  water', right: true }],
    })
    expect(await rights()).toEqual({ 'low  water': false, flood: false })
    await accept(['Low water'], []).expect(204)
    expect(await rights()).toEqual({ 'low  water': true, flood: false })
    expect(await answersTo(of.teacher, id, worksheetId)).toMatchObject({ key: 'ebb', accepted: ['Low water'] })
    expect((await rowOf(of.teacher, id, first!)).progress['line']).toMatchObject({ right: true })
    // Whoever writes in it is told nothing of it, and what they write is told by it.
    expect(await seen()).toBe(before)
    await open.ping()
    expect(open.messages).toHaveLength(heard)
    await write(ana, first!, 'line', '!')
    await rowIs(of.teacher, id, first!, ({ progress }) => progress['line']?.right === false)
    open.close()

    // A second window, and who may not.
    await accept(['Low water', 'flood'], []).expect(409)
    const helper = await helping(of, 'helper')
    await accept([], ['Low water'], helper).expect(403)
    await accept([' '], ['Low water']).expect(422)
    await accept([], ['Low water']).expect(204)
    expect(await answersTo(of.teacher, id, worksheetId)).toMatchObject({ accepted: [] })
    // Without a key nothing is wrong, and nothing can be accepted beside it.
    expect((await proved(['x'], 'free').expect(200)).body).toEqual({ changes: [] })
    expect(await answersTo(of.teacher, id, worksheetId, 'free')).toMatchObject({ accepted: null })
    await accept(['x'], []).expect(204)
  })

  test('of a copy with places there is one for each place', async () => {
    const of = await school.classOf(2)
    const people = await school.peopleOf(of)
    const blocks = [section('all', 'each member', [QUESTION('q', 'Found?'), LINE('line')])]
    const { handoutId, copyId } = await shared(of, {}, blocks)
    const [ana, ben] = [await school.signInByEmail(of.emails[0]!), await school.signInByEmail(of.emails[1]!)]
    await write(ana, copyId, part('line', people[0]!), 'whelks')
    await write(ben, copyId, part('line', people[1]!), 'limpets')
    const { sheets } = await boardOf(of.teacher, handoutId)
    const { answers } = await answersTo(of.teacher, handoutId, sheets[0]!.worksheetId)
    const bare = (id: string) => id.replaceAll('-', '')
    expect(new Map(answers.map(({ of: whose, text }) => [whose, text]))).toEqual(
      new Map([
        [bare(people[0]!), 'whelks'],
        [bare(people[1]!), 'limpets'],
      ]),
    )
  })

  test('of several worksheets each has its own questions', async () => {
    const of = await school.classOf(1)
    const one = await school.worksheetOf(of.teacher, 'Tides', [QUESTION('q', 'A?'), LINE('line')])
    const other = await school.worksheetOf(of.teacher, 'Winds', [QUESTION('q', 'B?'), LINE('line')])
    const statement = statementFor(of.id, one)
    const id = await given(of, { ...statement, items: [...statement.items, plainItem('second', other, 1)] })
    const { sheets, rows } = await boardOf(of.teacher, id)
    expect(sheets.map(({ worksheetId }) => worksheetId)).toEqual([one, other])
    expect(rows.map(({ worksheetId }) => worksheetId).sort()).toEqual([one, other].sort())
    expect((await answersTo(of.teacher, id, other)).question).toBe('B?')
  })
})

test('over time: the states at the end of each step, and how much was written in each copy', async () => {
  const of = await school.classOf(2)
  const { id, copies } = await school.handedOut(of)
  const first = copies.get(of.emails[0]!)!
  const ana = await school.signInByEmail(of.emails[0]!)
  await write(ana, first, 'line', 'ebb')
  await rowIs(of.teacher, id, first, ({ state }) => state === 'working')
  const over = async (person: TestPerson, span: string) =>
    (await person.http.get(`/api/handouts/${id}/over-time`).query({ span }).expect(200)).body as {
      step: number
      count: number
      states: Record<string, number[]>
      written: { copyId: string; changes: number[] }[]
    }
  const { step, count, states, written } = await over(of.teacher, 'ten minutes')
  expect(step).toBe(20_000)
  expect(states['working']!.at(-1)).toBe(1)
  expect(states['not opened']!.at(-1)).toBe(1)
  expect(states['not opened']![0]).toBe(0)
  expect(written.map(({ copyId }) => copyId)).toEqual([first])
  expect(written[0]!.changes).toHaveLength(count)
  expect(written[0]!.changes.reduce((sum, changes) => sum + changes, 0)).toBeGreaterThan(0)
  await of.teacher.http.get(`/api/handouts/${id}/over-time`).query({ span: 'a year' }).expect(422)
  // Who helps one of them sees this one alone.
  const people = await school.peopleOf(of)
  const helper = await helping(of, 'named helper', [people[1]!])
  expect((await over(helper, 'from the beginning')).written).toEqual([])
})

describe('as a file', () => {
  const lines = (text: string) => text.replace('\uFEFF', '').trim().split('\r\n')

  test('the board and the answer grid of a worksheet, of all copies or some', async () => {
    const of = await school.classOf(2)
    const worksheetId = await school.worksheetOf(of.teacher, 'Tides', [QUESTION('q', 'It falls at?'), KEYED])
    const id = await given(of, statementFor(of.id, worksheetId))
    const copies = await school.copiesByEmail(id)
    const first = copies.get(of.emails[0]!)!
    await write(await school.signInByEmail(of.emails[0]!), first, 'line', 'ebb')
    await rowIs(of.teacher, id, first, ({ answered }) => answered === 1)
    const out = async (person: TestPerson, body: object, format = 'csv') =>
      person.http.post(`/api/handouts/${id}/board/out/${format}`).send(body).expect(200)
    const board = lines((await out(of.teacher, {})).text)
    expect(board).toHaveLength(3)
    expect(board[1]).toMatch(/^"Last0000, First0",First0 Last0000,/)
    expect(lines((await out(of.teacher, { copyIds: [first] })).text)).toHaveLength(2)
    expect(lines((await out(of.teacher, { worksheetId })).text).slice(1)).toEqual([
      '"Last0000, First0",right',
      '"Last0001, First1",empty',
    ])
    // Who may not know what is right is not told by a file either.
    const helper = await helping(of, 'helper')
    expect(lines((await out(helper, { worksheetId })).text)[1]).toBe('"Last0000, First0",answered')
    for (const format of ['xlsx', 'ods'])
      expect((await out(of.teacher, {}, format)).headers['content-type']).toContain('application/vnd')
    await of.teacher.http.post(`/api/handouts/${id}/board/out/csv`).send({ worksheetId: randomUUID() }).expect(404)
  })
})

test('when somebody looked at a copy is theirs alone', async () => {
  const of = await school.classOf(1)
  const { id, copies } = await school.handedOut(of)
  const copyId = copies.get(of.emails[0]!)!
  const helper = await helping(of, 'helper')
  await helper.http.put(`/api/handouts/${id}/looked/${copyId}`).send({}).expect(204)
  await helper.http.put(`/api/handouts/${id}/looked/${copyId}`).send({}).expect(204)
  expect((await boardOf(helper, id)).looked).toMatchObject([{ copyId }])
  expect((await boardOf(of.teacher, id)).looked).toEqual([])
  await helper.http.put(`/api/handouts/${id}/looked/${randomUUID()}`).send({}).expect(404)
})

describe('single students', () => {
  test('who was left out is given a copy, and nobody else anything', async () => {
    const of = await school.classOf(3)
    const people = await school.peopleOf(of)
    const worksheet = await school.worksheet(of.teacher)
    const audience = { kind: 'some', personIds: [people[0]!] } as const
    const id = await given(of, statementFor(of.id, worksheet.id, null, { audience }))
    expect((await boardOf(of.teacher, id)).leftOut).toHaveLength(2)
    const give = (personIds: readonly string[]) => of.teacher.http.post(`/api/handouts/${id}/give`).send({ personIds })
    await give([people[1]!]).expect(202)
    await school.finished(of.teacher, id)
    expect((await boardOf(of.teacher, id)).leftOut.map(({ personId }) => personId)).toEqual([people[2]])
    await give([people[1]!]).expect(409)
    await give([randomUUID()]).expect(409)
    // It is a hand-out like any other: undone, it is set aside.
    await school.undo(of.teacher, id)
    expect(await there(id)).toHaveLength(1)
  })

  test('whom a slip chooses by groups nobody is given one by name: it says what to do', async () => {
    const of = await school.classOf(2)
    const crews = await school.groupSet(of, 'Crews', { Crane: [0], Lock: [1] })
    const worksheet = await school.worksheet(of.teacher)
    const audience = { kind: 'groups', set: { id: crews.id, name: crews.name }, groups: ['Crane'] } as const
    const id = await given(of, statementFor(of.id, worksheet.id, null, { audience }))
    const [left] = (await boardOf(of.teacher, id)).leftOut
    const { body } = await of.teacher.http
      .post(`/api/handouts/${id}/give`)
      .send({ personIds: [left!.personId] })
      .expect(409)
    expect((body as { detail: string }).detail).toContain('Edit the slip')
  })

  test('another due time is theirs alone, stands in the slip, and lets them write again', async () => {
    const of = await school.classOf(2)
    const worksheet = await school.worksheet(of.teacher)
    const past = Date.now() - HOUR
    const id = await given(of, statementFor(of.id, worksheet.id, past, {}, { pensDownAtDue: true }))
    const copies = await school.copiesByEmail(id)
    const [first, second] = of.emails.map((email) => copies.get(email)!)
    const ana = await school.signInByEmail(of.emails[0]!)
    const client = await LiveClient.open(school.url, ana.cookie, first!)
    await client.late(client.type('late'))
    const dueAt = Date.now() + HOUR
    await of.teacher.http
      .post(`/api/handouts/${id}/due`)
      .send({ copyIds: [first], dueAt })
      .expect(202)
    await school.finished(of.teacher, id)
    await client.message((message) => message.type === 'permission' && message.permission === 'edit')
    const { rows } = await boardOf(of.teacher, id)
    expect(new Map(rows.map((row) => [row.copyId, row.dueAt]))).toEqual(
      new Map([
        [first, dueAt],
        [second, past],
      ]),
    )
    const { body } = await of.teacher.http.get(`/api/handouts/${id}`).expect(200)
    expect(body).toMatchObject({ statement: { exceptions: [{ dueAt, opensAt: null }] } })
    // Nothing is left to hand out: the slip says what is true.
    expect((await of.teacher.http.get(`/api/handouts/${id}/differences`).expect(200)).body).toEqual({
      differences: null,
    })
    client.close()
  })
})

test('of a copy that several share it is told who wrote how much, and of others nothing', async () => {
  const of = await school.classOf(2)
  const { handoutId, copyId } = await shared(of)
  const { copies } = await school.handedOut(of)
  const [first, second] = await school.peopleOf(of)
  const ana = await school.signInByEmail(of.emails[0]!)
  const ben = await school.signInByEmail(of.emails[1]!)
  await write(ana, copyId, 'line', 'one')
  await write(ana, copyId, 'line', ' two')
  await write(ana, copyId, 'line', ' three')
  await write(ben, copyId, 'line', ' four')
  await write(ana, copies.get(of.emails[0]!)!, 'line', 'alone')
  const { body } = await of.teacher.http.get(`/api/handouts/${handoutId}/writers`).expect(200)
  const writers = body as { copyId: string; personId: string; changes: number; of: number }[]
  expect(writers.toSorted((a, b) => b.changes - a.changes)).toMatchObject([
    { copyId, personId: first, changes: 3, of: 4 },
    { copyId, personId: second, changes: 1, of: 4 },
  ])
  const helper = await helping(of, 'named helper', [second!])
  const helped = (await helper.http.get(`/api/handouts/${handoutId}/writers`).expect(200)).body as typeof writers
  expect(helped.map(({ personId }) => personId)).toEqual([second])
})

test('of all classes of a handout, and all its worksheets, the copies are told for each student', async () => {
  const of = await school.classOf(2)
  const second = await school.classOf(1, of.teacher)
  const [one, two] = [(await school.worksheet(of.teacher)).id, (await school.worksheet(of.teacher)).id]
  const statement = statementFor(of.id, one)
  const id = await given(of, {
    ...statement,
    items: [...statement.items, plainItem('second', two, 1)],
    classes: [...statement.classes, { classId: second.id, opensAt: null, dueAt: null }],
  })
  const { body } = await of.teacher.http.get(`/api/handouts/${id}/students`).expect(200)
  const read = body as {
    parts: { classId: string; rows: { worksheetId: string; students: { personId: string }[] }[] }[]
    sheets: { worksheetId: string }[]
  }
  expect(read.parts.map(({ classId, rows }) => [classId, rows.length])).toEqual([
    [of.id, 4],
    [second.id, 2],
  ])
  expect(read.sheets.map(({ worksheetId }) => worksheetId).toSorted()).toEqual([one, two].toSorted())
  // Who is on the staff of one of the classes sees that one.
  const helper = await helping(of, 'helper')
  const helped = (await helper.http.get(`/api/handouts/${id}/students`).expect(200)).body as typeof read
  expect(helped.parts.map(({ classId }) => classId)).toEqual([of.id])
})

describe('the overview of a class', () => {
  interface Overview {
    students: { personId: string }[]
    handouts: { id: string; number: number; unit: string | null }[]
    copies: {
      copyId: string
      handoutId: string
      personIds: string[]
      state: string
      answered: number
      spaces: number
    }[]
  }
  const overviewOf = async (person: TestPerson, classId: string): Promise<Overview> =>
    (await person.http.get(`/api/classes/${classId}/overview`).expect(200)).body as Overview

  test('is its students by its handouts, with how their copies stand', async () => {
    const of = await school.classOf(2)
    const [first, second] = await school.peopleOf(of)
    const { id, copies } = await school.handedOut(of)
    const { handoutId } = await shared(of)
    const ana = await school.signInByEmail(of.emails[0]!)
    const copyId = copies.get(of.emails[0]!)!
    await write(ana, copyId, 'line', 'one')
    await rowIs(of.teacher, id, copyId, ({ answered }) => answered > 0)
    const overview = await overviewOf(of.teacher, of.id)
    expect(overview.students.map(({ personId }) => personId)).toEqual([first, second])
    expect(overview.handouts.map((one) => one.id)).toEqual([id, handoutId])
    expect(overview.copies.find((copy) => copy.copyId === copyId)).toMatchObject({
      ...{ handoutId: id, personIds: [first], state: 'working', answered: 1 },
    })
    expect(overview.copies.find((copy) => copy.handoutId === handoutId)!.personIds.toSorted()).toEqual(
      [first!, second!].toSorted(),
    )
    // Counted as on the board.
    const { rows } = await boardOf(of.teacher, id)
    expect(overview.copies.find((copy) => copy.copyId === copyId)!.spaces).toBe(
      rows.find((row) => row.copyId === copyId)!.spaces,
    )
  })

  test('has what is in use alone, and for a helper of some students only these', async () => {
    const of = await school.classOf(2)
    const [first] = await school.peopleOf(of)
    const { id, copies } = await school.handedOut(of)
    const helper = await helping(of, 'named helper', [first!])
    const helped = await overviewOf(helper, of.id)
    expect(helped.students.map(({ personId }) => personId)).toEqual([first])
    expect(helped.copies.map(({ copyId }) => copyId)).toEqual([copies.get(of.emails[0]!)])
    const [row] = (await boardOf(of.teacher, id)).rows
    await of.teacher.http
      .post(`/api/handouts/${id}/take-back`)
      .send({ slotKeys: [row!.slotKey], back: false })
      .expect(202)
    await school.finished(of.teacher, id)
    expect((await overviewOf(of.teacher, of.id)).copies).toHaveLength(1)
  })

  test('is saved as a table', async () => {
    const of = await school.classOf(1)
    await school.handedOut(of)
    const { text } = await of.teacher.http.post(`/api/classes/${of.id}/overview/out/csv`).send({}).expect(200)
    const [head, line] = text.replace(/^\uFEFF/, '').split(/\r?\n/)
    expect(head).toMatch(/^Student,No\. 1 .*,In,of,Missing$/)
    expect(line).toMatch(/,not opened,0,1,0$/)
    const { text: none } = await of.teacher.http
      .post(`/api/classes/${of.id}/overview/out/csv`)
      .send({ unit: 'Tides' })
      .expect(200)
    expect(none.replace(/^\uFEFF/, '').split(/\r?\n/)[0]).toBe('Student,In,of,Missing')
  })
})
