import {
  CLASS_SIZE_LIMIT,
  type CheckedRoster,
  type ParsedRoster,
  type Problem,
  type RosterField,
  type RosterMember,
  type RosterReading,
  type RosterRow,
  checkRoster,
  understandRoster,
} from '@gavrin/core'

/** What was put right in a row of a list by hand. */
export interface Correction {
  readonly row: Partial<Record<RosterField, string>>
  readonly left?: boolean
  /** Whom of the class it is about; null: nobody of them. */
  readonly sameAs?: string | null
}

/** A list to be understood and compared with the roster. */
export interface ListTask {
  readonly number: number
  readonly rows: readonly (readonly string[])[]
  readonly reading: RosterReading
  readonly corrections: Readonly<Record<number, Correction>>
  readonly members: readonly RosterMember[]
}

/** A list as it was understood; `lines` says of each row that was checked which one of the list it is. */
export type ListAnswer = { readonly number: number } & (
  | { readonly ok: false; readonly problems: readonly Problem[] }
  | {
      readonly ok: true
      readonly parsed: Omit<ParsedRoster, 'entries'>
      readonly total: number
      /** Null: more rows than one class takes, so none of them was compared. */
      readonly checked: CheckedRoster | null
      readonly lines: readonly number[]
    }
)

/** Understands a list and compares it with the roster, with what was corrected by hand. */
export function workOnList({ number, rows, reading, corrections, members }: ListTask): ListAnswer {
  const understood = understandRoster(rows, reading)
  if (!understood.ok) return { number, ok: false, problems: understood.problems }
  const { entries, ...parsed } = understood.value
  const answer = { number, ok: true as const, parsed, total: entries.length }
  if (entries.length > CLASS_SIZE_LIMIT) return { ...answer, checked: null, lines: [] }
  const kept = entries.filter(({ line }) => !corrections[line]?.left)
  const corrected = kept.map((entry): RosterRow => {
    const { row: correction = {}, sameAs } = corrections[entry.line] ?? {}
    const touched = correction.first !== undefined || correction.last !== undefined
    return {
      ...entry,
      ...correction,
      partedByGuess: entry.partedByGuess && !touched,
      ...(sameAs !== undefined && { sameAs }),
    }
  })
  return { ...answer, checked: checkRoster(corrected, members), lines: kept.map(({ line }) => line) }
}
