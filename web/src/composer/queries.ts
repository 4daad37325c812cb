import type { Statement } from '@gavrin/core'
import { type UseQueryResult, useQuery } from '@tanstack/react-query'
import { ApiError, api } from '../ui/api'
import { wasBegunHere } from './begun'
import type { Answers } from '../contract'

export type HandoutListed = Answers['GET classes/{classId}/handouts'][number]

/** One class of a handout. */
export type SlipPart = Answers['GET classes/{classId}/handouts/facts']

export type ClassChoice = SlipData['classes'][number]

/** What a slip is written with and its proof computed from. */
export type SlipData = Omit<Slip, 'id' | 'classId' | 'kind' | 'statement' | 'updatedAt'> & {
  /** Null: it has not been kept yet. */
  readonly id: string | null
  readonly statement: Statement | null
}

type Slip = Answers['GET handouts/{handoutId}']

/** One pressing of "Hand out", as far as it is. */
export type Run = Answers['GET handouts/{handoutId}/hand-out']

export type Recipe = Answers['GET recipes'][number]

export type WalkIn = Answers['GET handouts/{handoutId}/walk-ins'][number]

export const handoutsKey = (classId: string) => ['class', classId, 'handouts'] as const
export const slipKey = (classId: string, handoutId: string | undefined) =>
  ['slip', classId, handoutId ?? 'new'] as const
export const recipesKey = ['recipes'] as const
export const walkInsKey = (handoutId: string) => ['walk-ins', handoutId] as const

export function useHandouts(classId: string | undefined): UseQueryResult<HandoutListed[]> {
  return useQuery({
    queryKey: handoutsKey(classId ?? ''),
    queryFn: () => api.get<HandoutListed[]>(`classes/${classId}/handouts`),
    enabled: classId !== undefined,
  })
}

export const useRecipes = (): UseQueryResult<Recipe[]> =>
  useQuery({ queryKey: recipesKey, queryFn: () => api.get<Recipe[]>('recipes') })

export const useWalkIns = (handoutId: string): UseQueryResult<WalkIn[]> =>
  useQuery({
    queryKey: walkInsKey(handoutId),
    queryFn: () => api.get<WalkIn[]>(`handouts/${handoutId}/walk-ins`),
    refetchInterval: 10_000,
  })

/** A slip; of one that was begun in this window and never reached the server, what a new one is composed of. */
export async function fetchSlip(classId: string, handoutId: string | undefined): Promise<SlipData> {
  if (handoutId)
    try {
      return await api.get<SlipData>(`handouts/${handoutId}`)
    } catch (error) {
      if (!(error instanceof ApiError) || error.status !== 404 || !wasBegunHere(handoutId)) throw error
    }
  const beginning = await api.get<Answers['GET classes/{classId}/handouts/beginning']>(
    `classes/${classId}/handouts/beginning`,
  )
  return {
    ...beginning,
    id: null,
    title: '',
    statement: null,
    given: null,
    version: 0,
    handedOutAt: null,
    lastRunAt: null,
    undoable: null,
    mayHandOut: true,
  }
}
