import { useQuery } from '@tanstack/react-query'
import type { Answers } from '../contract'
import { api } from '../ui/api'

export type Writer = Answers['GET handouts/{handoutId}/writers'][number]

/** How often it is read again while it is looked at, in milliseconds. */
const AGAIN = 15_000

/** Who has written how much in the copies that several share, by copy and person; empty where it is not asked for. */
export function useWriters(handoutId: string, isAsked: boolean): ReadonlyMap<string, Writer> {
  const { data } = useQuery({
    queryKey: ['board', handoutId, 'writers'],
    queryFn: () => api.get<Writer[]>(`handouts/${handoutId}/writers`),
    enabled: isAsked,
    refetchInterval: AGAIN,
    staleTime: 0,
  })
  return new Map(data?.map((writer) => [writerKey(writer), writer]))
}

export const writerKey = ({ copyId, personId }: { readonly copyId: string; readonly personId: string }): string =>
  `${copyId} ${personId}`
