import { plainItem, withWay } from '@gavrin/core'
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { type TestPerson, TestSchool } from './support/school.js'

let school: TestSchool
beforeAll(async () => {
  school = await TestSchool.open()
})
afterAll(() => school.close())

interface Opened {
  name: string
  subject: string
  year: string
  ink: string
  role: string
  archived: boolean
  carriedFrom: { id: string } | null
  units: { id: string; name: string }[]
  columns: { name: string }[]
  staff: { first: string; role: string; email: string | null }[]
}

const open = async (by: TestPerson, id: string) => (await by.http.get(`/api/classes/${id}`).expect(200)).body as Opened
const listed = async (by: TestPerson) =>
  (await by.http.get('/api/classes').expect(200)).body as { id: string; archived: boolean; role: string }[]

async function withColleague(id: string, teacher: TestPerson, role: string, studentIds: string[] = []) {
  const colleague = await school.person('teacher', 'Colleague')
  await teacher.http.post(`/api/classes/${id}/staff`).send({ email: colleague.email, role, studentIds }).expect(201)
  return colleague
}

const EVERYTHING = {
  staff: true,
  units: true,
  columns: true,
  handouts: true,
  shelf: true,
  students: [] as readonly string[] | null,
  cells: true,
  groups: true,
}

describe('a class', () => {
  test('is renamed; what is missing is said at its field, and students are told only what they need', async () => {
    const { id, teacher, emails } = await school.classOf(1)
    const change = (input: object) =>
      teacher.http
        .put(`/api/classes/${id}`)
        .send({ name: '8 Heron', subject: 'Geography', year: '2026/27', ink: 'plum', ...input })
    await change({ name: ' 8  Heron ', ink: 'rust' }).expect(204)
    expect(await open(teacher, id)).toMatchObject({ name: '8 Heron', ink: 'rust', role: 'lead', archived: false })
    for (const [input, field] of [
      [{ name: ' ' }, 'name'],
      [{ name: 'x'.repeat(101) }, 'name'],
      [{ year: 'x'.repeat(21) }, 'year'],
      [{ ink: 'white' }, 'ink'],
    ] as const)
      expect((await change(input).expect(422)).body).toMatchObject({ errors: [{ field }] })
    const student = await school.signInByEmail(emails[0]!)
    const seen = (await student.http.get(`/api/classes/${id}`).expect(200)).body as Partial<Opened>
    expect(Object.keys(seen)).not.toContain('columns')
    expect(seen.staff).toEqual([{ first: 'Lead', last: 'Tester', role: 'lead' }])
    expect(JSON.stringify(seen)).not.toContain('@')
  })

  test('its units are put in order, renamed, taken away, and brought back as they were', async () => {
    const { id, teacher } = await school.classOf(0)
    const put = (units: object[]) => teacher.http.put(`/api/classes/${id}/units`).send({ units })
    const units = async () => (await open(teacher, id)).units
    await put([{ name: 'Maps' }, { name: ' Tides  and harbours ' }]).expect(204)
    const [maps, tides] = (await units()) as [{ id: string; name: string }, { id: string; name: string }]
    await put([tides, { ...maps, name: 'Maps and scale' }, { name: 'Rivers' }]).expect(204)
    expect((await units()).map(({ name }) => name)).toEqual(['Tides and harbours', 'Maps and scale', 'Rivers'])
    await put([maps]).expect(204)
    // Undo sends what stood there before, ids and all.
    await put([tides, maps]).expect(204)
    expect(await units()).toEqual([tides, maps])
    expect((await put([{ name: 'A' }, { name: ' ' }]).expect(422)).body).toMatchObject({
      errors: [{ field: 'units.1.name', sentence: 'Give the unit a name.' }],
    })
    await put(Array.from({ length: 101 }, (_, at) => ({ name: `U${at}` }))).expect(422)
    // A unit of another class cannot be taken over by its id.
    const other = await school.classOf(0)
    await other.teacher.http.put(`/api/classes/${other.id}/units`).send({ units: [{ ...maps, name: 'Stolen' }] })
    expect((await units()).map(({ name }) => name)).toEqual(['Tides and harbours', 'Maps'])
  })
})

