import type { WorksheetContent } from '@gavrin/core'
import { type UseQueryResult, useQuery } from '@tanstack/react-query'
import { api } from '../ui/api'

export interface WorksheetListed {
  readonly id: string
  readonly title: string
  readonly version: number
  readonly keptVersion: number | null
  readonly updatedAt: number
  readonly isOwner: boolean
  readonly owner: string
  readonly may: 'view' | 'edit'
  readonly folderId: string | null
  readonly archived: boolean
  readonly shared: boolean
  readonly pinned: boolean
  readonly openedAt: number | null
  /** The newest edition, if one was kept. */
  readonly edition: number | null
  readonly answerSpaces: number
  readonly copies: number
}

export interface Folder {
  readonly id: string
  readonly parentId: string | null
  readonly name: string
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
  readonly isOwner: boolean
  readonly mayChange: boolean
  readonly archived: boolean
  readonly editions: readonly EditionListed[]
}

export interface EditionOpened {
  readonly number: number
  readonly title: string
  readonly content: WorksheetContent
  readonly keptAt: number
}

/** A picture that was kept. */
export interface Medium {
  readonly id: string
  readonly width: number
  readonly height: number
}

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
    queryFn: () => api.get<{ title: string; content: WorksheetContent }>(`worksheets/${id}/first-page`),
    enabled: wanted,
    staleTime: Infinity,
  })
}
