/** A change of an answer, as the log has it. */
export interface LoggedChange {
  /** The address of the answer. */
  readonly space: string
  /** Counts the changes of the answer from 1; what was taken out of the log leaves gaps. */
  readonly seq: number
  readonly personId: string
  /** Milliseconds since 1970. */
  readonly at: number
}

/** What one person wrote in one answer without pausing: a step of the history. */
export interface Moment {
  readonly space: string
  readonly personId: string
  /** Of the first and the last of its changes, in milliseconds since 1970. */
  readonly began: number
  readonly at: number
  /** How many changes the answer has had with it, and how many of them are its own. */
  readonly count: number
  readonly changes: number
}

/** A pause that ends a moment, and how long one lasts at most, in milliseconds. */
const PAUSE = 2_000
const LONGEST = 15_000

/**
 * The moments of a history, in the order in which they ended. Several people who write at once have moments beside each other.
 * @param changes those of each answer in the order of their numbers
 * @param steps when something happened to the copy, in milliseconds since 1970: no moment reaches over one, and what a step itself
 * changed is a moment of its own
 */
export function momentsOf(changes: readonly LoggedChange[], steps: readonly number[]): Moment[] {
  const moments: Moment[] = []
  const open = new Map<string, { moment: Moment; at: number }>()
  const counts = new Map<string, number>()
  const cuts = steps.flatMap((at) => [at, at + 1]).sort((one, other) => one - other)
  let passed = 0
  for (const { space, personId, at } of inTime(changes)) {
    for (; cuts[passed] !== undefined && cuts[passed]! <= at; passed++) open.clear()
    const count = (counts.get(space) ?? 0) + 1
    counts.set(space, count)
    const last = open.get(space)
    if (
      last &&
      last.moment.personId === personId &&
      at - last.moment.at <= PAUSE &&
      at - last.moment.began <= LONGEST
    ) {
      last.moment = { ...last.moment, at, count, changes: last.moment.changes + 1 }
      moments[last.at] = last.moment
    } else {
      const moment = { space, personId, began: at, at, count, changes: 1 }
      open.set(space, { moment, at: moments.length })
      moments.push(moment)
    }
  }
  return moments.sort((one, other) => one.at - other.at)
}

/** Changes in the order of time. The clock of the server may have been set back: within an answer it is not. */
function inTime(changes: readonly LoggedChange[]): LoggedChange[] {
  const latest = new Map<string, number>()
  return changes
    .map((change) => {
      const at = Math.max(change.at, latest.get(change.space) ?? 0)
      latest.set(change.space, at)
      return at === change.at ? change : { ...change, at }
    })
    .sort((one, other) => one.at - other.at)
}

/** How many changes each answer has had after the first `shown` moments; answers without any are not in it. */
export function countsAfter(moments: readonly Moment[], shown: number): Map<string, number> {
  const counts = new Map<string, number>()
  for (const { space, count } of moments.slice(0, shown)) counts.set(space, count)
  return counts
}
