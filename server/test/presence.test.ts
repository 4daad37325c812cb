import { type PersonHere, type ServerMessage, lettersOf, positionAt } from '@gavrin/core'
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { copiesIn } from './support/copies.js'
import { LiveClient } from './support/liveClient.js'
import { type TestClass, type TestPerson, TestSchool } from './support/school.js'

let school: TestSchool
let given: TestClass
let students: TestPerson[]
const clients: LiveClient[] = []

beforeAll(async () => {
  school = await TestSchool.open()
  given = await school.classOf(3)
  students = await Promise.all(given.emails.map((email) => school.signInByEmail(email)))
})
afterAll(async () => {
  for (const client of clients) client.close()
  await school.close()
})

async function open(who: TestPerson, copyId: string): Promise<LiveClient> {
  const client = await LiveClient.open(school.url, who.cookie, copyId)
  clients.push(client)
  return client
}

const { shared, walksIn } = copiesIn(() => school)

const isPeople = (message: ServerMessage): message is Extract<ServerMessage, { type: 'people' }> =>
  message.type === 'people'
const peopleOf = (client: LiveClient): readonly PersonHere[] => client.messages.filter(isPeople).at(-1)?.people ?? []
const sees = (client: LiveClient, is: (people: readonly PersonHere[]) => boolean) =>
  client.until(() => is(peopleOf(client)))
const here = (client: LiveClient, space: string | null, more: { at?: string | null; away?: boolean } = {}) =>
  client.send({ type: 'here', channel: 1, space, at: null, away: false, ...more })
const namesOf = (people: readonly PersonHere[]) => people.map(({ first }) => first)

