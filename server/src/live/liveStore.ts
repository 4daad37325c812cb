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
} from '../kept/spaceStore.js'
import { inSchool } from '../database/inSchool.js'
import { Copy } from '../kept/kept.entity.js'

/** How far a copy is, to be kept beside it. */
export interface KeptProgress extends CopyProgress {
  readonly schoolId: string
  readonly copyId: string
  readonly edition: number
  readonly progress: ProgressBySpace
  /** Of the last committed update, in milliseconds since 1970. */
  readonly at: number
}

/** A copy whose last changes are not counted, with who wrote last. */
export interface Uncounted {
  readonly schoolId: string
  readonly copyId: string
  readonly at: number
  readonly personId: string
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
    await this.source.query(
      `UPDATE copy c SET progress = r.progress, answered = r.answered, words = r.words, counted_edition = r.edition, last_activity_at = greatest(c.last_activity_at, r.at)
         FROM unnest($1::uuid[], $2::uuid[], $3::jsonb[], $4::int[], $5::int[], $6::timestamptz[], $7::int[]) AS r(school_id, id, progress, answered, words, at, edition)
        WHERE c.school_id = r.school_id AND c.id = r.id`,
      [
        rows.map(({ schoolId }) => schoolId),
        rows.map(({ copyId }) => copyId),
        rows.map(({ progress }) => JSON.stringify(progress)),
        rows.map(({ answered }) => answered),
        rows.map(({ words }) => words),
        rows.map(({ at }) => new Date(at)),
        rows.map(({ edition }) => edition),
      ],
    )
  }

  async outdated(schoolId: string, handoutId: string, written: readonly string[]): Promise<Uncounted[]> {
    return this.source.query(
      `SELECT DISTINCT ON (c.id) c.school_id AS "schoolId", c.id AS "copyId", (extract(epoch FROM u.at) * 1000)::float8 AS at, u.person_id AS "personId"
         FROM copy c JOIN live_update u ON u.school_id = c.school_id AND u.copy_id = c.id
        WHERE c.school_id = $1 AND c.handout_id = $2 AND (c.id = ANY($3) OR c.counted_edition IS DISTINCT FROM c.edition) ORDER BY c.id, u.at DESC`,
      [schoolId, handoutId, written],
    )
  }

  async uncounted(): Promise<Uncounted[]> {
    return this.source.query(
      `SELECT DISTINCT ON (c.school_id, c.id) c.school_id AS "schoolId", c.id AS "copyId", (extract(epoch FROM u.at) * 1000)::float8 AS at, u.person_id AS "personId"
         FROM live_update u JOIN copy c ON c.school_id = u.school_id AND c.id = u.copy_id
        WHERE u.at > now() - interval '2 days' AND (c.last_activity_at IS NULL OR u.at > c.last_activity_at)
        ORDER BY c.school_id, c.id, u.at DESC`,
    )
  }
}
