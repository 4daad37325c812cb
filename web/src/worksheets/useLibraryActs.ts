import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useNavigate } from 'react-router'
import type { Answers, Bodies } from '../contract'
import { api } from '../ui/api'
import type { Place } from './useLibrary'

/** What can be done with worksheets of the library. */
export interface LibraryActs {
  /** Reads the library again. */
  readonly renew: () => Promise<unknown>
  /** Begins a worksheet, in the folder that is shown. */
  readonly begin: () => void
  readonly isBeginning: boolean
  /** Begins another worksheet from one. */
  readonly duplicate: (id: string) => void
  readonly move: (ids: readonly string[], folderId: string | null) => void
  readonly archive: (ids: readonly string[], archived: boolean) => void
  readonly pin: (ids: readonly string[], pinned: boolean) => void
  readonly trouble: Error | null
}

export function useLibraryActs(place: Place): LibraryActs {
  const client = useQueryClient()
  const navigate = useNavigate()
  const renew = () =>
    Promise.all([
      client.invalidateQueries({ queryKey: ['worksheets'] }),
      client.invalidateQueries({ queryKey: ['folders'] }),
    ])
  const begin = useMutation({
    mutationFn: () =>
      api.post<Answers['POST worksheets']>('worksheets', {
        title: 'Untitled worksheet',
        folderId: typeof place === 'object' ? place.folder : null,
      } satisfies Bodies['POST worksheets']),
    onSuccess: ({ id }) => navigate(`/worksheets/${id}`),
  })
  const act = useMutation({
    mutationFn: ({ path, body }: { path: 'move' | 'archive' | 'pin'; body: object }) =>
      api.post<unknown>(`worksheets/${path}`, body),
    onSettled: renew,
  })
  const duplicate = useMutation({
    mutationFn: (id: string) =>
      api.post<Answers['POST worksheets/{worksheetId}/duplicate']>(`worksheets/${id}/duplicate`),
    onSuccess: ({ id }) => navigate(`/worksheets/${id}`),
  })
  return {
    renew,
    begin: () => begin.mutate(),
    isBeginning: begin.isPending,
    duplicate: (id) => duplicate.mutate(id),
    move: (ids, folderId) => act.mutate({ path: 'move', body: { ids, folderId } }),
    archive: (ids, archived) => act.mutate({ path: 'archive', body: { ids, archived } }),
    pin: (ids, pinned) => act.mutate({ path: 'pin', body: { ids, pinned } }),
    trouble: begin.error ?? act.error ?? duplicate.error,
  }
}
