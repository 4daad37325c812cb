import { type UseQueryResult, useQuery } from '@tanstack/react-query'
import { api } from '../ui/api'
import type { Answers } from '../contract'

/** A copy, without what is written in it. */
export type CopyPageData = Answers['GET copies/{copyId}']

export type LateWriting = Answers['GET copies/{copyId}/late-writing'][number]

/** The key of what is on its way about the documents of a copy. */
export const documentsKey = (copyId: string): readonly string[] => ['documents of a copy', copyId]

export function useCopy(copyId: string): UseQueryResult<CopyPageData> {
  return useQuery({ queryKey: ['copy', copyId], queryFn: () => api.get<CopyPageData>(`copies/${copyId}`) })
}

export function useLateWritings(copyId: string, wanted: boolean): UseQueryResult<LateWriting[]> {
  return useQuery({
    queryKey: ['late', copyId],
    queryFn: () => api.get<LateWriting[]>(`copies/${copyId}/late-writing`),
    enabled: wanted,
  })
}
