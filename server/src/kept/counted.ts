import { type EditionCounts, type ReservedPart, spacesOfCopy } from '@gavrin/core'

/** What the answer spaces of a copy are counted from, of its edition. */
export interface CountedEdition extends Omit<EditionCounts, 'points' | 'reservedParts'> {
  /** Null: none, as mostly. */
  readonly reservedParts: ReservedPart[] | null
}

/** The columns of {@link CountedEdition}, of edition `e`. */
export const COUNTED_EDITION = `e.answer_spaces AS "answerSpaces", e.member_spaces AS "memberSpaces", e.group_spaces AS "groupSpaces", nullif(e.reserved_parts, '[]') AS "reservedParts"`

/** What they are counted from where holders and places are not read anyway. */
export interface Counted extends CountedEdition {
  readonly parts: number
  readonly holderIds: readonly string[]
}

/** The columns of {@link Counted}, of a copy `c` of edition `e`. */
export const COUNTED = `${COUNTED_EDITION}, jsonb_array_length(c.places) AS parts,
  (SELECT coalesce(json_agg(n.person_id), '[]') FROM copy_holder n WHERE n.school_id = c.school_id AND n.copy_id = c.id) AS "holderIds"`

/**
 * Rows with how many answer spaces a copy has, in place of what that is counted from.
 * @param of the ids of the holders of a copy, and how many groups have places in it
 */
export const countSpaces = <R extends CountedEdition>(
  rows: readonly R[],
  of: (row: R) => { readonly holders: readonly string[]; readonly parts: number },
): (Omit<R, keyof CountedEdition> & { spaces: number })[] =>
  rows.map((whole) => {
    const { answerSpaces, memberSpaces, groupSpaces, reservedParts, ...row } = whole
    const { holders, parts } = of(whole)
    const counts = { answerSpaces, memberSpaces, groupSpaces, reservedParts: reservedParts ?? [] }
    return { ...row, spaces: spacesOfCopy(counts, holders, parts) }
  })

/** The same for rows of {@link Counted}. */
export const withSpaces = <R extends object>(
  rows: readonly (R & Counted)[],
): (Omit<R, keyof Counted> & { spaces: number })[] =>
  countSpaces(rows, ({ holderIds, parts }) => ({ holders: holderIds, parts })).map(
    ({ holderIds: _, parts: __, ...row }) => row as Omit<R, keyof Counted> & { spaces: number },
  )
