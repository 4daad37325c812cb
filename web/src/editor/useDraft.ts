import type { WorksheetContent } from '@gavrin/core'
import { useCallback, useEffect, useRef, useState } from 'react'
import { ApiError, api, sentenceOf } from '../ui/api'

/** Whether what stands on the page is kept on the server as the draft. */
export type DraftState =
  | { readonly is: 'kept'; readonly at: number }
  | { readonly is: 'changed' }
  | { readonly is: 'keeping' }
  | { readonly is: 'not kept'; readonly sentence: string; readonly stale: boolean }

interface Draft {
  readonly title: string
  readonly content: WorksheetContent
}

const GATHER = 700
const AGAIN = 4_000

/** Keeps the draft of a worksheet by itself, one request after the other, and says truly whether it is kept. */
export function useDraft(id: string, first: { version: number; updatedAt: number }) {
  const [state, setState] = useState<DraftState>({ is: 'kept', at: first.updatedAt })
  const [version, setVersion] = useState(first.version)
  const versionNow = useRef(first.version)
  const waiting = useRef<Draft | null>(null)
  const running = useRef<Promise<void> | null>(null)
  const timer = useRef<ReturnType<typeof setTimeout> | null>(null)

  const flush = useCallback(async (): Promise<number | null> => {
    if (timer.current) clearTimeout(timer.current)
    await running.current
    const draft = waiting.current
    if (!draft) return versionNow.current
    setState({ is: 'keeping' })
    let kept = false
    running.current = (async () => {
      try {
        const answer = await api.put<{ version: number; updatedAt: number }>(`worksheets/${id}/draft`, {
          ...draft,
          version: versionNow.current,
        })
        versionNow.current = answer.version
        setVersion(answer.version)
        kept = true
        if (waiting.current === draft) {
          waiting.current = null
          setState({ is: 'kept', at: answer.updatedAt })
        }
      } catch (error) {
        const stale = error instanceof ApiError && error.status === 409
        setState({ is: 'not kept', sentence: sentenceOf(error), stale })
        const passing = error instanceof ApiError && (error.status === 0 || error.status >= 500)
        if (passing) timer.current = setTimeout(() => void flush(), AGAIN)
      }
    })()
    await running.current
    running.current = null
    if (!kept) return null
    return waiting.current ? flush() : versionNow.current
  }, [id])

  const change = useCallback(
    (draft: Draft) => {
      waiting.current = draft
      setState((before) => (before.is === 'not kept' && before.stale ? before : { is: 'changed' }))
      if (timer.current) clearTimeout(timer.current)
      timer.current = setTimeout(() => void flush(), GATHER)
    },
    [flush],
  )

  useEffect(() => {
    const leaving = (event: BeforeUnloadEvent) => {
      if (waiting.current) event.preventDefault()
    }
    window.addEventListener('beforeunload', leaving)
    return () => {
      window.removeEventListener('beforeunload', leaving)
      void flush()
    }
  }, [flush])

  return { state, version, change, flush }
}
