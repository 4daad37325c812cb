import { expect, test } from '@jest/globals'
import type { DataSource } from 'typeorm'
import { BoardWatch } from '../dist/live/boardWatch.js'
import type { Connection } from '../dist/live/connection.js'

// No school: the order in which a database answers is the test's.

test('rows that were asked for first are sent first, however long they took to read; one that failed stops no other', async () => {
  const readings: { answer: (rows: object[]) => void; fail: (error: Error) => void }[] = []
  const source = {
    manager: { query: () => new Promise<object[]>((answer, fail) => readings.push({ answer, fail })) },
  } as unknown as DataSource
  const row = (state: string) => [{ state, holders: [], places: [] }]
  const sent: unknown[] = []
  const connection = {
    viewer: { schoolId: 'school' },
    watched: new Map([['handout', { students: null, withChecks: true }]]),
    send: (message: { rows: { state: string }[] }) => sent.push(message.rows.map(({ state }) => state)),
  } as unknown as Connection
  const watch = new BoardWatch(source, new Set([connection]))

  const sendings = [1, 2, 3].map(() => watch.send('school', 'handout', ['copy']))
  const outcome = Promise.allSettled(sendings)
  readings[2]!.answer(row('submitted'))
  readings[1]!.fail(new Error('away'))
  await new Promise((resolve) => setImmediate(resolve))
  readings[0]!.answer(row('opened'))
  expect((await outcome).map(({ status }) => status)).toEqual(['fulfilled', 'rejected', 'fulfilled'])
  expect(sent).toEqual([['opened'], ['submitted']])
})
