import type { NameValues } from '../naming/pattern.js'
import { foldText, fullName } from '../roster/names.js'
import { groupsByPerson } from './audience.js'
import type { PlanFacts } from './facts.js'
import { type Statement, findRef, linkTitle, timesFor } from './statement.js'

/**
 * What the tokens of a cover note say for each person: as in names, with the titles of all items; the date is the due day, and
 * nothing where there is none.
 * @returns by the id of the person; what all have in common is worked out once
 */
export function noticeValues(statement: Statement, facts: PlanFacts): (personId: string) => NameValues {
  const members = new Map(facts.members.map((member) => [member.personId, member]))
  const set = statement.items.map(({ groupSet }) => groupSet).find((ref) => ref !== null)
  const groups = groupsByPerson(set ? findRef(facts.groupSets, set) : undefined)
  const titles = statement.items.flatMap(({ worksheetId, link }) => {
    const title = link ? linkTitle(link) : facts.worksheets.find(({ id }) => id === worksheetId)?.title
    return title ? [title] : []
  })
  const dues = new Map(statement.exceptions.map(({ personId, dueAt }) => [personId, dueAt]))
  const ofClass = timesFor(statement, facts.classId).dueAt
  const day = new Intl.DateTimeFormat(facts.locale, { day: 'numeric', month: 'short', timeZone: facts.timeZone })
  const common = {
    title: [...new Set(titles)].join(', '),
    number: String(facts.number),
    class: facts.className,
    unit: statement.unit ? (findRef(facts.units, statement.unit)?.name ?? statement.unit.name) : '',
  }
  return (personId) => {
    const member = members.get(personId)
    const group = groups.get(personId)
    const dueAt = dues.get(personId) ?? ofClass
    return {
      ...common,
      last: member?.last ?? '',
      // Who goes by one name is spoken to by it.
      first: member ? member.first || member.last : '',
      group: group?.name ?? '',
      members: (group?.personIds ?? [personId])
        .flatMap((id) => {
          const one = members.get(id)
          return one ? [fullName(one)] : []
        })
        .join(', '),
      date: dueAt === null ? '' : day.format(dueAt),
      columns: new Map(facts.columns.map(({ id, name }) => [foldText(name), member?.cells?.[id] ?? ''])),
    }
  }
}
