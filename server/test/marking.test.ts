import type { MarkChange } from '@gavrin/core'
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { randomUUID } from 'node:crypto'
import type { Answers } from '../../web/src/contract.js'
import { copiesIn } from './support/copies.js'
import { LiveClient } from './support/liveClient.js'
import { WHOLE, codeOf, markingIn, remark, space, type Changed, type Handed } from './support/marked.js'
import { type TestPerson, TestSchool } from './support/school.js'

// Marks in parts, handing back, and what nobody may see before.

let school: TestSchool
beforeAll(async () => {
  school = await TestSchool.open({ demo: true })
})
afterAll(() => school.close())
const { shared, walksIn } = copiesIn(() => school)
const { handed, student, submit, page, put, markWhole, proof, handBack, handAllBack } = markingIn(() => school)

describe('a mark', () => {
  test('is what its parts come to; it is done when all of them are there', async () => {
    const copies = await handed(1)
    await submit(copies)
    const [copyId] = copies.copyIds
    const some = await put(copies, [{ copyId, personId: null, changes: [space(150)] }]).expect(200)
    expect((some.body as Changed).copies[0]).toMatchObject({ mark: { sum: 150, most: 1000, open: 2 }, isDone: false })
    const early = await put(copies, [{ copyId, personId: null, changes: [], done: true }]).expect(409)
    expect(early.body).toMatchObject({
      code: 'not-complete',
      detail: expect.stringContaining('2 parts have no points yet'),
    })
    await markWhole(copies)
    const { copies: now, mayMark } = await page(copies)
    expect(mayMark).toBe(true)
    expect(now[0]).toMatchObject({ isDone: true, mark: { total: 850, percent: 8500 }, changed: { by: 'Lead Tester' } })
    // The step is entered once, and the copy itself is not marked for whoever holds it.
    await put(copies, [{ copyId, personId: null, changes: [], done: true }]).expect(200)
    const [row] = await school.source.query<{ state: string; entries: string[] }[]>(
      `SELECT state, (SELECT array_agg(kind ORDER BY number) FROM copy_journal j WHERE j.copy_id = c.id) AS entries FROM copy c WHERE id = $1`,
      [copyId],
    )
    expect(row).toEqual({ state: 'submitted', entries: ['given', 'submitted', 'marked'] })
  })

  test('changed by two at once: different parts stand both, of the same part the second is told, and nothing of theirs is kept', async () => {
    const copies = await handed(1)
    const [copyId] = copies.copyIds
    const mark = (changes: readonly MarkChange[]) => put(copies, [{ copyId, personId: null, changes }])
    const both = await Promise.all([mark([space(100)]), mark([space(300, null, 'passage')])])
    expect(both.map(({ status }) => status)).toEqual([200, 200])
    const late = await mark([{ of: 'remark', was: '', to: 'Mine' }, space(200)]).expect(409)
    expect(codeOf(late)).toBe('changed-meanwhile')
    expect((await page(copies)).copies[0]!.parts).toMatchObject({ spaces: { line: 100, passage: 300 }, remark: '' })
    // Sent again it is there already.
    await mark([space(100)]).expect(200)
  })

  test('of many copies at once, all or none', async () => {
    const copies = await handed(3)
    const heap = (to: number) => copies.copyIds.map((copyId) => ({ copyId, personId: null, changes: [space(to)] }))
    await put(copies, heap(200)).expect(200)
    expect((await page(copies)).copies.map(({ parts }) => parts.spaces['line'])).toEqual([200, 200, 200])
    const wrong = await put(copies, [
      ...copies.copyIds.slice(1).map((copyId) => ({ copyId, personId: null, changes: [space(100, 200)] })),
      { copyId: copies.copyIds[0], personId: null, changes: [space(900, 200)] },
    ]).expect(422)
    expect(wrong.body).toMatchObject({ errors: [{ sentence: 'There are 2 points at most.' }] })
    expect((await page(copies)).copies.map(({ parts }) => parts.spaces['line'])).toEqual([200, 200, 200])
  })

  test('what is no change, or of another handout, is refused', async () => {
    const copies = await handed(1)
    const other = await handed(1)
    const [copyId] = copies.copyIds
    for (const changes of [[{ of: 'space', space: 'line', was: null, to: -1 }], [{ of: 'total', was: null }], [{}]])
      await put(copies, [{ copyId, personId: null, changes }]).expect(422)
    await put(copies, [{ copyId: other.copyIds[0], personId: null, changes: [space(1)] }]).expect(404)
    await put(copies, [{ copyId, personId: randomUUID(), changes: [{ of: 'excused', was: false, to: true }] }]).expect(
      404,
    )
    await put(copies, []).expect(422)
  })

  test('a copy that is submitted again is to be marked again; what was marked stays', async () => {
    const copies = await handed(1)
    const ana = await submit(copies)
    await markWhole(copies)
    await ana.http.post(`/api/copies/${copies.copyIds[0]!}/take-back`).expect(200)
    expect((await page(copies)).copies[0]).toMatchObject({ state: 'taken back', mark: { total: 850 } })
    await submit(copies)
    expect((await page(copies)).copies[0]).toMatchObject({ state: 'submitted', isDone: false, mark: { total: 850 } })
    expect((await proof(copies)).lines[0]!.does).toBe('not marked')
  })

  test('is reckoned anew when the slip marks otherwise, and nothing that was marked is lost', async () => {
    const copies = await handed(1)
    await submit(copies)
    await markWhole(copies)
    const { of, id } = copies
    const opened = (await of.teacher.http.get(`/api/handouts/${id}`).expect(200)).body as {
      statement: Parameters<TestSchool['mend']>[2]
    }
    await school.mend(of.teacher, id, { ...opened.statement, rubric: [] })
    expect((await page(copies)).copies[0]).toMatchObject({
      mark: { total: 550, most: 700 },
      parts: { rubric: { why: { points: 300 } } },
    })
    const [kept] = await school.source.query<{ total: number }[]>('SELECT total FROM mark WHERE copy_id = $1', [
      copies.copyIds[0],
    ])
    expect(kept).toEqual({ total: 550 })
    await school.mend(of.teacher, id, opened.statement)
    expect((await page(copies)).copies[0]!.mark.total).toBe(850)
  })

  test('late work loses what the slip says, until it is let pass', async () => {
    const copies = await handed(1, { lateDeduction: { perDay: 10, atLeast: 50 } })
    await school.source.query(`UPDATE copy SET due_at = now() - interval '30 hours' WHERE id = $1`, [copies.copyIds[0]])
    await submit(copies)
    await markWhole(copies)
    const [late] = (await page(copies)).copies
    expect(late).toMatchObject({ daysLate: 2, mark: { sum: 850, late: -200, total: 650 } })
    const pass: MarkChange = { of: 'waivesLate', was: false, to: true }
    await put(copies, [{ copyId: copies.copyIds[0], personId: null, changes: [pass] }]).expect(200)
    expect((await page(copies)).copies[0]!.mark.total).toBe(850)
  })
})

