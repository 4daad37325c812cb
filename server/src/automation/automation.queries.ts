import type { JournalKind } from '@gavrin/core'
import { type Database, anySchool, inSchool } from '../database/inSchool.js'
import { ms } from '../database/sql.js'

/** Begins the feed of a school, where it has none. Raw: or does nothing. */
export function beginFeed(database: Database, schoolId: string): Promise<number> {
  return inSchool(database, schoolId).write('INSERT INTO feed_head (school_id) VALUES ($1) ON CONFLICT DO NOTHING')
}

/**
 * Numbers what has been entered into journals since, in the order of the entries. Whoever numbers holds the head of the feed until
 * they commit: numbers become visible in their order, so that whoever reads on from one misses none, however late an entry is
 * committed. Raw: rows by other rows, in one statement.
 * @returns how many
 */
export async function numberEvents(
  database: Database,
  schoolId: string,
  kinds: readonly JournalKind[],
  most: number,
): Promise<number> {
  const [head] = await inSchool(database, schoolId).rows<{ last: string; low: string }>(
    'SELECT last, low FROM feed_head WHERE school_id = $1 FOR UPDATE',
  )
  const { length: numbered } = await inSchool(database, schoolId).rows(
    `WITH fresh AS (
       SELECT j.copy_id, j.number FROM copy_journal j WHERE j.school_id = $1 AND j.number > $2 AND j.kind = ANY($3::text[])
          AND NOT EXISTS (SELECT 1 FROM feed_event e WHERE e.school_id = j.school_id AND e.entry = j.number)
        ORDER BY j.number LIMIT $4)
     INSERT INTO feed_event (school_id, number, copy_id, entry)
     SELECT $1, $5 + row_number() OVER (ORDER BY number), copy_id, number FROM fresh RETURNING number`,
    head!.low,
    kinds,
    most,
    head!.last,
  )
  // What got its number an hour ago was written then at the latest, and no transaction that wrote before it takes so long.
  if (numbered > 0)
    await inSchool(database, schoolId).write(
      `UPDATE feed_head SET last = last + $2, low = greatest(low, coalesce((SELECT e.entry FROM feed_event e
          WHERE e.school_id = $1 AND e.numbered_at < now() - interval '1 hour' ORDER BY e.entry DESC LIMIT 1), 0))
        WHERE school_id = $1`,
      numbered,
    )
  return numbered
}

/** Something that happened, as a program is told. Times in milliseconds since 1970. */
export interface FeedRow {
  readonly number: number
  readonly at: number
  readonly kind: JournalKind
  readonly classId: string
  readonly handoutId: string
  readonly copyId: string
  readonly personId: string | null
  readonly holderIds: readonly string[]
}

/** The events of a school from after one on, in some classes. Raw: four tables. */
export function eventsAfter(
  database: Database,
  schoolId: string,
  {
    after,
    classIds,
    kinds,
    most,
  }: {
    readonly after: number
    readonly classIds: readonly string[]
    readonly kinds: readonly JournalKind[]
    readonly most: number
  },
): Promise<FeedRow[]> {
  return inSchool(database, schoolId).rows<FeedRow>(
    `SELECT e.number::float8 AS number, ${ms('j.at')} AS at, j.kind, h.class_id AS "classId", h.id AS "handoutId", c.id AS "copyId", j.person_id AS "personId",
            ARRAY(SELECT o.person_id FROM copy_holder o WHERE o.school_id = c.school_id AND o.copy_id = c.id) AS "holderIds"
       FROM feed_event e JOIN copy_journal j ON j.school_id = e.school_id AND j.copy_id = e.copy_id AND j.number = e.entry
       JOIN copy c ON c.school_id = e.school_id AND c.id = e.copy_id JOIN handout h ON h.school_id = c.school_id AND h.id = c.handout_id
      WHERE e.school_id = $1 AND e.number > $2 AND h.class_id = ANY($3::uuid[]) AND j.kind = ANY($4::text[]) ORDER BY e.number LIMIT $5`,
    after,
    classIds,
    kinds,
    most,
  )
}

/** The number of the last event of a school. Raw: as a number. */
export async function lastEvent(database: Database, schoolId: string): Promise<number> {
  const [head] = await inSchool(database, schoolId).rows<{ last: number }>(
    'SELECT last::float8 AS last FROM feed_head WHERE school_id = $1',
  )
  return head?.last ?? 0
}

/** The classes of whose staff somebody is. Raw: those that are not archived. */
export function classesOfStaff(database: Database, schoolId: string, personId: string): Promise<{ classId: string }[]> {
  return inSchool(database, schoolId).rows<{ classId: string }>(
    `SELECT m.class_id AS "classId" FROM class_member m JOIN class c ON c.school_id = m.school_id AND c.id = m.class_id
      WHERE m.school_id = $1 AND m.person_id = $2 AND m.role <> 'student' AND m.left_at IS NULL AND c.archived_at IS NULL`,
    personId,
  )
}

/** An address whose turn it is. */
export interface WebhookDue {
  readonly schoolId: string
  readonly id: string
}

/** Takes addresses whose turn it is; for a while nobody else takes them. Raw: in all schools, no two processes the same. */
export function takeWebhooks(database: Database, most: number): Promise<WebhookDue[]> {
  return anySchool(database).rows<WebhookDue>(
    `UPDATE webhook w SET next_at = now() + interval '1 minute'
       FROM (SELECT school_id, id FROM webhook WHERE next_at <= now() AND stopped_at IS NULL ORDER BY next_at LIMIT $1 FOR UPDATE SKIP LOCKED) AS due
      WHERE w.school_id = due.school_id AND w.id = due.id RETURNING w.school_id AS "schoolId", w.id`,
    most,
  )
}
