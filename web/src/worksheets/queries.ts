import type { WorksheetContent } from '@gavrin/core'
import { type UseQueryResult, useQuery } from '@tanstack/react-query'
import { api } from '../ui/api'

export interface WorksheetListed {
  readonly id: string
  readonly title: string
  readonly version: number
  readonly keptVersion: number | null
  readonly updatedAt: number
  /** The newest edition, if one was kept. */
  readonly edition: number | null
  readonly answerSpaces: number
  readonly copies: number
}

export interface EditionListed {
  readonly number: number
  readonly title: string
  readonly answerSpaces: number
  readonly keptAt: number
  readonly copies: number
}

export interface WorksheetOpened {
  readonly id: string
  readonly title: string
  readonly draft: WorksheetContent
  readonly version: number
  readonly keptVersion: number | null
  readonly updatedAt: number
  readonly editions: readonly EditionListed[]
}

export const worksheetKey = (id: string) => ['worksheet', id] as const

export function useWorksheets(): UseQueryResult<WorksheetListed[]> {
  return useQuery({ queryKey: ['worksheets'], queryFn: () => api.get<WorksheetListed[]>('worksheets') })
}

export function useWorksheet(id: string): UseQueryResult<WorksheetOpened> {
  return useQuery({
    queryKey: worksheetKey(id),
    queryFn: () => api.get<WorksheetOpened>(`worksheets/${id}`),
    // What is being typed is newer than what the server has.
    refetchOnWindowFocus: false,
    staleTime: 0,
    gcTime: 0,
  })
}
