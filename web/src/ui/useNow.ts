import { useEffect, useLayoutEffect, useState } from 'react'

let drawnAt: number | null = null

/** The page was drawn on the server at this time: what takes it over begins with the same words. */
export function beginAt(at: number): void {
  drawnAt = at
}

/** The longest that a timer of a browser runs. */
const LONGEST = 2_000_000_000

/**
 * The time, renewed every so often so that words like "now" stay true.
 * @param moments when something happens, in milliseconds since 1970: then it is renewed at once
 */
export function useNow(every = 30_000, moments: readonly (number | null)[] = []): number {
  const [now, setNow] = useState(() => drawnAt ?? Date.now())
  // Drawn long ago, or by another clock.
  useLayoutEffect(() => setNow((first) => (Math.abs(Date.now() - first) < every ? first : Date.now())), [every])
  useEffect(() => {
    const timer = setInterval(() => setNow(Date.now()), every)
    return () => clearInterval(timer)
  }, [every])
  const next = moments.reduce<number | null>(
    (first, at) => (at !== null && at > now && (first === null || at < first) ? at : first),
    null,
  )
  useEffect(() => {
    if (next === null) return
    const timer = setTimeout(() => setNow(Date.now()), Math.min(LONGEST, Math.max(0, next - Date.now())))
    return () => clearTimeout(timer)
  }, [next, now])
  return now
}
