import type { CopyState, GuestMatch, MarkBack, MarkParts, Reading } from '@gavrin/core'
import { type Database, anySchool, inSchool } from '../database/inSchool.js'
import { ms } from '../database/sql.js'
import { IS_MARKED, WITH_MARK } from '../kept/kept.queries.js'
import { ALL_HOLDERS } from '../kept/mark.entity.js'

/** A copy, with what its mark depends on. Times in milliseconds since 1970. */
export interface CopyToMark {
  readonly copyId: string
  readonly title: string
  /** The title of its worksheet. */
  readonly worksheet: string
  /** Which of those that its handout plans. */
  readonly slotKey: string
  readonly worksheetId: string
  readonly edition: number
  readonly state: CopyState
  readonly dueAt: number | null
  readonly submittedAt: number | null
  /** The marking of its newest submission is done. */
  readonly isDone: boolean
  readonly places: readonly { readonly id: string; readonly name: string }[]
  readonly holders: readonly {
    readonly personId: string
    readonly first: string
    readonly last: string
    readonly email: string | null
  }[]
  readonly matches: readonly GuestMatch[]
  /** How many remarks on it were not handed back. */
  readonly newRemarks: number
  /** So of what the pen left. */
  readonly newPen: boolean
}

/** Copies of a handout, with what their marks depend on, by title. Raw: seven tables. */
export function copiesToMark(
  database: Database,
  schoolId: string,
  handoutId: string,
  copyIds: readonly string[] | null,
): Promise<CopyToMark[]> {
  return inSchool(database, schoolId).rows<CopyToMark>(
    `SELECT c.id AS "copyId", c.slot_key AS "slotKey", c.title, e.title AS worksheet, c.worksheet_id AS "worksheetId", c.edition, c.state, ${ms('c.due_at')} AS "dueAt", ${ms('c.submitted_at')} AS "submittedAt", ${IS_MARKED} AS "isDone",
            (SELECT coalesce(jsonb_agg(jsonb_build_object('id', g ->> 'id', 'name', g ->> 'name')), '[]') FROM jsonb_array_elements(c.places) AS g) AS places,
            (SELECT coalesce(json_agg(json_build_object('personId', p.id, 'first', p.first_name, 'last', p.last_name, 'email', p.email) ORDER BY p.last_name, p.first_name, p.id), '[]')
               FROM copy_holder o JOIN person p ON p.school_id = o.school_id AND p.id = o.person_id WHERE o.school_id = c.school_id AND o.copy_id = c.id AND o.permission <> 'none') AS holders,
            (SELECT coalesce(json_agg(json_build_object('guestId', g.guest_id, 'studentId', g.student_id, 'beside', g.beside)), '[]')
               FROM guest_match g WHERE g.school_id = c.school_id AND g.handout_id = c.handout_id AND g.item_id = c.item_id) AS matches,
            (SELECT count(*)::int FROM comment_thread t WHERE t.school_id = c.school_id AND t.copy_id = c.id AND t.kind = 'remark' AND t.released_at IS NULL
                AND EXISTS (SELECT 1 FROM comment n WHERE n.school_id = t.school_id AND n.thread_id = t.id AND n.deleted_at IS NULL)) AS "newRemarks",
            EXISTS (SELECT 1 FROM pen_mark q WHERE q.school_id = c.school_id AND q.copy_id = c.id AND q.released_at IS NULL AND q.deleted_at IS NULL) AS "newPen"
       FROM copy c JOIN edition e ON e.school_id = c.school_id AND e.worksheet_id = c.worksheet_id AND e.number = c.edition ${WITH_MARK}
      WHERE c.school_id = $1 AND c.handout_id = $2 AND ($3::uuid[] IS NULL OR c.id = ANY($3)) AND NOT c.set_aside AND c.way <> 'to read' ORDER BY c.title, c.id`,
    handoutId,
    copyIds,
  )
}

