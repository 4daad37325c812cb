import type { NameValues } from '../naming/pattern.js'
import { foldText, fullName } from '../roster/names.js'
import { groupsByPerson } from './audience.js'
import type { PlanFacts } from './facts.js'
import { type Statement, findRef, linkTitle, timesFor } from './statement.js'

/** What the tokens of a cover note say for one person: as in names, with the titles of all items, and the due day. */
export function noticeValues(statement: Statement, facts: PlanFacts, personId: string): NameValues {
  const member = facts.members.find((candidate) => candidate.personId === personId)
  const set = statement.items.map(({ groupSet }) => groupSet).find((ref) => ref !== null)
  const group = set && groupsByPerson(findRef(facts.groupSets, set)).get(personId)
  const names = new Map(facts.members.map((one) => [one.personId, fullName(one)]))
  const titles = statement.items.flatMap(({ worksheetId, link }) => {
    const title = link ? linkTitle(link) : facts.worksheets.find(({ id }) => id === worksheetId)?.title
    return title ? [title] : []
  })
  const own = statement.exceptions.find((exception) => exception.personId === personId)?.dueAt
  const dueAt = own ?? timesFor(statement, facts.classId).dueAt
  return {
    last: member?.last ?? '',
    // Who goes by one name is spoken to by it.
    first: member ? member.first || member.last : '',
    group: group?.name ?? '',
    members: (group?.personIds ?? [personId]).flatMap((id) => names.get(id) ?? []).join(', '),
    title: [...new Set(titles)].join(', '),
    number: String(facts.number),
    class: facts.className,
    unit: statement.unit ? (findRef(facts.units, statement.unit)?.name ?? statement.unit.name) : '',
    date: new Intl.DateTimeFormat(facts.locale, { day: 'numeric', month: 'short', timeZone: facts.timeZone }).format(
      dueAt ?? facts.begunAt,
    ),
    columns: new Map(facts.columns.map(({ id, name }) => [foldText(name), member?.cells?.[id] ?? ''])),
  }
}
