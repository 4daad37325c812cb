import type { DocumentKind, WorksheetContent } from '@gavrin/core'
import { type UseQueryResult, useQuery } from '@tanstack/react-query'
import { api } from '../../ui/api'

/** A file that is on its way to be a worksheet. */
export interface Upload {
  readonly id: string
  readonly name: string
  readonly kind: DocumentKind
  readonly size: number
  readonly at: number
}

/** What the server says of a file it was given. */
export interface Uploaded extends Omit<Upload, 'at'> {
  /** Worksheets that came from the same file. */
  readonly before: readonly { readonly worksheetId: string; readonly title: string; readonly at: number }[]
}

/** What a file holds, as a worksheet that is not kept yet. */
export interface DocumentRead {
  readonly title: string
  readonly content: WorksheetContent
  readonly notes: readonly string[]
}

export function useUnfinished(): UseQueryResult<Upload[]> {
  return useQuery({ queryKey: ['bring-in'], queryFn: () => api.get<Upload[]>('bring-in') })
}

export function useUpload(id: string): UseQueryResult<Upload> {
  return useQuery({ queryKey: ['bring-in', id], queryFn: () => api.get<Upload>(`bring-in/${id}`), retry: false })
}

async function bytesAt(path: string): Promise<Blob> {
  const answer = await fetch(`/api/bring-in/${path}`, { credentials: 'same-origin' })
  if (!answer.ok) throw new Error('gone')
  return answer.blob()
}

/** The bytes of the file as they came. */
export const fileOf = (id: string): Promise<Blob> => bytesAt(`${id}/file`)

/** A photograph that was added to an upload. */
export const photoOf = (id: string, pictureId: string): Promise<Blob> => bytesAt(`${id}/photos/${pictureId}`)
