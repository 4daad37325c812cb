import {
  type BoardRow,
  type Permission,
  type CopyState,
  type ProgressBySpace,
  type CopyFacts,
  type GuestMatch,
  type OthersPlaces,
  type ClassRole,
  type CopyLife,
  type JournalKind,
  type AcceptedToo,
  type Checks,
  type Named,
} from '@gavrin/core'
import { ALL_HOLDERS } from './mark.entity.js'
import { COUNTED_COPY, type CountedCopy } from './counted.js'
import { type Database, inSchool } from '../database/inSchool.js'
import { ms } from '../database/sql.js'

export interface Row {
  id: string
  handout_id: string
  item_id: string
  class_id: string
  class_name: string
  ink: string
  number: number
  title: string
  worksheet_id: string
  worksheet_title: string
  edition: number
  content: object
  checks: Checks | null
  /** What is accepted in its handout beside what its worksheet says. */
  accepted: AcceptedToo | null
  classmates_may: Permission
  state: CopyState
  pens_down: boolean
  pens_down_from: Date | null
  set_aside: boolean
  due_at: Date | null
  submitted_at: Date | null
  progress: ProgressBySpace
  way: CopyFacts['way']
  link: string | null
  may_invite: boolean
  readers_named: boolean | null
  others_places: OthersPlaces | null
  own_copies: boolean | null
  viewers_read: boolean | null
  classmates_comment: boolean
  staff_shown: boolean
  unreadable_space: string | null
  former_writers: (string | null)[]
  places: { id: string; name: string; personIds: string[] }[]
  opens_at: Date | null
  pens_down_at_due: boolean
  late_work: boolean
  time_zone: string
  locale: string
  guests_until: number
  holders: { id: string; permission: Permission; name: string }[]
  readers: { id: string; permission: Permission; invited: boolean }[]
  members: { id: string; role: ClassRole; gone: boolean }[]
  named_helpers: string[]
  matches: GuestMatch[]
  kept: KeptFrom | null
}

/** Of a copy that somebody was given to keep: what it was, and whose. */
export interface KeptFrom {
  /** The copy of the class. */
  readonly copyId: string
  readonly class: string
  readonly ink: string
  readonly number: number
  readonly handout: string
  readonly at: number
  readonly by: string
  readonly holders: readonly Named[]
  readonly matches: readonly GuestMatch[]
  readonly hidesOthers: boolean
}

/** Whether the marking of a copy `c` with a `mark` is done, and that of its newest submission. */
export const IS_MARKED = `coalesce(mark.done_at >= coalesce(c.submitted_at, mark.done_at), false)`

/** The state of a copy `c` as the staff of its class sees it. */
export const STAFF_STATE = `CASE WHEN c.state = 'submitted' AND ${IS_MARKED} THEN 'marked' ELSE c.state END`

/** The `mark` of a copy `c`. */
export const WITH_MARK = `LEFT JOIN mark ON mark.school_id = c.school_id AND mark.copy_id = c.id AND mark.person_id = '${ALL_HOLDERS}'`

/** What is said in a copy in which nothing is. */
const NOTHING_SAID = JSON.stringify({
  ...{ staff: 0, holders: 0, peers: 0, done: 0, onOthers: 0 },
  ...{ spaces: [], asked: [] },
} satisfies BoardRow['comments'])

/**
 * The rows of a board. Raw: ten tables, each gone through once for all copies together, so that what is said in them and
 * who holds them costs a large class little more than a small one.
 * @param columns of the row as it is `shown`, and of what its answer spaces are counted from
 */