/** A mark as it is kept. */
export interface KeptMark {
  readonly copyId: string
  readonly personId: string
  readonly parts: MarkParts
  readonly version: number
  readonly countedBy: string
  readonly doneAt: number | null
  readonly changedAt: number
  /** Who changed it last. */
  readonly changedBy: string
  readonly first: string
  readonly last: string
}

/** The marks of copies. Raw: two tables. */
export function marksOf(database: Database, schoolId: string, copyIds: readonly string[]): Promise<KeptMark[]> {
  return inSchool(database, schoolId).rows<KeptMark>(
    `SELECT m.copy_id AS "copyId", m.person_id AS "personId", m.parts, m.version, m.counted_by AS "countedBy", ${ms('m.done_at')} AS "doneAt", ${ms('m.changed_at')} AS "changedAt", m.changed_by AS "changedBy",
            p.first_name AS first, p.last_name AS last
       FROM mark m JOIN person p ON p.school_id = m.school_id AND p.id = m.changed_by WHERE m.school_id = $1 AND m.copy_id = ANY($2::uuid[])`,
    copyIds,
  )
}

/** Holds copies until the transaction ends: nobody else marks them. Raw: locks of many rows, always in the same order. */
export async function holdCopies(database: Database, schoolId: string, copyIds: readonly string[]): Promise<void> {
  await inSchool(database, schoolId).rows(
    'SELECT 1 FROM copy WHERE school_id = $1 AND id = ANY($2::uuid[]) ORDER BY id FOR NO KEY UPDATE',
    copyIds,
  )
}

/** A mark as it is to be kept. */
export interface MarkToKeep {
  readonly copyId: string
  readonly personId: string
  readonly parts: MarkParts
  readonly countedBy: string
  readonly total: number | null
  readonly most: number | null
  readonly step: string | null
  readonly excused: boolean
  /** Milliseconds since 1970; null: not done. */
  readonly doneAt: number | null
}

/** Keeps marks. Raw: many rows in one statement. */
export async function keepMarks(
  database: Database,
  schoolId: string,
  marks: readonly MarkToKeep[],
  by: { readonly personId: string; readonly at: number },
): Promise<void> {
  await inSchool(database, schoolId).rows(
    `INSERT INTO mark (school_id, copy_id, person_id, parts, counted_by, total, most, step, excused, done_at, changed_at, changed_by)
     SELECT $1, m.*, $11, $12 FROM unnest($2::uuid[], $3::uuid[], $4::jsonb[], $5::text[], $6::int[], $7::int[], $8::text[], $9::bool[], $10::timestamptz[]) AS m
     ON CONFLICT (school_id, copy_id, person_id) DO UPDATE SET parts = EXCLUDED.parts, counted_by = EXCLUDED.counted_by, total = EXCLUDED.total, most = EXCLUDED.most, step = EXCLUDED.step,
       excused = EXCLUDED.excused, done_at = EXCLUDED.done_at, changed_at = EXCLUDED.changed_at, changed_by = EXCLUDED.changed_by, version = mark.version + 1`,
    marks.map(({ copyId }) => copyId),
    marks.map(({ personId }) => personId),
    marks.map(({ parts }) => JSON.stringify(parts)),
    marks.map(({ countedBy }) => countedBy),
    marks.map(({ total }) => total),
    marks.map(({ most }) => most),
    marks.map(({ step }) => step),
    marks.map(({ excused }) => excused),
    marks.map(({ doneAt }) => (doneAt === null ? null : new Date(doneAt))),
    new Date(by.at),
    by.personId,
  )
}

/** What marks come to by how they are marked now: nothing else of them changes. Raw: many rows in one statement. */
export async function keepReckoned(
  database: Database,
  schoolId: string,
  marks: readonly Pick<MarkToKeep, 'copyId' | 'personId' | 'countedBy' | 'total' | 'most' | 'step'>[],
): Promise<void> {
  await inSchool(database, schoolId).write(
    `UPDATE mark SET counted_by = m.counted_by, total = m.total, most = m.most, step = m.step, version = mark.version + 1
       FROM unnest($2::uuid[], $3::uuid[], $4::text[], $5::int[], $6::int[], $7::text[]) AS m(copy_id, person_id, counted_by, total, most, step)
      WHERE mark.school_id = $1 AND mark.copy_id = m.copy_id AND mark.person_id = m.person_id`,
    marks.map(({ copyId }) => copyId),
    marks.map(({ personId }) => personId),
    marks.map(({ countedBy }) => countedBy),
    marks.map(({ total }) => total),
    marks.map(({ most }) => most),
    marks.map(({ step }) => step),
  )
}

