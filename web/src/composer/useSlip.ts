import type { Statement } from '@gavrin/core'
import { useCallback, useEffect, useRef, useState } from 'react'
import { ApiError, api, sentenceOf } from '../ui/api'
import type { SlipData } from './queries'

interface Slip {
  readonly title: string
  readonly statement: Statement
}

export type SlipState =
  | { readonly is: 'new' }
  | { readonly is: 'kept'; readonly at: number | null }
  | { readonly is: 'keeping' }
  | { readonly is: 'not kept'; readonly sentence: string; readonly stale: boolean }

const GATHER = 800

/** The slip as it is being written, kept on the server by itself from its first change on. */
export function useSlip(classId: string, data: SlipData, first: Slip, onBegun: (id: string) => void) {
  const [slip, setSlip] = useState(first)
  const [state, setState] = useState<SlipState>(data.id ? { is: 'kept', at: null } : { is: 'new' })
  const known = useRef({ id: data.id, version: data.version })
  const chosenId = useRef(crypto.randomUUID() as string)
  const latest = useRef(first)
  const dirty = useRef(false)
  const running = useRef<Promise<void>>(Promise.resolve())
  const timer = useRef<ReturnType<typeof setTimeout> | null>(null)
  const begun = useRef(onBegun)
  begun.current = onBegun

  /** Keeps what is not kept yet; the handout's id and version, or null if it could not be kept. */
  const flush = useCallback(
    async (always = false): Promise<{ id: string; version: number } | null> => {
      if (timer.current) clearTimeout(timer.current)
      let failed = false
      running.current = running.current.then(async () => {
        if (!dirty.current && !(always && known.current.id === null)) return
        const sent = latest.current
        setState({ is: 'keeping' })
        try {
          if (known.current.id === null) {
            // The id is chosen here: sent twice, or over a reload, it is one slip.
            begun.current(chosenId.current)
            const made = await api.post<{ id: string; version: number; wasThere: boolean }>(
              `classes/${classId}/handouts`,
              { id: chosenId.current, ...sent },
            )
            known.current = { id: made.id, version: made.version }
            // It had come, though its answer had not: what is here now is kept over it.
            if (made.wasThere) return
          } else {
            const { id, version } = known.current
            const kept = await api.put<{ version: number }>(`handouts/${id}`, { ...sent, version })
            known.current = { id, version: kept.version }
          }
          if (latest.current === sent) dirty.current = false
          setState({ is: 'kept', at: Date.now() })
        } catch (error) {
          failed = true
          const stale = error instanceof ApiError && error.status === 409
          setState({ is: 'not kept', sentence: sentenceOf(error), stale })
        }
      })
      await running.current
      if (failed || known.current.id === null) return null
      return dirty.current ? flush() : { id: known.current.id, version: known.current.version }
    },
    [classId],
  )

  const change = useCallback(
    (next: Slip) => {
      latest.current = next
      dirty.current = true
      setSlip(next)
      if (timer.current) clearTimeout(timer.current)
      timer.current = setTimeout(() => void flush(), GATHER)
    },
    [flush],
  )

  useEffect(
    () => () => {
      void flush()
    },
    [flush],
  )

  return { slip, state, change, flush }
}
