import { afterAll, beforeAll, expect, test } from '@jest/globals'
import { randomUUID } from 'node:crypto'
import request from 'supertest'
import { LiveClient } from './support/liveClient.js'
import { type TestClass, type TestHandout, type TestPerson, TestSchool, statementFor } from './support/school.js'

// Every route, for everybody who might try it. A route that is not in the table fails the test.

const ROLES = [
  'nobody',
  'holder',
  'classmate',
  'left',
  'helper',
  'co-teacher',
  'lead',
  'other teacher',
  'office',
  'other school',
] as const
type Role = (typeof ROLES)[number]

const everybody = (status: number): Record<Role, number> =>
  Object.fromEntries(ROLES.map((role) => [role, status])) as Record<Role, number>
/** 401 for who is not signed in, 404 for all the others but those named. */
const only = (named: Partial<Record<Role, number>>): Record<Role, number> => ({
  ...everybody(404),
  nobody: 401,
  ...named,
})
const teachers = (status: number) => ({ lead: status, 'co-teacher': status })
const staff = (status: number) => ({ ...teachers(status), helper: status })
const signedIn = (status: number) => ({ ...everybody(status), nobody: 401 })
const anyTeacher = { lead: 201, 'co-teacher': 201, helper: 201, 'other teacher': 201, 'other school': 201 }

interface Ids {
  classId: string
  personId: string
  worksheetId: string
  handoutId: string
  draftId: string
  copyId: string
}

/** What is sent is sound enough to be judged, and changes nothing that another line of the table rests on. */
const TABLE: Record<
  string,
  { to?: (ids: Ids) => Record<string, string>; body?: (ids: Ids) => object; answers: Record<Role, number> }
> = {
  'GET /api/health': { answers: everybody(200) },
  'GET /api/session': { answers: everybody(200) },
  'POST /api/session': {
    body: () => ({ email: `${randomUUID()}@fennickquay.example`, password: 'wrong' }),
    answers: everybody(401),
  },
  'GET /api/classes': { answers: signedIn(200) },
  'POST /api/classes': { body: () => ({ name: 'N', subject: 'S', year: 'Y', ink: 'teal' }), answers: only(anyTeacher) },
  'GET /api/classes/{classId}': { answers: only({ ...staff(200), holder: 200, classmate: 200 }) },
  'GET /api/classes/{classId}/roster': { answers: only(staff(200)) },
  'POST /api/classes/{classId}/roster': {
    body: () => ({ rows: [] }),
    answers: only({ ...teachers(200), helper: 403 }),
  },
  'PUT /api/classes/{classId}/roster/{personId}': {
    body: () => ({ first: '', last: '', email: '' }),
    answers: only({ ...teachers(422), helper: 403 }),
  },
  'DELETE /api/classes/{classId}/roster/{personId}': {
    to: () => ({ personId: randomUUID() }),
    answers: only({ ...teachers(404), helper: 403 }),
  },
  'POST /api/classes/{classId}/roster/{personId}/return': {
    to: () => ({ personId: randomUUID() }),
    answers: only({ ...teachers(404), helper: 403 }),
  },
  'POST /api/classes/{classId}/sign-in-cards': { answers: only({ ...teachers(200), helper: 403 }) },
  'GET /api/worksheets': {
    answers: only({ lead: 200, 'co-teacher': 200, helper: 200, 'other teacher': 200, 'other school': 200 }),
  },
  'POST /api/worksheets': { body: () => ({ title: 'T' }), answers: only(anyTeacher) },
  'GET /api/worksheets/{worksheetId}': { answers: only({ lead: 200 }) },
  'PUT /api/worksheets/{worksheetId}/draft': {
    body: () => ({ title: 'T', content: {}, version: 99 }),
    answers: only({ lead: 409 }),
  },
  'POST /api/worksheets/{worksheetId}/editions': { body: () => ({ version: 99 }), answers: only({ lead: 409 }) },
  'GET /api/worksheets/{worksheetId}/editions/{number}': { answers: only({ lead: 200 }) },
  'GET /api/classes/{classId}/handouts': { answers: only(staff(200)) },
  'POST /api/classes/{classId}/handouts': {
    // The worksheet is the lead's: a co-teacher may hand out, but not what is not theirs.
    body: ({ worksheetId }) => ({ title: 'H', statement: statementFor(worksheetId) }),
    answers: only({ lead: 201, 'co-teacher': 422, helper: 403 }),
  },
  'GET /api/classes/{classId}/handouts/beginning': { answers: only({ ...teachers(200), helper: 403 }) },
  'GET /api/handouts/{handoutId}': { answers: only(staff(200)) },
  'PUT /api/handouts/{handoutId}': {
    body: () => ({ title: 'H', statement: { items: [], dueAt: null }, version: 99 }),
    answers: only({ ...teachers(409), helper: 403 }),
  },
  'DELETE /api/handouts/{handoutId}': { answers: only({ ...teachers(409), helper: 403 }) },
  'POST /api/handouts/{handoutId}/hand-out': {
    body: () => ({ version: 99, fingerprint: 'x' }),
    answers: only({ ...teachers(409), helper: 403 }),
  },
  'GET /api/handouts/{handoutId}/hand-out': { answers: only(staff(200)) },
  'GET /api/handouts/{handoutId}/board': { answers: only(staff(200)) },
  'GET /api/copies': { answers: signedIn(200) },
  'GET /api/copies/{copyId}': { answers: only({ ...staff(200), holder: 200 }) },
  'GET /api/copies/{copyId}/late-writing': { answers: only({ ...staff(200), holder: 200 }) },
  // Not submitted yet: the holder is told, in 403; so are those who see it but do not hold it.
  'POST /api/copies/{copyId}/take-back': { answers: only({ ...staff(403), holder: 403 }) },
  'POST /api/copies/{copyId}/submit': { answers: only({ ...staff(403), holder: 200 }) },
  // Last, for it signs everybody out.
  'DELETE /api/session': { answers: everybody(204) },
}

