import { type PlannedHolder, type PlannedCopy, type Finding, type LeftOut } from './planned.js'
import { nameFrom, resolveClashes, token } from '../naming/pattern.js'
import { groupsByPerson } from './audience.js'
import type { PlanFacts } from './facts.js'
import { lookAtCover, lookAtMarking, lookAtNames, lookAtPeople, lookAtTimes } from './lookOver.js'
import { choosePeers } from './peers.js'
import { type Draft, type Planning, beginPlanning, groupSetOf, look, stop } from './planning.js'
import { slotInClass } from './slots.js'
import type { HandoutItem, SingleCopy, Statement } from './statement.js'
import { planItem } from './ways.js'

/** What only follows from what was chosen, and is told without being pointed out. */
const FOLLOWS: ReadonlySet<Finding['code']> = new Set([
  'numbered',
  'single',
  'nobody-writes',
  'classmates-edit',
  'no-match',
])

export const isNote = ({ code, stops }: Pick<Finding, 'code' | 'stops'>): boolean => !stops && FOLLOWS.has(code)

/** A message that should have gone out: one to a person for a handout, or to staff one for each of them. */
export interface PlannedNotice {
  /** Stable: nobody is sent the same notice twice. */
  readonly noticeKey: string
  readonly to: string
  /** Whose name is filled in. */
  readonly about: string
  readonly opensAt: number | null
}

export interface Plan {
  readonly copies: PlannedCopy[]
  readonly notices: PlannedNotice[]
  readonly findings: Finding[]
  readonly leftOut: LeftOut[]
}

/** More than so many messages at once to one person are pointed out. */
export const NOTICES_ADVICE = 30

/**
 * What a statement means for everybody in one class now: the copies that should exist, the notices that should have gone
 * out, what to look at, and who is left out. Pure, and independent of what exists: planning again gives the same.
 * @param now milliseconds since 1970; only findings depend on it
 */
export function planHandout(statement: Statement, facts: PlanFacts, now: number): Plan {
  const p = beginPlanning(statement, facts, now)
  if (statement.items.length === 0) stop(p, 'no-item', 'Choose a worksheet to give out.')
  if (facts.members.length === 0)
    stop(p, 'empty-class', `${facts.className} has no students yet: bring in its list first.`)
  lookAtTimes(p)
  lookAtMarking(p)
  for (const item of statement.items) planItem(p, item)
  const wanted = p.drafts.map(
    ({ item, slotKey, values, worksheet }) =>
      singleOf(p, item, slotKey)?.called ||
      nameFrom(item.pattern, values) ||
      nameFrom([token('title')], values) ||
      worksheet.title ||
      'Copy',
  )
  const titles = resolveClashes(wanted, 'Copy')
  const readers = peerReaders(p)
  const copies = p.drafts.map((draft, at) => copyOf(p, draft, titles[at]!, readers))
  lookAtNames(p, wanted, copies)
  lookAtSingle(p)
  lookAtPeople(p)
  return { copies, notices: notices(p, copies), findings: p.findings, leftOut: p.leftOut }
}

/** Whether nothing can be handed out as the statement stands. */
export function planStops(plan: Pick<Plan, 'findings'>): boolean {
  return plan.findings.some(({ stops }) => stops)
}

/**
 * Whether a statement that is always out, such as a shelf, cannot be. Unlike a slip it may be empty, and in an empty class it
 * waits for who comes in.
 */
export function standingStops(plan: Pick<Plan, 'findings'>): boolean {
  return plan.findings.some(({ stops, code }) => stops && code !== 'empty-class' && code !== 'no-item')
}

/** Slot key to the peer readers of its copy. */
function peerReaders(p: Planning): ReadonlyMap<string, readonly PlannedHolder[]> {
  const readers = new Map<string, readonly PlannedHolder[]>()
  for (const item of p.statement.items) {
    const { peers } = item
    if (!peers || (item.way !== 'one each' && item.way !== 'one per group')) continue
    const copies = p.drafts
      // What guests have is nobody's to read: who comes and goes changes no reader of the class.
      .filter((draft) => draft.item === item && p.byId.has(draft.holders[0]!.personId))
      .map(({ slotKey, holders }) => ({ slotKey, holders: holders.map(({ personId }) => personId) }))
    const who = copies.flatMap(({ holders }) => holders).filter((id) => p.byId.has(id))
    const set = groupSetOf(p, item) ?? p.facts.groupSets[0]
    const mates = new Map([...groupsByPerson(set)].map(([personId, { id }]) => [personId, id]))
    const chosen = choosePeers({ copies, readers: who, each: peers.each, mates, seed: peers.seed })
    for (const { slotKey, holders } of copies) {
      const byHand = peers.chosen[slotKey]?.filter((id) => p.byId.has(id) && !holders.includes(id))
      readers.set(
        slotKey,
        (byHand ?? chosen.get(slotKey) ?? []).map((personId) => ({ personId, permission: peers.may })),
      )
    }
    const fewest = Math.min(...copies.map(({ slotKey }) => readers.get(slotKey)?.length ?? 0))
    if (copies.length > 0 && fewest < peers.each)
      look(p, 'few-readers', `Some copies have ${fewest} peer readers, not ${peers.each}.`, { itemId: item.id })
  }
  return readers
}

