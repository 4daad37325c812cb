import { expect, test } from '@jest/globals'
import fc from 'fast-check'
import { agrees, mayReadAgain, meanReading, readingDifference } from './secondReading.js'

const of = (total: number | null, step: string | null = null) => ({ total, step })

test('two readings: by how much they differ, and what lies between them', () => {
  expect(readingDifference(of(1400), of(1550))).toBe(150)
  expect(readingDifference(of(1400), of(1250))).toBe(-150)
  expect(readingDifference(of(null, 'B'), of(1250))).toBeNull()
  expect(meanReading(of(1400), of(1550))).toBe(1475)
  expect(meanReading(of(1401), of(1402))).toBe(1402)
  expect(meanReading(of(null), of(1))).toBeNull()
  expect([agrees(of(100), of(100, 'B')), agrees(of(100), of(150)), agrees(of(null, 'B'), of(null, 'B'))]).toEqual([
    true,
    false,
    true,
  ])
  expect([agrees(of(null), of(null)), agrees(of(null, 'A'), of(null, 'B'))]).toEqual([false, false])
})

test('the mean lies between both, whichever comes first', () => {
  const points = fc.integer({ min: 0, max: 100_000 })
  fc.assert(
    fc.property(points, points, (one, other) => {
      const mean = meanReading(of(one), of(other))!
      expect(mean).toBe(meanReading(of(other), of(one)))
      expect(mean).toBeGreaterThanOrEqual(Math.min(one, other))
      expect(mean).toBeLessThanOrEqual(Math.max(one, other))
    }),
  )
})

test('a copy is read a second time once it is marked, by somebody else than who marked it', () => {
  const marked = { isDone: true, markedBy: 'adaeze', readers: ['tomasz'] }
  expect(mayReadAgain(marked, 'nina').may).toBe(true)
  expect(mayReadAgain(marked, 'adaeze')).toMatchObject({ may: false, code: 'own-mark' })
  expect(mayReadAgain({ ...marked, isDone: false }, 'nina')).toMatchObject({ may: false, code: 'not-marked' })
  expect(mayReadAgain({ ...marked, markedBy: null }, 'nina')).toMatchObject({ may: false, code: 'not-marked' })
  // Who has said something may say something else, though the mark is theirs since.
  expect(mayReadAgain({ ...marked, markedBy: 'tomasz', isDone: false }, 'tomasz').may).toBe(true)
})
