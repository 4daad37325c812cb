import { type DraftState as Draft, isSame, mergeDrafts } from '@gavrin/core'
import { useCallback, useEffect, useRef, useState } from 'react'
import { ApiError, api, sentenceOf } from '../ui/api'
import type { WorksheetOpened } from '../worksheets/queries'

/** Whether what stands on the page is kept on the server as the draft. */
export type DraftState =
  | { readonly is: 'kept'; readonly at: number }
  | { readonly is: 'changed' }
  | { readonly is: 'keeping' }
  | { readonly is: 'not kept'; readonly sentence: string; readonly stale: boolean }

export interface DraftEnds {
  /** The draft as it stands on the page now. */
  readonly read: () => Draft
  /** Shows a draft that somebody else changed too; `both`: blocks that both changed. */
  readonly show: (draft: Draft, both: readonly string[]) => void
}

const GATHER = 700
const AGAIN = 4_000
/** Two authors keep their drafts in turns; more turns than this and something is wrong. */
const TURNS = 8

/**
 * Keeps the draft of a worksheet by itself, one request after the other, and says truly whether it is kept. What another
 * author kept meanwhile is put together with it, block by block.
 */
export function useDraft(worksheet: WorksheetOpened, ends: DraftEnds) {
  const { id } = worksheet
  const [state, setState] = useState<DraftState>({ is: 'kept', at: worksheet.updatedAt })
  const [version, setVersion] = useState(worksheet.version)
  const endsNow = useRef(ends)
  useEffect(() => {
    endsNow.current = ends
  })
  const base = useRef<Draft>({ title: worksheet.title, content: worksheet.draft })
  const versionNow = useRef(worksheet.version)
  const isDirty = useRef(false)
  const line = useRef<Promise<unknown>>(Promise.resolve())
  const timer = useRef<ReturnType<typeof setTimeout> | null>(null)
  const flushNow = useRef<() => Promise<number | null>>(() => Promise.resolve(null))

  /** Reads what the others kept, and puts it together with what stands here. */
  const takeIn = useCallback(async () => {
    const theirs = await api.get<WorksheetOpened>(`worksheets/${id}`)
    if (theirs.version <= versionNow.current) return
    const mine = endsNow.current.read()
    const other: Draft = { title: theirs.title, content: theirs.draft }
    const { both, ...merged } = mergeDrafts(base.current, mine, other)
    // That both changed a block is said, though mine stands there already.
    if (both.length > 0 || !isSame(merged, mine)) endsNow.current.show(merged, both)
    base.current = other
    versionNow.current = theirs.version
    setVersion(theirs.version)
    isDirty.current = !isSame(merged, other)
    if (!isDirty.current) setState({ is: 'kept', at: theirs.updatedAt })
  }, [id])

  const keep = useCallback(async (): Promise<number | null> => {
    for (let turn = 0; isDirty.current && turn < TURNS; turn++) {
      setState({ is: 'keeping' })
      isDirty.current = false
      const draft = endsNow.current.read()
      try {
        const kept = await api.put<{ version: number; updatedAt: number }>(`worksheets/${id}/draft`, {
          ...draft,
          version: versionNow.current,
        })
        base.current = draft
        versionNow.current = kept.version
        setVersion(kept.version)
        if (!isDirty.current) setState({ is: 'kept', at: kept.updatedAt })
      } catch (error) {
        isDirty.current = true
        const stale = error instanceof ApiError && error.code === 'changed-meanwhile'
        try {
          if (stale) {
            await takeIn()
            continue
          }
        } catch {
          // Said below, as what was not kept.
        }
        setState({ is: 'not kept', sentence: sentenceOf(error), stale })
        const passing = error instanceof ApiError && (error.status === 0 || error.status >= 500)
        if (passing) timer.current = setTimeout(() => void flushNow.current(), AGAIN)
        return null
      }
    }
    return isDirty.current ? null : versionNow.current
  }, [id, takeIn])

  /** Keeps what is not kept yet; the version that is kept then, or null if it could not be. */
  const flush = useCallback((): Promise<number | null> => {
    if (timer.current) clearTimeout(timer.current)
    const mine = line.current.then(keep)
    line.current = mine.catch(() => undefined)
    return mine
  }, [keep])
  useEffect(() => {
    flushNow.current = flush
  }, [flush])

  /** Something on the page was changed. */
  const change = useCallback(() => {
    isDirty.current = true
    setState((before) => (before.is === 'changed' ? before : { is: 'changed' }))
    if (timer.current) clearTimeout(timer.current)
    timer.current = setTimeout(() => void flushNow.current(), GATHER)
  }, [])

  /** Somebody kept a draft of this version; null: perhaps. */
  const changedElsewhere = useCallback(
    (other: number | null) => {
      if (other !== null && other <= versionNow.current) return
      line.current = line.current
        .then(async () => {
          if (other !== null && other <= versionNow.current) return
          await takeIn()
          if (isDirty.current) timer.current = setTimeout(() => void flushNow.current(), GATHER)
        })
        .catch(() => undefined)
    },
    [takeIn],
  )

  useEffect(() => {
    const leaving = (event: BeforeUnloadEvent) => {
      if (isDirty.current) event.preventDefault()
    }
    window.addEventListener('beforeunload', leaving)
    return () => {
      window.removeEventListener('beforeunload', leaving)
      void flushNow.current()
    }
  }, [])

  return { state, version, change, flush, changedElsewhere }
}
