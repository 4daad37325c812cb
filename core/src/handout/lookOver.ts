import { nameKey } from '../naming/pattern.js'
import { foldText, fullName, listName } from '../roster/names.js'
import type { PlanWorksheet } from './facts.js'
import { emptyTokens, noteProblems } from './note.js'
import { noticeValues } from './noticeValues.js'
import type { PlannedCopy } from './planned.js'
import { type Planning, look, stop } from './planning.js'
import type { HandoutItem } from './statement.js'

// What a teacher may want to look at before handing out.

export function lookAtTimes(p: Planning) {
  const { opensAt, dueAt } = p.times
  if (dueAt !== null && dueAt < p.now)
    look(
      p,
      'due-past',
      p.statement.pensDownAtDue
        ? `The due time of ${p.facts.className} is in the past: pens would be down at once.`
        : `The due time of ${p.facts.className} is in the past: every copy would be overdue at once.`,
    )
  if (opensAt !== null && dueAt !== null && opensAt >= dueAt)
    look(p, 'opens-after-due', `For ${p.facts.className} it opens after it is due.`)
}

export function lookAtMarking(p: Planning) {
  const { marking, rubric } = p.statement
  if (rubric.length === 0) return
  if (marking.kind === 'ungraded' || marking.kind === 'not marked')
    return look(p, 'ungraded-rubric', 'There is a rubric, but the handout is ungraded: its points count for nothing.')
  const sum = rubric.reduce((total, { points }) => total + points, 0)
  if (marking.kind === 'points' && Math.abs(sum - marking.points) > 1e-9)
    look(p, 'points-differ', `The rubric adds up to ${sum} points, the handout to ${marking.points}.`)
}

export function checkWorksheets(p: Planning, item: HandoutItem) {
  if (item.link) {
    if (!item.link.address) stop(p, 'no-link', 'Give the address that the link leads to.', item.id)
    return
  }
  const chosen = [
    ...(item.worksheetId !== null || !item.match ? [{ worksheetId: item.worksheetId, edition: item.edition }] : []),
    ...(item.match?.rules ?? []),
  ]
  for (const { worksheetId, edition } of chosen) {
    if (!worksheetId) {
      stop(p, 'no-worksheet', 'Choose a worksheet to give out.', item.id)
      continue
    }
    const worksheet = p.facts.worksheets.find(({ id }) => id === worksheetId)
    if (!worksheet) {
      stop(p, 'worksheet-gone', 'This worksheet is not yours to give out, or no longer there: choose another.', item.id)
      continue
    }
    const kept = worksheet.editions.find(({ number }) => number === edition)
    if (!kept) stop(p, 'no-edition', `“${worksheet.title}” has no kept edition yet: open it and keep one.`, item.id)
    else lookAtWorksheet(p, item, worksheet, kept)
  }
  if (item.way === 'to read') return
  if (item.holdersMay !== 'edit')
    look(p, 'nobody-writes', 'They may only look: nobody can write in these copies.', { itemId: item.id })
  if (item.classmatesMay === 'edit')
    look(p, 'classmates-edit', 'Classmates may write in each other’s copies.', { itemId: item.id })
}

function lookAtWorksheet(
  p: Planning,
  item: HandoutItem,
  worksheet: PlanWorksheet,
  edition: PlanWorksheet['editions'][number],
) {
  const at = { itemId: item.id }
  if (item.way === 'to read') return
  if (edition.answerSpaces === 0)
    look(p, 'no-answer-spaces', `“${worksheet.title}” has no answer space: there is nowhere to write.`, at)
  const { marking } = p.statement
  const graded = p.statement.items.filter(({ way, link }) => way !== 'to read' && !link)
  if (marking.kind === 'spaces' && edition.points === 0)
    look(
      p,
      'no-points',
      `It is marked by the points of the answer spaces, and those of “${worksheet.title}” have none.`,
      at,
    )
  if (marking.kind === 'points' && edition.points > 0 && graded.length === 1 && edition.points !== marking.points)
    look(
      p,
      'points-differ',
      `The answer spaces of “${worksheet.title}” add up to ${edition.points} points, the handout to ${marking.points}.`,
      at,
    )
  if (
    item.way === 'one together' &&
    item.holdersMay === 'edit' &&
    edition.answerSpaces > 0 &&
    edition.memberSpaces === 0 &&
    !(edition.groupSpaces > 0 && item.groupSet)
  )
    look(
      p,
      'original-edited',
      `Everybody writes in the same answer spaces of “${worksheet.title}”: whoever comes first fills it in. Give it one each, or put in a section with a place for each.`,
      at,
    )
}

