import { type SlipBlank, type SlipConflict, type SlipText, isSame, mergeSlips, putBlank } from '@gavrin/core'
import { useCallback, useEffect, useRef, useState } from 'react'
import { ApiError, api, sentenceOf } from '../ui/api'
import type { SlipData } from './queries'
import type { Answers, Bodies } from '../contract'

export type SlipState =
  | { readonly is: 'new' }
  | { readonly is: 'kept'; readonly at: number | null }
  | { readonly is: 'keeping' }
  | { readonly is: 'not kept'; readonly sentence: string }
  /** Others changed the same: nothing is kept until it is settled. */
  | { readonly is: 'to settle'; readonly conflicts: readonly SlipConflict[] }

const GATHER = 800

/** The slip as it is being written, kept on the server by itself from its first change on. */
export function useSlip(
  classId: string,
  data: SlipData,
  first: SlipText,
  { onBegun, onMerged }: { onBegun: (id: string) => void; onMerged: () => void },
) {
  const [slip, setSlip] = useState(first)
  const [state, setState] = useState<SlipState>(data.id ? { is: 'kept', at: null } : { is: 'new' })
  const known = useRef({ id: data.id, version: data.version })
  const chosenId = useRef(crypto.randomUUID() as string)
  const latest = useRef(first)
  /** As the server has it, as far as is known here: what both sides' changes are told by. */
  const base = useRef(first)
  const toSettle = useRef(false)
  const [taken, setTaken] = useState<readonly SlipBlank[]>([])
  const dirty = useRef(false)
  const running = useRef<Promise<void>>(Promise.resolve())
  const timer = useRef<ReturnType<typeof setTimeout> | null>(null)
  const begun = useRef(onBegun)
  begun.current = onBegun
  const merged = useRef(onMerged)
  merged.current = onMerged

  /** Takes over what others changed meanwhile, and says what both did. */
  const merge = useCallback(async (id: string) => {
    const theirs = await api.get<SlipData>(`handouts/${id}`)
    const kept: SlipText = { title: theirs.title, statement: theirs.statement! }
    const { slip: together, taken: news, conflicts } = mergeSlips(base.current, latest.current, kept)
    known.current = { id, version: theirs.version }
    base.current = kept
    latest.current = together
    dirty.current = !isSame(together, kept)
    toSettle.current = conflicts.length > 0
    setSlip(together)
    setTaken(news)
    setState(conflicts.length > 0 ? { is: 'to settle', conflicts } : { is: 'kept', at: Date.now() })
    merged.current()
  }, [])

  /** Keeps what is not kept yet; the handout's id and version, or null if it could not be kept. */
  const flush = useCallback(
    async (always = false): Promise<{ id: string; version: number } | null> => {
      if (timer.current) clearTimeout(timer.current)
      let failed = false
      running.current = running.current.then(async () => {
        if (toSettle.current || (!dirty.current && !(always && known.current.id === null))) return
        const sent = latest.current
        setState({ is: 'keeping' })
        try {
          if (known.current.id === null) {
            // The id is chosen here: sent twice, or over a reload, it is one slip.
            begun.current(chosenId.current)
            const made = await api.post<Answers['POST classes/{classId}/handouts']>(`classes/${classId}/handouts`, {
              id: chosenId.current,
              ...sent,
            } satisfies Bodies['POST classes/{classId}/handouts'])
            known.current = { id: made.id, version: made.version }
            // It had come, though its answer had not: what is here now is kept over it.
            if (made.wasThere) return
          } else {
            const { id, version } = known.current
            const kept = await api.put<Answers['PUT handouts/{handoutId}']>(`handouts/${id}`, {
              ...sent,
              version,
            } satisfies Bodies['PUT handouts/{handoutId}'])
            known.current = { id, version: kept.version }
          }
          base.current = sent
          if (latest.current === sent) dirty.current = false
          setState({ is: 'kept', at: Date.now() })
        } catch (error) {
          const { id } = known.current
          if (id !== null && error instanceof ApiError && error.code === 'changed-meanwhile') {
            try {
              return await merge(id)
            } catch (other) {
              failed = true
              return setState({ is: 'not kept', sentence: sentenceOf(other) })
            }
          }
          failed = true
          setState({ is: 'not kept', sentence: sentenceOf(error) })
        }
      })
      await running.current
      if (failed || toSettle.current || known.current.id === null) return null
      return dirty.current ? flush() : { id: known.current.id, version: known.current.version }
    },
    [classId, merge],
  )

  const change = useCallback(
    (next: SlipText) => {
      latest.current = next
      dirty.current = true
      setSlip(next)
      if (timer.current) clearTimeout(timer.current)
      timer.current = setTimeout(() => void flush(), GATHER)
    },
    [flush],
  )

  /** Takes theirs where it is wished, mine elsewhere, and keeps it. */
  const settle = useCallback(
    (theirs: readonly SlipConflict[]) => {
      toSettle.current = false
      change(theirs.reduce((now, { name, of, theirs: value }) => putBlank(now, { name, of, value }), latest.current))
      void flush()
    },
    [change, flush],
  )

  useEffect(
    () => () => {
      void flush()
    },
    [flush],
  )

  return { slip, state, change, flush, settle, taken, seen: () => setTaken([]) }
}
