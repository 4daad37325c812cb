import { useEffect } from 'react'
import { ApiError } from './api'

/** How long it is waited before Gavrin is asked again, in milliseconds. */
const AGAIN = 2_000

/**
 * Does something that may be done twice until Gavrin is reached; what Gavrin itself refuses is thrown.
 * @param away told whether it cannot be reached
 */
export async function untilReached<T>(
  work: () => Promise<T>,
  away: (isAway: boolean) => void,
  pause: () => Promise<unknown> = () => new Promise((resolve) => setTimeout(resolve, AGAIN)),
): Promise<T> {
  for (;;)
    try {
      const done = await work()
      away(false)
      return done
    } catch (error) {
      if (!(error instanceof ApiError) || error.status !== 0) {
        away(false)
        throw error
      }
      away(true)
      await pause()
    }
}

/** The browser asks before the page is left while this is so: something typed in it is not kept yet. */
export function useLeavingAsked(isUnsaved: boolean): void {
  useEffect(() => {
    if (!isUnsaved) return
    const leaving = (event: BeforeUnloadEvent) => event.preventDefault()
    window.addEventListener('beforeunload', leaving)
    return () => window.removeEventListener('beforeunload', leaving)
  }, [isUnsaved])
}
