import { type ClassRole, NOT_THERE, type Ruling, type Viewer, allowed, denied } from './viewer.js'

export type ClassAction =
  | 'see the class'
  | 'see the roster'
  | 'see groups'
  | 'see handouts'
  /** The proof shows everybody, so it is not for who helps only some. */
  | 'see the proof'
  /** Look for what is alike in copies: each of a pair is somebody's work, so that it is for teachers alone. */
  | 'compare copies'
  /** Give marks: helpers too where the class says so, who helps only some to theirs. */
  | 'mark'
  /** Hand back what is marked, take it back, open it again. */
  | 'hand back'
  /** Let copies become the own of their holders, for which it may be the end of a class. */
  | 'give to keep'
  /** See marks, and remark on copies; who helps only some of theirs. */
  | 'see marks'
  | 'change the roster'
  | 'change groups'
  | 'hand out'
  /** Name, ink, units, columns, join page, year. */
  | 'set up the class'
  | 'change staff'
  | 'archive the class'
  /** Let somebody else lead it. */
  | 'hand over the class'
  /** Make the class of another year out of it; archived or not. */
  | 'carry the class'
  /** Put oneself in a group while its sign-up is open. */
  | 'sign up'

const LOOKS: readonly ClassAction[] = [
  'see the class',
  'see the roster',
  'see groups',
  'see handouts',
  'see the proof',
  'see marks',
]
const IN_ARCHIVE: readonly ClassAction[] = [
  ...LOOKS,
  'compare copies',
  'archive the class',
  'carry the class',
  'give to keep',
]

/**
 * Whether somebody may do something with a class of their school. Those who help only named students see the roster, groups
 * and boards with these students alone.
 * @param archived the class is archived: it is looked at, not changed
 * @param helpersMark whoever helps in the class gives marks too
 */
export function mayInClass(role: ClassRole, action: ClassAction, archived = false, helpersMark = false): Ruling {
  const isHelper = role === 'helper' || role === 'named helper'
  const ruling = isHelper && action === 'mark' && helpersMark ? allowed(role) : mayInLiveClass(role, action)
  return ruling.may && archived && !IN_ARCHIVE.includes(action)
    ? denied('archived', 'This class is archived: bring it back to change it.')
    : ruling
}

function mayInLiveClass(role: ClassRole, action: ClassAction): Ruling {
  switch (role) {
    case 'lead':
      return action === 'sign up' ? denied('not-a-student', 'Only the students of the class sign up.') : allowed(role)
    case 'co-teacher':
      if (action === 'archive the class')
        return denied('lead-archives', 'The teacher who leads this class archives it.')
      if (action === 'hand over the class')
        return denied('lead-hands-over', 'The teacher who leads this class hands it over.')
      return action === 'sign up' ? denied('not-a-student', 'Only the students of the class sign up.') : allowed(role)
    case 'helper':
      return LOOKS.includes(action)
        ? allowed(role)
        : denied('helper-looks', 'Helpers see this class; its teachers change it.')
    case 'named helper':
      return LOOKS.includes(action) && action !== 'see the proof'
        ? allowed(role)
        : denied('helper-looks', 'Helpers see this class; its teachers change it.')
    case 'student':
      return action === 'see the class' || action === 'sign up' ? allowed(role) : NOT_THERE
    default:
      return NOT_THERE
  }
}

/**
 * What somebody is in a class of which they are or were a member.
 * @param gone they left it, or were taken off it
 */
export function memberRole<R extends ClassRole>(role: R, gone: boolean): R | 'left' | 'none' {
  if (!gone) return role
  return role === 'student' ? 'left' : 'none'
}

/** What each staff role may do, in words for the people concerned. */
export const STAFF_ROLES: readonly {
  readonly role: 'lead' | 'co-teacher' | 'helper' | 'named helper'
  readonly does: string
  readonly may: string
}[] = [
  { role: 'lead', does: 'leads', may: 'May do everything in this class.' },
  {
    role: 'co-teacher',
    does: 'teaches too',
    may: 'May do everything in this class but archive it: roster, groups, handouts, staff.',
  },
  {
    role: 'helper',
    does: 'helps',
    may: 'Sees the roster, the groups and every copy, and changes nothing.',
  },
  {
    role: 'named helper',
    does: 'helps some',
    may: 'Sees only the students who are named: their lines in the roster and their copies. Changes nothing.',
  },
]

/** Whether somebody runs the school’s office: its people and their accounts. */
export function mayRunOffice(viewer: Viewer): Ruling {
  return viewer.role === 'office' ? allowed('office') : NOT_THERE
}

export type WorksheetAction = 'see' | 'change' | 'give out' | 'look after'

/** What access to a worksheet of the library depends on. */
export interface WorksheetFacts {
  readonly schoolId: string
  /** Null: it belongs to no library. */
  readonly ownerId: string | null
  /** What all teachers of the school may do with it. */
  readonly schoolMay: 'none' | 'view' | 'edit'
  /** What this person was given by name; null: nothing. */
  readonly viewerMay: 'view' | 'edit' | null
}

/**
 * Whether somebody may do something with a worksheet of the library. `look after`: share it, archive it and put it in a
 * folder, which is its owner's alone.
 */
export function mayWithWorksheet(viewer: Viewer, worksheet: WorksheetFacts, action: WorksheetAction): Ruling {
  if (viewer.schoolId !== worksheet.schoolId || viewer.role !== 'teacher') return NOT_THERE
  if (worksheet.ownerId === null) return action === 'see' || action === 'give out' ? allowed('built in') : NOT_THERE
  if (viewer.personId === worksheet.ownerId) return allowed('owner')
  const may =
    worksheet.viewerMay === 'edit' || worksheet.schoolMay === 'edit'
      ? 'edit'
      : (worksheet.viewerMay ?? worksheet.schoolMay)
  if (may === 'none') return NOT_THERE
  if (action === 'see' || action === 'give out') return allowed('shared')
  if (action === 'change' && may === 'edit') return allowed('shared to edit')
  return denied(
    'not-owner',
    action === 'change'
      ? 'This worksheet was shared with you to view, not to change: make a copy of your own.'
      : 'Only its owner does this with a worksheet.',
  )
}

/** Whether somebody may begin worksheets and has a desk with classes. */
export function mayTeach(viewer: Viewer): Ruling {
  return viewer.role === 'teacher' ? allowed('teacher') : NOT_THERE
}

/** Whether somebody may have an address under which a calendar reads their due times. */
export const mayHaveCalendar = (viewer: Viewer): Ruling =>
  viewer.role === 'guest' ? denied('guest', 'Guests have no calendar: they come by a link.') : allowed(viewer.role)
