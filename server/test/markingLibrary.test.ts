import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { randomUUID } from 'node:crypto'
import type { Answers } from '../../web/src/contract.js'
import { LINE, QUESTION } from './support/copies.js'
import { RUBRIC, markingIn, remark } from './support/marked.js'
import { TestSchool } from './support/school.js'

// What is kept to be used again in marking: rubrics, scales, stock remarks; and what another way of marking does to marks.

let school: TestSchool
beforeAll(async () => {
  school = await TestSchool.open({ demo: true })
})
afterAll(() => school.close())
const { handed, submit, markWhole, page } = markingIn(() => school)

type Rubrics = Answers['GET rubrics']
type Scales = Answers['GET classes/{classId}/scales']

describe('rubrics', () => {
  test('are one’s own, or shared with colleagues, who change nothing of them', async () => {
    const [ada, bo] = [await school.person('teacher', 'Ada'), await school.person('teacher', 'Bo')]
    const id = randomUUID()
    const name = `Walks ${id}`
    const keep = (person: typeof ada, more: object = {}) =>
      person.http.put(`/api/rubrics/${id}`).send({ name, rows: RUBRIC, shared: false, ...more })
    const list = async (person: typeof ada) => (await person.http.get('/api/rubrics').expect(200)).body as Rubrics
    await keep(ada).expect(204)
    expect(await list(ada)).toEqual([{ id, name, count: 1, shared: false, by: null }])
    expect((await list(bo)).some((one) => one.id === id)).toBe(false)
    await keep(bo).expect(404)
    await bo.http.get(`/api/rubrics/${id}`).expect(404)
    await keep(ada, { shared: true }).expect(204)
    expect(await list(bo)).toContainEqual({
      id,
      name,
      count: 1,
      shared: true,
      by: { first: 'Ada', last: 'Tester' },
    })
    expect((await bo.http.get(`/api/rubrics/${id}`).expect(200)).body).toEqual({ name, rows: RUBRIC, shared: true })
    await keep(bo, { name: 'Mine' }).expect(404)
    await bo.http.delete(`/api/rubrics/${id}`).expect(204)
    expect(await list(ada)).toHaveLength(1)
    await keep(ada, { name: ' ' }).expect(422)
    await ada.http.delete(`/api/rubrics/${id}`).expect(204)
    expect(await list(ada)).toEqual([])
  })

  test('are written out as a table', async () => {
    const ada = await school.person('teacher', 'Ada')
    const { text, headers } = await ada.http
      .post('/api/rubrics/out/csv')
      .send({ name: 'Walks', rows: RUBRIC })
      .expect(200)
    expect(headers['content-disposition']).toContain('Walks.csv')
    expect(text).toContain('Reasons')
    expect(text).toContain('3: from the table to the boat')
  })
})

describe('scales', () => {
  const letters = { name: 'Letters', steps: ['A', 'B', 'C'], from: [80, 50, 0] }

  test('of the school are the office’s, and every class has them; of a class its own teachers’', async () => {
    const of = await school.classOf(1)
    const other = await school.classOf(1)
    const office = await school.person('office', 'Office')
    const [ours, theirs] = [randomUUID(), randomUUID()]
    const names = async (one: typeof of) =>
      ((await one.teacher.http.get(`/api/classes/${one.id}/scales`).expect(200)).body as Scales)
        .filter(({ id }) => id === ours || id === theirs)
        .map(({ name, classId }) => [name, classId])
    await office.http.put(`/api/office/scales/${ours}`).send(letters).expect(204)
    await of.teacher.http
      .put(`/api/classes/${of.id}/scales/${theirs}`)
      .send({ name: 'Heron words', steps: ['Flies', 'Nests'], from: null })
      .expect(204)
    expect(await names(of)).toEqual([
      ['Heron words', of.id],
      ['Letters', null],
    ])
    expect(await names(other)).toEqual([['Letters', null]])
    // A teacher does not change the school's scale, nor another class's.
    await of.teacher.http.put(`/api/office/scales/${ours}`).send(letters).expect(404)
    await of.teacher.http.put(`/api/classes/${of.id}/scales/${ours}`).send(letters).expect(404)
    await of.teacher.http.delete(`/api/classes/${of.id}/scales/${ours}`).expect(204)
    await other.teacher.http.put(`/api/classes/${of.id}/scales/${theirs}`).send(letters).expect(404)
    await office.http.put(`/api/office/scales/${theirs}`).send(letters).expect(404)
    expect(await names(other)).toEqual([['Letters', null]])
    const wrong = await office.http
      .put(`/api/office/scales/${ours}`)
      .send({ ...letters, from: [50, 80, 0] })
      .expect(422)
    expect(wrong.body).toMatchObject({ errors: [{ field: 'marking' }] })
    await office.http.delete(`/api/office/scales/${ours}`).expect(204)
    expect(await names(other)).toEqual([])
  })
})

