import { COUNTED, type Counted } from '../kept/counted.js'
import type { CopyState, DecidedPart, LateDecision, MarkBack, NoteText, Permission, Way } from '@gavrin/core'
import { type Database, inSchool } from '../database/inSchool.js'
import { ms } from '../database/sql.js'
import { LiveSnapshot } from '../kept/kept.entity.js'

/** A copy that somebody reads who holds no part of it. */
export interface CopyToRead {
  readonly id: string
  readonly title: string
  readonly handout: string
  readonly number: number
  readonly class: string
  readonly ink: string
  readonly permission: Permission
  /** By a holder; else chosen by the teacher. */
  readonly invited: boolean
  readonly state: CopyState
  readonly dueAt: number | null
  /** Of who was chosen to read: until when, and how far they are. Times in milliseconds since 1970. */
  readonly until: number | null
  readonly openedAt: number | null
  readonly doneAt: number | null
  /** How many comments of theirs stand there. */
  readonly comments: number
}

/** What the slip says of the peer readers of a copy `c` of handout `h`. */
const PEERS = `(SELECT i -> 'peers' FROM jsonb_array_elements(h.given -> 'items') AS i WHERE i ->> 'id' = c.item_id LIMIT 1)`

/** The copies that somebody reads who holds no part of them. Raw: seven tables. */
export function copiesToRead(database: Database, schoolId: string, personId: string): Promise<CopyToRead[]> {
  return inSchool(database, schoolId).rows<CopyToRead>(
    `SELECT c.id, c.title, h.title AS handout, h.number, k.name AS class, k.ink, r.permission, r.invited_by IS NOT NULL AS invited, c.state,
              ${ms('c.due_at')} AS "dueAt", CASE WHEN r.invited_by IS NULL THEN (${PEERS} ->> 'until')::float8 END AS until,
              ${ms('p.opened_at')} AS "openedAt", ${ms('p.done_at')} AS "doneAt",
              (SELECT count(*)::int FROM comment o WHERE o.school_id = c.school_id AND o.copy_id = c.id AND o.person_id = r.person_id AND o.deleted_at IS NULL) AS comments
         FROM copy_reader r
         JOIN copy c ON c.school_id = r.school_id AND c.id = r.copy_id
         JOIN handout h ON h.school_id = c.school_id AND h.id = c.handout_id
         JOIN class k ON k.school_id = h.school_id AND k.id = h.class_id
         JOIN class_member m ON m.school_id = h.school_id AND m.class_id = h.class_id AND m.person_id = r.person_id AND m.left_at IS NULL
         LEFT JOIN peer_reading p ON p.school_id = r.school_id AND p.copy_id = r.copy_id AND p.person_id = r.person_id
        WHERE r.school_id = $1 AND r.person_id = $2 AND NOT c.set_aside AND (c.opens_at IS NULL OR c.opens_at <= now()) AND (r.invited_by IS NULL OR c.may_invite)
        ORDER BY c.due_at NULLS LAST, c.title`,
    personId,
  )
}

/** Somebody who was chosen to read a copy, and how far they are with it. Times in milliseconds since 1970. */
export interface PeerReaderOf {
  readonly personId: string
  readonly first: string
  readonly last: string
  readonly openedAt: number | null
  readonly doneAt: number | null
  readonly comments: number
}

/** The peer readers of a copy. Raw: four tables. */
export function peerReadersOf(database: Database, schoolId: string, copyId: string): Promise<PeerReaderOf[]> {
  return inSchool(database, schoolId).rows<PeerReaderOf>(
    `SELECT r.person_id AS "personId", p.first_name AS first, p.last_name AS last, ${ms('g.opened_at')} AS "openedAt", ${ms('g.done_at')} AS "doneAt",
            (SELECT count(*)::int FROM comment o WHERE o.school_id = r.school_id AND o.copy_id = r.copy_id AND o.person_id = r.person_id AND o.deleted_at IS NULL) AS comments
       FROM copy_reader r JOIN person p ON p.school_id = r.school_id AND p.id = r.person_id
       LEFT JOIN peer_reading g ON g.school_id = r.school_id AND g.copy_id = r.copy_id AND g.person_id = r.person_id
      WHERE r.school_id = $1 AND r.copy_id = $2 AND r.invited_by IS NULL ORDER BY p.last_name, p.first_name, p.id`,
    copyId,
  )
}

