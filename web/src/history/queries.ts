import { type AnswerSpace, type LogEntry, type Moment, answerSpaces, momentsOf, readLog } from '@gavrin/core'
import { type UseQueryResult, useQuery } from '@tanstack/react-query'
import type { Answers } from '../contract'
import type { CopyPageData } from '../copy/queries'
import { api, bytesOf } from '../ui/api'
import { Pages, logsOf } from './pages'

export type CopyHistory = Answers['GET copies/{copyId}/history']

/** The history of a copy, with what makes its answers at any moment. */
export interface HistoryRead extends CopyHistory {
  readonly moments: readonly Moment[]
  readonly spaces: readonly AnswerSpace[]
  /** Prepared, and at their end. */
  readonly pages: Pages
  /** Other ones of the same logs, to compare two moments. */
  readonly newPages: () => Pages
}

async function logOf(copyId: string): Promise<LogEntry[]> {
  const log: LogEntry[][] = []
  let from: string | null = 'space=&seq=0'
  while (from !== null) {
    const { bytes, next } = await bytesOf(`copies/${copyId}/history/log?${from}`)
    log.push(readLog(bytes))
    from = next
  }
  return log.flat()
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
      const [history, log] = await Promise.all([api.get<CopyHistory>(`copies/${id}/history`), logOf(id)])
      const moments = momentsOf(
        log,
        history.steps.map(({ at }) => at),
      )
      const spaces = answerSpaces(content)
      // In the order in which they first did something: their colours stay what they are.
      const order = [...new Set([...moments, ...history.steps].map(({ personId }) => personId))]
      const people = history.people.toSorted((one, other) => order.indexOf(one.id) - order.indexOf(other.id))
      const logs = logsOf(log)
      const pages = new Pages(spaces, moments, logs)
      await pages.prepare()
      return { ...history, people, moments, spaces, pages, newPages: () => new Pages(spaces, moments, logs) }
    },
  })
}