describe('who may', () => {
  test('teachers mark; helpers see marks and remark; nobody else knows of any', async () => {
    const copies = await handed(2)
    const { of, id } = copies
    const helper = await school.person('teacher', 'Help')
    await of.teacher.http
      .post(`/api/classes/${of.id}/staff`)
      .send({ email: helper.email, role: 'named helper', studentIds: [(await school.peopleOf(of))[1]!] })
      .expect(201)
    expect(await page(copies, helper)).toMatchObject({ mayMark: false, copies: [{ copyId: copies.copyIds[1] }] })
    await put(copies, [{ copyId: copies.copyIds[1], personId: null, changes: [space(1)] }], helper).expect(403)
    await remark(helper, copies.copyIds[1]!, 'Look again.').expect(200)
    await remark(helper, copies.copyIds[0]!, 'Look again.').expect(404)
    const ana = await student(copies)
    await remark(ana, copies.copyIds[0]!, 'Mine').expect(403)
    for (const stranger of [ana, await school.person('teacher', 'Other')]) {
      await stranger.http.get(`/api/handouts/${id}/marks`).expect(404)
      await stranger.http.get(`/api/classes/${of.id}/mark-book`).expect(404)
    }
  })

  test('until it is handed back nobody but the staff is told of a mark or a remark, by any route or live', async () => {
    const copies = await handed(4, {}, { classmatesMay: 'comment' })
    const { of, id } = copies
    const ana = await submit(copies)
    const guest = await walksIn(of, id, 'Walker', 'edit')
    const gone = await student(copies, 3)
    await of.teacher.http
      .post(`/api/classes/${of.id}/roster/leave`)
      .send({ personIds: [(await school.peopleOf(of))[3]!] })
      .expect(200)
    const people = {
      holder: ana,
      classmate: await student(copies, 1),
      'who left': gone,
      guest,
      'other teacher': await school.person('teacher', 'Other'),
      office: await school.person('office', 'Office'),
    }
    const [copyId] = copies.copyIds
    const known: Record<string, string> = {
      ...{ classId: of.id, handoutId: id, copyId: copyId!, personId: ana.viewer.personId },
      worksheetId: (await page(copies)).copies[0]!.worksheetId,
      ...{ space: 'line', number: '1', file: 'x.ics' },
    }
    // All that can be read, of what is known to anybody; the feed of other teachers counts what happens in the school, whatever it is.
    const { body } = await of.teacher.http.get('/api/openapi.json').expect(200)
    const paths = Object.entries((body as { paths: Record<string, Record<string, unknown>> }).paths)
    const roads = paths.flatMap(([path, ways]) => {
      const missing = [...path.matchAll(/\{(\w+)\}/g)].some(([, name]) => !(name! in known))
      const to = path.replace(/\{(\w+)\}/g, (_, name: string) => known[name] ?? '')
      return 'get' in ways && !missing && !['/api/health', '/api/events'].includes(path) ? [to] : []
    })
    expect(roads.length).toBeGreaterThan(60)
    const timeless = (text: string) => text.replace(/\d{13}(\.\d+)?/g, 'T')
    const heard = async (person: TestPerson) => {
      const told = new Map<string, string>()
      for (const road of roads) {
        const answer = await person.http.get(road)
        told.set(road, timeless(`${answer.status} ${answer.text ?? JSON.stringify(answer.body)}`))
      }
      const out = await person.http.post(`/api/copies/${copyId!}/out/html`)
      return told.set('out', timeless(`${out.status} ${String(out.text)}`))
    }
    const live = await Promise.all(
      [people.holder, people.classmate].map((one) => LiveClient.open(school.url, one.cookie, copyId!)),
    )
    const second = await school.person('teacher', 'Second')
    const staff = { email: second.email, role: 'co-teacher', studentIds: [] }
    await of.teacher.http.post(`/api/classes/${of.id}/staff`).send(staff).expect(201)
    const before = new Map<string, Map<string, string>>()
    for (const [role, person] of Object.entries(people)) {
      // What looking itself changes has changed then.
      await heard(person)
      before.set(role, await heard(person))
    }
    expect(before.get('holder')!.get(`/api/copies/${copyId!}`)).toMatch(/^200 /)
    expect(before.get('classmate')!.get(`/api/copies/${copyId!}/comments`)).toMatch(/^200 /)
    await markWhole(copies, 0, [...WHOLE.slice(0, -1), { of: 'remark', was: '', to: 'unseen-whole' }])
    await remark(of.teacher, copyId!, 'unseen-remark', { is: 'space', space: 'line' }).expect(200)
    await second.http
      .put(`/api/handouts/${id}/readings/${copyId!}`)
      .send({ total: 700, step: null, remark: 'unseen-second' })
      .expect(204)
    await Promise.all(live.map((one) => one.ping()))
    // Word for word what they were told before.
    for (const [role, person] of Object.entries(people))
      expect({ role, told: Object.fromEntries(await heard(person)) }).toEqual({
        role,
        told: Object.fromEntries(before.get(role)!),
      })
    expect(JSON.stringify(live.map(({ messages }) => messages))).not.toMatch(/unseen|marked|remark/)

    await handAllBack(copies)
    const after = [...(await heard(ana)).values()].join('\n')
    expect(after).not.toContain('unseen-second')
    for (const words of ['unseen-whole', 'unseen-remark', '8½ of 10']) expect(after).toContain(words)
    for (const role of ['classmate', 'who left', 'guest', 'other teacher', 'office'] as const)
      expect([...(await heard(people[role])).values()].join('\n')).not.toMatch(/unseen|8½|"total":850/)
    for (const one of live) one.close()
  })

  test('helpers mark where the class says so: who helps only some marks theirs, and no group that others are in', async () => {
    const copies = await handed(3)
    const { of, copyIds } = copies
    const people = await school.peopleOf(of)
    const helper = await school.person('teacher', 'Help')
    const some = await school.person('teacher', 'Some')
    const join = (email: string, role: string, studentIds: readonly (string | undefined)[]) =>
      of.teacher.http.post(`/api/classes/${of.id}/staff`).send({ email, role, studentIds }).expect(201)
    await join(helper.email, 'helper', [])
    await join(some.email, 'named helper', [people[1]])
    const mark = (person: TestPerson, copyId = copyIds[1]!, to = 100, was: number | null = null) =>
      put(copies, [{ copyId, personId: null, changes: [space(to, was)] }], person)
    await mark(helper).expect(403)
    await mark(some).expect(403)
    expect(await page(copies, some)).toMatchObject({ mayMark: false, mayHandBack: false })
    await of.teacher.http
      .put(`/api/classes/${of.id}/rules`)
      .send({ classmatesComment: true, staffShown: true, helpersMark: true })
      .expect(204)
    await mark(helper).expect(200)
    await mark(some, copyIds[1], 200, 100).expect(200)
    expect(await page(copies, some)).toMatchObject({ mayMark: true, mayHandBack: false })
    await mark(some, copyIds[0]).expect(404)
    const base = `/api/handouts/${copies.id}/hand-back`
    for (const person of [helper, some]) {
      await person.http.post(`${base}/proof`).send({ message: '', byMail: false }).expect(403)
      await person.http.post(`${base}/open-again`).send({ copyIds }).expect(403)
    }
    await school.source.query(
      `INSERT INTO copy_holder (school_id, copy_id, person_id, permission) SELECT school_id, id, $2, 'edit' FROM copy WHERE id = $1`,
      [copyIds[1], people[2]],
    )
    expect(codeOf(await mark(some, copyIds[1], 100, 200).expect(403))).toBe('not-helped')
  })

  test('a marked copy is read a second time by somebody else: both values stand, whatever becomes of the mark', async () => {
    const copies = await handed(1)
    const { of } = copies
    const student = await submit(copies)
    const [copyId] = copies.copyIds
    const second = await school.person('teacher', 'Second')
    await of.teacher.http
      .post(`/api/classes/${of.id}/staff`)
      .send({ email: second.email, role: 'co-teacher', studentIds: [] })
      .expect(201)
    const read = (person: TestPerson, body: object) =>
      person.http
        .put(`/api/handouts/${copies.id}/readings/${copyId}`)
        .send({ total: null, step: null, remark: '', ...body })
    expect(codeOf(await read(second, { total: 800 }).expect(409))).toBe('not-marked')
    await markWhole(copies)
    expect(codeOf(await read(of.teacher, { total: 800 }).expect(409))).toBe('own-mark')
    await read(second, { total: 99_900 }).expect(422)
    await read(second, { total: 800, remark: ' The reasons are thin. ' }).expect(204)
    const readings = async () => (await page(copies)).copies[0]!.readings
    const first = { total: 850, step: null, by: expect.any(String) }
    expect(await readings()).toMatchObject([
      { personId: second.viewer.personId, total: 800, remark: 'The reasons are thin.', first },
    ])
    // The mark is as it was, until somebody changes it; then both values stand still.
    expect((await page(copies)).copies[0]!.mark).toMatchObject({ total: 850 })
    await put(copies, [{ copyId, personId: null, changes: [{ of: 'total', was: null, to: 825 }] }], second).expect(200)
    expect((await page(copies)).copies[0]!.mark).toMatchObject({ total: 825 })
    expect(await readings()).toMatchObject([{ total: 800, first }])
    await read(second, { total: 750 }).expect(204)
    expect(await readings()).toMatchObject([{ total: 750, first }])
    // Handed back or not, its student sees nothing of it.
    await handAllBack(copies)
    const seen = JSON.stringify([
      (await student.http.get(`/api/copies/${copyId}`).expect(200)).body,
      (await student.http.get('/api/copies').expect(200)).body,
    ])
    expect(seen).not.toContain('thin')
    expect(seen).not.toContain('750')
    await read(second, {}).expect(204)
    expect(await readings()).toEqual([])
  })

  test('the pen: its marks are the staff’s until they are handed back, with what is over a place that one sees', async () => {
    const copies = await handed(2)
    const { of } = copies
    const [student, mate] = [await submit(copies), await school.signInByEmail(of.emails[1]!)]
    const copyId = copies.copyIds[0]!
    const draw = (person: TestPerson, id: string, more: object = {}) =>
      person.http
        .put(`/api/copies/${copyId}/pen/${id}`)
        .send({ kind: 'tick', over: { is: 'space', id: 'line' }, points: [[900, 20]], ...more })
    const penOf = async (person: TestPerson) =>
      (await person.http.get(`/api/copies/${copyId}/pen`).expect(200)).body as { id: string }[]
    const [tick, stroke] = [randomUUID(), randomUUID()]
    await draw(of.teacher, tick).expect(204)
    await draw(of.teacher, tick).expect(204)
    const long = {
      kind: 'stroke',
      over: { is: 'print', id: 'q' },
      points: [
        [0, 0],
        [500, 9],
      ],
    }
    await draw(of.teacher, stroke, long).expect(204)
    await draw(of.teacher, randomUUID(), { points: [] }).expect(422)
    await draw(student, randomUUID()).expect(403)
    await mate.http.get(`/api/copies/${copyId}/pen`).expect(404)
    expect(await penOf(of.teacher)).toEqual([
      { id: tick, kind: 'tick', over: { is: 'space', id: 'line' }, points: [[900, 20]], isOwn: true },
      { id: stroke, ...long, isOwn: true },
    ])
    expect(await penOf(student)).toEqual([])
    // Taken out, and undone; by nobody else.
    const out = (person: TestPerson, id: string) => person.http.delete(`/api/copies/${copyId}/pen/${id}`)
    await out(of.teacher, stroke).expect(204)
    expect(await penOf(of.teacher)).toHaveLength(1)
    await draw(of.teacher, stroke, long).expect(204)
    await out(student, tick).expect(403)
    expect(await penOf(of.teacher)).toHaveLength(2)
    const wasOut = randomUUID()
    await draw(of.teacher, wasOut).expect(204)
    await out(of.teacher, wasOut).expect(204)
    await markWhole(copies)
    await handAllBack(copies)
    expect((await penOf(student)).map(({ id }) => id)).toEqual([tick, stroke])
    await mate.http.get(`/api/copies/${copyId}/pen`).expect(404)
    // What is drawn after goes back with the next; so does what was out when it went back, and is put back.
    await draw(of.teacher, wasOut).expect(204)
    expect(await penOf(student)).toHaveLength(2)
    expect((await proof(copies)).lines.find((line) => line.copyId === copyId)).toMatchObject({
      does: 'hand back again',
    })
    await handAllBack(copies)
    expect(await penOf(student)).toHaveLength(3)
  })

  test('in an archived class marks are seen and not given', async () => {
    const copies = await handed(1)
    await copies.of.teacher.http.post(`/api/classes/${copies.of.id}/archive`).expect(204)
    expect((await page(copies)).mayMark).toBe(false)
    await put(copies, [{ copyId: copies.copyIds[0], personId: null, changes: [space(1)] }]).expect(403)
    const { body } = await copies.of.teacher.http.get(`/api/classes/${copies.of.id}/mark-book`).expect(200)
    expect((body as Answers['GET classes/{classId}/mark-book']).mayMark).toBe(false)
  })

  test('of a group each sees the group’s and their own', async () => {
    const of = await school.classOf(2)
    const { handoutId, copyId } = await shared(of)
    const copies: Handed = { of, id: handoutId, copyIds: [copyId] }
    const [, ben] = await school.peopleOf(of)
    await put(copies, [
      { copyId, personId: null, changes: [{ of: 'remark', was: '', to: 'for all' }], done: true },
      { copyId, personId: ben, changes: [{ of: 'remark', was: '', to: 'for Ben alone' }] },
    ]).expect(200)
    await handAllBack(copies)
    const remarkOf = async (at: number) => {
      const { body } = await (await student(copies, at)).http.get(`/api/copies/${copyId}`).expect(200)
      return (body as Answers['GET copies/{copyId}']).handedBack?.mark.remark
    }
    expect(await remarkOf(0)).toBe('for all')
    expect(await remarkOf(1)).toBe('for all\nfor Ben alone')
  })
})