/** A document with a whole copy. */
export interface CopyDocument {
  readonly id: string
  readonly copyId: string
  readonly name: string
  readonly personId: string
  readonly first: string
  readonly last: string
  /** Milliseconds since 1970. */
  readonly at: number
  readonly isAnswer: boolean
}

/** The documents with copies, in the order in which they came. Raw: two tables, without the files. */
export function documentsOf(database: Database, schoolId: string, copyIds: readonly string[]): Promise<CopyDocument[]> {
  return inSchool(database, schoolId).rows<CopyDocument>(
    `SELECT f.id, f.copy_id AS "copyId", f.name, f.person_id AS "personId", p.first_name AS first, p.last_name AS last, ${ms('f.created_at')} AS at, f.is_answer AS "isAnswer"
       FROM copy_file f JOIN person p ON p.school_id = f.school_id AND p.id = f.person_id
      WHERE f.school_id = $1 AND f.copy_id = ANY($2::uuid[]) AND f.space = '' AND f.removed_at IS NULL ORDER BY f.created_at, f.id`,
    copyIds,
  )
}

/** A copy of somebody's own. Times in milliseconds since 1970. */
export interface CopyHeld {
  readonly id: string
  readonly title: string
  readonly worksheet: string
  readonly handout: string
  readonly handoutId: string
  readonly number: number
  readonly class: string
  readonly subject: string
  readonly ink: string
  readonly way: Way
  readonly link: string | null
  readonly kind: 'handout' | 'shelf'
  readonly unit: string | null
  readonly note: NoteText | null
  readonly state: CopyState
  readonly pensDown: boolean
  /** It was taken out of their hands, with something of theirs in it. */
  readonly setAside: boolean
  readonly answered: number
  readonly words: number
  readonly permission: Permission
  readonly dueAt: number | null
  readonly submittedAt: number | null
  readonly lastActivityAt: number | null
  readonly givenAt: number
  /** Comments of others that they have not seen. */
  readonly newComments: number
  /** In how many of them they are named. */
  readonly newMentions: number
  /** The mark that they got back with it; null: none. */
  readonly back: (Pick<MarkBack, 'total' | 'most' | 'step' | 'excused'> & { readonly isNew: boolean }) | null
}

