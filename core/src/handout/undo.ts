import type { CopyState } from '../progress/journal.js'
import type { ChangeKind, CopyCounts } from './changes.js'

/** What becomes of a copy by an undo. */
export interface UndoneCopy {
  readonly copyId: string
  readonly title: string
  readonly className: string
  readonly becomes: readonly Exclude<ChangeKind, 'notify'>[]
  readonly state: CopyState
  /** Something is written in it. */
  readonly written: boolean
}

/** What an undo would do. */
export interface UndoProof {
  /** What is undone: a hand-out, or an undo. */
  readonly kind: 'hand out' | 'undo'
  /** When that was, in milliseconds since 1970, and who did it. */
  readonly at: number
  readonly by: string
  /** Nothing was handed out before it: the slip stays as it is, a draft. */
  readonly isFirst: boolean
  readonly copies: readonly UndoneCopy[]
  readonly counts: Omit<CopyCounts, 'notes'>
  /** Cover notes that went out with it, and stay with those who have them. */
  readonly notes: number
  readonly fingerprint: string
}