/** Enters a step into the journals of copies that does not change their state. Raw: many rows in one statement. */
export async function enterMarked(
  database: Database,
  schoolId: string,
  copyIds: readonly string[],
  by: { readonly personId: string; readonly at: number },
): Promise<void> {
  await inSchool(database, schoolId).rows(
    `INSERT INTO copy_journal (school_id, copy_id, kind, at, person_id) SELECT $1, copy_id, 'marked', $3, $4 FROM unnest($2::uuid[]) AS m(copy_id)`,
    copyIds,
    new Date(by.at),
    by.personId,
  )
}

/** Hands marks back: to each holder theirs, the remarks with them, and the copies are handed back from now on. Raw: many rows at once. */
export async function writeBack(
  database: Database,
  schoolId: string,
  lines: readonly {
    readonly copyId: string
    readonly personId: string
    readonly mark: MarkBack
    readonly message: string
  }[],
  by: { readonly personId: string; readonly at: number },
): Promise<void> {
  const school = inSchool(database, schoolId)
  const at = new Date(by.at)
  const copyIds = [...new Set(lines.map(({ copyId }) => copyId))]
  await school.rows(
    `INSERT INTO handed_back (school_id, copy_id, person_id, mark, message, at, handed_by)
     SELECT $1, b.*, $6, $7 FROM unnest($2::uuid[], $3::uuid[], $4::jsonb[], $5::text[]) AS b`,
    lines.map(({ copyId }) => copyId),
    lines.map(({ personId }) => personId),
    lines.map(({ mark }) => JSON.stringify(mark)),
    lines.map(({ message }) => message),
    at,
    by.personId,
  )
  await school.write(
    `WITH entry AS (INSERT INTO copy_journal (school_id, copy_id, kind, at, person_id) SELECT $1, copy_id, 'handed back', $3, $4 FROM unnest($2::uuid[]) AS m(copy_id))
     UPDATE copy SET state = 'handed back' WHERE school_id = $1 AND id = ANY($2::uuid[])`,
    copyIds,
    at,
    by.personId,
  )
  await school.write(
    `UPDATE comment_thread SET released_at = $3, version = version + 1 WHERE school_id = $1 AND copy_id = ANY($2::uuid[]) AND kind = 'remark' AND released_at IS NULL`,
    copyIds,
    at,
  )
  await school.write(
    'UPDATE pen_mark SET released_at = $3 WHERE school_id = $1 AND copy_id = ANY($2::uuid[]) AND released_at IS NULL AND deleted_at IS NULL',
    copyIds,
    at,
  )
}

/** A copy from whose holders its mark is to be taken back. */
export interface Withdrawing {
  readonly copyId: string
  readonly title: string
  /** Somebody has looked at it. */
  readonly isSeen: boolean
  /** When it was handed back last, in milliseconds since 1970. */
  readonly at: number
  /** It had been handed back before that, and this stays. */
  readonly hasEarlier: boolean
}

/** Of copies that are handed back, whether somebody has looked. Raw: counts of sets. */
export function lastBack(database: Database, schoolId: string, copyIds: readonly string[]): Promise<Withdrawing[]> {
  return inSchool(database, schoolId).rows<Withdrawing>(
    `SELECT c.id AS "copyId", c.title, b.seen AS "isSeen", ${ms('b.at')} AS at,
            EXISTS (SELECT 1 FROM handed_back e WHERE e.school_id = c.school_id AND e.copy_id = c.id AND e.withdrawn_at IS NULL AND e.at < b.at) AS "hasEarlier"
       FROM copy c JOIN LATERAL (SELECT max(h.at) AS at, bool_or(h.looked_at IS NOT NULL) FILTER (WHERE h.at = (SELECT max(l.at) FROM handed_back l
                                   WHERE l.school_id = h.school_id AND l.copy_id = h.copy_id AND l.withdrawn_at IS NULL)) AS seen
                                 FROM handed_back h WHERE h.school_id = c.school_id AND h.copy_id = c.id AND h.withdrawn_at IS NULL) b ON b.at IS NOT NULL
      WHERE c.school_id = $1 AND c.id = ANY($2::uuid[]) AND c.state = 'handed back' ORDER BY c.title, c.id`,
    copyIds,
  )
}

