import { expect, test } from '@jest/globals'
import fc from 'fast-check'
import { COPY_STATES, JOURNAL_KINDS, type JournalEntry, lifeFrom } from './journal.js'
import { TIME_SPANS, statesOverTime, timeSteps } from './overTime.js'

const MINUTE = 60_000
const NOW = Date.UTC(2026, 10, 30, 10, 7, 31)

test.each<[(typeof TIME_SPANS)[number], number, number]>([
  ['ten minutes', NOW - 3 * 24 * 60 * MINUTE, 20_000],
  ['two hours', NOW - 3 * 24 * 60 * MINUTE, 2 * MINUTE],
  ['from the beginning', NOW - 45 * MINUTE, MINUTE],
  ['from the beginning', NOW - 3 * 24 * 60 * MINUTE, 6 * 60 * MINUTE],
  ['from the beginning', NOW - 400 * 24 * 60 * MINUTE, 6 * 24 * 60 * MINUTE],
])('%s is looked at in steps that people name', (span, begun, step) => {
  expect(timeSteps(span, begun, NOW).step).toBe(step)
})

test('steps hold all of the span and now, and are not more than 72', () => {
  fc.assert(
    fc.property(fc.constantFrom(...TIME_SPANS), fc.integer({ min: 0, max: 2_000 * 24 * 60 }), (span, minutes) => {
      const { from, step, count } = timeSteps(span, NOW - minutes * MINUTE, NOW)
      expect(count).toBeLessThanOrEqual(72)
      expect(from).toBeLessThanOrEqual(NOW - (span === 'from the beginning' ? minutes : 10) * MINUTE)
      expect(from + (count - 1) * step).toBeLessThanOrEqual(NOW)
      expect(from + count * step).toBeGreaterThan(NOW)
    }),
  )
})

const entry = (kind: JournalEntry['kind'], at: number): JournalEntry => ({ kind, at })

test('a copy is counted in the state that it had at the end of each step', () => {
  const steps = { from: 0, step: 10, count: 4 }
  const counts = statesOverTime(
    [
      [entry('given', 0), entry('opened', 12), entry('first written in', 15), entry('submitted', 30)],
      [entry('given', 11), entry('opened', 39), entry('set aside', 39)],
    ],
    steps,
  )
  expect(counts['not opened']).toEqual([1, 1, 1, 0])
  expect(counts['working']).toEqual([0, 1, 1, 0])
  expect(counts['submitted']).toEqual([0, 0, 0, 1])
})

test('at the end all copies are in the states that their journals say', () => {
  const journal = fc
    .array(fc.record({ kind: fc.constantFrom(...JOURNAL_KINDS), at: fc.integer({ min: 0, max: 99 }) }))
    .map((entries) => [entry('given', 0), ...entries.toSorted((a, b) => a.at - b.at)])
  fc.assert(
    fc.property(fc.array(journal), (journals) => {
      const counts = statesOverTime(journals, { from: 0, step: 25, count: 4 })
      const lives = journals.map(lifeFrom).filter(({ setAside }) => !setAside)
      for (const state of COPY_STATES)
        expect(counts[state].at(-1)).toBe(lives.filter((life) => life.state === state).length)
    }),
  )
})
