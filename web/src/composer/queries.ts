import type { CopyState, ExistingCopy, PlanFacts, Statement } from '@gavrin/core'
import { type UseQueryResult, useQuery } from '@tanstack/react-query'
import { api } from '../ui/api'

export interface HandoutListed {
  readonly id: string
  readonly number: number
  readonly title: string
  readonly dueAt: number | null
  readonly handedOutAt: number | null
  readonly updatedAt: number
  readonly states: Readonly<Partial<Record<CopyState, number>>>
}

/** What a slip is written with and its proof computed from. */
export interface SlipData {
  readonly id: string | null
  readonly number: number
  readonly title: string
  readonly statement: Statement | null
  readonly version: number
  readonly handedOutAt: number | null
  readonly mayHandOut: boolean
  readonly facts: PlanFacts
  readonly existing: readonly ExistingCopy[]
}

export const handoutsKey = (classId: string) => ['class', classId, 'handouts'] as const
export const slipKey = (classId: string, handoutId: string | undefined) =>
  ['slip', classId, handoutId ?? 'new'] as const

export function useHandouts(classId: string | undefined): UseQueryResult<HandoutListed[]> {
  return useQuery({
    queryKey: handoutsKey(classId ?? ''),
    queryFn: () => api.get<HandoutListed[]>(`classes/${classId}/handouts`),
    enabled: classId !== undefined,
  })
}

export async function fetchSlip(classId: string, handoutId: string | undefined): Promise<SlipData> {
  if (handoutId) return api.get<SlipData>(`handouts/${handoutId}`)
  const beginning = await api.get<Pick<SlipData, 'number' | 'facts'>>(`classes/${classId}/handouts/beginning`)
  return {
    ...beginning,
    id: null,
    title: '',
    statement: null,
    version: 0,
    handedOutAt: null,
    mayHandOut: true,
    existing: [],
  }
}
