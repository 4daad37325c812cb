import type { Problem } from '../errors/problem.js'
import { cleanText } from '../roster/names.js'
import { isEmail } from '../roster/email.js'
import type { ClassRole, SchoolRole } from './viewer.js'

/** What somebody of the staff can be made by the lead or a co-teacher. */
export type StaffRole = 'co-teacher' | 'helper' | 'named helper'

/** Somebody of the school, as far as adding them to the staff of a class goes. */
export interface KnownColleague {
  readonly role: SchoolRole | 'guest'
  readonly name: string
  readonly isOnStaff: boolean
}

/** An e-mail as it was typed, without spaces. */
export const typedEmail = (typed: string): string => cleanText(typed).replaceAll(' ', '')

/**
 * Why somebody cannot be added to the staff of a class; null: they can.
 * @param email as it was typed, without spaces
 * @param known whom of the school it belongs to; null: nobody yet, then a name is needed and an invitation goes out
 */
export function staffProblem(
  email: string,
  known: KnownColleague | null,
  name: { readonly first: string; readonly last: string },
): Problem | null {
  if (!isEmail(email)) return { code: 'malformed-email', field: 'email', sentence: 'This is not an e-mail address.' }
  if (known?.role === 'student')
    return { code: 'email-of-student', field: 'email', sentence: `${known.name} is a student of the school.` }
  if (known?.isOnStaff)
    return {
      code: 'staff-already',
      field: 'email',
      sentence: `${known.name} is on the staff of this class already.`,
    }
  if (!known && !name.first && !name.last)
    return {
      code: 'unknown-colleague',
      field: 'last',
      sentence: 'The school does not know this e-mail yet: give the name too, and an invitation goes out.',
    }
  return null
}

/** Why what somebody is in a class cannot be changed or taken away; null: it can. A class is never without somebody who leads it. */
export const leadProblem = (role: ClassRole, name: string): Problem | null =>
  role === 'lead' ? { code: 'lead-stays', sentence: `${name} leads this class: that cannot be taken away here.` } : null

/** Why somebody cannot help in this way; null: they can. */
export const namedProblem = (role: StaffRole, named: readonly string[]): Problem | null =>
  role === 'named helper' && named.length === 0
    ? { code: 'nobody-named', field: 'studentIds', sentence: 'Name at least one student whom they help.' }
    : null
