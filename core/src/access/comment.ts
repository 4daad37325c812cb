import type { Anchor } from '../comment/anchor.js'
import type { KeptComment, KeptThread } from '../comment/kept.js'
import { type CopyFacts, copyAccess, isPeerReader, maySeeAt } from './copy.js'
import { includes } from './permission.js'
import { type ClassRole, NOT_THERE, type Ruling, type Viewer, allowed, denied, isOfStaff } from './viewer.js'

/** Who looks at the comments of a copy, and when. */
export interface Reader {
  readonly viewer: Viewer
  readonly role: ClassRole
  readonly copy: CopyFacts
  /** Milliseconds since 1970. */
  readonly now: number
}

/** How long a deleted comment can be brought back, in milliseconds. */
export const BRING_BACK = 10 * 60_000

/** Whether somebody may say something in a copy: comment, or only ask. */
export function mayBegin(reader: Reader, kind: KeptThread['kind']): Ruling {
  const { viewer, role, copy, now } = reader
  const access = copyAccess(viewer, role, copy, now)
  if (access.permission === 'none') return NOT_THERE
  if (copy.isKept) return denied('kept', 'This is yours to keep: nobody else reads it, so nothing is said in it.')
  if (kind === 'remark' && !isOfStaff(role)) return denied('staff', 'Remarks are made by the staff of the class.')
  if (kind === 'comment' && isKeptFromOthers(reader))
    return denied('class', 'In this class students do not comment on what others write: ask your teacher.')
  if (kind !== 'question')
    return includes(access.permission, 'comment') ? allowed(access.code) : denied(access.code, readOnly(access.code))
  if (isOfStaff(role)) return denied('staff', 'A question goes to the staff of the class: write a comment.')
  // Whoever a copy was given to may ask about it, though they may not comment in it.
  const isGiven = copy.holders.has(viewer.personId) && access.code === 'as-given'
  return isGiven || includes(access.permission, 'comment')
    ? allowed(access.code)
    : denied(access.code, readOnly(access.code))
}

/** Whether somebody was given a copy to view, and not that it stands still. */
const isGivenToView = ({ viewer, role, copy, now }: Reader): boolean =>
  !isOfStaff(role) && ['as-given', 'peer-reader'].includes(copyAccess(viewer, role, copy, now).code)

/**
 * Whether the class keeps a student from commenting in a copy that is not theirs alone. Who was chosen to read it was chosen to say
 * what they think.
 */
function isKeptFromOthers({ viewer, role, copy }: Reader): boolean {
  if (copy.classmatesComment || role !== 'student' || isPeerReader(viewer, role, copy)) return false
  const holders = new Set([...copy.holders.keys()].map((id) => copy.guestIs.get(id) ?? id))
  return holders.size > 1 || !holders.has(viewer.personId)
}

const readOnly = (code: string) =>
  code === 'set-aside'
    ? 'This copy was set aside: it can be read, and nothing more is said in it.'
    : code === 'left-class'
      ? 'You are no longer in this class: your work is kept and can be read.'
      : 'This copy was given to read, not to comment.'

export type ThreadAct = 'see' | 'reply' | 'do'

/** Whether somebody may do something with the comments on one thing. `do`: say that it is done with, or take that back. */
export function mayWithThread(reader: Reader, thread: KeptThread, act: ThreadAct): Ruling {
  const { viewer, role, copy, now } = reader
  const { permission } = copyAccess(viewer, role, copy, now)
  if (permission === 'none') return NOT_THERE
  const isOwn = thread.personId === viewer.personId
  if (permission === 'view' && !copy.viewersReadComments && !isOwn && isGivenToView(reader)) return NOT_THERE
  if (thread.staffOnly && !isOwn && !isOfStaff(role)) return NOT_THERE
  if (!maySeeWhatIsSaidOf(reader, thread.anchor)) return NOT_THERE
  if (
    thread.kind === 'remark' &&
    !isOfStaff(role) &&
    !(thread.releasedAt !== null && copy.holders.has(viewer.personId))
  )
    return NOT_THERE
  if (act === 'see') return allowed('see')
  // What the staff began is answered by whoever may comment at all.
  const withStaff = { ...reader, copy: { ...copy, classmatesComment: copy.classmatesComment || isByStaff(thread) } }
  const may = mayBegin(withStaff, isOwn && !isOfStaff(role) ? thread.kind : 'comment')
  if (!may.may || act === 'reply') return may
  return isOwn || isOfStaff(role) || copy.holders.has(viewer.personId)
    ? may
    : denied('not-yours', 'Who began it says that it is done with, whose copy it is, or the staff.')
}

