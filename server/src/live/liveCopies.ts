import { Logger } from '@nestjs/common'
import { answerSpaces } from '@gavrin/core'
import * as Y from 'yjs'
import { ProblemException, isDatabaseAway } from '../common/problemDetails.js'
import type { DocLoader } from '../kept/docLoader.js'
import type { LateSpace } from './lateSpace.js'
import { LiveCopy, type LiveSpace } from './liveCopy.js'
import type { LiveStore } from './liveStore.js'
import type { StoredSpace } from '../kept/spaces.queries.js'

/** How long a copy that nobody has open stays in memory, in milliseconds. */
const LINGER = 20_000
/** Updates in the log of a space after which they are folded into a snapshot: when it is put away, and while it is open. */
const FOLD_AT_REST = 50
const FOLD_OPEN = 1_000
/** Late updates of a person in a space after which they are made one. */
const FOLD_LATE = 200

/** What is said of a copy that cannot be opened in time. */
export const UNREADABLE =
  'This copy cannot be opened: what was put into one of its answers takes too long to read. Nothing of it is lost. Its teachers can bring it to its last good state.'

/** The copies in memory: each loaded once, folded and put away when nobody has it open. */
export class LiveCopies {
  private readonly log = new Logger('live')
  private readonly copies = new Map<string, Promise<LiveCopy>>()
  private readonly timers = new Map<string, NodeJS.Timeout>()
  private readonly holds = new Map<string, Promise<void>>()
  private readonly folding = new Set<Promise<void>>()
  private stopped = false

  constructor(
    private readonly store: LiveStore,
    private readonly loader: DocLoader,
    /** Whether something of this copy is still to be written beside it. */
    private readonly isDirty: (copyId: string) => boolean,
  ) {}

  /** A copy of this school, from memory or the database. */
  async load(schoolId: string, copyId: string): Promise<LiveCopy> {
    let loading = this.copies.get(copyId)
    if (!loading) {
      loading = this.read(schoolId, copyId)
      this.copies.set(copyId, loading)
      loading.catch(() => this.copies.delete(copyId))
    }
    const copy = await loading
    // An id of another school: said to be not there, in the same words.
    return copy.record.schoolId === schoolId ? copy : this.read(schoolId, copyId)
  }

  async ifLoaded(copyId: string): Promise<LiveCopy | null> {
    return (await this.copies.get(copyId)?.catch(() => null)) ?? null
  }

  async loaded(): Promise<LiveCopy[]> {
    const settled = await Promise.allSettled(this.copies.values())
    return settled.flatMap((result) => (result.status === 'fulfilled' ? [result.value] : []))
  }

  /** Keeps all pens of a copy still until the returned function is called; one holder at a time. */
  async hold(copyId: string): Promise<() => void> {
    const before = this.holds.get(copyId)
    let release!: () => void
    const hold = new Promise<void>((resolve) => (release = resolve))
    const chained = before ? before.then(() => hold) : hold
    this.holds.set(copyId, chained)
    await before
    return () => {
      if (this.holds.get(copyId) === chained) this.holds.delete(copyId)
      release()
    }
  }

  /** What to wait for before writing in this copy, if pens are held still. */
  held(copyId: string): Promise<void> | undefined {
    return this.holds.get(copyId)
  }

  /** Forgets a copy whose state in memory is in doubt; whoever has it open opens it again. */
  drop(copyId: string): void {
    this.dropWith(copyId, 'This copy is being opened again.', true)
  }

  private dropWith(copyId: string, sentence: string, again: boolean): void {
    const loading = this.copies.get(copyId)
    this.copies.delete(copyId)
    clearTimeout(this.timers.get(copyId))
    this.timers.delete(copyId)
    void loading?.then(
      (copy) => {
        copy.dropped = true
        for (const channel of [...copy.channels]) {
          channel.connection.send({
            type: 'closed',
            channel: channel.number,
            sentence,
            again,
            takes: false,
          })
          channel.connection.channels.delete(channel.number)
        }
        copy.channels.clear()
        copy.destroy()
      },
      () => undefined,
    )
  }

