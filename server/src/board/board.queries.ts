import type { JournalKind, OverviewCopy, OverviewHandout, TimeSteps } from '@gavrin/core'
import type { DataSource } from 'typeorm'
import { inSchool } from '../database/inSchool.js'
import { ms } from '../database/sql.js'
import { COUNTED_COPY, type CountedCopy } from '../kept/counted.js'
import { STAFF_STATE, WITH_MARK } from '../kept/kept.queries.js'

/** What stands at the head of a board. Times in milliseconds since 1970. */
export interface BoardHead {
  readonly id: string
  readonly number: number
  readonly title: string
  readonly classId: string
  readonly class: string
  readonly ink: string
  readonly kind: 'handout' | 'shelf'
  readonly setId: string | null
  readonly opensAt: number | null
  readonly dueAt: number | null
  readonly handedOutAt: number | null
}

/** Raw: of two tables some columns, with their times as numbers. */
export async function boardHead(source: DataSource, schoolId: string, handoutId: string): Promise<BoardHead | null> {
  const [head] = await inSchool(source, schoolId).rows<BoardHead>(
    `SELECT h.id, h.number, h.title, h.class_id AS "classId", k.name AS class, k.ink,
            h.kind, h.set_id AS "setId", ${ms('h.opens_at')} AS "opensAt", ${ms('h.due_at')} AS "dueAt", ${ms('h.handed_out_at')} AS "handedOutAt"
       FROM handout h JOIN class k ON k.school_id = h.school_id AND k.id = h.class_id WHERE h.school_id = $1 AND h.id = $2`,
    handoutId,
  )
  return head ?? null
}

/** A worksheet of which copies of a handout are, in the newest edition that they have. */
export interface SheetGiven {
  readonly worksheetId: string
  readonly title: string
  readonly content: object
}

/** The worksheets that a handout gave out, by title. Raw: one of each of a set. */
export function sheetsGiven(source: DataSource, schoolId: string, handoutId: string): Promise<SheetGiven[]> {
  return inSchool(source, schoolId).rows<SheetGiven>(
    `SELECT * FROM (
       SELECT DISTINCT ON (e.worksheet_id) e.worksheet_id AS "worksheetId", e.title, e.content FROM edition e
        WHERE e.school_id = $1 AND (e.worksheet_id, e.number) IN (SELECT worksheet_id, edition FROM copy WHERE school_id = $1 AND handout_id = $2 AND NOT set_aside AND way <> 'to read')
        ORDER BY e.worksheet_id, e.number DESC) AS newest
      ORDER BY title, "worksheetId"`,
    handoutId,
  )
}

/** When somebody looked at the copies of a handout last. Raw: of a set of copies. */
export function looksOf(
  source: DataSource,
  schoolId: string,
  handoutId: string,
  personId: string,
): Promise<{ copyId: string; at: number }[]> {
  return inSchool(source, schoolId).rows<{ copyId: string; at: number }>(
    `SELECT l.copy_id AS "copyId", ${ms('l.at')} AS at FROM copy_look l JOIN copy c ON c.school_id = l.school_id AND c.id = l.copy_id
      WHERE l.school_id = $1 AND c.handout_id = $2 AND l.person_id = $3`,
    handoutId,
    personId,
  )
}

/** A step of a copy, as far as its state goes. */
export interface JournalLine {
  readonly copyId: string
  readonly kind: JournalKind
  readonly at: number
}

/** The journals of some copies, each in its order. Raw: times as numbers, of many copies. */
export function journalsOf(source: DataSource, schoolId: string, copyIds: readonly string[]): Promise<JournalLine[]> {
  return inSchool(source, schoolId).rows<JournalLine>(
    `SELECT copy_id AS "copyId", kind, ${ms('at')} AS at FROM copy_journal WHERE school_id = $1 AND copy_id = ANY($2::uuid[]) ORDER BY copy_id, number`,
    copyIds,
  )
}

/** How much was written in some copies in each step of a time. Raw: counts of many rows. */
export function writtenInSteps(
  source: DataSource,
  schoolId: string,
  copyIds: readonly string[],
  { from, step, count }: TimeSteps,
): Promise<{ copyId: string; step: number; changes: number }[]> {
  return inSchool(source, schoolId).rows<{ copyId: string; step: number; changes: number }>(
    `SELECT copy_id AS "copyId", floor((extract(epoch FROM at) * 1000 - $3) / $4)::int AS step, count(*)::int AS changes FROM live_update
      WHERE school_id = $1 AND copy_id = ANY($2::uuid[]) AND at >= $5 AND at < $6 GROUP BY 1, 2`,
    copyIds,
    from,
    step,
    new Date(from),
    new Date(from + count * step),
  )
}

/** How much somebody has written in a copy. */
export interface WriterIn {
  readonly copyId: string
  readonly personId: string
  /** How many changes are theirs, and of how many of all. */
  readonly changes: number
  readonly of: number
  /** Milliseconds since 1970. */
  readonly lastAt: number
}

/** Who has written how much in some copies. Raw: counts of many rows. */
export function writersIn(source: DataSource, schoolId: string, copyIds: readonly string[]): Promise<WriterIn[]> {
  return inSchool(source, schoolId).rows<WriterIn>(
    `SELECT copy_id AS "copyId", person_id AS "personId", count(*)::int AS changes, (sum(count(*)) OVER (PARTITION BY copy_id))::int AS of, ${ms('max(at)')} AS "lastAt"
       FROM live_update WHERE school_id = $1 AND copy_id = ANY($2::uuid[]) GROUP BY copy_id, person_id`,
    copyIds,
  )
}

