import { useQueryClient } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import type { CopyPageData } from '../copy/queries'
import { browserKeeping } from '../live/unsent'
import { api } from '../ui/api'

/** How often it is looked whether words wait in this browser, in milliseconds. */
const LOOK = 5_000

/**
 * Words that were written in a copy in this browser and did not reach Gavrin before its page was left: sent from here, once
 * it can be reached.
 * @returns the copies that still have some
 */
export function useOutbox(personId: string): readonly string[] {
  const client = useQueryClient()
  const [waiting, setWaiting] = useState<readonly string[]>([])
  useEffect(() => {
    let stopped = false
    let timer: ReturnType<typeof setTimeout> | null = null
    const send = async (copyId: string) => {
      const { content } = await api.get<CopyPageData>(`copies/${copyId}`)
      if (stopped) return
      const [{ OpenCopy }, { live }] = await Promise.all([import('../live/openCopy'), import('../live/connection')])
      if (stopped) return
      const copy = new OpenCopy(live(), copyId, personId, content)
      try {
        await copy.opened()
        if (await copy.saved()) await client.invalidateQueries({ queryKey: ['mine'] })
      } finally {
        copy.close()
      }
    }
    const look = async () => {
      const copies = await browserKeeping.copies(personId)
      if (stopped) return
      setWaiting(copies)
      for (const copyId of copies) await send(copyId).catch(() => undefined)
      const left = copies.length > 0 ? await browserKeeping.copies(personId) : copies
      if (stopped) return
      setWaiting(left)
      if (left.length > 0) timer = setTimeout(() => void look(), LOOK)
    }
    void look()
    return () => {
      stopped = true
      if (timer) clearTimeout(timer)
    }
  }, [personId, client])
  return waiting
}