  /** Puts a copy away after a while if by then nobody has it open and nothing of it is on its way to the database. */
  release(copy: LiveCopy): void {
    if (this.stopped || !isIdle(copy) || this.timers.has(copy.id)) return
    const timer = setTimeout(() => {
      this.timers.delete(copy.id)
      void this.putAway(copy)
    }, LINGER)
    timer.unref()
    this.timers.set(copy.id, timer)
  }

  /** Folds and puts away nothing more; resolves when what is being folded is. */
  async stop(): Promise<void> {
    this.stopped = true
    for (const timer of this.timers.values()) clearTimeout(timer)
    this.timers.clear()
    await Promise.all(this.folding)
  }

  /** Folds the log of a space that is being written in for long. */
  foldIfLong(copy: LiveCopy, space: string, live: LiveSpace): void {
    if (live.unfolded >= FOLD_OPEN && live.seq === live.committedSeq) void this.fold(copy, space, live)
  }

  private async read(schoolId: string, copyId: string): Promise<LiveCopy> {
    const record = await this.store.copy(schoolId, copyId)
    if (record.unreadable) throw new ProblemException(409, 'unreadable', UNREADABLE)
    const [stored, late] = await Promise.all([this.store.spaces(schoolId, copyId), this.store.late(schoolId, copyId)])
    const kinds = new Map(answerSpaces(record.content).map(({ id, kind }) => [id, kind]))
    const spaces = new Map<string, StoredSpace & { doc: Y.Doc }>()
    for (const [id, space] of stored) {
      const kind = kinds.get(id)
      if (!kind) continue
      const doc = await this.loader.load(kind, space.updates)
      if (!doc) {
        for (const loaded of spaces.values()) loaded.doc.destroy()
        await this.store.keepUnreadable(schoolId, copyId, id)
        this.log.warn(`copy ${copyId} cannot be opened: its answer space ${id} takes too long`)
        throw new ProblemException(409, 'unreadable', UNREADABLE)
      }
      spaces.set(id, { ...space, doc })
    }
    return new LiveCopy(record, spaces, late)
  }

  private async putAway(copy: LiveCopy): Promise<void> {
    const away = () => isIdle(copy) && !copy.dropped && !this.isDirty(copy.id)
    if (!away()) return
    for (const [id, live] of copy.written()) if (live.unfolded >= FOLD_AT_REST) await this.fold(copy, id, live)
    if (!away() || (await this.copies.get(copy.id)) !== copy) return
    this.copies.delete(copy.id)
    copy.dropped = true
    copy.destroy()
  }

  /** Makes one of many late updates. */
  foldLateIfLong(copy: LiveCopy, late: LateSpace<LiveSpace>): void {
    if (this.stopped || late.unfolded < FOLD_LATE || late.seq !== late.committedSeq) return
    late.unfolded = 0
    const { seq, live, personId } = late
    const bytes = Y.encodeStateAsUpdate(late.doc, Y.encodeStateVector(live.doc))
    const folding = this.store
      .foldLate({ schoolId: copy.record.schoolId, copyId: copy.id, space: live.space.id, personId, seq, bytes })
      .catch((error: unknown) => {
        if (!isDatabaseAway(error)) this.log.error(error instanceof Error ? error.stack : String(error))
      })
      .finally(() => this.folding.delete(folding))
    this.folding.add(folding)
  }

  private fold(copy: LiveCopy, space: string, live: LiveSpace): Promise<void> {
    if (this.stopped) return Promise.resolve()
    const folding = this.keepFolded(copy, space, live).finally(() => this.folding.delete(folding))
    this.folding.add(folding)
    return folding
  }

  private async keepFolded(copy: LiveCopy, space: string, live: LiveSpace): Promise<void> {
    const { seq, unfolded } = live
    const bytes = Y.encodeStateAsUpdate(live.doc)
    live.unfolded = 0
    try {
      const { schoolId } = copy.record
      await this.store.keepSnapshot({ schoolId, copyId: copy.id, space, seq, bytes, writers: live.writers })
      live.bytes = Math.min(live.bytes, Math.max(bytes.length, 1))
    } catch (error) {
      live.unfolded += unfolded
      if (!isDatabaseAway(error)) this.log.error(error instanceof Error ? error.stack : String(error))
    }
  }
}

const isIdle = (copy: LiveCopy) => copy.channels.size === 0 && copy.pending === 0
