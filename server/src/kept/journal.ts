import { type CopyLife, type JournalKind, afterEntry, lifeFrom } from '@gavrin/core'
import type { EntityManager } from 'typeorm'
import { inSchool } from '../database/inSchool.js'
import { Copy, CopyEntry } from './kept.entity.js'
import { keepLife } from './kept.queries.js'

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
  await keepLife(tx, schoolId, {
    copyId,
    state: life.state,
    pensDown: life.pensDown,
    setAside: life.setAside,
    submittedAt: life.submittedAt === null ? null : new Date(life.submittedAt),
    at: new Date(at),
  })
  return life
}
