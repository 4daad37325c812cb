import type { GuestPermission } from '@gavrin/core'
import { type Database, anySchool, inSchool } from '../database/inSchool.js'
import { ms } from '../database/sql.js'

export interface WalkInRow {
  school_id: string
  id: string
  handout_id: string
  item_id: string
  permission: WalkInSettings['permission']
  is_open: boolean
  ends_at: Date | null
  places: number
  title: string
  class_name: string
}

export interface WalkInSettings {
  readonly permission: GuestPermission
  readonly open: boolean
  readonly endsAt: number | null
  /** How many guests it lets in. */
  readonly places: number
}

/** A link by which guests come to the copies of an item. Times in milliseconds since 1970. */
export interface LinkOfItem {
  readonly itemId: string
  readonly code: string
  readonly permission: 'view' | 'comment' | 'edit'
  readonly open: boolean
  readonly endsAt: number | null
  /** How many guests it lets in, and how many came. */
  readonly places: number
  readonly guests: number
  readonly uses: readonly {
    readonly name: string
    readonly at: number
    /** Not the first time. */
    readonly again: boolean
    /** Somebody of the roster has this name too. */
    readonly like: string | null
  }[]
}

/** The links of a handout and who came by them. Raw: four tables. */
export function linksOfHandout(database: Database, schoolId: string, handoutId: string): Promise<LinkOfItem[]> {
  return inSchool(database, schoolId).rows<LinkOfItem>(
    `SELECT w.item_id AS "itemId", w.code, w.permission, w.is_open AS open, ${ms('w.ends_at')} AS "endsAt", w.places,
              (SELECT coalesce(json_agg(json_build_object('name', u.name, 'at', ${ms('u.at')}, 'again', EXISTS (
                        SELECT 1 FROM walk_in_use f WHERE f.school_id = u.school_id AND f.walk_in_id = u.walk_in_id AND f.person_id = u.person_id AND f.number < u.number),
                        'like', (SELECT trim(p.first_name || ' ' || p.last_name) FROM person p WHERE p.school_id = u.school_id AND p.id = u.like_id)) ORDER BY u.number DESC), '[]')
                 FROM walk_in_use u WHERE u.school_id = w.school_id AND u.walk_in_id = w.id AND u.cleared_at IS NULL) AS uses,
              (SELECT count(DISTINCT u.person_id)::int FROM walk_in_use u WHERE u.school_id = w.school_id AND u.walk_in_id = w.id AND u.cleared_at IS NULL) AS guests
         FROM walk_in w WHERE w.school_id = $1 AND w.handout_id = $2 ORDER BY w.created_at`,
    handoutId,
  )
}

/** Makes a link or changes it; its code stays unless a new one is wished. Raw: depends on what is there. */
export async function putLink(
  database: Database,
  schoolId: string,
  {
    id,
    handoutId,
    itemId,
    code,
    permission,
    open,
    endsAt,
    personId,
    newCode,
    places,
  }: {
    readonly id: string
    readonly handoutId: string
    readonly itemId: string
    readonly code: string
    readonly permission: string
    readonly open: boolean
    readonly endsAt: Date | null
    readonly personId: string
    readonly newCode: boolean
    readonly places: number
  },
): Promise<void> {
  await inSchool(database, schoolId).rows(
    `INSERT INTO walk_in (school_id, id, handout_id, item_id, code, permission, is_open, ends_at, created_by, places) VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $11)
         ON CONFLICT (handout_id, item_id, school_id) DO UPDATE SET permission = EXCLUDED.permission, is_open = EXCLUDED.is_open, ends_at = EXCLUDED.ends_at, places = EXCLUDED.places,
           code = CASE WHEN $10 THEN EXCLUDED.code ELSE walk_in.code END`,
    id,
    handoutId,
    itemId,
    code,
    permission,
    open,
    endsAt,
    personId,
    newCode,
    places,
  )
}

/** The guests who came by a link. Raw: two tables. */
export function guestsOfLink(
  database: Database,
  schoolId: string,
  id: string,
): Promise<{ id: string; first: string }[]> {
  return inSchool(database, schoolId).rows<{ id: string; first: string }>(
    `SELECT DISTINCT p.id, p.first_name AS first FROM walk_in_use u JOIN person p ON p.school_id = u.school_id AND p.id = u.person_id
          WHERE u.school_id = $1 AND u.walk_in_id = $2 AND u.cleared_at IS NULL`,
    id,
  )
}

