import { type Database, anySchool, inSchool } from '../database/inSchool.js'
import { ms } from '../database/sql.js'

/** What is known of somebody who may be reminded. */
export interface ReminderPersonRow {
  readonly personId: string
  readonly first: string
  readonly last: string
  readonly email: string | null
  /** Of this handout, last; null: never. */
  readonly lastAt: number | null
  /** How often within the last day. */
  readonly today: number
}

/** Who of these people can be reminded of a handout. Raw: counts of each of a set. */
export function reminderPeople(
  database: Database,
  schoolId: string,
  handoutId: string,
  personIds: readonly string[],
): Promise<ReminderPersonRow[]> {
  return inSchool(database, schoolId).rows<ReminderPersonRow>(
    `SELECT p.id AS "personId", p.first_name AS first, p.last_name AS last, p.email,
            (SELECT ${ms('max(r.at)')} FROM reminder r JOIN copy c ON c.school_id = r.school_id AND c.id = r.copy_id WHERE r.school_id = p.school_id AND r.person_id = p.id AND c.handout_id = $2 AND r.reminded_of <> 'handed back') AS "lastAt",
            (SELECT count(*)::int FROM reminder r WHERE r.school_id = p.school_id AND r.person_id = p.id AND r.at > now() - interval '1 day' AND r.reminded_of <> 'handed back') AS today
       FROM person p WHERE p.school_id = $1 AND p.id = ANY($3::uuid[])`,
    handoutId,
    personIds,
  )
}

/** Of copies, what a board does not say: when they open, in milliseconds since 1970, and what their worksheet is called. Raw: two tables. */
export function copiesToRemind(
  database: Database,
  schoolId: string,
  handoutId: string,
  copyIds: readonly string[],
): Promise<{ copyId: string; opensAt: number | null; worksheet: string }[]> {
  return inSchool(database, schoolId).rows<{ copyId: string; opensAt: number | null; worksheet: string }>(
    `SELECT c.id AS "copyId", ${ms('c.opens_at')} AS "opensAt", e.title AS worksheet FROM copy c
       JOIN edition e ON e.school_id = c.school_id AND e.worksheet_id = c.worksheet_id AND e.number = c.edition
      WHERE c.school_id = $1 AND c.handout_id = $2 AND c.id = ANY($3::uuid[])`,
    handoutId,
    copyIds,
  )
}

/** A handout of which copies are due within a day and ask for it. */
export interface DueSoon {
  readonly schoolId: string
  readonly handoutId: string
  readonly copyIds: readonly string[]
}

/** Copies that are due within a day, of handouts that remind by themselves, and were not reminded of yet. Raw: in all schools. */
export function dueSoon(database: Database): Promise<DueSoon[]> {
  return anySchool(database).rows<DueSoon>(
    `SELECT c.school_id AS "schoolId", c.handout_id AS "handoutId", json_agg(c.id) AS "copyIds" FROM copy c
       JOIN handout h ON h.school_id = c.school_id AND h.id = c.handout_id
       JOIN class k ON k.school_id = h.school_id AND k.id = h.class_id
      WHERE c.due_at > now() AND c.due_at <= now() + interval '1 day' AND NOT c.set_aside AND c.state IN ('not opened', 'opened', 'working', 'taken back')
        AND (h.given ->> 'remindBefore')::boolean AND k.archived_at IS NULL
        AND NOT EXISTS (SELECT 1 FROM reminded_before_due r WHERE r.school_id = c.school_id AND r.copy_id = c.id AND r.due_at = c.due_at)
      GROUP BY c.school_id, c.handout_id`,
  )
}

/** Notes that these copies are being reminded of; those that nobody else has taken. Raw: by another table. */
export function takeDueSoon(
  database: Database,
  schoolId: string,
  copyIds: readonly string[],
): Promise<{ copyId: string }[]> {
  return inSchool(database, schoolId).rows<{ copyId: string }>(
    `INSERT INTO reminded_before_due (school_id, copy_id, due_at)
       SELECT school_id, id, due_at FROM copy WHERE school_id = $1 AND id = ANY($2::uuid[]) AND due_at IS NOT NULL
     ON CONFLICT DO NOTHING RETURNING copy_id AS "copyId"`,
    copyIds,
  )
}

/** Who asked something in these copies that was answered since they looked. Raw: the last of many, of three tables. */
export function answeredUnseen(
  database: Database,
  schoolId: string,
  copyIds: readonly string[],
): Promise<{ copyId: string; personId: string }[]> {
  return inSchool(database, schoolId).rows<{ copyId: string; personId: string }>(
    `SELECT DISTINCT t.copy_id AS "copyId", t.person_id AS "personId" FROM comment_thread t
       JOIN comment a ON a.school_id = t.school_id AND a.thread_id = t.id AND a.by_staff AND a.deleted_at IS NULL
       LEFT JOIN comment_seen s ON s.school_id = t.school_id AND s.copy_id = t.copy_id AND s.person_id = t.person_id
      WHERE t.school_id = $1 AND t.copy_id = ANY($2::uuid[]) AND t.kind = 'question' AND a.at > coalesce(s.at, '-infinity')`,
    copyIds,
  )
}
