import { fingerprintOf } from '../common/fingerprint.js'
import { type ExistingCopy, type Existing } from './existing.js'
import { isSame } from '../worksheet/same.js'
import { type Carried, type CarryWishes, carryOver } from './carry.js'
import type { Plan, PlannedNotice } from './plan.js'
import type { PlannedCopy } from './planned.js'

export type Permissions = Pick<PlannedCopy, 'holders' | 'readers' | 'classmatesMay' | 'mayInvite' | 'places'>
type Times = Pick<PlannedCopy, 'opensAt' | 'dueAt' | 'pensDownAtDue' | 'lateWork'>
type Worksheet = Pick<PlannedCopy, 'worksheetId' | 'edition' | 'link'>

/** One difference between what should exist and what does. `slotKey`: of the copy, or of the notice. */
export type Change =
  | { readonly kind: 'create'; readonly slotKey: string; readonly copy: PlannedCopy }
  | { readonly kind: 'rename'; readonly slotKey: string; readonly title: string }
  | ({ readonly kind: 'permit'; readonly slotKey: string } & Permissions)
  | ({ readonly kind: 'move'; readonly slotKey: string } & Worksheet)
  | ({ readonly kind: 'date'; readonly slotKey: string } & Times)
  | { readonly kind: 'set aside'; readonly slotKey: string }
  | { readonly kind: 'bring back'; readonly slotKey: string }
  | ({ readonly kind: 'carry' } & Carried)
  | { readonly kind: 'notify'; readonly slotKey: string; readonly notice: PlannedNotice }

export type ChangeKind = Change['kind']

/**
 * What must change so that exactly the planned copies exist and the planned notices went out. A copy that is no longer
 * planned is set aside, never removed; planned again, it is brought back with all that was written in it.
 * @param wishes what becomes of writing in copies that are set aside; left out: kept aside
 * @returns the changes of the copies in the order of the plan, then what is set aside, what is carried over, and the
 * notices; empty when the plan is true already
 */
export function changesToPlan(
  plan: Pick<Plan, 'copies' | 'notices'>,
  existing: Existing,
  wishes: CarryWishes = new Map(),
): Change[] {
  const bySlot = new Map(existing.copies.map((copy) => [copy.slotKey, copy]))
  const changes: Change[] = []
  for (const copy of plan.copies) {
    const { slotKey } = copy
    const now = bySlot.get(slotKey)
    if (!now) {
      changes.push({ kind: 'create', slotKey, copy })
      continue
    }
    if (now.setAside) changes.push({ kind: 'bring back', slotKey })
    if (now.title !== copy.title) changes.push({ kind: 'rename', slotKey, title: copy.title })
    if (!samePermissions(now, copy)) changes.push({ kind: 'permit', slotKey, ...permissionsOf(copy) })
    if (now.worksheetId !== copy.worksheetId || now.edition !== copy.edition || now.link !== copy.link)
      changes.push({ kind: 'move', slotKey, worksheetId: copy.worksheetId, edition: copy.edition, link: copy.link })
    if (!isSame(timesOf(now), timesOf(copy))) changes.push({ kind: 'date', slotKey, ...timesOf(copy) })
  }
  const kept = new Set(plan.copies.map(({ slotKey }) => slotKey))
  for (const { slotKey, setAside } of existing.copies)
    if (!setAside && !kept.has(slotKey)) changes.push({ kind: 'set aside', slotKey })
  if ([...wishes.values()].some(({ carry }) => carry !== 'keep aside'))
    for (const carried of carryOver(plan.copies, existing, wishes).carried) changes.push({ kind: 'carry', ...carried })
  const sent = new Set(existing.notices)
  for (const notice of plan.notices)
    if (!sent.has(notice.noticeKey)) changes.push({ kind: 'notify', slotKey: notice.noticeKey, notice })
  return changes
}

const permissionsOf = ({ holders, readers, classmatesMay, mayInvite, places }: Permissions): Permissions => ({
  holders,
  readers,
  classmatesMay,
  mayInvite,
  places,
})

const timesOf = ({ opensAt, dueAt, pensDownAtDue, lateWork }: Times): Times => ({
  opensAt,
  dueAt,
  pensDownAtDue,
  lateWork,
})

const samePermissions = (a: Permissions, b: Permissions) =>
  a.classmatesMay === b.classmatesMay &&
  a.mayInvite === b.mayInvite &&
  samePeople(a.holders, b.holders) &&
  samePeople(a.readers, b.readers) &&
  isSame(a.places, b.places)

/** Whether two lists have the same people with the same permissions, in whatever order. */
export function samePeople(a: Permissions['holders'], b: Permissions['holders']): boolean {
  if (a.length !== b.length) return false
  if (a.length === 1) return a[0]!.personId === b[0]!.personId && a[0]!.permission === b[0]!.permission
  const permissions = new Map(a.map(({ personId, permission }) => [personId, permission]))
  return b.every(({ personId, permission }) => permissions.get(personId) === permission)
}

/**
 * What exists after some changes. The database does the same in statements that concern many rows at once; this is what they
 * are tested against.
 */
