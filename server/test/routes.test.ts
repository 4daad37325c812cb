import { afterAll, beforeAll, expect, test } from '@jest/globals'
import { randomUUID } from 'node:crypto'
import request from 'supertest'
import { LiveClient } from './support/liveClient.js'
import {
  type TestClass,
  type TestHandout,
  type TestPerson,
  TestSchool,
  statementFor,
  sessionCookie,
} from './support/school.js'

// Every route, for everybody who might try it. A route that is not in the table fails the test.

const ROLES = [
  'nobody',
  'guest',
  'holder',
  'classmate',
  'left',
  'helper',
  'named helper',
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
const staff = (status: number) => ({ ...teachers(status), helper: status, 'named helper': status })
/** What teachers may do to a class and helpers may not. */
const changing = (status: number) => only({ ...teachers(status), helper: 403, 'named helper': 403 })
const signedIn = (status: number) => ({ ...everybody(status), nobody: 401 })
const anyTeacherGets = (status: number) => ({ ...staff(status), 'other teacher': status, 'other school': status })
const anyTeacher = anyTeacherGets(201)

const noMedium = () => ({ mediumId: randomUUID() })

interface Ids {
  classId: string
  personId: string
  worksheetId: string
  handoutId: string
  draftId: string
  copyId: string
  setId: string
  columnId: string
  code: string
  format: string
  bringInId: string
}

/** What is sent is sound enough to be judged, and changes nothing that another line of the table rests on. */
const TABLE: Record<
  string,
  {
    to?: (ids: Ids) => Record<string, string>
    query?: string
    body?: (ids: Ids) => object
    answers: Record<Role, number>
  }
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
  'POST /api/handouts/{handoutId}/likeness': {
    body: () => ({ withOthers: false, beside: [] }),
    answers: changing(200),
  },
  'POST /api/handouts/{handoutId}/likeness/came': { body: () => ({ runs: [] }), answers: changing(200) },
  'GET /api/events': { answers: only(anyTeacherGets(200)) },
  'GET /api/tokens': { answers: only(anyTeacherGets(200)) },
  'POST /api/tokens': { body: () => ({ name: ' ', scopes: ['read'], days: 1 }), answers: only(anyTeacherGets(422)) },
  'DELETE /api/tokens/{tokenId}': { to: () => ({ tokenId: randomUUID() }), answers: signedIn(404) },
  'GET /api/webhooks': { answers: only(anyTeacherGets(200)) },
  'POST /api/webhooks': {
    body: () => ({ address: 'nowhere', kinds: ['submitted'] }),
    answers: only(anyTeacherGets(422)),
  },
  'POST /api/webhooks/{webhookId}/again': { to: () => ({ webhookId: randomUUID() }), answers: signedIn(404) },
  'DELETE /api/webhooks/{webhookId}': { to: () => ({ webhookId: randomUUID() }), answers: signedIn(404) },
  'GET /api/to-keep': { answers: signedIn(200) },
  'POST /api/to-keep/proof': {
    body: ({ handoutId }) => ({ handoutId, unfinished: false }),
    answers: changing(200),
  },
  'POST /api/to-keep': {
    body: ({ handoutId }) => ({ handoutId, unfinished: false, fingerprint: 'none' }),
    answers: changing(409),
  },
  'DELETE /api/to-keep/acts/{actId}': { to: () => ({ actId: randomUUID() }), answers: signedIn(404) },
  'POST /api/to-keep/{keptId}/copy': { to: () => ({ keptId: randomUUID() }), answers: signedIn(404) },
  'GET /api/saved-copies': { answers: only(anyTeacherGets(200)) },
  'POST /api/saved-copies': {
    // Of a class in which nothing is for whoever asks there are no copies.
    body: ({ classId }) => ({ format: 'odt', classId, copyIds: [] }),
    answers: only(anyTeacherGets(409)),
  },
  'GET /api/saved-copies/{savedId}/file': { to: () => ({ savedId: randomUUID() }), answers: signedIn(404) },
  'DELETE /api/saved-copies/{savedId}': { to: () => ({ savedId: randomUUID() }), answers: signedIn(404) },
  'GET /api/handouts/{handoutId}/marks': { answers: only(staff(200)) },
  'PUT /api/handouts/{handoutId}/marks': {
    body: () => ({ marks: [{ copyId: randomUUID(), personId: null, changes: [] }] }),
    answers: changing(404),
  },
  'PUT /api/handouts/{handoutId}/readings/{copyId}': {
    body: () => ({ total: 100, step: null, remark: '' }),
    answers: changing(422),
  },
  'POST /api/handouts/{handoutId}/marks/proof': {
    body: () => ({ marking: { kind: 'points', points: 10 }, rubric: [], lateDeduction: null }),
    answers: changing(200),
  },
  'POST /api/handouts/{handoutId}/hand-back/proof': {
    body: () => ({ copyIds: [], message: '', byMail: false }),
    answers: changing(200),
  },
  'POST /api/handouts/{handoutId}/hand-back': {
    body: () => ({ copyIds: [], message: '', byMail: false, fingerprint: '00' }),
    answers: changing(409),
  },
  'POST /api/handouts/{handoutId}/hand-back/withdraw': {
    body: () => ({ copyIds: [randomUUID()] }),
    answers: changing(200),
  },
  'DELETE /api/handouts/{handoutId}/hand-back/later': { answers: changing(204) },
  'POST /api/handouts/{handoutId}/hand-back/open-again': {
    body: () => ({ copyIds: [randomUUID()] }),
    answers: changing(200),
  },
  'POST /api/copies/{copyId}/handed-back/looked': { answers: only({ holder: 204 }) },
  'GET /api/classes/{classId}/mark-book/columns/{columnId}': {
    to: ({ handoutId }) => ({ columnId: handoutId }),
    answers: only(staff(200)),
  },
  'GET /api/copies/{copyId}/pen': { answers: only({ ...staff(200), holder: 200 }) },
  'PUT /api/copies/{copyId}/pen/{markId}': {
    to: () => ({ markId: randomUUID() }),
    body: () => ({ kind: 'tick', over: { is: 'space', id: 'line' }, points: [[0, 0, 0]] }),
    answers: signedIn(422),
  },
  'DELETE /api/copies/{copyId}/pen/{markId}': {
    to: () => ({ markId: randomUUID() }),
    answers: only({ ...staff(404), holder: 403 }),
  },
  'GET /api/stock-remarks': { answers: only(anyTeacherGets(200)) },
  'GET /api/stock-remarks/uses': { answers: only(anyTeacherGets(200)) },
  'PUT /api/stock-remarks/{remarkId}': {
    to: () => ({ remarkId: randomUUID() }),
    body: () => ({ short: 'two words', text: 'x' }),
    answers: only(anyTeacherGets(422)),
  },
  'DELETE /api/stock-remarks/{remarkId}': {
    to: () => ({ remarkId: randomUUID() }),
    answers: only(anyTeacherGets(204)),
  },
  'GET /api/rubrics': { answers: only(anyTeacherGets(200)) },
  'GET /api/rubrics/{rubricId}': {
    to: () => ({ rubricId: randomUUID() }),
    answers: only(anyTeacherGets(404)),
  },
  'PUT /api/rubrics/{rubricId}': {
    to: () => ({ rubricId: randomUUID() }),
    body: () => ({ name: ' ', rows: [], shared: false }),
    answers: only(anyTeacherGets(422)),
  },
  'DELETE /api/rubrics/{rubricId}': {
    to: () => ({ rubricId: randomUUID() }),
    answers: only(anyTeacherGets(204)),
  },
  'POST /api/rubrics/out/{format}': {
    body: () => ({ name: 'Walks', rows: [{ id: 'why', name: 'Reasons', points: 3 }] }),
    answers: only(anyTeacherGets(200)),
  },
  'GET /api/office/scales': { answers: only({ office: 200 }) },
  'PUT /api/office/scales/{scaleId}': {
    to: () => ({ scaleId: randomUUID() }),
    body: () => ({ name: 'Letters', steps: ['A'], from: null }),
    answers: only({ office: 422 }),
  },
  'DELETE /api/office/scales/{scaleId}': {
    to: () => ({ scaleId: randomUUID() }),
    answers: only({ office: 204 }),
  },
  'GET /api/classes/{classId}/scales': { answers: only({ ...staff(200), 'named helper': 403 }) },
  'PUT /api/classes/{classId}/scales/{scaleId}': {
    to: () => ({ scaleId: randomUUID() }),
    body: () => ({ name: 'Letters', steps: ['A'], from: null }),
    answers: changing(422),
  },
  'DELETE /api/classes/{classId}/scales/{scaleId}': {
    to: () => ({ scaleId: randomUUID() }),
    answers: changing(204),
  },
  'GET /api/classes/{classId}/mark-book': { answers: only(staff(200)) },
  'POST /api/classes/{classId}/mark-book/out/{format}': { answers: only(staff(200)) },
  'PUT /api/classes/{classId}/mark-book/rules': {
    body: () => ({ missing: 'zero', best: null, weights: {} }),
    answers: changing(204),
  },
  'PUT /api/classes/{classId}/mark-book/notes/{personId}': {
    to: () => ({ personId: randomUUID() }),
    body: () => ({ was: '', to: 'x' }),
    answers: only(staff(404)),
  },
  'PUT /api/classes/{classId}/mark-book/columns/{columnId}': {
    to: () => ({ columnId: randomUUID() }),
    body: () => ({ name: ' ', unit: null, most: 1000 }),
    answers: changing(422),
  },
  'POST /api/classes/{classId}/mark-book/columns/{columnId}/remove': {
    to: () => ({ columnId: randomUUID() }),
    body: () => ({ withMarks: false }),
    answers: changing(404),
  },
  'PUT /api/classes/{classId}/mark-book/columns/{columnId}/marks': {
    to: () => ({ columnId: randomUUID() }),
    body: () => ({
      marks: [
        {
          personId: randomUUID(),
          was: { total: null, excused: false },
          to: { total: 100, excused: false },
        },
      ],
    }),
    answers: changing(404),
  },
  'GET /api/handouts/{handoutId}/students': { answers: only(staff(200)) },
  'GET /api/handouts/{handoutId}/writers': { answers: only(staff(200)) },
  'GET /api/classes/{classId}/overview': { answers: only(staff(200)) },
  'POST /api/classes/{classId}/overview/out/{format}': { body: () => ({}), answers: only(staff(200)) },
  'GET /api/classes/{classId}/roster': { answers: only(staff(200)) },
  'POST /api/classes/{classId}/roster': { body: () => ({ rows: [] }), answers: changing(200) },
  'PATCH /api/classes/{classId}/roster': {
    body: () => ({ edits: [{ personId: randomUUID(), field: 'last', value: 'x' }] }),
    answers: changing(422),
  },
  'POST /api/classes/{classId}/roster/leave': { body: () => ({ personIds: [] }), answers: changing(200) },
  'POST /api/classes/{classId}/roster/return': { body: () => ({ personIds: [] }), answers: changing(200) },
  'POST /api/classes/{classId}/roster/from': {
    body: ({ classId }) => ({ from: classId, personIds: [] }),
    answers: changing(200),
  },
  'POST /api/classes/{classId}/roster/out/{format}': { body: () => ({}), answers: only(staff(200)) },
  'POST /api/classes/{classId}/columns': { body: () => ({ name: '', kind: 'text' }), answers: changing(422) },
  'PUT /api/classes/{classId}/columns/{columnId}': { body: () => ({ name: '' }), answers: changing(422) },
  'DELETE /api/classes/{classId}/columns/{columnId}': { answers: changing(204) },
  'POST /api/classes/{classId}/columns/{columnId}/return': { answers: changing(204) },
  'POST /api/classes/{classId}/sign-in-cards': { body: () => ({}), answers: changing(200) },
  'PUT /api/classes/{classId}': {
    body: () => ({ name: ' ', subject: 'S', year: 'Y', ink: 'teal' }),
    answers: changing(422),
  },
  'PUT /api/classes/{classId}/rules': {
    body: () => ({ classmatesComment: true, staffShown: true, helpersMark: false }),
    answers: changing(204),
  },
  'PUT /api/classes/{classId}/units': { body: () => ({ units: [] }), answers: changing(204) },
  'POST /api/classes/{classId}/archive': {
    answers: only({ lead: 204, 'co-teacher': 403, helper: 403, 'named helper': 403 }),
  },
  'POST /api/classes/{classId}/bring-back': {
    answers: only({ lead: 204, 'co-teacher': 403, helper: 403, 'named helper': 403 }),
  },
  'POST /api/classes/{classId}/carry': {
    body: () => ({
      name: 'Next',
      year: '2027/28',
      staff: false,
      units: false,
      columns: false,
      handouts: false,
      shelf: false,
      students: [],
      cells: false,
      groups: false,
    }),
    answers: changing(201),
  },
  'POST /api/classes/{classId}/staff': {
    body: () => ({ email: 'nobody', role: 'helper', studentIds: [] }),
    answers: changing(422),
  },
  'PUT /api/classes/{classId}/staff/{personId}': {
    to: () => ({ personId: randomUUID() }),
    body: () => ({ role: 'helper', studentIds: [] }),
    answers: changing(404),
  },
  'POST /api/classes/{classId}/staff/{personId}/lead': {
    to: () => ({ personId: randomUUID() }),
    answers: only({ lead: 404, 'co-teacher': 403, helper: 403, 'named helper': 403 }),
  },
  'DELETE /api/classes/{classId}/staff/{personId}': {
    to: () => ({ personId: randomUUID() }),
    answers: changing(404),
  },
  'GET /api/classes/{classId}/join': { answers: changing(200) },
  'PUT /api/classes/{classId}/join': {
    body: () => ({ open: true, opensAt: null, closesAt: null }),
    answers: changing(204),
  },
  'POST /api/classes/{classId}/join/decide': { body: () => ({ letIn: [], turnAway: [] }), answers: changing(200) },
  'GET /api/join/{code}': { answers: everybody(200) },
  'POST /api/join/{code}': { body: () => ({ first: '', last: '', email: '' }), answers: everybody(422) },
  'POST /api/classes/{classId}/join/new-code': { answers: changing(200) },
  'GET /api/classes/{classId}/group-sets': { answers: only(staff(200)) },
  'POST /api/classes/{classId}/group-sets': {
    body: () => ({ name: ' ', balanceColumn: null }),
    answers: changing(422),
  },
  'PUT /api/group-sets/{setId}': {
    body: () => ({ name: ' ', balanceColumn: null, signUp: { open: false, opensAt: null, closesAt: null } }),
    answers: changing(422),
  },
  'PUT /api/group-sets/{setId}/arrangement': {
    body: () => ({ version: 99, groups: [], locked: [], pairs: [] }),
    answers: changing(409),
  },
  'POST /api/group-sets/{setId}/moves': { body: () => ({ personIds: [], groupId: null }), answers: changing(200) },
  'POST /api/group-sets/{setId}/different': {
    body: () => ({ one: randomUUID(), two: randomUUID() }),
    answers: changing(409),
  },
  'DELETE /api/group-sets/{setId}/different': { answers: changing(204) },
  'GET /api/sign-ups': { answers: signedIn(200) },
  'GET /api/sign-ups/{setId}': {
    answers: only({ ...teachers(403), helper: 403, 'named helper': 403, holder: 200, classmate: 200 }),
  },
  'POST /api/sign-ups/{setId}': {
    body: () => ({ groupId: null }),
    answers: only({ ...teachers(403), helper: 403, 'named helper': 403, holder: 409, classmate: 409 }),
  },
  'DELETE /api/group-sets/{setId}': { answers: changing(204) },
  'POST /api/group-sets/{setId}/return': { answers: changing(204) },
  'GET /api/find': { query: 'typed=x', answers: only({ ...anyTeacherGets(200), office: 200 }) },
  'GET /api/people/{personId}': { answers: only({ ...staff(200), office: 200 }) },
  'GET /api/office/people': { query: 'find=x&role=student&page=0&language=sv', answers: only({ office: 200 }) },
  'GET /api/office/doubles': { answers: only({ office: 200 }) },
  'PUT /api/office/different/{oneId}/{twoId}': {
    to: () => ({ oneId: randomUUID(), twoId: randomUUID() }),
    answers: only({ office: 404 }),
  },
  'DELETE /api/office/different/{oneId}/{twoId}': {
    to: () => ({ oneId: randomUUID(), twoId: randomUUID() }),
    answers: only({ office: 204 }),
  },
  'POST /api/office/people': {
    body: () => ({ first: '', last: '', email: '', number: '', role: 'student' }),
    answers: only({ office: 422 }),
  },
  'PUT /api/office/people/{personId}': {
    body: () => ({ first: '', last: '', email: '', number: '', role: 'student' }),
    answers: only({ office: 422 }),
  },
  'POST /api/office/people/{personId}/reset': {
    to: () => ({ personId: randomUUID() }),
    body: () => ({ how: 'mail' }),
    answers: only({}),
  },
  'POST /api/office/merge': {
    body: () => ({ keepId: ids.personId, otherId: ids.personId }),
    answers: only({ office: 422 }),
  },
  'GET /api/lists/{listId}/tables/{table}/pages/{page}': {
    to: () => ({ listId: randomUUID(), table: '0', page: '1' }),
    answers: { ...only(anyTeacherGets(404)) },
  },
  'POST /api/lists/read': { answers: only(anyTeacherGets(422)) },
  'GET /api/classes/{classId}/mail': { answers: changing(200) },
  'POST /api/classes/{classId}/mail/again': { body: () => ({ messageIds: [] }), answers: changing(200) },
  'POST /api/classes/{classId}/invitations': { body: () => ({ personIds: [] }), answers: changing(200) },
  // The demo's post: not in a school.
  'GET /api/mail/stand-in': { answers: only({}) },
  'GET /api/account/calendar': { answers: signedIn(200) },
  'POST /api/account/calendar': { answers: { ...signedIn(200), guest: 403 } },
  'DELETE /api/account/calendar': { answers: signedIn(204) },
  'GET /api/calendar/{file}': { to: () => ({ file: 'x.ics' }), answers: everybody(404) },
  'POST /api/account/forgotten': {
    body: () => ({ email: `${randomUUID()}@fennickquay.example` }),
    answers: everybody(204),
  },
  'POST /api/account/link': { body: () => ({ token: 'never' }), answers: everybody(410) },
  'POST /api/account/password-by-link': {
    body: () => ({ token: 'never', password: 'four grey gulls' }),
    answers: everybody(410),
  },
  'PUT /api/account/password': {
    body: () => ({ current: 'wrong', password: 'four grey gulls' }),
    answers: signedIn(422),
  },
  'GET /api/worksheets': {
    answers: only(anyTeacherGets(200)),
  },
  'POST /api/worksheets': { body: () => ({ title: 'T' }), answers: only(anyTeacher) },
  'GET /api/worksheets/{worksheetId}': { answers: only({ lead: 200 }) },
  'PUT /api/worksheets/{worksheetId}/draft': {
    body: () => ({ title: 'T', content: {}, version: 99 }),
    answers: only({ lead: 409 }),
  },
  'POST /api/worksheets/{worksheetId}/editions': { body: () => ({ version: 99 }), answers: only({ lead: 409 }) },
  'GET /api/worksheets/{worksheetId}/editions/{number}': { answers: only({ lead: 200 }) },
  'GET /api/worksheets/find': { query: 'words=tide', answers: only(anyTeacherGets(200)) },
  'POST /api/worksheets/pin': { body: () => ({ ids: [], pinned: true }), answers: only(anyTeacherGets(204)) },
  'POST /api/worksheets/move': { body: () => ({ ids: [], folderId: null }), answers: only(anyTeacherGets(200)) },
  'POST /api/worksheets/archive': { body: () => ({ ids: [], archived: true }), answers: only(anyTeacherGets(200)) },
  'POST /api/worksheets/rename': { body: () => ({ titles: [] }), answers: only(anyTeacherGets(204)) },
  'GET /api/worksheets/{worksheetId}/shares': { answers: only({ lead: 200 }) },
  'PUT /api/worksheets/{worksheetId}/shares': {
    body: () => ({ schoolMay: 'none', people: [] }),
    answers: only({ lead: 204 }),
  },
  'GET /api/worksheets/{worksheetId}/first-page': { answers: only({ lead: 200 }) },
  'GET /api/worksheets/{worksheetId}/handouts': { answers: only({ lead: 200 }) },
  'POST /api/worksheets/{worksheetId}/duplicate': { answers: only({ lead: 201 }) },
  // Nothing is sent, which is no picture.
  'POST /api/worksheets/{worksheetId}/media': { answers: only({ lead: 422 }) },
  'GET /api/worksheets/{worksheetId}/media/{mediumId}': { to: noMedium, answers: only({}) },
  'POST /api/worksheets/{worksheetId}/out/{format}': {
    to: () => ({ format: 'html' }),
    body: () => ({ edition: null, key: false }),
    answers: only({ lead: 200 }),
  },
  'GET /api/folders': { answers: only(anyTeacherGets(200)) },
  'POST /api/folders': { body: () => ({ name: ' ' }), answers: only(anyTeacherGets(422)) },
  'PUT /api/folders/{folderId}': {
    to: () => ({ folderId: randomUUID() }),
    body: () => ({ name: 'F' }),
    answers: only({}),
  },
  'DELETE /api/folders/{folderId}': { to: () => ({ folderId: randomUUID() }), answers: only({}) },
  // Nothing is sent, which is no document.
  'POST /api/bring-in': { query: 'name=x.docx', answers: only(anyTeacherGets(422)) },
  'GET /api/bring-in': { answers: only(anyTeacherGets(200)) },
  'GET /api/bring-in/{bringInId}': { answers: only({ lead: 200 }) },
  'GET /api/bring-in/{bringInId}/file': { answers: only({ lead: 200 }) },
  'POST /api/bring-in/{bringInId}/read': { answers: only({ lead: 200 }) },
  'POST /api/bring-in/{bringInId}/media': { answers: only({ lead: 422 }) },
  'GET /api/bring-in/{bringInId}/media/{mediumId}': { to: noMedium, answers: only({}) },
  'GET /api/bring-in/{bringInId}/work': { answers: only({ lead: 200 }) },
  'PUT /api/bring-in/{bringInId}/work': {
    body: () => ({ version: 0, work: { pages: [] } }),
    answers: only({ lead: 200 }),
  },
  'POST /api/bring-in/{bringInId}/photos': { answers: only({ lead: 422 }) },
  'GET /api/bring-in/{bringInId}/photos/{pictureId}': { to: () => ({ pictureId: randomUUID() }), answers: only({}) },
  'POST /api/bring-in/{bringInId}/finish': {
    body: () => ({ title: 'T', content: { version: 9 }, folderId: null }),
    // What is no worksheet is said before it is asked whose file it is: it tells nothing of the file.
    answers: { ...everybody(422), nobody: 401 },
  },
  'DELETE /api/bring-in/{bringInId}': { to: () => ({ bringInId: randomUUID() }), answers: only({}) },
  'GET /api/copies/{copyId}/access': { answers: only({ ...staff(200), holder: 200, guest: 404 }) },
  'POST /api/copies/{copyId}/out/{format}': {
    to: () => ({ format: 'odt' }),
    answers: only({ ...staff(200), holder: 200, guest: 404 }),
  },
  'POST /api/copies/{copyId}/documents': {
    query: 'name=x.txt',
    // An empty file; staff do not write in copies.
    answers: only({ ...staff(403), holder: 422, guest: 404 }),
  },
  'PUT /api/copies/{copyId}/documents/{fileId}': {
    to: () => ({ fileId: randomUUID() }),
    body: () => ({ isAnswer: true }),
    answers: only({ ...staff(403), holder: 404, guest: 404 }),
  },
  'PUT /api/copies/{copyId}/reading': {
    body: () => ({ done: true }),
    answers: only({ ...staff(403), holder: 403, guest: 404 }),
  },
  'POST /api/copies/{copyId}/own': { answers: only({ ...staff(403), holder: 403, guest: 404 }) },
  'POST /api/desk/questions/answer': {
    body: ({ copyId }) => ({ text: 'Yes.', to: [{ copyId, threadId: randomUUID(), commentId: randomUUID() }] }),
    // Whoever may not is told so for each question.
    answers: signedIn(200),
  },
  'GET /api/copies/{copyId}/hint': { answers: only({}) },
  'POST /api/handouts/{handoutId}/walk-ins/{itemId}/clear': {
    to: () => ({ itemId: 'nothing' }),
    body: () => ({ all: false }),
    answers: changing(200),
  },
  'GET /api/office/sign-in-trouble': { answers: only({ office: 200 }) },
  'GET /api/copies/{copyId}/media/{mediumId}': { to: noMedium, answers: only({}) },
  'POST /api/copies/{copyId}/files': {
    query: 'space=line&name=x.png',
    // The worksheet has no place for files; staff do not write in copies at all.
    answers: only({ lead: 403, 'co-teacher': 403, helper: 403, 'named helper': 403 }),
  },
  'GET /api/copies/{copyId}/files/{fileId}': { to: () => ({ fileId: randomUUID() }), answers: only({}) },
  'GET /api/classes/{classId}/handouts': { answers: only(staff(200)) },
  'POST /api/classes/{classId}/handouts': {
    // The worksheet is the lead's: a co-teacher may hand out, but not what is not theirs.
    body: ({ classId, worksheetId }) => ({ title: 'H', statement: statementFor(classId, worksheetId) }),
    answers: only({ lead: 201, 'co-teacher': 422, helper: 403, 'named helper': 403 }),
  },
  'GET /api/classes/{classId}/handouts/beginning': { answers: changing(200) },
  'GET /api/classes/{classId}/handouts/facts': { answers: changing(200) },
  'GET /api/classes/{classId}/shelf': { answers: only({ ...staff(200), holder: 200, classmate: 200 }) },
  'PUT /api/classes/{classId}/shelf': { body: () => ({ items: [], version: 99 }), answers: changing(409) },
  'GET /api/handouts/{handoutId}': { answers: only({ ...staff(200), 'named helper': 403 }) },
  'PUT /api/handouts/{handoutId}': {
    body: () => ({ title: 'H', statement: { items: [] }, version: 99 }),
    answers: changing(409),
  },
  'DELETE /api/handouts/{handoutId}': { answers: changing(409) },
  'POST /api/handouts/{handoutId}/hand-out': {
    body: () => ({ version: 99, fingerprint: 'x' }),
    answers: changing(409),
  },
  'POST /api/handouts/{handoutId}/hand-out/retry': { body: () => ({}), answers: changing(202) },
  'POST /api/handouts/{handoutId}/take-back': {
    body: () => ({ slotKeys: ['first:each:nobody'], back: false }),
    answers: changing(409),
  },
  'POST /api/handouts/{handoutId}/repeat': {
    body: ({ classId }) => ({ classId }),
    answers: only({ ...teachers(201), helper: 403, 'named helper': 403 }),
  },
  'GET /api/handouts/{handoutId}/mine': {
    answers: only({ ...staff(200), holder: 200, classmate: 200, left: 200, guest: 200 }),
  },
  'GET /api/handouts/{handoutId}/walk-ins': { answers: changing(200) },
  'GET /api/handouts/{handoutId}/guests': { answers: changing(200) },
  'POST /api/handouts/{handoutId}/walk-ins/{itemId}/guests/{guestId}/match': {
    to: () => ({ itemId: 'first', guestId: randomUUID() }),
    body: () => ({ studentId: randomUUID(), beside: false }),
    answers: changing(404),
  },
  'DELETE /api/handouts/{handoutId}/walk-ins/{itemId}/guests/{guestId}/match': {
    to: () => ({ itemId: 'first', guestId: randomUUID() }),
    answers: changing(404),
  },
  'PUT /api/handouts/{handoutId}/walk-ins/{itemId}': {
    to: () => ({ itemId: 'no-such-item' }),
    body: () => ({ permission: 'view', open: true, endsAt: null }),
    answers: changing(409),
  },
  'GET /api/walk-in/{code}': { to: () => ({ code: 'QQQQQQ' }), answers: everybody(404) },
  'POST /api/walk-in/{code}': { to: () => ({ code: 'QQQQQQ' }), body: () => ({ name: 'N' }), answers: everybody(404) },
  'GET /api/desk/needs': { answers: signedIn(200) },
  'GET /api/recipes': { answers: only(anyTeacherGets(200)) },
  'POST /api/recipes': { body: () => ({ name: ' ', statement: { items: [] } }), answers: only(anyTeacherGets(422)) },
  'DELETE /api/recipes/{recipeId}': { to: () => ({ recipeId: randomUUID() }), answers: signedIn(404) },
  'GET /api/handouts/{handoutId}/hand-out': { answers: only(staff(200)) },
  'GET /api/handouts/{handoutId}/differences': { answers: changing(200) },
  'POST /api/handouts/{handoutId}/give': { body: () => ({ personIds: [] }), answers: changing(409) },
  'POST /api/handouts/{handoutId}/submitted': {
    body: () => ({ copyIds: [], submitted: true }),
    answers: changing(200),
  },
  'POST /api/handouts/{handoutId}/comments': {
    body: ({ copyId }) => ({ text: 'Good.', of: [{ copyId, threadId: randomUUID(), commentId: randomUUID() }] }),
    // Of which copies it was not said is told: of all, to who may not.
    answers: signedIn(200),
  },
  'POST /api/handouts/{handoutId}/comments/take-back': {
    body: ({ copyId }) => ({ of: [{ copyId, threadId: randomUUID(), commentId: randomUUID() }] }),
    answers: signedIn(200),
  },
  'POST /api/handouts/{handoutId}/single': { body: () => ({ copyIds: [], newest: true }), answers: changing(409) },
  'POST /api/handouts/{handoutId}/single/proof': {
    body: () => ({ copyIds: [], newest: true }),
    answers: changing(409),
  },
  'POST /api/handouts/{handoutId}/due': { body: () => ({ copyIds: [], dueAt: 1 }), answers: changing(409) },
  'GET /api/handouts/{handoutId}/answers/{worksheetId}/{space}': {
    to: () => ({ space: 'line' }),
    answers: only(staff(200)),
  },
  'POST /api/handouts/{handoutId}/answers/{worksheetId}/{space}/accepted/proof': {
    to: () => ({ space: 'line' }),
    body: () => ({ texts: [] }),
    answers: changing(200),
  },
  'PUT /api/handouts/{handoutId}/answers/{worksheetId}/{space}/accepted': {
    to: () => ({ space: 'line' }),
    body: () => ({ texts: [], was: ['x'] }),
    answers: changing(409),
  },
  'POST /api/handouts/{handoutId}/board/out/{format}': { body: () => ({}), answers: only(staff(200)) },
  'GET /api/handouts/{handoutId}/over-time': { answers: only(staff(200)) },
  'PUT /api/handouts/{handoutId}/looked/{copyId}': { answers: only(staff(204)) },
  'POST /api/handouts/{handoutId}/reminders/proof': {
    body: () => ({ copyIds: [], words: '' }),
    answers: changing(200),
  },
  'POST /api/handouts/{handoutId}/reminders': { body: () => ({ copyIds: [], words: '' }), answers: changing(409) },
  'GET /api/handouts/{handoutId}/pens': { answers: changing(200) },
  'POST /api/handouts/{handoutId}/pens': {
    body: () => ({ copyIds: [], act: 'down' }),
    answers: changing(200),
  },
  'POST /api/handouts/{handoutId}/pens/{actId}/undo': {
    to: () => ({ actId: randomUUID() }),
    answers: changing(404),
  },
  'GET /api/classes/{classId}/extra-time': { answers: changing(200) },
  'PUT /api/classes/{classId}/extra-time': { body: () => ({ extraTime: [] }), answers: changing(200) },
  'GET /api/handouts/{handoutId}/board': { answers: only(staff(200)) },
  'GET /api/copies': { answers: signedIn(200) },
  'GET /api/copies/reading': { answers: signedIn(200) },
  'GET /api/copies/{copyId}': { answers: only({ ...staff(200), holder: 200 }) },
  // Nobody lets others into this copy: its holder is told so, and who else sees it that they do not hold it.
  'GET /api/copies/{copyId}/invited': { answers: only({ ...staff(403), holder: 403 }) },
  'PUT /api/copies/{copyId}/invited/{personId}': {
    body: () => ({ may: 'view' }),
    answers: only({ ...staff(403), holder: 403 }),
  },
  'GET /api/copies/{copyId}/comments': { answers: only({ ...staff(200), holder: 200 }) },
  'POST /api/copies/{copyId}/comments/seen': { answers: only({ ...staff(204), holder: 204 }) },
  'PUT /api/copies/{copyId}/comments/{commentId}': {
    to: () => ({ commentId: randomUUID() }),
    body: () => ({
      text: 'Who is that?',
      threadId: randomUUID(),
      begins: { kind: 'comment', staffOnly: false, anchor: { is: 'copy' } },
    }),
    answers: only({ ...staff(200), holder: 200 }),
  },
  // A comment that is not there.
  'POST /api/copies/{copyId}/comments/{commentId}/delete': {
    to: () => ({ commentId: randomUUID() }),
    answers: only({}),
  },
  'POST /api/copies/{copyId}/comments/{commentId}/bring-back': {
    to: () => ({ commentId: randomUUID() }),
    answers: only({}),
  },
  'PUT /api/copies/{copyId}/threads/{threadId}': {
    to: () => ({ threadId: randomUUID() }),
    body: () => ({ done: true }),
    answers: only({}),
  },
  'GET /api/desk/questions': { answers: signedIn(200) },
  'GET /api/desk/mentions': { answers: signedIn(200) },
  'GET /api/copies/late-writing': { answers: signedIn(200) },
  'GET /api/copies/{copyId}/late-writing': { answers: only({ ...staff(200), holder: 200 }) },
  // Nothing came late.
  'POST /api/copies/{copyId}/late-writing': {
    body: () => ({ id: `line ${randomUUID()}`, seen: { answer: 0, late: 1 }, parts: null }),
    answers: only({ ...staff(403), ...teachers(404), holder: 403 }),
  },
  'GET /api/copies/{copyId}/history': { answers: only({ ...staff(200), holder: 200 }) },
  'GET /api/copies/{copyId}/history/log': {
    query: 'space=&seq=0',
    answers: only({ ...staff(200), holder: 200 }),
  },
  'POST /api/copies/{copyId}/history/bring-back': {
    body: () => ({ answers: [{ space: 'line', count: 0 }] }),
    answers: only({ ...staff(403), ...teachers(200), holder: 403 }),
  },
  // Not submitted yet: the holder is told, in 403; so are those who see it but do not hold it.
  'POST /api/copies/{copyId}/last-good': {
    answers: only({ ...teachers(409), helper: 403, 'named helper': 403, holder: 403 }),
  },
  'POST /api/copies/{copyId}/take-back': { answers: only({ ...staff(403), holder: 403 }) },
  'POST /api/copies/{copyId}/submit': { answers: only({ ...staff(403), holder: 200 }) },
  'GET /api/handouts/{handoutId}/undo': { answers: changing(200) },
  // Something else than what was seen.
  'POST /api/handouts/{handoutId}/undo': { body: () => ({ fingerprint: 'x' }), answers: changing(409) },
  // Last, for it signs everybody out.
  'DELETE /api/session': { answers: everybody(204) },
}

