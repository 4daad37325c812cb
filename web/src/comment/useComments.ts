import { type KeptThread, type ThreadSeen, fullName } from '@gavrin/core'
import { useCallback, useEffect, useMemo, useRef, useState, useSyncExternalStore } from 'react'
import type { SignedIn } from '../frame/session'
import type { CopyView, OpenCopy } from '../live/openCopy'
import { api } from '../ui/api'
import { newUuid } from '../ui/newUuid'
import { Outbox, type UnsentComment } from './outbox'
import type { CommentShown, CommentsRead, PersonNamed, Target, ThreadShown } from './queries'

/** What one does with the comments of a copy. */
export interface CommentActs {
  /** Begins to say something: to everybody who sees the copy, or as a question. */
  readonly begin: (target: Target, kind: KeptThread['kind'], staffOnly: boolean, text: string) => string
  readonly reply: (threadId: string, text: string) => void
  readonly change: (threadId: string, commentId: string, text: string) => void
  readonly remove: (commentId: string) => Promise<void>
  readonly bringBack: (commentId: string) => Promise<void>
  readonly done: (threadId: string, done: boolean) => Promise<void>
  /** Forgets a comment that Gavrin does not take. */
  readonly forget: (commentId: string) => void
}

export interface Comments {
  readonly threads: readonly ThreadShown[]
  readonly mayAsk: boolean
  /** Who can be named. */
  readonly people: readonly PersonNamed[]
  readonly acts: CommentActs
}

const NOTHING: readonly UnsentComment[] = []
const silent = () => () => undefined
const nothing = () => NOTHING

/** How long comments are before one before they count as seen, in milliseconds. */
const LOOKED_AT = 2_000

/** The comments of a copy that is open: as they are kept, as they come, and what is still on its way from this browser. */
export function useComments(
  copyId: string,
  person: SignedIn,
  { copy, view }: { readonly copy: OpenCopy; readonly view: CopyView },
  isShown: boolean,
): Comments {
  const [kept, setKept] = useState<ReadonlyMap<string, ThreadSeen>>(new Map())
  const [seenAt, setSeenAt] = useState<number | null | undefined>(undefined)
  const [mayAsk, setMayAsk] = useState(false)
  const [people, setPeople] = useState<readonly PersonNamed[]>([])
  const { openings, permission, state } = view
  const put = useCallback(
    (threads: readonly ThreadSeen[], gone: readonly string[] = []) =>
      setKept((before) => {
        const next = new Map(before)
        for (const id of gone) next.delete(id)
        // An answer may come after the news of a later change.
        for (const thread of threads)
          if ((next.get(thread.id)?.version ?? 0) <= thread.version) next.set(thread.id, thread)
        return next
      }),
    [],
  )

  // What comes while the list is read is newer than the list.
  const since = useRef<{ threads: readonly ThreadSeen[]; gone: readonly string[] }[]>([])
  useEffect(
    () =>
      copy.hearComments((threads, gone) => {
        since.current.push({ threads, gone })
        put(threads, gone)
      }),
    [copy, put],
  )
  useEffect(() => {
    if (openings === 0) return
    let stopped = false
    since.current = []
    api.get<CommentsRead>(`copies/${copyId}/comments`).then(
      ({ threads, seenAt: seen, mayAsk: may, people: named }) => {
        if (stopped) return
        setKept(new Map(threads.map((thread) => [thread.id, thread])))
        for (const { threads: later, gone } of since.current) put(later, gone)
        setMayAsk(may)
        setPeople(named)
        setSeenAt((before) => (before === undefined ? seen : before))
      },
      // The connection says that it is away; they are read again when it is back.
      () => undefined,
    )
    return () => {
      stopped = true
    }
    // What one may do with each of them follows from these.
  }, [copyId, openings, permission, state, put])

  const outbox = useOutboxOf(person.id)
  const unsent = useSyncExternalStore(outbox?.subscribe ?? silent, outbox?.list ?? nothing, nothing)
  useEffect(
    () => outbox?.hear((comment, thread) => thread && comment.copyId === copyId && put([thread])),
    [outbox, copyId, put],
  )
  // The server was away, and is there again.
  useEffect(() => {
    if (openings > 0) outbox?.flush()
  }, [openings, outbox])

  const threads = useMemo(() => {
    const mine = unsent.filter((comment) => comment.copyId === copyId)
    return shownThreads(kept, mine, fullName(person), seenAt ?? null)
  }, [kept, unsent, copyId, person, seenAt])

  const news = threads.some(({ comments }) => comments.some(({ isNew }) => isNew)) ? threads : null
  useEffect(() => {
    if (!news || !isShown) return
    let timer: ReturnType<typeof setTimeout> | undefined
    const look = () => {
      clearTimeout(timer)
      if (!document.hidden)
        timer = setTimeout(() => void api.post(`copies/${copyId}/comments/seen`).catch(() => undefined), LOOKED_AT)
    }
    look()
    document.addEventListener('visibilitychange', look)
    return () => {
      clearTimeout(timer)
      document.removeEventListener('visibilitychange', look)
    }
  }, [news, isShown, copyId])

  const acts = useMemo((): CommentActs => {
    const write = (comment: Pick<UnsentComment, 'commentId' | 'threadId' | 'text' | 'begins'>) =>
      outbox?.add({ ...comment, copyId, personId: person.id, at: Date.now(), problem: null })
    const ask = async (
      path: string,
      send: (path: string) => Promise<{ thread: ThreadSeen | null }>,
      threadId?: string,
    ) => {
      const { thread } = await send(`copies/${copyId}/${path}`)
      if (thread) put([thread])
      else if (threadId) put([], [threadId])
    }
    const post = (path: string) => api.post<{ thread: ThreadSeen | null }>(path)
    return {
      begin: ({ anchor }, kind, staffOnly, text) => {
        const threadId = newUuid()
        write({ commentId: newUuid(), threadId, text, begins: { kind, staffOnly, anchor } })
        return threadId
      },
      reply: (threadId, text) => write({ commentId: newUuid(), threadId, text, begins: null }),
      change: (threadId, commentId, text) => write({ commentId, threadId, text, begins: null }),
      remove: (commentId) => ask(`comments/${commentId}/delete`, post),
      bringBack: (commentId) => ask(`comments/${commentId}/bring-back`, post),
      done: (threadId, done) =>
        ask(`threads/${threadId}`, (path) => api.put<{ thread: ThreadSeen | null }>(path, { done }), threadId),
      forget: (commentId) => outbox?.drop(commentId),
    }
  }, [outbox, copyId, person.id, put])
  return { threads, acts, mayAsk, people }
}

