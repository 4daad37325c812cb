import type { CopyState, Marking, NoteText, Permission, RubricRow, Way, WorksheetContent } from '@gavrin/core'
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
  /** Changes when the content does. */
  readonly page: string
  readonly way: Way
  /** A web page in place of a worksheet. */
  readonly link: string | null
  readonly state: CopyState
  readonly dueAt: number | null
  readonly pensDownAtDue: boolean
  readonly lateWork: boolean
  readonly submittedAt: number | null
  /** Who of several holders submitted it; null where there is one. */
  readonly submittedBy: string | null
  readonly permission: Permission
  readonly reason: string
  /** Of the worksheet, as a BCP 47 tag; empty: not known. */
  readonly language: string
  readonly isHolder: boolean
  /** What this student may do with copies of others. */
  readonly classmatesMay: Permission
  /** As it was when this was read; the due time may have passed since. */
  readonly mayTakeBack: boolean
  readonly holders: readonly string[]
  /** Answer spaces that are in somebody else's part. */
  readonly others: readonly string[]
  /** Answers whose space this edition does not have any more. */
  readonly kept: readonly {
    readonly space: string
    readonly label: string
    readonly text: string
    readonly edition: number
  }[]
  readonly mayInvite: boolean
  /** It cannot be opened in time, and this person can bring it to its last good state. */
  readonly mayBringToLastGood: boolean
  readonly handoutTitle: string
  readonly instructions: NoteText | null
  readonly marking: Marking | null
  readonly rubric: readonly RubricRow[]
  readonly unit: string | null
  /** The cover note to this person. */
  readonly note: NoteText | null
}

export interface LateWriting {
  readonly id: string
  readonly space: string
  readonly began: number
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
