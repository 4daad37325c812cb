import { afterAll, beforeAll, expect, test } from '@jest/globals'
import { Events } from '../dist/events/events.js'
import { LiveGateway } from '../dist/live/live.gateway.js'
import type { DatabaseLiveStore } from '../dist/live/liveStore.js'
import { LiveClient } from './support/liveClient.js'
import { type TestClass, type TestPerson, TestSchool, openHere } from './support/school.js'

// What is decided between two steps of the server itself: these tests reach into it.

let school: TestSchool
let gateway: LiveGateway
let events: Events
let given: TestClass
let student: TestPerson
beforeAll(async () => {
  school = await TestSchool.open({
    by: async (opening) => {
      const application = await openHere(opening)
      gateway = application.app.get(LiveGateway)
      events = application.app.get(Events)
      return application
    },
  })
  given = await school.classOf(1)
  student = await school.signInByEmail(given.emails[0]!)
})
afterAll(() => school.close())

test('a page that is drawn anew just after somebody wrote counts what they wrote', async () => {
  const { id, copies } = await school.handedOut(given)
  const copyId = copies.get(given.emails[0]!)!
  const client = await LiveClient.open(school.url, student.cookie, copyId)
  await client.saved(client.type('just now', 'line'))
  await school.source.query(
    `UPDATE copy SET places = '[{"id": "g", "name": "Crane", "personIds": []}]' WHERE id = $1`,
    [copyId],
  )
  await events.tell('handout changed', { schoolId: school.schoolId, handoutId: id })
  client.close()
  while ((await school.count('copy', `id = '${copyId}' AND last_activity_at IS NOT NULL AND words > 0`)) < 1)
    await new Promise((resolve) => setImmediate(resolve))
  expect(await school.count('copy', `id = '${copyId}' AND answered = 1`)).toBe(1)
})

test('a copy that is submitted while its opening is written down stands still: what was read of it last stands', async () => {
  const copyId = (await school.handedOut(given)).copies.get(given.emails[0]!)!
  const { store } = (gateway as unknown as { copies: { store: DatabaseLiveStore } }).copies
  const read = store.copy
  let readings = 0
  let release!: () => void
  const held = new Promise<void>((resolve) => (release = resolve))
  const reached = new Promise<void>((resolve) => {
    store.copy = async (schoolId, id) => {
      const record = await read(schoolId, id)
      // The first is of the opening; the second, of what the opening made of the copy, is slow.
      if (id === copyId && ++readings === 2) {
        resolve()
        await held
      }
      return record
    }
  })
  try {
    const writer = await LiveClient.open(school.url, student.cookie, copyId)
    await reached
    await student.http.post(`/api/copies/${copyId}/submit`).expect(200)
    release()
    await writer.late(writer.type('too late'))
  } finally {
    store.copy = read
  }
})
