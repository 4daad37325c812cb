/** Somebody who is to be put in a group. */
export interface GroupCandidate {
  readonly id: string
  /** How they are spoken of when something cannot be done. */
  readonly name: string
  /** What each of the columns to balance says of them; empty for nothing. */
  readonly values?: readonly string[]
}

/** Two people who must be in one group, or must not. */
export interface GroupPair {
  readonly a: string
  readonly b: string
  readonly kind: 'together' | 'apart'
}

/** What groups are wanted. */
export interface GroupWish {
  readonly people: readonly GroupCandidate[]
  readonly groups: number
  readonly pairs?: readonly GroupPair[]
  /** Who stays in which group, counted from 0. */
  readonly locked?: ReadonlyMap<string, number>
  /** Any whole number; the same one gives the same groups. */
  readonly seed: number
}

/** Groups as they were made. */
export interface MadeGroups {
  /** The people of each group by id, in the order they came in. */
  readonly groups: string[][]
  /** Largest less smallest group, and see {@link spreadOf}. */
  readonly sizeSpread: number
  readonly valueSpread: number
}
