import { afterAll, beforeAll, expect, test } from '@jest/globals'
import type { ServerMessage } from '@gavrin/core'
import { LiveClient } from './support/liveClient.js'
import { type TestPerson, TestSchool } from './support/school.js'

let school: TestSchool
let owner: TestPerson
let colleague: TestPerson
let id: string

beforeAll(async () => {
  school = await TestSchool.open()
  owner = await school.person('teacher', 'Owner')
  colleague = await school.person('teacher', 'Colleague')
  id = ((await owner.http.post('/api/worksheets').send({ title: 'Ours' }).expect(201)).body as { id: string }).id
  await owner.http.put(`/api/worksheets/${id}/shares`).send({ schoolMay: 'edit', people: [] }).expect(204)
})
afterAll(() => school.close())

const writersIn = (client: LiveClient) =>
  client.messages.findLast((message) => message.type === 'worksheet writers')?.writers ?? null
const watching = async (person: TestPerson, block: string | null = null) => {
  const client = await LiveClient.connect(school.url, person.cookie)
  client.send({ type: 'watch worksheet', worksheetId: id, block, at: null })
  await client.message(({ type }) => type === 'worksheet writers')
  return client
}
const until = (client: LiveClient, is: (message: ServerMessage) => boolean) => client.message(is)

test('authors of one worksheet hear of each other, where they are, and when one of them goes', async () => {
  const one = await watching(owner)
  const two = await watching(colleague, 'b1')
  await until(one, (message) => message.type === 'worksheet writers' && message.writers.length === 2)
  expect(writersIn(one)).toContainEqual({
    personId: colleague.viewer.personId,
    name: 'Colleague Tester',
    block: 'b1',
    at: null,
  })
  two.send({ type: 'watch worksheet', worksheetId: id, block: 'b2', at: 7 })
  await until(
    one,
    (message) =>
      message.type === 'worksheet writers' && message.writers.some(({ block, at }) => block === 'b2' && at === 7),
  )
  two.close()
  await until(one, (message) => message.type === 'worksheet writers' && message.writers.length === 1)
  one.close()
})

test('whoever has it open hears that the draft was kept, and by whom', async () => {
  const one = await watching(owner)
  const content = { version: 2, page: 'A4', source: '', blocks: [{ id: 'l', kind: 'line', width: 'full' }] }
  await colleague.http.put(`/api/worksheets/${id}/draft`).send({ title: 'Ours', content, version: 1 }).expect(200)
  const told = await until(one, ({ type }) => type === 'worksheet changed')
  expect(told).toEqual({ type: 'worksheet changed', worksheetId: id, version: 2, by: colleague.viewer.personId })
  one.close()
})

test('and that it was renamed in the library', async () => {
  const one = await watching(owner)
  await colleague.http
    .post('/api/worksheets/rename')
    .send({ titles: [{ id, title: 'Ours, renamed' }] })
    .expect(204)
  const told = await until(one, ({ type }) => type === 'worksheet changed')
  expect(told).toEqual({ type: 'worksheet changed', worksheetId: id, version: 3, by: colleague.viewer.personId })
  one.close()
})

test('strangers, students and other schools hear nothing of a worksheet, and are not seen', async () => {
  await owner.http.put(`/api/worksheets/${id}/shares`).send({ schoolMay: 'none', people: [] }).expect(204)
  const one = await watching(owner)
  const given = await school.classOf(1)
  const strangers = [colleague, await school.signInByEmail(given.emails[0]!), await school.person('office', 'Desk')]
  for (const person of strangers) {
    const client = await LiveClient.connect(school.url, person.cookie)
    client.send({ type: 'watch worksheet', worksheetId: id, block: null, at: null })
    client.send({ type: 'watch worksheet', worksheetId: 'no-such-id', block: null, at: null })
    // Messages of one browser are dealt with in their order: what comes back last was asked last.
    await client.openCopy('nothing')
    expect(client.messages.filter(({ type }) => type.startsWith('worksheet'))).toEqual([])
    client.close()
  }
  expect(writersIn(one)).toHaveLength(1)
  one.close()
})