test('what another way of marking does to marks is said before, and done by handing out', async () => {
  const copies = await handed(2)
  await submit(copies)
  await markWhole(copies)
  const asked = (wish: object) =>
    copies.of.teacher.http
      .post(`/api/handouts/${copies.id}/marks/proof`)
      .send({ rubric: [], lateDeduction: null, ...wish })
  const same = await asked({ marking: { kind: 'spaces' }, rubric: RUBRIC }).expect(200)
  expect(same.body).toEqual({ of: 1, moved: [] })
  const without = await asked({ marking: { kind: 'spaces' } }).expect(200)
  expect(without.body).toMatchObject({
    of: 1,
    moved: [
      {
        ...{ copyId: copies.copyIds[0], personId: null, uncounted: 1, isOpenAgain: false },
        before: { total: 850, most: 1000 },
        after: { total: 550, most: 700 },
      },
    ],
  })
  // Asking changes nothing.
  expect((await page(copies)).copies.find(({ isDone }) => isDone)).toMatchObject({ mark: { total: 850 } })
  await asked({ marking: { kind: 'stars' } }).expect(422)
})

test('what another edition and another due time do to marks is said before', async () => {
  const copies = await handed(2)
  await submit(copies)
  await markWhole(copies)
  const { teacher } = copies.of
  const { rows } = (await teacher.http.get(`/api/handouts/${copies.id}/board`).expect(200))
    .body as Answers['GET handouts/{handoutId}/board']
  const { slotKey, worksheetId } = rows.find(({ copyId }) => copyId === copies.copyIds[0])!
  await school.keepEdition(teacher, worksheetId, 'Tides', [
    QUESTION('q', 'When is high water?'),
    { ...LINE('line'), points: 4 },
    { id: 'passage', kind: 'passage', lines: 4, points: 5 },
  ])
  const asked = async (copy: object, more = {}) =>
    (
      await teacher.http
        .post(`/api/handouts/${copies.id}/marks/proof`)
        .send({ copies: [{ slotKey, ...copy }], ...more })
        .expect(200)
    ).body as { of: number; moved: object[] }
  expect(await asked({ worksheetId, edition: 1 })).toEqual({ of: 1, moved: [] })
  expect(await asked({ worksheetId, edition: 2 })).toMatchObject({
    of: 1,
    moved: [{ copyId: copies.copyIds[0], before: { most: 1000 }, after: { most: 1200 } }],
  })
  // Of what it never gave out, and of editions that are not, nothing is told.
  expect(await asked({ worksheetId, edition: 77 })).toEqual({ of: 1, moved: [] })
  expect(await asked({ worksheetId: randomUUID(), edition: 1 })).toEqual({ of: 1, moved: [] })
  const late = { marking: { kind: 'spaces' }, rubric: RUBRIC, lateDeduction: { perDay: 10, atLeast: 50 } }
  expect(await asked({ dueAt: Date.now() - 90_000_000 })).toEqual({ of: 1, moved: [] })
  expect((await asked({ dueAt: Date.now() - 90_000_000 }, late)).moved).toHaveLength(1)
  expect((await asked({ dueAt: null }, late)).moved).toEqual([])
})

test('stock remarks are one’s own, each called up by one word', async () => {
  const teacher = await school.person('teacher', 'Stock')
  const id = randomUUID()
  const keep = (remarkId: string, short: string, text = 'Say which force.') =>
    teacher.http.put(`/api/stock-remarks/${remarkId}`).send({ short, text })
  await keep(id, 'Force').expect(200)
  await keep(randomUUID(), 'force').expect(409)
  await keep(id, 'force', 'Say which one.').expect(200)
  expect((await teacher.http.get('/api/stock-remarks').expect(200)).body).toEqual([
    { id, short: 'force', text: 'Say which one.' },
  ])
  const other = await school.person('teacher', 'Other')
  expect((await other.http.get('/api/stock-remarks').expect(200)).body).toEqual([])
  await other.http.delete(`/api/stock-remarks/${id}`).expect(204)
  expect((await teacher.http.get('/api/stock-remarks')).body).toHaveLength(1)
  await teacher.http.delete(`/api/stock-remarks/${id}`).expect(204)
  expect((await teacher.http.get('/api/stock-remarks')).body).toEqual([])
})

