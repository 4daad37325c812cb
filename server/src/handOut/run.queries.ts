import { type Database, anySchool, inSchool } from '../database/inSchool.js'

/** The newest run of each handout. Raw: the first of each of a set. */
export function lastRunOfEach(
  database: Database,
  schoolId: string,
  handoutId: readonly string[],
): Promise<{ id: string; total: number; done: number; finished: boolean }[]> {
  return inSchool(database, schoolId).rows<{ id: string; total: number; done: number; finished: boolean }>(
    `SELECT DISTINCT ON (handout_id) id, total, done, finished_at IS NOT NULL AS finished FROM hand_out_run
        WHERE school_id = $1 AND handout_id = ANY($2) ORDER BY handout_id, started_at DESC`,
    handoutId,
  )
}

/** The slots that failed in the newest run of a handout. Raw: two tables. */
export function failedInLast(database: Database, schoolId: string, id: string): Promise<{ slot_key: string }[]> {
  return inSchool(database, schoolId).rows<{ slot_key: string }>(
    `SELECT f.slot_key FROM hand_out_failure f JOIN hand_out_run r ON r.school_id = f.school_id AND r.id = f.run_id
                WHERE r.school_id = $1 AND r.handout_id = $2 AND r.started_at = (SELECT max(started_at) FROM hand_out_run WHERE school_id = $1 AND handout_id = $2)`,
    id,
  )
}

/** Notes slots that are to be tried later. Raw: many rows at once. */
export async function putOffFailures(
  database: Database,
  schoolId: string,
  runId: string,
  left: readonly string[],
): Promise<void> {
  await inSchool(database, schoolId).rows(
    `INSERT INTO hand_out_failure (school_id, run_id, slot_key, reason) SELECT $1, $2, slot, 'Not tried again yet.' FROM unnest($3::text[]) AS slot`,
    runId,
    left,
  )
}

/** The handouts of a class that whoever joins it gets by itself. Raw: two tables. */
export function handoutsForJoiners(database: Database, schoolId: string, classId: string): Promise<{ id: string }[]> {
  return inSchool(database, schoolId).rows<{ id: string }>(
    `SELECT h.id FROM handout h JOIN class k ON k.school_id = h.school_id AND k.id = h.class_id
        WHERE h.school_id = $1 AND h.class_id = $2
          AND h.given IS NOT NULL AND h.given ->> 'joiners' IS DISTINCT FROM 'wait' AND k.archived_at IS NULL`,
    classId,
  )
}

/** Notes what is handed out now, or that nothing is any more. Raw: depends on what is there. */
export function noteHandedOut(
  database: Database,
  schoolId: string,
  {
    id,
    opensAt,
    dueAt,
    given,
    gone,
  }: {
    readonly id: string
    readonly opensAt: Date | null
    readonly dueAt: Date | null
    readonly given: string | null
    readonly gone: boolean
  },
): Promise<number> {
  return inSchool(database, schoolId).write(
    `UPDATE handout SET handed_out_at = CASE WHEN $6 THEN NULL ELSE coalesce(handed_out_at, now()) END, opens_at = $3, due_at = $4, given = $5
        WHERE school_id = $1 AND id = $2`,
    id,
    opensAt,
    dueAt,
    given,
    gone,
  )
}

/** Counts what a run has done. Raw: depends on what is there. */
export function noteProgress(
  database: Database,
  schoolId: string,
  { id, length, finished }: { readonly id: string; readonly length: number; readonly finished: boolean },
): Promise<number> {
  return inSchool(database, schoolId).write(
    'UPDATE hand_out_run SET done = least(total, done + $3), finished_at = CASE WHEN $4 THEN now() END WHERE school_id = $1 AND id = $2',
    id,
    length,
    finished,
  )
}

/** The newest runs that somebody began, of handouts to several classes. Raw: the newest of a set. */
export function newestRunIds(
  database: Database,
  schoolId: string,
  handoutId: readonly string[],
): Promise<{ id: string }[]> {
  return inSchool(database, schoolId).rows<{ id: string }>(
    `SELECT r.id FROM hand_out_run r WHERE r.school_id = $1 AND r.handout_id = ANY($2) AND r.kind IN ('hand out', 'undo') AND r.started_at = (
       SELECT max(l.started_at) FROM hand_out_run l WHERE l.school_id = $1 AND l.handout_id = ANY($2) AND l.kind IN ('hand out', 'undo'))`,
    handoutId,
  )
}

/** How many cover notes were sent since runs began. Raw: counts, two tables. */
export function notesSince(database: Database, schoolId: string, id: readonly string[]): Promise<{ count: number }[]> {
  return inSchool(database, schoolId).rows<{ count: number }>(
    `SELECT count(*)::int AS count FROM notice n JOIN hand_out_run r ON r.school_id = n.school_id AND r.handout_id = n.handout_id
      WHERE r.school_id = $1 AND r.id = ANY($2) AND r.kind = 'hand out' AND n.at >= r.started_at AND (n.opens_at IS NULL OR n.opens_at <= now())`,
    id,
  )
}

/** Wishes a look at every class that somebody joined since its handouts were handed out. Raw: across schools, a set. */
export async function wishLooksAtOld(database: Database): Promise<void> {
  await anySchool(database).rows(`INSERT INTO class_look (school_id, class_id)
       SELECT DISTINCT h.school_id, h.class_id FROM handout h WHERE h.given IS NOT NULL AND EXISTS (
         SELECT 1 FROM class_member m WHERE m.school_id = h.school_id AND m.class_id = h.class_id AND m.role = 'student' AND m.left_at IS NULL
            AND m.joined_at > (SELECT max(r.started_at) FROM hand_out_run r WHERE r.school_id = h.school_id AND r.handout_id = h.id))
       ON CONFLICT (school_id, class_id) DO NOTHING`)
}

/** Wishes a look at classes. Raw: across schools, many rows at once. */
export async function wishLooks(
  database: Database,
  schoolIds: readonly string[],
  classIds: readonly string[],
): Promise<void> {
  await anySchool(database).rows(
    `INSERT INTO class_look (school_id, class_id) SELECT * FROM unnest($1::uuid[], $2::uuid[])
       ON CONFLICT (school_id, class_id) DO UPDATE SET number = excluded.number`,
    schoolIds,
    classIds,
  )
}

/** The next wishes after a number, at most so many. Raw: across schools. */
export function looksAfter(
  database: Database,
  after: string,
  limit: number,
): Promise<{ school_id: string; class_id: string; number: string }[]> {
  return anySchool(database).rows<{ school_id: string; class_id: string; number: string }>(
    'SELECT school_id, class_id, number FROM class_look WHERE number > $1 ORDER BY number LIMIT $2',
    after,
    limit,
  )
}

/** The newest editions of worksheets. Raw: the greatest of many. */
export function newestEditions(
  database: Database,
  schoolId: string,
  worksheetIds: readonly string[],
): Promise<{ worksheetId: string; number: number }[]> {
  return inSchool(database, schoolId).rows<{ worksheetId: string; number: number }>(
    `SELECT worksheet_id AS "worksheetId", max(number)::int AS number FROM edition WHERE school_id = $1 AND worksheet_id = ANY($2::uuid[]) GROUP BY 1`,
    worksheetIds,
  )
}
