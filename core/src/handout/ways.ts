import type { Permission } from '../access/permission.js'
import { gathered } from '../common/gathered.js'
import { GROUP_SIZE_ADVICE, areTwo } from '../groups/set.js'
import { nameTwins } from '../groups/twins.js'
import type { NameValues } from '../naming/pattern.js'
import { foldText, fullName } from '../roster/names.js'
import { audienceOf, groupsByPerson, noColumn, noGroupSet, rulesOf } from './audience.js'
import type { PlanFacts, PlanGroup, PlanMember, PlanWorksheet } from './facts.js'
import { checkWorksheets } from './lookOver.js'
import { columnsNamed } from './note.js'
import type { PlaceOfGroup } from './planned.js'
import { type Planning, groupSetOf, leaveOut, look, stop } from './planning.js'
import { slotInClass, slotOf, slotOfGroup, slotOwn, slotToRead, slotTogether } from './slots.js'
import { type HandoutItem, linkTitle, patternOf } from './statement.js'

/** Drafts the copies of an item, the way it is given. */
export function planItem(p: Planning, item: HandoutItem) {
  const { facts } = p
  const before = p.findings.filter(({ stops }) => stops).length
  const reached = audienceOf(item, facts)
  if (!reached.ok) return stop(p, reached.code, reached.sentence, item.id)
  const chosen = new Set(reached.members)
  for (const member of facts.members) if (!chosen.has(member)) leaveOut(p, item, member, 'not chosen', true)
  if (facts.members.length > 0 && reached.members.length === 0)
    stop(p, 'nobody', 'Nobody is chosen: say who this is for.', item.id)
  const rules = rulesOf(item, facts)
  if (!rules.ok) return stop(p, item.match?.by === 'group' ? 'no-group-set' : 'no-column', rules.sentence, item.id)
  for (const name of columnsNamed(null, item.pattern))
    if (!facts.columns.some((column) => foldText(column.name) === foldText(name)))
      look(p, 'no-value', `${noColumn(facts, name)} It says nothing in the names.`, { itemId: item.id })
  checkWorksheets(p, item)
  if (p.findings.filter(({ stops }) => stops).length > before) return
  const worksheetFor = (member: PlanMember) => {
    const rule = rules.ruleFor(member)
    const [worksheetId, edition] = rule ? [rule.worksheetId, rule.edition] : [item.worksheetId, item.edition]
    const worksheet = facts.worksheets.find(({ id }) => id === worksheetId)
    return worksheet && edition !== null ? { worksheet, edition, byRule: rule !== null } : null
  }
  switch (item.way) {
    case 'one each':
      return oneEach(p, item, reached.members, worksheetFor)
    case 'one per group':
      return onePerGroup(p, item, reached.members, worksheetFor)
    case 'one together':
      return oneTogether(p, item, reached.members, worksheetFor)
    case 'to read':
      return toRead(p, item, reached.members, worksheetFor)
  }
}

/** Whether a copy was taken back by hand: in all classes, or in this one. */
const isTakenBack = ({ facts }: Planning, { without }: HandoutItem, slotKey: string): boolean =>
  without.includes(slotKey) || without.includes(slotInClass(slotKey, facts.classId))

function personValues(p: Planning, member: PlanMember, title: string, group: PlanGroup | null): NameValues {
  // Field by field: spreading what is common takes ten times as long, for each of a thousand.
  const { class: className, number, unit, date } = p.common
  return {
    class: className,
    number,
    unit,
    date,
    title,
    last: member.last,
    first: member.first,
    group: group?.name ?? '',
    members: fullName(member),
    columns: columnsOf(p, member),
  }
}

function columnsOf(p: Planning, member: PlanMember): ReadonlyMap<string, string> {
  if (p.facts.columns.length === 0 || !member.cells) return NO_COLUMNS
  return new Map(p.facts.columns.map(({ id, name }) => [foldText(name), member.cells?.[id] ?? '']))
}

