import { baseAddress } from '../worksheet/sections.js'
import type { Anchor } from './anchor.js'

/**
 * What of the worksheet a comment is about, whichever copy it stands in: the id of an answer space, or of another block of the page;
 * null: the whole copy.
 */
export function aboutWhat(anchor: Anchor): string | null {
  if (anchor.is === 'copy') return null
  return baseAddress(anchor.is === 'print' ? anchor.block : anchor.space).base
}

/** A question, as far as it matters for whether others ask the same. */
export interface AskedQuestion {
  readonly handoutId: string
  readonly worksheetId: string
  /** What of the worksheet it is about, by {@link aboutWhat}. */
  readonly asked: string | null
  /** Milliseconds since 1970. */
  readonly at: number
}

/** Questions about the same place of the same worksheet of a handout, the longest waiting first in each and of them. */
export function askedTogether<Q extends AskedQuestion>(questions: readonly Q[]): (readonly Q[])[] {
  const groups = new Map<string, Q[]>()
  for (const question of questions.toSorted((a, b) => a.at - b.at)) {
    const { handoutId, worksheetId, asked } = question
    if (asked === null) continue
    const key = `${handoutId} ${worksheetId} ${asked}`
    groups.set(key, [...(groups.get(key) ?? []), question])
  }
  return [...groups.values()].filter(({ length }) => length > 1)
}
