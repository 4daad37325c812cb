import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useNavigate } from 'react-router'
import type { CheckedRoster } from '@gavrin/core'
import { api } from '../../ui/api'
import type { SavedList } from '../roster/InviteNext'
import { type ClassOpened, classKey } from '../queries'
import type { Bodies } from '../../contract'

/** Saving a list that was compared with its class: what is in it, and who leaves. */
export function useSaveList(opened: ClassOpened, checked: CheckedRoster | null, leaving: ReadonlySet<string>) {
  const client = useQueryClient()
  const navigate = useNavigate()
  return useMutation({
    mutationFn: () =>
      api.post<SavedList>(`classes/${opened.id}/roster`, {
        rows: checked!.rows.map(({ row: { first, last, email, number, cells, sameAs, line } }) => ({
          first,
          last,
          email,
          number,
          line,
          ...(sameAs !== undefined && { sameAs }),
          cells: Object.fromEntries(Object.entries(cells ?? {}).filter(([, cell]) => cell)),
        })),
        leave: checked!.missing.map(({ personId }) => personId).filter((id) => leaving.has(id)),
      } satisfies Bodies['POST classes/{classId}/roster']),
    onSuccess: async (saved) => {
      await Promise.all([
        client.invalidateQueries({ queryKey: classKey(opened.id) }),
        client.invalidateQueries({ queryKey: ['classes'] }),
      ])
      // How those who cannot sign in yet get in is asked there next.
      await navigate(`/class/${opened.id}`, { state: { saved } })
    },
  })
}
