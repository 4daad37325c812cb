import type { DataSource } from 'typeorm'
import { inSchool } from '../database/inSchool.js'
import { ms } from '../database/sql.js'

/** A copy that can be compared. Times in milliseconds since 1970. */
export interface CopyCompared {
  readonly copyId: string
  readonly handoutId: string
  readonly classId: string
  readonly class: string
  readonly year: string
  readonly handout: string
  readonly number: number
  readonly title: string
  readonly worksheetId: string
  readonly edition: number
  readonly holders: readonly { readonly personId: string; readonly first: string; readonly last: string }[]
}

/**
 * Copies of a handout in which something was written, or those of other handouts of the same worksheets, the newest first. Raw:
 * four tables.
 */
export function copiesCompared(
  source: DataSource,
  schoolId: string,
  handoutId: string,
  { which, most }: { readonly which: 'own' | 'others'; readonly most: number },
): Promise<CopyCompared[]> {
  return inSchool(source, schoolId).rows<CopyCompared>(
    `SELECT c.id AS "copyId", c.handout_id AS "handoutId", h.class_id AS "classId", k.name AS class, k.year, h.title AS handout, h.number, c.title,
            c.worksheet_id AS "worksheetId", c.edition,
            (SELECT coalesce(json_agg(json_build_object('personId', p.id, 'first', p.first_name, 'last', p.last_name) ORDER BY p.last_name, p.first_name, p.id), '[]')
               FROM copy_holder o JOIN person p ON p.school_id = o.school_id AND p.id = o.person_id WHERE o.school_id = c.school_id AND o.copy_id = c.id) AS holders
       FROM copy c JOIN handout h ON h.school_id = c.school_id AND h.id = c.handout_id JOIN class k ON k.school_id = h.school_id AND k.id = h.class_id
      WHERE c.school_id = $1 AND NOT c.set_aside AND c.way <> 'to read' AND (c.words > 0 OR c.answered > 0)
        AND ((c.handout_id = $2) = ($3 = 'own'))
        AND c.worksheet_id IN (SELECT worksheet_id FROM copy WHERE school_id = $1 AND handout_id = $2)
      ORDER BY h.handed_out_at DESC NULLS LAST, c.title, c.id LIMIT $4`,
    handoutId,
    which,
    most,
  )
}

/** How much there is to read of the answers of copies, in bytes. Raw: sums of many rows. */
export function sizesOf(
  source: DataSource,
  schoolId: string,
  copyIds: readonly string[],
): Promise<{ copyId: string; size: number }[]> {
  return inSchool(source, schoolId).rows<{ copyId: string; size: number }>(
    `WITH snapshot AS (SELECT copy_id, space, seq, length(bytes) AS size FROM live_snapshot WHERE school_id = $1 AND copy_id = ANY($2::uuid[]))
     SELECT p.copy_id AS "copyId", sum(p.size)::float8 AS size FROM (
       SELECT copy_id, size FROM snapshot
        UNION ALL
       SELECT u.copy_id, length(u.bytes) FROM live_update u
         LEFT JOIN snapshot s ON s.copy_id = u.copy_id AND s.space = u.space
        WHERE u.school_id = $1 AND u.copy_id = ANY($2::uuid[]) AND u.seq > coalesce(s.seq, 0)) AS p
      GROUP BY p.copy_id`,
    copyIds,
  )
}

/** All that is kept of the answers of copies, in order. Raw: two tables of many rows. */
export function piecesOf(
  source: DataSource,
  schoolId: string,
  copyIds: readonly string[],
): Promise<{ copyId: string; space: string; bytes: Buffer }[]> {
  return inSchool(source, schoolId).rows<{ copyId: string; space: string; bytes: Buffer }>(
    `WITH snapshot AS (SELECT copy_id, space, seq, bytes FROM live_snapshot WHERE school_id = $1 AND copy_id = ANY($2::uuid[]))
     SELECT p.copy_id AS "copyId", p.space, p.bytes FROM (
       SELECT copy_id, space, seq, bytes FROM snapshot
        UNION ALL
       SELECT u.copy_id, u.space, u.seq, u.bytes FROM live_update u
         LEFT JOIN snapshot s ON s.copy_id = u.copy_id AND s.space = u.space
        WHERE u.school_id = $1 AND u.copy_id = ANY($2::uuid[]) AND u.seq > coalesce(s.seq, 0)) AS p
      ORDER BY p.copy_id, p.space, p.seq`,
    copyIds,
  )
}

/** With whom each student is in a group of these sets. Raw: a table joined to itself. */
export function matesIn(
  source: DataSource,
  schoolId: string,
  setIds: readonly string[],
): Promise<{ personId: string; mates: string[] }[]> {
  return inSchool(source, schoolId).rows<{ personId: string; mates: string[] }>(
    `SELECT a.person_id AS "personId", array_agg(b.person_id) AS mates FROM group_member a
       JOIN group_member b ON b.school_id = a.school_id AND b.group_id = a.group_id AND b.person_id <> a.person_id
      WHERE a.school_id = $1 AND a.set_id = ANY($2::uuid[]) GROUP BY a.person_id`,
    setIds,
  )
}

/** The log of an answer with who wrote it and when. Raw: times as numbers, the first of it. */
export function logWithTimes(
  source: DataSource,
  schoolId: string,
  copyId: string,
  space: string,
  most: number,
): Promise<{ at: number; personId: string; bytes: Buffer }[]> {
  return inSchool(source, schoolId).rows<{ at: number; personId: string; bytes: Buffer }>(
    `SELECT ${ms('at')} AS at, person_id AS "personId", bytes FROM live_update WHERE school_id = $1 AND copy_id = $2 AND space = $3 ORDER BY seq LIMIT $4`,
    copyId,
    space,
    most,
  )
}
