import { SITTING_PAUSE } from '@gavrin/core'
import type { EntityManager } from 'typeorm'
import { type Database, anySchool, inSchool } from '../database/inSchool.js'
import type { DemoPerson } from '../common/tokens.js'

/** Everybody who can sign in to the demo. Raw: three tables. */
export function peopleOfDemo(database: Database, schoolId: string): Promise<DemoPerson[]> {
  return inSchool(database, schoolId)
    .rows<DemoPerson>(`SELECT p.email, p.first_name AS first, p.last_name AS last, p.role,
            coalesce(string_agg(k.name, ', ' ORDER BY k.name), '') AS classes
       FROM person p
       LEFT JOIN class_member m ON m.school_id = p.school_id AND m.person_id = p.id AND m.left_at IS NULL
       LEFT JOIN class k ON k.school_id = m.school_id AND k.id = m.class_id
      WHERE p.school_id = $1 AND p.email IS NOT NULL AND p.password_hash IS NOT NULL
      GROUP BY p.school_id, p.id
      ORDER BY p.role = 'student', p.last_name, p.first_name`)
}

/** The copies of a handout, with somebody who writes in each. Raw: the first of each of a set. */
export function copiesToWorkIn(
  database: Database,
  schoolId: string,
  handoutId: string,
): Promise<{ id: string; person_id: string; can_sign_in: boolean }[]> {
  return inSchool(database, schoolId).rows<{ id: string; person_id: string; can_sign_in: boolean }>(
    `SELECT DISTINCT ON (c.title, c.id) c.id, o.person_id, p.password_hash IS NOT NULL AS can_sign_in FROM copy c
       JOIN copy_holder o ON o.school_id = c.school_id AND o.copy_id = c.id
       JOIN person p ON p.school_id = o.school_id AND p.id = o.person_id
      WHERE c.school_id = $1 AND c.handout_id = $2 AND NOT c.set_aside AND o.permission = 'edit'
      ORDER BY c.title, c.id, (p.password_hash IS NULL), p.last_name, p.first_name`,
    handoutId,
  )
}

/** Keeps how far a copy is, and when it was last written in. Raw: a column by another one. */
export function keepDemoProgress(
  database: Database,
  schoolId: string,
  {
    copyId,
    progress,
    answered,
    words,
    writtenAt,
  }: {
    readonly copyId: string
    readonly progress: string
    readonly answered: number
    readonly words: number
    readonly writtenAt: Date | null
  },
): Promise<number> {
  return inSchool(database, schoolId).write(
    `UPDATE copy SET progress = $3, answered = $4, words = $5, counted_edition = edition, last_activity_at = greatest(last_activity_at, $6), written_at = $6,
            sittings = (SELECT count(*) FROM (SELECT at - lag(at) OVER (ORDER BY at) AS gap FROM live_update WHERE school_id = $1 AND copy_id = $2) AS g
                         WHERE gap IS NULL OR gap > make_interval(secs => $7))
      WHERE school_id = $1 AND id = $2`,
    copyId,
    progress,
    answered,
    words,
    writtenAt,
    SITTING_PAUSE / 1_000,
  )
}

/**
 * Moves the giving of all copies to when their handouts were handed out. Raw: a journal never changes, but for this one of made-up
 * copies, which says of the past what has just been done.
 */
export async function giveInThePast(tx: EntityManager, schoolId: string): Promise<void> {
  const school = inSchool(tx, schoolId)
  await anySchool(tx).rows('ALTER TABLE copy_journal DISABLE TRIGGER journal_never_changes')
  await school.write(
    `UPDATE copy_journal j SET at = h.handed_out_at FROM copy c JOIN handout h ON h.school_id = c.school_id AND h.id = c.handout_id
      WHERE j.school_id = $1 AND j.kind = 'given' AND c.school_id = j.school_id AND c.id = j.copy_id AND h.handed_out_at < j.at`,
  )
  await anySchool(tx).rows('ALTER TABLE copy_journal ENABLE TRIGGER journal_never_changes')
}
