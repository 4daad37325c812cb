import { type AnswerSpace, answerSpaces, readLog } from '@gavrin/core'
import { type UseQueryResult, useQuery } from '@tanstack/react-query'
import type { Answers } from '../contract'
import type { CopyPageData } from '../copy/queries'
import { api, bytesOf } from '../ui/api'
import { Pages } from './pages'

export type CopyHistory = Answers['GET copies/{copyId}/history']

/** The history of a copy, with what makes its answers at any moment. */
export interface HistoryRead extends CopyHistory {
  readonly spaces: readonly AnswerSpace[]
  /** Makes the pages; a second one beside the first to compare two moments. */
  readonly newPages: () => Pages
}

async function logsOf(copyId: string): Promise<Map<string, Uint8Array[]>> {
  const logs = new Map<string, Uint8Array[]>()
  let after = { space: '', seq: 0 }
  for (;;) {
    const piece = readLog(
      await bytesOf(
        `copies/${copyId}/history/log?${new URLSearchParams({ ...after, seq: String(after.seq) }).toString()}`,
      ),
    )
    for (const { space, bytes } of piece) {
      const log = logs.get(space)
      if (log) log.push(bytes)
      else logs.set(space, [bytes])
    }
    const last = piece.at(-1)
    if (!last) return logs
    after = last
  }
}

export function useHistory({ id, content }: CopyPageData): UseQueryResult<HistoryRead> {
  return useQuery({
    queryKey: ['history', id],
    // It is as it was when it was opened: nothing moves under who looks at it.
    staleTime: Infinity,
    gcTime: 0,
    refetchOnWindowFocus: false,
    refetchOnReconnect: false,
    structuralSharing: false,
    queryFn: async (): Promise<HistoryRead> => {
      const [history, logs] = await Promise.all([api.get<CopyHistory>(`copies/${id}/history`), logsOf(id)])
      const spaces = answerSpaces(content)
      return { ...history, spaces, newPages: () => new Pages(spaces, history.moments, logs) }
    },
  })
}
