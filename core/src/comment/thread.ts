import type { Anchor } from './anchor.js'
import { type KeptComment, type KeptThread, type ThreadKind, isWaiting } from './kept.js'
import { type Reader, backUntil, mayWithComment, mayWithThread } from '../access/comment.js'
import { isOfStaff } from '../access/viewer.js'

/** A comment as somebody is shown it. */
export interface CommentSeen {
  readonly id: string
  readonly name: string
  readonly isMine: boolean
  readonly byStaff: boolean
  readonly at: number
  readonly editedAt: number | null
  /** Empty where it was deleted. */
  readonly text: string
  readonly isDeleted: boolean
  readonly mayEdit: boolean
  readonly mayDelete: boolean
  /** Until when it can be brought back, in milliseconds since 1970; null: it cannot. */
  readonly backUntil: number | null
}

/** Comments on one thing as somebody is shown them. */
export interface ThreadSeen {
  readonly id: string
  /** Grows with every change of it: of two that were sent the higher one is newer. */
  readonly version: number
  readonly kind: ThreadKind
  readonly staffOnly: boolean
  /** Since when those whose copy it is see a remark; null: they do not, or it is none. */
  readonly releasedAt: number | null
  readonly anchor: Anchor
  readonly isMine: boolean
  /** A question that is not answered yet. */
  readonly isWaiting: boolean
  readonly done: { readonly at: number; readonly by: string } | null
  readonly comments: readonly CommentSeen[]
  readonly mayReply: boolean
  readonly mayDo: boolean
}

/** How comments by others are signed for somebody who is not told who is in the class. */
const SOMEBODY = 'Somebody in the class'

/** Comments on one thing as somebody is shown them; null: not for them, or nothing is left of it. */
export function threadSeen(thread: KeptThread, reader: Reader): ThreadSeen | null {
  const { viewer } = reader
  if (!mayWithThread(reader, thread, 'see').may) return null
  const nameFor = ({ personId, name, byStaff, readerNumber }: KeptComment) => {
    if (personId === viewer.personId || byStaff || isOfStaff(reader.role)) return name
    if (viewer.role === 'guest') return SOMEBODY
    return readerNumber === null ? name : `Peer reader ${readerNumber}`
  }
  const doer = thread.comments.find(({ personId }) => personId === thread.doneById)
  const doneBy = () => (doer ? nameFor(doer) : viewer.role === 'guest' ? SOMEBODY : thread.doneBy!)
  const comments = thread.comments.flatMap((comment): CommentSeen[] => {
    const isDeleted = comment.deletedAt !== null
    // Who can bring it back sees that it is gone; nobody else that it was there.
    if (isDeleted && !mayWithComment(reader, thread, comment, 'bring back').may) return []
    return [
      {
        id: comment.id,
        name: nameFor(comment),
        isMine: comment.personId === viewer.personId,
        byStaff: comment.byStaff,
        at: comment.at,
        editedAt: comment.editedAt,
        text: isDeleted ? '' : comment.text,
        isDeleted,
        mayEdit: mayWithComment(reader, thread, comment, 'edit').may,
        mayDelete: mayWithComment(reader, thread, comment, 'delete').may,
        backUntil: backUntil(comment),
      },
    ]
  })
  if (comments.length === 0) return null
  return {
    id: thread.id,
    version: thread.version,
    kind: thread.kind,
    staffOnly: thread.staffOnly,
    releasedAt: thread.releasedAt,
    anchor: thread.anchor,
    isMine: thread.personId === viewer.personId,
    isWaiting: isWaiting(thread),
    done: thread.doneAt === null ? null : { at: thread.doneAt, by: doneBy() },
    comments,
    mayReply: mayWithThread(reader, thread, 'reply').may,
    mayDo: mayWithThread(reader, thread, 'do').may,
  }
}
