import { fullName, type KeptThread, includes } from '@gavrin/core'
import {
  type ReactNode,
  useCallback,
  useEffect,
  useLayoutEffect,
  useMemo,
  useRef,
  useState,
  useSyncExternalStore,
} from 'react'
import Button from 'react-bootstrap/Button'
import { useSearchParams } from 'react-router'
import type { CopyPageData } from '../copy/queries'
import type { SignedIn } from '../frame/session'
import type { CopyView, OpenCopy } from '../live/openCopy'
import { CommentForm, oncePlaced } from './CommentForm'
import { ThreadNote } from './ThreadNote'
import { type Place, useMarkedWords, usePlaces } from './places'
import type { Target } from './queries'
import { stackNotes } from './stack'
import { anchorWords, useTarget } from './targets'
import { useComments } from './useComments'
import './comment.css'

export interface CommentMarginProps {
  readonly data: CopyPageData
  readonly person: SignedIn
  readonly opened: { copy: OpenCopy; view: CopyView }
  readonly sheet: HTMLElement | null
  /** On small screens it is a sheet from below, that is opened and closed. */
  readonly isOpen: boolean
  readonly setOpen: (isOpen: boolean) => void
  /** How many there are, and how many of them are new. */
  readonly count: (all: number, fresh: number) => void
  /** It is beside a copy that is marked: what is said is a remark first, unseen until it is handed back. */
  readonly isMarking?: boolean
}

/** What is being written: the first comment on something. */
interface Writing {
  readonly kind: KeptThread['kind']
  readonly target: Target
}

const WRITING = 'writing'
/** With which keys a question, or a comment, is begun from where one is writing. */
const KEYS: Readonly<Record<string, KeptThread['kind']>> = { F8: 'question', F9: 'comment' }
const WORDS: Readonly<Record<KeptThread['kind'], readonly [on: string, send: string]>> = {
  comment: ['Comment on', 'Comment'],
  question: ['Ask about', 'Ask'],
  remark: ['Remark on', 'Keep the remark'],
}

/** The margin of a copy: what is said of it, beside what it is said of. */
export default function CommentMargin(props: CommentMarginProps) {
  const { data, person, opened, sheet, isOpen, setOpen, count, isMarking = false } = props
  const { copy, view } = opened
  const isBeside = useIsBeside()
  const self = { id: person.id, name: fullName(person), seenAt: null }
  const { threads, acts, mayAsk, people } = useComments(data.id, person, opened, isOpen || isBeside)
  // A new generation has new documents.
  // oxlint-disable-next-line react/exhaustive-deps
  const docOf = useCallback((space: string) => copy.doc(space), [copy, view.generation])
  const target = useTarget(sheet, data.content, docOf)
  const [writing, setWriting] = useState<Writing | null>(null)
  const placed = useMemo(
    () => (writing ? [...threads, { id: WRITING, anchor: writing.target.anchor }] : threads),
    [threads, writing],
  )
  const places = usePlaces(placed, sheet, data.content, docOf)
  const [chosen, setChosen] = useChosen(places)
  useMarkedWords(threads, places, chosen)
  useWordsClicked(sheet, places, setChosen)
  const mayComment = view.ready && includes(view.permission, 'comment')
  const begin = useCallback(
    (kind: KeptThread['kind']) => {
      setWriting({ kind, target })
      setOpen(true)
    },
    [target, setOpen],
  )
  // Beside what is marked the key of a question, which its teachers have no use for, begins a remark.
  useKeys((kind) =>
    isMarking && kind === 'question'
      ? mayComment && begin('remark')
      : (kind === 'question' ? mayAsk : mayComment) && begin(kind),
  )

  const standing = threads.filter(({ done }) => done === null).length
  const fresh = threads.reduce((sum, { comments }) => sum + comments.filter(({ isNew }) => isNew).length, 0)
  useEffect(() => count(standing, fresh), [count, standing, fresh])

  const notes: { id: string; shown: ReactNode }[] = threads.map((thread) => ({
    id: thread.id,
    shown: (
      <ThreadNote
        thread={thread}
        about={anchorWords(thread.anchor, data.content)}
        isGone={places.get(thread.id)?.isGone ?? false}
        isChosen={chosen === thread.id}
        choose={() => setChosen(thread.id)}
        lookAt={() => places.get(thread.id)?.element?.scrollIntoView({ block: 'nearest' })}
        acts={acts}
        people={people}
        self={self}
      />
    ),
  }))
  if (writing)
    notes.push({
      id: WRITING,
      shown: (
        <div className={writing.kind === 'question' ? 'note-written asked' : 'note-written'}>
          <CommentForm
            label={`${WORDS[writing.kind][0]} ${writing.target.words}`}
            send={WORDS[writing.kind][1]}
            withStock={writing.kind === 'remark'}
            people={people}
            mayHide={writing.kind === 'question'}
            done={(text, staffOnly) => {
              setChosen(acts.begin(writing.target, writing.kind, staffOnly, text))
              setWriting(null)
            }}
            leave={() => setWriting(null)}
          />
        </div>
      ),
    })
  return (
    <aside className={isOpen ? 'margin open' : 'margin'} aria-label="Comments">
      <div className="margin-head">
        {isMarking && mayComment && <Begin kind="remark" words="Remark" begin={begin} />}
        {mayComment && <Begin kind="comment" words="Comment" begin={begin} />}
        {mayAsk && <Begin kind="question" words="Ask the teacher" begin={begin} />}
        {(mayComment || mayAsk) && <span className="margin-target soft">about {target.words}</span>}
        <Button size="sm" variant="link" className="margin-close" onClick={() => setOpen(false)}>
          Close
        </Button>
      </div>
      {threads.length === 0 && !writing && (
        <p className="soft margin-empty">
          {isMarking
            ? 'No remarks yet. Mark words in an answer, and remark on them.'
            : mayComment || mayAsk
              ? 'Nothing is said here yet. Mark words or stand in an answer, and say something about it.'
              : 'Nothing is said here.'}
        </p>
      )}
      <Notes notes={notes} places={places} sheet={sheet} />
    </aside>
  )
}

