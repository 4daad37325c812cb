import type { CopyOfMatch } from '@gavrin/core'
import { type Database, inSchool } from '../database/inSchool.js'
import { ms } from '../database/sql.js'

/** A guest who came by a walk-in link of a handout, with what they did. Times in milliseconds since 1970. */
export interface GuestRow {
  readonly itemId: string
  readonly personId: string
  readonly name: string
  /** When they came first. */
  readonly cameAt: number
  /** The copy in which they are; null: it was taken back. */
  readonly copyId: string | null
  /** In how many answers they wrote, and how many comments. */
  readonly answers: number
  readonly comments: number
  /** The student of the class who they are, as a teacher said. */
  readonly match: {
    readonly studentId: string
    readonly name: string
    readonly beside: boolean
    readonly at: number
  } | null
}

/** The guests of a handout, those who came first before others. Raw: eight tables. */
export function guestsWhoCame(
  database: Database,
  schoolId: string,
  handoutId: string,
  guestId: string | null = null,
): Promise<GuestRow[]> {
  return inSchool(database, schoolId).rows<GuestRow>(
    `SELECT g.*, (SELECT count(DISTINCT l.space)::int FROM live_update l WHERE l.school_id = $1 AND l.copy_id = g."copyId" AND l.person_id = g."personId") AS answers,
            (SELECT count(*)::int FROM comment o WHERE o.school_id = $1 AND o.copy_id = g."copyId" AND o.person_id = g."personId" AND o.deleted_at IS NULL) AS comments,
            (SELECT json_build_object('studentId', m.student_id, 'name', trim(s.first_name || ' ' || s.last_name), 'beside', m.beside, 'at', ${ms('m.matched_at')})
               FROM guest_match m JOIN person s ON s.school_id = m.school_id AND s.id = m.student_id
              WHERE m.school_id = $1 AND m.handout_id = $2 AND m.item_id = g."itemId" AND m.guest_id = g."personId") AS match
       FROM (SELECT w.item_id AS "itemId", u.person_id AS "personId", p.first_name AS name, ${ms('min(u.at)')} AS "cameAt",
                    (SELECT c.id FROM copy c JOIN copy_holder o ON o.school_id = c.school_id AND o.copy_id = c.id AND o.person_id = u.person_id
                      WHERE c.school_id = $1 AND c.handout_id = $2 AND c.item_id = w.item_id AND NOT c.set_aside LIMIT 1) AS "copyId"
               FROM walk_in w JOIN walk_in_use u ON u.school_id = w.school_id AND u.walk_in_id = w.id AND u.cleared_at IS NULL
               JOIN person p ON p.school_id = u.school_id AND p.id = u.person_id
              WHERE w.school_id = $1 AND w.handout_id = $2 AND ($3::uuid IS NULL OR u.person_id = $3)
              GROUP BY w.item_id, u.person_id, p.first_name) AS g
      ORDER BY g."cameAt", g."personId"`,
    handoutId,
    guestId,
  )
}

/** A copy that somebody has for themselves. */
export interface OwnCopy extends CopyOfMatch {
  readonly id: string
  readonly slotKey: string
  readonly itemId: string
}

/** The copies of their own that people have of a handout, with whether anything was done in them. Raw: six tables. */
export function ownCopies(
  database: Database,
  schoolId: string,
  handoutId: string,
  slotKeys: readonly string[] | null = null,
): Promise<OwnCopy[]> {
  return inSchool(database, schoolId).rows<OwnCopy>(
    `SELECT c.id, c.slot_key AS "slotKey", c.item_id AS "itemId", c.worksheet_id AS "worksheetId", c.edition, c.link,
            EXISTS (SELECT 1 FROM live_update l WHERE l.school_id = c.school_id AND l.copy_id = c.id)
              OR EXISTS (SELECT 1 FROM late_update l WHERE l.school_id = c.school_id AND l.copy_id = c.id)
              OR EXISTS (SELECT 1 FROM comment o WHERE o.school_id = c.school_id AND o.copy_id = c.id)
              OR EXISTS (SELECT 1 FROM copy_file f WHERE f.school_id = c.school_id AND f.copy_id = c.id)
              OR c.state NOT IN ('not opened', 'opened') AS "isTouched"
       FROM copy c WHERE c.school_id = $1 AND c.handout_id = $2 AND c.way = 'one each' AND NOT c.set_aside AND ($3::text[] IS NULL OR c.slot_key = ANY($3))`,
    handoutId,
    slotKeys,
  )
}

/** The answers of the shared copies of a handout in which something was written, by item. Raw: distinct. */
export function answersOfShared(
  database: Database,
  schoolId: string,
  handoutId: string,
): Promise<{ itemId: string; space: string }[]> {
  return inSchool(database, schoolId).rows<{ itemId: string; space: string }>(
    `SELECT DISTINCT c.item_id AS "itemId", l.space FROM copy c JOIN live_update l ON l.school_id = c.school_id AND l.copy_id = c.id
      WHERE c.school_id = $1 AND c.handout_id = $2 AND c.way = 'one together' AND NOT c.set_aside`,
    handoutId,
  )
}

/**
 * Whether a student did anything in what a guest has: in a copy, or in a part of it. Raw: five tables.
 * @param part the end of the addresses of the part; empty: the whole copy
 */
export async function hasWorkedIn(
  database: Database,
  schoolId: string,
  { copyId, personId, part }: { readonly copyId: string; readonly personId: string; readonly part: string },
): Promise<boolean> {
  const [found] = await inSchool(database, schoolId).rows<{ has: boolean }>(
    `SELECT EXISTS (SELECT 1 FROM live_update WHERE school_id = $1 AND copy_id = $2 AND person_id = $3 AND right(space, length($4)) = $4)
         OR EXISTS (SELECT 1 FROM late_update WHERE school_id = $1 AND copy_id = $2 AND person_id = $3 AND right(space, length($4)) = $4)
         OR EXISTS (SELECT 1 FROM copy_file WHERE school_id = $1 AND copy_id = $2 AND person_id = $3 AND right(space, length($4)) = $4)
         OR ($4 = '' AND (EXISTS (SELECT 1 FROM comment WHERE school_id = $1 AND copy_id = $2 AND person_id = $3)
           OR EXISTS (SELECT 1 FROM copy_journal WHERE school_id = $1 AND copy_id = $2 AND person_id = $3 AND kind IN ('submitted', 'taken back')))) AS has`,
    copyId,
    personId,
    part,
  )
  return found!.has
}

/** How many guests of a handout did something, and nobody has said who they are. Raw: four tables. */
export async function guestsToMatch(database: Database, schoolId: string, handoutId: string): Promise<number> {
  const guests = await guestsWhoCame(database, schoolId, handoutId)
  return guests.filter(({ match, answers, comments }) => match === null && answers + comments > 0).length
}
