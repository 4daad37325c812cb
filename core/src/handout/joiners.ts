import { daysLater } from '../time/wallTime.js'
import type { Change } from './changes.js'
import type { Exception, Statement } from './statement.js'

const DAY = 86_400_000
/** Who comes when the due time is past has this long at least, and at most. */
const LEAST = DAY
const MOST = 14 * DAY

/**
 * The due time of somebody who gets a copy when the class's is past: as long as the class had, between one day and fourteen, and
 * at the hour of the class's. All in milliseconds since 1970.
 * @param from when the class could begin
 * @param timeZone IANA time zone of the school
 */
export function dueForJoiner(from: number, dueAt: number, now: number, timeZone: string): number {
  const time = Math.min(MOST, Math.max(LEAST, dueAt - from))
  return daysLater(dueAt, Math.ceil((now + time - dueAt) / DAY), timeZone)
}

/**
 * The statement with due times of single people taken over from another, so that the slip says what is true. Opening times are
 * the slip's; who has a due time of their own there keeps it.
 */
export function withOwnDue(statement: Statement, exceptions: readonly Exception[]): Statement {
  const own = new Map(statement.exceptions.map((exception) => [exception.personId, exception]))
  for (const exception of exceptions)
    own.set(exception.personId, { ...exception, dueAt: own.get(exception.personId)?.dueAt ?? exception.dueAt })
  return { ...statement, exceptions: [...own.values()] }
}

/**
 * The statement with a due time of their own for whoever would get a copy alone that is overdue at once; null if there is nobody.
 * @param from when the class could begin
 */
export function withDueForJoiners(
  statement: Statement,
  changes: readonly Change[],
  from: number,
  now: number,
  timeZone: string,
): Statement | null {
  const known = new Set(statement.exceptions.flatMap(({ personId, dueAt }) => (dueAt === null ? [] : [personId])))
  const late = changes.flatMap((change) => {
    if (change.kind !== 'create') return []
    const { holders, dueAt } = change.copy
    const [holder] = holders
    return holders.length === 1 && holder && dueAt !== null && dueAt <= now && !known.has(holder.personId)
      ? [{ personId: holder.personId, dueAt }]
      : []
  })
  if (late.length === 0) return null
  const exceptions = new Map(statement.exceptions.map((exception) => [exception.personId, exception]))
  for (const { personId, dueAt } of late)
    exceptions.set(personId, {
      personId,
      opensAt: exceptions.get(personId)?.opensAt ?? null,
      dueAt: dueForJoiner(from, dueAt, now, timeZone),
    })
  return { ...statement, exceptions: [...exceptions.values()] }
}
