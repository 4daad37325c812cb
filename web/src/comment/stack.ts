/** A note of the margin: where it would stand by itself, and how high it is, in pixels. */
export interface Note {
  readonly id: string
  readonly wanted: number
  readonly height: number
}

/** Between two notes, in pixels. */
const GAP = 14

/**
 * Where notes stand so that none covers another: each beside what it is about, or beneath the one before it.
 * @returns their upper edges by id, and the lower edge of the last
 */
export function stackNotes(notes: readonly Note[]): {
  readonly tops: ReadonlyMap<string, number>
  readonly end: number
} {
  const tops = new Map<string, number>()
  let end = 0
  for (const { id, wanted, height } of notes.toSorted((one, other) => one.wanted - other.wanted)) {
    const top = Math.max(0, wanted, tops.size > 0 ? end + GAP : 0)
    tops.set(id, top)
    end = top + height
  }
  return { tops, end }
}
