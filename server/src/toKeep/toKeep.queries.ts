import type { CopyState } from '@gavrin/core'
import type { EntityManager } from 'typeorm'
import { type Database, inSchool, oneAtATime } from '../database/inSchool.js'
import { ms } from '../database/sql.js'

/** What is given to keep: of a handout, of a class, or what a student holds. */
export interface KeepOf {
  readonly handoutId: string | null
  readonly classId: string | null
  readonly studentId: string | null
}

/** A copy that its holders could be given to keep. */
export interface KeepRow {
  readonly copyId: string
  readonly state: CopyState
  readonly isWritten: boolean
  readonly classId: string
  readonly handoutId: string
  readonly number: number
  readonly handout: string
  readonly worksheet: string
  readonly holders: readonly {
    readonly personId: string
    readonly first: string
    readonly last: string
    readonly isStudent: boolean
    readonly hasIt: boolean
  }[]
}

/**
 * The copies in use of worksheets that somebody writes in. Raw: five tables, and one that says who has it.
 * @param copyIds only these; null: all
 */
export function copiesToKeep(
  database: Database,
  schoolId: string,
  { handoutId, classId, studentId }: KeepOf,
  copyIds: readonly string[] | null,
  most: number,
): Promise<KeepRow[]> {
  return inSchool(database, schoolId).rows<KeepRow>(
    `SELECT c.id AS "copyId", h.class_id AS "classId", h.id AS "handoutId", h.number, h.title AS handout, e.title AS worksheet, c.state,
            EXISTS (SELECT 1 FROM live_update u WHERE u.school_id = $1 AND u.copy_id = c.id) OR EXISTS (SELECT 1 FROM copy_file f WHERE f.school_id = $1 AND f.copy_id = c.id AND f.removed_at IS NULL) AS "isWritten",
            (SELECT coalesce(json_agg(json_build_object('personId', p.id, 'first', p.first_name, 'last', p.last_name, 'isStudent', p.role = 'student',
                      'hasIt', EXISTS (SELECT 1 FROM given_to_keep t WHERE t.school_id = $1 AND t.copy_id = c.id AND t.person_id = p.id)) ORDER BY p.last_name, p.first_name, p.id), '[]')
               FROM copy_holder o JOIN person p ON p.school_id = o.school_id AND p.id = o.person_id
              WHERE o.school_id = c.school_id AND o.copy_id = c.id AND o.permission <> 'none' AND ($4::uuid IS NULL OR o.person_id = $4)) AS holders
       FROM copy c JOIN handout h ON h.school_id = c.school_id AND h.id = c.handout_id
       JOIN edition e ON e.school_id = c.school_id AND e.worksheet_id = c.worksheet_id AND e.number = c.edition
      WHERE c.school_id = $1 AND NOT c.set_aside AND c.way <> 'to read' AND c.link IS NULL AND h.kind = 'handout'
        AND ($2::uuid IS NULL OR c.handout_id = $2) AND ($3::uuid IS NULL OR h.class_id = $3)
        AND ($4::uuid IS NULL OR EXISTS (SELECT 1 FROM copy_holder o WHERE o.school_id = c.school_id AND o.copy_id = c.id AND o.person_id = $4))
        AND ($5::uuid[] IS NULL OR c.id = ANY($5))
      ORDER BY h.number, c.title, c.id LIMIT $6`,
    handoutId,
    classId,
    studentId,
    copyIds,
    most,
  )
}

/** Nobody else gives these copies to keep before the transaction ends. Raw: rows locked in one order. */
export async function holdToKeep(database: Database, schoolId: string, copyIds: readonly string[]): Promise<void> {
  await inSchool(database, schoolId).rows(
    'SELECT 1 FROM copy WHERE school_id = $1 AND id = ANY($2::uuid[]) ORDER BY id FOR NO KEY UPDATE',
    copyIds,
  )
}

/**
 * Puts down whose own copies become, and how these are now; what is written is taken when somebody opens theirs. Raw: a set, with
 * the last change of each answer.
 */
