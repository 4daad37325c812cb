import { type Anchor, type KeptThread, type SchoolRole, fullName } from '@gavrin/core'
import { type Database, inSchool } from '../database/inSchool.js'

const ms = (column: string) => `(extract(epoch FROM ${column}) * 1000)::float8`

interface Name {
  readonly first: string
  readonly last: string
}

type ThreadRow = Omit<KeptThread, 'comments' | 'doneBy'> & {
  readonly doneBy: Name | null
  readonly comments: readonly (Omit<KeptThread['comments'][number], 'name'> & Name)[]
}

/** What was said in a copy, or some of it, in the order in which it was begun. Raw: a tree of three tables in one go. */
export async function threadsOf(
  database: Database,
  schoolId: string,
  copyId: string,
  threadIds: readonly string[] | null,
): Promise<KeptThread[]> {
  const rows = await inSchool(database, schoolId).rows<ThreadRow>(
    `SELECT t.id, t.version, t.copy_id AS "copyId", t.kind, t.staff_only AS "staffOnly", ${ms('t.released_at')} AS "releasedAt", t.anchor, t.person_id AS "personId", t.done_by AS "doneById", ${ms('t.done_at')} AS "doneAt",
            CASE WHEN d.id IS NOT NULL THEN json_build_object('first', d.first_name, 'last', d.last_name) END AS "doneBy",
            (SELECT coalesce(json_agg(json_build_object('id', c.id, 'personId', c.person_id, 'first', p.first_name, 'last', p.last_name, 'byStaff', c.by_staff, 'readerNumber', c.reader_number,
                      'at', ${ms('c.at')}, 'editedAt', ${ms('c.edited_at')}, 'deletedAt', ${ms('c.deleted_at')}, 'deletedBy', c.deleted_by, 'text', c.text) ORDER BY c.at, c.id), '[]')
               FROM comment c JOIN person p ON p.school_id = c.school_id AND p.id = c.person_id WHERE c.school_id = t.school_id AND c.thread_id = t.id) AS comments
       FROM comment_thread t LEFT JOIN person d ON d.school_id = t.school_id AND d.id = t.done_by
      WHERE t.school_id = $1 AND t.copy_id = $2 AND ($3::uuid[] IS NULL OR t.id = ANY($3))
      ORDER BY t.created_at, t.id`,
    copyId,
    threadIds,
  )
  return rows.map((row) => ({
    ...row,
    doneBy: row.doneBy && fullName(row.doneBy),
    comments: row.comments.map(({ first, last, ...comment }) => ({ ...comment, name: fullName({ first, last }) })),
  }))
}

/** A question that waits, where it was asked. */
export interface WaitingQuestion {
  readonly threadId: string
  readonly copyId: string
  readonly copyTitle: string
  readonly handoutId: string
  readonly handoutTitle: string
  readonly number: number
  readonly classId: string
  readonly class: string
  readonly first: string
  readonly last: string
  readonly text: string
  readonly at: number
  readonly anchor: Anchor
  readonly worksheetId: string
  readonly edition: number
}

/** The questions that wait in the classes of somebody of their staff, the oldest first. Raw: seven tables. */
export function questionsFor(
  database: Database,
  schoolId: string,
  personId: string,
  most: number,
): Promise<WaitingQuestion[]> {
  return inSchool(database, schoolId).rows<WaitingQuestion>(
    `SELECT t.id AS "threadId", c.id AS "copyId", c.title AS "copyTitle", h.id AS "handoutId", h.title AS "handoutTitle", h.number, k.id AS "classId", k.name AS class,
            p.first_name AS first, p.last_name AS last, q.text, ${ms('q.at')} AS at,
            t.anchor, c.worksheet_id AS "worksheetId", c.edition
       FROM class_member m
       JOIN class k ON k.school_id = m.school_id AND k.id = m.class_id AND k.archived_at IS NULL
       JOIN handout h ON h.school_id = k.school_id AND h.class_id = k.id
       JOIN copy c ON c.school_id = h.school_id AND c.handout_id = h.id
       JOIN comment_thread t ON t.school_id = c.school_id AND t.copy_id = c.id AND t.waiting
       JOIN person p ON p.school_id = t.school_id AND p.id = t.person_id
       JOIN LATERAL (SELECT o.text, o.at FROM comment o WHERE o.school_id = t.school_id AND o.thread_id = t.id AND o.person_id = t.person_id AND o.deleted_at IS NULL
                      ORDER BY o.at DESC LIMIT 1) q ON true
      WHERE m.school_id = $1 AND m.person_id = $2 AND m.left_at IS NULL
        AND (m.role IN ('lead', 'co-teacher', 'helper')
          OR m.role = 'named helper' AND EXISTS (SELECT 1 FROM helped_student n JOIN copy_holder o ON o.school_id = n.school_id AND o.person_id = n.student_id
               WHERE n.school_id = m.school_id AND n.class_id = m.class_id AND n.helper_id = m.person_id AND o.copy_id = c.id))
      ORDER BY q.at LIMIT $3`,
    personId,
    most,
  )
}

