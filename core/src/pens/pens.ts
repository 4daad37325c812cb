/** What says whether pens are down in a copy. Times in milliseconds since 1970. */
export interface PensFacts {
  /** A teacher stopped them. */
  readonly pensDown: boolean
  /** A teacher said that they go down by themselves then; null: nobody did. */
  readonly pensDownFrom: number | null
  /** They go down by themselves when the copy is due. */
  readonly pensDownAtDue: boolean
  readonly dueAt: number | null
}

/** Whether nobody can write any more because the due time has passed. */
export const pensDownByTime = (
  { pensDownAtDue, dueAt }: Pick<PensFacts, 'pensDownAtDue' | 'dueAt'>,
  now: number,
): boolean => pensDownAtDue && dueAt !== null && now >= dueAt

/** Whether pens are down since a moment that a teacher set. */
export const pensDownAsSet = ({ pensDownFrom }: Pick<PensFacts, 'pensDownFrom'>, now: number): boolean =>
  pensDownFrom !== null && now >= pensDownFrom

/** Whether a teacher stopped the pens: at once, or by a moment that has come. */
export const pensDownByTeacher = (copy: Pick<PensFacts, 'pensDown' | 'pensDownFrom'>, now: number): boolean =>
  copy.pensDown || pensDownAsSet(copy, now)

/** Whether pens are down, for whatever reason. */
export const arePensDown = (copy: PensFacts, now: number): boolean =>
  pensDownByTeacher(copy, now) || pensDownByTime(copy, now)

/**
 * When pens that are up go down by themselves, the first of the reasons there are.
 * @returns milliseconds since 1970; null: they are down, or nothing stops them
 */
export function pensGoDownAt(copy: PensFacts, now: number): number | null {
  if (arePensDown(copy, now)) return null
  const moments = [copy.pensDownFrom, copy.pensDownAtDue ? copy.dueAt : null].filter((at) => at !== null)
  return moments.length > 0 ? Math.min(...moments) : null
}

/** How the pens of a copy stand by the acts of its teachers. */
export interface PensStand {
  readonly down: boolean
  /** When they go down by themselves; null: they do not. */
  readonly from: number | null
}

/** What a teacher wishes of the pens of copies. */
export type PensWish =
  | { readonly act: 'down' }
  /** After so many minutes, in each copy so many more as are said of it. */
  | { readonly act: 'down later'; readonly minutes: number; readonly more: Readonly<Record<string, number>> }
  | { readonly act: 'up' }

export const PENS_ACTS = ['down', 'down later', 'up'] as const satisfies readonly PensWish['act'][]

/** The longest time, in minutes, after which pens can be set to go down: what is later has a due time. */
export const PENS_LATER_LIMIT = 600

/** A change of how the pens of a copy stand. */
export interface PensChange {
  readonly copyId: string
  readonly before: PensStand
  readonly after: PensStand
}

/** Of a copy, what its pens depend on. */
export interface PensCopy extends PensFacts {
  readonly copyId: string
}

/** What an act on the pens of some copies comes to. */
export interface PensPlan {
  readonly changes: readonly PensChange[]
  /** Copies that are so already. */
  readonly same: readonly string[]
  /** Copies whose pens stay down all the same, for their due time has passed. */
  readonly stayDown: readonly string[]
}

/** How the pens of a copy stand by the acts of its teachers: a moment that has come is as a stop at once. */
export const pensStand = (copy: Pick<PensFacts, 'pensDown' | 'pensDownFrom'>, now: number): PensStand =>
  pensDownByTeacher(copy, now) ? { down: true, from: null } : { down: false, from: copy.pensDownFrom }

/**
 * What an act on the pens of some copies would do, copy by copy. Pure: the proof before it and the act itself are this.
 * @param now milliseconds since 1970
 */
export function planPens(copies: readonly PensCopy[], wish: PensWish, now: number): PensPlan {
  const changes: PensChange[] = []
  const same: string[] = []
  const stayDown: string[] = []
  for (const copy of copies) {
    const before = pensStand(copy, now)
    const after = standAfter(copy.copyId, before, wish, now)
    if (wish.act === 'up' && pensDownByTime(copy, now)) stayDown.push(copy.copyId)
    else if (isSameStand(before, after)) same.push(copy.copyId)
    if (!isSameStand(before, after)) changes.push({ copyId: copy.copyId, before, after })
  }
  return { changes, same, stayDown }
}

function standAfter(copyId: string, before: PensStand, wish: PensWish, now: number): PensStand {
  if (wish.act === 'up') return { down: false, from: null }
  if (wish.act === 'down') return { down: true, from: null }
  // What is down already does not come up by saying when it goes down.
  if (before.down) return before
  return { down: false, from: now + (wish.minutes + (wish.more[copyId] ?? 0)) * 60_000 }
}

const isSameStand = (one: PensStand, other: PensStand) => one.down === other.down && one.from === other.from

/** What undoing an act comes to. */
export interface PensUndo {
  readonly changes: readonly PensChange[]
  /** Copies whose pens somebody has changed since: they stay as they are. */
  readonly changedSince: readonly string[]
}

/**
 * What undoing an act on pens would do: each copy is as it was before, where nobody has changed it since.
 * @param copies as they are now
 * @param now milliseconds since 1970
 */
export function planPensUndo(done: readonly PensChange[], copies: readonly PensCopy[], now: number): PensUndo {
  const changes: PensChange[] = []
  const changedSince: string[] = []
  const byId = new Map(copies.map((copy) => [copy.copyId, copy]))
  for (const { copyId, before, after } of done) {
    const copy = byId.get(copyId)
    if (!copy) continue
    const stands = pensStand(copy, now)
    // A moment that was set and has come since is what the act did.
    const expected = pensStand({ pensDown: after.down, pensDownFrom: after.from }, now)
    const was = pensStand({ pensDown: before.down, pensDownFrom: before.from }, now)
    if (!isSameStand(stands, expected)) changedSince.push(copyId)
    else if (!isSameStand(stands, was)) changes.push({ copyId, before: stands, after: was })
  }
  return { changes, changedSince }
}