/** The copies that somebody holds, and those taken back in which they wrote. Raw: ten tables. */
export function copiesHeld(database: Database, schoolId: string, personId: string): Promise<(CopyHeld & Counted)[]> {
  return inSchool(database, schoolId).rows<CopyHeld & Counted>(
    `SELECT c.id, c.title, e.title AS worksheet, h.title AS handout, h.number, k.name AS class, k.subject, k.ink, c.state, c.set_aside AS "setAside", c.pens_down OR coalesce(c.pens_down_from <= now(), false) OR (c.pens_down_at_due AND c.due_at <= now()) AS "pensDown", c.answered, ${COUNTED}, c.words, o.permission,
              c.way, c.link, h.kind, h.id AS "handoutId", h.given #>> '{unit,name}' AS unit, (SELECT n.note FROM notice n WHERE n.school_id = h.school_id AND n.handout_id = h.id AND n.person_id = $2 AND n.about_id = $2) AS note,
              ${ms('c.due_at')} AS "dueAt", ${ms('c.submitted_at')} AS "submittedAt",
              ${ms('c.last_activity_at')} AS "lastActivityAt", ${ms('c.created_at')} AS "givenAt",
              (SELECT count(*)::int FROM comment m JOIN comment_thread t ON t.school_id = m.school_id AND t.id = m.thread_id
                LEFT JOIN comment_seen s ON s.school_id = m.school_id AND s.copy_id = m.copy_id AND s.person_id = $2
                WHERE m.school_id = c.school_id AND m.copy_id = c.id AND m.person_id <> $2 AND m.deleted_at IS NULL
                  AND (NOT t.staff_only OR t.person_id = $2) AND (t.kind <> 'remark' OR t.released_at IS NOT NULL) AND (s.at IS NULL OR greatest(m.at, t.released_at) > s.at)) AS "newComments",
              (SELECT count(*)::int FROM comment_mention n JOIN comment m ON m.school_id = n.school_id AND m.id = n.comment_id
                LEFT JOIN comment_seen s ON s.school_id = m.school_id AND s.copy_id = m.copy_id AND s.person_id = $2
                WHERE n.school_id = c.school_id AND n.person_id = $2 AND m.copy_id = c.id AND m.person_id <> $2 AND m.deleted_at IS NULL AND (s.at IS NULL OR m.at > s.at)) AS "newMentions",
              (SELECT json_build_object('total', b.mark -> 'total', 'most', b.mark -> 'most', 'step', b.mark -> 'step', 'excused', b.mark -> 'excused', 'isNew', b.looked_at IS NULL)
                 FROM handed_back b WHERE b.school_id = c.school_id AND b.copy_id = c.id AND b.person_id = $2 AND b.withdrawn_at IS NULL ORDER BY b.at DESC LIMIT 1) AS back
         FROM copy_holder o
         JOIN copy c ON c.school_id = o.school_id AND c.id = o.copy_id
         JOIN handout h ON h.school_id = c.school_id AND h.id = c.handout_id
         JOIN class k ON k.school_id = h.school_id AND k.id = h.class_id
         JOIN edition e ON e.school_id = c.school_id AND e.worksheet_id = c.worksheet_id AND e.number = c.edition
        WHERE o.school_id = $1 AND o.person_id = $2 AND o.permission <> 'none' AND h.kind <> 'kept' AND (c.opens_at IS NULL OR c.opens_at <= now())
          AND (NOT c.set_aside OR EXISTS (SELECT 1 FROM live_update u WHERE u.school_id = c.school_id AND u.copy_id = c.id AND u.person_id = $2))
          -- A guest sees what their link is for, while it is open.
          AND ((SELECT role FROM person p WHERE p.school_id = $1 AND p.id = $2) <> 'guest' OR EXISTS (
            SELECT 1 FROM walk_in w WHERE w.school_id = c.school_id AND w.handout_id = c.handout_id AND w.item_id = c.item_id AND w.is_open AND (w.ends_at IS NULL OR w.ends_at > now())))
        ORDER BY c.due_at NULLS LAST, c.created_at DESC`,
    personId,
  )
}

/** A copy in which something came late that nobody has decided on. */
export interface LateCopy {
  readonly copyId: string
  readonly copyTitle: string
  readonly handoutTitle: string
  readonly number: number
  readonly class: string
  /** Answers in which something came late, and when the last of it came, in milliseconds since 1970. */
  readonly count: number
  readonly at: number
}

/** The copies with late writing to decide on, in the classes that somebody teaches, the oldest first. Raw: five tables. */
export function lateCopiesFor(
  database: Database,
  schoolId: string,
  personId: string,
  most: number,
): Promise<LateCopy[]> {
  return inSchool(database, schoolId).rows<LateCopy>(
    `SELECT c.id AS "copyId", c.title AS "copyTitle", h.title AS "handoutTitle", h.number, k.name AS class,
            count(DISTINCT (l.space, l.person_id))::int AS count, ${ms('max(l.at)')} AS at
       FROM class_member m
       JOIN class k ON k.school_id = m.school_id AND k.id = m.class_id AND k.archived_at IS NULL
       JOIN handout h ON h.school_id = k.school_id AND h.class_id = k.id
       JOIN copy c ON c.school_id = h.school_id AND c.handout_id = h.id
       JOIN late_update l ON l.school_id = c.school_id AND l.copy_id = c.id AND l.decision IS NULL
      WHERE m.school_id = $1 AND m.person_id = $2 AND m.left_at IS NULL AND m.role IN ('lead', 'co-teacher')
      GROUP BY c.school_id, c.id, h.title, h.number, k.name
      ORDER BY max(l.at) LIMIT $3`,
    personId,
    most,
  )
}

/** Who submitted a copy last, or took it back. Raw: two tables. */
export function lastHandingIn(
  database: Database,
  schoolId: string,
  copyId: string,
): Promise<{ kind: 'submitted' | 'taken back'; at: number; personId: string; first: string; last: string }[]> {
  return inSchool(database, schoolId).rows<{
    kind: 'submitted' | 'taken back'
    at: number
    personId: string
    first: string
    last: string
  }>(
    `SELECT j.kind, ${ms('j.at')} AS at, p.id AS "personId", p.first_name AS first, p.last_name AS last
       FROM copy_journal j JOIN person p ON p.school_id = j.school_id AND p.id = j.person_id
      WHERE j.school_id = $1 AND j.copy_id = $2 AND j.kind IN ('submitted', 'taken back') ORDER BY j.number DESC LIMIT 1`,
    copyId,
  )
}

