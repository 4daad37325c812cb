import { type CopyLife, type JournalKind, afterEntry, lifeFrom } from '@gavrin/core'
import type { EntityManager } from 'typeorm'
import { inSchool } from '../database/inSchool.js'
import { Copy, CopyEntry } from './kept.entity.js'

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
  await inSchool(tx, schoolId).find(Copy, { id: copyId }, { select: ['id'], lock: true })
  const before = await inSchool(tx, schoolId).find(
    CopyEntry,
    { copyId },
    { select: ['kind', 'at'], order: { number: 'ASC' } },
  )
  const life = afterEntry(lifeFrom(before), { kind, at })
  await inSchool(tx, schoolId).insert(CopyEntry, { copyId, kind, at, personId })
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
