import { type AnswerSpace, type AnswerValue, readAnswer } from '@gavrin/core'
import { useCallback, useRef, useSyncExternalStore } from 'react'
import type * as Y from 'yjs'

/** What stands in an answer space now, renewed as it is written. */
export function useAnswer(space: AnswerSpace, doc: Y.Doc): AnswerValue {
  const last = useRef<{ doc: Y.Doc; value: AnswerValue } | null>(null)
  const subscribe = useCallback(
    (listener: () => void) => {
      const changed = () => {
        last.current = null
        listener()
      }
      doc.on('update', changed)
      return () => doc.off('update', changed)
    },
    [doc],
  )
  return useSyncExternalStore(subscribe, () => {
    if (last.current?.doc !== doc) last.current = { doc, value: readAnswer(space, doc) }
    return last.current.value
  })
}
