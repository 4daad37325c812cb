import type { AnswerKind } from '../worksheet/content.js'
import type { PlannedCopy } from './planned.js'

/** A copy that exists: what was planned for it when it was last made true, whether it is set aside, and who wrote where. */
export interface ExistingCopy extends PlannedCopy {
  readonly setAside: boolean
  /** It was opened, or more. */
  readonly opened: boolean
  /** It is submitted, or more. */
  readonly submitted: boolean
  /** Answer space address to those who wrote there, who wrote last first; spaces without writing are not in it. */
  readonly written: Readonly<Record<string, readonly string[]>>
}

/** All that exists of a handout in a class. */
export interface Existing {
  readonly copies: readonly ExistingCopy[]
  /** Keys of the notices that went out. */
  readonly notices: readonly string[]
  /** What was asked where something is written, by the id of the answer space in its worksheet; known with the writing. */
  readonly asked?: Readonly<Record<string, AskedThere>>
  /** Bytes of each answer, by its copy and address, `slotKey space`; known with the writing. */
  readonly sizes?: Readonly<Record<string, number>>
}

/** What an answer space asks. */
export interface AskedThere {
  /** What the space is called, as on the board. */
  readonly label: string
  readonly kind: AnswerKind
}

export const NOTHING_YET: Existing = { copies: [], notices: [] }
