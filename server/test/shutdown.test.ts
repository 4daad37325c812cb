import { expect, test } from '@jest/globals'
import { LiveClient } from './support/liveClient.js'
import { TestSchool } from './support/school.js'

test('the server stops although browsers are connected, and what was typed last is saved', async () => {
  const school = await TestSchool.open()
  const given = await school.classOf(1)
  const student = await school.signInByEmail(given.emails[0]!)
  const handout = await school.handedOut(given)
  const copyId = handout.copies.get(given.emails[0]!)!
  const writer = await LiveClient.open(school.url, student.cookie, copyId)
  await writer.saved(writer.type('05:48'))
  await school.close()
  await writer.until(() => writer.closed).catch(() => undefined)
  expect(writer.closed).toBe(true)

  const again = await TestSchool.open({ databaseUrl: school.databaseUrl })
  expect(await again.count('live_update', `copy_id = '${copyId}'`)).toBe(1)
  expect(await again.count('copy', `id = '${copyId}' AND answered = 1`)).toBe(1)
  await again.close()
})
