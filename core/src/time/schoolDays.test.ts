import { expect, test } from '@jest/globals'
import { schoolDays, usualDue } from './schoolDays.js'

const utc = (text: string) => Date.parse(`${text}Z`)

test('the days of a school begin at its own midnights, whoever looks, over the change of clocks too', () => {
  // Thursday 22 October in Lisbon, where clocks are put back on Sunday.
  expect(schoolDays(utc('2026-10-22T09:00'), 4, 'Europe/Lisbon')).toEqual(
    ['2026-10-21T23:00', '2026-10-22T23:00', '2026-10-26T00:00', '2026-10-27T00:00'].map(utc),
  )
  // It is Saturday there already while it is Friday elsewhere.
  expect(schoolDays(utc('2026-10-23T20:00'), 1, 'Asia/Tokyo')).toEqual([utc('2026-10-25T15:00')])
})

test('a slip begins with a due time in a week at four, in the school’s zone and not on a weekend', () => {
  expect(usualDue(utc('2026-10-20T22:30'), 'Europe/Lisbon')).toBe(utc('2026-10-27T16:00'))
  expect(usualDue(utc('2026-11-28T12:00'), 'Europe/Lisbon')).toBe(utc('2026-12-07T16:00'))
  expect(usualDue(utc('2026-11-29T12:00'), 'Europe/Lisbon')).toBe(utc('2026-12-07T16:00'))
})
