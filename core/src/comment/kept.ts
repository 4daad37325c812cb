import { type Outcome, fine, refuse } from '../errors/problem.js'
import type { Anchor } from './anchor.js'

/** A question is to the teacher, and open until it is answered. A remark belongs to the marking, and is unseen until it is handed back. */
export type ThreadKind = 'comment' | 'question' | 'remark'

/** Letters of a comment, in UTF-16 units. */
export const COMMENT_LIMIT = 5_000

/** A comment as it is kept. Times in milliseconds since 1970. */
export interface KeptComment {
  readonly id: string
  readonly personId: string
  /** As they are called. */
  readonly name: string
  /** They were of the staff of the class when they wrote it. */
  readonly byStaff: boolean
  /** Which of the peer readers wrote it, where these are not named; null: it is signed. */
  readonly readerNumber: number | null
  readonly at: number
  readonly editedAt: number | null
  readonly deletedAt: number | null
  readonly deletedBy: string | null
  readonly text: string
}

/** Comments on one thing, the first of them first. */
export interface KeptThread {
  readonly id: string
  /** Counts its changes. */
  readonly version: number
  readonly copyId: string
  readonly kind: ThreadKind
  /** Only the staff of the class sees it, and who began it. */
  readonly staffOnly: boolean
  /** When a remark was handed back, in milliseconds since 1970; null: it was not, or it is none. */
  readonly releasedAt: number | null
  readonly anchor: Anchor
  readonly personId: string
  readonly doneAt: number | null
  /** Who said that it is done with. */
  readonly doneBy: string | null
  readonly doneById: string | null
  readonly comments: readonly KeptComment[]
}

const standing = ({ comments }: Pick<KeptThread, 'comments'>) => comments.filter(({ deletedAt }) => deletedAt === null)

/** Whether a question waits for its answer: nobody of the staff has written since who asked did, and it is not done with. */
export function isWaiting(thread: Pick<KeptThread, 'kind' | 'doneAt' | 'comments' | 'personId'>): boolean {
  if (thread.kind !== 'question' || thread.doneAt !== null) return false
  const said = standing(thread)
  const asked = said.findLastIndex(({ personId }) => personId === thread.personId)
  return asked >= 0 && !said.slice(asked + 1).some(({ byStaff }) => byStaff)
}

/** Reads the words of a comment. */
export function commentText(raw: string): Outcome<string> {
  // oxlint-disable-next-line no-control-regex
  const text = raw.replace(/[\u0000-\u0008\u000B-\u001F\u007F]/g, '').trim()
  if (!text) return refuse({ code: 'empty', field: 'text', sentence: 'Write something first.' })
  if (text.length > COMMENT_LIMIT)
    return refuse({
      code: 'too-long',
      field: 'text',
      sentence: `A comment takes up to ${COMMENT_LIMIT} letters; this has ${text.length}.`,
    })
  return fine(text)
}
