import { type MarkChange, type MarkParts, NO_PARTS, changeParts, undone } from '@gavrin/core'
import { type UseQueryResult, useQuery, useQueryClient } from '@tanstack/react-query'
import { useCallback, useEffect, useRef, useState } from 'react'
import type { Answers, Bodies } from '../contract'
import { live } from '../live/connection'
import { ApiError, api, sentenceOf } from '../ui/api'

export type Marks = Answers['GET handouts/{handoutId}/marks']
export type MarkedCopy = Marks['copies'][number]
export type StockRemark = Answers['GET stock-remarks'][number]

export const marksKey = (handoutId: string): readonly string[] => ['marks', handoutId]

/** How long it is waited whether one's own change explains what is heard of a mark, in milliseconds. */
const EXPLAINED = 400

/** The copies of a handout with their marks; what others mark comes by itself. */
export function useMarks(handoutId: string): UseQueryResult<Marks> {
  const client = useQueryClient()
  useEffect(() => {
    let timer: ReturnType<typeof setTimeout> | undefined
    const versions = new Map<string, string>()
    const stop = live().watch(handoutId, (rows) => {
      for (const { copyId, mark, state } of rows) versions.set(copyId, `${mark?.version ?? -1} ${state}`)
      clearTimeout(timer)
      timer = setTimeout(() => {
        const known = client.getQueryData<Marks>(marksKey(handoutId))
        const isNews = known?.copies.some((copy) => {
          const heard = versions.get(copy.copyId)
          return heard !== undefined && heard !== `${copy.version} ${stateOf(copy)}`
        })
        if (isNews) void client.invalidateQueries({ queryKey: marksKey(handoutId) })
      }, EXPLAINED)
    })
    return () => {
      clearTimeout(timer)
      stop()
    }
  }, [client, handoutId])
  return useQuery({ queryKey: marksKey(handoutId), queryFn: () => api.get<Marks>(`handouts/${handoutId}/marks`) })
}

/** The state of a copy as its teachers see it. */
export const stateOf = ({ state, isDone }: Pick<MarkedCopy, 'state' | 'isDone'>): MarkedCopy['state'] =>
  state === 'submitted' && isDone ? 'marked' : state

/** Changes of the mark of one copy. */
export interface Wish {
  readonly copyId: string
  readonly personId?: string | null
  readonly changes: readonly MarkChange[]
  readonly done?: boolean
}

interface Done {
  readonly wishes: readonly Wish[]
  readonly words: string
}

export interface Changing {
  /** Shown at once, and kept in turn. `words`: what was done, for the way back. */
  readonly change: (wishes: readonly Wish[], words?: string) => Promise<boolean>
  readonly problem: string | null
  readonly forget: () => void
  readonly isSaving: boolean
  /** Takes back what was done last; null: there is nothing. */
  readonly undo: (() => void) | null
  readonly undoWords: string
}

/** Changes marks: what is typed is there at once; where it cannot be kept it is said, and what is kept is shown. */
export function useChanging(handoutId: string): Changing {
  const client = useQueryClient()
  const turn = useRef<Promise<unknown>>(Promise.resolve())
  const [problem, setProblem] = useState<string | null>(null)
  const [waiting, setWaiting] = useState(0)
  const [past, setPast] = useState<readonly Done[]>([])
  const send = useCallback(
    (wishes: readonly Wish[]): Promise<boolean> => {
      const key = marksKey(handoutId)
      client.setQueryData<Marks>(key, (marks) => marks && withWishes(marks, wishes))
      setWaiting((count) => count + 1)
      const kept = turn.current.then(async () => {
        try {
          const marks = wishes.map(({ personId = null, changes, ...wish }) => ({
            ...wish,
            personId,
            changes: [...changes],
          }))
          const { copies } = await api.put<Answers['PUT handouts/{handoutId}/marks']>(`handouts/${handoutId}/marks`, {
            marks,
          } satisfies Bodies['PUT handouts/{handoutId}/marks'])
          const news = new Map(copies.map((copy) => [copy.copyId, copy]))
          client.setQueryData<Marks>(
            key,
            (known) =>
              known && {
                ...known,
                copies: known.copies.map((copy) => {
                  const kept = news.get(copy.copyId)
                  // What is on its way since is still shown.
                  return kept ? { ...copy, ...kept, ...(pending.current.has(copy.copyId) && partsOf(copy)) } : copy
                }),
              },
          )
          return true
        } catch (error) {
          setProblem(sentenceOf(error))
          if (!(error instanceof ApiError) || error.status !== 0) await client.invalidateQueries({ queryKey: key })
          return false
        } finally {
          for (const { copyId } of wishes) count(pending.current, copyId, -1)
          setWaiting((all) => all - 1)
        }
      })
      for (const { copyId } of wishes) count(pending.current, copyId, 1)
      turn.current = kept
      return kept
    },
    [client, handoutId],
  )
  const pending = useRef(new Map<string, number>())
  const change = useCallback(
    async (wishes: readonly Wish[], words = '') => {
      setProblem(null)
      const isKept = await send(wishes)
      if (isKept) setPast((before) => [...before.slice(-99), { wishes, words }])
      return isKept
    },
    [send],
  )
  const last = past.at(-1)
  return {
    change,
    problem,
    forget: () => setProblem(null),
    isSaving: waiting > 0,
    undo: last
      ? () => {
          setPast((before) => before.slice(0, -1))
          void send(
            last.wishes.map(({ changes, done, ...wish }) => ({
              ...wish,
              changes: changes.map(undone).toReversed(),
              ...(done !== undefined && { done: !done }),
            })),
          )
        }
      : null,
    undoWords: last?.words ?? '',
  }
}

function count(counts: Map<string, number>, key: string, by: number): void {
  const now = (counts.get(key) ?? 0) + by
  if (now > 0) counts.set(key, now)
  else counts.delete(key)
}

const partsOf = ({ parts, own }: MarkedCopy) => ({ parts, own })

/** What is shown once these are kept. */
function withWishes(marks: Marks, wishes: readonly Wish[]): Marks {
  const byCopy = new Map<string, Wish[]>()
  for (const wish of wishes) byCopy.set(wish.copyId, [...(byCopy.get(wish.copyId) ?? []), wish])
  return {
    ...marks,
    copies: marks.copies.map((copy) => {
      const own = byCopy.get(copy.copyId)
      return own ? own.reduce(withWish, copy) : copy
    }),
  }
}

function withWish(copy: MarkedCopy, { personId, changes, done }: Wish): MarkedCopy {
  const before: MarkParts = personId ? (copy.own[personId] ?? NO_PARTS) : copy.parts
  const after = changes.reduce((parts, change) => {
    const outcome = changeParts(parts, change)
    return outcome.ok ? outcome.value : parts
  }, before)
  return {
    ...copy,
    ...(personId ? { own: { ...copy.own, [personId]: after } } : { parts: after }),
    ...(done !== undefined && { isDone: done }),
  }
}