export function applyChanges(existing: Existing, changes: readonly Change[]): Existing {
  const bySlot = new Map(existing.copies.map((copy) => [copy.slotKey, copy]))
  const notices = new Set(existing.notices)
  const alter = (slotKey: string, alteration: (copy: ExistingCopy) => Partial<ExistingCopy>) => {
    const copy = bySlot.get(slotKey)
    if (copy) bySlot.set(slotKey, { ...copy, ...alteration(copy) })
  }
  for (const change of changes) {
    switch (change.kind) {
      case 'create':
        if (!bySlot.has(change.slotKey))
          bySlot.set(change.slotKey, { ...change.copy, setAside: false, opened: false, submitted: false, written: {} })
        break
      case 'rename':
        alter(change.slotKey, () => ({ title: change.title }))
        break
      case 'permit':
        alter(change.slotKey, () => permissionsOf(change))
        break
      case 'move':
        alter(change.slotKey, () => ({
          worksheetId: change.worksheetId,
          edition: change.edition,
          link: change.link,
        }))
        break
      case 'date':
        alter(change.slotKey, () => timesOf(change))
        break
      case 'set aside':
        alter(change.slotKey, () => ({ setAside: true }))
        break
      case 'bring back':
        alter(change.slotKey, () => ({ setAside: false }))
        break
      case 'carry':
        alter(change.slotKey, ({ written }) => ({
          written: { [change.toSpace]: [...new Set(change.sources.flatMap(({ by }) => by))], ...written },
        }))
        break
      case 'notify':
        notices.add(change.slotKey)
        break
    }
  }
  return { copies: [...bySlot.values()], notices: [...notices] }
}

/** How many copies changes make, change and set aside, and how many cover notes go out. Each copy is counted once. */
export interface CopyCounts {
  readonly make: number
  readonly change: number
  readonly aside: number
  readonly notes: number
}

/** What becomes of the copies of one class. */
export function countCopies(changes: readonly Pick<Change, 'kind' | 'slotKey'>[]): CopyCounts {
  const make = new Set<string>()
  const change = new Set<string>()
  const aside = new Set<string>()
  let notes = 0
  for (const { kind, slotKey } of changes)
    if (kind === 'notify') notes++
    else (kind === 'create' ? make : kind === 'set aside' ? aside : change).add(slotKey)
  for (const slotKey of [...make, ...aside]) change.delete(slotKey)
  return { make: make.size, change: change.size, aside: aside.size, notes }
}

/** How many changes there are of each kind. */
export function countChanges(changes: readonly Pick<Change, 'kind'>[]): Record<ChangeKind, number> {
  const counts: Record<ChangeKind, number> = {
    create: 0,
    rename: 0,
    permit: 0,
    move: 0,
    date: 0,
    'set aside': 0,
    'bring back': 0,
    carry: 0,
    notify: 0,
  }
  for (const { kind } of changes) counts[kind]++
  return counts
}

/**
 * The changes that somebody's joining, leaving, coming back or changing groups brings about by itself, judged person by person:
 * copies for those who have none, more people in a group's copy, and the notices to them. Nobody loses anything, and nothing that
 * somebody has is renamed, moved or set aside, without a person who looks.
 */
export function changesByThemselves(changes: readonly Change[], existing: Existing): Change[] {
  const bySlot = new Map(existing.copies.map((copy) => [copy.slotKey, copy]))
  return changes.flatMap((change): Change[] => {
    switch (change.kind) {
      case 'create':
      case 'bring back':
      case 'notify':
        return [change]
      case 'permit': {
        const now = bySlot.get(change.slotKey)
        if (!now) return []
        // Nobody has it at the moment: it comes back as it is planned.
        if (now.setAside) return [change]
        const more = takenIn(now, change)
        return more ? [{ kind: 'permit', slotKey: change.slotKey, ...more }] : []
      }
      case 'date':
        return bySlot.get(change.slotKey)?.setAside ? [change] : []
      default:
        return []
    }
  })
}

/** What a copy is given as, with those taken in who are planned for it and not in it yet; null if there is nobody. */
function takenIn(now: Permissions, planned: Permissions): Permissions | null {
  const here = new Set(now.holders.map(({ personId }) => personId))
  const added = planned.holders.filter(({ personId }) => !here.has(personId))
  if (added.length === 0) return null
  const fresh = new Set(added.map(({ personId }) => personId))
  const joining = new Map(
    planned.places.map((place) => [place.id, { ...place, personIds: place.personIds.filter((id) => fresh.has(id)) }]),
  )
  const places = now.places.map((place) => ({
    ...place,
    personIds: [...place.personIds, ...(joining.get(place.id)?.personIds ?? [])],
  }))
  const known = new Set(now.places.map(({ id }) => id))
  const opened = [...joining.values()].filter(({ id, personIds }) => !known.has(id) && personIds.length > 0)
  return { ...permissionsOf(now), holders: [...now.holders, ...added], places: [...places, ...opened] }
}

/** A short fingerprint of a list of changes: what the teacher saw in the proof is what is handed out, or nothing is. */
export const fingerprintChanges = (changes: readonly Change[]): string => fingerprintOf(changes)