/** Where there is room beside the page, as the styles say too. */
const BESIDE = '(min-width: 1100px)'

/** Whether the margin stands beside the page, and is not a sheet from below that is opened. */
function useIsBeside(): boolean {
  return useSyncExternalStore(
    (changed) => {
      const media = matchMedia(BESIDE)
      media.addEventListener('change', changed)
      return () => media.removeEventListener('change', changed)
    },
    () => matchMedia(BESIDE).matches,
  )
}

function Begin({
  kind,
  words,
  begin,
}: {
  readonly kind: KeptThread['kind']
  readonly words: string
  readonly begin: (kind: KeptThread['kind']) => void
}) {
  return (
    <Button
      size="sm"
      variant="outline-dark"
      title={
        kind === 'comment'
          ? 'Key: F9. Seen at once by whoever sees the copy'
          : kind === 'remark'
            ? 'Key: F8. Unseen until it is handed back'
            : 'Key: F8'
      }
      // What is marked stays marked.
      onMouseDown={(event) => event.preventDefault()}
      onClick={() => begin(kind)}
    >
      {words}
    </Button>
  )
}

/** The thread that is looked at; the address can name it. */
function useChosen(places: ReadonlyMap<string, Place>) {
  const [search] = useSearchParams()
  const named = search.get('said')
  const [chosen, setChosen] = useState<string | null>(named)
  const isThere = named !== null && places.has(named)
  useEffect(() => {
    if (!isThere) return
    return oncePlaced(() => document.getElementById(`said-${named}`)?.scrollIntoView({ block: 'center' }))
  }, [isThere, named])
  return [chosen, setChosen] as const
}

/** Words that are clicked on choose what is said of them. */
function useWordsClicked(
  sheet: HTMLElement | null,
  places: ReadonlyMap<string, Place>,
  choose: (id: string) => void,
): void {
  useEffect(() => {
    if (!sheet) return
    const clicked = ({ clientX, clientY }: MouseEvent) => {
      const isAt = ({ left, right, top, bottom }: DOMRect) =>
        clientX >= left && clientX <= right && clientY >= top && clientY <= bottom
      for (const [id, { range }] of places) if (range && [...range.getClientRects()].some(isAt)) return choose(id)
    }
    sheet.addEventListener('click', clicked)
    return () => sheet.removeEventListener('click', clicked)
  }, [sheet, places, choose])
}

function useKeys(begin: (kind: KeptThread['kind']) => void): void {
  const latest = useRef(begin)
  useEffect(() => {
    latest.current = begin
  })
  useEffect(() => {
    const pressed = (event: KeyboardEvent) => {
      const kind = KEYS[event.key]
      if (!kind || event.ctrlKey || event.altKey || event.metaKey || event.shiftKey) return
      event.preventDefault()
      latest.current(kind)
    }
    document.addEventListener('keydown', pressed)
    return () => document.removeEventListener('keydown', pressed)
  }, [])
}

interface NotesProps {
  readonly notes: readonly { readonly id: string; readonly shown: ReactNode }[]
  readonly places: ReadonlyMap<string, Place>
  readonly sheet: HTMLElement | null
}

/** Notes beside what they are about, none over another. On small screens they stand in a list, in the order of the page. */
function Notes({ notes, places, sheet }: NotesProps) {
  const list = useRef<HTMLDivElement>(null)
  // A note that is being pressed stays where it is until it is let go.
  const isPressed = useRef(false)
  const [stacked, setStacked] = useState(() => stackNotes([]))
  const order = useMemo(
    () => notes.toSorted((one, other) => (places.get(one.id)?.top ?? 0) - (places.get(other.id)?.top ?? 0)),
    [notes, places],
  )
  const key = order.map(({ id }) => id).join()
  useLayoutEffect(() => {
    const element = list.current
    if (!element || !sheet) return
    const measure = () => {
      const offset = sheet.getBoundingClientRect().top - element.getBoundingClientRect().top
      const next = stackNotes(
        [...element.children].map((note) => {
          const id = (note as HTMLElement).dataset['note']!
          return { id, wanted: (places.get(id)?.top ?? 0) + offset, height: (note as HTMLElement).offsetHeight }
        }),
      )
      setStacked((before) =>
        before.end === next.end && [...next.tops].every(([id, top]) => before.tops.get(id) === top) ? before : next,
      )
    }
    const place = () => {
      if (!isPressed.current) measure()
    }
    place()
    const resized = typeof ResizeObserver === 'undefined' ? null : new ResizeObserver(place)
    for (const note of element.children) resized?.observe(note)
    // Once the click has gone where it was aimed.
    const letGo = () =>
      setTimeout(() => {
        isPressed.current = false
        measure()
      })
    window.addEventListener('pointerup', letGo)
    window.addEventListener('pointercancel', letGo)
    return () => {
      resized?.disconnect()
      window.removeEventListener('pointerup', letGo)
      window.removeEventListener('pointercancel', letGo)
    }
  }, [key, places, sheet])
  return (
    <div
      ref={list}
      className="margin-notes"
      style={{ minHeight: stacked.end }}
      onPointerDown={() => (isPressed.current = true)}
    >
      {order.map(({ id, shown }) => (
        <div
          key={id}
          data-note={id}
          id={`said-${id}`}
          className="margin-note"
          style={{ top: stacked.tops.get(id) ?? 0 }}
        >
          {shown}
        </div>
      ))}
    </div>
  )
}