/** Takes back what was handed back last of copies. Raw: many rows at once. */
export async function writeWithdrawn(
  database: Database,
  schoolId: string,
  copies: readonly Withdrawing[],
  by: { readonly personId: string; readonly at: number },
): Promise<void> {
  const school = inSchool(database, schoolId)
  const at = new Date(by.at)
  const ids = copies.map(({ copyId }) => copyId)
  const times = copies.map((copy) => new Date(copy.at))
  await school.write(
    `UPDATE handed_back h SET withdrawn_at = $4 FROM unnest($2::uuid[], $3::timestamptz[]) AS w(copy_id, at)
      WHERE h.school_id = $1 AND h.copy_id = w.copy_id AND h.at = w.at AND h.withdrawn_at IS NULL`,
    ids,
    times,
    at,
  )
  await school.write(
    `UPDATE comment_thread t SET released_at = NULL, version = t.version + 1 FROM unnest($2::uuid[], $3::timestamptz[]) AS w(copy_id, at)
      WHERE t.school_id = $1 AND t.copy_id = w.copy_id AND t.kind = 'remark' AND t.released_at = w.at`,
    ids,
    times,
  )
  await school.write(
    `UPDATE pen_mark m SET released_at = NULL FROM unnest($2::uuid[], $3::timestamptz[]) AS w(copy_id, at)
      WHERE m.school_id = $1 AND m.copy_id = w.copy_id AND m.released_at = w.at`,
    ids,
    times,
  )
  await school.write(
    `WITH entry AS (INSERT INTO copy_journal (school_id, copy_id, kind, at, person_id) SELECT $1, copy_id, 'hand-back withdrawn', $3, $4 FROM unnest($2::uuid[]) AS m(copy_id))
     UPDATE copy SET state = CASE WHEN submitted_at IS NULL THEN 'working' ELSE 'submitted' END WHERE school_id = $1 AND id = ANY($2::uuid[])`,
    copies.filter(({ hasEarlier }) => !hasEarlier).map(({ copyId }) => copyId),
    at,
    by.personId,
  )
}

/** Opens copies that were handed back again, to be improved; which of them were. Raw: many rows in one statement. */
export async function openAgain(
  database: Database,
  schoolId: string,
  copyIds: readonly string[],
  by: { readonly personId: string; readonly at: number },
): Promise<{ copyId: string }[]> {
  return inSchool(database, schoolId).rows<{ copyId: string }>(
    `WITH opened AS (UPDATE copy SET state = 'taken back', submitted_at = NULL, last_activity_at = greatest(last_activity_at, $3)
                      WHERE school_id = $1 AND id = ANY($2::uuid[]) AND state = 'handed back' RETURNING id),
       entry AS (INSERT INTO copy_journal (school_id, copy_id, kind, at, person_id) SELECT $1, id, 'opened again', $3, $4 FROM opened)
     SELECT id AS "copyId" FROM opened`,
    copyIds,
    new Date(by.at),
    by.personId,
  )
}

/** What is to be handed back by now, in all schools. Raw: in all schools. */
export function backDue(database: Database): Promise<{ schoolId: string; handoutId: string; personId: string }[]> {
  return anySchool(database).rows<{ schoolId: string; handoutId: string; personId: string }>(
    `SELECT school_id AS "schoolId", handout_id AS "handoutId", person_id AS "personId" FROM hand_back_later WHERE at <= now() ORDER BY at LIMIT 50`,
  )
}

