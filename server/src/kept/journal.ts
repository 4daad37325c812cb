import { type CopyLife, type JournalKind, afterEntry, lifeFrom } from '@gavrin/core'
import type { EntityManager } from 'typeorm'

/** What happened to a copy. */
export interface JournalEntry {
  readonly copyId: string
  readonly kind: JournalKind
  /** Who did it; null: nobody, it came by itself. */
  readonly personId: string | null
  /** Milliseconds since 1970. */
  readonly at: number
}

/**
 * Adds an entry to the journal of a copy and keeps the state that the core reads from it beside it. The row of the copy
 * is locked, so that entries of one copy come one after the other.
 */
export async function addToJournal(
  tx: EntityManager,
  schoolId: string,
  { copyId, kind, personId, at }: JournalEntry,
): Promise<CopyLife> {
  await tx.query('SELECT 1 FROM copy WHERE school_id = $1 AND id = $2 FOR UPDATE', [schoolId, copyId])
  const before = await tx.query<{ kind: JournalKind; at: Date }[]>(
    'SELECT kind, at FROM copy_journal WHERE school_id = $1 AND copy_id = $2 ORDER BY number',
    [schoolId, copyId],
  )
  const life = afterEntry(lifeFrom(before.map((entry) => ({ kind: entry.kind, at: entry.at.getTime() }))), { kind, at })
  await tx.query('INSERT INTO copy_journal (school_id, copy_id, kind, at, person_id) VALUES ($1, $2, $3, $4, $5)', [
    schoolId,
    copyId,
    kind,
    new Date(at),
    personId,
  ])
  await tx.query(
    'UPDATE copy SET state = $3, pens_down = $4, set_aside = $5, submitted_at = $6, last_activity_at = greatest(last_activity_at, $7) WHERE school_id = $1 AND id = $2',
    [
      schoolId,
      copyId,
      life.state,
      life.pensDown,
      life.setAside,
      life.submittedAt === null ? null : new Date(life.submittedAt),
      new Date(at),
    ],
  )
  return life
}
