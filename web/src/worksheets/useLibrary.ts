import { findForm, isFound } from '@gavrin/core'
import { useQuery } from '@tanstack/react-query'
import { useDeferredValue, useMemo } from 'react'
import { api } from '../ui/api'
import type { Folder, WorksheetListed } from './queries'
import type { Answers } from '../contract'

/** A place of the library: all, one's own marks and habits, what others share, what was put away, or a folder. */
export type Place = 'all' | 'recent' | 'pinned' | 'shared' | 'archive' | { readonly folder: string }

export const LIBRARY_SORTS = {
  changed: 'changed last',
  title: 'by title',
  copies: 'most copies',
} as const
export type LibrarySort = keyof typeof LIBRARY_SORTS

const RECENT = 20

const isIn = (worksheet: WorksheetListed, place: Place): boolean => {
  if (place === 'archive') return worksheet.archived
  if (worksheet.archived) return false
  if (typeof place === 'object') return worksheet.folderId === place.folder
  if (place === 'pinned') return worksheet.pinned
  if (place === 'shared') return !worksheet.isOwner
  return place === 'recent' ? worksheet.openedAt !== null : true
}

const byTitle = new Intl.Collator(undefined, { numeric: true, sensitivity: 'base' })

/** The worksheets of a place, found by what was typed in titles at once and in their print as soon as the server answers. */
export function useLibrary(
  worksheets: readonly WorksheetListed[],
  place: Place,
  typed: string,
  sort: LibrarySort,
): { readonly shown: readonly WorksheetListed[]; readonly searching: boolean } {
  const words = useDeferredValue(findForm(typed))
  const found = useQuery({
    queryKey: ['worksheets', 'find', words],
    queryFn: () => api.get<Answers['GET worksheets/find']>(`worksheets/find?words=${encodeURIComponent(words)}`),
    enabled: words.length > 1,
    staleTime: 20_000,
  })
  const shown = useMemo(() => {
    const inText = new Set(found.data?.ids)
    const there = worksheets.filter((worksheet) =>
      typed.trim()
        ? // Looked for, everything is looked through but the archive.
          worksheet.archived === (place === 'archive') && (isFound(worksheet.title, typed) || inText.has(worksheet.id))
        : isIn(worksheet, place),
    )
    const pinnedFirst = (one: WorksheetListed, other: WorksheetListed) => Number(other.pinned) - Number(one.pinned)
    if (place === 'recent' && !typed.trim())
      return there.toSorted((one, other) => (other.openedAt ?? 0) - (one.openedAt ?? 0)).slice(0, RECENT)
    const order: Record<LibrarySort, (one: WorksheetListed, other: WorksheetListed) => number> = {
      changed: (one, other) => other.updatedAt - one.updatedAt,
      title: (one, other) => byTitle.compare(one.title, other.title),
      copies: (one, other) => other.copies - one.copies,
    }
    return there.toSorted((one, other) => pinnedFirst(one, other) || order[sort](one, other))
  }, [worksheets, place, typed, sort, found.data])
  return { shown, searching: found.isFetching }
}

/** A folder, and how deep it lies. */
export interface PlacedFolder {
  readonly folder: Folder
  readonly depth: number
}

/** The folders as a list in the order of their tree. */
export function folderTree(folders: readonly Folder[]): PlacedFolder[] {
  const under = (parentId: string | null, depth: number): PlacedFolder[] =>
    folders
      .filter((folder) => folder.parentId === parentId)
      .toSorted((one, other) => byTitle.compare(one.name, other.name))
      .flatMap((folder) => [{ folder, depth }, ...under(folder.id, depth + 1)])
  return under(null, 0)
}
