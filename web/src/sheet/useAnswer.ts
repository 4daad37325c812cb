import { type AnswerSpace, type AnswerValue, readAnswer } from '@gavrin/core'
import { useCallback, useSyncExternalStore } from 'react'
import type * as Y from 'yjs'

// Read once for each state of a document. Forgotten by a listener of its own, not by the component's: a change may come
// between the first drawing and the component's listening.
const values = new WeakMap<Y.Doc, AnswerValue>()
const watched = new WeakSet<Y.Doc>()

function valueOf(space: AnswerSpace, doc: Y.Doc): AnswerValue {
  if (!watched.has(doc)) {
    watched.add(doc)
    doc.on('update', () => values.delete(doc))
  }
  let value = values.get(doc)
  if (!value) values.set(doc, (value = readAnswer(space, doc)))
  return value
}

/** What stands in an answer space now, renewed as it is written. */
export function useAnswer(space: AnswerSpace, doc: Y.Doc): AnswerValue {
  const subscribe = useCallback(
    (listener: () => void) => {
      doc.on('update', listener)
      return () => doc.off('update', listener)
    },
    [doc],
  )
  const value = () => valueOf(space, doc)
  return useSyncExternalStore(subscribe, value, value)
}
