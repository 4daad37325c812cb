import type { CopyState, Permission, WorksheetContent } from '@gavrin/core'
import { type UseQueryResult, useQuery } from '@tanstack/react-query'
import { api } from '../ui/api'

/** A copy, without what is written in it. */
export interface CopyPageData {
  readonly id: string
  readonly handoutId: string
  readonly classId: string
  readonly class: string
  readonly ink: string
  readonly number: number
  readonly title: string
  readonly worksheetTitle: string
  readonly content: WorksheetContent
  readonly state: CopyState
  readonly dueAt: number | null
  readonly submittedAt: number | null
  readonly permission: Permission
  readonly reason: string
  readonly isHolder: boolean
  /** As it was when this was read; the due time may have passed since. */
  readonly mayTakeBack: boolean
  readonly holders: readonly string[]
}

export interface LateWriting {
  readonly id: string
  readonly space: string
  readonly at: number
  readonly reason: string
  readonly by: string
  readonly text: string
}

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
