const pad = (value: number) => String(value).padStart(2, '0')

const clock = (date: Date) => `${pad(date.getHours())}:${pad(date.getMinutes())}`

const dayNumber = (date: Date) => Math.floor((date.getTime() - date.getTimezoneOffset() * 60_000) / 86_400_000)

const DAYS: Record<number, string> = { [-1]: 'yesterday', 0: 'today', 1: 'tomorrow' }

const FORMS = {
  day: { weekday: 'short', day: 'numeric', month: 'short' },
  'day of another year': { weekday: 'short', day: 'numeric', month: 'short', year: 'numeric' },
  'day of a week': { weekday: 'short', day: 'numeric' },
  exact: { dateStyle: 'full', timeStyle: 'medium' },
} as const satisfies Record<string, Intl.DateTimeFormatOptions>

const formats = new Map<string, Intl.DateTimeFormat>()

/** A time in the reader's zone. Each form is made once: making one takes longer than drawing a row. */
function written(at: number, form: keyof typeof FORMS): string {
  let format = formats.get(form)
  if (!format) formats.set(form, (format = new Intl.DateTimeFormat('en-GB', FORMS[form])))
  return format.format(at)
}

/** The zone is another one now. */
export const forgetZone = (): void => formats.clear()

/** A day among others of the same weeks: "Thu 3". */
export const weekday = (day: number): string => written(day, 'day of a week').replace(',', '')

/**
 * A time in the reader's zone and words: "today 16:00", "Thu 3 Dec 16:00".
 * @param at milliseconds since 1970
 */
export function timeInWords(at: number, now = Date.now()): string {
  const date = new Date(at)
  const days = dayNumber(date) - dayNumber(new Date(now))
  const near = DAYS[days]
  if (near) return `${near} ${clock(date)}`
  const sameYear = date.getFullYear() === new Date(now).getFullYear()
  return `${written(at, sameYear ? 'day' : 'day of another year').replace(',', '')} ${clock(date)}`
}

/** How long ago, for columns: "now", "12 min", "13:51", "yesterday", "Thu 3 Dec". */
export function sinceInWords(at: number, now = Date.now()): string {
  const minutes = Math.floor((now - at) / 60_000)
  if (minutes < 1) return 'now'
  if (minutes < 60) return `${minutes} min ago`
  const days = dayNumber(new Date(now)) - dayNumber(new Date(at))
  if (days === 0) return clock(new Date(at))
  return timeInWords(at, now)
}

/** How much time is left, in words: "1 h 12 min left"; empty once it has passed or while it is far off. */
export function leftInWords(at: number, now = Date.now()): string {
  const minutes = Math.ceil((at - now) / 60_000)
  if (minutes <= 0 || minutes > 36 * 60) return ''
  const hours = Math.floor(minutes / 60)
  return hours ? `${hours} h ${minutes % 60} min left` : `${minutes} min left`
}

/** Exactly, for the title of a time. */
export const exactTime = (at: number): string => written(at, 'exact')

/** The values of a date and a time field for a time. */
export function fieldsOf(at: number): { date: string; time: string } {
  const date = new Date(at)
  return { date: `${date.getFullYear()}-${pad(date.getMonth() + 1)}-${pad(date.getDate())}`, time: clock(date) }
}

/** The time that a date and a time field stand for, in the reader's zone; null if either is not filled in. */
export function fromFields(date: string, time: string): number | null {
  const at = new Date(`${date}T${time || '16:00'}`).getTime()
  return Number.isNaN(at) ? null : at
}
