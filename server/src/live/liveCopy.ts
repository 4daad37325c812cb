import {
  type AnswerSpace,
  type CopyAccess,
  type OpenWindow,
  type PensStand,
  type Permission,
  type ProgressBySpace,
  type ServerMessage,
  type KeptSpaceProgress,
  type Viewer,
  answerSpaces,
  accessInWords,
  copyAccess,
  newAnswerDoc,
  pensGoDownAt,
  readAnswer,
  keptProgress,
  isSame,
} from '@gavrin/core'
import type * as Y from 'yjs'
import { type CopyRecord, roleIn } from '../kept/copyRecord.js'
import type { Connection } from './connection.js'
import { LateSpace } from './lateSpace.js'
import type { StoredLate, StoredSpace } from '../kept/spaces.queries.js'

/** A copy that somebody has open over a connection. */
export interface Channel {
  readonly number: number
  readonly connection: ChannelConnection
  copy: LiveCopy
  /** The copy is closed to this person: nothing of it is sent any more, but what they wrote is still taken, beside it. */
  muted: boolean
  /** The answer spaces of which this person was told that they are getting full. */
  readonly filling: Set<string>
  /** Client ids registered over this channel, by space. */
  readonly registered: Map<string, number>
  /** What was said last about what this person may do. */
  told: string
  /** Where in the copy this person is. */
  here: Pick<OpenWindow, 'space' | 'at' | 'isAway' | 'saidAt'>
}

/** A connection over which copies are open. */
export type ChannelConnection = Connection<Channel>

/** Who sends a change. */
export interface Writer {
  readonly viewer: Viewer
  /** Whether this person may write in this space, or could before: what they send is kept, if not in the answer. */
  couldWrite(live: LiveSpace): boolean
}

/** An answer space in memory. */
export interface LiveSpace {
  /** As the worksheet has it now. */
  space: AnswerSpace
  readonly doc: Y.Doc
  /** Of the last update that was accepted. */
  seq: number
  /** Of the last update that is committed. */
  committedSeq: number
  /** Updates in the log that no snapshot holds. */
  unfolded: number
  /** Bytes of all updates: an upper bound of the size of the document. */
  bytes: number
  /** Who writes under which client id, in this space. */
  readonly writers: Map<number, string>
  /** What came too late, by person. */
  readonly late: Map<string, LateSpace<LiveSpace>>
  /** How far the answer is; null since it was last written in. */
  progress: KeptSpaceProgress | null
  /** When it was last written in, in milliseconds since 1970; null: not since it is in memory. */
  changedAt: number | null
}

/** A copy that somebody has open: who sees it, and the documents of the spaces that hold something. */
export class LiveCopy {
  readonly channels = new Set<Channel>()
  private readonly spaces = new Map<string, LiveSpace>()
  private answerSpaces: Map<string, AnswerSpace>
  /** Dropped because another process writes to it or its state is in doubt: nothing goes in any more. */
  dropped = false
  /** Queued for commit. */
  pending = 0
  private reading = 0
  private pens: { readonly stand: PensStand; readonly reading: number } | null = null

  constructor(
    public record: CopyRecord,
    stored: ReadonlyMap<string, StoredSpace & { readonly doc: Y.Doc }> = new Map(),
    late: readonly StoredLate[] = [],
  ) {
    this.answerSpaces = spacesOf(record)
    for (const [id, { doc, updates, seq, unfolded, writers, at }] of stored) {
      const space = this.answerSpaces.get(id)
      // An answer whose space a newer edition has removed stays in the database, out of this page.
      if (!space) continue
      const bytes = updates.reduce((sum, { length }) => sum + length, 0)
      this.spaces.set(id, {
        ...emptySpace(space, doc),
        seq,
        committedSeq: seq,
        unfolded,
        bytes,
        writers: new Map(writers),
        changedAt: at,
      })
    }
    for (const one of late) {
      const live = this.space(one.space)
      live?.late.set(one.personId, new LateSpace(live, one.personId, one))
    }
  }

