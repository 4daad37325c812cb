import { useMutation, useQueryClient } from '@tanstack/react-query'
import type { Bodies } from '../contract'
import { api } from '../ui/api'

/** Takes copies back, or gives them again; who has the board open sees it at once. */
export function useTakeBack(handoutId: string) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: ({ slotKeys, back }: { readonly slotKeys: readonly string[]; readonly back: boolean }) =>
      api.post<unknown>(`handouts/${handoutId}/take-back`, {
        slotKeys,
        back,
      } satisfies Bodies['POST handouts/{handoutId}/take-back']),
    onSuccess: () => client.invalidateQueries({ queryKey: ['board', handoutId] }),
  })
}
