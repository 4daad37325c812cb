/** What went wrong, in words for the person who can mend it, and where. */
export interface Problem {
  /** Stable, for programs: e.g. `email-malformed`. */
  readonly code: string
  /** One clear sentence for a teacher or a student. */
  readonly sentence: string
  /** The field the sentence belongs to, as a path: `title`, `blocks.3.options`. */
  readonly field?: string
  /** The row of a table the sentence belongs to, counted from 0. */
  readonly row?: number
}

/** A value, or the problems that stand in its way. */
export type Outcome<T> = { readonly ok: true; readonly value: T } | { readonly ok: false; readonly problems: Problem[] }

export const fine = <T>(value: T): Outcome<T> => ({ ok: true, value })
export const refuse = (...problems: Problem[]): { ok: false; problems: Problem[] } => ({ ok: false, problems })
