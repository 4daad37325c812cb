import { SEEN_BY_VIEWER } from './worksheetAccess.js'
import { type WorksheetContent } from '@gavrin/core'
import { type Database, inSchool } from '../database/inSchool.js'
import { ms } from '../database/sql.js'
import type { BuiltIn, EditionCounts } from '@gavrin/core'
import { randomUUID } from 'node:crypto'

/** Makes a built-in worksheet with its edition, if the school has none of this kind. Raw: one statement makes both or none. */
export async function addBuiltIn(
  database: Database,
  schoolId: string,
  {
    kind,
    title,
    content,
    counts,
  }: {
    readonly kind: BuiltIn
    readonly title: string
    readonly content: WorksheetContent
    readonly counts: EditionCounts
  },
): Promise<void> {
  await inSchool(database, schoolId).rows(
    `WITH made AS (
       INSERT INTO worksheet (school_id, id, title, draft, kept_version, built_in) VALUES ($1, $2, $3, $4, 1, $5)
       ON CONFLICT (built_in, school_id) DO NOTHING RETURNING id)
     INSERT INTO edition (school_id, worksheet_id, number, title, content, answer_spaces, points, member_spaces, group_spaces, reserved_parts)
     SELECT $1, id, 1, $3, $4, $6, $7, $8, $9, $10 FROM made`,
    randomUUID(),
    title,
    JSON.stringify(content),
    kind,
    counts.answerSpaces,
    counts.points,
    counts.memberSpaces,
    counts.groupSpaces,
    JSON.stringify(counts.reservedParts),
  )
}

/** A worksheet in a library. Times in milliseconds since 1970. */
export interface WorksheetListed {
  readonly id: string
  readonly title: string
  readonly version: number
  readonly keptVersion: number | null
  readonly updatedAt: number
  readonly isOwner: boolean
  readonly owner: string
  readonly may: 'view' | 'edit'
  readonly folderId: string | null
  readonly archived: boolean
  readonly shared: boolean
  readonly pinned: boolean
  readonly openedAt: number | null
  /** The newest edition, if one was kept. */
  readonly edition: number | null
  readonly answerSpaces: number
  readonly copies: number
}

/** The worksheets that somebody may see. Raw: seven tables. */
export function worksheetsInLibrary(
  database: Database,
  schoolId: string,
  personId: string,
): Promise<WorksheetListed[]> {
  return inSchool(database, schoolId).rows<WorksheetListed>(
    `SELECT w.id, w.title, w.version, w.kept_version AS "keptVersion", ${ms('w.updated_at')} AS "updatedAt",
              w.owner_id = $2 AS "isOwner", trim(o.first_name || ' ' || o.last_name) AS owner,
              CASE WHEN w.owner_id = $2 OR w.school_may = 'edit' OR s.may = 'edit' THEN 'edit' ELSE 'view' END AS may,
              CASE WHEN w.owner_id = $2 THEN w.folder_id END AS "folderId", w.archived_at IS NOT NULL AS archived,
              w.school_may <> 'none' OR EXISTS (SELECT 1 FROM worksheet_share x WHERE x.school_id = w.school_id AND x.worksheet_id = w.id) AS shared,
              coalesce(m.pinned, false) AS pinned, ${ms('m.opened_at')} AS "openedAt",
              e.number AS edition, coalesce(e.answer_spaces, 0) AS "answerSpaces", coalesce(c.copies, 0) AS copies
         FROM worksheet w
         JOIN person o ON o.school_id = w.school_id AND o.id = w.owner_id
         LEFT JOIN worksheet_share s ON s.school_id = w.school_id AND s.worksheet_id = w.id AND s.person_id = $2
         LEFT JOIN worksheet_mark m ON m.school_id = w.school_id AND m.worksheet_id = w.id AND m.person_id = $2
         LEFT JOIN LATERAL (SELECT number, answer_spaces FROM edition e WHERE e.school_id = w.school_id AND e.worksheet_id = w.id ORDER BY number DESC LIMIT 1) e ON true
         LEFT JOIN LATERAL (SELECT count(*)::int AS copies FROM copy c WHERE c.school_id = w.school_id AND c.worksheet_id = w.id) c ON true
        WHERE ${SEEN_BY_VIEWER}
        ORDER BY w.updated_at DESC`,
    personId,
  )
}

