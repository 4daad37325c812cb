import { fingerprintOf } from '../common/fingerprint.js'
import { type CopyState, isIn } from '../progress/journal.js'

/** Somebody who holds a copy that is to be given to keep. */
export interface Keeper {
  readonly personId: string
  /** Guests have no desk on which something could be kept. */
  readonly isStudent: boolean
  /** They were given it to keep before. */
  readonly hasIt: boolean
}

/** A copy that is to become its holders' own. */
export interface CopyToKeep {
  readonly copyId: string
  readonly state: CopyState
  /** Something was written in it, or handed in with it. */
  readonly isWritten: boolean
  readonly holders: readonly Keeper[]
}

/** Why a copy is given to nobody to keep. */
export type NotKept = 'not begun' | 'not submitted' | 'no student' | 'given before'

/** What becomes of a copy, and whose own it becomes. */
export interface KeepLine {
  readonly copyId: string
  readonly is: 'given' | NotKept
  readonly personIds: readonly string[]
}

/**
 * Which copies become whose own: of each copy that is in, a copy for every student who holds it and has none yet, in the order given.
 * Planned a second time, after it was done, it gives nothing.
 * @param unfinished also those that are worked in and not submitted; what nobody has begun is nobody's work
 */
export function planKeep<C extends CopyToKeep>(copies: readonly C[], unfinished: boolean): (C & KeepLine)[] {
  return copies.map((copy) => {
    const students = copy.holders.filter(({ isStudent }) => isStudent)
    const without = students.filter(({ hasIt }) => !hasIt)
    const line = (is: KeepLine['is'], some: readonly Keeper[] = []) => ({
      ...copy,
      is,
      personIds: some.map(({ personId }) => personId),
    })
    if (students.length === 0) return line('no student')
    if (without.length === 0) return line('given before')
    if (isIn(copy)) return line('given', without)
    if (!copy.isWritten) return line('not begun')
    return unfinished ? line('given', without) : line('not submitted')
  })
}

/** What tells one plan from another: who is shown a plan and then gives, gives that one or is told. */
export const keepFingerprint = (lines: readonly KeepLine[]): string =>
  fingerprintOf(lines.filter(({ is }) => is === 'given').map(({ copyId, personIds }) => [copyId, personIds]))
