import { type AnswerKind, openRoot } from '@gavrin/core'
import * as Y from 'yjs'

const histories = new WeakMap<Y.Doc, Y.UndoManager>()
/** The answer space that a history is of. */
const spaces = new WeakMap<Y.UndoManager, string>()

/** Of each act on the sheet the history that it is in, in the order they were done; and those undone, to be done again. */
const done: Y.UndoManager[] = []
const undone: Y.UndoManager[] = []
/** More than anybody undoes one by one. */
const MOST = 2_000

/**
 * What was done to an answer in this window, to be undone: one's own acts only, whatever others wrote in between. One for each
 * document; it outlives the field.
 * @param gather acts within so many milliseconds are one
 */
export function ownHistory(
  doc: Y.Doc,
  { id, kind }: { readonly id: string; readonly kind: AnswerKind },
  gather: number,
): Y.UndoManager {
  let history = histories.get(doc)
  if (!history) {
    histories.set(doc, (history = new Y.UndoManager(openRoot(doc, kind), { captureTimeout: gather })))
    inOrder(history, id)
  }
  return history
}

/** From here on the acts of a history are undone in their turn among those in the other answers of the sheet. */
export function inOrder(history: Y.UndoManager, space: string): void {
  if (spaces.has(history)) return
  spaces.set(history, space)
  history.on('stack-item-added', () => {
    if (history.undoing || history.redoing) return
    // What is written elsewhere in between is between in the order too: nothing is gathered over it.
    const last = done.at(-1)
    if (last !== history) last?.stopCapturing()
    done.push(history)
    if (done.length > MOST) done.shift()
    for (const other of undone.splice(0)) if (other !== history) other.clear(false, true)
  })
}

/** Letters typed in one go are undone in one go. */
export const TYPED = 500

/** Undoes the last act in one answer. */
export function undoIn(history: Y.UndoManager): void {
  const at = done.lastIndexOf(history)
  if (at >= 0) done.splice(at, 1)
  if (history.undo()) undone.push(history)
}

/** Does again what was undone last in one answer. */
export function redoIn(history: Y.UndoManager): void {
  const at = undone.lastIndexOf(history)
  if (at >= 0) undone.splice(at, 1)
  if (history.redo()) done.push(history)
}

const isThere = (history: Y.UndoManager, stack: readonly unknown[]) => !history.doc.isDestroyed && stack.length > 0

/** Undoes the last act on the sheet, in whichever answer it was, and goes there. */
export function undoLast(): void {
  for (let history = done.pop(); history; history = done.pop()) {
    // Of a page that was left, or brought to nothing by what others wrote since.
    if (!isThere(history, history.undoStack) || !history.undo()) continue
    undone.push(history)
    return goTo(history)
  }
}

/** Does again what was undone last on the sheet, and goes there. */
export function redoLast(): void {
  for (let history = undone.pop(); history; history = undone.pop()) {
    if (!isThere(history, history.redoStack) || !history.redo()) continue
    done.push(history)
    return goTo(history)
  }
}

/** To the answer where something was undone, unless one is there: to see it, and go on from it. */
function goTo(history: Y.UndoManager): void {
  const place = document.getElementById(`space-${spaces.get(history)}`)
  if (!place || place.contains(document.activeElement)) return
  place.querySelector<HTMLElement>('[contenteditable=true], textarea, input, svg[tabindex], button')?.focus()
}

/** Undo and redo by their usual keys; whether it was one of them. */
export function undoByKey(
  event: Pick<KeyboardEvent, 'key' | 'ctrlKey' | 'metaKey' | 'altKey' | 'shiftKey' | 'preventDefault'>,
): boolean {
  if (!(event.ctrlKey || event.metaKey) || event.altKey) return false
  const key = event.key.toLowerCase()
  if (key !== 'z' && (key !== 'y' || event.shiftKey)) return false
  event.preventDefault()
  if (key === 'z' && !event.shiftKey) undoLast()
  else redoLast()
  return true
}
