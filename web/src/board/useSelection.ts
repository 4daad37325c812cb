import type { BoardRow } from '@gavrin/core'
import { useCallback, useRef, useState } from 'react'

/** Which rows of a board are selected; of those that are not shown any more none is. */
export function useSelection(rows: readonly BoardRow[]) {
  const [ids, setIds] = useState<ReadonlySet<string>>(new Set())
  const last = useRef<string | null>(null)
  const order = useRef<readonly BoardRow[]>(rows)
  order.current = rows
  const select = useCallback((copyId: string, withRange: boolean) => {
    const before = last.current
    last.current = copyId
    setIds((chosen) => {
      const on = !chosen.has(copyId)
      const at = (id: string | null) => order.current.findIndex((row) => row.copyId === id)
      const [one, other] = [at(before), at(copyId)]
      const range =
        withRange && one >= 0
          ? order.current.slice(Math.min(one, other), Math.max(one, other) + 1)
          : [order.current[other]!]
      const next = new Set(chosen)
      for (const row of range) {
        if (on) next.add(row.copyId)
        else next.delete(row.copyId)
      }
      return next
    })
  }, [])
  const selectAll = useCallback(
    (on: boolean) => setIds(new Set(on ? order.current.map(({ copyId }) => copyId) : [])),
    [],
  )
  const chosen = rows.filter(({ copyId }) => ids.has(copyId))
  return { rows: chosen, selected: ids, select, selectAll, clear: () => setIds(new Set()) }
}
