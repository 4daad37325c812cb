import type { Anchor, CommentSeen, ThreadSeen } from '@gavrin/core'
import type { Answers, Bodies } from '../contract'

export type CommentsRead = Answers['GET copies/{copyId}/comments']
export type CommentBody = Bodies['PUT copies/{copyId}/comments/{commentId}']

/** What a comment that is written now is about, and how it is called. */
export interface Target {
  readonly anchor: Anchor
  readonly words: string
}

/** A comment as it is shown: kept, or still on its way from this browser. */
export interface CommentShown extends CommentSeen {
  /** Not with Gavrin yet. `problem`: why it will not be. */
  readonly unsent: { readonly problem: string | null } | null
  readonly isNew: boolean
}

export interface ThreadShown extends Omit<ThreadSeen, 'comments'> {
  readonly comments: readonly CommentShown[]
}

/** Somebody who can be named here, and up to when they have seen what is said. */
export type PersonNamed = CommentsRead['people'][number]
