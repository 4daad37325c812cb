import { useEffect, useLayoutEffect, useState } from 'react'

let drawnAt: number | null = null

/** The page was drawn on the server at this time: what takes it over begins with the same words. */
export function beginAt(at: number): void {
  drawnAt = at
}

/** The time, renewed every so often so that words like "now" stay true. */
export function useNow(every = 30_000): number {
  const [now, setNow] = useState(() => drawnAt ?? Date.now())
  // Drawn long ago, or by another clock.
  useLayoutEffect(() => setNow((first) => (Math.abs(Date.now() - first) < every ? first : Date.now())), [every])
  useEffect(() => {
    const timer = setInterval(() => setNow(Date.now()), every)
    return () => clearInterval(timer)
  }, [every])
  return now
}
