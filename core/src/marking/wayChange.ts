import { type CopyMark, isComplete } from './mark.js'
import type { MarkParts } from './parts.js'
import type { MarkedSpace, MarkingWay } from './way.js'

/** A mark of a copy, as one way of marking has it. */
export interface MarkedSo {
  readonly copyId: string
  /** Whose alone it is; null: the copy's. */
  readonly personId: string | null
  readonly spaces: readonly MarkedSpace[]
  readonly parts: MarkParts
  readonly mark: CopyMark
  /** Somebody said that its marking is done. */
  readonly isDone: boolean
}

/** What another way of marking does to a mark. */
export interface MarkMoved {
  readonly copyId: string
  readonly personId: string | null
  readonly before: CopyMark
  readonly after: CopyMark
  /** Parts with points that count no longer; they are kept, and count again when they are asked for again. */
  readonly uncounted: number
  /** It is done, and lacks something that the other way asks for. */
  readonly isOpenAgain: boolean
}

/** The parts of a mark that have points and count. */
const counted = ({ spaces, parts }: MarkedSo, { rubric, scale }: MarkingWay): string[] => [
  ...spaces.flatMap(({ id }) => (parts.spaces[id] === undefined ? [] : [`space ${id}`])),
  ...rubric.flatMap(({ id }) => (parts.rubric[id] === undefined ? [] : [`criterion ${id}`])),
  ...(parts.step !== null && scale?.steps.includes(parts.step) ? ['step'] : []),
]

/**
 * What changes in marks that were given when copies are marked in another way: those of which the total, the most, the step or what
 * counts is another one. Nothing that was marked is lost by it: parts that do not count are kept.
 * @param before copies as they are marked now
 * @param after the same copies as they would be, in whatever order
 */
export function marksMoved(
  before: { readonly way: MarkingWay; readonly copies: readonly MarkedSo[] },
  after: { readonly way: MarkingWay; readonly copies: readonly MarkedSo[] },
): MarkMoved[] {
  const later = new Map(after.copies.map((copy) => [`${copy.copyId} ${copy.personId}`, copy]))
  return before.copies.flatMap((copy) => {
    const then = later.get(`${copy.copyId} ${copy.personId}`)
    if (!then) return []
    const still = new Set(counted(then, after.way))
    const uncounted = counted(copy, before.way).filter((part) => !still.has(part)).length
    const isOpenAgain =
      copy.isDone &&
      isComplete(before.way, copy.mark) &&
      after.way.kind !== 'not marked' &&
      !isComplete(after.way, then.mark)
    const isGiven = copy.isDone || hasMark(copy.mark) || hasMark(then.mark)
    const isSame =
      copy.mark.total === then.mark.total && copy.mark.most === then.mark.most && copy.mark.step === then.mark.step
    if (uncounted === 0 && !isOpenAgain && (isSame || !isGiven)) return []
    return [
      { copyId: copy.copyId, personId: copy.personId, before: copy.mark, after: then.mark, uncounted, isOpenAgain },
    ]
  })
}

const hasMark = ({ total, step }: CopyMark): boolean => total !== null || step !== null
