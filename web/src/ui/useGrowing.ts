import { useCallback, useEffect, useRef, useState } from 'react'

/**
 * How many things of a long list are drawn: a first part at once, more as its end comes into view.
 * @param whole what the list is of; when that changes it begins anew
 * @returns the count, and what marks the end of the list
 */
export function useGrowing(
  whole: string,
  part: number,
): { readonly count: number; readonly end: (element: HTMLElement | null) => void } {
  const [grown, setGrown] = useState({ whole, count: part })
  const count = grown.whole === whole ? grown.count : part
  const watcher = useRef<IntersectionObserver | null>(null)
  const end = useCallback(
    (element: HTMLElement | null) => {
      watcher.current?.disconnect()
      if (!element) return
      watcher.current = new IntersectionObserver(
        ([entry]) => entry?.isIntersecting && setGrown({ whole, count: count + part }),
        { rootMargin: '600px' },
      )
      watcher.current.observe(element)
    },
    [whole, count, part],
  )
  useEffect(() => () => watcher.current?.disconnect(), [])
  return { count, end }
}
