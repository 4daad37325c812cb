import { useCallback, useEffect, useMemo, useRef, useState } from 'react'
import type { PageThen } from './pages'
import type { HistoryRead } from './queries'

/** How long playing all of a history takes at most, and each of its moments at most and at least, in milliseconds. */
const WHOLE = 30_000
const LONGEST = 400
const SHORTEST = 1_000 / 30

/** What of a history is shown. */
export interface Shown {
  /** After how many moments. */
  readonly at: number
  readonly page: PageThen
  /** What it is compared with; null: nothing. */
  readonly other: { readonly at: number; readonly page: PageThen } | null
}

/** Where one is in a history, and what takes one elsewhere. */
export interface Replaying extends Shown {
  readonly goTo: (at: number) => void
  /** Compares what is shown with the page after so many moments; null: no more. */
  readonly compareWith: (at: number | null) => void
  readonly isPlaying: boolean
  readonly play: (on: boolean) => void
}

/** Goes through a history, from its end. */
export function useReplay({ moments, pages: shownPages, newPages }: HistoryRead): Replaying {
  const last = moments.length
  const pages = useMemo(() => ({ shown: shownPages, other: newPages() }), [shownPages, newPages])
  const [shown, setShown] = useState<Shown>(() => ({ at: last, page: pages.shown.after(last), other: null }))
  const [isPlaying, setPlaying] = useState(false)
  const at = useRef(last)
  const goTo = useCallback(
    (wanted: number) => {
      at.current = Math.max(0, Math.min(last, Math.round(wanted)))
      const page = pages.shown.after(at.current)
      setShown((before) => ({ ...before, at: at.current, page }))
    },
    [pages, last],
  )
  const compareWith = useCallback(
    (other: number | null) =>
      setShown((before) => ({
        ...before,
        other: other === null ? null : { at: other, page: pages.other.after(other) },
      })),
    [pages],
  )
  useEffect(() => {
    if (!isPlaying) return
    const pause = Math.max(SHORTEST, Math.min(LONGEST, WHOLE / Math.max(last, 1)))
    let timer = 0
    let before = performance.now()
    const step = (now: number) => {
      // As many as are due: a slow machine shows fewer of them, and takes no longer.
      const due = Math.floor((now - before) / pause)
      if (due > 0) {
        before += due * pause
        goTo(at.current + due)
      }
      if (at.current >= last) return setPlaying(false)
      timer = requestAnimationFrame(step)
    }
    timer = requestAnimationFrame(step)
    return () => cancelAnimationFrame(timer)
  }, [isPlaying, goTo, last])
  const play = useCallback(
    (on: boolean) => {
      if (on && at.current >= last) goTo(0)
      setPlaying(on)
    },
    [goTo, last],
  )
  return { ...shown, goTo, compareWith, isPlaying, play }
}