describe('the next year', () => {
  test('students go up with what stands in their columns and with their groups, all or those chosen', async () => {
    const given = await school.classOf(4)
    const { id, teacher } = given
    const { id: band } = (
      await teacher.http.post(`/api/classes/${id}/columns`).send({ name: 'Reading band', kind: 'text' }).expect(201)
    ).body as { id: string }
    const [ana, ben, cem, dag] = (await school.peopleOf(given)) as [string, string, string, string]
    await teacher.http
      .patch(`/api/classes/${id}/roster`)
      .send({ edits: [ana, ben].map((personId) => ({ personId, field: band, value: `band of ${personId}` })) })
      .expect(200)
    await school.groupSet(given, 'Crews', { Crane: [0, 1], Davit: [2, 3] })
    await teacher.http
      .post(`/api/classes/${id}/roster/leave`)
      .send({ personIds: [dag] })
      .expect(200)
    const carry = async (students: readonly string[] | null) =>
      (
        (await teacher.http
          .post(`/api/classes/${id}/carry`)
          .send({ name: '9 Heron', year: '2027/28', ...EVERYTHING, students })
          .expect(201)) as { body: { id: string } }
      ).body.id
    const rosterOf = async (classId: string) =>
      (await teacher.http.get(`/api/classes/${classId}/roster`).expect(200)).body as {
        personId: string
        cells: Record<string, string>
      }[]
    const setsOf = async (classId: string) =>
      (await teacher.http.get(`/api/classes/${classId}/group-sets`).expect(200)).body as {
        name: string
        groups: { id: string; name: string; personIds: string[] }[]
      }[]

    const all = await carry(null)
    const [column] = (await open(teacher, all)).columns as unknown as { id: string }[]
    const up = await rosterOf(all)
    expect(new Set(up.map(({ personId }) => personId))).toEqual(new Set([ana, ben, cem]))
    expect(up.find(({ personId }) => personId === ana)!.cells).toEqual({ [column!.id]: `band of ${ana}` })
    const [crews] = await setsOf(all)
    expect(crews).toMatchObject({ name: 'Crews', groups: [{ name: 'Crane' }, { name: 'Davit' }] })
    const groupOf = (personId: string) => crews!.groups.find(({ personIds }) => personIds.includes(personId))?.name
    expect([ana, ben, cem, dag].map(groupOf)).toEqual(['Crane', 'Crane', 'Davit', undefined])

    const some = await carry([ben, dag, teacher.viewer.personId])
    expect((await rosterOf(some)).map(({ personId }) => personId)).toEqual([ben])

    // Into a class of another subject that is there already; twice is once, and who left comes back.
    const other = await school.classOf(1)
    const bring = (personIds: readonly string[], from = id) =>
      other.teacher.http.post(`/api/classes/${other.id}/roster/from`).send({ from, personIds })
    await bring([ana]).expect(404)
    await teacher.http
      .post(`/api/classes/${id}/staff`)
      .send({ email: other.teacher.email, role: 'co-teacher', studentIds: [] })
      .expect(201)
    expect((await bring([ana, cem, dag]).expect(200)).body).toEqual({ added: 2 })
    expect((await bring([ana, cem]).expect(200)).body).toEqual({ added: 0 })
    await other.teacher.http
      .post(`/api/classes/${other.id}/roster/leave`)
      .send({ personIds: [cem] })
      .expect(200)
    expect((await bring([cem]).expect(200)).body).toEqual({ added: 1 })
  })

  test('the lead is handed over by who has it, to somebody of the staff', async () => {
    const { id, teacher } = await school.classOf(2)
    const colleague = await withColleague(id, teacher, 'co-teacher')
    const hand = (by: TestPerson, to: TestPerson) => by.http.post(`/api/classes/${id}/staff/${to.viewer.personId}/lead`)
    await hand(colleague, colleague).expect(403)
    await hand(teacher, await school.person('teacher', 'Elsewhere')).expect(404)
    await hand(teacher, colleague).expect(204)
    expect((await open(colleague, id)).staff.map(({ email, role }) => [email, role])).toEqual([
      [colleague.email, 'lead'],
      [teacher.email, 'co-teacher'],
    ])
    await hand(teacher, teacher).expect(403)
    await colleague.http.post(`/api/classes/${id}/archive`).expect(204)
  })

  test('what is chosen goes along: staff, units, columns, handouts as drafts; not the students', async () => {
    const given = await school.classOf(2)
    const { id, teacher } = given
    const students = (await teacher.http.get(`/api/classes/${id}/roster`)).body as { personId: string }[]
    await teacher.http
      .put(`/api/classes/${id}/units`)
      .send({ units: [{ name: 'Maps' }, { name: 'Tides' }] })
      .expect(204)
    await teacher.http.post(`/api/classes/${id}/columns`).send({ name: 'Reading band', kind: 'text' }).expect(201)
    const coTeacher = await withColleague(id, teacher, 'co-teacher')
    await withColleague(id, teacher, 'named helper', [students[0]!.personId])
    const helper = await withColleague(id, teacher, 'helper')
    const handout = await school.handedOut(given)
    const worksheet = await school.worksheet(teacher)
    const onShelf = [withWay(plainItem('read', worksheet.id, 1), 'to read', [])]
    await teacher.http.put(`/api/classes/${id}/shelf`).send({ items: onShelf, version: 0 }).expect(200)
    const all = { name: '9 Heron', year: '2027/28', ...EVERYTHING }
    const carry = (by: TestPerson, input: object) => by.http.post(`/api/classes/${id}/carry`).send({ ...all, ...input })

    // Carried by the co-teacher: who carries it leads the new one.
    const { body } = await carry(coTeacher, {}).expect(201)
    const next = (body as { id: string; handouts: number }).id
    expect(body).toMatchObject({ handouts: 1 })
    const opened = await open(coTeacher, next)
    expect(opened).toMatchObject({
      name: '9 Heron',
      year: '2027/28',
      subject: 'Geography',
      carriedFrom: { id },
      units: [{ name: 'Maps' }, { name: 'Tides' }],
      columns: [{ name: 'Reading band' }],
    })
    expect(opened.staff.map(({ email, role }) => [email, role])).toEqual([
      [coTeacher.email, 'lead'],
      [teacher.email, 'co-teacher'],
      [helper.email, 'helper'],
    ])
    expect((await coTeacher.http.get(`/api/classes/${next}/roster`).expect(200)).body).toEqual([])
    const [draft] = (await coTeacher.http.get(`/api/classes/${next}/handouts`).expect(200)).body as {
      id: string
      number: number
      handedOutAt: number | null
    }[]
    expect(draft).toMatchObject({ number: 1, handedOutAt: null })
    const slip = (await coTeacher.http.get(`/api/handouts/${draft!.id}`).expect(200)).body as { statement: object }
    expect(slip.statement).toEqual({
      ...handout.statement,
      classes: [{ classId: next, opensAt: null, dueAt: null }],
    })
    // What is on the shelf is there for whoever comes into the new class.
    const shelf = (await coTeacher.http.get(`/api/classes/${next}/shelf`).expect(200)).body as { items: object[] }
    expect(shelf.items).toMatchObject([{ worksheetId: worksheet.id, copyId: null }])
    await coTeacher.http
      .post(`/api/classes/${next}/roster`)
      .send({ rows: [{ last: 'Late', first: 'Lou', email: given.emails[0], cells: {} }] })
      .expect(200)
    const lou = await school.signInByEmail(given.emails[0]!)
    const onTheirs = async () =>
      ((await lou.http.get('/api/copies').expect(200)).body as { kind: string; class: string }[]).filter(
        ({ kind, class: of }) => kind === 'shelf' && of === '9 Heron',
      )
    while ((await onTheirs()).length < 1);
    const bare = (
      await carry(teacher, {
        name: 'Bare',
        staff: false,
        units: false,
        columns: false,
        handouts: false,
        shelf: false,
      }).expect(201)
    ).body as { id: string }
    expect(await open(teacher, bare.id)).toMatchObject({ units: [], columns: [], staff: [{ role: 'lead' }] })
    expect((await teacher.http.get(`/api/classes/${bare.id}/handouts`)).body).toEqual([])
    expect((await carry(teacher, { name: ' ' }).expect(422)).body).toMatchObject({ errors: [{ field: 'name' }] })
    await carry(helper, {}).expect(403)
  })
})

