import { type MarkChange, type MarkParts, NO_PARTS, changeParts, stateForStaff, undone } from '@gavrin/core'
import { type UseQueryResult, useQuery, useQueryClient } from '@tanstack/react-query'
import { useCallback, useEffect, useRef, useState } from 'react'
import type { Answers, Bodies } from '../contract'
import { live } from '../live/connection'
import { api, sentenceOf } from '../ui/api'
import { untilReached, useLeavingAsked } from '../ui/untilReached'

export type Marks = Answers['GET handouts/{handoutId}/marks']
export type MarkedCopy = Marks['copies'][number]
export type StockRemark = Answers['GET stock-remarks'][number]

/** What was wished for a handout and is not kept yet, in order. */
const onTheirWay = new Map<string, readonly Wish[]>()

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
  return useQuery({
    queryKey: marksKey(handoutId),
    queryFn: async () => {
      const marks = await api.get<Marks>(`handouts/${handoutId}/marks`)
      // What is on its way stays shown.
      return withWishes(marks, onTheirWay.get(handoutId) ?? [])
    },
  })
}

/** The state of a copy as its teachers see it. */
export const stateOf = ({ state, isDone }: Pick<MarkedCopy, 'state' | 'isDone'>): MarkedCopy['state'] =>
  stateForStaff(state, isDone)

/** Changes of the mark of one copy. */
export interface Wish {
  readonly copyId: string
  readonly personId?: string | null
  readonly changes: readonly MarkChange[]
  readonly done?: boolean
}

export interface Changing {
  /** Shown at once, and kept in turn: resolves with whether it was. */
  readonly change: (wishes: readonly Wish[]) => Promise<boolean>
  readonly problem: string | null
  readonly forget: () => void
  readonly isSaving: boolean
  /** Gavrin cannot be reached: what is shown is not kept yet. */
  readonly isAway: boolean
  /** Takes back what was done last; null: there is nothing. */
  readonly undo: (() => void) | null
}

/**
 * Changes marks: what is typed is there at once, and kept in turn; while Gavrin cannot be reached it is tried again. Where it cannot be
 * kept that is said, and what is kept is shown.
 */
export function useChanging(handoutId: string): Changing {
  const client = useQueryClient()
  const turn = useRef<Promise<unknown>>(Promise.resolve())
  const [problem, setProblem] = useState<string | null>(null)
  const [waiting, setWaiting] = useState(0)
  const [isAway, setAway] = useState(false)
  const [past, setPast] = useState<readonly (readonly Wish[])[]>([])
  const send = useCallback(
    (wishes: readonly Wish[]): Promise<boolean> => {
      const key = marksKey(handoutId)
      const waitingNow = () => onTheirWay.get(handoutId) ?? []
      onTheirWay.set(handoutId, [...waitingNow(), ...wishes])
      client.setQueryData<Marks>(key, (marks) => marks && withWishes(marks, wishes))
      setWaiting((count) => count + 1)
      const arrived = () =>
        onTheirWay.set(
          handoutId,
          waitingNow().filter((wish) => !wishes.includes(wish)),
        )
      const kept = turn.current.then(async () => {
        try {
          const { copies } = await untilReached(() => put(handoutId, wishes), setAway)
          arrived()
          const news = new Map(copies.map((copy) => [copy.copyId, copy]))
          client.setQueryData<Marks>(
            key,
            (known) =>
              known &&
              withWishes(
                { ...known, copies: known.copies.map((copy) => ({ ...copy, ...news.get(copy.copyId) })) },
                waitingNow(),
              ),
          )
          return true
        } catch (error) {
          arrived()
          setProblem(sentenceOf(error))
          await client.invalidateQueries({ queryKey: key })
          return false
        } finally {
          setWaiting((all) => all - 1)
        }
      })
      turn.current = kept
      return kept
    },
    [client, handoutId],
  )
  useLeavingAsked(waiting > 0)
  const change = useCallback(
    async (wishes: readonly Wish[]) => {
      setProblem(null)
      const isKept = await send(wishes)
      if (isKept) setPast((before) => [...before.slice(-99), wishes])
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
    isAway,
    undo: last
      ? () => {
          setProblem(null)
          setPast((before) => before.slice(0, -1))
          void send(
            last.map(({ changes, done, ...wish }) => ({
              ...wish,
              changes: changes.map(undone).toReversed(),
              ...(done !== undefined && { done: !done }),
            })),
          )
        }
      : null,
  }
}

const put = (handoutId: string, wishes: readonly Wish[]) =>
  api.put<Answers['PUT handouts/{handoutId}/marks']>(`handouts/${handoutId}/marks`, {
    marks: wishes.map(({ personId = null, changes, ...wish }) => ({ ...wish, personId, changes: [...changes] })),
  } satisfies Bodies['PUT handouts/{handoutId}/marks'])

/** What is shown once these are kept. */
export function withWishes(marks: Marks, wishes: readonly Wish[]): Marks {
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