test('a stock remark: its tokens are filled in, it says in how many copies it stands, and is put in other words there', async () => {
  const copies = await handed(2)
  const { teacher } = copies.of
  const [student] = [await submit(copies), await submit(copies, 1)]
  const [first, second] = copies.copyIds as [string, string]
  const id = randomUUID()
  const text = '{first name}, {points missing} points lack: say which.'
  const keep = (words: string, everywhere = false) =>
    teacher.http.put(`/api/stock-remarks/${id}`).send({ short: 'which', text: words, everywhere }).expect(200)
  await keep(text)
  await markWhole(copies)
  await remark(teacher, first, `So. ${text}`).expect(200)
  await remark(teacher, first, text, { is: 'space', space: 'line' }).expect(200)
  // Nothing is reached yet; a name is known.
  await remark(teacher, second, text).expect(200)
  await remark(teacher, second, 'Something else').expect(200)
  const said = async (copyId: string) => {
    const { body } = await teacher.http.get(`/api/copies/${copyId}/comments`).expect(200)
    return (body as { threads: { comments: { text: string }[] }[] }).threads.map(({ comments }) => comments[0]!.text)
  }
  const names = await Promise.all(
    copies.of.emails.map(async (email) => {
      const { viewer } = await school.signInByEmail(email)
      const [row] = await school.source.query<{ first: string }[]>(
        'SELECT first_name AS first FROM person WHERE id = $1',
        [viewer.personId],
      )
      return row!.first
    }),
  )
  expect(await said(first)).toEqual([
    `So. ${names[0]}, 1½ points lack: say which.`,
    `${names[0]}, ½ points lack: say which.`,
  ])
  expect(await said(second)).toEqual([`${names[1]}, – points lack: say which.`, 'Something else'])
  const uses = async (person = teacher) =>
    (await person.http.get('/api/stock-remarks/uses').expect(200)).body as { copies: number; handedBack: number }[]
  expect(await uses()).toEqual([{ id, copies: 2, handedBack: 0 }])
  // Another teacher's same words are their own.
  const other = await school.person('teacher', 'Other')
  await other.http.put(`/api/stock-remarks/${randomUUID()}`).send({ short: 'which', text }).expect(200)
  expect(await uses(other)).toMatchObject([{ copies: 0 }])

  expect((await keep('Say which, {first name}: {points missing} more.', true)).body).toEqual({ changed: 2, failed: 0 })
  expect(await said(first)).toEqual([`So. Say which, ${names[0]}: 1½ more.`, `Say which, ${names[0]}: ½ more.`])
  expect(await said(second)).toEqual([`Say which, ${names[1]}: – more.`, 'Something else'])
  // In new words without being wished everywhere it stays where it stands; and a student sees nothing of it.
  expect((await keep('Which one?')).body).toEqual({ changed: 0, failed: 0 })
  expect(await said(second)).toContain(`Say which, ${names[1]}: – more.`)
  expect(JSON.stringify((await student.http.get(`/api/copies/${first}/comments`)).body)).not.toContain('Say which')
})

test('where copies cannot be changed just then, a stock remark keeps its words and is found by them later', async () => {
  const copies = await handed(1)
  const { teacher } = copies.of
  const [copyId] = copies.copyIds as [string]
  const id = randomUUID()
  const keep = (text: string) =>
    teacher.http.put(`/api/stock-remarks/${id}`).send({ short: 'which', text, everywhere: true })
  let now = 'Say which: 0.'
  await keep(now).expect(200)
  await remark(teacher, copyId, now).expect(200)
  // As often as it may be at once.
  for (let time = 1; ; time++) {
    const next = `Say which: ${time}.`
    const { status } = await keep(next)
    if (status === 429) break
    now = next
  }
  const kept = (await teacher.http.get('/api/stock-remarks').expect(200)).body as object[]
  expect(kept).toEqual([{ id, short: 'which', text: now }])
  const { body } = await teacher.http.get(`/api/copies/${copyId}/comments`).expect(200)
  const { threads } = body as { threads: { comments: { text: string }[] }[] }
  expect(threads.map(({ comments }) => comments[0]!.text)).toEqual([now])
  expect((await teacher.http.get('/api/stock-remarks/uses').expect(200)).body).toMatchObject([{ copies: 1 }])
})