/** Which of them have words in them. Raw: a condition that others have too. */
export function worksheetsFound(
  database: Database,
  schoolId: string,
  personId: string,
  like: readonly string[],
): Promise<{ id: string }[]> {
  return inSchool(database, schoolId).rows<{ id: string }>(
    `SELECT w.id FROM worksheet w WHERE ${SEEN_BY_VIEWER} AND w.find_words LIKE ALL($3) ORDER BY w.updated_at DESC LIMIT 500`,
    personId,
    like,
  )
}

/** Worksheets in an order that is given. Raw: an order of its own. */
export function titlesOf(
  database: Database,
  schoolId: string,
  ids: readonly string[],
): Promise<{ id: string; title: string; archived: boolean }[]> {
  return inSchool(database, schoolId).rows<{ id: string; title: string; archived: boolean }>(
    `SELECT w.id, w.title, w.archived_at IS NOT NULL AS archived FROM worksheet w JOIN unnest($2::uuid[]) WITH ORDINALITY AS f(id, place) USING (id)
        WHERE w.school_id = $1 ORDER BY w.archived_at IS NOT NULL, f.place`,
    ids,
  )
}

/** Notes which worksheets stand at the top. Raw: many rows at once. */
export async function pinWorksheets(
  database: Database,
  schoolId: string,
  { personId, ids, pinned }: { readonly personId: string; readonly ids: readonly string[]; readonly pinned: boolean },
): Promise<void> {
  await inSchool(database, schoolId).rows(
    `INSERT INTO worksheet_mark (school_id, person_id, worksheet_id, pinned)
       SELECT w.school_id, $2, w.id, $4 FROM worksheet w WHERE w.id = ANY($3) AND ${SEEN_BY_VIEWER}
       ON CONFLICT (school_id, person_id, worksheet_id) DO UPDATE SET pinned = $4`,
    personId,
    ids,
    pinned,
  )
}

/** Gives a worksheet another title; what was kept as an edition stays kept. Raw: depends on what is there. */
export function renameWorksheet(
  database: Database,
  schoolId: string,
  { id, title, findWords }: { readonly id: string; readonly title: string; readonly findWords: string },
): Promise<number> {
  return inSchool(database, schoolId).write(
    `UPDATE worksheet SET title = $3, version = version + 1,
                  kept_version = CASE WHEN kept_version = version THEN version + 1 ELSE kept_version END,
                  find_words = $4 WHERE school_id = $1 AND id = $2`,
    id,
    title,
    findWords,
  )
}

/** A colleague, and what they may do with a worksheet. */
export interface Colleague {
  readonly personId: string
  readonly name: string
  readonly may: 'view' | 'edit' | null
}

/** All teachers, with what each may do with a worksheet. Raw: two tables. */
export function colleaguesOf(database: Database, schoolId: string, id: string, personId: string): Promise<Colleague[]> {
  return inSchool(database, schoolId).rows<Colleague>(
    `SELECT p.id AS "personId", trim(p.first_name || ' ' || p.last_name) AS name, s.may
         FROM person p LEFT JOIN worksheet_share s ON s.school_id = p.school_id AND s.person_id = p.id AND s.worksheet_id = $2
        WHERE p.school_id = $1 AND p.role = 'teacher' AND p.id <> $3 ORDER BY p.last_name, p.first_name`,
    id,
    personId,
  )
}

/** Lets teachers see or change a worksheet. Raw: many rows at once. */
export async function addShares(
  database: Database,
  schoolId: string,
  { id, people, personId }: { readonly id: string; readonly people: string; readonly personId: string },
): Promise<void> {
  await inSchool(database, schoolId).rows(
    `INSERT INTO worksheet_share (school_id, worksheet_id, person_id, may)
         SELECT $1, $2, p.id, x.may FROM jsonb_to_recordset($3::jsonb) AS x("personId" uuid, may text)
           JOIN person p ON p.school_id = $1 AND p.id = x."personId" AND p.role = 'teacher' AND p.id <> $4
         ON CONFLICT DO NOTHING`,
    id,
    people,
    personId,
  )
}

/** Makes a worksheet, in a folder if that is the maker's. Raw: depends on what is there. */
export async function addWorksheet(
  database: Database,
  schoolId: string,
  {
    id,
    personId,
    clean,
    content,
    findWords,
    id2,
  }: {
    readonly id: string
    readonly personId: string
    readonly clean: string
    readonly content: WorksheetContent
    readonly findWords: string
    readonly id2: string | null
  },
): Promise<void> {
  await inSchool(database, schoolId).rows(
    `INSERT INTO worksheet (school_id, id, owner_id, title, draft, find_words, folder_id)
       VALUES ($1, $2, $3, $4, $5, $6, (SELECT id FROM folder WHERE school_id = $1 AND owner_id = $3 AND id = $7))`,
    id,
    personId,
    clean,
    content,
    findWords,
    id2,
  )
}