function copyOf(
  p: Planning,
  draft: Draft,
  title: string,
  readers: ReadonlyMap<string, readonly PlannedHolder[]>,
): PlannedCopy {
  const { item, slotKey, holders, worksheet, edition, places } = draft
  const { opensAt, dueAt } = timesOf(p, holders)
  const may = singleOf(p, item, slotKey)?.may
  return {
    slotKey,
    itemId: item.id,
    way: item.way,
    title,
    worksheetId: worksheet.id,
    edition,
    link: item.link?.address ?? null,
    holders: may ? holders.map((holder) => ({ ...holder, permission: may })) : holders,
    readers: readers.get(slotKey) ?? NOBODY,
    classmatesMay: item.way === 'to read' ? 'none' : item.classmatesMay,
    mayInvite: item.mayInvite,
    places,
    opensAt,
    dueAt: item.way === 'to read' ? null : dueAt,
    pensDownAtDue: item.way !== 'to read' && p.statement.pensDownAtDue,
    lateWork: p.statement.lateWork,
  }
}

/** Copies with something of their own are told: it is not what the sentence says. */
function lookAtSingle(p: Planning): void {
  for (const item of p.statement.items) {
    const own = p.drafts.filter((draft) => draft.item.id === item.id && singleOf(p, item, draft.slotKey)).length
    if (own > 0)
      look(p, 'single', `${own} ${own === 1 ? 'copy has' : 'copies have'} a name or a permission of their own.`, {
        itemId: item.id,
      })
  }
}

/** What a copy has of its own. */
const singleOf = (p: Planning, item: HandoutItem, slotKey: string): SingleCopy | undefined =>
  item.single[slotInClass(slotKey, p.facts.classId)]

const NOBODY: readonly PlannedHolder[] = []

/** What the whole class shares has the times of the class; so many are no group any more. */
export const SHARED_BY_ALL = 30

/** The times of a copy: as for the class, or the most generous of the exceptions of those who share it. */
function timesOf(p: Planning, holders: readonly PlannedHolder[]): { opensAt: number | null; dueAt: number | null } {
  const { opensAt, dueAt } = p.times
  if (p.statement.exceptions.length === 0 || holders.length > SHARED_BY_ALL) return { opensAt, dueAt }
  const ids = new Set(holders.map(({ personId }) => personId))
  const exceptions = p.statement.exceptions.filter(({ personId }) => ids.has(personId))
  const opening = exceptions.flatMap((exception) => exception.opensAt ?? [])
  const due = exceptions.flatMap((exception) => exception.dueAt ?? [])
  // Who has a copy alone has the times that were set for them, be they earlier.
  const own = holders.filter(({ personId }) => p.byId.has(personId)).length === 1
  return {
    opensAt: opening.length === 0 ? opensAt : own ? opening[0]! : opensAt && Math.min(...opening, opensAt),
    dueAt: due.length === 0 ? dueAt : own ? due[0]! : dueAt && Math.max(...due, dueAt),
  }
}

function notices(p: Planning, copies: readonly PlannedCopy[]): PlannedNotice[] {
  const { cover } = p.statement
  if (!cover) return []
  const opening = new Map<string, number | null>()
  for (const { holders, opensAt } of copies)
    for (const { personId } of holders)
      if (p.byId.has(personId))
        opening.set(
          personId,
          opening.has(personId) ? Math.min(opening.get(personId) ?? 0, opensAt ?? 0) || null : opensAt,
        )
  const toStudents = [...opening].map(([personId, opensAt]): PlannedNotice => ({
    noticeKey: `notice:${personId}`,
    to: personId,
    about: personId,
    opensAt,
  }))
  lookAtCover(
    p,
    toStudents.map(({ to }) => to),
  )
  if (!cover.staffCopied) return toStudents
  if (toStudents.length > NOTICES_ADVICE && p.facts.staff.length > 0)
    look(
      p,
      'many-notices',
      `The staff are copied on every cover note: ${toStudents.length} messages to each of them at once.`,
    )
  return [
    ...toStudents,
    ...p.facts.staff.flatMap(({ personId }) =>
      toStudents.map(({ to, opensAt }): PlannedNotice => ({
        noticeKey: `notice:${to}:${personId}`,
        to: personId,
        about: to,
        opensAt,
      })),
    ),
  ]
}
