import type { Viewer } from '../access/viewer.js'

/** In how many colours people are told apart; more than these are told apart by their names. */
export const HERE_COLOURS = 6

/** A window in which somebody has a copy open. */
export interface OpenWindow {
  readonly personId: string
  readonly first: string
  /** As they are called. */
  readonly name: string
  readonly isStaff: boolean
  /** They read it as one who was chosen to, and those whose copy it is are not told who. */
  readonly isUnnamed: boolean
  /** The answer space that they write in; null: none. */
  readonly space: string | null
  /** Where in its letters, as `positionAt` gives it; null: not said. */
  readonly at: string | null
  /** The window is out of their sight. */
  readonly isAway: boolean
  /** When that was said, in milliseconds since 1970. */
  readonly saidAt: number
}

/** Somebody who has a copy open, as others see them. */
export interface PersonHere {
  /** Tells people of one copy apart, and in which colour they are shown; counts them as they came. */
  readonly key: number
  /** The first name; of staff, and of who has none, the whole one. */
  readonly first: string
  readonly name: string
  readonly isStaff: boolean
  readonly isSelf: boolean
  readonly isAway: boolean
  readonly space: string | null
  readonly at: string | null
}

/** Somebody, to those who are not told who is in the class. */
const SOMEBODY = 'Somebody'
const A_READER = 'A peer reader'

/**
 * Who has a copy open, each person once, in the order in which they came: where they were last in any of their windows. Guests are
 * not told who is in the class, and but for the staff nobody is told who an unnamed reader is.
 * @param keys which number each person has in this copy
 * @param staffShown whether students see who of the staff is here
 */
export function peopleHere(
  windows: readonly OpenWindow[],
  keys: ReadonlyMap<string, number>,
  viewer: Viewer,
  staffShown = true,
): PersonHere[] {
  const last = new Map<string, OpenWindow>()
  for (const window of windows) {
    const known = last.get(window.personId)
    // A window in sight counts before one that is not.
    const isNewer = !known || (known.isAway === window.isAway ? window.saidAt >= known.saidAt : known.isAway)
    if (isNewer) last.set(window.personId, window)
  }
  const isToStaff = last.get(viewer.personId)?.isStaff ?? false
  return [...last.values()]
    .filter(({ isStaff }) => staffShown || isToStaff || !isStaff)
    .map(({ personId, first, name, isStaff, isUnnamed, isAway, space, at }): PersonHere => {
      const isSelf = personId === viewer.personId
      const isNamed = isSelf || isStaff || isToStaff || (viewer.role !== 'guest' && !isUnnamed)
      const other = viewer.role === 'guest' ? SOMEBODY : A_READER
      return {
        key: keys.get(personId) ?? 0,
        first: isNamed ? (!isStaff && first) || name : other,
        name: isNamed ? name : other,
        isStaff,
        isSelf,
        isAway,
        space: isAway ? null : space,
        at: isAway ? null : at,
      }
    })
    .sort((one, other) => one.key - other.key)
}