describe('handing back', () => {
  test('does exactly what was proved: marks, messages, remarks; a second time nothing', async () => {
    const copies = await handed(3)
    const ana = await submit(copies)
    await submit(copies, 1)
    await markWhole(copies)
    await remark(copies.of.teacher, copies.copyIds[0]!, 'Look at the sill.').expect(200)
    const seen = await proof(copies, { byMail: true })
    expect(seen.lines.map(({ does, mark, newRemarks }) => [does, mark, newRemarks])).toEqual(
      [
        ['hand back', '8½ of 10', 1],
        ['not marked', '0 of 10', 0],
        ['not submitted', '0 of 10', 0],
      ].map(([does, mark, count]) => [does, does === 'hand back' ? mark : expect.anything(), count]),
    )
    expect(seen.lines[0]!.message).toBe('Dear First0: 8½ of 10.')
    // Somebody marks on meanwhile: what was proved is not what would go.
    await put(copies, [{ copyId: copies.copyIds[0], personId: null, changes: [space(200, 150)] }]).expect(200)
    expect(codeOf(await handBack(copies, seen.fingerprint, { byMail: true }).expect(409))).toBe('changed')
    const { body } = await handAllBack(copies, { byMail: true })
    expect(body).toEqual({ handedBack: 1, students: 1, at: null })
    const { body: copy } = await ana.http.get(`/api/copies/${copies.copyIds[0]!}`).expect(200)
    expect(copy).toMatchObject({
      state: 'handed back',
      handedBack: {
        message: 'Dear First0: 9 of 10.',
        lookedAt: null,
        mark: {
          total: 900,
          spaces: { line: { points: 200, most: 200 } },
          rubric: [{ level: 'from the table to the boat' }],
        },
      },
    })
    expect(await school.count('reminder', `reminded_of = 'handed back' AND copy_id = '${copies.copyIds[0]!}'`)).toBe(1)
    const again = await proof(copies, { byMail: true })
    expect(again.lines[0]!.does).toBe('nothing new')
    expect(codeOf(await handBack(copies, again.fingerprint, { byMail: true }).expect(409))).toBe('nothing')
  })

  test('at a set time, by itself and once, with the marks as they are then; or not after all', async () => {
    const copies = await handed(2)
    const ana = await submit(copies)
    await markWhole(copies)
    const { fingerprint } = await proof(copies)
    const soon = Date.now() + 3_600_000
    await handBack(copies, fingerprint, { at: Date.now() - 1 }).expect(422)
    expect((await handBack(copies, fingerprint, { at: soon }).expect(200)).body).toEqual({
      handedBack: 1,
      students: 1,
      at: soon,
    })
    expect((await proof(copies)).later).toEqual({ at: soon, copies: 1 })
    const stateNow = async () =>
      ((await ana.http.get(`/api/copies/${copies.copyIds[0]!}`)).body as { state: string }).state
    expect(await stateNow()).toBe('submitted')
    await copies.of.teacher.http.delete(`/api/handouts/${copies.id}/hand-back/later`).expect(204)
    expect((await proof(copies)).later).toBeNull()
    await handBack(copies, fingerprint, { at: soon }).expect(200)
    await put(copies, [{ copyId: copies.copyIds[0], personId: null, changes: [space(200, 150)] }]).expect(200)
    // The second copy is marked after: it was not shown, and does not go.
    await submit(copies, 1)
    await markWhole(copies, 1)
    await school.source.query('UPDATE hand_back_later SET at = now() WHERE handout_id = $1', [copies.id])
    while ((await stateNow()) !== 'handed back');
    const { body } = await ana.http.get(`/api/copies/${copies.copyIds[0]!}`).expect(200)
    expect(body).toMatchObject({ handedBack: { mark: { total: 900 }, message: 'Dear First0: 9 of 10.' } })
    expect((await page(copies)).copies[1]).toMatchObject({ state: 'submitted', back: [] })
    expect((await proof(copies)).later).toBeNull()
    expect(await school.count('handed_back', `copy_id = '${copies.copyIds[0]!}'`)).toBe(1)
  })

  test('two at once hand back once', async () => {
    const copies = await handed(2)
    for (const at of [0, 1]) {
      await submit(copies, at)
      await markWhole(copies, at)
    }
    const { fingerprint } = await proof(copies)
    const all = await Promise.all([handBack(copies, fingerprint), handBack(copies, fingerprint)])
    expect(all.map(({ status }) => status).toSorted()).toEqual([200, 409])
    expect(await school.count('handed_back', `copy_id IN ('${copies.copyIds.join("','")}')`)).toBe(2)
  })

  test('a change after it is seen only when it is handed back again', async () => {
    const copies = await handed(1)
    const ana = await submit(copies)
    await markWhole(copies)
    await handAllBack(copies)
    await put(copies, [{ copyId: copies.copyIds[0], personId: null, changes: [space(0, 150)] }]).expect(200)
    const totalSeen = async () =>
      ((await ana.http.get(`/api/copies/${copies.copyIds[0]!}`).expect(200)).body as Answers['GET copies/{copyId}'])
        .handedBack!.mark.total
    expect(await totalSeen()).toBe(850)
    expect((await proof(copies)).lines[0]).toMatchObject({
      does: 'hand back again',
      before: '8½ of 10',
      mark: '7 of 10',
    })
    await handAllBack(copies)
    expect(await totalSeen()).toBe(700)
  })

  test('is withdrawn from whoever has not looked, and says who has', async () => {
    const copies = await handed(2)
    const ana = await submit(copies)
    const ben = await submit(copies, 1)
    await markWhole(copies)
    await markWhole(copies, 1)
    await remark(copies.of.teacher, copies.copyIds[1]!, 'Look at the sill.').expect(200)
    await handAllBack(copies)
    await ana.http.post(`/api/copies/${copies.copyIds[0]!}/handed-back/looked`).expect(204)
    expect((await page(copies)).copies.map(({ back }) => back.map(({ lookedAt }) => lookedAt !== null))).toEqual([
      [true],
      [false],
    ])
    const { body } = await copies.of.teacher.http
      .post(`/api/handouts/${copies.id}/hand-back/withdraw`)
      .send({ copyIds: copies.copyIds })
      .expect(200)
    expect(body).toMatchObject({ withdrawn: 1, seen: [{ copyId: copies.copyIds[0] }] })
    const { body: theirs } = await ben.http.get(`/api/copies/${copies.copyIds[1]!}`).expect(200)
    expect(theirs).toMatchObject({ state: 'submitted', handedBack: null })
    const { body: steps } = await ben.http.get(`/api/copies/${copies.copyIds[1]!}/history`).expect(200)
    expect((steps as Answers['GET copies/{copyId}/history']).steps.map(({ kind }) => kind)).toEqual([
      'given',
      'submitted',
    ])
    expect(JSON.stringify((await ben.http.get(`/api/copies/${copies.copyIds[1]!}/comments`)).body)).not.toContain(
      'sill',
    )
    expect((await page(copies)).copies[1]).toMatchObject({ state: 'submitted', isDone: true })
    await handAllBack(copies)
    expect(((await ben.http.get(`/api/copies/${copies.copyIds[1]!}`)).body as { state: string }).state).toBe(
      'handed back',
    )
  })

  test('is opened again to be improved: written in, submitted and marked once more; what was handed back stays', async () => {
    const copies = await handed(2)
    const ana = await submit(copies)
    await markWhole(copies)
    await handAllBack(copies)
    const [copyId] = copies.copyIds
    const again = () =>
      copies.of.teacher.http.post(`/api/handouts/${copies.id}/hand-back/open-again`).send({ copyIds: copies.copyIds })
    expect((await again().expect(200)).body).toEqual({ opened: 1 })
    expect((await again().expect(200)).body).toEqual({ opened: 0 })
    const seen = async () =>
      (await ana.http.get(`/api/copies/${copyId!}`).expect(200)).body as Answers['GET copies/{copyId}']
    expect(await seen()).toMatchObject({
      state: 'taken back',
      permission: 'edit',
      handingIn: null,
      handedBack: { mark: { total: 850 } },
    })
    // Its mark stands in the mark book until there is another.
    expect((await page(copies)).copies[0]).toMatchObject({ isDone: true })
    const live = await LiveClient.open(school.url, ana.cookie, copyId!)
    const number = live.type('better')
    await live.message((message) => message.type === 'saved' && message.number === number)
    live.socket.close()
    await submit(copies)
    expect((await page(copies)).copies[0]).toMatchObject({ state: 'submitted', isDone: false })
    await put(copies, [{ copyId, personId: null, changes: [space(200, 150)], done: true }]).expect(200)
    expect((await proof(copies)).lines[0]).toMatchObject({
      does: 'hand back again',
      before: '8½ of 10',
      mark: '9 of 10',
    })
    await handAllBack(copies)
    expect(await seen()).toMatchObject({ state: 'handed back', handedBack: { mark: { total: 900 } } })
    expect(await school.count('handed_back', `copy_id = '${copyId!}'`)).toBe(2)
  })

  test('a remark that was handed back can be answered, and done with', async () => {
    const copies = await handed(1)
    const ana = await submit(copies)
    await markWhole(copies)
    await remark(copies.of.teacher, copies.copyIds[0]!, 'How high is the sill?').expect(200)
    await handAllBack(copies)
    const { body } = await ana.http.get(`/api/copies/${copies.copyIds[0]!}/comments`).expect(200)
    const [thread] = (body as Answers['GET copies/{copyId}/comments']).threads
    expect(thread).toMatchObject({ kind: 'remark', mayReply: true, mayDo: true })
    await ana.http
      .put(`/api/copies/${copies.copyIds[0]!}/comments/${randomUUID()}`)
      .send({ text: 'Two metres.', threadId: thread!.id, begins: null })
      .expect(200)
    await ana.http.put(`/api/copies/${copies.copyIds[0]!}/threads/${thread!.id}`).send({ done: true }).expect(200)
  })

  test('the same remark on an answer of many copies', async () => {
    const copies = await handed(2)
    const of = copies.copyIds.map((copyId) => ({
      copyId,
      threadId: randomUUID(),
      commentId: randomUUID(),
      space: 'line',
    }))
    const { body } = await copies.of.teacher.http
      .post(`/api/handouts/${copies.id}/comments`)
      .send({ text: 'A time, please.', kind: 'remark', of })
      .expect(200)
    expect(body).toEqual({ failed: [] })
    expect((await page(copies)).copies.map(({ newRemarks }) => newRemarks)).toEqual([1, 1])
    const ana = await student(copies)
    const { body: said } = await ana.http.get(`/api/copies/${copies.copyIds[0]!}/comments`).expect(200)
    expect((said as { threads: unknown[] }).threads).toEqual([])
  })
})