export async function giveToKeep(
  database: Database,
  schoolId: string,
  given: readonly { readonly copyId: string; readonly personId: string }[],
  by: { readonly personId: string; readonly actId: string; readonly at: number },
): Promise<void> {
  await inSchool(database, schoolId).rows(
    `WITH state AS (
       SELECT c.id, c.edition, c.places,
              coalesce((SELECT jsonb_object_agg(l.space, l.seq) FROM (SELECT space, max(seq) AS seq FROM live_update WHERE school_id = $1 AND copy_id = c.id GROUP BY space) l), '{}') AS answers,
              (SELECT coalesce(jsonb_agg(jsonb_build_object('id', o.person_id, 'name', trim(p.first_name || ' ' || p.last_name)) ORDER BY p.role = 'guest', p.last_name, p.first_name, p.id), '[]')
                 FROM copy_holder o JOIN person p ON p.school_id = o.school_id AND p.id = o.person_id WHERE o.school_id = $1 AND o.copy_id = c.id) AS holders,
              (SELECT coalesce(jsonb_agg(jsonb_build_object('guestId', g.guest_id, 'studentId', g.student_id, 'beside', g.beside) ORDER BY g.matched_at), '[]')
                 FROM guest_match g WHERE g.school_id = $1 AND g.handout_id = c.handout_id AND g.item_id = c.item_id) AS matches,
              (SELECT i ->> 'othersPlaces' = 'hidden' OR i ->> 'othersPlaces' = 'hidden until due' AND (c.due_at IS NULL OR c.due_at > $6)
                 FROM jsonb_array_elements(h.given -> 'items') AS i WHERE i ->> 'id' = c.item_id LIMIT 1) AS hides
         FROM copy c JOIN handout h ON h.school_id = c.school_id AND h.id = c.handout_id WHERE c.school_id = $1 AND c.id = ANY($2::uuid[])
     )
     INSERT INTO given_to_keep (school_id, copy_id, person_id, at, given_by, act_id, answers, edition, holders, places, matches, hides_others)
     SELECT $1, s.id, g.person_id, $6, $4, $5, s.answers, s.edition, s.holders, s.places, s.matches, coalesce(s.hides, false)
       FROM unnest($2::uuid[], $3::uuid[]) AS g(copy_id, person_id) JOIN state s ON s.id = g.copy_id`,
    given.map(({ copyId }) => copyId),
    given.map(({ personId }) => personId),
    by.personId,
    by.actId,
    new Date(by.at),
  )
}

/** Something that somebody was given to keep. Times in milliseconds since 1970. */
export interface KeptRow {
  readonly id: string
  /** Their own copy; null: they have not opened it. */
  readonly copyId: string | null
  /** The copy of the class, as it was handed in. */
  readonly fromCopyId: string
  readonly worksheet: string
  readonly handout: string
  readonly number: number
  readonly class: string
  readonly subject: string
  readonly year: string
  readonly ink: string
  readonly at: number
  readonly by: string
  readonly lastActivityAt: number | null
}

/** What somebody was given to keep, the newest first. Raw: six tables. */
export function keptOf(database: Database, schoolId: string, personId: string): Promise<KeptRow[]> {
  return inSchool(database, schoolId).rows<KeptRow>(
    `SELECT t.id, t.own_copy_id AS "copyId", t.copy_id AS "fromCopyId", e.title AS worksheet, h.title AS handout, h.number, k.name AS class, k.subject, k.year, k.ink,
            ${ms('t.at')} AS at, trim(p.first_name || ' ' || p.last_name) AS by, ${ms('own.written_at')} AS "lastActivityAt"
       FROM given_to_keep t JOIN copy c ON c.school_id = t.school_id AND c.id = t.copy_id
       JOIN handout h ON h.school_id = c.school_id AND h.id = c.handout_id JOIN class k ON k.school_id = h.school_id AND k.id = h.class_id
       JOIN edition e ON e.school_id = c.school_id AND e.worksheet_id = c.worksheet_id AND e.number = t.edition
       JOIN person p ON p.school_id = t.school_id AND p.id = t.given_by
       LEFT JOIN copy own ON own.school_id = t.school_id AND own.id = t.own_copy_id
      WHERE t.school_id = $1 AND t.person_id = $2 ORDER BY t.at DESC, k.name, h.number, e.title`,
    personId,
  )
}

/** Makes the copy of somebody's own, without what is written in it. Raw: from another row of its kind. */
export async function makeOwn(
  database: Database,
  schoolId: string,
  { keptId, ownId, handoutId }: { readonly keptId: string; readonly ownId: string; readonly handoutId: string },
): Promise<void> {
  const school = inSchool(database, schoolId)
  await school.rows(
    `INSERT INTO copy (school_id, id, handout_id, slot_key, item_id, title, worksheet_id, edition, classmates_may, way, places, last_activity_at)
     SELECT $1, $3, $4, t.id::text, '', c.title, c.worksheet_id, t.edition, 'none', 'one each', t.places, now()
       FROM given_to_keep t JOIN copy c ON c.school_id = t.school_id AND c.id = t.copy_id WHERE t.school_id = $1 AND t.id = $2`,
    keptId,
    ownId,
    handoutId,
  )
  await school.rows(
    `INSERT INTO copy_holder (school_id, copy_id, person_id, permission) SELECT $1, $3, person_id, 'edit' FROM given_to_keep WHERE school_id = $1 AND id = $2`,
    keptId,
    ownId,
  )
  await school.write(`UPDATE given_to_keep SET own_copy_id = $3 WHERE school_id = $1 AND id = $2`, keptId, ownId)
}

