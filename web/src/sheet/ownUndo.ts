import { type AnswerKind, openRoot } from '@gavrin/core'
import type { KeyboardEvent } from 'react'
import * as Y from 'yjs'

const histories = new WeakMap<Y.Doc, Y.UndoManager>()

/**
 * What was done to an answer in this window, to be undone: one's own acts only, whatever others wrote in between. One for each
 * document; it outlives the field.
 * @param gather acts within so many milliseconds are one
 */
export function ownHistory(doc: Y.Doc, kind: AnswerKind, gather: number): Y.UndoManager {
  let history = histories.get(doc)
  if (!history) histories.set(doc, (history = new Y.UndoManager(openRoot(doc, kind), { captureTimeout: gather })))
  return history
}

/** Letters typed in one go are undone in one go. */
export const TYPED = 500

/** Undo and redo by their usual keys. */
export function undoByKey(event: KeyboardEvent, history: Y.UndoManager): void {
  if (!(event.ctrlKey || event.metaKey) || event.altKey) return
  const key = event.key.toLowerCase()
  if (key === 'z') {
    event.preventDefault()
    if (event.shiftKey) history.redo()
    else history.undo()
  } else if (key === 'y' && !event.shiftKey) {
    event.preventDefault()
    history.redo()
  }
}
