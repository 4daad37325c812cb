import { type Outcome, fine, refuse } from '../errors/problem.js'
import { cleanText } from '../roster/names.js'
import { isSame } from '../worksheet/same.js'
import { type Points, isPoints, pointsInWords } from './points.js'
import type { MarkedSpace, MarkingWay } from './way.js'

/** What was reached in a criterion. */
export interface LevelReached {
  readonly points: Points
  /** The level; null: points by hand. */
  readonly level: string | null
}

/** Points added or taken off, and why. */
export interface Adjustment {
  readonly points: Points
  readonly reason: string
}

/** What a mark is made of. The mark itself follows from it (see {@link markOf}) and is typed nowhere a second time. */
export interface MarkParts {
  /** Points by the address of an answer space. */
  readonly spaces: Readonly<Record<string, Points>>
  /** By criterion. */
  readonly rubric: Readonly<Record<string, LevelReached>>
  readonly adjustments: readonly Adjustment[]
  /** Late work loses nothing here. */
  readonly waivesLate: boolean
  /** Typed over the sum; null: the sum counts. */
  readonly total: Points | null
  /** A step of the scale given by hand; null: by the points. */
  readonly step: string | null
  /** It counts nowhere. */
  readonly excused: boolean
  /** What is said of the whole. */
  readonly remark: string
}

export const NO_PARTS: MarkParts = {
  spaces: {},
  rubric: {},
  adjustments: [],
  waivesLate: false,
  total: null,
  step: null,
  excused: false,
  remark: '',
}

/**
 * A change of one part of a mark, with what stood there before: two who change different parts do not meet, and who changes what
 * another has changed meanwhile is told.
 */
export type MarkChange =
  | { readonly of: 'space'; readonly space: string; readonly was: Points | null; readonly to: Points | null }
  | {
      readonly of: 'criterion'
      readonly criterion: string
      readonly was: LevelReached | null
      readonly to: LevelReached | null
    }
  | { readonly of: 'adjustments'; readonly was: readonly Adjustment[]; readonly to: readonly Adjustment[] }
  | { readonly of: 'waivesLate' | 'excused'; readonly was: boolean; readonly to: boolean }
  | { readonly of: 'total'; readonly was: Points | null; readonly to: Points | null }
  | { readonly of: 'step'; readonly was: string | null; readonly to: string | null }
  | { readonly of: 'remark'; readonly was: string; readonly to: string }

export const MARK_LIMITS = { remark: 5_000, adjustments: 20, reason: 200, changes: 400, address: 120 } as const

/** What a change undoes another one. */
export const undone = (change: MarkChange): MarkChange => ({ ...change, was: change.to, to: change.was }) as MarkChange

/** What stands where a change goes. */
export function markPartOf(parts: MarkParts, change: MarkChange): MarkChange['to'] {
  if (change.of === 'space') return parts.spaces[change.space] ?? null
  if (change.of === 'criterion') return parts.rubric[change.criterion] ?? null
  return parts[change.of]
}

/**
 * Parts after a change.
 * @returns a problem with the code `changed-meanwhile` where something else stands there than the change says
 */
export function changeParts(parts: MarkParts, change: MarkChange): Outcome<MarkParts> {
  const is = markPartOf(parts, change)
  if (isSame(is, change.to)) return fine(parts)
  if (!isSame(is, change.was))
    return refuse({
      code: 'changed-meanwhile',
      sentence: 'This was changed by somebody else meanwhile: look at it again.',
    })
  switch (change.of) {
    case 'space':
      return fine({ ...parts, spaces: withOne(parts.spaces, change.space, change.to) })
    case 'criterion':
      return fine({ ...parts, rubric: withOne(parts.rubric, change.criterion, change.to) })
    default:
      return fine({ ...parts, [change.of]: change.to })
  }
}

function withOne<T>(all: Readonly<Record<string, T>>, key: string, value: T | null): Readonly<Record<string, T>> {
  const { [key]: _, ...others } = all
  return value === null ? others : { ...others, [key]: value }
}