/** Whether somebody is shown what a comment is about: not where it stands in a place that is hidden from them. */
export function maySeeWhatIsSaidOf({ viewer, role, copy, now }: Reader, anchor: Anchor): boolean {
  if (anchor.is === 'copy') return true
  return maySeeAt(viewer, role, copy, anchor.is === 'print' ? anchor.block : anchor.space, now)
}

/**
 * Whether somebody is shown a mark of the pen: the staff all, holders what was handed back, where it is not over a place that is
 * hidden from them; nobody else.
 */
export const maySeePenMark = (
  { viewer, role, copy, now }: Reader,
  { over, releasedAt }: { readonly over: { readonly id: string }; readonly releasedAt: number | null },
): boolean =>
  isOfStaff(role) ||
  (releasedAt !== null &&
    (copy.holders.get(viewer.personId) ?? 'none') !== 'none' &&
    maySeeAt(viewer, role, copy, over.id, now))

const isByStaff = ({ comments }: Pick<KeptThread, 'comments'>) => comments[0]?.byStaff === true

export type CommentAct = 'edit' | 'delete' | 'bring back'

/** Whether somebody may do something with a comment. */
export function mayWithComment(reader: Reader, thread: KeptThread, comment: KeptComment, act: CommentAct): Ruling {
  const { viewer, role, now } = reader
  const ruling = mayWithThread(reader, thread, 'reply')
  if (!ruling.may) return ruling
  const isOwn = comment.personId === viewer.personId
  const isTeacher = role === 'lead' || role === 'co-teacher'
  if (act === 'bring back') {
    if (comment.deletedAt === null) return denied('not-deleted', 'This comment stands.')
    if (comment.deletedBy !== viewer.personId) return NOT_THERE
    return now < backUntil(comment)! ? ruling : denied('too-late', 'This was deleted too long ago.')
  }
  if (comment.deletedAt !== null) return denied('deleted', 'This comment was deleted.')
  if (isOwn || (act === 'delete' && isTeacher)) return ruling
  return denied(
    'not-yours',
    act === 'edit'
      ? 'Only who wrote a comment changes it.'
      : 'Only who wrote a comment deletes it, or a teacher of the class.',
  )
}

/**
 * Whether somebody can be named in a comment by another: they see the copy, and the other is told that they do. Guests are told of
 * nobody but the staff, and who is not named as a reader is told to the staff alone.
 * @param who the person, with what they are in the class
 */
export function mayBeNamed(reader: Reader, who: { readonly viewer: Viewer; readonly role: ClassRole }): boolean {
  const { viewer, role, copy, now } = reader
  if (who.viewer.personId === viewer.personId) return false
  if (copyAccess(who.viewer, who.role, copy, now).permission === 'none') return false
  if (isOfStaff(who.role) || isOfStaff(role)) return true
  return viewer.role !== 'guest' && (copy.readersNamed || !isPeerReader(who.viewer, who.role, copy))
}

/** Until when a deleted comment can be brought back; null: it stands. */
export const backUntil = ({ deletedAt }: Pick<KeptComment, 'deletedAt'>): number | null =>
  deletedAt === null ? null : deletedAt + BRING_BACK
