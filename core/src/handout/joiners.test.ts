import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { dueForJoiner } from './joiners.js'

describe('who comes when the due time is past', () => {
  const DAY = 86_400_000
  test('keeps the hour of the school over the change of clocks', () => {
    const dueAt = Date.parse('2026-10-23T15:00Z')
    expect(dueForJoiner(dueAt - 5 * DAY, dueAt, dueAt + 60_000, 'Europe/Lisbon')).toBe(Date.parse('2026-10-29T16:00Z'))
  })
  test('has as long as the class had, between one day and fourteen, at the hour of the class’s', () => {
    fc.assert(
      fc.property(fc.nat(40 * DAY), fc.nat(60 * DAY), (had, late) => {
        const dueAt = 1_700_000_000_000
        const now = dueAt + late
        const own = dueForJoiner(dueAt - had, dueAt, now, 'UTC')
        expect((own - dueAt) % DAY).toBe(0)
        const time = Math.min(14 * DAY, Math.max(DAY, had))
        expect(own - now).toBeGreaterThanOrEqual(time)
        expect(own - now).toBeLessThan(time + DAY)
      }),
    )
  })
})
