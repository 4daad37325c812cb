import {
  type Anchor,
  type AnswerKind,
  type Letters,
  type WorksheetContent,
  answerSpaces,
  findWords,
  lettersOf,
  wordsNow,
} from '@gavrin/core'
import { useEffect, useMemo, useState } from 'react'
import type * as Y from 'yjs'
import { lettersIn, rangeOf } from './letters'
import type { ThreadShown } from './queries'
import { answerElement, spaceElement } from './targets'

/** Where what a thread is about stands on the sheet. */
export interface Place {
  /** Beneath the upper edge of the sheet, in pixels. */
  readonly top: number
  /** The words are gone: it stands where they were. */
  readonly isGone: boolean
  readonly range: Range | null
  readonly element: Element | null
}

interface Page {
  readonly kinds: ReadonlyMap<string, AnswerKind>
  readonly lettersOf: (space: string, kind: AnswerKind) => Letters
}

/** Reads the letters of each answer once. */
function readOnce(docOf: (space: string) => Y.Doc): Page['lettersOf'] {
  const read = new Map<string, Letters>()
  return (space, kind) => {
    const letters = read.get(space) ?? lettersOf(kind, docOf(space))
    read.set(space, letters)
    return letters
  }
}

function placeOf(anchor: Anchor, sheet: HTMLElement, { kinds, lettersOf }: Page): Place {
  const upper = sheet.getBoundingClientRect().top
  const beside = (box: DOMRect, rest: Omit<Place, 'top'>): Place => ({ top: box.top - upper, ...rest })
  if (anchor.is === 'copy') return { top: 0, isGone: false, range: null, element: null }
  if (anchor.is === 'print') {
    const element = sheet.querySelector(`[data-block="${CSS.escape(anchor.block)}"]`)
    const stretch = element && findWords(lettersIn(element), anchor, anchor.from)
    const range = stretch && rangeOf(element, stretch)
    if (!element) return { top: 0, isGone: true, range: null, element: null }
    return beside((range ?? element).getBoundingClientRect(), { isGone: !range, range, element })
  }
  const element = spaceElement(sheet, anchor.space)
  const kind = kinds.get(anchor.space)
  if (!element || !kind) return { top: 0, isGone: true, range: null, element: null }
  if (anchor.is === 'space') return beside(element.getBoundingClientRect(), { isGone: false, range: null, element })
  const stretch = wordsNow(anchor, lettersOf(anchor.space, kind))
  const answer = answerElement(element)
  const range = stretch && answer && rangeOf(answer, stretch)
  return beside((range ?? element).getBoundingClientRect(), { isGone: !stretch, range, element })
}

/** How long changes of a sheet are gathered before its places are measured again, in milliseconds. */
const GATHER = 80

/** Where what is said of stands on the sheet now: it follows the words as they are edited, and the sheet as it grows. */
export function usePlaces(
  threads: readonly Pick<ThreadShown, 'id' | 'anchor'>[],
  sheet: HTMLElement | null,
  content: WorksheetContent,
  docOf: ((space: string) => Y.Doc) | null,
): ReadonlyMap<string, Place> {
  const [places, setPlaces] = useState<ReadonlyMap<string, Place>>(new Map())
  const kinds = useMemo(() => new Map(answerSpaces(content).map(({ id, kind }) => [id, kind])), [content])
  useEffect(() => {
    if (!sheet || !docOf) return
    let timer: ReturnType<typeof setTimeout> | null = null
    const measure = () => {
      timer = null
      const page = { kinds, lettersOf: readOnce(docOf) }
      setPlaces(new Map(threads.map(({ id, anchor }) => [id, placeOf(anchor, sheet, page)])))
    }
    const changed = () => {
      timer ??= setTimeout(measure, GATHER)
    }
    measure()
    const spaces = new Set(
      threads.flatMap(({ anchor }) => (anchor.is === 'words' && kinds.has(anchor.space) ? [anchor.space] : [])),
    )
    const docs = [...spaces].map(docOf)
    for (const doc of docs) doc.on('update', changed)
    const resized = typeof ResizeObserver === 'undefined' ? null : new ResizeObserver(changed)
    resized?.observe(sheet)
    return () => {
      if (timer) clearTimeout(timer)
      for (const doc of docs) doc.off('update', changed)
      resized?.disconnect()
    }
  }, [threads, sheet, kinds, docOf])
  return places
}

/** Marks the words that something is said of, those of one thread more than the others. */
export function useMarkedWords(
  threads: readonly ThreadShown[],
  places: ReadonlyMap<string, Place>,
  chosen: string | null,
): void {
  useEffect(() => {
    if (typeof Highlight === 'undefined') return
    const rangesOf = (which: (thread: ThreadShown) => boolean) =>
      threads.filter((thread) => thread.done === null && which(thread)).flatMap(({ id }) => places.get(id)?.range ?? [])
    CSS.highlights.set('said-of', new Highlight(...rangesOf(({ kind }) => kind !== 'question')))
    CSS.highlights.set('asked-of', new Highlight(...rangesOf(({ kind }) => kind === 'question')))
    CSS.highlights.set('looked-at', new Highlight(...rangesOf(({ id }) => id === chosen)))
    return () => {
      for (const name of ['said-of', 'asked-of', 'looked-at']) CSS.highlights.delete(name)
    }
  }, [threads, places, chosen])
}