describe('an archived class', () => {
  test('can be looked at and not changed, carried on, and brought back as it was', async () => {
    const given = await school.classOf(1)
    const { id, teacher, emails } = given
    const handout = await school.handedOut(given)
    const student = await school.signInByEmail(emails[0]!)
    const colleague = await withColleague(id, teacher, 'co-teacher')
    await teacher.http.put(`/api/classes/${id}/join`).send({ open: true, opensAt: null, closesAt: null }).expect(204)
    const { code } = (await teacher.http.get(`/api/classes/${id}/join`)).body as { code: string }
    expect((await colleague.http.post(`/api/classes/${id}/archive`).expect(403)).body).toMatchObject({
      code: 'lead-archives',
    })
    await teacher.http.post(`/api/classes/${id}/archive`).expect(204)
    expect((await listed(teacher)).find((found) => found.id === id)!.archived).toBe(true)
    for (const path of ['roster', 'group-sets', 'handouts'])
      await colleague.http.get(`/api/classes/${id}/${path}`).expect(200)
    await colleague.http.get(`/api/handouts/${handout.id}/board`).expect(200)
    await student.http.get(`/api/copies/${handout.copies.get(emails[0]!)}`).expect(200)
    const refused = async (call: Promise<{ status: number; body: unknown }>) => {
      const { status, body } = await call
      expect([status, (body as { code: string }).code]).toEqual([403, 'archived'])
    }
    await refused(teacher.http.post(`/api/classes/${id}/roster`).send({ rows: [] }))
    await refused(teacher.http.post(`/api/classes/${id}/group-sets`).send({ name: 'X', balanceColumn: null }))
    await refused(teacher.http.put(`/api/classes/${id}/units`).send({ units: [] }))
    await refused(teacher.http.post(`/api/classes/${id}/invitations`).send({}))
    await refused(
      teacher.http.post(`/api/classes/${id}/staff`).send({ email: colleague.email, role: 'helper', studentIds: [] }),
    )
    // Its code leads nowhere while it is put away.
    await student.http.get(`/api/join/${code}`).expect(404)
    const carried = { name: 'Next', year: '2027/28', ...EVERYTHING }
    await colleague.http.post(`/api/classes/${id}/carry`).send(carried).expect(201)
    await teacher.http.post(`/api/classes/${id}/bring-back`).expect(204)
    await teacher.http.post(`/api/classes/${id}/roster`).send({ rows: [] }).expect(200)
    // Open to strangers only when somebody opens it again.
    expect((await student.http.get(`/api/join/${code}`).expect(200)).body).toMatchObject({ state: 'closed' })
  })
})
