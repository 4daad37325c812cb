import type { WorksheetContent } from '@gavrin/core'
import { type UseQueryResult, useQuery } from '@tanstack/react-query'
import { api } from '../ui/api'
import type { Answers } from '../contract'

export type WorksheetListed = Answers['GET worksheets'][number]

export type Folder = Answers['GET folders'][number]

export interface EditionListed {
  readonly number: number
  readonly title: string
  readonly answerSpaces: number
  readonly keptAt: number
  readonly copies: number
}

export type WorksheetOpened = Answers['GET worksheets/{worksheetId}']

export type EditionOpened = Answers['GET worksheets/{worksheetId}/editions/{number}']

/** A picture that was kept. */
export type Medium = Answers['POST worksheets/{worksheetId}/media']

export const worksheetKey = (id: string) => ['worksheet', id] as const

export function useWorksheets(): UseQueryResult<WorksheetListed[]> {
  return useQuery({ queryKey: ['worksheets'], queryFn: () => api.get<WorksheetListed[]>('worksheets') })
}

export function useFolders(): UseQueryResult<Folder[]> {
  return useQuery({ queryKey: ['folders'], queryFn: () => api.get<Folder[]>('folders') })
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

/** An edition, which never changes; number 0: nothing is asked. */
export function useEdition(id: string, number: number): UseQueryResult<EditionOpened> {
  return useQuery({
    queryKey: ['edition', id, number],
    queryFn: () => api.get<EditionOpened>(`worksheets/${id}/editions/${number}`),
    enabled: number > 0,
    staleTime: Infinity,
  })
}

/** What the first page of a worksheet shows, as it is in this version. */
export function useFirstPage(
  id: string,
  version: number,
  wanted: boolean,
): UseQueryResult<{ title: string; content: WorksheetContent }> {
  return useQuery({
    queryKey: ['first page', id, version],
    queryFn: () => api.get<Answers['GET worksheets/{worksheetId}/first-page']>(`worksheets/${id}/first-page`),
    enabled: wanted,
    staleTime: Infinity,
  })
}