/** Takes from what is to be handed back by now that of a handout: one process does, and once. Raw: by the clock of the database. */
export function takeBackDue(database: Database, schoolId: string, handoutId: string): Promise<number> {
  return inSchool(database, schoolId).write(
    'DELETE FROM hand_back_later WHERE school_id = $1 AND handout_id = $2 AND at <= now()',
    handoutId,
  )
}

/** The newest remarks of somebody that stand: `said`. */
const SAID = `SELECT c.id, c.copy_id, c.thread_id, c.text, t.released_at FROM comment c
    JOIN comment_thread t ON t.school_id = c.school_id AND t.id = c.thread_id AND t.kind = 'remark'
   WHERE c.school_id = $1 AND c.person_id = $2 AND c.by_staff AND c.deleted_at IS NULL ORDER BY c.at DESC LIMIT $4`

/** In how many copies somebody said each of some words (patterns of LIKE), by its place. Raw: a set against a set. */
export async function usesOfRemarks(
  database: Database,
  { schoolId, personId }: { readonly schoolId: string; readonly personId: string },
  patterns: readonly string[],
  newest: number,
): Promise<Map<number, { copies: number; handedBack: number }>> {
  const rows = await inSchool(database, schoolId).rows<{ at: number; copies: number; handedBack: number }>(
    `WITH said AS MATERIALIZED (${SAID})
     SELECT (p.at - 1)::int AS at, count(DISTINCT s.copy_id)::int AS copies, (count(DISTINCT s.copy_id) FILTER (WHERE s.released_at IS NOT NULL))::int AS "handedBack"
       FROM unnest($3::text[]) WITH ORDINALITY AS p(pattern, at) JOIN said s ON s.text LIKE p.pattern GROUP BY p.at`,
    personId,
    patterns,
    newest,
  )
  return new Map(rows.map(({ at, ...uses }) => [at, uses]))
}

/** What somebody said that a pattern of LIKE finds, the newest first. Raw: by a pattern. */
export function remarksSaid(
  database: Database,
  { schoolId, personId }: { readonly schoolId: string; readonly personId: string },
  pattern: string,
  newest: number,
): Promise<{ commentId: string; copyId: string; threadId: string; text: string }[]> {
  return inSchool(database, schoolId).rows<{ commentId: string; copyId: string; threadId: string; text: string }>(
    `SELECT s.id AS "commentId", s.copy_id AS "copyId", s.thread_id AS "threadId", s.text FROM (${SAID}) s WHERE s.text LIKE $3`,
    personId,
    pattern,
    newest,
  )
}

/** What those who read copies a second time would give them, with the mark as it was then. Raw: two people of each. */
export function readingsOf(
  database: Database,
  schoolId: string,
  copyIds: readonly string[],
): Promise<
  (Reading & {
    readonly copyId: string
    readonly personId: string
    readonly by: string
    readonly remark: string
    readonly at: number
    readonly first: Reading & { readonly by: string }
  })[]
> {
  return inSchool(database, schoolId).rows(
    `SELECT r.copy_id AS "copyId", r.person_id AS "personId", trim(p.first_name || ' ' || p.last_name) AS by, r.total, r.step, r.remark, ${ms('r.at')} AS at,
            json_build_object('total', r.first_total, 'step', r.first_step, 'by', trim(f.first_name || ' ' || f.last_name)) AS first
       FROM second_reading r JOIN person p ON p.school_id = r.school_id AND p.id = r.person_id JOIN person f ON f.school_id = r.school_id AND f.id = r.first_by
      WHERE r.school_id = $1 AND r.copy_id = ANY($2::uuid[]) ORDER BY r.at`,
    copyIds,
  )
}

/** Counts on that something about the mark of a copy has changed: windows that have it open read it again. Raw: counts. */
export async function touchMark(database: Database, schoolId: string, copyId: string): Promise<void> {
  await inSchool(database, schoolId).write(
    `UPDATE mark SET version = version + 1 WHERE school_id = $1 AND copy_id = $2 AND person_id = '${ALL_HOLDERS}'`,
    copyId,
  )
}