const boardSql = (columns: string) =>
  `WITH wanted AS MATERIALIZED (
       SELECT id, item_id FROM copy WHERE school_id = $1 AND handout_id = $2 AND ($3::uuid[] IS NULL OR id = ANY($3))
     ), held AS (
       SELECT o.copy_id, json_agg(json_build_object('personId', p.id, 'first', p.first_name, 'last', p.last_name, 'isGuest', p.role = 'guest',
                'guestOf', CASE WHEN g.guest_id IS NULL THEN NULL ELSE json_build_object('studentId', g.student_id, 'beside', g.beside) END) ORDER BY p.role = 'guest', p.last_name, p.first_name, p.id) AS holders, json_agg(p.id) AS ids
         FROM wanted w JOIN copy_holder o ON o.school_id = $1 AND o.copy_id = w.id
         -- Each by its whole key, also in a database that does not know yet how many people there are.
         JOIN LATERAL (SELECT * FROM person WHERE school_id = $1 AND id = o.person_id OFFSET 0) p ON true
         LEFT JOIN guest_match g ON g.school_id = $1 AND g.handout_id = $2 AND g.item_id = w.item_id AND g.guest_id = o.person_id
        GROUP BY o.copy_id
     ), said AS (
       SELECT m.copy_id, count(*) FILTER (WHERE m.by_staff) AS staff, count(*) FILTER (WHERE NOT m.by_staff AND o.person_id IS NOT NULL) AS holders,
              count(*) FILTER (WHERE NOT m.by_staff AND o.person_id IS NULL) AS peers
         FROM wanted w JOIN LATERAL (SELECT * FROM comment WHERE school_id = $1 AND copy_id = w.id AND deleted_at IS NULL OFFSET 0) m ON true
         LEFT JOIN copy_holder o ON o.school_id = $1 AND o.copy_id = m.copy_id AND o.person_id = m.person_id
        GROUP BY m.copy_id
     ), threads AS (
       SELECT t.copy_id, count(*) FILTER (WHERE t.done_at IS NOT NULL) AS done, count(*) FILTER (WHERE t.waiting) AS waiting,
              json_agg(DISTINCT t.anchor ->> 'space') FILTER (WHERE t.waiting AND t.anchor ->> 'space' IS NOT NULL) AS asked,
              json_agg(DISTINCT t.anchor ->> 'space') FILTER (WHERE t.done_at IS NULL AND t.anchor ->> 'space' IS NOT NULL
                AND EXISTS (SELECT 1 FROM comment n WHERE n.school_id = $1 AND n.thread_id = t.id AND n.deleted_at IS NULL)) AS spaces
         FROM wanted w JOIN LATERAL (SELECT * FROM comment_thread WHERE school_id = $1 AND copy_id = w.id OFFSET 0) t ON true
        GROUP BY t.copy_id
     ), elsewhere AS (
       SELECT o.copy_id, count(*) AS said
         FROM wanted w JOIN copy_holder o ON o.school_id = $1 AND o.copy_id = w.id
         JOIN LATERAL (SELECT * FROM comment WHERE school_id = $1 AND person_id = o.person_id AND copy_id <> o.copy_id AND deleted_at IS NULL OFFSET 0) n ON true
         JOIN copy d ON d.school_id = $1 AND d.id = n.copy_id AND d.handout_id = $2
        GROUP BY o.copy_id
     )
     SELECT ${columns}
       FROM copy c JOIN wanted w ON w.id = c.id JOIN edition e ON e.school_id = c.school_id AND e.worksheet_id = c.worksheet_id AND e.number = c.edition
       LEFT JOIN held ON held.copy_id = c.id LEFT JOIN said ON said.copy_id = c.id LEFT JOIN threads ON threads.copy_id = c.id LEFT JOIN elsewhere ON elsewhere.copy_id = c.id
       ${WITH_MARK}
       CROSS JOIN LATERAL (SELECT c.id AS "copyId", c.title, ${STAFF_STATE} AS state, c.pens_down OR coalesce(c.pens_down_from <= now(), false) AS "pensDown",
            CASE WHEN NOT c.pens_down AND c.pens_down_from > now() THEN ${ms('c.pens_down_from')} END AS "pensDownFrom", c.pens_down_at_due AS "pensDownAtDue", c.set_aside AS "setAside",
            c.answered, c.words, c.sittings, c.progress, c.edition, c.way,
            CASE WHEN c.places = '[]' THEN '[]' ELSE (SELECT jsonb_agg(jsonb_build_object('id', g ->> 'id', 'name', g ->> 'name')) FROM jsonb_array_elements(c.places) AS g) END AS places,
            c.slot_key AS "slotKey", c.worksheet_id AS "worksheetId", ${ms('c.due_at')} AS "dueAt", ${ms('c.submitted_at')} AS "submittedAt",
            ${ms('c.last_activity_at')} AS "lastActivityAt", ${ms('c.written_at')} AS "writtenAt",
            (SELECT count(DISTINCT (l.space, l.person_id))::int FROM late_update l WHERE l.school_id = c.school_id AND l.copy_id = c.id AND l.decision IS NULL) AS "lateWritings",
            coalesce(threads.waiting, 0)::int AS questions,
            EXISTS (SELECT 1 FROM copy_file f WHERE f.school_id = c.school_id AND f.copy_id = c.id AND f.is_answer AND f.removed_at IS NULL) AS "hasDocument",
            c.unreadable_space IS NOT NULL AS unreadable,
            CASE WHEN said.copy_id IS NULL AND threads.copy_id IS NULL AND elsewhere.copy_id IS NULL THEN '${NOTHING_SAID}'::json
              ELSE json_build_object('staff', coalesce(said.staff, 0), 'holders', coalesce(said.holders, 0), 'peers', coalesce(said.peers, 0), 'done', coalesce(threads.done, 0),
              'onOthers', coalesce(elsewhere.said, 0), 'spaces', coalesce(threads.spaces, '[]'), 'asked', coalesce(threads.asked, '[]')) END AS comments,
            coalesce(held.holders, '[]') AS holders,
            CASE WHEN mark.copy_id IS NOT NULL THEN json_build_object('total', mark.total, 'most', mark.most, 'step', mark.step, 'excused', mark.excused, 'isDone', ${IS_MARKED}, 'version', mark.version) END AS mark) AS shown
      WHERE c.school_id = $1
      ORDER BY c.title`

