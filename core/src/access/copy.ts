import type { CopyState } from '../progress/journal.js'
import { type Permission, atMost, includes } from './permission.js'
import { type ClassRole, NOT_THERE, type Ruling, type Viewer, allowed, denied } from './viewer.js'

/** What access to a copy depends on. */
export interface CopyFacts {
  readonly schoolId: string
  readonly holders: ReadonlyMap<string, Permission>
  readonly classmatesMay: Permission
  readonly state: CopyState
  readonly pensDown: boolean
  readonly setAside: boolean
  /** Milliseconds since 1970, or null. */
  readonly dueAt: number | null
  /** The helpers who help one of its holders by name. */
  readonly namedHelpers: ReadonlySet<string>
}

/** What somebody may do with a copy now, and the reason of it. */
export interface CopyAccess {
  readonly permission: Permission
  /** Why not more: a sentence for the person, empty when nothing is held back. */
  readonly reason: string
  readonly code: string
}

/**
 * What a person may do with a copy now.
 * @param role what the person is in the class the copy was given to
 */
export function copyAccess(viewer: Viewer, role: ClassRole, copy: CopyFacts): CopyAccess {
  if (viewer.schoolId !== copy.schoolId) return nothing
  if (role === 'lead' || role === 'co-teacher')
    return { permission: 'comment', code: role, reason: 'Only its holder writes in this copy.' }
  if (role === 'helper' || (role === 'named helper' && copy.namedHelpers.has(viewer.personId)))
    return { permission: 'comment', code: role, reason: 'Only its holder writes in this copy.' }
  if (role === 'named helper') return nothing
  const own = copy.holders.get(viewer.personId)
  if (own !== undefined && own !== 'none') {
    if (role !== 'student')
      return {
        permission: atMost(own, 'view'),
        code: 'left-class',
        reason: 'You are no longer in this class: your work is kept and can be read.',
      }
    return standing(own, copy)
  }
  if (role === 'student' && copy.classmatesMay !== 'none' && !copy.setAside) return standing(copy.classmatesMay, copy)
  return nothing
}

const nothing: CopyAccess = { permission: 'none', code: NOT_THERE.code, reason: NOT_THERE.sentence }

function standing(permission: Permission, copy: CopyFacts): CopyAccess {
  const still = (code: string, reason: string): CopyAccess => ({
    permission: atMost(permission, 'comment'),
    code,
    reason,
  })
  if (copy.setAside)
    return {
      permission: atMost(permission, 'view'),
      code: 'set-aside',
      reason: 'This copy was set aside by your teacher: it can be read.',
    }
  if (copy.state === 'submitted') return still('submitted', 'This copy is submitted and stands still.')
  if (copy.state === 'marked') return still('marked', 'This copy is being marked.')
  if (copy.state === 'handed back') return still('handed-back', 'This copy was marked and handed back.')
  if (copy.pensDown) return still('pens-down', 'Pens are down: your teacher has stopped writing in this copy.')
  if (permission !== 'edit')
    return {
      permission,
      code: 'as-given',
      reason: permission === 'comment' ? 'This copy was given to read and comment.' : 'This copy was given to read.',
    }
  return { permission, code: 'as-given', reason: '' }
}

/** Whether somebody may have the answer key with a copy: its teachers, and nobody who is asked or helps. */
export const maySeeKey = (role: ClassRole): boolean => role === 'lead' || role === 'co-teacher'

export type CopyAct = 'see' | 'write' | 'submit' | 'take back'

/**
 * Whether a person may do something with a copy now.
 * @param now milliseconds since 1970
 */
export function mayWithCopy(viewer: Viewer, role: ClassRole, copy: CopyFacts, act: CopyAct, now: number): Ruling {
  const access = copyAccess(viewer, role, copy)
  if (access.permission === 'none') return NOT_THERE
  switch (act) {
    case 'see':
      return allowed(access.code)
    case 'write':
      return includes(access.permission, 'edit') ? allowed(access.code) : denied(access.code, access.reason)
    case 'submit':
      if (!holds(viewer, copy)) return denied('not-holder', 'Only its holder submits a copy.')
      if (copy.state === 'submitted') return denied('submitted', 'This copy is submitted already.')
      return includes(access.permission, 'edit') ? allowed(access.code) : denied(access.code, access.reason)
    case 'take back':
      if (!holds(viewer, copy)) return denied('not-holder', 'Only its holder takes a copy back.')
      if (copy.state !== 'submitted') return denied('not-submitted', 'Only a submitted copy can be taken back.')
      if (role !== 'student' || copy.setAside) return denied(access.code, access.reason)
      if (copy.pensDown) return denied('pens-down', 'Pens are down: it cannot be taken back now.')
      if (copy.dueAt !== null && now >= copy.dueAt)
        return denied('due-passed', 'The due time has passed: ask your teacher to open it again.')
      return allowed('holder')
  }
}

const holds = (viewer: Viewer, copy: CopyFacts) => copy.holders.get(viewer.personId) === 'edit'
