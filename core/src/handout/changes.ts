import type { Permission } from '../access/permission.js'
import type { PlannedCopy, PlannedHolder } from './plan.js'

/** A copy that exists: what was planned for it when it was last made true, and whether it is set aside. */
export interface ExistingCopy extends PlannedCopy {
  readonly setAside: boolean
}

/** One difference between what should exist and what does. */
export type Change =
  | { readonly kind: 'create'; readonly slotKey: string; readonly copy: PlannedCopy }
  | { readonly kind: 'rename'; readonly slotKey: string; readonly title: string }
  | {
      readonly kind: 'permit'
      readonly slotKey: string
      readonly holders: readonly PlannedHolder[]
      readonly classmatesMay: Permission
    }
  | { readonly kind: 'move'; readonly slotKey: string; readonly worksheetId: string; readonly edition: number }
  | { readonly kind: 'date'; readonly slotKey: string; readonly dueAt: number | null }
  | { readonly kind: 'set aside'; readonly slotKey: string }
  | { readonly kind: 'bring back'; readonly slotKey: string }

export type ChangeKind = Change['kind']

/**
 * What must change so that exactly the planned copies exist. A copy that is no longer planned is set aside, never removed;
 * planned again, it is brought back with all that was written in it.
 * @returns the changes in the order of the plan, then what is set aside; empty when the plan is true already
 */
export function changesToPlan(planned: readonly PlannedCopy[], existing: readonly ExistingCopy[]): Change[] {
  const bySlot = new Map(existing.map((copy) => [copy.slotKey, copy]))
  const changes: Change[] = []
  for (const copy of planned) {
    const { slotKey } = copy
    const now = bySlot.get(slotKey)
    if (!now) {
      changes.push({ kind: 'create', slotKey, copy })
      continue
    }
    if (now.setAside) changes.push({ kind: 'bring back', slotKey })
    if (now.title !== copy.title) changes.push({ kind: 'rename', slotKey, title: copy.title })
    if (holdersKey(now) !== holdersKey(copy))
      changes.push({ kind: 'permit', slotKey, holders: copy.holders, classmatesMay: copy.classmatesMay })
    if (now.worksheetId !== copy.worksheetId || now.edition !== copy.edition)
      changes.push({ kind: 'move', slotKey, worksheetId: copy.worksheetId, edition: copy.edition })
    if (now.dueAt !== copy.dueAt) changes.push({ kind: 'date', slotKey, dueAt: copy.dueAt })
  }
  const kept = new Set(planned.map(({ slotKey }) => slotKey))
  for (const { slotKey, setAside } of existing)
    if (!setAside && !kept.has(slotKey)) changes.push({ kind: 'set aside', slotKey })
  return changes
}

const holdersKey = (copy: PlannedCopy) =>
  `${copy.classmatesMay} ${copy.holders
    .map(({ personId, permission }) => `${personId}=${permission}`)
    .toSorted()
    .join(' ')}`

/**
 * The copies as they are after some changes. The database does the same in statements that concern many rows at once;
 * this is what they are tested against.
 */
export function applyChanges(existing: readonly ExistingCopy[], changes: readonly Change[]): ExistingCopy[] {
  const bySlot = new Map(existing.map((copy) => [copy.slotKey, copy]))
  const alter = (slotKey: string, alteration: Partial<ExistingCopy>) => {
    const copy = bySlot.get(slotKey)
    if (copy) bySlot.set(slotKey, { ...copy, ...alteration })
  }
  for (const change of changes) {
    switch (change.kind) {
      case 'create':
        if (!bySlot.has(change.slotKey)) bySlot.set(change.slotKey, { ...change.copy, setAside: false })
        break
      case 'rename':
        alter(change.slotKey, { title: change.title })
        break
      case 'permit':
        alter(change.slotKey, { holders: change.holders, classmatesMay: change.classmatesMay })
        break
      case 'move':
        alter(change.slotKey, { worksheetId: change.worksheetId, edition: change.edition })
        break
      case 'date':
        alter(change.slotKey, { dueAt: change.dueAt })
        break
      case 'set aside':
        alter(change.slotKey, { setAside: true })
        break
      case 'bring back':
        alter(change.slotKey, { setAside: false })
        break
    }
  }
  return [...bySlot.values()]
}

/** How many changes there are of each kind. */
export function countChanges(changes: readonly Change[]): Record<ChangeKind, number> {
  const counts: Record<ChangeKind, number> = {
    create: 0,
    rename: 0,
    permit: 0,
    move: 0,
    date: 0,
    'set aside': 0,
    'bring back': 0,
  }
  for (const { kind } of changes) counts[kind]++
  return counts
}

/**
 * A short fingerprint of a list of changes: what the teacher saw in the proof is what is handed out, or nothing is.
 * Two lanes of FNV-1a (Fowler, Noll, Vo), 32 bits each, over the changes written as text.
 */
export function fingerprintChanges(changes: readonly Change[]): string {
  const lanes = [0x811c9dc5, 0x050c5d1f]
  for (const change of changes) {
    const text = canonical(change)
    for (let lane = 0; lane < lanes.length; lane++) {
      let hash = lanes[lane]!
      for (let index = 0; index < text.length; index++) {
        const unit = text.charCodeAt(index)
        hash = Math.imul(Math.imul(hash ^ (unit & 0xff), 0x01000193) ^ (unit >> 8), 0x01000193)
      }
      lanes[lane] = hash
    }
  }
  return lanes.map((hash) => (hash >>> 0).toString(16).padStart(8, '0')).join('')
}

function canonical(value: unknown): string {
  if (Array.isArray(value)) return `[${value.map(canonical).join(',')}]`
  if (typeof value !== 'object' || value === null) return JSON.stringify(value) ?? 'null'
  const entries = Object.entries(value).filter(([, entry]) => entry !== undefined)
  return `{${entries
    .toSorted(([a], [b]) => (a < b ? -1 : 1))
    .map(([key, entry]) => `${JSON.stringify(key)}:${canonical(entry)}`)
    .join(',')}}`
}
