import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import type { Answers, Bodies } from '../contract'
import { api } from '../ui/api'

export type ExtraTimes = Answers['GET classes/{classId}/extra-time']
export type ExtraTimeWish = Bodies['PUT classes/{classId}/extra-time']['extraTime'][number]

const extraTimeKey = (classId: string) => ['class', classId, 'extra time'] as const

export const useExtraTime = (classId: string) =>
  useQuery({
    queryKey: extraTimeKey(classId),
    queryFn: () => api.get<ExtraTimes>(`classes/${classId}/extra-time`),
  })

/** Keeps who of a class has extra time. */
export function useKeepExtraTime(classId: string) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (extraTime: ExtraTimeWish[]) =>
      api.put<ExtraTimes>(`classes/${classId}/extra-time`, {
        extraTime,
      } satisfies Bodies['PUT classes/{classId}/extra-time']),
    onSuccess: (kept) => client.setQueryData(extraTimeKey(classId), kept),
  })
}
