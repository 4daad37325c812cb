import { type UseQueryResult, useQuery } from '@tanstack/react-query'
import { api } from '../../ui/api'
import type { Answers } from '../../contract'

/** A file that is on its way to be a worksheet. */
export type Upload = Answers['GET bring-in'][number]

/** What the server says of a file it was given. */
export type Uploaded = Answers['POST bring-in']

/** What a file holds, as a worksheet that is not kept yet. */
export type DocumentRead = Answers['POST bring-in/{bringInId}/read']

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
