import { COPY_STATES, type CopyState, type JournalEntry, UNTOUCHED, afterEntry } from './journal.js'

/** How far back a view over time goes. */
export const TIME_SPANS = ['ten minutes', 'two hours', 'from the beginning'] as const
export type TimeSpan = (typeof TIME_SPANS)[number]

/** A stretch of time in equal steps. In milliseconds since 1970. */
export interface TimeSteps {
  readonly from: number
  readonly step: number
  readonly count: number
}

const MINUTE = 60_000
/** Steps of a whole number of these, so that they begin at moments that people name. */
const ROUND = [20_000, MINUTE, 2 * MINUTE, 5 * MINUTE, 15 * MINUTE, 60 * MINUTE, 6 * 60 * MINUTE, 24 * 60 * MINUTE]
const MOST = 72

/**
 * The steps in which a span of time is looked at, up to now: no more than 72 of them, and the last one holds now.
 * @param begun when the first copy was given
 */
export function timeSteps(span: TimeSpan, begun: number, now: number): TimeSteps {
  const from =
    span === 'ten minutes'
      ? now - 10 * MINUTE
      : span === 'two hours'
        ? now - 120 * MINUTE
        : Math.min(begun, now - 10 * MINUTE)
  const step =
    ROUND.find((one) => (now - from) / one <= MOST - 2) ??
    Math.ceil((now - from) / (MOST - 2) / ROUND.at(-1)!) * ROUND.at(-1)!
  const first = Math.floor(from / step) * step
  return { from: first, step, count: Math.floor((now - first) / step) + 1 }
}

/** How many copies were in each state at the end of each step; before it was given, a copy is not counted. */
export function statesOverTime(
  journals: Iterable<readonly JournalEntry[]>,
  { from, step, count }: TimeSteps,
): Readonly<Record<CopyState, number[]>> {
  const counts = Object.fromEntries(
    COPY_STATES.map((state) => [state, Array.from({ length: count }, () => 0)]),
  ) as Record<CopyState, number[]>
  for (const journal of journals) {
    let life = UNTOUCHED
    let given = false
    let at = 0
    for (let index = 0; index < count; index++) {
      const end = from + (index + 1) * step
      for (; at < journal.length && journal[at]!.at < end; at++) {
        const entry = journal[at]!
        given ||= entry.kind === 'given'
        life = afterEntry(life, entry)
      }
      if (given && !life.setAside) counts[life.state][index]!++
    }
  }
  return counts
}