/** An edition in the list of its worksheet. */
export interface EditionListed {
  readonly number: number
  readonly title: string
  readonly answerSpaces: number
  /** Milliseconds since 1970. */
  readonly keptAt: number
  readonly copies: number
}

/** The editions of a worksheet, the newest first. Raw: counts. */
export function editionsOf(database: Database, schoolId: string, id: string): Promise<EditionListed[]> {
  return inSchool(database, schoolId).rows<EditionListed>(
    `SELECT number, title, answer_spaces AS "answerSpaces", ${ms('kept_at')} AS "keptAt",
              (SELECT count(*)::int FROM copy c WHERE c.school_id = e.school_id AND c.worksheet_id = e.worksheet_id AND c.edition = e.number) AS copies
         FROM edition e WHERE school_id = $1 AND worksheet_id = $2 ORDER BY number DESC`,
    id,
  )
}

/** A worksheet may show what another one shows. Raw: a set into another one. */
export async function showSameMedia(database: Database, schoolId: string, id: string, id2: string): Promise<void> {
  await inSchool(database, schoolId).rows(
    `INSERT INTO worksheet_medium (school_id, worksheet_id, medium_id)
         SELECT school_id, $3, medium_id FROM worksheet_medium WHERE school_id = $1 AND worksheet_id = $2`,
    id,
    id2,
  )
}

/** A handout that gave a worksheet, by edition. */
export interface HandedOut {
  readonly handoutId: string
  readonly classId: string
  readonly number: number
  readonly title: string
  readonly class: string
  readonly subject: string
  readonly edition: number
  readonly copies: number
  readonly submitted: number
  /** Milliseconds since 1970. */
  readonly handedOutAt: number | null
}

/** The handouts by which a worksheet was given. Raw: counts, four tables. */
export function handoutsOfWorksheet(
  database: Database,
  schoolId: string,
  id: string,
  personId: string,
): Promise<HandedOut[]> {
  return inSchool(database, schoolId).rows<HandedOut>(
    `SELECT h.id AS "handoutId", h.class_id AS "classId", h.number, h.title, k.name AS class, k.subject, c.edition,
              count(*)::int AS copies,
              count(*) FILTER (WHERE c.state IN ('submitted', 'handed back'))::int AS submitted,
              ${ms('h.handed_out_at')} AS "handedOutAt"
         FROM copy c
         JOIN handout h ON h.school_id = c.school_id AND h.id = c.handout_id
         JOIN class k ON k.school_id = h.school_id AND k.id = h.class_id
         JOIN class_member m ON m.school_id = h.school_id AND m.class_id = h.class_id AND m.person_id = $3 AND m.left_at IS NULL AND m.role IN ('lead', 'co-teacher')
        WHERE c.school_id = $1 AND c.worksheet_id = $2 AND NOT c.set_aside
        GROUP BY h.id, h.class_id, h.number, h.title, k.name, k.subject, c.edition, h.handed_out_at
        ORDER BY h.handed_out_at DESC NULLS LAST, c.edition DESC`,
    id,
    personId,
  )
}

/** Lets a worksheet show media that somebody sees in others. Raw: a condition that others have too. */
export async function showMediaSeen(
  database: Database,
  schoolId: string,
  { personId, id, media }: { readonly personId: string; readonly id: string; readonly media: readonly string[] },
): Promise<void> {
  await inSchool(database, schoolId).rows(
    `INSERT INTO worksheet_medium (school_id, worksheet_id, medium_id)
       SELECT DISTINCT $1::uuid, $3::uuid, m.medium_id FROM worksheet_medium m JOIN worksheet w ON w.school_id = m.school_id AND w.id = m.worksheet_id
        WHERE m.medium_id::text = ANY($4) AND ${SEEN_BY_VIEWER}
       ON CONFLICT DO NOTHING`,
    personId,
    id,
    media,
  )
}

/** How many of these media a worksheet shows. Raw: ids that may be none. */
export function countShown(
  database: Database,
  schoolId: string,
  id: string,
  media: readonly string[],
): Promise<{ shown: number }[]> {
  return inSchool(database, schoolId).rows<{ shown: number }>(
    'SELECT count(*)::int AS shown FROM worksheet_medium WHERE school_id = $1 AND worksheet_id = $2 AND medium_id::text = ANY($3)',
    id,
    media,
  )
}