/** What is kept of one answer in a copy: a snapshot, or a change after it. */
export interface AnswerPiece {
  readonly copyId: string
  /** Whose part it is in too, where its section is repeated. */
  readonly space: string
  readonly edition: number
  readonly bytes: Buffer
}

/** All that is kept of the answers to one question in copies of a handout, in order. Raw: two tables of many rows. */
export function answerPieces(
  source: DataSource,
  schoolId: string,
  {
    handoutId,
    worksheetId,
    space,
    copyIds,
  }: {
    readonly handoutId: string
    readonly worksheetId: string
    readonly space: string
    readonly copyIds: readonly string[]
  },
): Promise<AnswerPiece[]> {
  return inSchool(source, schoolId).rows<AnswerPiece>(
    `WITH asked AS (SELECT id, edition FROM copy WHERE school_id = $1 AND handout_id = $2 AND worksheet_id = $3 AND id = ANY($4::uuid[])),
       snapshot AS (SELECT s.copy_id, s.space, s.seq, s.bytes FROM live_snapshot s JOIN asked a ON a.id = s.copy_id
                     WHERE s.school_id = $1 AND (s.space = $5 OR starts_with(s.space, $5 || '_')))
     SELECT p.copy_id AS "copyId", p.space, a.edition, p.bytes FROM (
       SELECT copy_id, space, seq, bytes FROM snapshot
        UNION ALL
       SELECT u.copy_id, u.space, u.seq, u.bytes FROM live_update u JOIN asked b ON b.id = u.copy_id
         LEFT JOIN snapshot s ON s.copy_id = u.copy_id AND s.space = u.space
        WHERE u.school_id = $1 AND (u.space = $5 OR starts_with(u.space, $5 || '_')) AND u.seq > coalesce(s.seq, 0)) AS p
       JOIN asked a ON a.id = p.copy_id
      ORDER BY p.copy_id, p.space, p.seq`,
    handoutId,
    worksheetId,
    copyIds,
    space,
  )
}

/** A student of the class who holds no copy of a handout. */
export interface LeftOut {
  readonly personId: string
  readonly first: string
  readonly last: string
}

/** Raw: a set less another one. */
export function leftOutOf(
  source: DataSource,
  { schoolId, classId, handoutId }: { readonly schoolId: string; readonly classId: string; readonly handoutId: string },
): Promise<LeftOut[]> {
  return inSchool(source, schoolId).rows<LeftOut>(
    `SELECT p.id AS "personId", p.first_name AS first, p.last_name AS last FROM class_member m JOIN person p ON p.school_id = m.school_id AND p.id = m.person_id
      WHERE m.school_id = $1 AND m.class_id = $2 AND m.role = 'student' AND m.left_at IS NULL
        -- Read once, whatever is known of how many there are.
        AND m.person_id NOT IN (SELECT o.person_id FROM copy c JOIN copy_holder o ON o.school_id = c.school_id AND o.copy_id = c.id
                                 WHERE c.school_id = $1 AND c.handout_id = $3 AND NOT c.set_aside)
      ORDER BY p.last_name, p.first_name`,
    classId,
    handoutId,
  )
}

/** The handouts of a class that were handed out, in their order. Raw: parts of the slip. */
export function handoutsOfOverview(source: DataSource, schoolId: string, classId: string): Promise<OverviewHandout[]> {
  return inSchool(source, schoolId).rows<OverviewHandout>(
    `SELECT h.id, h.number, h.title, coalesce(u.name, nullif(h.statement #>> '{unit,name}', '')) AS unit, ${ms('h.due_at')} AS "dueAt" FROM handout h
       LEFT JOIN unit u ON u.school_id = h.school_id AND u.class_id = h.class_id AND u.id::text = h.statement #>> '{unit,id}'
      WHERE h.school_id = $1 AND h.class_id = $2 AND h.kind = 'handout' AND h.handed_out_at IS NOT NULL ORDER BY h.number`,
    classId,
  )
}

/** The copies of a class in use, with the students who hold them. Raw: five tables. */
export function copiesOfOverview(
  source: DataSource,
  schoolId: string,
  classId: string,
): Promise<(Omit<OverviewCopy, 'spaces'> & CountedCopy & { readonly parts: number })[]> {
  return inSchool(source, schoolId).rows(
    `SELECT c.id AS "copyId", c.handout_id AS "handoutId", c.title, ${STAFF_STATE} AS state, c.pens_down OR coalesce(c.pens_down_from <= now(), false) AS "pensDown",
            c.answered, ${COUNTED_COPY}, jsonb_array_length(c.places) AS parts, ${ms('c.due_at')} AS "dueAt", ${ms('c.submitted_at')} AS "submittedAt",
            ARRAY(SELECT o.person_id FROM copy_holder o WHERE o.school_id = c.school_id AND o.copy_id = c.id) AS "personIds"
       FROM handout h JOIN copy c ON c.school_id = h.school_id AND c.handout_id = h.id
       JOIN edition e ON e.school_id = c.school_id AND e.worksheet_id = c.worksheet_id AND e.number = c.edition
       ${WITH_MARK}
      WHERE h.school_id = $1 AND h.class_id = $2 AND h.kind = 'handout' AND NOT c.set_aside AND c.way <> 'to read' ORDER BY c.title, c.id`,
    classId,
  )
}
