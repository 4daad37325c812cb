import type { BoardRow } from '@gavrin/core'
import { useCallback, useMemo, useState } from 'react'
import { api } from '../ui/api'

/** When whoever looks had copies of a board open last, and what is new in them since. */
export interface Looked {
  readonly isNew: (row: BoardRow) => boolean
  /** Whether what stands at this address of a copy was written since. */
  readonly isNewAt: (row: BoardRow, at: number | undefined) => boolean
  /** Since when what is written in this copy is new; null: all of it. */
  readonly sinceOf: (copyId: string) => number | null
  /** It is looked at, up to now. */
  readonly look: (copyId: string) => void
}

export function useLooked(
  handoutId: string,
  kept: readonly { readonly copyId: string; readonly at: number }[],
): Looked {
  const [here, setHere] = useState<ReadonlyMap<string, number>>(new Map())
  const known = useMemo(() => new Map(kept.map(({ copyId, at }) => [copyId, at])), [kept])
  const sinceOf = useCallback((copyId: string) => here.get(copyId) ?? known.get(copyId) ?? null, [here, known])
  const look = useCallback(
    (copyId: string) => {
      setHere((before) => new Map(before).set(copyId, Date.now()))
      // Whether it was kept matters to nobody: then it is new once more.
      api.put(`handouts/${handoutId}/looked/${copyId}`, {}).catch(() => undefined)
    },
    [handoutId],
  )
  return useMemo(() => {
    const isNew = (row: BoardRow) => row.writtenAt !== null && row.writtenAt > (sinceOf(row.copyId) ?? 0)
    // Where nobody looked yet all is new, and need not be marked answer by answer.
    const isNewAt = (row: BoardRow, at: number | undefined) =>
      at !== undefined && at > (sinceOf(row.copyId) ?? Infinity)
    return { isNewAt, isNew, sinceOf, look }
  }, [sinceOf, look])
}
