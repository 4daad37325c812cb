import { useEffect, useSyncExternalStore } from 'react'

// A page that is gone to stands on the screen a moment later, when all it needs is here. Which class it is of is known at once, and
// whatever is clicked meanwhile is meant for that class.

let intended: { readonly classId: string; readonly from: string } | null = null
/** The address of what is on the screen. */
let shown = ''
const listeners = new Set<() => void>()

/** A class is gone to. */
export function intendClass(classId: string): void {
  intended = { classId, from: shown }
  for (const listener of listeners) listener()
}

function hear(event: MouseEvent): void {
  if (event.defaultPrevented || event.button !== 0 || event.ctrlKey || event.metaKey || event.shiftKey) return
  const link = (event.target as Element | null)?.closest('a')
  if (!link || link.target === '_blank' || link.origin !== window.location.origin) return
  const classId = /^\/class\/([^/]+)/.exec(link.pathname)?.[1]
  if (classId) intendClass(classId)
}

function subscribe(listener: () => void): () => void {
  if (listeners.size === 0) document.addEventListener('click', hear, { capture: true })
  listeners.add(listener)
  return () => {
    listeners.delete(listener)
    if (listeners.size === 0) document.removeEventListener('click', hear, { capture: true })
  }
}

/**
 * The class that is being gone to, until it is on the screen.
 * @param pathname of what is on the screen
 */
export function useIntendedClass(pathname: string): string | null {
  const going = useSyncExternalStore(
    subscribe,
    () => intended,
    () => null,
  )
  useEffect(() => {
    shown = pathname
  }, [pathname])
  return going?.from === pathname ? going.classId : null
}
