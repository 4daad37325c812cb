import type { Anchor, ThreadKind, ThreadSeen } from '@gavrin/core'
import { type DBSchema, type IDBPDatabase, openDB } from 'idb'
import type { Answers } from '../contract'
import { ApiError, api } from '../ui/api'
import type { CommentBody } from './queries'

/** A comment that was written in this browser and is not kept by Gavrin yet. */
export interface UnsentComment {
  readonly commentId: string
  readonly copyId: string
  readonly personId: string
  readonly threadId: string
  readonly text: string
  readonly begins: { readonly kind: ThreadKind; readonly staffOnly: boolean; readonly anchor: Anchor } | null
  /** When it was written, in milliseconds since 1970. */
  readonly at: number
  /** Why Gavrin does not take it; null: it is still to be sent. */
  readonly problem: string | null
}

interface CommentStore extends DBSchema {
  comments: { key: string; value: UnsentComment; indexes: { person: string } }
}

let opening: Promise<IDBPDatabase<CommentStore> | null> | null = null

/** Null where a browser keeps nothing: comments are sent all the same, but do not outlive the page. */
const database = () => (opening ??= open().catch(() => null))

async function open(): Promise<IDBPDatabase<CommentStore>> {
  return openDB<CommentStore>('gavrin-comments', 1, {
    upgrade: (db) => void db.createObjectStore('comments', { keyPath: 'commentId' }).createIndex('person', 'personId'),
  })
}

type Sent = (comment: UnsentComment, thread: ThreadSeen | null) => void

const FIRST_PAUSE = 1_000
const LONGEST_PAUSE = 15_000

/** Whether it may be taken later as it is: no connection, no database, too many at once. */
const isForLater = (error: unknown) =>
  !(error instanceof ApiError) || [0, 401, 429].includes(error.status) || error.status >= 500

/**
 * Comments on their way from this browser, of one person. Each is kept here until Gavrin has said that it is kept there, also over
 * a reload; each has an id of its own, so that what is sent twice is there once.
 */
export class Outbox {
  private waiting: readonly UnsentComment[] = []
  private readonly listeners = new Set<() => void>()
  private readonly sentListeners = new Set<Sent>()
  private sending = false
  private pause = FIRST_PAUSE
  private timer: ReturnType<typeof setTimeout> | null = null
  private readonly online = () => this.flush()

  constructor(private readonly personId: string) {
    window.addEventListener('online', this.online)
    void this.restore()
  }

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener)
    return () => this.listeners.delete(listener)
  }

  readonly list = (): readonly UnsentComment[] => this.waiting

  /** Hears of each comment that has arrived, with the thread as it is then. */
  hear(listener: Sent): () => void {
    this.sentListeners.add(listener)
    return () => this.sentListeners.delete(listener)
  }

  /** Takes a comment; one of the same id is replaced by it. */
  add(comment: UnsentComment): void {
    this.show([...this.waiting.filter(({ commentId }) => commentId !== comment.commentId), comment])
    void database().then((db) => db?.put('comments', comment).catch(() => undefined))
    this.flush()
  }

  /** Forgets a comment that will not be taken, or that is not to be sent. */
  drop(commentId: string): void {
    this.show(this.waiting.filter((comment) => comment.commentId !== commentId))
    void database().then((db) => db?.delete('comments', commentId).catch(() => undefined))
  }

  /** Sends what waits, now. */
  flush(): void {
    if (this.timer) clearTimeout(this.timer)
    this.timer = null
    if (!this.sending) void this.send()
  }

  close(): void {
    window.removeEventListener('online', this.online)
    if (this.timer) clearTimeout(this.timer)
    this.listeners.clear()
    this.sentListeners.clear()
  }

  private async restore(): Promise<void> {
    const db = await database()
    const kept = db ? await db.getAllFromIndex('comments', 'person', this.personId).catch(() => []) : []
    const here = new Set(this.waiting.map(({ commentId }) => commentId))
    const before = kept.filter(({ commentId }) => !here.has(commentId)).sort((one, other) => one.at - other.at)
    if (before.length > 0) this.show([...before, ...this.waiting])
    this.flush()
  }

  private async send(): Promise<void> {
    this.sending = true
    try {
      for (let next = this.next(); next; next = this.next()) await this.sendOne(next)
      this.pause = FIRST_PAUSE
    } catch {
      this.timer = setTimeout(() => this.flush(), this.pause)
      this.pause = Math.min(2 * this.pause, LONGEST_PAUSE)
    } finally {
      this.sending = false
    }
  }

  private next(): UnsentComment | undefined {
    return this.waiting.find(({ problem }) => problem === null)
  }

  private async sendOne(comment: UnsentComment): Promise<void> {
    const { copyId, commentId, text, threadId, begins } = comment
    try {
      const { thread } = await api.put<Answers['PUT copies/{copyId}/comments/{commentId}']>(
        `copies/${copyId}/comments/${commentId}`,
        { text, threadId, begins } satisfies CommentBody,
      )
      // Other words may have been put in its place meanwhile.
      const isStill = this.waiting.includes(comment)
      for (const listener of this.sentListeners) listener(comment, thread)
      if (isStill) this.drop(commentId)
    } catch (error) {
      if (isForLater(error)) throw error
      this.refused({ ...comment, problem: error instanceof Error ? error.message : String(error) })
    }
  }

  private refused(comment: UnsentComment): void {
    this.show(this.waiting.map((one) => (one.commentId === comment.commentId ? comment : one)))
    void database().then((db) => db?.put('comments', comment).catch(() => undefined))
  }

  private show(waiting: readonly UnsentComment[]): void {
    this.waiting = waiting
    for (const listener of [...this.listeners]) listener()
  }
}
