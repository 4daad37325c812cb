import { useMutation, useQueryClient } from '@tanstack/react-query'
import type { Bodies } from '../contract'
import { api } from '../ui/api'

/** Gives copies to students who were left out. */
export function useGive(handoutId: string) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (personIds: string[]) =>
      api.post<unknown>(`handouts/${handoutId}/give`, {
        personIds,
      } satisfies Bodies['POST handouts/{handoutId}/give']),
    onSuccess: () => client.invalidateQueries({ queryKey: ['board', handoutId] }),
  })
}