let school: TestSchool
let given: TestClass
let handout: TestHandout
let people: Record<Exclude<Role, 'nobody'>, TestPerson>
let ids: Ids
let columnId: string

beforeAll(async () => {
  school = await TestSchool.open()
  given = await school.classOf(3)
  handout = await school.handedOut(given)
  await given.teacher.http
    .post(`/api/classes/${given.id}/columns`)
    .send({ name: 'Reading band', kind: 'text' })
    .expect(201)
    .then(({ body }) => (columnId = (body as { id: string }).id))
  const set = await given.teacher.http
    .post(`/api/classes/${given.id}/group-sets`)
    .send({ name: 'Survey crews', balanceColumn: null })
    .expect(201)
  const brought = await given.teacher.http
    .post('/api/bring-in?name=a.txt')
    .set('Content-Type', 'application/octet-stream')
    .send(Buffer.from('Tides'))
    .expect(201)
  const page = await given.teacher.http.get(`/api/classes/${given.id}/join`).expect(200)
  await given.teacher.http
    .put(`/api/classes/${given.id}/join`)
    .send({ open: true, opensAt: null, closesAt: null })
    .expect(204)
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
  await given.teacher.http
    .post(`/api/classes/${given.id}/roster/leave`)
    .send({ personIds: [left.viewer.personId] })
    .expect(200, { left: 1 })
  const walkIn = await given.teacher.http
    .put(`/api/handouts/${handout.id}/walk-ins/first`)
    .send({ permission: 'edit', open: true, endsAt: null })
    .expect(200)
  const guest = request.agent(school.url)
  const entered = await guest
    .post(`/api/walk-in/${(walkIn.body as { code: string }[])[0]!.code}`)
    .send({ name: 'Mika' })
  const cookie = sessionCookie(entered.headers)
  const { person } = (await guest.get('/api/session').expect(200)).body as { person: { id: string } }
  people = {
    guest: {
      viewer: { schoolId: school.schoolId, personId: person.id, role: 'guest' },
      email: '',
      cookie,
      http: guest,
    },
    holder,
    classmate,
    left,
    helper: await add('Helper', 'helper'),
    'named helper': await add('Named', 'named helper'),
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
    setId: (set.body as { id: string }).id,
    columnId,
    code: (page.body as { code: string }).code,
    format: 'csv',
    bringInId: (brought.body as { id: string }).id,
  }
  await school.source.query(
    'INSERT INTO helped_student (school_id, class_id, helper_id, student_id) VALUES ($1, $2, $3, $4)',
    [school.schoolId, given.id, people['named helper'].viewer.personId, holder.viewer.personId],
  )
})
afterAll(() => school.close())

