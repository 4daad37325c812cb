import { type WorksheetContent, answerSpaces, lettersOf, positionAt } from '@gavrin/core'
import { useEffect } from 'react'
import { stretchOf } from '../comment/letters'
import { answerElement } from '../comment/targets'
import type { OpenCopy } from '../live/openCopy'

/** Tells the others who have a copy open where one writes in it, and when one looks elsewhere. */
export function useWhere(copy: OpenCopy | null, sheet: HTMLElement | null, content: WorksheetContent): void {
  useEffect(() => {
    if (!copy || !sheet) return
    const kinds = new Map(answerSpaces(content).map(({ id, kind }) => [id, kind]))
    let waiting = 0
    const look = () => {
      waiting = 0
      const away = document.hidden
      const active = document.activeElement
      const place = active && sheet.contains(active) ? active.closest('[id^="space-"]') : null
      const space = place?.id.slice('space-'.length) ?? null
      const kind = space === null ? undefined : kinds.get(space)
      if (!place || space === null || !kind || away) return copy.stand({ space: null, at: null, away })
      const offset = caretIn(place)
      const letters = offset === null ? null : lettersOf(kind, copy.doc(space))
      const at = letters && (positionAt(letters, offset!, 'before') ?? positionAt(letters, offset!, 'after'))
      copy.stand({ space, at, away })
    }
    const changed = () => {
      waiting ||= requestAnimationFrame(look)
    }
    // A window out of sight draws no frames.
    const hidden = () => look()
    document.addEventListener('selectionchange', changed)
    sheet.addEventListener('focusin', changed)
    sheet.addEventListener('focusout', changed)
    sheet.addEventListener('input', changed)
    document.addEventListener('visibilitychange', hidden)
    look()
    return () => {
      if (waiting) cancelAnimationFrame(waiting)
      document.removeEventListener('selectionchange', changed)
      sheet.removeEventListener('focusin', changed)
      sheet.removeEventListener('focusout', changed)
      sheet.removeEventListener('input', changed)
      document.removeEventListener('visibilitychange', hidden)
    }
  }, [copy, sheet, content])
}

/** How many letters of an answer stand before the caret; null: there is none in letters. */
function caretIn(place: Element): number | null {
  const active = document.activeElement
  if (active instanceof HTMLInputElement) return active.type === 'text' ? active.selectionEnd : null
  const answer = answerElement(place)
  const selection = document.getSelection()
  if (!answer || !selection?.focusNode || !answer.contains(selection.focusNode)) return null
  const caret = document.createRange()
  caret.setStart(selection.focusNode, selection.focusOffset)
  return stretchOf(answer, caret).from
}
