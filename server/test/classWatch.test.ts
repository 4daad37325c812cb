import { afterEach, beforeEach, expect, jest, test } from '@jest/globals'
import type { DataSource } from 'typeorm'
import { ClassWatch } from '../dist/live/classWatch.js'
import type { Connection } from '../dist/live/connection.js'

beforeEach(() => void jest.useFakeTimers())
afterEach(() => void jest.useRealTimers())

test('the first of many changes is told at once, those that follow it together, and the next first again', () => {
  const sent: unknown[] = []
  const connection = {
    viewer: { schoolId: 'school' },
    watchedClasses: new Set(['class']),
    send: ({ part, columnId }: { part: string; columnId?: string }) => sent.push(columnId ?? part),
  } as unknown as Connection
  const watch = new ClassWatch({} as DataSource, new Set([connection]))
  watch.tell('school', 'class', 'marks', 'one')
  expect(sent).toEqual(['one'])
  for (let mark = 0; mark < 5; mark++) watch.tell('school', 'class', 'marks', 'one')
  watch.tell('school', 'class', 'marks', 'two')
  watch.tell('other school', 'class', 'roster')
  expect(sent).toEqual(['one', 'two'])
  jest.runAllTimers()
  expect(sent).toEqual(['one', 'two', 'one'])
  watch.tell('school', 'class', 'marks', 'one')
  expect(sent).toHaveLength(4)
})
