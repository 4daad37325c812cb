import { type HandoutItem, plainItem, withWay } from '@gavrin/core'
import { afterAll, beforeAll, expect, test } from '@jest/globals'
import { copiesIn } from './support/copies.js'
import { type TestPerson, TestSchool, changesNow, statementFor } from './support/school.js'

let school: TestSchool
beforeAll(async () => {
  school = await TestSchool.open()
})
afterAll(() => school.close())
const { given, there, write, rowsOf, walksIn } = copiesIn(() => school)

/** Something to read, given to a class of two. */
async function begin(more: Partial<HandoutItem>) {
  const of = await school.classOf(2)
  const { id: worksheetId } = await school.worksheet(of.teacher)
  const dueAt = Date.now() + 86_400_000
  const statement = statementFor(
    of.id,
    worksheetId,
    null,
    {},
    {
      items: [{ ...withWay(plainItem('first', worksheetId, 1), 'to read', []), ...more }],
      classes: [{ classId: of.id, opensAt: null, dueAt }],
    },
  )
  const handoutId = await given(of, statement)
  const [original] = await there(handoutId)
  const student = await school.signInByEmail(of.emails[0]!)
  return { of, handoutId, original: original!.id, student, dueAt, statement }
}
const make = (person: TestPerson, copyId: string) => person.http.post(`/api/copies/${copyId}/own`)

test('a copy of one’s own is made of something to read: once, in the plan, written in and submitted as any other', async () => {
  const { of, handoutId, original, student, dueAt } = await begin({ ownCopies: true })
  expect((await student.http.get(`/api/copies/${original}`)).body).toMatchObject({ mayMakeOwn: true })
  const answers = await Promise.all([1, 2, 3].map(() => make(student, original).expect(200)))
  const ids = new Set(answers.map(({ body }) => (body as { copyId: string }).copyId))
  expect(ids.size).toBe(1)
  const [copyId] = [...ids]
  expect((await make(student, original).expect(200)).body).toEqual({ copyId })
  await write(student, copyId!, 'line', 'In my own words')
  await student.http.post(`/api/copies/${copyId}/submit`).expect(({ status }) => expect(status).toBeLessThan(300))
  // The teacher finds it under the same handout; nothing of it is undone by handing out again.
  const { rows } = (await of.teacher.http.get(`/api/handouts/${handoutId}/board`).expect(200)).body as {
    rows: { copyId: string; way: string; state: string; dueAt: number }[]
  }
  expect(rows.find((row) => row.copyId === copyId)).toMatchObject({ way: 'one each', state: 'submitted', dueAt })
  expect(await changesNow(of.teacher, handoutId)).toEqual([])
  // A classmate has none of it.
  const mate = await school.signInByEmail(of.emails[1]!)
  await mate.http.get(`/api/copies/${copyId}`).expect(404)
  // Taken back by hand, it is not made again.
  await of.teacher.http
    .post(`/api/handouts/${handoutId}/take-back`)
    .send({ slotKeys: [`first:own:${student.viewer.personId}`], back: false })
    .expect(202)
  while ((await rowsOf(handoutId)).every(({ set_aside }) => !set_aside));
  expect((await make(student, original).expect(409)).body).toMatchObject({ code: 'taken-back' })
})

test('is made where the slip allows it, by who was given it; what was made stays when it is no longer allowed', async () => {
  const { of, handoutId, original, student, statement } = await begin({})
  expect((await make(student, original).expect(403)).body).toMatchObject({ code: 'no-own-copies' })
  await make(of.teacher, original).expect(403)
  const allow = (ownCopies: boolean) =>
    school.mend(of.teacher, handoutId, { ...statement, items: [{ ...statement.items[0]!, ownCopies }] })
  await allow(true)
  const { copyId } = (await make(student, original).expect(200)).body as { copyId: string }
  const guest = await walksIn(of, handoutId, 'Mika', 'view')
  await make(guest, original).expect(403)
  await allow(false)
  expect((await there(handoutId)).map(({ id }) => id)).toContain(copyId)
  expect(await changesNow(of.teacher, handoutId)).toEqual([])
})
