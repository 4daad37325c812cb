import { afterEach, describe, expect, test } from '@jest/globals'
import { exactTime, readIn, shortTime, sinceInWords, timeInWords, weekday, writeTimesAs } from '../src/ui/time'

const LISBON = { timeZone: 'Europe/Lisbon', locale: 'en-GB' }
const utc = (text: string) => Date.parse(`${text}Z`)
const NOW = utc('2026-11-29T10:00')
const DUE = utc('2026-12-03T16:00')

afterEach(() => {
  writeTimesAs(null)
  readIn('UTC')
})

describe('times are the school’s', () => {
  test('in its zone, without naming it where the reader’s clock shows the same', () => {
    writeTimesAs(LISBON)
    readIn('Europe/London')
    expect(timeInWords(DUE, NOW)).toBe('Thu 3 Dec 16:00')
    expect(timeInWords(utc('2026-11-29T16:00'), NOW)).toBe('today 16:00')
    expect(timeInWords(utc('2027-07-01T15:00'), NOW)).toBe('Thu 1 Jul 2027 16:00')
    expect(shortTime(utc('2026-11-29T09:51'), NOW)).toBe('09:51')
  })

  test('the zone is named, and the reader’s time stands beside it, where they differ', () => {
    writeTimesAs(LISBON)
    readIn('Europe/Berlin')
    expect(timeInWords(DUE, NOW)).toBe('Thu 3 Dec 16:00 in Lisbon, 17:00 where you are')
    expect(timeInWords(utc('2026-12-03T23:30'), NOW)).toBe('Thu 3 Dec 23:30 in Lisbon, Fri 4 Dec 00:30 where you are')
    expect(sinceInWords(utc('2026-11-29T07:51'), NOW)).toBe('07:51 in Lisbon')
    expect(exactTime(DUE)).toContain('17:00 where you are')
  })

  test('today is the school’s day', () => {
    writeTimesAs({ timeZone: 'Pacific/Auckland', locale: 'en-GB' })
    readIn('UTC')
    // It is 30 November there already.
    expect(timeInWords(utc('2026-11-29T11:30'), utc('2026-11-29T11:20'))).toMatch(/^today 00:30 in Auckland/)
    expect(weekday(utc('2026-11-29T11:30'))).toBe('Mon 30')
  })

  test('the order of a date and the clock are those of the school’s region', () => {
    writeTimesAs({ timeZone: 'America/New_York', locale: 'en-US' })
    readIn('America/New_York')
    expect(timeInWords(utc('2026-12-03T21:00'), NOW).replace(/\s/g, ' ')).toBe('Thu Dec 3 04:00 PM')
    writeTimesAs({ timeZone: 'Europe/Lisbon', locale: 'pt-PT' })
    readIn('Europe/Lisbon')
    expect(timeInWords(DUE, NOW)).toBe('Thu 3 Dec 16:00')
  })

  test('where the reader’s zone is not known, only the school’s time is said', () => {
    writeTimesAs(LISBON)
    readIn(null)
    expect(timeInWords(DUE, NOW)).toBe('Thu 3 Dec 16:00')
  })
})
