import type { CopyState, PlanFacts, ProofPart, Statement } from '@gavrin/core'
import { type UseQueryResult, useQuery } from '@tanstack/react-query'
import { ApiError, api } from '../ui/api'
import { wasBegunHere } from './begun'

export interface HandoutListed {
  readonly id: string
  readonly number: number
  readonly title: string
  readonly setId: string | null
  readonly unit: string | null
  readonly opensAt: number | null
  readonly dueAt: number | null
  readonly handedOutAt: number | null
  readonly updatedAt: number
  /** The slip was edited since it was handed out. */
  readonly mended: boolean
  readonly states: Readonly<Partial<Record<CopyState, number>>>
}

/** One class of a handout. */
export interface SlipPart extends ProofPart {
  readonly id: string | null
  readonly number: number
  readonly handedOutAt: number | null
}

export interface ClassChoice {
  readonly id: string
  readonly name: string
  readonly subject: string
}

/** What a slip is written with and its proof computed from. */
export interface SlipData {
  readonly id: string | null
  readonly number: number
  readonly title: string
  readonly statement: Statement | null
  /** As it was last handed out; null: nothing is. */
  readonly given: Statement | null
  readonly version: number
  readonly handedOutAt: number | null
  /** When it was last begun to be handed out, or undone. */
  readonly lastRunAt: number | null
  /** What can be undone. */
  readonly undoable: { readonly kind: 'hand out' | 'undo'; readonly at: number } | null
  readonly mayHandOut: boolean
  readonly worksheets: PlanFacts['worksheets']
  /** The classes in which this person hands out. */
  readonly classes: readonly ClassChoice[]
  readonly parts: readonly SlipPart[]
}

/** One pressing of "Hand out", as far as it is. */
export interface Run {
  readonly total: number
  readonly done: number
  readonly finished: boolean
  readonly failures: readonly { readonly slotKey: string; readonly reason: string }[]
}

export interface Recipe {
  readonly id: string
  readonly name: string
  readonly statement: Statement
}

export interface WalkIn {
  readonly itemId: string
  readonly code: string
  readonly permission: 'view' | 'comment' | 'edit'
  readonly open: boolean
  readonly endsAt: number | null
  /** How many guests it lets in, and how many came. */
  readonly places: number
  readonly guests: number
  readonly uses: readonly {
    readonly name: string
    readonly at: number
    /** Not the first time. */
    readonly again: boolean
    /** Somebody of the roster has this name too. */
    readonly like: string | null
  }[]
}

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
  const beginning = await api.get<Pick<SlipData, 'number' | 'worksheets' | 'classes' | 'parts'>>(
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
