import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { daysLater, momentOfWall, wallTimeOf } from './wallTime.js'

const wall = (text: string) => {
  const [year, month, day, hour, minute] = text.split(/[-T:]/).map(Number) as [number, number, number, number, number]
  return { year, month, day, hour, minute }
}
const utc = (text: string) => Date.parse(`${text}Z`)

describe('when the wall shows a time', () => {
  test('once, in winter and in summer', () => {
    expect(momentOfWall(wall('2026-12-04T16:00'), 'Europe/Lisbon')).toEqual({
      shown: 'once',
      at: utc('2026-12-04T16:00'),
    })
    expect(momentOfWall(wall('2026-06-04T16:00'), 'Europe/Lisbon')).toEqual({
      shown: 'once',
      at: utc('2026-06-04T15:00'),
    })
  })

  test('never, while clocks are put forward over it: so much later', () => {
    const moment = momentOfWall(wall('2027-03-28T01:30'), 'Europe/Lisbon')
    expect(moment).toEqual({ shown: 'never', at: utc('2027-03-28T01:30') })
    expect(wallTimeOf(moment.at, 'Europe/Lisbon')).toEqual(wall('2027-03-28T02:30'))
  })

  test('twice, after clocks are put back', () => {
    expect(momentOfWall(wall('2026-10-25T01:30'), 'Europe/Lisbon')).toEqual({
      shown: 'twice',
      at: utc('2026-10-25T00:30'),
      second: utc('2026-10-25T01:30'),
    })
  })

  test('a zone whose clocks go by half an hour', () => {
    expect(momentOfWall(wall('2026-10-04T02:10'), 'Australia/Lord_Howe').shown).toBe('never')
    expect(momentOfWall(wall('2026-10-04T02:40'), 'Australia/Lord_Howe').shown).toBe('once')
  })

  test('whatever the wall shows at a moment leads back to it', () => {
    const zones = ['Europe/Lisbon', 'America/St_Johns', 'Australia/Lord_Howe', 'Asia/Kathmandu', 'UTC']
    fc.assert(
      fc.property(
        fc.integer({ min: utc('2020-01-01T00:00') / 60_000, max: utc('2040-01-01T00:00') / 60_000 }),
        fc.constantFrom(...zones),
        (minutes, zone) => {
          const at = minutes * 60_000
          const moment = momentOfWall(wallTimeOf(at, zone), zone)
          expect(moment.shown).not.toBe('never')
          expect(moment.shown === 'twice' ? [moment.at, moment.second] : [moment.at]).toContain(at)
        },
      ),
    )
  })
})

test('days later the time of day is the same, also over a night in which clocks change', () => {
  expect(daysLater(utc('2026-10-24T15:00'), 1, 'Europe/Lisbon')).toBe(utc('2026-10-25T16:00'))
  expect(daysLater(utc('2026-12-04T16:00:07.250'), 3, 'Europe/Lisbon')).toBe(utc('2026-12-07T16:00:07.250'))
})
