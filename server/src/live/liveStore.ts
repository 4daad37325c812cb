import type { CopyProgress, JournalKind, ProgressBySpace } from '@gavrin/core'
import type { DataSource } from 'typeorm'
import { type CopyRecord, copyOf } from '../kept/copyRecord.js'
import { addToJournal } from '../kept/journal.js'
import type { CommitStore } from './groupCommit.js'
import {
  type StoredLate,
  type StoredSpace,
  appendUpdates,
  fencedCopies,
  foldLate,
  keepSnapshot,
  loadLate,
  loadSpaces,
} from '../kept/spaces.queries.js'
import { inSchool } from '../database/inSchool.js'
import { Copy } from '../kept/kept.entity.js'
import { type Uncounted, writeProgress, copiesToCount, copiesUncounted } from './live.queries.js'

/** How far a copy is, to be kept beside it. */
export interface KeptProgress extends CopyProgress {
  readonly schoolId: string
  readonly copyId: string
  readonly edition: number
  readonly progress: ProgressBySpace
  /** Of the last committed update, in milliseconds since 1970. */
  readonly at: number
}

/** What the live engine reads and writes. */
export interface LiveStore extends CommitStore {
  /** A copy that must be there. */
  copy(schoolId: string, copyId: string): Promise<CopyRecord>
  spaces(schoolId: string, copyId: string): Promise<Map<string, StoredSpace>>
  late(schoolId: string, copyId: string): Promise<StoredLate[]>
  keepSnapshot(snapshot: Parameters<typeof keepSnapshot>[1]): Promise<void>
  foldLate(late: Parameters<typeof foldLate>[1]): Promise<void>
  journal(schoolId: string, copyId: string, kind: JournalKind, personId: string, at: number): Promise<void>
  keepProgress(rows: readonly KeptProgress[]): Promise<void>
  /** Says that a copy cannot be opened because of this space; null: it can again. */
  keepUnreadable(schoolId: string, copyId: string, space: string | null): Promise<void>
  /** Copies of a handout that an edition or a carried answer changed since they were counted. */
  outdated(schoolId: string, handoutId: string, written: readonly string[]): Promise<Uncounted[]>
  /** Copies whose last changes were committed, but not yet counted, when the server was stopped. */
  uncounted(): Promise<Uncounted[]>
}

/** In PostgreSQL. */
export class DatabaseLiveStore implements LiveStore {
  constructor(private readonly source: DataSource) {}

  copy = (schoolId: string, copyId: string) => copyOf(this.source, schoolId, copyId)
  spaces = (schoolId: string, copyId: string) => loadSpaces(this.source, schoolId, copyId)
  late = (schoolId: string, copyId: string) => loadLate(this.source, schoolId, copyId)
  append: LiveStore['append'] = (updates) => appendUpdates(this.source, updates)
  fenced: LiveStore['fenced'] = (updates) => fencedCopies(this.source, updates)
  keepSnapshot: LiveStore['keepSnapshot'] = (snapshot) => keepSnapshot(this.source, snapshot)
  foldLate: LiveStore['foldLate'] = (late) => foldLate(this.source, late)

  async journal(schoolId: string, copyId: string, kind: JournalKind, personId: string, at: number): Promise<void> {
    await this.source.transaction((tx) => addToJournal(tx, schoolId, { copyId, kind, personId, at }))
  }

  async keepUnreadable(schoolId: string, copyId: string, space: string | null): Promise<void> {
    await inSchool(this.source, schoolId).update(Copy, { id: copyId }, { unreadableSpace: space })
  }

  async keepProgress(rows: readonly KeptProgress[]): Promise<void> {
    await writeProgress(this.source, {
      schoolIds: rows.map(({ schoolId }) => schoolId),
      ids: rows.map(({ copyId }) => copyId),
      progress: rows.map(({ progress }) => JSON.stringify(progress)),
      answered: rows.map(({ answered }) => answered),
      words: rows.map(({ words }) => words),
      ats: rows.map(({ at }) => new Date(at)),
      editions: rows.map(({ edition }) => edition),
    })
  }

  async outdated(schoolId: string, handoutId: string, written: readonly string[]): Promise<Uncounted[]> {
    return copiesToCount(this.source, schoolId, handoutId, written)
  }

  async uncounted(): Promise<Uncounted[]> {
    return copiesUncounted(this.source)
  }
}