/** Takes what was written, up to the change that was the last when it was given. Raw: ranges of two logs. */
export async function takeAnswers(
  database: Database,
  schoolId: string,
  keptId: string,
  spaces: readonly string[],
): Promise<void> {
  const school = inSchool(database, schoolId)
  const answers = `SELECT t.copy_id, t.own_copy_id, a.key AS space, a.value::int AS seq FROM given_to_keep t, jsonb_each_text(t.answers) a
                    WHERE t.school_id = $1 AND t.id = $2 AND a.key = ANY($3::text[])`
  await school.rows(
    `INSERT INTO live_update (school_id, copy_id, space, seq, person_id, at, bytes)
     SELECT $1, a.own_copy_id, u.space, u.seq, u.person_id, u.at, u.bytes
       FROM (${answers}) a JOIN live_update u ON u.school_id = $1 AND u.copy_id = a.copy_id AND u.space = a.space AND u.seq <= a.seq`,
    keptId,
    spaces,
  )
  await school.rows(
    `INSERT INTO live_snapshot (school_id, copy_id, space, seq, bytes, writers)
     SELECT $1, a.own_copy_id, s.space, s.seq, s.bytes, s.writers
       FROM (${answers}) a JOIN live_snapshot s ON s.school_id = $1 AND s.copy_id = a.copy_id AND s.space = a.space AND s.seq <= a.seq`,
    keptId,
    spaces,
  )
}

/** Takes back what was given in one act, from whoever has not opened theirs. Raw: says how many each. */
export async function takeActBack(
  database: Database,
  schoolId: string,
  actId: string,
): Promise<{ taken: number; opened: number }> {
  const school = inSchool(database, schoolId)
  const taken = await school.write(
    'DELETE FROM given_to_keep WHERE school_id = $1 AND act_id = $2 AND own_copy_id IS NULL',
    actId,
  )
  const [rest] = await school.rows<{ opened: number }>(
    'SELECT count(*)::int AS opened FROM given_to_keep WHERE school_id = $1 AND act_id = $2',
    actId,
  )
  return { taken, opened: rest!.opened }
}

/** Whether anything of an act is of a class that somebody does not teach. Raw: all classes of a set. */
export function classesOfAct(database: Database, schoolId: string, actId: string): Promise<{ classId: string }[]> {
  return inSchool(database, schoolId).rows<{ classId: string }>(
    `SELECT DISTINCT h.class_id AS "classId" FROM given_to_keep t JOIN copy c ON c.school_id = t.school_id AND c.id = t.copy_id
       JOIN handout h ON h.school_id = c.school_id AND h.id = c.handout_id WHERE t.school_id = $1 AND t.act_id = $2`,
    actId,
  )
}

/** The handout of a school that its kept copies hang on; made the first time, in a class that nobody is in. Raw: three tables at once. */
export async function keptHandout(
  tx: EntityManager,
  schoolId: string,
  made: { readonly classId: string; readonly handoutId: string; readonly code: string; readonly personId: string },
  statement: object,
): Promise<string> {
  const school = inSchool(tx, schoolId)
  const find = async () =>
    (await school.rows<{ id: string }>(`SELECT id FROM handout WHERE school_id = $1 AND kind = 'kept'`))[0]?.id
  const known = await find()
  if (known) return known
  // Two who open their first at the same time: the second finds what the first has made.
  await oneAtATime(tx, `kept ${schoolId}`)
  const meanwhile = await find()
  if (meanwhile) return meanwhile
  await school.rows(
    `INSERT INTO class (school_id, id, name, subject, year, ink, code, archived_at) VALUES ($1, $2, 'Kept', '', '', 'slate', $3, now())`,
    made.classId,
    made.code,
  )
  await school.rows(
    `INSERT INTO handout (school_id, id, class_id, number, title, statement, created_by, kind) VALUES ($1, $3, $2, 0, 'Kept', $4::jsonb, $5, 'kept')`,
    made.classId,
    made.handoutId,
    JSON.stringify(statement),
    made.personId,
  )
  return made.handoutId
}