/** What a student reads of the handout of their copy. Raw: two tables. */
export function handoutOfCopy(
  database: Database,
  schoolId: string,
  handoutId: string,
  personId: string,
): Promise<{ title: string; given: unknown; note: NoteText | null }[]> {
  return inSchool(database, schoolId).rows<{ title: string; given: unknown; note: NoteText | null }>(
    `SELECT h.title, h.given, (SELECT n.note FROM notice n WHERE n.school_id = h.school_id AND n.handout_id = h.id AND n.person_id = $3 AND n.about_id = $3) AS note
         FROM handout h WHERE h.school_id = $1 AND h.id = $2`,
    handoutId,
    personId,
  )
}

/** Says what was made of late writing, up to and with a change. Raw: a range of a key. */
export async function decideLate(
  database: Database,
  schoolId: string,
  late: {
    copyId: string
    space: string
    writer: string
    upTo: number
    decision: LateDecision
    by: string
    parts: readonly DecidedPart[]
  },
): Promise<void> {
  await inSchool(database, schoolId).write(
    `UPDATE late_update SET decision = $6, decided_at = now(), decided_by = $7, decided_parts = CASE WHEN seq = $5 THEN $8::jsonb END
      WHERE school_id = $1 AND copy_id = $2 AND space = $3 AND person_id = $4 AND seq <= $5`,
    late.copyId,
    late.space,
    late.writer,
    late.upTo,
    late.decision,
    late.by,
    JSON.stringify(late.parts),
  )
}

/** The addresses of the answers that something was written in. Raw: distinct. */
export function spacesWrittenIn(database: Database, schoolId: string, copyId: string): Promise<{ space: string }[]> {
  return inSchool(database, schoolId).rows<{ space: string }>(
    'SELECT DISTINCT space FROM live_update WHERE school_id = $1 AND copy_id = $2',
    copyId,
  )
}

/** The editions that a handout ever gave, the copy's worksheet first. Raw: reads inside of statements. */
export function editionsEverGiven(
  database: Database,
  schoolId: string,
  worksheetId: string,
  handoutId: string,
): Promise<{ number: number; content: object }[]> {
  return inSchool(database, schoolId).rows<{ number: number; content: object }>(
    `SELECT e.number, e.content FROM edition e WHERE e.school_id = $1 AND (e.worksheet_id = $2 OR e.worksheet_id::text IN (
        SELECT item ->> 'worksheetId' FROM hand_out_run r, jsonb_array_elements(r.statement -> 'items') AS item WHERE r.school_id = $1 AND r.handout_id = $3
        UNION SELECT rule ->> 'worksheetId' FROM hand_out_run r, jsonb_array_elements(r.statement -> 'items') AS item,
                jsonb_array_elements(CASE jsonb_typeof(item #> '{match,rules}') WHEN 'array' THEN item #> '{match,rules}' ELSE '[]' END) AS rule WHERE r.school_id = $1 AND r.handout_id = $3))
      ORDER BY (e.worksheet_id = $2) DESC, e.kept_at DESC`,
    worksheetId,
    handoutId,
  )
}

/**
 * Moves the changes of an answer from one on out of it, and drops its snapshot, which has what cannot be read; how many changes.
 * Raw: moves a set.
 */
export async function setUpdatesAside(
  database: Database,
  schoolId: string,
  {
    copyId,
    space,
    from,
    personId,
  }: { readonly copyId: string; readonly space: string; readonly from: number; readonly personId: string },
): Promise<number> {
  const school = inSchool(database, schoolId)
  await school.delete(LiveSnapshot, { copyId, space })
  const aside = await school.rows(
    `WITH gone AS (DELETE FROM live_update WHERE school_id = $1 AND copy_id = $2 AND space = $3 AND seq >= $4 RETURNING *)
     INSERT INTO live_update_aside (school_id, copy_id, space, seq, person_id, at, bytes, aside_by)
     SELECT school_id, copy_id, space, seq, person_id, at, bytes, $5 FROM gone RETURNING seq`,
    copyId,
    space,
    from,
    personId,
  )
  return aside.length
}
