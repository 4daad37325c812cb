import { type EditionCounts, type ReservedPart, spacesOfCopy } from '@gavrin/core'

/** What the answer spaces of a copy are counted from, but for those who hold it. */
export interface CountedCopy extends Omit<EditionCounts, 'points' | 'reservedParts'> {
  /** Null: none, as mostly. */
  readonly reservedParts: ReservedPart[] | null
  /** How many of its holders have no part of their own, for they are a guest who has one. */
  readonly oneWithAnother: number
}

/** The columns of {@link CountedCopy}, of a copy `c` of edition `e`. */
export const COUNTED_COPY = `e.answer_spaces AS "answerSpaces", e.member_spaces AS "memberSpaces", e.group_spaces AS "groupSpaces", nullif(e.reserved_parts, '[]') AS "reservedParts",
  (SELECT count(DISTINCT g.student_id)::int FROM guest_match g JOIN copy_holder a ON a.school_id = g.school_id AND a.copy_id = c.id AND a.person_id = g.guest_id
     JOIN copy_holder b ON b.school_id = g.school_id AND b.copy_id = c.id AND b.person_id = g.student_id
    WHERE g.school_id = c.school_id AND g.handout_id = c.handout_id AND g.item_id = c.item_id AND NOT g.beside) AS "oneWithAnother"`

/** What they are counted from where holders and places are not read anyway. */
export interface Counted extends CountedCopy {
  readonly parts: number
  readonly holderIds: readonly string[]
}

/** The columns of {@link Counted}, of a copy `c` of edition `e`. */
export const COUNTED = `${COUNTED_COPY}, jsonb_array_length(c.places) AS parts,
  (SELECT coalesce(json_agg(n.person_id), '[]') FROM copy_holder n WHERE n.school_id = c.school_id AND n.copy_id = c.id) AS "holderIds"`

/**
 * Rows with how many answer spaces a copy has, in place of what that is counted from.
 * @param of the ids of the holders of a copy, and how many groups have places in it
 */
export const countSpaces = <R extends CountedCopy>(
  rows: readonly R[],
  of: (row: R) => { readonly holders: readonly string[]; readonly parts: number },
): (Omit<R, keyof CountedCopy> & { spaces: number })[] =>
  rows.map((row) => {
    const { answerSpaces, memberSpaces, groupSpaces, reservedParts, oneWithAnother } = row
    const { holders, parts } = of(row)
    const counts = { answerSpaces, memberSpaces, groupSpaces, reservedParts: reservedParts ?? [] }
    // Into the row, which nobody else has: taking so many apart costs more than reading them.
    return Object.assign(row, UNSAID, { spaces: spacesOfCopy(counts, holders, parts, oneWithAnother) })
  })

/** What is left out of what is sent. */
const UNSAID = {
  ...{ answerSpaces: undefined, memberSpaces: undefined, groupSpaces: undefined },
  ...{ reservedParts: undefined, oneWithAnother: undefined },
}

/** The same for rows of {@link Counted}. */
export const withSpaces = <R extends object>(
  rows: readonly (R & Counted)[],
): (Omit<R, keyof Counted> & { spaces: number })[] =>
  countSpaces(rows, ({ holderIds, parts }) => ({ holders: holderIds, parts })).map(
    ({ holderIds: _, parts: __, ...row }) => row as Omit<R, keyof Counted> & { spaces: number },
  )
