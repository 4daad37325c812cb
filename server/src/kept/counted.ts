import { type EditionCounts, spacesOfCopy } from '@gavrin/core'

/** What the answer spaces of a copy are counted from. */
export interface Counted extends Omit<EditionCounts, 'points'> {
  readonly parts: number
  readonly holderIds: readonly string[]
}

/** The columns of {@link Counted}, of a copy `c` of edition `e`. */
export const COUNTED = `e.answer_spaces AS "answerSpaces", e.member_spaces AS "memberSpaces", e.group_spaces AS "groupSpaces", e.reserved_parts AS "reservedParts", jsonb_array_length(c.places) AS parts,
  (SELECT coalesce(json_agg(n.person_id), '[]') FROM copy_holder n WHERE n.school_id = c.school_id AND n.copy_id = c.id) AS "holderIds"`

/** Rows with how many answer spaces a copy has, in place of what that is counted from. */
export const withSpaces = <R extends object>(
  rows: readonly (R & Counted)[],
): (Omit<R, keyof Counted> & { spaces: number })[] =>
  rows.map(({ answerSpaces, memberSpaces, groupSpaces, reservedParts, parts, holderIds, ...row }) => ({
    ...row,
    spaces: spacesOfCopy({ answerSpaces, memberSpaces, groupSpaces, reservedParts }, holderIds, parts),
  }))
