import { useRef } from 'react'

/** Does things one after the other: each begins when the one before it is through, whether it went well or not. */
export function useInLine(): <T>(work: () => Promise<T>) => Promise<T> {
  const line = useRef<Promise<unknown>>(Promise.resolve())
  return (work) => {
    const next = line.current.then(work)
    line.current = next.catch(() => undefined)
    return next
  }
}
