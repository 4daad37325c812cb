import { afterAll, beforeAll, expect, test } from '@jest/globals'
import request from 'supertest'
import { type TestClass, type TestPerson, TestSchool } from './support/school.js'

let school: TestSchool
let given: TestClass
let student: TestPerson

beforeAll(async () => {
  school = await TestSchool.open()
  given = await school.classOf(2)
  student = await school.signInByEmail(given.emails[0]!)
})
afterAll(() => school.close())

const addressOf = async (person: TestPerson): Promise<string | null> =>
  ((await person.http.get('/api/account/calendar').expect(200)).body as { address: string | null }).address
const make = async (person: TestPerson): Promise<string> =>
  ((await person.http.post('/api/account/calendar').expect(200)).body as { address: string }).address
/** Read as a calendar does, who signs in nowhere. */
const read = (address: string) => request(school.url).get(new URL(address).pathname)
const linesOf = async (address: string): Promise<string[]> =>
  (await read(address).expect(200)).text.replaceAll('\r\n ', '').split('\r\n')

test('the due times of one’s copies are in a calendar under an address that one makes', async () => {
  const dueAt = Date.parse('2031-02-03T15:00:00Z')
  const handout = await school.handedOut(given, dueAt)
  expect(await addressOf(student)).toBeNull()
  const address = await make(student)
  expect(await addressOf(student)).toBe(address)
  const answer = await read(address).expect(200)
  expect(answer.headers['content-type']).toMatch(/^text\/calendar/)
  const lines = await linesOf(address)
  const copyId = handout.copies.get(given.emails[0]!)!
  expect(lines).toContain('DTSTART:20310203T150000Z')
  expect(lines).toContain(`UID:${copyId}@gavrin`)
  expect(lines).toContain('SUMMARY:Reading a tide table is due')
  expect(lines.find((line) => line.startsWith('URL'))).toContain(`/copies/${copyId}`)
  expect(lines.filter((line) => line === 'BEGIN:VEVENT')).toHaveLength(1)

  // One entry a handout for its teachers.
  const taught = await linesOf(await make(given.teacher))
  expect(taught.filter((line) => line === 'BEGIN:VEVENT')).toHaveLength(1)
  expect(taught.find((line) => line.startsWith('URL'))).toContain(`/handouts/${handout.id}`)
})

test('a new address shuts the old one out; none is left when it is taken away', async () => {
  const old = await make(student)
  const address = await make(student)
  await read(old).expect(404)
  await read(address).expect(200)
  await student.http.delete('/api/account/calendar').expect(204)
  await read(address).expect(404)
  expect(await addressOf(student)).toBeNull()
})

test('an address that nobody has tells nothing, and who tries many is slowed down', async () => {
  for (const file of ['x', `${'a'.repeat(43)}.ics`, `${'a'.repeat(43)}`, '..%2f..%2fsession'])
    await request(school.url).get(`/api/calendar/${file}`).expect(404)
  let last = 404
  for (let tries = 0; tries < 80 && last === 404; tries++)
    last = (await request(school.url).get(`/api/calendar/${'b'.repeat(43)}.ics`)).status
  expect(last).toBe(429)
})

test('who has left a class has no entry of it any more, and who is no longer of the school no calendar', async () => {
  const of = await school.classOf(1)
  await school.handedOut(of, Date.parse('2031-02-04T15:00:00Z'))
  const leaver = await school.signInByEmail(of.emails[0]!)
  const address = await make(leaver)
  const count = async () => (await linesOf(address)).filter((line) => line === 'BEGIN:VEVENT').length
  // The attempts of the test before were from this address too.
  await school.source.query('DELETE FROM stranger_attempt')
  expect(await count()).toBe(1)
  await school.source.query('UPDATE class_member SET left_at = now() WHERE person_id = $1', [leaver.viewer.personId])
  expect(await count()).toBe(0)
})