  get id(): string {
    return this.record.copyId
  }

  /**
   * The facts of the copy, or who is in the class, have changed.
   * @param reading counts the readings of copies by when they began: one that began before the last is outdated
   */
  renew(record: CopyRecord, reading: number): void {
    if (reading < this.reading) return
    this.reading = reading
    // What was read before the pens were moved does not know it.
    this.record = this.pens && reading < this.pens.reading ? withPens(record, this.pens.stand) : record
    this.answerSpaces = spacesOf(record)
    for (const [id, live] of this.spaces) {
      const now = this.answerSpaces.get(id)
      if (!now || now.kind !== live.space.kind || isSame(now, live.space)) continue
      // Another answer is right now: how far it is is told by that.
      live.space = now
      live.progress = null
    }
  }

  /**
   * The pens were stopped, or go on.
   * @param reading counts as those of `renew`
   */
  movePens(stand: PensStand, reading: number): void {
    this.pens = { stand, reading }
    this.record = withPens(this.record, stand)
  }

  access(viewer: Viewer): CopyAccess {
    return copyAccess(viewer, roleIn(this.record, viewer), this.record.facts, Date.now())
  }

  /** A space of the worksheet, its document made if this is the first time; null if the worksheet has no such space. */
  space(id: string): LiveSpace | null {
    const known = this.spaces.get(id)
    if (known) return known
    const space = this.answerSpaces.get(id)
    if (!space) return null
    const live = emptySpace(space, newAnswerDoc(space.kind))
    this.spaces.set(id, live)
    return live
  }

  /** Whether the worksheet has such a space. */
  has(id: string): boolean {
    return this.answerSpaces.has(id)
  }

  /** The spaces in which something was written. */
  *written(): Iterable<[string, LiveSpace]> {
    for (const entry of this.spaces) if (entry[1].seq > 0) yield entry
  }

  /** How far each space is. */
  progress(): ProgressBySpace {
    const progress: Record<string, KeptSpaceProgress> = {}
    for (const [id, live] of this.written()) {
      live.progress ??= keptProgress(live.space, readAnswer(live.space, live.doc))
      if (live.progress.share === 0) continue
      const at = live.changedAt ?? this.record.progress[id]?.at
      progress[id] = at === undefined ? live.progress : { ...live.progress, at }
    }
    return progress
  }

  /** Tells a channel what its person may do now, if that is news. */
  tell(channel: Channel, type: 'ready' | 'permission'): Permission {
    const { viewer } = channel.connection
    const { permission } = this.access(viewer)
    const { facts } = this.record
    const { state } = facts
    const reason = accessInWords(viewer, roleIn(this.record, viewer), facts, Date.now())
    const now = Date.now()
    const at = pensGoDownAt(facts, now)
    const news = JSON.stringify([permission, reason, state, at])
    if (type === 'ready' || news !== channel.told) {
      channel.told = news
      const says = {
        ...{ channel: channel.number, permission, reason, state },
        pensGoDown: at === null ? null : { at, now },
      }
      const message: ServerMessage = type === 'ready' ? { type, ...says, page: this.record.page } : { type, ...says }
      channel.connection.send(message)
    }
    return permission
  }

  destroy(): void {
    for (const { doc, late } of this.spaces.values()) {
      doc.destroy()
      for (const one of late.values()) one.destroy()
    }
    this.spaces.clear()
  }
}

const emptySpace = (space: AnswerSpace, doc: Y.Doc): LiveSpace => ({
  space,
  doc,
  seq: 0,
  committedSeq: 0,
  unfolded: 0,
  bytes: 0,
  writers: new Map(),
  late: new Map(),
  progress: null,
  changedAt: null,
})

const withPens = (record: CopyRecord, { down, from }: PensStand): CopyRecord => ({
  ...record,
  facts: { ...record.facts, pensDown: down, pensDownFrom: from },
})

const spacesOf = ({ content }: CopyRecord) => new Map(answerSpaces(content).map((space) => [space.id, space]))
