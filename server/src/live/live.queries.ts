import { SITTING_PAUSE } from '@gavrin/core'
import { type Database, anySchool, inSchool } from '../database/inSchool.js'
import { ms } from '../database/sql.js'

/** A copy whose last changes are not counted, with who wrote last. */
export interface Uncounted {
  readonly schoolId: string
  readonly copyId: string
  readonly at: number
  readonly personId: string
}

/** Keeps how far copies are, and counts their sittings by when they were last written in. Raw: across schools, many rows at once. */
export function writeProgress(
  database: Database,
  {
    schoolIds,
    ids,
    progress,
    answered,
    words,
    ats,
    editions,
  }: {
    readonly schoolIds: readonly string[]
    readonly ids: readonly string[]
    readonly progress: readonly string[]
    readonly answered: readonly number[]
    readonly words: readonly number[]
    readonly ats: readonly Date[]
    readonly editions: readonly number[]
  },
): Promise<number> {
  return anySchool(database).write(
    // One after the other by id, as whoever marks, hands back or stops pens holds them: nobody waits for somebody who waits for them.
    `WITH held AS (SELECT o.id FROM unnest($1::uuid[], $2::uuid[]) AS k(school_id, id) JOIN copy o ON o.school_id = k.school_id AND o.id = k.id ORDER BY o.id FOR NO KEY UPDATE OF o)
     UPDATE copy c SET progress = r.progress, answered = r.answered, words = r.words, counted_edition = r.edition, last_activity_at = greatest(c.last_activity_at, r.at),
              sittings = c.sittings + CASE WHEN c.written_at IS NULL OR r.at > c.written_at + make_interval(secs => $8) THEN 1 ELSE 0 END, written_at = greatest(c.written_at, r.at)
         FROM unnest($1::uuid[], $2::uuid[], $3::jsonb[], $4::int[], $5::int[], $6::timestamptz[], $7::int[]) AS r(school_id, id, progress, answered, words, at, edition) JOIN held ON held.id = r.id
        WHERE c.school_id = r.school_id AND c.id = r.id`,
    schoolIds,
    ids,
    progress,
    answered,
    words,
    ats,
    editions,
    SITTING_PAUSE / 1_000,
  )
}

/** Copies of a handout whose progress was counted by another edition, or that were written into by a hand-out. Raw: the newest of each of a set. */
export function copiesToCount(
  database: Database,
  schoolId: string,
  handoutId: string,
  written: readonly string[],
): Promise<Uncounted[]> {
  return inSchool(database, schoolId).rows<Uncounted>(
    `SELECT DISTINCT ON (c.id) c.school_id AS "schoolId", c.id AS "copyId", ${ms('u.at')} AS at, u.person_id AS "personId"
         FROM copy c JOIN live_update u ON u.school_id = c.school_id AND u.copy_id = c.id
        WHERE c.school_id = $1 AND c.handout_id = $2 AND (c.id = ANY($3) OR c.counted_edition IS DISTINCT FROM c.edition) ORDER BY c.id, u.at DESC`,
    handoutId,
    written,
  )
}

/** Copies written in of late whose progress was not kept, as before a crash. Raw: across schools. */
export function copiesUncounted(database: Database): Promise<Uncounted[]> {
  return anySchool(database)
    .rows<Uncounted>(`SELECT DISTINCT ON (c.school_id, c.id) c.school_id AS "schoolId", c.id AS "copyId", ${ms('u.at')} AS at, u.person_id AS "personId"
         FROM live_update u JOIN copy c ON c.school_id = u.school_id AND c.id = u.copy_id
        WHERE u.at > now() - interval '2 days' AND (c.last_activity_at IS NULL OR u.at > c.last_activity_at)
        ORDER BY c.school_id, c.id, u.at DESC`)
}
