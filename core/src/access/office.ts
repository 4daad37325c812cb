import type { Problem } from '../errors/problem.js'
import type { SchoolRole } from './viewer.js'

const inUse = (sentence: string): Problem => ({ code: 'role-in-use', field: 'role', sentence })

/**
 * Why somebody cannot be made something else in the school; null: they can. What somebody is in the school follows what they are
 * in its classes; and an office is never without anybody.
 * @param isOneself whoever asks asks it of themselves
 * @param inClasses what they are in classes now
 */
export function roleChangeProblem(
  from: SchoolRole,
  to: SchoolRole,
  isOneself: boolean,
  inClasses: { readonly student: boolean; readonly staff: boolean },
): Problem | null {
  if (from === to) return null
  if (isOneself) return inUse('You cannot change what you are yourself: a colleague in the office can.')
  if (from === 'student' && inClasses.student)
    return inUse('This person is a student in a class: take them out of it first.')
  if (to !== 'teacher' && inClasses.staff)
    return inUse('This person is on the staff of a class: take them off it first.')
  return null
}

/** Why somebody cannot be kept without an e-mail; null: they can. */
export const emailProblem = (role: SchoolRole, email: string): Problem | null =>
  email || role === 'student'
    ? null
    : { code: 'no-email', field: 'email', sentence: 'Somebody on the staff needs an e-mail to sign in.' }

/** Why somebody cannot get a new password in this way; null: they can. */
export function resetProblem(
  how: 'mail' | 'card',
  { role, email }: { readonly role: SchoolRole; readonly email: string | null },
): Problem | null {
  if (how === 'card' && role !== 'student')
    return { code: 'card-for-staff', field: 'how', sentence: 'Cards are for students: send staff a link by mail.' }
  if (how === 'mail' && !email)
    return { code: 'no-email', field: 'how', sentence: 'This person has no e-mail: print a card instead.' }
  return null
}

/** Why two records cannot be made one person; null: they can. */
export function mergeProblem(
  keep: { readonly personId: string; readonly role: SchoolRole },
  other: { readonly personId: string; readonly role: SchoolRole },
): Problem | null {
  if (keep.personId === other.personId)
    return { code: 'same', field: 'otherId', sentence: 'Choose two different people.' }
  if (keep.role !== other.role)
    return {
      code: 'other-role',
      field: 'otherId',
      sentence: 'One is a student and the other is not: these are two people.',
    }
  return null
}
