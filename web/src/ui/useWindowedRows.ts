import { useVirtualizer } from '@tanstack/react-virtual'
import { type RefObject, useRef } from 'react'

/** The rows of a long table that are in sight, with the heights that stand for those before and after. */
export interface WindowedRows {
  readonly scroller: RefObject<HTMLDivElement | null>
  readonly indexes: readonly number[]
  readonly before: number
  readonly after: number
  readonly show: (index: number) => void
}

/**
 * Keeps only the rows of a table in the page that can be seen.
 * @param height of a row in pixels
 */
export function useWindowedRows(count: number, height: number): WindowedRows {
  const scroller = useRef<HTMLDivElement>(null)
  const virtual = useVirtualizer({
    count,
    getScrollElement: () => scroller.current,
    estimateSize: () => height,
    overscan: 12,
    initialRect: { width: 800, height: 800 },
  })
  const items = virtual.getVirtualItems()
  return {
    scroller,
    indexes: items.map(({ index }) => index),
    before: items[0]?.start ?? 0,
    after: virtual.getTotalSize() - (items.at(-1)?.end ?? 0),
    show: (index) => virtual.scrollToIndex(index),
  }
}
