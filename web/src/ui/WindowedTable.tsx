import { useVirtualizer } from '@tanstack/react-virtual'
import { type ReactNode, useEffect, useRef } from 'react'
import { usePrinting } from './usePrinting'

interface Props {
  readonly className?: string
  /** For screen readers, where rows hold nothing that takes the focus: then the list itself does. */
  readonly label?: string
  readonly count: number
  /** Of a row, in pixels; where rows differ, as most are: then each says its `data-index` and is measured. */
  readonly rowHeight: number
  /** The cells of the head. */
  readonly head: ReactNode
  /** @param measure to be the `ref` of a row whose height may be another */
  readonly row: (index: number, measure: (row: Element | null) => void) => ReactNode
  /** A row that is to be seen; -1: none in particular. */
  readonly shown?: number
}

/** A table that may be long: only the rows that can be seen are in the page, but for printing all of them. */
export function WindowedTable({ className = '', label, count, rowHeight, head, row, shown = -1 }: Props) {
  const scroller = useRef<HTMLDivElement>(null)
  const virtual = useVirtualizer({
    count,
    getScrollElement: () => scroller.current,
    estimateSize: () => rowHeight,
    overscan: 12,
    initialRect: { width: 800, height: 800 },
  })
  useEffect(() => {
    if (shown >= 0) virtual.scrollToIndex(shown)
  }, [shown, virtual])
  const isPrinting = usePrinting()
  const items = virtual.getVirtualItems()
  const before = isPrinting ? 0 : (items[0]?.start ?? 0)
  const after = isPrinting ? 0 : virtual.getTotalSize() - (items.at(-1)?.end ?? 0)
  const places = isPrinting ? Array.from({ length: count }, (_, index) => index) : items.map(({ index }) => index)
  return (
    <div className="grid-scroll" ref={scroller} {...(label && { tabIndex: 0, role: 'group', 'aria-label': label })}>
      <table className={`grid ${className}`}>
        <thead>
          <tr>{head}</tr>
        </thead>
        <tbody>
          {before > 0 && <tr aria-hidden="true" style={{ height: before }} />}
          {places.map((index) => row(index, virtual.measureElement))}
          {after > 0 && <tr aria-hidden="true" style={{ height: after }} />}
        </tbody>
      </table>
    </div>
  )
}
