import { copyProgress } from '@gavrin/core'
import { Logger } from '@nestjs/common'
import { isDatabaseAway } from '../common/problemDetails.js'
import type { LiveCopy } from './liveCopy.js'
import type { LiveStore } from './liveStore.js'

interface Dirty {
  readonly copy: LiveCopy
  /** Of the last committed update. */
  at: number
  personId: string
}

/** How long changes are gathered before they are written beside the copies and shown on boards, in milliseconds. */
const GATHER = 200

/** Keeps how far copies are beside them in the database, for fast lists: one statement for all that changed lately. */
export class ProgressKeeper {
  private readonly log = new Logger('live')
  private readonly dirty = new Map<string, Dirty>()
  private timer: NodeJS.Timeout | null = null
  private writing: Promise<void> = Promise.resolve()

  constructor(
    private readonly store: Pick<LiveStore, 'keepProgress'>,
    /** The copy of this id as it is now; one that was put away or dropped is read again. */
    private readonly load: (copy: LiveCopy) => Promise<LiveCopy>,
    /** What to do once the progress of copies is in the database. */
    private readonly onKept: (kept: readonly Dirty[]) => Promise<void>,
  ) {}

  has(copyId: string): boolean {
    return this.dirty.has(copyId)
  }

  /** An update of this copy is committed. */
  note(copy: LiveCopy, at: number, personId: string): void {
    const dirty = this.dirty.get(copy.id)
    if (dirty?.copy === copy) {
      dirty.at = Math.max(dirty.at, at)
      dirty.personId = personId
    } else this.dirty.set(copy.id, { copy, at, personId })
    this.timer ??= setTimeout(() => void this.flush(), GATHER)
  }

  /** Writes what is gathered now. */
  flush(): Promise<void> {
    if (this.timer) clearTimeout(this.timer)
    this.timer = null
    this.writing = this.writing.then(() => this.write())
    return this.writing
  }

  private async write(): Promise<void> {
    const noted = [...this.dirty.values()]
    this.dirty.clear()
    if (noted.length === 0) return
    try {
      const batch: Dirty[] = []
      // A copy that was dropped meanwhile holds nothing any more: what is committed of it is read.
      for (const entry of noted)
        batch.push(entry.copy.dropped ? { ...entry, copy: await this.load(entry.copy) } : entry)
      await this.store.keepProgress(
        batch.map(({ copy, at }) => {
          const { schoolId, edition, content } = copy.record
          const progress = copy.progress()
          return { schoolId, copyId: copy.id, edition, at, progress, ...copyProgress(content, progress) }
        }),
      )
      await this.onKept(batch)
    } catch (error) {
      if (!isDatabaseAway(error)) this.log.error(error instanceof Error ? error.stack : String(error))
      // Still true, and still to be written: at the next try, unless something newer is noted by then.
      for (const { copy, at, personId } of noted) if (!this.dirty.has(copy.id)) this.note(copy, at, personId)
    }
  }
}
