import type { CopyState } from '../progress/journal.js'
import type { ChangeKind, CopyCounts } from './changes.js'
import type { Statement } from './statement.js'

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

/** A class of a handout as it stands before an undo. */
export interface UndoPart {
  readonly statement: Statement
  /** As it was handed out; null: it was not. */
  readonly given: Statement | null
  /** What it goes back to; null: nothing of it is undone, as when a single copy was taken back in another class. */
  readonly target: Statement | null
}

/**
 * What each class of a handout has in its slip after an undo, and what counts as handed out where nothing is undone by it. All
 * classes have one statement; where nothing was handed out before, the slip stays as it is, to be mended and handed out again.
 */
export function slipsAfterUndo(
  parts: readonly UndoPart[],
): readonly { readonly statement: Statement; readonly given: Statement | null }[] {
  const whole = parts.find(({ target }) => target && target.items.length > 0)?.target
  return parts.map(({ statement, given, target }) => {
    if (!whole) return { statement, given }
    const isFirst = target?.items.length === 0
    return { statement: isFirst ? statement : whole, given: target === null && given ? whole : given }
  })
}
