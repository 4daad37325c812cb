import { type ComponentType, lazy, useEffect, useState, useSyncExternalStore } from 'react'

/** A part of the application that is loaded on its own. */
export type Part<P extends object> = ComponentType<P> & {
  /** Loads it; where it is loaded already when it is shown, it is shown at once. */
  readonly fetch: () => Promise<void>
}

const silent = () => () => undefined

/** Whether a page that the server drew is being taken over. */
const useIsTakenOver = (): boolean =>
  useSyncExternalStore(
    silent,
    () => false,
    () => true,
  )

type State<P> =
  | { readonly is: 'there'; readonly Part: ComponentType<P> }
  | { readonly is: 'coming' | 'failed'; readonly error?: unknown }

/**
 * A component that is loaded when it is first shown, or before by `fetch`. What the server drew of it stays until it is there; else it
 * is said to be coming, and shown as soon as it is: what waits for React's Suspense is held back for up to 300 ms.
 */
export function part<P extends object>(load: () => Promise<{ readonly default: ComponentType<P> }>): Part<P> {
  let ready: ComponentType<P> | null = null
  const fetch = async () => {
    ready = (await load()).default
  }
  const Waiting = lazy(load)
  const Shown = (props: P) => {
    const isTakenOver = useIsTakenOver()
    // The same for as long as it is shown.
    const [state, setState] = useState<State<P>>(() =>
      ready ? { is: 'there', Part: ready } : isTakenOver ? { is: 'there', Part: Waiting } : { is: 'coming' },
    )
    useEffect(() => {
      if (state.is !== 'coming') return
      let stopped = false
      const show = (next: State<P>) => stopped || setState(next)
      fetch().then(
        () => show({ is: 'there', Part: ready! }),
        (error: unknown) => show({ is: 'failed', error }),
      )
      return () => {
        stopped = true
      }
    }, [state.is])
    // Said by whatever catches it around.
    if (state.is === 'failed') throw state.error
    return state.is === 'there' ? <state.Part {...props} /> : <p className="page-message loading">One moment …</p>
  }
  return Object.assign(Shown, { fetch })
}
