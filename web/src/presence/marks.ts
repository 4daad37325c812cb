import {
  type AnswerKind,
  type Letters,
  type PersonHere,
  type WorksheetContent,
  answerSpaces,
  lettersOf,
  offsetAt,
} from '@gavrin/core'
import { useEffect, useMemo, useRef, useState } from 'react'
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

/** An answer as it is on the page now. */
interface Place {
  readonly element: Element
  readonly answer: HTMLElement | null
  readonly letters: Letters
}

/** Where people are, each answer looked at once: a class may be in one. */
function marksOf(people: readonly PersonHere[], sheet: HTMLElement, { kinds, docOf }: Page): Mark[] {
  const origin = sheet.getBoundingClientRect()
  const places = new Map<string, Place | null>()
  const placeOf = (space: string): Place | null => {
    const known = places.get(space)
    if (known !== undefined) return known
    const kind = kinds.get(space)
    const element = kind ? spaceElement(sheet, space) : null
    const place =
      kind && element ? { element, answer: answerElement(element), letters: lettersOf(kind, docOf(space)) } : null
    places.set(space, place)
    return place
  }
  return people.flatMap((person): Mark[] => {
    const { space, at } = person
    const place = space === null ? null : placeOf(space)
    if (!place) return []
    const { element, answer, letters } = place
    const offset = at === null ? null : offsetAt(letters, at)
    const caret = answer && offset !== null ? caretBox(answer, offset) : null
    const box = caret ?? (answer ?? element).getBoundingClientRect()
    return [
      {
        person,
        left: box.left - origin.left - sheet.clientLeft,
        top: box.top - origin.top - sheet.clientTop,
        height: caret?.height ?? 0,
      },
    ]
  })
}

/** The least between two looks at where everybody is, in milliseconds: they glide from one to the next. */
const APART = 100

/** Where the others who write in a copy are on its sheet now; drawn again as they write, and as the sheet grows. */
export function useMarks(
  people: readonly PersonHere[],
  sheet: HTMLElement | null,
  content: WorksheetContent,
  docOf: ((space: string) => Y.Doc) | null,
): readonly Mark[] {
  const [marks, setMarks] = useState<readonly Mark[]>([])
  const measuredAt = useRef(-APART)
  const kinds = useMemo(() => new Map(answerSpaces(content).map(({ id, kind }) => [id, kind])), [content])
  useEffect(() => {
    const others = people.filter(({ isSelf, space }) => !isSelf && space !== null)
    if (!sheet || !docOf || others.length === 0) return setMarks([])
    let timer: ReturnType<typeof setTimeout> | null = null
    let frame = 0
    const measure = () => {
      timer = null
      measuredAt.current = performance.now()
      setMarks(marksOf(others, sheet, { kinds, docOf }))
    }
    const changed = () => {
      const wait = Math.max(0, measuredAt.current + APART - performance.now())
      timer ??= setTimeout(() => (frame = requestAnimationFrame(measure)), wait)
    }
    changed()
    const docs = [...new Set(others.map(({ space }) => space!))].filter((space) => kinds.has(space)).map(docOf)
    for (const doc of docs) doc.on('update', changed)
    const resized = typeof ResizeObserver === 'undefined' ? null : new ResizeObserver(changed)
    resized?.observe(sheet)
    return () => {
      if (timer) clearTimeout(timer)
      cancelAnimationFrame(frame)
      for (const doc of docs) doc.off('update', changed)
      resized?.disconnect()
    }
  }, [people, sheet, kinds, docOf])
  return marks
}