test('every route of the API is in the table', async () => {
  const { body } = await request(school.url).get('/api/openapi.json').expect(200)
  const routes = Object.entries((body as { paths: Record<string, object> }).paths).flatMap(([path, methods]) =>
    Object.keys(methods).map((method) => `${method.toUpperCase()} ${path}`),
  )
  expect(Object.keys(TABLE).toSorted()).toEqual(routes.toSorted())
})

test.each(Object.entries(TABLE))('%s', async (route, { to, query, body, answers }) => {
  const [method, pattern] = route.split(' ') as [string, string]
  const found: Partial<Record<Role, number>> = {}
  // The strangers first: what they try must not change what the others are told.
  const order = ROLES.toSorted((a, b) => Number(a === 'holder') - Number(b === 'holder'))
  for (const role of order) {
    const values: Record<string, string> = { ...ids, number: '1', ...to?.(ids) }
    const path = pattern.replace(/\{(\w+)\}/g, (_, name: string) => values[name] ?? '')
    const client = role === 'nobody' ? request(school.url) : people[role].http
    const call = client[method.toLowerCase() as 'get'](query ? `${path}?${query}` : path)
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

/** What somebody is shown or may do over the live connection, message by message. */
interface Live {
  readonly open: 'ready' | 'closed'
  readonly writes: 'saved' | 'refused' | 'nothing'
  readonly watch: boolean
  readonly 'watch class': boolean
  readonly 'watch worksheet': boolean
}
const NOTHING_LIVE: Live = {
  open: 'closed',
  writes: 'nothing',
  watch: false,
  'watch class': false,
  'watch worksheet': false,
}
const STAFF_LIVE: Live = { ...NOTHING_LIVE, open: 'ready', writes: 'refused', watch: true, 'watch class': true }
/** Every message that a browser sends; `close`, `unwatch` and the like only end what these begin. */
const LIVE_TABLE: Record<Exclude<Role, 'nobody'>, Live> = {
  guest: NOTHING_LIVE,
  holder: { ...NOTHING_LIVE, open: 'ready', writes: 'saved' },
  classmate: NOTHING_LIVE,
  left: NOTHING_LIVE,
  helper: STAFF_LIVE,
  'named helper': STAFF_LIVE,
  'co-teacher': STAFF_LIVE,
  lead: { ...STAFF_LIVE, 'watch worksheet': true },
  'other teacher': NOTHING_LIVE,
  office: NOTHING_LIVE,
  'other school': NOTHING_LIVE,
}

test.each(Object.entries(LIVE_TABLE))('the live connection, message by message: %s', async (role, allowed) => {
  await school.source.query(
    'UPDATE copy SET set_aside = false, submitted_at = NULL, state = $2 WHERE handout_id = $1',
    [handout.id, 'working'],
  )
  const person = people[role as Exclude<Role, 'nobody'>]
  // Signed in anew: routes before this may have ended a session.
  const again = person.email ? await school.signInByEmail(person.email) : await school.person('guest', 'Walker')
  const lead = await school.signInByEmail(given.teacher.email)
  const watcher = await LiveClient.connect(school.url, lead.cookie)
  watcher.send({ type: 'watch class', classId: ids.classId })
  await watcher.ping()
  const client = await LiveClient.connect(school.url, again.cookie)
  client.send({ type: 'watch', handoutId: handout.id })
  client.send({ type: 'watch class', classId: ids.classId })
  client.send({ type: 'watch worksheet', worksheetId: ids.worksheetId, block: null, at: null })
  const opened = await client.openCopy(ids.copyId)
  const number = client.type(`${role} `)
  const answer = () =>
    client.messages.find(
      (message) => (message.type === 'saved' || message.type === 'refused') && message.number === number,
    )
  await client.ping()
  // The class changes: whoever watches it is told, and the board is sent the copy.
  await lead.http.post(`/api/classes/${ids.classId}/roster`).send({ rows: [] }).expect(200)
  if (allowed.open === 'ready') await client.until(() => answer() !== undefined)
  // Everybody who watches is told in one go.
  await watcher.until(() => watcher.messages.some(({ type }) => type === 'class changed'))
  await client.ping()
  const has = (type: string) => client.messages.some((message) => message.type === type)
  expect({
    open: opened.type,
    writes: answer()?.type ?? 'nothing',
    watch: has('rows'),
    'watch class': has('class changed'),
    'watch worksheet': has('worksheet writers'),
  }).toEqual(allowed)
  client.close()
  watcher.close()
})
