import { slotInClass, slotOf } from './slots.js'
import type { Audience, Exception, HandoutItem, Statement } from './statement.js'

/**
 * The statement with single people of a class given to as well: who was left out by name is not any more, and who was taken back
 * by hand is given again. Whom a slip chooses by a column or by groups it goes on choosing so: of these nobody comes in by name.
 */
export function withGivenTo(statement: Statement, personIds: readonly string[], classId: string): Statement {
  return { ...statement, items: statement.items.map((item) => itemGivenTo(item, new Set(personIds), classId)) }
}

function itemGivenTo(item: HandoutItem, people: ReadonlySet<string>, classId: string): HandoutItem {
  const again = new Set([...people].flatMap((id) => [slotOf(item.id, id), slotInClass(slotOf(item.id, id), classId)]))
  return {
    ...item,
    audience: audienceWith(item.audience, people),
    without: item.without.filter((slot) => !again.has(slot)),
  }
}

function audienceWith(audience: Audience, people: ReadonlySet<string>): Audience {
  if (audience.kind === 'some') return { kind: 'some', personIds: [...new Set([...audience.personIds, ...people])] }
  if (audience.kind !== 'all but') return audience
  const personIds = audience.personIds.filter((id) => !people.has(id))
  return personIds.length > 0 ? { kind: 'all but', personIds } : { kind: 'all' }
}

/**
 * The statement with another due time for single people; when theirs opens stays as it is.
 * @param dueAt milliseconds since 1970
 */
export function withDueFor(statement: Statement, personIds: readonly string[], dueAt: number): Statement {
  const own = new Map(statement.exceptions.map((exception) => [exception.personId, exception]))
  for (const personId of personIds)
    own.set(personId, { personId, opensAt: own.get(personId)?.opensAt ?? null, dueAt } satisfies Exception)
  return { ...statement, exceptions: [...own.values()] }
}