/** The copy that a guest came to. Raw: two tables. */
export function copyOfGuest(
  database: Database,
  schoolId: string,
  { handoutId, itemId, guestId }: { readonly handoutId: string; readonly itemId: string; readonly guestId: string },
): Promise<{ id: string }[]> {
  return inSchool(database, schoolId).rows<{ id: string }>(
    `SELECT c.id FROM copy c JOIN copy_holder o ON o.school_id = c.school_id AND o.copy_id = c.id
        WHERE c.school_id = $1 AND c.handout_id = $2 AND c.item_id = $3 AND o.person_id = $4 AND NOT c.set_aside LIMIT 1`,
    handoutId,
    itemId,
    guestId,
  )
}

/** The guests who came by the link of an item: those who wrote nothing, or all; but not who is a student. Raw: six tables. */
export function guestsToClear(
  database: Database,
  schoolId: string,
  { handoutId, itemId, all }: { readonly handoutId: string; readonly itemId: string; readonly all: boolean },
): Promise<{ person_id: string }[]> {
  return inSchool(database, schoolId).rows<{ person_id: string }>(
    `SELECT DISTINCT u.person_id FROM walk_in_use u JOIN walk_in w ON w.school_id = u.school_id AND w.id = u.walk_in_id
          WHERE w.school_id = $1 AND w.handout_id = $2 AND w.item_id = $3 AND u.cleared_at IS NULL
            AND NOT EXISTS (SELECT 1 FROM guest_match g WHERE g.school_id = $1 AND g.handout_id = $2 AND g.item_id = $3 AND g.guest_id = u.person_id)
            AND ($4 OR NOT EXISTS (SELECT 1 FROM live_update l JOIN copy c ON c.school_id = l.school_id AND c.id = l.copy_id
                  WHERE l.school_id = $1 AND c.handout_id = $2 AND l.person_id = u.person_id)
              AND NOT EXISTS (SELECT 1 FROM comment o JOIN copy c ON c.school_id = o.school_id AND c.id = o.copy_id
                  WHERE o.school_id = $1 AND c.handout_id = $2 AND o.person_id = u.person_id))`,
    handoutId,
    itemId,
    all,
  )
}

/** Takes guests off the list of a link. Raw: two tables. */
export function clearUses(
  database: Database,
  schoolId: string,
  {
    handoutId,
    itemId,
    people,
  }: { readonly handoutId: string; readonly itemId: string; readonly people: readonly string[] },
): Promise<number> {
  return inSchool(database, schoolId).write(
    `UPDATE walk_in_use u SET cleared_at = now() FROM walk_in w WHERE w.school_id = u.school_id AND w.id = u.walk_in_id
            AND w.school_id = $1 AND w.handout_id = $2 AND w.item_id = $3 AND u.person_id = ANY($4)`,
    handoutId,
    itemId,
    people,
  )
}

/** The slots of guests' own copies. Raw: two tables. */
export function slotsOfGuests(
  database: Database,
  schoolId: string,
  {
    handoutId,
    itemId,
    people,
  }: { readonly handoutId: string; readonly itemId: string; readonly people: readonly string[] },
): Promise<{ slot_key: string }[]> {
  return inSchool(database, schoolId).rows<{ slot_key: string }>(
    `SELECT c.slot_key FROM copy c JOIN copy_holder o ON o.school_id = c.school_id AND o.copy_id = c.id
          WHERE c.school_id = $1 AND c.handout_id = $2 AND c.item_id = $3 AND NOT c.set_aside AND c.way = 'one each' AND o.person_id = ANY($4)`,
    handoutId,
    itemId,
    people,
  )
}

/** Guests hold no part in shared copies any more. Raw: two tables. */
export function dropGuestHolders(
  database: Database,
  schoolId: string,
  {
    handoutId,
    itemId,
    people,
  }: { readonly handoutId: string; readonly itemId: string; readonly people: readonly string[] },
): Promise<number> {
  return inSchool(database, schoolId).write(
    `DELETE FROM copy_holder o USING copy c WHERE c.school_id = o.school_id AND c.id = o.copy_id
            AND c.school_id = $1 AND c.handout_id = $2 AND c.item_id = $3 AND c.way <> 'one each' AND o.person_id = ANY($4)`,
    handoutId,
    itemId,
    people,
  )
}

/** The link that a code opens. Raw: by what a link says: across schools. */
export function linkByCode(database: Database, code: string): Promise<WalkInRow[]> {
  return anySchool(database).rows<WalkInRow>(
    `SELECT w.school_id, w.id, w.handout_id, w.item_id, w.permission, w.is_open, w.ends_at, w.places, h.title, k.name AS class_name
         FROM walk_in w JOIN handout h ON h.school_id = w.school_id AND h.id = w.handout_id JOIN class k ON k.school_id = h.school_id AND k.id = h.class_id
        WHERE w.code = $1 AND k.archived_at IS NULL AND h.given IS NOT NULL`,
    code,
  )
}
