import { type ComponentType, lazy, useState } from 'react'

/** A part of the application that is loaded on its own. */
export type Part<P extends object> = ComponentType<P> & {
  /** Loads it; where it is loaded already when it is shown, it is shown at once. */
  readonly fetch: () => Promise<void>
}

/** A component that is loaded when it is first shown, or before by `fetch`. */
export function part<P extends object>(load: () => Promise<{ readonly default: ComponentType<P> }>): Part<P> {
  let ready: ComponentType<P> | null = null
  const fetch = async () => {
    ready = (await load()).default
  }
  const Waiting = lazy(load)
  const Shown = (props: P) => {
    // The same for as long as it is shown.
    const [Chosen] = useState<ComponentType<P>>(() => ready ?? Waiting)
    return <Chosen {...props} />
  }
  return Object.assign(Shown, { fetch })
}
