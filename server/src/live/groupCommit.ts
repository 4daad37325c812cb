import { Logger } from '@nestjs/common'
import { isDatabaseAway } from '../common/problemDetails.js'
import type { LoggedUpdate } from '../kept/spaces.queries.js'

/** What a commit writes, and how it finds out who was there first. */
export interface CommitStore {
  append(updates: readonly LoggedUpdate[]): Promise<void>
  fenced(updates: readonly LoggedUpdate[]): Promise<Set<string>>
}

interface Entry {
  readonly copyId: string
  readonly updates: readonly LoggedUpdate[]
  readonly committed: (at: number) => void
  readonly failed: () => void
}

const BATCH = 500
/** Out of memory, disk or connections, or stopped for another's sake: passes by itself. */
const BUSY = /^(53|40|55P03|57014)/
function isBusy(error: unknown): boolean {
  const { code } = (error ?? {}) as { code?: unknown }
  return typeof code === 'string' && BUSY.test(code)
}
const UNIQUE_VIOLATION = '23505'
const FIRST_PAUSE = 100
const LONGEST_PAUSE = 2_000
/** How often a statement that fails although the database is there is tried again as it is. */
const TRIES = 2

/**
 * Commits what was written, in the order it was accepted, many writers in one statement. The next batch starts when the
 * one before it is committed; there is no timer, so that a lone writer waits for one commit only. While the database is
 * away everything stays queued, and is committed when it is back.
 */
export class GroupCommit {
  private readonly log = new Logger('live')
  private queue: Entry[] = []
  private running = false
  private stopped = false
  private wake: (() => void) | null = null
  private idle: (() => void)[] = []

  constructor(
    private readonly store: CommitStore,
    /** A copy that another process writes to: all that is queued for it is dropped, it must be loaded anew. */
    private readonly onFenced: (copyId: string) => void,
    /** The queue has grown shorter. */
    private readonly onProgress: () => void = () => undefined,
  ) {}

  /** Queued, not yet committed. */
  get backlog(): number {
    return this.queue.length
  }

  /**
   * Queues updates of one copy.
   * @param updates may be empty: a mark, reached when everything before it is committed
   * @param committed called after the commit, in the order of the queue
   * @param failed called instead when the database takes everything but this
   */
  push(
    copyId: string,
    updates: readonly LoggedUpdate[],
    committed: (at: number) => void,
    failed: () => void = () => undefined,
  ): void {
    this.queue.push({ copyId, updates, committed, failed })
    if (!this.running) void this.run()
  }

  /** Resolves when nothing is queued. */
  async settled(): Promise<void> {
    if (this.running) await new Promise<void>((resolve) => this.idle.push(resolve))
  }

  /** Gives up waiting for a database that is away; what is not committed was never acknowledged. */
  stop(): void {
    this.stopped = true
    this.wake?.()
  }

  private async run(): Promise<void> {
    this.running = true
    // Everything that arrives in this turn of the event loop goes into the first batch.
    await new Promise((resolve) => setImmediate(resolve))
    let pause = FIRST_PAUSE
    let tries = 0
    // Entries a batch may have: halved while one of them is not taken, until it stands alone.
    let most = Infinity
    while (this.queue.length > 0 && !this.stopped) {
      const batch = this.nextBatch(most)
      try {
        const updates = batch.flatMap((entry) => entry.updates)
        if (updates.length) await this.store.append(updates)
        pause = FIRST_PAUSE
        tries = 0
        most = most * 2 > BATCH ? Infinity : most * 2
        this.queue.splice(0, batch.length)
        const at = Date.now()
        for (const { committed } of batch) committed(at)
        this.onProgress()
      } catch (error) {
        if ((error as { code?: unknown }).code === UNIQUE_VIOLATION && (await this.dropFenced(batch))) continue
        if (!isDatabaseAway(error) && !isBusy(error)) {
          if (batch.length > 1 && tries >= TRIES) {
            most = Math.ceil(batch.length / 2)
            continue
          }
          if (tries >= TRIES) {
            this.log.error(error instanceof Error ? error.stack : String(error))
            this.giveUp(batch[0]!)
            continue
          }
          tries++
        }
        await this.rest(pause)
        pause = Math.min(pause * 2, LONGEST_PAUSE)
      }
    }
    this.running = false
    for (const resolve of this.idle.splice(0)) resolve()
  }

  /** The database does not take this one: all that is queued for its copy goes, as it may rest on it. */
  private giveUp(entry: Entry): void {
    this.queue = this.queue.filter(({ copyId }) => copyId !== entry.copyId)
    entry.failed()
  }

  private nextBatch(most: number): Entry[] {
    let rows = 0
    let length = 0
    for (const entry of this.queue) {
      if (length >= most) break
      if (rows > 0 && rows + entry.updates.length > BATCH) break
      rows += entry.updates.length
      length++
    }
    return this.queue.slice(0, length)
  }

  private async dropFenced(batch: readonly Entry[]): Promise<boolean> {
    try {
      const fenced = await this.store.fenced(batch.flatMap((entry) => entry.updates))
      this.queue = this.queue.filter(({ copyId }) => !fenced.has(copyId))
      for (const copyId of fenced) this.onFenced(copyId)
      return fenced.size > 0
    } catch {
      return false
    }
  }

  private rest(milliseconds: number): Promise<void> {
    return new Promise((resolve) => {
      const timer = setTimeout(resolve, milliseconds)
      this.wake = () => {
        clearTimeout(timer)
        resolve()
      }
    })
  }
}
