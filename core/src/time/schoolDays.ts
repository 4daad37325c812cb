import { type WallTime, daysLater, momentOfWall, wallTimeOf } from './wallTime.js'

const MIDNIGHT = { hour: 0, minute: 0 }
const DUE = { hour: 16, minute: 0 }
const WEEK = 7

/** 0 is Sunday. */
const weekdayOf = ({ year, month, day }: WallTime) => new Date(Date.UTC(year, month - 1, day)).getUTCDay()

const isSchoolDay = (wall: WallTime) => weekdayOf(wall) % 6 !== 0

/**
 * The next days that are not of a weekend, as the moments they begin at, in milliseconds since 1970; the first of them is today
 * or the Monday after.
 * @param timeZone IANA time zone of the school
 */
export function schoolDays(now: number, count: number, timeZone: string): number[] {
  const days: number[] = []
  const today = momentOfWall({ ...wallTimeOf(now, timeZone), ...MIDNIGHT }, timeZone).at
  for (let later = 0; days.length < count; later++) {
    const day = daysLater(today, later, timeZone)
    if (isSchoolDay(wallTimeOf(day, timeZone))) days.push(day)
  }
  return days
}

/**
 * The due time that a slip begins with: in a week at four, on the Monday after where that is a weekend; milliseconds since 1970.
 * @param timeZone IANA time zone of the school
 */
export function usualDue(now: number, timeZone: string): number {
  const due = momentOfWall({ ...wallTimeOf(daysLater(now, WEEK, timeZone), timeZone), ...DUE }, timeZone).at
  const weekday = weekdayOf(wallTimeOf(due, timeZone))
  return weekday % 6 === 0 ? daysLater(due, weekday === 6 ? 2 : 1, timeZone) : due
}
