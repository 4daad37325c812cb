import { type Outcome, fine, refuse } from '../errors/problem.js'

/** What the pen of whoever marks leaves on a page. */
export const PEN_KINDS = ['tick', 'cross', 'stroke'] as const
export type PenKind = (typeof PEN_KINDS)[number]

/**
 * A mark of the pen: over an answer space or a block of the print, so that it stays with it however wide the page is. Places are in
 * thousandths of the width of what it is over, from its upper corner on the left.
 */
export interface PenMark {
  readonly kind: PenKind
  readonly over: { readonly is: 'space' | 'print'; readonly id: string }
  /** Of a tick or a cross one, where its middle is. */
  readonly points: readonly (readonly [number, number])[]
}

/** Marks of one copy and points of one stroke: more than anybody draws, and no more than a page loads; how far from what it is over. */
export const PEN_LIMITS = { marks: 1_000, points: 400, reach: 20_000 } as const

const isPlace = (value: unknown): value is readonly [number, number] =>
  Array.isArray(value) &&
  value.length === 2 &&
  value.every((one) => Number.isInteger(one) && Math.abs(one as number) <= PEN_LIMITS.reach)

/** Reads a mark of the pen as it was sent. */
export function readPenMark(raw: { readonly [key: string]: unknown }): Outcome<PenMark> {
  const { kind, over, points } = raw
  const { is, id } = (typeof over === 'object' && over !== null ? over : {}) as { is?: unknown; id?: unknown }
  const isRead =
    PEN_KINDS.includes(kind as PenKind) &&
    (is === 'space' || is === 'print') &&
    typeof id === 'string' &&
    /^[A-Za-z0-9_-]{1,64}$/.test(id) &&
    Array.isArray(points) &&
    points.length >= 1 &&
    points.length <= (kind === 'stroke' ? PEN_LIMITS.points : 1) &&
    points.every(isPlace)
  return isRead
    ? fine({
        kind: kind as PenKind,
        over: { is, id },
        points,
      })
    : refuse({ code: 'pen', field: 'points', sentence: 'This mark of the pen cannot be read.' })
}

/** Points of a stroke that say as much: those nearer than so much to the one before are left out. */
const STILL = 3

/**
 * A stroke with no more points than it needs, and no more than one may have; its ends stay.
 * @param points as the pointer gave them
 */
export function thinned(points: PenMark['points']): PenMark['points'] {
  const kept: (readonly [number, number])[] = []
  points.forEach((point, at) => {
    const last = kept.at(-1)
    const isEnd = at === points.length - 1
    if (!last || isEnd || Math.hypot(point[0] - last[0], point[1] - last[1]) >= STILL) kept.push(point)
  })
  if (kept.length <= PEN_LIMITS.points) return kept
  const every = (kept.length - 1) / (PEN_LIMITS.points - 1)
  return Array.from({ length: PEN_LIMITS.points }, (_, at) => kept[Math.round(at * every)]!)
}

/**
 * How far a place is from a mark of the pen, at the nearest of its points and lines.
 * @returns thousandths of the width of what it is over
 */
export function farFrom({ points }: PenMark, [x, y]: readonly [number, number]): number {
  const distances = points.map(([px, py], at) => {
    const [qx, qy] = points[at + 1] ?? [px, py]
    const length = (qx - px) ** 2 + (qy - py) ** 2
    const along = length === 0 ? 0 : Math.max(0, Math.min(1, ((x - px) * (qx - px) + (y - py) * (qy - py)) / length))
    return Math.hypot(x - px - along * (qx - px), y - py - along * (qy - py))
  })
  return Math.min(...distances)
}
