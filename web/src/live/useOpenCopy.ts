import type { WorksheetContent } from '@gavrin/core'
import { useEffect, useState, useSyncExternalStore } from 'react'
import { live } from './connection'
import { type CopyView, OpenCopy } from './openCopy'

const nothing = () => () => undefined
const noView = () => null

/** Opens a copy for as long as the component is there. */
export function useOpenCopy(
  copyId: string,
  personId: string,
  content: WorksheetContent,
  isKept = false,
): { copy: OpenCopy; view: CopyView } | null {
  const [copy, setCopy] = useState<OpenCopy | null>(null)
  useEffect(() => {
    const opened = new OpenCopy(live(), copyId, personId, content)
    if (isKept) opened.keepHere()
    setCopy(opened)
    return () => {
      opened.close()
      setCopy(null)
    }
  }, [copyId, personId, content, isKept])
  const view = useSyncExternalStore<CopyView | null>(copy?.subscribe ?? nothing, copy?.view ?? noView, noView)
  return copy && view ? { copy, view } : null
}
