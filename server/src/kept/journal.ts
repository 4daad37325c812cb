import { type CopyLife, afterEntry, lifeFrom } from '@gavrin/core'
import type { EntityManager } from 'typeorm'
import { type JournalEntry, addEntry, heldJournal } from './kept.queries.js'

/**
 * Adds an entry to the journal of a copy and keeps the state that the core reads from it beside it. The row of the copy
 * is locked, so that entries of one copy come one after the other.
 */
export async function addToJournal(tx: EntityManager, schoolId: string, entry: JournalEntry): Promise<CopyLife> {
  const before = await heldJournal(tx, schoolId, entry.copyId)
  const life = afterEntry(lifeFrom(before), entry)
  await addEntry(tx, schoolId, entry, life)
  return life
}