/** Whether a change fits how copies are marked: no more points than there are, nothing of a criterion that is not. */
export function checkChange(way: MarkingWay, spaces: readonly MarkedSpace[], change: MarkChange): Outcome<MarkChange> {
  const tooMany = (most: Points) =>
    refuse({ code: 'too-many', field: change.of, sentence: `There are ${pointsInWords(most)} points at most.` })
  const no = (sentence: string) => refuse({ code: 'not-so-marked', field: change.of, sentence })
  if (way.kind === 'not marked') return no('This handout is not marked.')
  if (isSame(change.to, null)) return fine(change)
  switch (change.of) {
    case 'space': {
      const space = spaces.find(({ id }) => id === change.space)
      if (!space) return no('No points are given for this answer.')
      return change.to! > space.most ? tooMany(space.most) : fine(change)
    }
    case 'criterion': {
      const criterion = way.rubric.find(({ id }) => id === change.criterion)
      if (!criterion) return no('The rubric has no such row.')
      const { points, level } = change.to!
      if (points > criterion.most) return tooMany(criterion.most)
      if (level !== null && !criterion.levels.some(({ id }) => id === level)) return no('The rubric has no such level.')
      return fine(change)
    }
    case 'total': {
      const most = mostOf(way, spaces)
      if (most === null) return no('This handout is not marked by points.')
      return change.to! > most ? tooMany(most) : fine(change)
    }
    case 'step':
      return way.scale?.steps.includes(change.to as string) ? fine(change) : no('The scale has no such step.')
    case 'adjustments':
    case 'waivesLate':
      return mostOf(way, spaces) === null && change.to !== false && (change.to as readonly unknown[]).length !== 0
        ? no('This handout is not marked by points.')
        : fine(change)
    default:
      return fine(change)
  }
}

/** The most points of a copy; null: it is not marked by points. */
export function mostOf(way: MarkingWay, spaces: readonly MarkedSpace[]): Points | null {
  if (way.outOf !== null) return way.outOf
  if (way.kind !== 'spaces' && way.kind !== 'scale') return null
  const sum = [...spaces, ...way.rubric].reduce((all, { most }) => all + most, 0)
  return sum === 0 ? null : sum
}

/** Reads changes as a page sends them. */
export function readMarkChanges(input: unknown): Outcome<MarkChange[]> {
  if (!Array.isArray(input) || input.length === 0 || input.length > MARK_LIMITS.changes) return UNREADABLE
  const read = input.map(readChange)
  return read.includes(null) ? UNREADABLE : fine(read as MarkChange[])
}

const UNREADABLE = refuse({ code: 'unreadable', field: 'changes', sentence: 'This change of a mark cannot be read.' })

type Raw = Readonly<Record<string, unknown>>
const record = (input: unknown): Raw => (typeof input === 'object' && input !== null ? (input as Raw) : {})
const isText = (value: unknown, most: number): value is string => typeof value === 'string' && value.length <= most

function readChange(input: unknown): MarkChange | null {
  const { of, was, to, space, criterion } = record(input)
  const both = <T>(read: (value: unknown) => T | undefined) => {
    const [before, after] = [read(was), read(to)]
    return before === undefined || after === undefined ? null : { was: before, to: after }
  }
  const some = (values: object | null, rest: object) => values && ({ ...rest, ...values } as MarkChange)
  switch (of) {
    case 'space':
      return isText(space, MARK_LIMITS.address) ? some(both(nullOr(points)), { of, space }) : null
    case 'criterion':
      return isText(criterion, MARK_LIMITS.address) ? some(both(nullOr(reached)), { of, criterion }) : null
    case 'adjustments':
      return some(both(adjustments), { of })
    case 'waivesLate':
    case 'excused':
      return some(
        both((value) => (typeof value === 'boolean' ? value : undefined)),
        { of },
      )
    case 'total':
      return some(both(nullOr(points)), { of })
    case 'step':
      return some(both(nullOr((value) => (isText(value, 60) ? value : undefined))), { of })
    case 'remark':
      return some(both(remark), { of })
    default:
      return null
  }
}

const nullOr =
  <T>(read: (value: unknown) => T | undefined) =>
  (value: unknown): T | null | undefined =>
    value === null ? null : read(value)

const points = (value: unknown): Points | undefined => (isPoints(value) ? value : undefined)

function reached(value: unknown): LevelReached | undefined {
  const { points: given, level } = record(value)
  if (!isPoints(given) || (level !== null && !isText(level, MARK_LIMITS.address))) return undefined
  return { points: given, level }
}

function adjustments(value: unknown): Adjustment[] | undefined {
  if (!Array.isArray(value) || value.length > MARK_LIMITS.adjustments) return undefined
  const read = value.map((one: unknown): Adjustment | null => {
    const { points: given, reason } = record(one)
    if (!isPoints(given, -1_000_000) || !isText(reason, MARK_LIMITS.reason)) return null
    return { points: given, reason: cleanText(reason) }
  })
  return read.includes(null) ? undefined : (read as Adjustment[])
}

// oxlint-disable-next-line no-control-regex
const UNSEEN = /[\u0000-\u0008\u000B-\u001F\u007F]/g
const remark = (value: unknown): string | undefined =>
  isText(value, MARK_LIMITS.remark) ? value.replace(UNSEEN, '') : undefined
