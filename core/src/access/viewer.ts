/**
 * What a person is in a class. `named helper`: helps only the students who are named. `left`: was a student of it.
 */
export type ClassRole = 'lead' | 'co-teacher' | 'helper' | 'named helper' | 'student' | 'left' | 'none'

export const isOfStaff = (role: ClassRole): boolean =>
  role === 'lead' || role === 'co-teacher' || role === 'helper' || role === 'named helper'

/** What a person is in the school. A guest came by a walk-in link and has no account. */
export type SchoolRole = 'office' | 'teacher' | 'student' | 'guest'

/** Who asks. */
export interface Viewer {
  readonly personId: string
  readonly schoolId: string
  readonly role: SchoolRole
}

/** May they, and why (not): a sentence for the person who asked. */
export interface Ruling {
  readonly may: boolean
  readonly code: string
  readonly sentence: string
}

export const allowed = (code: string): Ruling => ({ may: true, code, sentence: '' })
export const denied = (code: string, sentence: string): Ruling => ({ may: false, code, sentence })

/** What strangers are told: the same whether a thing exists or not. */
export const NOT_THERE = denied('not-there', 'This is not here, or not for you to see.')