/** How many comments a copy has, how many of them are of somebody, and with how many letters. Raw: three counts of one look. */
export async function commentCounts(
  database: Database,
  schoolId: string,
  copyId: string,
  personId: string,
): Promise<{ readonly all: number; readonly own: number; readonly letters: number }> {
  const [counts] = await inSchool(database, schoolId).rows<{ all: number; own: number; letters: number }>(
    `SELECT count(*)::int AS all, count(*) FILTER (WHERE person_id = $3)::int AS own, coalesce(sum(length(text)) FILTER (WHERE person_id = $3), 0)::int AS letters
       FROM comment WHERE school_id = $1 AND copy_id = $2`,
    copyId,
    personId,
  )
  return counts!
}

/** The number of a peer reader who is not named: what they had before in this copy, or the next. Raw: two of one set. */
export async function readerNumber(
  database: Database,
  schoolId: string,
  copyId: string,
  personId: string,
): Promise<number> {
  const [found] = await inSchool(database, schoolId).rows<{ number: number }>(
    `SELECT coalesce(max(reader_number) FILTER (WHERE person_id = $3), max(reader_number) + 1, 1)::int AS number FROM comment WHERE school_id = $1 AND copy_id = $2`,
    copyId,
    personId,
  )
  return found!.number
}

/** People of a copy by their names, with up to when each has seen what is said in it. Raw: two tables. */
export function peopleOfComments(
  database: Database,
  schoolId: string,
  copyId: string,
  ids: readonly string[],
): Promise<(Name & { readonly id: string; readonly role: SchoolRole; readonly seenAt: number | null })[]> {
  return inSchool(database, schoolId).rows<Name & { id: string; role: SchoolRole; seenAt: number | null }>(
    `SELECT p.id, p.first_name AS first, p.last_name AS last, p.role, ${ms('s.at')} AS "seenAt"
       FROM person p LEFT JOIN comment_seen s ON s.school_id = p.school_id AND s.copy_id = $2 AND s.person_id = p.id
      WHERE p.school_id = $1 AND p.id = ANY($3) ORDER BY p.last_name, p.first_name, p.id`,
    copyId,
    ids,
  )
}

/** A comment in which somebody is named. */
export interface MentionedIn {
  readonly commentId: string
  readonly threadId: string
  readonly copyId: string
  readonly copyTitle: string
  readonly handoutTitle: string
  readonly number: number
  readonly class: string
  readonly first: string
  readonly last: string
  readonly text: string
  readonly at: number
}

/** The comments in which somebody of the staff of a class is named and that they have not seen, the oldest first. Raw: eight tables. */
export function mentionsOf(
  database: Database,
  schoolId: string,
  personId: string,
  most: number,
): Promise<MentionedIn[]> {
  return inSchool(database, schoolId).rows<MentionedIn>(
    `SELECT o.id AS "commentId", o.thread_id AS "threadId", c.id AS "copyId", c.title AS "copyTitle", h.title AS "handoutTitle", h.number, k.name AS class,
            p.first_name AS first, p.last_name AS last, o.text, ${ms('o.at')} AS at
       FROM comment_mention n
       JOIN comment o ON o.school_id = n.school_id AND o.id = n.comment_id AND o.deleted_at IS NULL
       JOIN copy c ON c.school_id = o.school_id AND c.id = o.copy_id
       JOIN handout h ON h.school_id = c.school_id AND h.id = c.handout_id
       JOIN class k ON k.school_id = h.school_id AND k.id = h.class_id AND k.archived_at IS NULL
       JOIN class_member m ON m.school_id = k.school_id AND m.class_id = k.id AND m.person_id = n.person_id AND m.left_at IS NULL AND m.role <> 'student'
       JOIN person p ON p.school_id = o.school_id AND p.id = o.person_id
       LEFT JOIN comment_seen s ON s.school_id = o.school_id AND s.copy_id = o.copy_id AND s.person_id = n.person_id
      WHERE n.school_id = $1 AND n.person_id = $2 AND (s.at IS NULL OR s.at < o.at)
      ORDER BY o.at LIMIT $3`,
    personId,
    most,
  )
}