/** A row a copy of a handout. */
export function boardRowsOf(
  database: Database,
  schoolId: string,
  handoutId: string,
  copyIds: readonly string[] | null,
): Promise<(Omit<BoardRow, 'spaces'> & CountedCopy)[]> {
  return inSchool(database, schoolId).rows<Omit<BoardRow, 'spaces'> & CountedCopy>(
    boardSql(`shown.*, ${COUNTED_COPY}`),
    handoutId,
    copyIds,
  )
}

/** A row of a board in JSON, and what its answer spaces are counted from. */
export interface WrittenRow extends CountedCopy {
  readonly row: string
  readonly parts: number
  /** Null: they make no difference. */
  readonly holderIds: readonly string[] | null
}

/** The rows of a board as they are sent to whoever is shown all of it: read here and written again, each would cost several times as much. */
export function boardRowsWritten(database: Database, schoolId: string, handoutId: string): Promise<WrittenRow[]> {
  return inSchool(database, schoolId).rows<WrittenRow>(
    boardSql(`row_to_json(shown)::text AS row, ${COUNTED_COPY}, jsonb_array_length(c.places) AS parts,
            CASE WHEN e.member_spaces > 0 OR e.reserved_parts <> '[]' THEN held.ids END AS "holderIds"`),
    handoutId,
    null,
  )
}

