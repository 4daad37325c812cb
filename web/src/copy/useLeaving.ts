import { type MouseEvent, useEffect, useState } from 'react'
import { useNavigate } from 'react-router'
import type { OpenCopy } from '../live/openCopy'

/**
 * Leaving a page with words that are not saved: within Gavrin it waits for them, and says so; a window that is closed asks.
 * @param to where the way back leads
 */
export function useLeaving(copy: OpenCopy | null, to: string) {
  const [isLeaving, setLeaving] = useState(false)
  const go = useNavigate()
  useEffect(() => {
    const ask = (event: BeforeUnloadEvent) => {
      if (copy?.hasUnsaved) event.preventDefault()
    }
    window.addEventListener('beforeunload', ask)
    return () => window.removeEventListener('beforeunload', ask)
  }, [copy])
  useEffect(() => {
    if (!isLeaving || !copy) return
    const look = () => {
      if (!copy.hasUnsaved) void go(to)
    }
    look()
    return copy.subscribe(look)
  }, [isLeaving, copy, go, to])
  return {
    isLeaving,
    /** For the link that leads away. */
    leave: (event: MouseEvent) => {
      if (!copy?.hasUnsaved || event.ctrlKey || event.metaKey || event.shiftKey) return
      event.preventDefault()
      setLeaving(true)
    },
    stay: () => setLeaving(false),
    leaveNow: () => void go(to),
  }
}
