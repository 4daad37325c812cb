import { languageOfTimes } from '@gavrin/core'
/** How a school writes times. */
export interface SchoolTimes {
  /** IANA time zone. */
  readonly timeZone: string
  /** BCP 47 language tag; the order of a date and the clock follow its region. */
  readonly locale: string
}

const FORMS = {
  day: { weekday: 'short', day: 'numeric', month: 'short' },
  'day of another year': { weekday: 'short', day: 'numeric', month: 'short', year: 'numeric' },
  'day of a week': { weekday: 'short', day: 'numeric' },
  clock: { hour: '2-digit', minute: '2-digit' },
  exact: { dateStyle: 'full', timeStyle: 'medium' },
  numbers: { year: 'numeric', month: 'numeric', day: 'numeric' },
} as const satisfies Record<string, Intl.DateTimeFormatOptions>

type Form = keyof typeof FORMS

let school: SchoolTimes | null = null
/** IANA time zone of who reads; undefined: that of this machine; null: nobody knows it. */
let reader: string | null | undefined
const formats = new Map<string, Intl.DateTimeFormat>()

/** From here on times are those of this school; null: of nobody yet, then they are the reader's. */
export function writeTimesAs(next: SchoolTimes | null): void {
  if (next?.timeZone === school?.timeZone && next?.locale === school?.locale) return
  school = next
  formats.clear()
}

/** Where the page is not drawn by the reader's machine: the zone they read in, null if it is not known. */
export function readIn(zone: string | null): void {
  if (zone === reader) return
  reader = zone
  formats.clear()
}

/** The language that dates are written and typed in: that of the page, in the order and with the clock of the school's region. */
export const dateLanguage = (): string => languageOfTimes(school?.locale ?? null)

/** The zone that times are written and typed in. */
export const zoneOfTimes = (): string => school?.timeZone ?? new Intl.DateTimeFormat().resolvedOptions().timeZone

/** A zone as people call it: "Lisbon". */
export const zoneName = (timeZone: string): string => timeZone.slice(timeZone.lastIndexOf('/') + 1).replaceAll('_', ' ')

/** Each form is made once: making one takes longer than drawing a row. */
function formatOf(form: Form, whose: 'school' | 'reader'): Intl.DateTimeFormat {
  const key = `${whose} ${form}`
  const known = formats.get(key)
  if (known) return known
  const language = form === 'numbers' ? 'en-GB' : dateLanguage()
  const timeZone = (whose === 'school' && school?.timeZone) || reader
  const format = new Intl.DateTimeFormat(language, { ...FORMS[form], ...(timeZone && { timeZone }) })
  formats.set(key, format)
  return format
}

const written = (at: number, form: Form, whose: 'school' | 'reader' = 'school'): string =>
  formatOf(form, whose).format(at)

const clock = (at: number, whose?: 'school' | 'reader') => written(at, 'clock', whose)
const day = (at: number, form: 'day' | 'day of another year' | 'day of a week', whose?: 'school' | 'reader') =>
  written(at, form, whose).replaceAll(',', '')

/** The day of a time in the school's zone, and its year. */
function dayOf(at: number): { readonly number: number; readonly year: number } {
  const [date, month, year] = written(at, 'numbers').split('/').map(Number) as [number, number, number]
  return { number: Date.UTC(year, month - 1, date) / 86_400_000, year }
}

const DAYS: Record<number, string> = { [-1]: 'yesterday', 0: 'today', 1: 'tomorrow' }

/** A day among others of the same weeks: "Thu 3". */
export const weekday = (at: number): string => day(at, 'day of a week')

/** What the reader's clock shows at a time, where it is another than the school's: "17:00", "Fri 4 Dec 00:30"; else null. */
export function readersTime(at: number): string | null {
  if (!school || reader === null) return null
  const sameDay = day(at, 'day', 'reader') === day(at, 'day')
  if (sameDay && clock(at, 'reader') === clock(at)) return null
  return sameDay ? clock(at, 'reader') : `${day(at, 'day', 'reader')} ${clock(at, 'reader')}`
}

/** Whose time it is, where the reader's is another: " in Lisbon, 17:00 where you are"; else empty. */
function whose(at: number): string {
  const readers = readersTime(at)
  return readers === null ? '' : ` in ${zoneName(school!.timeZone)}, ${readers} where you are`
}

/** A time of the school without whose it is. */
function plainTime(at: number, now: number): string {
  const { number, year } = dayOf(at)
  const today = dayOf(now)
  const near = DAYS[number - today.number]
  if (near) return `${near} ${clock(at)}`
  return `${day(at, year === today.year ? 'day' : 'day of another year')} ${clock(at)}`
}

/**
 * A time in the school's zone and words: "today 16:00", "Thu 3 Dec 16:00". Where the reader's clock shows another time, the zone
 * is named and theirs stands beside it.
 * @param at milliseconds since 1970
 */
export const timeInWords = (at: number, now = Date.now()): string => plainTime(at, now) + whose(at)

/** As `timeInWords`, for what is mostly of today, which is not said then: "16:00". */
export const shortTime = (at: number, now = Date.now()): string =>
  plainTime(at, now).replace(`${DAYS[0]} `, '') + (readersTime(at) === null ? '' : ` in ${zoneName(school!.timeZone)}`)

/** From one time to another: "today 14:02 to 14:20", "Thu 3 Dec 23:50 to Fri 4 Dec 00:10"; of one minute, once. */
export function spanInWords(from: number, to: number, now = Date.now()): string {
  if (plainTime(from, now) === plainTime(to, now)) return timeInWords(from, now)
  const end = dayOf(from).number === dayOf(to).number ? clock(to) : plainTime(to, now)
  return `${plainTime(from, now)} to ${end}` + (readersTime(to) === null ? '' : ` in ${zoneName(school!.timeZone)}`)
}

/** How long ago, for columns: "now", "12 min", "13:51", "yesterday", "Thu 3 Dec". */
export function sinceInWords(at: number, now = Date.now()): string {
  const minutes = Math.floor((now - at) / 60_000)
  if (minutes < 1) return 'now'
  if (minutes < 60) return `${minutes} min ago`
  return shortTime(at, now)
}

/** How much time is left, in words: "1 h 12 min left"; empty once it has passed or while it is far off. */
export function leftInWords(at: number, now = Date.now()): string {
  const minutes = Math.ceil((at - now) / 60_000)
  if (minutes <= 0 || minutes > 36 * 60) return ''
  const hours = Math.floor(minutes / 60)
  return hours ? `${hours} h ${minutes % 60} min left` : `${minutes} min left`
}

/** Exactly, for the title of a time. */
export const exactTime = (at: number): string => written(at, 'exact') + whose(at)
