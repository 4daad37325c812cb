import { type WorksheetContent, answerSpaces, lettersOf, positionAt } from '@gavrin/core'
import { useEffect } from 'react'
import { stretchOf } from '../comment/letters'
import { answerElement } from '../comment/targets'
import type { OpenCopy } from '../live/openCopy'
import type { Here } from '../live/whereabouts'

/** Tells the others who have a copy open where one writes in it, and when one looks elsewhere. */
export function useWhere(copy: OpenCopy | null, sheet: HTMLElement | null, content: WorksheetContent): void {
  useEffect(() => {
    if (!copy || !sheet) return
    const kinds = new Map(answerSpaces(content).map(({ id, kind }) => [id, kind]))
    const look = (): Here => {
      const away = document.hidden
      const active = document.activeElement
      const place = active && sheet.contains(active) ? active.closest('[id^="space-"]') : null
      const space = place?.id.slice('space-'.length) ?? null
      const kind = space === null ? undefined : kinds.get(space)
      if (!place || space === null || !kind || away) return { space: null, at: null, away }
      const offset = caretIn(place)
      const letters = offset === null ? null : lettersOf(kind, copy.doc(space))
      const at = letters && (positionAt(letters, offset!, 'before') ?? positionAt(letters, offset!, 'after'))
      return { space, at, away }
    }
    const changed = () => copy.stand(look)
    document.addEventListener('selectionchange', changed)
    sheet.addEventListener('focusin', changed)
    sheet.addEventListener('focusout', changed)
    sheet.addEventListener('input', changed)
    document.addEventListener('visibilitychange', changed)
    changed()
    return () => {
      document.removeEventListener('selectionchange', changed)
      sheet.removeEventListener('focusin', changed)
      sheet.removeEventListener('focusout', changed)
      sheet.removeEventListener('input', changed)
      document.removeEventListener('visibilitychange', changed)
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
