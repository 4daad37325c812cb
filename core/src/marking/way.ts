import type { Statement } from '../handout/statement.js'
import type { WorksheetContent } from '../worksheet/content.js'
import { answerSpaces } from '../worksheet/walk.js'
import { type Points, pointsFrom } from './points.js'

/** A level of a criterion that can be reached. */
export interface Level {
  readonly id: string
  /** What who reaches it has done. */
  readonly name: string
  readonly points: Points
}

/** What is looked at, with what it is worth. */
export interface Criterion {
  readonly id: string
  readonly name: string
  readonly most: Points
  /** The least first; none: any points up to the most. */
  readonly levels: readonly Level[]
}

/** A scale, best step first. */
export interface Scale {
  readonly steps: readonly string[]
  /** From how many per cent each is reached, falling to 0; null: a step is given by hand. */
  readonly from: readonly number[] | null
}

/** What work that comes late loses: per cent of the most for each day begun, and how many per cent of the sum stay in any case. */
export interface LateRule {
  readonly perDay: number
  readonly atLeast: number
}

/** How copies of a handout are marked. */
export interface MarkingWay {
  /** `points`: out of so many, by a rubric or by hand; `spaces`: by the points of the answer spaces and a rubric; `remark`: by words alone. */
  readonly kind: 'points' | 'spaces' | 'scale' | 'remark' | 'not marked'
  /** Of `points`: out of how many. */
  readonly outOf: Points | null
  readonly rubric: readonly Criterion[]
  readonly scale: Scale | null
  readonly late: LateRule | null
}

/** How copies are marked, as a slip says it. */
export function markingWay({
  marking,
  rubric,
  lateDeduction,
}: Pick<Statement, 'marking' | 'rubric' | 'lateDeduction'>): MarkingWay {
  const isByPoints = marking.kind !== 'ungraded' && marking.kind !== 'not marked'
  return {
    kind: marking.kind === 'ungraded' ? 'remark' : marking.kind,
    outOf: marking.kind === 'points' ? pointsFrom(marking.points) : null,
    rubric: isByPoints
      ? rubric.map(({ id, name, points, levels = [] }) => ({
          ...{ id, name, most: pointsFrom(points) },
          levels: levels
            .map((level) => ({ id: level.id, name: level.name, points: pointsFrom(level.points) }))
            .toSorted((a, b) => a.points - b.points),
        }))
      : [],
    scale: marking.kind === 'scale' ? { steps: marking.steps, from: marking.from ?? null } : null,
    late: isByPoints ? (lateDeduction ?? null) : null,
  }
}

/** An answer space that points are given for. */
export interface MarkedSpace {
  /** Its address: in a repeated section there is one for each part. */
  readonly id: string
  readonly most: Points
}

/** The answer spaces of a copy that points are given for, in the order of the page. */
export function markedSpaces(
  { kind }: Pick<MarkingWay, 'kind'>,
  content: Pick<WorksheetContent, 'blocks'>,
): MarkedSpace[] {
  if (kind !== 'spaces' && kind !== 'scale') return []
  return answerSpaces(content).flatMap(({ id, points }) => (points ? [{ id, most: pointsFrom(points) }] : []))
}
