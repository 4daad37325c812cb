import {
  type Anchor,
  type AnswerSpace,
  type WorksheetContent,
  anchorAtWords,
  answerSpaces,
  isSame,
  spaceLabel,
  wordsAt,
} from '@gavrin/core'
import { useEffect, useState } from 'react'
import type * as Y from 'yjs'
import { lettersIn, stretchOf } from './letters'
import type { Target } from './queries'

/** Letters of words and of what an answer is called, where there is little room. */
const QUOTED = 32

const LABELLED = 44

function shortened(words: string, most: number): string {
  const plain = words.replace(/\s+/g, ' ').trim()
  if (plain.length <= most) return plain
  const space = plain.lastIndexOf(' ', most)
  return `${plain.slice(0, space > most / 2 ? space : most)} …`
}

/** The whole copy, where nothing in it is meant. */
export const WHOLE: Target = { anchor: { is: 'copy' }, words: 'the whole copy' }

/** What something is said of, in a few words. */
export function anchorWords(anchor: Anchor, content: WorksheetContent): string {
  switch (anchor.is) {
    case 'copy':
      return 'the whole copy'
    case 'space':
      return shortened(spaceLabel(content, anchor.space) || 'an answer', LABELLED)
    case 'words':
    case 'print':
      return `“${shortened(anchor.words, QUOTED)}”`
  }
}

/** The element of an answer space in a sheet. */
export const spaceElement = (sheet: Element, space: string): Element | null =>
  sheet.querySelector(`[id="space-${CSS.escape(space)}"]`)

/** Where the letters of an answer are: in a field to write in, or in what is read. */
export const answerElement = (space: Element): HTMLElement | null => space.querySelector<HTMLElement>('.answer')

interface Page {
  readonly content: WorksheetContent
  readonly spaces: ReadonlyMap<string, AnswerSpace>
  readonly docOf: (space: string) => Y.Doc
}

/** What is marked, or written in, on a sheet; null: nothing of it. */
function targetIn(sheet: Element, { content, spaces, docOf }: Page): Target | null {
  const active = document.activeElement
  const selection = document.getSelection()
  const range = selection && selection.rangeCount > 0 ? selection.getRangeAt(0) : null
  const at =
    active && sheet.contains(active) && active !== document.body ? active : (range?.commonAncestorContainer ?? null)
  const element = at instanceof Element ? at : (at?.parentElement ?? null)
  if (!element || !sheet.contains(element)) return null
  const place = element.closest('[id^="space-"]')
  if (place) {
    const id = place.id.slice('space-'.length)
    const space = spaces.get(id)
    if (!space) return null
    const stretch = markedIn(place, active, range)
    const words = stretch && anchorAtWords({ space: id, kind: space.kind }, docOf(id), stretch)
    const anchor: Anchor = words ?? { is: 'space', space: id }
    return { anchor, words: anchorWords(anchor, content) }
  }
  const block = element.closest('[data-block]')
  if (!block || !range || range.collapsed) return null
  const { from, to } = stretchOf(block, range)
  const words = wordsAt(lettersIn(block), from, to)
  if (!words) return null
  const anchor: Anchor = { is: 'print', block: block.getAttribute('data-block')!, from, ...words }
  return { anchor, words: anchorWords(anchor, content) }
}

/** Which letters of an answer are marked; null: none. */
function markedIn(place: Element, active: Element | null, range: Range | null): { from: number; to: number } | null {
  const answer = answerElement(place)
  // What is marked in points beside the answer is none of it.
  if (active instanceof HTMLInputElement && answer?.contains(active)) {
    const { selectionStart: from, selectionEnd: to } = active
    return from !== null && to !== null && from < to ? { from, to } : null
  }
  if (!answer || !range || range.collapsed || !range.intersectsNode(answer)) return null
  const stretch = stretchOf(answer, range)
  return stretch.from < stretch.to ? stretch : null
}

/**
 * What a comment that is begun now would be about: what was last marked or written in on the sheet; else the whole copy. Going to the
 * margin to write it leaves it as it is.
 */
export function useTarget(
  sheet: HTMLElement | null,
  content: WorksheetContent,
  docOf: ((space: string) => Y.Doc) | null,
): Target {
  const [target, setTarget] = useState<Target>(WHOLE)
  useEffect(() => {
    if (!sheet || !docOf) return
    let waiting = 0
    const spaces = new Map(answerSpaces(content).map((space) => [space.id, space]))
    const look = () => {
      waiting = 0
      const active = document.activeElement
      // In the margin, or elsewhere on the page.
      if (active && active !== document.body && !sheet.contains(active)) return
      const selection = document.getSelection()
      const isHere = selection?.anchorNode && sheet.contains(selection.anchorNode)
      if (!isHere && !(active && sheet.contains(active))) return
      const next = targetIn(sheet, { content, spaces, docOf }) ?? WHOLE
      // Where one goes on writing it is the same with every key.
      setTarget((before) => (isSame(before.anchor, next.anchor) ? before : next))
    }
    const changed = () => {
      waiting ||= requestAnimationFrame(look)
    }
    document.addEventListener('selectionchange', changed)
    sheet.addEventListener('focusin', changed)
    // What was marked before the margin was there.
    changed()
    return () => {
      if (waiting) cancelAnimationFrame(waiting)
      document.removeEventListener('selectionchange', changed)
      sheet.removeEventListener('focusin', changed)
    }
  }, [sheet, content, docOf])
  return target
}
