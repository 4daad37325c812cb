import { type MarkParts, mostOf } from './parts.js'
import { type Points, pointsInWords } from './points.js'
import type { LateRule, MarkedSpace, MarkingWay, Scale } from './way.js'

const DAY = 86_400_000

/** How many days late something was submitted: each day begun counts. Times in milliseconds since 1970. */
export const daysLate = (dueAt: number | null, submittedAt: number | null): number =>
  dueAt === null || submittedAt === null || submittedAt <= dueAt ? 0 : Math.ceil((submittedAt - dueAt) / DAY)

/** Divides whole numbers, halves away from zero: the one way in which marking rounds. */
export function divided(value: number, by: number): number {
  const size = Math.floor((Math.abs(value) * 2 + by) / (by * 2))
  return value < 0 && size > 0 ? -size : size
}

/**
 * What late work loses: per cent of the most for each day begun, so that no less stays than the rule says of the sum, and nothing
 * below 0. Rounded to a hundredth of a point, halves away from zero.
 * @returns 0 or less
 */
export function lateLoss(rule: LateRule | null, sum: Points, most: Points, days: number): Points {
  if (!rule || days <= 0 || sum <= 0) return 0
  const loss = divided(most * rule.perDay * days, 100)
  const stays = divided(sum * rule.atLeast, 100)
  return -Math.min(loss, Math.max(0, sum - stays)) || 0
}

/** Per cent in hundredths: 72.5 % is 7250. Halves away from zero. */
export const percentOf = (points: Points, most: Points): number => (most === 0 ? 0 : divided(points * 10_000, most))

/**
 * The step of a scale that so many per cent (in hundredths) reach: the best one whose threshold is not above them.
 * @returns null where steps are given by hand
 */
export function stepFor({ steps, from }: Scale, percent: number): string | null {
  if (!from) return null
  const at = from.findIndex((least) => percent >= least * 100)
  return steps[at < 0 ? steps.length - 1 : at] ?? null
}

/** What a mark comes to. */
export interface CopyMark {
  /** The sum of its parts, with what is added and taken off, without what late work loses; null: no part has points yet. */
  readonly sum: Points | null
  /** Out of how many; null: not marked by points. */
  readonly most: Points | null
  /** What late work loses: 0 or less. */
  readonly late: Points
  /** What counts: typed, or the sum less what late work loses, never below 0. */
  readonly total: Points | null
  /** The total was typed over the sum. */
  readonly isTyped: boolean
  /** The typed total less what the parts come to; 0 where none was typed. */
  readonly difference: Points
  readonly step: string | null
  /** In hundredths of a per cent; null: without points. */
  readonly percent: number | null
  /** How many parts have no points yet, of how many. */
  readonly open: number
  readonly of: number
  readonly excused: boolean
}

/**
 * What a mark comes to: the sum of the points of its parts in whatever order these came. Parts that the way no longer has (a row
 * that was taken out of the rubric, an answer space without points) are kept and do not count.
 * @param spaces those that points are given for
 * @param days how many days late the copy was submitted
 */
export function markOf(way: MarkingWay, spaces: readonly MarkedSpace[], parts: MarkParts, days: number): CopyMark {
  const most = mostOf(way, spaces)
  const given = [
    ...spaces.map(({ id, most: limit }) => limited(parts.spaces[id], limit)),
    ...way.rubric.map(({ id, most: limit }) => limited(parts.rubric[id]?.points, limit)),
  ]
  const found = given.filter((points) => points !== null)
  const adjusted = parts.adjustments.reduce((sum, { points }) => sum + points, 0)
  const sum =
    most === null || (found.length === 0 && parts.adjustments.length === 0)
      ? null
      : Math.max(0, found.reduce((all, points) => all + points, 0) + adjusted)
  const isTyped = parts.total !== null && most !== null
  const late = sum === null || most === null || parts.waivesLate ? 0 : lateLoss(way.late, sum, most, days)
  const computed = sum === null ? null : sum + late
  const total = isTyped ? parts.total : computed
  const percent = total === null || most === null ? null : percentOf(total, most)
  const byHand = parts.step !== null && way.scale?.steps.includes(parts.step) ? parts.step : null
  return {
    ...{ sum, most, late, total, isTyped, percent },
    difference: isTyped && computed !== null ? parts.total - computed : 0,
    step: way.scale ? (byHand ?? (percent === null ? null : stepFor(way.scale, percent))) : null,
    open: given.length - found.length,
    of: given.length,
    excused: parts.excused,
  }
}

const limited = (points: Points | undefined, most: Points): Points | null =>
  points === undefined ? null : Math.min(points, most)

/** Parts of one member of a group: the group's, with what is theirs alone. */
export function memberParts(group: MarkParts, own: MarkParts | null): MarkParts {
  if (!own) return group
  return {
    ...group,
    adjustments: [...group.adjustments, ...own.adjustments],
    waivesLate: group.waivesLate || own.waivesLate,
    total: own.total ?? group.total,
    step: own.step ?? group.step,
    excused: group.excused || own.excused,
    remark: [group.remark, own.remark].filter(Boolean).join('\n'),
  }
}

/** Whether a mark says all that it is asked for: a total, a step, or words. */
export function isComplete(way: Pick<MarkingWay, 'kind'>, mark: CopyMark): boolean {
  if (mark.excused || way.kind === 'remark') return true
  if (way.kind === 'not marked') return false
  if (mark.isTyped) return true
  if (way.kind === 'scale') return mark.step !== null
  return mark.total !== null && mark.open === 0
}

/** A mark in a few words: `14½ of 20`, `Good`, `excused`, `remark`. */
export function markInWords(mark: Pick<CopyMark, 'total' | 'most' | 'step' | 'excused'>): string {
  if (mark.excused) return 'excused'
  if (mark.step !== null) return mark.step
  if (mark.total === null || mark.most === null) return 'remark'
  return `${pointsInWords(mark.total)} of ${pointsInWords(mark.most)}`
}