function oneEach(p: Planning, item: HandoutItem, members: readonly PlanMember[], worksheetFor: WorksheetFor) {
  const groups = groupsByPerson(groupSetOf(p, item))
  const withGroup = item.groupSet !== null
  const guests = guestsOf(p, item)
  const inPlace = gathered(
    guests.filter(({ match }) => match?.beside === false),
    ({ match }) => match!.personId,
    (guest) => guest,
  )
  let unmatched = 0
  for (const member of members) {
    const slotKey = slotOf(item.id, member.personId)
    if (isTakenBack(p, item, slotKey)) {
      leaveOut(p, item, member, 'taken back by hand', true)
      continue
    }
    const found = worksheetFor(member)
    if (!found) {
      unmatched++
      leaveOut(p, item, member, 'no rule fits, and there is no worksheet for all others')
      continue
    }
    if (item.match && !found.byRule) {
      unmatched++
      look(p, 'no-match', 'no rule fits: gets the worksheet for all others', { slotKey })
    }
    const group = withGroup ? (groups.get(member.personId) ?? null) : null
    p.drafts.push({
      item,
      slotKey,
      holders: [
        { personId: member.personId, permission: item.holdersMay },
        ...(inPlace.get(member.personId) ?? []).map(({ personId, permission }) => ({ personId, permission })),
      ],
      ...worksheetOf(item, slotKey, found),
      group,
      places: [],
      values: personValues(p, member, titleOf(item, found.worksheet), group),
    })
  }
  if (item.match && unmatched > 0)
    look(p, 'no-match', `${unmatched} ${unmatched === 1 ? 'student fits' : 'students fit'} no rule.`, {
      itemId: item.id,
    })
  for (const guest of guests) {
    const found = worksheetFor(UNKNOWN)
    const slotKey = slotOf(item.id, guest.personId)
    if (!found || guest.match?.beside === false || isTakenBack(p, item, slotKey)) continue
    const student = guest.match && p.byId.get(guest.match.personId)
    p.drafts.push({
      item,
      slotKey,
      holders: [
        { personId: guest.personId, permission: guest.permission },
        ...(student ? [{ personId: student.personId, permission: item.holdersMay }] : []),
      ],
      ...worksheetOf(item, slotKey, found),
      group: null,
      places: [],
      values: { ...p.common, title: titleOf(item, found.worksheet), last: guest.name, members: guest.name },
    })
  }
}

function onePerGroup(p: Planning, item: HandoutItem, members: readonly PlanMember[], worksheetFor: WorksheetFor) {
  const set = groupSetOf(p, item)
  if (!set)
    return stop(
      p,
      'no-group-set',
      item.groupSet ? noGroupSet(p.facts, item.groupSet.name) : 'Say which groups: choose a group set.',
      item.id,
    )
  const chosen = new Set(members.map(({ personId }) => personId))
  const placed = new Set<string>()
  for (const group of set.groups) {
    const inIt = group.personIds.filter((id) => chosen.has(id)).map((id) => p.byId.get(id)!)
    inIt.forEach(({ personId }) => placed.add(personId))
    if (inIt.length === 0) continue
    const slotKey = slotOfGroup(item.id, group.id)
    if (isTakenBack(p, item, slotKey)) {
      inIt.forEach((member) => leaveOut(p, item, member, 'taken back by hand', true))
      continue
    }
    const found = worksheetFor(inIt[0]!)
    if (!found) {
      inIt.forEach((member) => leaveOut(p, item, member, 'no rule fits, and there is no worksheet for all others'))
      continue
    }
    if (item.match && !found.byRule) look(p, 'no-match', 'no rule fits: gets the worksheet for all others', { slotKey })
    if (inIt.length > GROUP_SIZE_ADVICE)
      look(p, 'crowded', `${inIt.length} share this copy: more than ${GROUP_SIZE_ADVICE} get in each other’s way`, {
        slotKey,
      })
    const names = inIt.map(fullName).join(', ')
    p.drafts.push({
      item,
      slotKey,
      holders: inIt.map(({ personId }) => ({ personId, permission: item.holdersMay })),
      ...worksheetOf(item, slotKey, found),
      group,
      places: [{ id: group.id, name: group.name, personIds: inIt.map(({ personId }) => personId) }],
      values: {
        ...p.common,
        title: titleOf(item, found.worksheet),
        group: group.name,
        members: names,
        columns: commonCells(inIt.map((member) => columnsOf(p, member))),
      },
    })
  }
  for (const { keep, other } of nameTwins(
    set.groups.map(({ id, name, personIds }) => ({ id, name, size: personIds.length })),
  ))
    if (!areTwo(set.different ?? [], keep.id, other.id))
      look(p, 'group-twins', `${keep.name} and ${other.name} of ${set.name} look like one group written twice.`, {
        itemId: item.id,
      })
  const alone = members.filter(({ personId }) => !placed.has(personId))
  for (const member of alone) leaveOut(p, item, member, `in no group of ${set.name}`)
  if (alone.length > 0)
    look(
      p,
      'in-no-group',
      `In no group of ${set.name}, so without a copy: ${alone.slice(0, 5).map(fullName).join(', ')}${alone.length > 5 ? ` and ${alone.length - 5} more` : ''}.`,
      { itemId: item.id },
    )
  if (p.drafts.every((draft) => draft.item !== item) && members.length > 0)
    stop(p, 'nobody', `No group of ${set.name} has anybody in it.`, item.id)
}