/** All that is kept of a copy but the answers. Raw: eleven tables and more, at every opening. */
export function copyRow(database: Database, schoolId: string, copyId: string): Promise<Row[]> {
  return inSchool(database, schoolId).rows<Row>(
    `SELECT c.id, c.handout_id, c.item_id, h.class_id, k.name AS class_name, k.ink, k.classmates_comment, k.staff_shown, h.number, c.title, c.worksheet_id, e.title AS worksheet_title, c.edition, e.content,
            c.classmates_may, c.state, c.pens_down, c.pens_down_from, c.set_aside, c.due_at, c.submitted_at, c.progress,
            c.way, c.link, c.may_invite, c.unreadable_space, (SELECT coalesce(json_agg(f.person_id), '[]') FROM former_writer f WHERE f.school_id = c.school_id AND f.copy_id = c.id) AS former_writers, c.places, c.opens_at, c.pens_down_at_due, c.late_work, s.time_zone, s.locale,
            (SELECT coalesce(extract(epoch FROM max(coalesce(w.ends_at, 'infinity'))) * 1000, 0)::float8 FROM walk_in w WHERE w.school_id = c.school_id AND w.handout_id = c.handout_id AND w.item_id = c.item_id AND w.is_open) AS guests_until,
            (item.given -> 'peers' ->> 'named')::boolean AS readers_named, item.given ->> 'othersPlaces' AS others_places, h.given ->> 'checks' AS checks, (item.given ->> 'ownCopies')::boolean AS own_copies, (item.given ->> 'viewersReadComments')::boolean AS viewers_read,
            (SELECT coalesce(json_agg(json_build_object('id', r.person_id, 'permission', r.permission, 'invited', r.invited_by IS NOT NULL)), '[]')
               FROM copy_reader r WHERE r.school_id = c.school_id AND r.copy_id = c.id) AS readers,
            (SELECT coalesce(json_agg(json_build_object('id', o.person_id, 'permission', o.permission, 'name', trim(p.first_name || ' ' || p.last_name)) ORDER BY p.role = 'guest', p.last_name, p.first_name, p.id), '[]')
               FROM copy_holder o JOIN person p ON p.school_id = o.school_id AND p.id = o.person_id WHERE o.school_id = c.school_id AND o.copy_id = c.id) AS holders,
            (SELECT coalesce(json_agg(json_build_object('guestId', g.guest_id, 'studentId', g.student_id, 'beside', g.beside) ORDER BY g.matched_at), '[]')
               FROM guest_match g WHERE g.school_id = c.school_id AND g.handout_id = c.handout_id AND g.item_id = c.item_id) AS matches,
            (SELECT coalesce(json_agg(json_build_object('id', m.person_id, 'role', m.role, 'gone', m.left_at IS NOT NULL)), '[]')
               FROM class_member m WHERE m.school_id = c.school_id AND m.class_id = h.class_id) AS members,
            (SELECT json_object_agg(a.space, a.texts) FROM accepted_answer a WHERE a.school_id = c.school_id AND a.handout_id = c.handout_id AND a.worksheet_id = c.worksheet_id) AS accepted,
            (SELECT coalesce(json_agg(n.helper_id), '[]') FROM helped_student n JOIN copy_holder o ON o.school_id = n.school_id AND o.person_id = n.student_id
              WHERE n.school_id = c.school_id AND n.class_id = h.class_id AND o.copy_id = c.id) AS named_helpers,
            CASE WHEN h.kind = 'kept' THEN (
              SELECT json_build_object('copyId', t.copy_id, 'class', ok.name, 'ink', ok.ink, 'number', oh.number, 'handout', oh.title, 'at', ${ms('t.at')},
                       'by', trim(g.first_name || ' ' || g.last_name), 'holders', t.holders, 'matches', t.matches, 'hidesOthers', t.hides_others)
                FROM given_to_keep t JOIN copy o ON o.school_id = t.school_id AND o.id = t.copy_id JOIN handout oh ON oh.school_id = o.school_id AND oh.id = o.handout_id
                JOIN class ok ON ok.school_id = oh.school_id AND ok.id = oh.class_id JOIN person g ON g.school_id = t.school_id AND g.id = t.given_by
               WHERE t.school_id = c.school_id AND t.own_copy_id = c.id) END AS kept
       FROM copy c
       JOIN handout h ON h.school_id = c.school_id AND h.id = c.handout_id
       LEFT JOIN LATERAL (SELECT i AS given FROM jsonb_array_elements(h.given -> 'items') AS i WHERE i ->> 'id' = c.item_id LIMIT 1) AS item ON true
       JOIN class k ON k.school_id = h.school_id AND k.id = h.class_id
       JOIN school s ON s.id = c.school_id
       JOIN edition e ON e.school_id = c.school_id AND e.worksheet_id = c.worksheet_id AND e.number = c.edition
      WHERE c.school_id = $1 AND c.id = $2`,
    copyId,
  )
}

/** What happened to a copy. */
export interface JournalEntry {
  readonly copyId: string
  readonly kind: JournalKind
  /** Who did it; null: nobody, it came by itself. */
  readonly personId: string | null
  /** Milliseconds since 1970. */
  readonly at: number
  /** The address of the answer that it is about; none: the copy. */
  readonly space?: string | null
}

/**
 * The journal of a copy, whose row is held until the transaction ends: entries of one copy come one after the other. Raw, as is
 * what adds to it: a class opens its copies within a minute.
 */
export async function heldJournal(
  database: Database,
  schoolId: string,
  copyId: string,
): Promise<{ kind: JournalKind; at: number }[]> {
  const school = inSchool(database, schoolId)
  await school.rows('SELECT 1 FROM copy WHERE school_id = $1 AND id = $2 FOR UPDATE', copyId)
  return school.rows<{ kind: JournalKind; at: number }>(
    `SELECT kind, ${ms('at')} AS at FROM copy_journal WHERE school_id = $1 AND copy_id = $2 ORDER BY number`,
    copyId,
  )
}

/** Adds an entry to the journal of a copy, and keeps the state that follows from it. */
export async function addEntry(
  database: Database,
  schoolId: string,
  { copyId, kind, at, personId, space }: JournalEntry,
  life: CopyLife,
): Promise<void> {
  await inSchool(database, schoolId).write(
    `WITH entry AS (INSERT INTO copy_journal (school_id, copy_id, kind, at, person_id, space) VALUES ($1, $2, $3, $4, $5, $10))
     UPDATE copy SET state = $6, pens_down = $7, set_aside = $8, submitted_at = $9, last_activity_at = greatest(last_activity_at, $4)
      WHERE school_id = $1 AND id = $2`,
    copyId,
    kind,
    new Date(at),
    personId,
    life.state,
    life.pensDown,
    life.setAside,
    life.submittedAt === null ? null : new Date(life.submittedAt),
    space ?? null,
  )
}
