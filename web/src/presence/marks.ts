import {
  type AnswerKind,
  type PersonHere,
  type WorksheetContent,
  answerSpaces,
  lettersOf,
  offsetAt,
} from '@gavrin/core'
import { useEffect, useMemo, useState } from 'react'
import type * as Y from 'yjs'
import { rangeOf } from '../comment/letters'
import { answerElement, spaceElement } from '../comment/targets'

/** Where somebody else is on the sheet, in pixels from its upper left corner. */
export interface Mark {
  readonly person: PersonHere
  readonly left: number
  readonly top: number
  /** Of the caret; 0: nothing is known but the answer space. */
  readonly height: number
}

/** The box of a caret after so many letters of a field; the field's own letters are not in the page. */
function caretInField(field: HTMLInputElement, offset: number): DOMRect {
  const style = getComputedStyle(field)
  const box = field.getBoundingClientRect()
  const pen = document.createElement('canvas').getContext('2d')
  // The short form is empty where figures are set apart.
  if (pen) pen.font = `${style.fontStyle} ${style.fontWeight} ${style.fontSize} ${style.fontFamily}`
  const width = pen?.measureText(field.value.slice(0, offset)).width ?? 0
  const indent = Number.parseFloat(style.paddingLeft) + Number.parseFloat(style.borderLeftWidth)
  const isRightToLeft = style.direction === 'rtl'
  const along = indent + width - (isRightToLeft ? -field.scrollLeft : field.scrollLeft)
  const left = isRightToLeft ? box.right - along : box.left + along
  const line = Math.min(box.height - 8, Number.parseFloat(style.lineHeight) || 22)
  return new DOMRect(Math.min(Math.max(left, box.left), box.right), box.top + (box.height - line) / 2, 0, line)
}

function caretBox(answer: HTMLElement, offset: number): DOMRect | null {
  if (answer instanceof HTMLInputElement) return caretInField(answer, offset)
  // Beside the letter before it, where there is one: at the end of a line that is where it is seen.
  const range = offset > 0 ? rangeOf(answer, { from: offset - 1, to: offset }) : rangeOf(answer, { from: 0, to: 1 })
  const boxes = range && [...range.getClientRects()]
  const box = boxes && (offset > 0 ? boxes.at(-1) : boxes[0])
  return box ? new DOMRect(offset > 0 ? box.right : box.left, box.top, 0, box.height) : null
}

interface Page {
  readonly kinds: ReadonlyMap<string, AnswerKind>
  readonly docOf: (space: string) => Y.Doc
}

function markOf(person: PersonHere, sheet: HTMLElement, { kinds, docOf }: Page): Mark[] {
  const { space, at } = person
  const kind = space === null ? undefined : kinds.get(space)
  const element = space === null ? null : spaceElement(sheet, space)
  if (space === null || !kind || !element) return []
  const answer = answerElement(element)
  const offset = at === null ? null : offsetAt(lettersOf(kind, docOf(space)), at)
  const caret = answer && offset !== null ? caretBox(answer, offset) : null
  const box = caret ?? (answer ?? element).getBoundingClientRect()
  const origin = sheet.getBoundingClientRect()
  return [
    {
      person,
      left: box.left - origin.left - sheet.clientLeft,
      top: box.top - origin.top - sheet.clientTop,
      height: caret?.height ?? 0,
    },
  ]
}

/** Where the others who write in a copy are on its sheet now; drawn again as they write, and as the sheet grows. */
export function useMarks(
  people: readonly PersonHere[],
  sheet: HTMLElement | null,
  content: WorksheetContent,
  docOf: ((space: string) => Y.Doc) | null,
): readonly Mark[] {
  const [marks, setMarks] = useState<readonly Mark[]>([])
  const kinds = useMemo(() => new Map(answerSpaces(content).map(({ id, kind }) => [id, kind])), [content])
  useEffect(() => {
    const others = people.filter(({ isSelf, space }) => !isSelf && space !== null)
    if (!sheet || !docOf || others.length === 0) return setMarks([])
    let waiting = 0
    const measure = () => {
      waiting = 0
      setMarks(others.flatMap((person) => markOf(person, sheet, { kinds, docOf })))
    }
    const changed = () => {
      waiting ||= requestAnimationFrame(measure)
    }
    changed()
    const docs = [...new Set(others.map(({ space }) => space!))].filter((space) => kinds.has(space)).map(docOf)
    for (const doc of docs) doc.on('update', changed)
    const resized = typeof ResizeObserver === 'undefined' ? null : new ResizeObserver(changed)
    resized?.observe(sheet)
    return () => {
      if (waiting) cancelAnimationFrame(waiting)
      for (const doc of docs) doc.off('update', changed)
      resized?.disconnect()
    }
  }, [people, sheet, kinds, docOf])
  return marks
}