function useOutboxOf(personId: string): Outbox | null {
  const [outbox, setOutbox] = useState<Outbox | null>(null)
  useEffect(() => {
    const made = new Outbox(personId)
    setOutbox(made)
    return () => {
      made.close()
      setOutbox(null)
    }
  }, [personId])
  return outbox
}

/** What is kept, with what is on its way put where it will stand. */
export function shownThreads(
  kept: ReadonlyMap<string, ThreadSeen>,
  unsent: readonly UnsentComment[],
  myName: string,
  seenAt: number | null,
): ThreadShown[] {
  const shown = new Map<string, ThreadShown>()
  for (const thread of kept.values())
    shown.set(thread.id, {
      ...thread,
      comments: thread.comments.map((comment) => ({
        ...comment,
        unsent: null,
        isNew:
          !comment.isMine &&
          !comment.isDeleted &&
          (seenAt === null || Math.max(comment.at, thread.releasedAt ?? 0) > seenAt),
      })),
    })
  for (const comment of unsent) {
    const { threadId, commentId, begins, text, at, problem } = comment
    const mine: CommentShown = {
      id: commentId,
      name: myName,
      isMine: true,
      byStaff: false,
      at,
      editedAt: null,
      text,
      isDeleted: false,
      mayEdit: false,
      mayDelete: false,
      backUntil: null,
      unsent: { problem },
      isNew: false,
    }
    const thread = shown.get(threadId)
    if (thread) {
      const isThere = thread.comments.some(({ id }) => id === commentId)
      const comments = isThere
        ? thread.comments.map((one) => (one.id === commentId ? { ...one, text, unsent: { problem } } : one))
        : [...thread.comments, mine]
      shown.set(threadId, { ...thread, comments })
    } else if (begins)
      shown.set(threadId, {
        id: threadId,
        version: 0,
        kind: begins.kind,
        staffOnly: begins.staffOnly,
        releasedAt: null,
        anchor: begins.anchor,
        isMine: true,
        isWaiting: begins.kind === 'question',
        done: null,
        comments: [mine],
        mayReply: false,
        mayDo: false,
      })
  }
  return [...shown.values()]
}