function oneTogether(p: Planning, item: HandoutItem, members: readonly PlanMember[], worksheetFor: WorksheetFor) {
  const slotKey = slotTogether(item.id)
  const found = worksheetFor(UNKNOWN)
  if (!found || members.length === 0) return
  if (isTakenBack(p, item, slotKey))
    return members.forEach((member) => leaveOut(p, item, member, 'taken back by hand', true))
  const given = worksheetOf(item, slotKey, found)
  const edition = given.worksheet.editions.find(({ number }) => number === given.edition)
  const set = groupSetOf(p, item)
  if (item.groupSet && !set) return stop(p, 'no-group-set', noGroupSet(p.facts, item.groupSet.name), item.id)
  const chosen = new Set(members.map(({ personId }) => personId))
  const places = edition?.groupSpaces
    ? (set?.groups ?? []).flatMap(({ id, name, personIds }): PlaceOfGroup[] => {
        const inIt = personIds.filter((personId) => chosen.has(personId))
        return inIt.length ? [{ id, name, personIds: inIt }] : []
      })
    : []
  if (edition?.groupSpaces && !set)
    look(p, 'in-no-group', 'It has a place for each group: say of which group set.', { itemId: item.id })
  p.drafts.push({
    item,
    slotKey,
    holders: [
      ...members.map(({ personId }) => ({ personId, permission: item.holdersMay })),
      ...guestsOf(p, item).map(({ personId, permission }) => ({ personId, permission })),
    ],
    ...given,
    group: null,
    places,
    values: { ...p.common, title: titleOf(item, found.worksheet) },
  })
}

function toRead(p: Planning, item: HandoutItem, members: readonly PlanMember[], worksheetFor: WorksheetFor) {
  // The original is there once for all who get the same one.
  const byWorksheet = new Map<string, { found: Found; readers: PlanMember[] }>()
  for (const member of members) {
    const found = item.link ? linkOf(p.facts) : worksheetFor(member)
    if (!found) {
      leaveOut(p, item, member, 'no rule fits, and there is no worksheet for all others')
      continue
    }
    const entry = byWorksheet.get(found.worksheet.id) ?? { found, readers: [] }
    entry.readers.push(member)
    byWorksheet.set(found.worksheet.id, entry)
  }
  for (const [worksheetId, { found, readers }] of byWorksheet) {
    const own = !item.match || worksheetId === item.worksheetId || item.link !== null
    const slotKey = slotToRead(item.id, own ? null : worksheetId)
    if (isTakenBack(p, item, slotKey)) {
      readers.forEach((member) => leaveOut(p, item, member, 'taken back by hand', true))
      continue
    }
    p.drafts.push({
      item,
      slotKey,
      holders: [
        ...readers.map(({ personId }) => ({ personId, permission: atMostComment(item.holdersMay) })),
        ...(own
          ? guestsOf(p, item).map(({ personId, permission }) => ({
              personId,
              permission: atMostComment(permission),
            }))
          : []),
      ],
      ...worksheetOf(item, slotKey, found),
      group: null,
      places: [],
      values: { ...p.common, title: titleOf(item, found.worksheet) },
    })
  }
  for (const { itemId, personId } of p.facts.ownCopies) {
    const member = itemId === item.id ? members.find((one) => one.personId === personId) : undefined
    const found = member && worksheetFor(member)
    const slotKey = slotOwn(item.id, personId)
    if (!found || isTakenBack(p, item, slotKey)) continue
    p.drafts.push({
      item: { ...item, way: 'one each', holdersMay: 'edit', pattern: patternOf('one each') },
      slotKey,
      holders: [{ personId, permission: 'edit' }],
      ...worksheetOf(item, slotKey, found),
      group: null,
      places: [],
      values: personValues(p, member, titleOf(item, found.worksheet), null),
    })
  }
}

/** The worksheet of a copy: in the edition that is given, or the earlier one that it stays on. */
function worksheetOf(item: HandoutItem, slotKey: string, { worksheet, edition }: Found) {
  const earlier = item.earlier[slotKey]
  return {
    worksheet,
    edition: earlier !== undefined && worksheet.editions.some(({ number }) => number === earlier) ? earlier : edition,
  }
}

function guestsOf(p: Planning, item: HandoutItem) {
  return p.facts.guests.filter(({ itemId }) => itemId === item.id)
}

interface Found {
  readonly worksheet: PlanWorksheet
  readonly edition: number
  readonly byRule: boolean
}
type WorksheetFor = (member: PlanMember) => Found | null

const NO_COLUMNS: ReadonlyMap<string, string> = new Map()
/** Nobody of the roster: no rule fits them. */
const UNKNOWN: PlanMember = { personId: '', first: '', last: '', email: null }

/** The built-in worksheet that stands where a link is given; null: this school has none. */
function linkOf({ worksheets }: PlanFacts): Found | null {
  const worksheet = worksheets.find(({ builtIn }) => builtIn === 'link')
  return worksheet ? { worksheet, edition: 1, byRule: true } : null
}

const atMostComment = (permission: Permission): Permission => (permission === 'edit' ? 'comment' : permission)

const titleOf = (item: HandoutItem, worksheet: PlanWorksheet): string =>
  item.link ? linkTitle(item.link) : worksheet.title

/** What stands in the columns of everybody alike. */
function commonCells(cells: readonly ReadonlyMap<string, string>[]): ReadonlyMap<string, string> {
  const [first, ...others] = cells
  return new Map([...(first ?? NO_COLUMNS)].filter(([name, text]) => others.every((other) => other.get(name) === text)))
}