export function lookAtNames(p: Planning, wanted: readonly string[], copies: readonly PlannedCopy[]) {
  const byItem = new Map<string, { names: Set<string>; count: number }>()
  copies.forEach(({ itemId }, at) => {
    const entry = byItem.get(itemId) ?? { names: new Set<string>(), count: 0 }
    entry.names.add(nameKey(wanted[at]!))
    entry.count++
    byItem.set(itemId, entry)
  })
  const alike = new Set<string>()
  for (const [itemId, { names, count }] of byItem)
    if (count > 1 && names.size === 1) {
      alike.add(itemId)
      look(p, 'same-name', 'The pattern gives every copy the same name; they are numbered. Put a name token into it.', {
        itemId,
      })
    }
  copies.forEach(({ slotKey, title, itemId }, at) => {
    if (title !== wanted[at] && !alike.has(itemId))
      look(p, 'numbered', 'numbered: another copy has this name', { slotKey })
  })
  for (const item of p.statement.items) {
    const drafts = p.drafts.filter((draft) => draft.item === item)
    if (drafts.length === 0) continue
    for (const part of item.pattern)
      if (part.kind === 'token' && drafts.every(({ values }) => !values[part.token]))
        look(p, 'no-value', SAYS_NOTHING[part.token] ?? 'A token says nothing in these names.', { itemId: item.id })
  }
}

export function lookAtPeople(p: Planning) {
  const seen = new Map<string, string>()
  const given = new Map<string, string>()
  for (const { item, slotKey, holders, worksheet, group } of p.drafts) {
    if (item.way === 'to read' || item.way === 'one together') continue
    for (const { personId } of holders) {
      const member = p.byId.get(personId)
      if (!member) continue
      if (!member.email)
        look(
          p,
          'no-email',
          holders.length === 1 ? 'no e-mail: cannot sign in yet' : `no e-mail: ${fullName(member)} cannot sign in yet`,
          { slotKey },
        )
      const twice = given.get(`${personId} ${worksheet.id}`)
      if (twice !== undefined && !worksheet.builtIn)
        look(p, 'twice', `${listName(member)} gets this worksheet twice in one handout`, { slotKey })
      else given.set(`${personId} ${worksheet.id}`, slotKey)
      if (group && holders.length > 1) continue
      const key = `${item.id} ${foldText(fullName(member))}`
      const other = seen.get(key)
      if (other !== undefined && other !== personId) look(p, 'namesake', 'same name as another student', { slotKey })
      else seen.set(key, personId)
    }
  }
}

/** What of the cover note goes out otherwise than it looks: words in brackets that are no token, and tokens that say nothing. */
export function lookAtCover(p: Planning, people: readonly string[]) {
  const { cover } = p.statement
  if (!cover) return
  for (const { sentence } of noteProblems(
    cover.text,
    p.facts.columns.map(({ name }) => name),
  ))
    look(p, 'unknown-token', `In the cover note: ${sentence}`)
  const valuesFor = noticeValues(p.statement, p.facts)
  const silent = new Map<string, string[]>()
  for (const personId of people)
    for (const word of emptyTokens(cover.text, valuesFor(personId))) {
      const member = p.byId.get(personId)
      const names = silent.get(word) ?? []
      silent.set(word, names)
      if (member) names.push(fullName(member))
    }
  for (const [word, names] of silent)
    look(
      p,
      'no-value',
      names.length === people.length
        ? `In the cover note, ${word} says nothing.`
        : `In the cover note, ${word} says nothing for ${names.slice(0, 3).join(', ')}${names.length > 3 ? ` and ${names.length - 3} more` : ''}.`,
    )
}

const SAYS_NOTHING: Partial<Record<string, string>> = {
  last: 'Last name says nothing for a copy that several share: use Group or Members.',
  first: 'First name says nothing for a copy that several share: use Group or Members.',
  group: 'Group says nothing here: no group set is chosen for this slip.',
  members: 'Members says nothing for a copy that the whole class shares.',
  unit: 'Unit says nothing: this handout is in no unit.',
}
