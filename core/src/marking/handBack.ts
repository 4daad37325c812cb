import { type Outcome, fine, refuse } from '../errors/problem.js'
import { fingerprintOf } from '../common/fingerprint.js'
import { isSame } from '../worksheet/same.js'
import { type CopyMark, markInWords, markOf, memberParts } from './mark.js'
import type { MarkParts } from './parts.js'
import { type Points, pointsInWords } from './points.js'
import type { MarkedSpace, MarkingWay } from './way.js'

/** A row of a rubric as a student gets it back. */
export interface RubricBack {
  readonly name: string
  readonly points: Points | null
  readonly most: Points
  /** The level that was reached, in words; null: points by hand. */
  readonly level: string | null
}

/** A mark as a student gets it back: whole, so that nothing that is changed later shows before it is handed back again. */
export interface MarkBack extends Pick<
  CopyMark,
  'sum' | 'most' | 'late' | 'total' | 'isTyped' | 'difference' | 'step' | 'percent' | 'excused'
> {
  readonly kind: MarkingWay['kind']
  readonly spaces: Readonly<Record<string, { readonly points: Points; readonly most: Points }>>
  readonly rubric: readonly RubricBack[]
  readonly adjustments: MarkParts['adjustments']
  readonly remark: string
}

/** A mark as it is handed back. */
export function markBack(way: MarkingWay, spaces: readonly MarkedSpace[], parts: MarkParts, days: number): MarkBack {
  const { open: _, of: __, ...mark } = markOf(way, spaces, parts, days)
  return {
    ...mark,
    kind: way.kind,
    spaces: Object.fromEntries(
      spaces.flatMap(({ id, most }) => {
        const points = parts.spaces[id]
        return points === undefined ? [] : [[id, { points, most }] as const]
      }),
    ),
    rubric: way.rubric.map(({ id, name, most, levels }) => {
      const reached = parts.rubric[id]
      const level = levels.find((one) => one.id === reached?.level)
      return { name, most, points: reached?.points ?? null, level: level?.name ?? null }
    }),
    adjustments: parts.adjustments,
    remark: parts.remark,
  }
}

/** A copy to be handed back, with all that it depends on. */
export interface CopyToHandBack {
  readonly copyId: string
  readonly title: string
  readonly worksheet: string
  /** The students who hold it. */
  readonly holders: readonly { readonly personId: string; readonly first: string; readonly last: string }[]
  /** The marking of it is done. */
  readonly isDone: boolean
  readonly isSubmitted: boolean
  readonly parts: MarkParts
  /** What of the mark is one holder's alone. */
  readonly own: Readonly<Record<string, MarkParts>>
  readonly spaces: readonly MarkedSpace[]
  readonly daysLate: number
  /** How many remarks on it were not handed back yet. */
  readonly newRemarks: number
  /** The pen has left something on it that was not handed back yet. */
  readonly newPen: boolean
  /** What each holder has back already. */
  readonly before: Readonly<Record<string, MarkBack>>
}

/** What becomes of a copy for one holder when it is handed back. */
export interface HandBackLine {
  readonly copyId: string
  readonly personId: string
  /** As they are called in a message. */
  readonly first: string
  readonly name: string
  readonly title: string
  readonly worksheet: string
  readonly does: 'hand back' | 'hand back again' | 'nothing new' | 'not marked' | 'not submitted'
  readonly mark: MarkBack
  /** As it was handed back before, in words; null: it was not. */
  readonly before: string | null
  readonly newRemarks: number
  readonly newPen: boolean
  readonly message: string
}

/**
 * What handing back would do: a line for each holder of each copy. Nothing goes back of which the marking is not done; what somebody
 * has back already goes again only where it differs. Planned a second time after it was done, nothing goes.
 * @param message with tokens such as `{first name}`; see {@link messageTo}
 */
export function planHandBack(way: MarkingWay, copies: readonly CopyToHandBack[], message: string): HandBackLine[] {
  return copies.flatMap((copy) =>
    copy.holders.map((holder): HandBackLine => {
      const parts = memberParts(copy.parts, copy.own[holder.personId] ?? null)
      const mark = markBack(way, copy.spaces, parts, copy.daysLate)
      const before = copy.before[holder.personId]
      return {
        copyId: copy.copyId,
        personId: holder.personId,
        first: holder.first || holder.last,
        name: [holder.first, holder.last].filter(Boolean).join(' '),
        title: copy.title,
        worksheet: copy.worksheet,
        does: whatOf(copy, mark, before),
        mark,
        before: before ? markInWords(before) : null,
        newRemarks: copy.newRemarks,
        newPen: copy.newPen,
        message: messageTo(message, holder, copy.worksheet, mark),
      }
    }),
  )
}

function whatOf(copy: CopyToHandBack, mark: MarkBack, before: MarkBack | undefined): HandBackLine['does'] {
  if (!copy.isDone) return copy.isSubmitted ? 'not marked' : 'not submitted'
  if (!before) return 'hand back'
  return isSame(before, mark) && copy.newRemarks === 0 && !copy.newPen ? 'nothing new' : 'hand back again'
}

export const goesBack = ({ does }: Pick<HandBackLine, 'does'>): boolean =>
  does === 'hand back' || does === 'hand back again'

/** What may stand in a message, with what it becomes. */
export const MESSAGE_TOKENS = [
  'first name',
  'last name',
  'worksheet',
  'mark',
  'points',
  'most',
  'points missing',
  'remark',
] as const
export type MessageToken = (typeof MESSAGE_TOKENS)[number]

/** A message to one student: `{first name}` and the other {@link MESSAGE_TOKENS} filled in; other braces stay as they are. */
export function messageTo(
  message: string,
  { first, last }: { readonly first: string; readonly last: string },
  worksheet: string,
  mark: Pick<MarkBack, 'total' | 'most' | 'step' | 'excused' | 'remark'>,
): string {
  const points = (value: Points | null) => (value === null || mark.excused ? '–' : pointsInWords(value))
  const words: Readonly<Record<MessageToken, string>> = {
    'first name': first || last,
    'last name': last,
    worksheet,
    mark: markInWords(mark),
    points: points(mark.total),
    most: points(mark.most),
    'points missing': points(mark.total === null || mark.most === null ? null : Math.max(0, mark.most - mark.total)),
    remark: mark.remark,
  }
  return message
    .replace(/\{([a-z ]+)\}/gi, (whole, token: string) => words[token.toLowerCase() as MessageToken] ?? whole)
    .trim()
}

/** How far ahead it can be set that something is handed back by itself, in milliseconds: a school year and the summer after it. */
const AHEAD = 400 * 86_400_000

/**
 * A time at which something is to be handed back by itself: one that is still to come, and not too far.
 * @param at and `now`, in milliseconds since 1970
 */
export const handBackTime = (at: number, now: number): Outcome<number> =>
  at > now && at <= now + AHEAD
    ? fine(at)
    : refuse({ code: 'at', field: 'at', sentence: 'Set a time that is still to come, within a year.' })

/** What tells one plan from another: who is shown a plan and then hands back, hands that one back or is told. */
export const handBackFingerprint = (lines: readonly HandBackLine[]): string =>
  fingerprintOf(
    lines
      .filter(goesBack)
      .map(({ copyId, personId, mark, newRemarks, newPen, message }) => [
        copyId,
        personId,
        mark,
        newRemarks,
        newPen,
        message,
      ]),
  )
