/** A school year as a standard has it: from its first day to its last, called after the year in which it ends. */
export interface SchoolYearDates {
  /** `2026-08-01` */
  readonly start: string
  readonly end: string
  /** `2027` */
  readonly ends: string
}

/**
 * The dates of a school year as a school writes it (`2026/27`, `2026-2027`, `2026`): from August to July, or a whole calendar year.
 * What is no year is the one around a day.
 * @param today e.g. `2026-11-25`
 */
export function schoolYearDates(year: string, today: string): SchoolYearDates {
  const found = /^\D*(\d{4})\s*(?:[/–—-]\s*(\d{2}|\d{4}))?\D*$/.exec(year.trim())
  if (found && !found[2]) return { start: `${found[1]}-01-01`, end: `${found[1]}-12-31`, ends: found[1]! }
  const first = found ? Number(found[1]) : Number(today.slice(0, 4)) - (today.slice(5, 7) < '08' ? 1 : 0)
  return { start: `${first}-08-01`, end: `${first + 1}-07-31`, ends: String(first + 1) }
}

/**
 * A school year as schools write it: `2026/27`, or `2027` where it is a calendar year.
 * @param start the first day, or empty
 * @param end the last day, or the year in which it ends
 */
export function schoolYearName(start: string, end: string): string {
  const last = /^\d{4}/.exec(end)?.[0]
  if (!last) return ''
  const first = /^\d{4}/.exec(start)?.[0] ?? String(Number(last) - 1)
  return first === last ? last : `${first}/${last.slice(2)}`
}
