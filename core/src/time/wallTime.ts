import { CalendarDateTime, type ZonedDateTime, fromAbsolute, toZoned } from '@internationalized/date'

/** What a calendar and a clock on the wall show. Months count from 1. */
export interface WallTime {
  readonly year: number
  readonly month: number
  readonly day: number
  readonly hour: number
  readonly minute: number
}

/**
 * When a clock on the wall shows a time: once; never, as clocks are put forward over it (`at` is so much later as they are put
 * forward); or twice, as they are put back. In milliseconds since 1970.
 */
export type WallMoment =
  | { readonly shown: 'once' | 'never'; readonly at: number }
  | { readonly shown: 'twice'; readonly at: number; readonly second: number }

const calendarOf = ({ year, month, day, hour, minute }: WallTime) =>
  new CalendarDateTime(year, month, day, hour, minute)

const wallOfZoned = ({ year, month, day, hour, minute }: ZonedDateTime): WallTime => ({
  year,
  month,
  day,
  hour,
  minute,
})

/**
 * What the wall shows at a moment, to the minute.
 * @param at milliseconds since 1970
 * @param timeZone IANA time zone
 * @throws RangeError if nobody knows the zone
 */
export const wallTimeOf = (at: number, timeZone: string): WallTime => wallOfZoned(fromAbsolute(at, timeZone))

/**
 * When the wall shows a time.
 * @param wall a day that there is, and a time of day
 * @param timeZone IANA time zone
 * @throws RangeError if nobody knows the zone
 */
export function momentOfWall(wall: WallTime, timeZone: string): WallMoment {
  const calendar = calendarOf(wall)
  const at = toZoned(calendar, timeZone, 'earlier').toDate().getTime()
  const later = toZoned(calendar, timeZone, 'later').toDate().getTime()
  if (at === later) return { shown: 'once', at }
  const { hour, minute } = wallTimeOf(at, timeZone)
  return hour === wall.hour && minute === wall.minute
    ? { shown: 'twice', at, second: later }
    : { shown: 'never', at: later }
}

/**
 * The same time of day so many days later: a due time at 16:00 stays at 16:00 when clocks are put back in between.
 * @param at milliseconds since 1970
 * @param timeZone IANA time zone
 * @returns milliseconds since 1970; where that time is shown twice, the first, and where it is never shown, the later
 */
export function daysLater(at: number, days: number, timeZone: string): number {
  const calendar = calendarOf(wallTimeOf(at, timeZone)).add({ days })
  return momentOfWall(calendar, timeZone).at + (at % 60_000)
}