describe('who has a copy open', () => {
  test('is told to all who have, as they come and go; who is alone is told nothing', async () => {
    const { copyId } = await shared(given)
    const one = await open(students[0]!, copyId)
    await one.ping()
    expect(one.messages.some(isPeople)).toBe(false)
    const other = await open(students[1]!, copyId)
    for (const client of [one, other]) await sees(client, (people) => people.length === 2)
    expect(namesOf(peopleOf(one))).toEqual(['First0', 'First1'])
    expect(peopleOf(one).map(({ isSelf }) => isSelf)).toEqual([true, false])
    expect(peopleOf(other).map(({ isSelf }) => isSelf)).toEqual([false, true])
    // The same numbers for all, so that the colours are.
    expect(peopleOf(one).map(({ key }) => key)).toEqual(peopleOf(other).map(({ key }) => key))
    const teacher = await open(given.teacher, copyId)
    await sees(one, (people) => people.some(({ isStaff, name }) => isStaff && name === 'Lead Tester'))
    teacher.close()
    other.send({ type: 'close', channel: 1 })
    await sees(one, (people) => people.length === 1)
  })

  test('is where they write, by a place that moves with the letters, and nowhere when they look away', async () => {
    const { copyId } = await shared(given)
    const [one, other] = [await open(students[0]!, copyId), await open(students[1]!, copyId)]
    await sees(one, (people) => people.length === 2)
    await other.saved(other.type('The tide'))
    const at = positionAt(lettersOf('line', other.doc('line')), 8, 'before')!
    here(other, 'line', { at })
    await sees(one, (people) => people.some(({ space }) => space === 'line'))
    expect(peopleOf(one)[1]).toMatchObject({ space: 'line', at, isAway: false })
    here(other, 'line', { at, away: true })
    await sees(one, (people) => people.some(({ isAway }) => isAway))
    expect(peopleOf(one)[1]).toMatchObject({ space: null, at: null })
  })

  test('is once there, also with two windows', async () => {
    const { copyId } = await shared(given)
    const [one, other] = [await open(students[0]!, copyId), await open(students[1]!, copyId)]
    const second = await open(students[1]!, copyId)
    here(second, 'passage')
    await sees(one, (people) => people.length === 2 && people[1]!.space === 'passage')
    second.close()
    await sees(one, (people) => people.length === 2 && people[1]!.space === null)
    other.close()
    await sees(one, (people) => people.length === 1)
  })

  test('is not where they cannot write, whatever a page says', async () => {
    const { copyId } = await shared(given, {}, [
      {
        id: 'part',
        kind: 'section',
        title: 'Your story',
        whose: { is: 'each member' },
        blocks: [{ id: 'story', kind: 'line', width: 'full' }],
      },
      { id: 'line', kind: 'line', width: 'full' },
    ])
    const [one, other, teacher] = [
      await open(students[0]!, copyId),
      await open(students[1]!, copyId),
      await open(given.teacher, copyId),
    ]
    const { body } = await students[0]!.http.get(`/api/copies/${copyId}`).expect(200)
    const mates = (body as { others: string[] }).others
    expect(mates.length).toBeGreaterThan(0)
    here(one, mates[0]!, { at: 'AAAA' })
    here(teacher, 'line', { at: 'AAAA' })
    here(other, 'nowhere-at-all')
    // What comes after it is told, and of these nothing.
    here(other, 'line')
    await sees(other, (people) => people.some(({ space }) => space === 'line'))
    expect(peopleOf(other).filter(({ space }) => space !== null)).toMatchObject([{ first: 'First1', space: 'line' }])
  })

  test('is nobody’s to say in another name, nor in a form or a size of one’s own', async () => {
    const { copyId } = await shared(given)
    const [one, other] = [await open(students[0]!, copyId), await open(students[1]!, copyId)]
    await sees(one, (people) => people.length === 2)
    for (const forged of [
      { type: 'here', channel: 1, space: 'line', at: null, away: false, name: 'Lead Tester', personId: 'x', key: 0 },
      { type: 'here', channel: 1, space: { a: 1 }, at: null, away: false },
      { type: 'here', channel: 1, space: 'line', at: 'A'.repeat(3_000), away: false },
      { type: 'here', channel: 7, space: 'line', at: null, away: false },
    ])
      other.send(forged as never)
    await sees(one, (people) => people.some(({ space }) => space === 'line'))
    expect(peopleOf(one)).toMatchObject([{ first: 'First0' }, { first: 'First1', at: null }])
    expect(other.messages.filter(({ type }) => type === 'trouble')).toHaveLength(1)
  })

  test('and floods are told as one: nobody is sent each of a thousand moves', async () => {
    const { copyId } = await shared(given)
    const [one, other] = [await open(students[0]!, copyId), await open(students[1]!, copyId)]
    await sees(one, (people) => people.length === 2)
    const before = one.messages.filter(isPeople).length
    for (let count = 0; count < 500; count++) here(other, count % 2 ? 'line' : 'passage')
    here(other, 'number')
    await sees(one, (people) => people.some(({ space }) => space === 'number'))
    expect(one.messages.filter(isPeople).length - before).toBeLessThan(250)
  })
})

test('who has lost the copy is not shown any more, and is told of nobody', async () => {
  const { copyId } = await shared(given)
  const [one, other] = [await open(students[0]!, copyId), await open(students[2]!, copyId)]
  await sees(one, (people) => people.length === 2)
  await given.teacher.http
    .post(`/api/classes/${given.id}/roster/leave`)
    .send({ personIds: [students[2]!.viewer.personId] })
    .expect(200)
  await other.message(({ type }) => type === 'permission' || type === 'closed')
  // Their own work they may still read; what they may not write in they are not at.
  here(other, 'line')
  here(one, 'passage')
  await sees(one, (people) => people.some(({ space }) => space === 'passage'))
  expect(peopleOf(one).some(({ space, isSelf }) => space !== null && !isSelf)).toBe(false)
})

test('a guest is told that somebody is here, not who of the class it is', async () => {
  const { copyId, handoutId } = await shared(given)
  const guest = await walksIn(given, handoutId, 'Mika', 'edit')
  const mika = await open(guest, copyId)
  const one = await open(students[0]!, copyId)
  await sees(mika, (people) => people.length === 2)
  expect(peopleOf(mika).map(({ name }) => name)).toEqual(['Mika', 'Somebody'])
  await sees(one, (people) => people.length === 2)
  expect(peopleOf(one).map(({ first, name }) => first || name)).toEqual(['Mika', 'First0'])
})