let school: TestSchool
let given: TestClass
let handout: TestHandout
let people: Record<Exclude<Role, 'nobody'>, TestPerson>
let ids: Ids

beforeAll(async () => {
  school = await TestSchool.open()
  given = await school.classOf(3)
  handout = await school.handedOut(given)
  const add = async (name: string, role: string) => {
    const person = await school.person('teacher', name)
    await school.source.query(
      'INSERT INTO class_member (school_id, class_id, person_id, role) VALUES ($1, $2, $3, $4)',
      [school.schoolId, given.id, person.viewer.personId, role],
    )
    return person
  }
  const elsewhere = randomUUID()
  await school.addSchool(elsewhere)
  const [holder, classmate, left] = (await Promise.all(given.emails.map((email) => school.signInByEmail(email)))) as [
    TestPerson,
    TestPerson,
    TestPerson,
  ]
  await given.teacher.http.delete(`/api/classes/${given.id}/roster/${left.viewer.personId}`).expect(204)
  people = {
    holder,
    classmate,
    left,
    helper: await add('Helper', 'helper'),
    'co-teacher': await add('Coteacher', 'co-teacher'),
    lead: given.teacher,
    'other teacher': await school.person('teacher', 'Stranger'),
    office: await school.person('office', 'Office'),
    'other school': await school.person('teacher', 'Elsewhere', elsewhere),
  }
  ids = {
    classId: given.id,
    personId: holder.viewer.personId,
    worksheetId: handout.statement.items[0]!.worksheetId!,
    handoutId: handout.id,
    draftId: handout.id,
    copyId: handout.copies.get(given.emails[0]!)!,
  }
}, 60_000)
afterAll(() => school.close())

test('every route of the API is in the table', async () => {
  const { body } = await request(school.url).get('/api/openapi.json').expect(200)
  const routes = Object.entries((body as { paths: Record<string, object> }).paths).flatMap(([path, methods]) =>
    Object.keys(methods).map((method) => `${method.toUpperCase()} ${path}`),
  )
  expect(Object.keys(TABLE).toSorted()).toEqual(routes.toSorted())
})

test.each(Object.entries(TABLE))('%s', async (route, { to, body, answers }) => {
  const [method, pattern] = route.split(' ') as [string, string]
  const values: Record<string, string> = { ...ids, number: '1', ...to?.(ids) }
  const path = pattern.replace(/\{(\w+)\}/g, (_, name: string) => values[name] ?? '')
  const found: Partial<Record<Role, number>> = {}
  // The strangers first: what they try must not change what the others are told.
  const order = ROLES.toSorted((a, b) => Number(a === 'holder') - Number(b === 'holder'))
  for (const role of order) {
    const client = role === 'nobody' ? request(school.url) : people[role].http
    const call = client[method.toLowerCase() as 'get'](path)
    const answer = await (body ? call.send(body(ids)) : call)
    found[role] = answer.status
    // Unknown and forbidden look the same to strangers.
    if (answer.status === 404)
      expect(answer.body).toEqual({
        type: 'urn:gavrin:problem:not-there',
        title: 'Not here',
        status: 404,
        detail: 'This is not here, or not for you to see.',
        code: 'not-there',
      })
  }
  expect(found).toEqual(answers)
})

test('the live connection: who may open a copy and who may watch a board', async () => {
  const again = await school.signInByEmail(given.emails[0]!)
  const table: [TestPerson, string, boolean][] = [
    [again, 'ready', false],
    [await school.signInByEmail(given.emails[1]!), 'closed', false],
    [await school.person('teacher', 'Nosy'), 'closed', false],
    [await school.person('office', 'Desk'), 'closed', false],
  ]
  const reopened = await school.person('teacher', 'Second')
  await school.source.query(
    `INSERT INTO class_member (school_id, class_id, person_id, role) VALUES ($1, $2, $3, 'helper')`,
    [school.schoolId, given.id, reopened.viewer.personId],
  )
  table.push([reopened, 'ready', true])
  for (const [person, answer, watches] of table) {
    const client = await LiveClient.connect(school.url, person.cookie)
    client.send({ type: 'watch', handoutId: handout.id })
    expect((await client.openCopy(ids.copyId)).type).toBe(answer)
    expect(client.messages.some(({ type }) => type === 'rows')).toBe(watches)
    client.close()
  }
})
