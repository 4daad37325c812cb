type Fetch = () => Promise<unknown>

interface Network {
  readonly saveData?: boolean
}

/** After this time nothing of the first page is expected to be on its way any more, in milliseconds. */
const SETTLED = 4_000

/** Does something between what the reader waits for. */
export const idle = (then: () => void): unknown =>
  'requestIdleCallback' in window ? window.requestIdleCallback(then) : setTimeout(then, 200)

/** Does something that nobody waits for, once the first page is there. */
export function whenSettled(then: () => void): void {
  setTimeout(() => idle(then), SETTLED)
}

/**
 * Fetches parts of the application ahead, one after the other, when the page has been still for a while; not where people
 * pay by the byte.
 * @returns stops it
 */
export function whenIdle(fetches: readonly Fetch[]): () => void {
  let stopped = false
  const { connection } = navigator as Navigator & { readonly connection?: Network }
  if (connection?.saveData) return () => undefined
  const next = (at: number) => {
    const fetch = fetches[at]
    if (!stopped && fetch)
      idle(() => {
        if (!stopped)
          void fetch().then(
            () => next(at + 1),
            () => undefined,
          )
      })
  }
  const timer = setTimeout(() => next(0), SETTLED)
  return () => {
    stopped = true
    clearTimeout(timer)
  }
}
