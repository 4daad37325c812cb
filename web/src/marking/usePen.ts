import type { PenMark } from '@gavrin/core'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import type { Answers, Bodies } from '../contract'
import { api } from '../ui/api'
import { newUuid } from '../ui/newUuid'
import { untilReached, useLeavingAsked } from '../ui/untilReached'

export type PenMarks = Answers['GET copies/{copyId}/pen']

export const penKey = (copyId: string): readonly string[] => ['pen', copyId]

/** What the pen left on a copy. */
export const usePenMarks = (copyId: string, enabled: boolean) =>
  useQuery({
    queryKey: penKey(copyId),
    queryFn: () => api.get<PenMarks>(`copies/${copyId}/pen`),
    enabled,
    staleTime: 0,
  })

interface Act {
  readonly copyId: string
  readonly is: 'draw' | 'remove'
  readonly mark: PenMarks[number]
}

const send = ({ copyId, is, mark: { id, isOwn: _, ...mark } }: Act): Promise<unknown> =>
  is === 'draw'
    ? api.put(`copies/${copyId}/pen/${id}`, {
        ...mark,
        points: mark.points.map(([x, y]) => [x, y]),
      } satisfies Bodies['PUT copies/{copyId}/pen/{markId}'])
    : api.delete(`copies/${copyId}/pen/${id}`)

/** Draws over a copy: there at once, kept in turn; each act can be taken back while the copy is looked at. */
export function usePen(copyId: string) {
  const client = useQueryClient()
  const [past, setPast] = useState<readonly Act[]>([])
  const [isAway, setAway] = useState(false)
  const act = useMutation({
    scope: { id: 'marking pen' },
    mutationFn: (one: Act) => untilReached(() => send(one), setAway),
    // While there is no network it waits in `untilReached`, which says so.
    networkMode: 'always',
    onMutate: async ({ copyId: of, is, mark }) => {
      await client.cancelQueries({ queryKey: penKey(of) })
      client.setQueryData<PenMarks>(penKey(of), (known = []) => [
        ...known.filter(({ id }) => id !== mark.id),
        ...(is === 'draw' ? [mark] : []),
      ])
    },
    onError: (_, { copyId: of }) => client.invalidateQueries({ queryKey: penKey(of) }),
  })
  useLeavingAsked(act.isPending)
  const does = (is: Act['is'], mark: PenMarks[number]) => {
    const one = { copyId, is, mark }
    setPast((before) => [...before, one])
    act.mutate(one)
  }
  const last = past.findLast((one) => one.copyId === copyId)
  return {
    draw: (mark: PenMark) => does('draw', { ...mark, id: newUuid(), isOwn: true }),
    remove: (mark: PenMarks[number]) => does('remove', mark),
    undo: last
      ? () => {
          setPast((before) => before.filter((one) => one !== last))
          act.mutate({ ...last, is: last.is === 'draw' ? 'remove' : 'draw' })
        }
      : null,
    error: act.error,
    /** Gavrin cannot be reached: what is drawn is not kept yet. */
    isAway,
  }
}
