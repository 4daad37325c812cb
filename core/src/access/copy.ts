import { type CopyState, isIn } from '../progress/journal.js'
import type { Checks, OthersPlaces, Way } from '../handout/statement.js'
import { type PensFacts, arePensDown, pensDownAsSet, pensDownByTeacher, pensDownByTime } from '../pens/pens.js'
import { baseAddress } from '../worksheet/sections.js'
import { type Permission, atMost, includes } from './permission.js'
import { mayInClass } from './school.js'
import { type ClassRole, NOT_THERE, type Ruling, type Viewer, allowed, denied, isOfStaff } from './viewer.js'
import { languageOfTimes } from '../time/language.js'

/** What access to a copy depends on. */
export interface CopyFacts extends PensFacts {
  readonly schoolId: string
  readonly way: Way
  /** It was given to keep: it is its holder's own and no longer of a class. */
  readonly isKept: boolean
  readonly holders: ReadonlyMap<string, Permission>
  /** Chosen classmates who read it. */
  readonly readers: ReadonlyMap<string, Permission>
  /** Whether the students of the class comment on what others of them write. */
  readonly classmatesComment: boolean
  /** Whether students see when somebody of the staff has it open. */
  readonly staffShown: boolean
  /** Whether who may only view it reads what is said in it. */
  readonly viewersReadComments: boolean
  /** Of something to read: whether who gets it may make a copy of their own. */
  readonly ownCopies: boolean
  /** When holders are told which of their answers are right. */
  readonly checks: Checks
  /** Whether those whose copy it is see who of its readers says what. */
  readonly readersNamed: boolean
  /** Classmates whom a holder let in. */
  readonly invited: ReadonlyMap<string, Permission>
  readonly mayInvite: boolean
  readonly classmatesMay: Permission
  /** The groups that have a place of their own in it. */
  readonly places: readonly { readonly id: string; readonly personIds: readonly string[] }[]
  /** Whether those who have a place of their own read the places of others. */
  readonly othersPlaces: OthersPlaces
  /** The answer spaces that are reserved for named people, with the ids of these. */
  readonly reserved: ReadonlyMap<string, readonly string[]>
  readonly state: CopyState
  readonly setAside: boolean
  /** Milliseconds since 1970, or null. */
  readonly opensAt: number | null
  readonly lateWork: boolean
  /** Until when the walk-in link by which guests came lets them in, in milliseconds since 1970: 0 while it is shut, infinite without an end. */
  readonly guestsUntil: number
  /** Guests who are a student of the class, as a teacher said: the guest's id to the student's. */
  readonly guestIs: ReadonlyMap<string, string>
  /** The helpers who help one of its holders by name. */
  readonly namedHelpers: ReadonlySet<string>
  /** IANA time zone of the school and BCP 47 tag of its language, for the times in reasons. */
  readonly timeZone: string
  readonly locale: string
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
 * @param now milliseconds since 1970
 */
export function copyAccess(viewer: Viewer, role: ClassRole, copy: CopyFacts, now: number): CopyAccess {
  if (viewer.schoolId !== copy.schoolId) return nothing
  if (copy.isKept) return isHolder(viewer, copy) ? { permission: 'edit', code: 'kept', reason: '' } : nothing
  // Nobody can shut the staff of the class out, whatever holders may do.
  if (role === 'lead' || role === 'co-teacher')
    return { permission: 'comment', code: role, reason: 'Only its holder writes in this copy.' }
  if (role === 'helper' || (role === 'named helper' && copy.namedHelpers.has(viewer.personId)))
    return { permission: 'comment', code: role, reason: 'Only its holder writes in this copy.' }
  if (role === 'named helper') return nothing
  if (copy.opensAt !== null && now < copy.opensAt) return nothing
  const own = copy.holders.get(viewer.personId)
  if (own !== undefined && own !== 'none') {
    if (viewer.role === 'guest') return now < copy.guestsUntil ? standing(own, copy, now) : nothing
    if (role !== 'student')
      return {
        permission: atMost(own, 'view'),
        code: 'left-class',
        reason: 'You are no longer in this class: your work is kept and can be read.',
      }
    return standing(own, copy, now)
  }
  if (role !== 'student' || copy.setAside) return nothing
  const invited = copy.mayInvite ? copy.invited.get(viewer.personId) : undefined
  const given = [copy.readers.get(viewer.personId), invited, copy.classmatesMay].reduce<Permission>(
    (most, permission) => (permission && includes(permission, most) ? permission : most),
    'none',
  )
  if (given === 'none') return nothing
  const access = standing(given, copy, now)
  if (access.code !== 'as-given' || access.permission === 'edit') return access
  return copy.readers.has(viewer.personId)
    ? { ...access, code: 'peer-reader', reason: 'You were chosen to read this copy.' }
    : access
}

/**
 * What somebody may do with a copy and why not more, with what would change it: for the person, empty when nothing is held back.
 * @param role what the person is in the class the copy was given to
 * @param now milliseconds since 1970
 */
export function accessInWords(viewer: Viewer, role: ClassRole, copy: CopyFacts, now: number): string {
  const { code, reason } = copyAccess(viewer, role, copy, now)
  if (reason === '' || isOfStaff(role)) return reason
  return [reason, whatChanges(code, viewer, role, copy, now)].filter(Boolean).join(' ')
}

function whatChanges(code: string, viewer: Viewer, role: ClassRole, copy: CopyFacts, now: number): string {
  switch (code) {
    case 'submitted':
      return mayWithCopy(viewer, role, copy, 'take back', now).may
        ? 'Take it back to write again.'
        : 'Only your teacher can open it again.'
    case 'pens-down':
      return 'Only your teacher can let you write again.'
    case 'handed-back':
      return 'Only your teacher can open it again.'
    case 'set-aside':
      return 'Your teacher can bring it back.'
    case 'to-read':
      return copy.ownCopies ? 'You can make a copy of your own to write in.' : ''
    case 'as-given':
      return 'Your teacher says who writes in it.'
    default:
      return ''
  }
}

/**
 * Whether somebody was given a copy to write in, now or before, however things stand with it at the moment: words of theirs that
 * come late are heard.
 * @param role what the person is in the class the copy was given to
 * @param formerWriters ids of those who could write in it and cannot any more; null among them: all students of the class
 */
export function couldWriteIn(
  { schoolId, personId }: Viewer,
  role: ClassRole,
  copy: CopyFacts,
  formerWriters: ReadonlySet<string | null>,
): boolean {
  if (schoolId !== copy.schoolId) return false
  if ([copy.holders, copy.readers, copy.invited].some((given) => given.get(personId) === 'edit')) return true
  if (formerWriters.has(personId)) return true
  const isOfClass = role === 'student' || role === 'left'
  return isOfClass && (copy.classmatesMay === 'edit' || formerWriters.has(null))
}

const nothing: CopyAccess = { permission: 'none', code: NOT_THERE.code, reason: NOT_THERE.sentence }

function standing(permission: Permission, copy: CopyFacts, now: number): CopyAccess {
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
  if (copy.way === 'to read')
    return {
      permission: atMost(permission, 'comment'),
      code: 'to-read',
      reason: 'This is the original, to read: nobody writes in it.',
    }
  if (copy.state === 'submitted') return still('submitted', 'This copy is submitted and stands still.')
  if (copy.state === 'handed back') return still('handed-back', 'This copy was marked and handed back.')
  if (copy.pensDown) return still('pens-down', 'Pens are down: your teacher has stopped writing in this copy.')
  if (pensDownAsSet(copy, now))
    return still(
      'pens-down',
      `Pens are down since ${momentIn(copy, copy.pensDownFrom!, now)}: your teacher set the time.`,
    )
  if (pensDownByTime(copy, now)) return still('pens-down', `Pens are down since ${momentIn(copy, copy.dueAt!, now)}.`)
  if (permission !== 'edit')
    return {
      permission,
      code: 'as-given',
      reason: permission === 'comment' ? 'This copy was given to read and comment.' : 'This copy was given to read.',
    }
  return { permission, code: 'as-given', reason: '' }
}

/** A moment in words that are the same for all: the time today, else the day too. */
function momentIn({ timeZone, locale }: Pick<CopyFacts, 'timeZone' | 'locale'>, at: number, now: number): string {
  const form = (moment: number, options: Intl.DateTimeFormatOptions) =>
    new Intl.DateTimeFormat(languageOfTimes(locale), { timeZone, ...options }).format(moment)
  const day = { day: 'numeric', month: 'short' } as const
  const time = form(at, { hour: '2-digit', minute: '2-digit' })
  return form(at, day) === form(now, day) ? time : `${form(at, day)}, ${time}`
}

/**
 * Whether somebody who may write in a copy may do so at this address: in a part of a repeated section only whose part it is,
 * in a reserved section only for whom. A guest who is a student of the class and this student write in each other's parts.
 * @param address of an answer space, as sections lay it open
 */
export function mayWriteAt(
  viewer: Pick<Viewer, 'personId'>,
  copy: Pick<CopyFacts, 'places' | 'reserved' | 'guestIs'>,
  address: string,
): Ruling {
  const { of } = baseAddress(address)
  const self = copy.guestIs.get(viewer.personId) ?? viewer.personId
  if (of === null)
    return copy.reserved.get(address)?.includes(self) === false
      ? denied('reserved', 'This part is for others.')
      : allowed('everybody')
  const bare = (id: string) => id.replaceAll('-', '')
  if (bare(viewer.personId) === of || bare(self) === of) return allowed('own-part')
  for (const [guest, student] of copy.guestIs) if (student === self && bare(guest) === of) return allowed('own-part')
  const group = copy.places.find(({ id }) => bare(id) === of)
  if (group)
    return group.personIds.includes(self)
      ? allowed('own-group')
      : denied('other-group', 'This is the place of another group.')
  return denied('other-part', 'This is somebody else’s part.')
}

/** Whether places of others are hidden in a copy now. */
export const hidesPlaces = ({ othersPlaces, dueAt }: Pick<CopyFacts, 'othersPlaces' | 'dueAt'>, now: number): boolean =>
  othersPlaces === 'hidden' || (othersPlaces === 'hidden until due' && (dueAt === null || now < dueAt))

/** Whether somebody who sees a copy is shown the places of all: these are hidden from who has one of them, until they are not. */
const seesAllPlaces = (viewer: Pick<Viewer, 'personId'>, role: ClassRole, copy: CopyFacts, now: number): boolean =>
  !hidesPlaces(copy, now) ||
  isOfStaff(role) ||
  (!copy.holders.has(viewer.personId) && (copy.readers.has(viewer.personId) || copy.invited.has(viewer.personId)))

/**
 * Whether somebody who sees a copy is shown what stands at this address: where the places of others are hidden, all but those who
 * go with the class, or were chosen or let in to read it, see their own and what is for everybody.
 * @param address of an answer space or of another part of the page, as sections lay it open
 * @param now milliseconds since 1970
 */
export const maySeeAt = (
  viewer: Pick<Viewer, 'personId'>,
  role: ClassRole,
  copy: CopyFacts,
  address: string,
  now: number,
): boolean =>
  seesAllPlaces(viewer, role, copy, now) || baseAddress(address).of === null || mayWriteAt(viewer, copy, address).may

/**
 * Whether somebody who sees a copy is shown a document that a person put with the whole of it: as a place of that person's.
 * @param now milliseconds since 1970
 */
export const maySeeDocumentOf = (
  viewer: Pick<Viewer, 'personId'>,
  role: ClassRole,
  copy: CopyFacts,
  personId: string,
  now: number,
): boolean => personId === viewer.personId || seesAllPlaces(viewer, role, copy, now)

/** Whether somebody who sees a copy is shown what another wrote too late into it: its holders and the staff are, others their own. */
export const seesLateWritingOf = (
  viewer: Viewer,
  role: ClassRole,
  copy: CopyFacts,
  { personId, space }: { readonly personId: string; readonly space: string },
  now: number,
): boolean =>
  personId === viewer.personId ||
  isOfStaff(role) ||
  (isHolder(viewer, copy) && maySeeAt(viewer, role, copy, space, now))

/** Whether somebody reads a copy as one who was chosen to: who holds it does not, nor who goes with it. */
export const isPeerReader = (
  { personId }: Pick<Viewer, 'personId'>,
  role: ClassRole,
  copy: Pick<CopyFacts, 'holders' | 'readers'>,
): boolean => role === 'student' && copy.readers.has(personId) && !copy.holders.has(personId)

/** Why somebody sees a copy. */
export type AccessGround = 'teacher' | 'helper' | 'holder' | 'guest' | 'peer reader' | 'let in' | 'classmate'

/** Why somebody who sees a copy does, in the order in which grounds count. */
export function accessGround(viewer: Viewer, role: ClassRole, copy: CopyFacts): AccessGround {
  if (role === 'lead' || role === 'co-teacher') return 'teacher'
  if (isOfStaff(role)) return 'helper'
  if (copy.holders.has(viewer.personId)) return viewer.role === 'guest' ? 'guest' : 'holder'
  if (copy.readers.has(viewer.personId)) return 'peer reader'
  return copy.mayInvite && copy.invited.has(viewer.personId) ? 'let in' : 'classmate'
}

/** Whether somebody may have the answer key with a copy: its teachers, and nobody who is asked or helps. */
export const maySeeKey = (role: ClassRole): boolean => role === 'lead' || role === 'co-teacher'

export type CopyAct =
  | 'see'
  | 'write'
  | 'submit'
  | 'take back'
  /** By a teacher, in place of whoever holds it. */
  | 'submit for them'
  | 'take back for them'
  | 'invite'
  | 'bring to last good'
  | 'see its history'
  | 'decide on late writing'
  | 'bring answers back'
  | 'say it is read'
  | 'make a copy of their own'
  | 'see who reads'
  /** The mark and the message that one got back with it. */
  | 'see what was handed back'
  /** Be told which of one's answers are right by their key. */
  | 'see checks'

/** What is done with a copy that is one's own to keep. */
const WITH_KEPT: readonly CopyAct[] = ['see', 'write', 'see its history']

/**
 * Whether a person may do something with a copy now.
 * @param now milliseconds since 1970
 */
export function mayWithCopy(viewer: Viewer, role: ClassRole, copy: CopyFacts, act: CopyAct, now: number): Ruling {
  const access = copyAccess(viewer, role, copy, now)
  if (access.permission === 'none') return NOT_THERE
  if (copy.isKept && !WITH_KEPT.includes(act))
    return denied('kept', 'This is yours to keep: nothing of it is submitted or marked, and nobody else is let in.')
  switch (act) {
    case 'see':
      return allowed(access.code)
    case 'write':
      return includes(access.permission, 'edit') ? allowed(access.code) : denied(access.code, access.reason)
    case 'submit':
      if (!holds(viewer, copy)) return denied('not-holder', 'Only its holder submits a copy.')
      if (copy.state === 'submitted') return denied('submitted', 'This copy is submitted already.')
      if (!copy.lateWork && copy.dueAt !== null && now >= copy.dueAt)
        return denied('late', 'The due time has passed, and late work is not taken: ask your teacher.')
      // Pens that went down at the due time stop the writing, not the handing in.
      if (access.code === 'pens-down' && !pensDownByTeacher(copy, now)) return allowed('pens-down')
      return includes(access.permission, 'edit') ? allowed(access.code) : denied(access.code, access.reason)
    case 'submit for them':
    case 'take back for them':
      if (!mayInClass(role, 'hand out').may) return NOT_THERE
      if (copy.setAside || copy.way === 'to read') return denied('not-given', 'There is nothing to submit in it.')
      if (act === 'submit for them')
        return isIn(copy) ? denied('submitted', 'This copy is submitted already.') : allowed('staff')
      return copy.state === 'submitted'
        ? allowed('staff')
        : denied('not-submitted', 'Only a submitted copy can be taken back.')
    case 'take back':
      if (!holds(viewer, copy)) return denied('not-holder', 'Only its holder takes a copy back.')
      if (copy.state !== 'submitted') return denied('not-submitted', 'Only a submitted copy can be taken back.')
      if ((role !== 'student' && viewer.role !== 'guest') || copy.setAside) return denied(access.code, access.reason)
      if (arePensDown(copy, now)) return denied('pens-down', 'Pens are down: it cannot be taken back now.')
      if (copy.dueAt !== null && now >= copy.dueAt)
        return denied('due-passed', 'The due time has passed: ask your teacher to open it again.')
      return allowed('holder')
    case 'see its history':
      // Words that were taken out are seen in it: it is for whose work it is, and for those who go with them.
      return isOfStaff(role) || isHolder(viewer, copy)
        ? allowed(access.code)
        : denied('not-holder', 'The history of a copy is for its holders and the staff of the class.')
    case 'make a copy of their own':
      if (role !== 'student' || !isHolder(viewer, copy) || copy.way !== 'to read')
        return denied('not-given', 'Who was given something to read makes a copy of it.')
      if (copy.setAside) return denied('set-aside', access.reason)
      return copy.ownCopies
        ? allowed(access.code)
        : denied(
            'no-own-copies',
            'This is given to read: your teacher has not said that you may make a copy of your own.',
          )
    case 'say it is read':
      return isPeerReader(viewer, role, copy)
        ? allowed(access.code)
        : denied('not-reader', 'Peer readers say that they have read a copy.')
    case 'see what was handed back':
      return isHolder(viewer, copy) ? allowed(access.code) : NOT_THERE
    case 'see checks':
      return isHolder(viewer, copy) &&
        (copy.checks === 'while writing' || (copy.checks === 'when submitted' && isIn(copy)))
        ? allowed(access.code)
        : NOT_THERE
    case 'see who reads':
      return isOfStaff(role) || isHolder(viewer, copy)
        ? allowed(access.code)
        : denied('not-holder', 'Who reads a copy is for its holders and the staff of the class.')
    case 'bring to last good':
      return forTeachers(role, 'Only the teachers of the class bring a copy to its last good state.')
    case 'decide on late writing':
      return forTeachers(role, 'Only the teachers of the class decide on what was written late.')
    case 'bring answers back':
      return forTeachers(role, 'Only the teachers of the class bring answers back.')
    case 'invite':
      if (role !== 'student' || !copy.holders.has(viewer.personId))
        return denied('not-holder', 'Only its holder lets others into a copy.')
      if (!copy.mayInvite) return denied('no-inviting', 'Your teacher decides who sees this copy.')
      return copy.setAside ? denied('set-aside', access.reason) : allowed('holder')
  }
}

const holds = (viewer: Viewer, copy: CopyFacts) => copy.holders.get(viewer.personId) === 'edit'
const isHolder = (viewer: Viewer, copy: Pick<CopyFacts, 'holders'>) =>
  (copy.holders.get(viewer.personId) ?? 'none') !== 'none'

const forTeachers = (role: ClassRole, sentence: string): Ruling =>
  role === 'lead' || role === 'co-teacher' ? allowed(role) : denied('not-teacher', sentence)
