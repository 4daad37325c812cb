import { type AnswerSpace, type Points, agrees, listName, markOf, pointsFrom, pointsInWords } from '@gavrin/core'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useCallback, useEffect, useMemo, useRef, useState } from 'react'
import { createPortal } from 'react-dom'
import { Button, Form } from 'react-bootstrap'
import { Link, useParams, useSearchParams } from 'react-router'
import type { Answers } from '../contract'
import type { SignedIn } from '../frame/session'
import { Loaded } from '../ui/Loaded'
import { Notice } from '../ui/Notice'
import { SheetMark } from '../ui/SheetMark'
import { api } from '../ui/api'
import { inkName } from '../ui/inks'
import { useStored } from '../ui/useStored'
import { ByQuestion } from './ByQuestion'
import { CopyToMark, type Proposals } from './CopyToMark'
import { HandBackDialog } from './HandBackDialog'
import { MarkSlip, finishing } from './MarkSlip'
import type { PenMode } from './PenLayer'
import { PenTools } from './PenTools'
import { PointsField, nextPoints } from './PointsField'
import { type Changing, type MarkedCopy, type Marks, marksKey, stateOf, useChanging, useMarks } from './queries'
import { usePen } from './usePen'
import './marking.css'

type Board = Answers['GET handouts/{handoutId}/board']

/** Marking the copies of a handout: one after the other, or question by question. */
export function MarkingPage({ person }: { readonly person: SignedIn }) {
  const { handoutId = '' } = useParams()
  const marks = useMarks(handoutId)
  const board = useQuery({
    queryKey: ['board', handoutId],
    queryFn: () => api.get<Board>(`handouts/${handoutId}/board`),
  })
  return (
    <Loaded query={board}>
      {(found) => (
        <Loaded query={marks}>
          {(read) => <Marking key={handoutId} {...{ person, marks: read, board: found }} />}
        </Loaded>
      )}
    </Loaded>
  )
}

/** Those to be marked first, then those that are, then those who have not submitted. */
const GROUPS = ['To mark', 'Marked', 'Handed back', 'Not submitted'] as const
type Group = (typeof GROUPS)[number]

function groupOf(copy: MarkedCopy): Group {
  const state = stateOf(copy)
  if (state === 'submitted') return 'To mark'
  if (state === 'handed back') return 'Handed back'
  // Opened again to be improved it is awaited.
  return copy.isDone && copy.back.length === 0 ? 'Marked' : 'Not submitted'
}

function Marking({ person, marks, board }: { person: SignedIn; marks: Marks; board: Board }) {
  const { handout } = board
  const [search, setSearch] = useSearchParams()
  const isByQuestion = search.get('by') === 'question'
  const changing = useChanging(handout.id)
  const [isNamed, setNamed] = useStored('marking named', true)
  const [answersOnly, setAnswersOnly] = useStored('marking answers only', true)
  const [isHandingBack, setHandingBack] = useState(false)
  const [penPlace, setPenPlace] = useState<HTMLElement | null>(null)
  const copies = marks.copies
  const count = (group: Group) => copies.filter((copy) => groupOf(copy) === group).length
  const ready = copies.filter((copy) => copy.isDone && copy.state !== 'handed back').length
  useEffect(() => {
    document.title = `Marking No. ${handout.number} ${handout.title} – Gavrin`
  }, [handout.number, handout.title])
  const base = `/class/${handout.classId}/handouts/${handout.id}`
  if (marks.way.kind === 'not marked')
    return (
      <main className="marking">
        <div className="empty">
          <h2>This handout is not marked</h2>
          <p>
            Its slip says so. Say there how it is marked, and hand it out again: nothing else of the copies changes.
          </p>
          <Link className="btn btn-primary" to={`/class/${handout.classId}/slip/${handout.id}`}>
            Edit the slip
          </Link>
        </div>
      </main>
    )
  return (
    <main className="marking" data-ink={inkName(handout.ink)}>
      <div className="marking-head">
        <span className="slab number">No. {handout.number}</span>
        <h1>
          <Link to={base}>{handout.title}</Link>
        </h1>
        <span className="tabs-line">
          <button
            type="button"
            className={isByQuestion ? '' : 'active'}
            onClick={() => setSearch({}, { replace: true })}
          >
            By student
          </button>
          <button
            type="button"
            className={isByQuestion ? 'active' : ''}
            onClick={() => setSearch({ by: 'question' }, { replace: true })}
          >
            By question
          </button>
        </span>
        <span className="soft">
          {count('Marked') + count('Handed back')} of {copies.length} marked
        </span>
        {!isByQuestion && (
          <Form.Check
            type="switch"
            id="marking-answers-only"
            label="Answers only"
            checked={answersOnly}
            onChange={({ target }) => setAnswersOnly(target.checked)}
          />
        )}
        <Form.Check
          type="switch"
          id="marking-named"
          label="Names"
          checked={isNamed}
          onChange={({ target }) => setNamed(target.checked)}
        />
        <span ref={setPenPlace} />
        <span className="page-acts">
          {changing.undo && (
            <Button size="sm" variant="link" onClick={changing.undo}>
              Undo
            </Button>
          )}
          {marks.mayHandBack && (
            <Button variant="outline-dark" onClick={() => setHandingBack(true)}>
              See the hand-back: {ready} ready
            </Button>
          )}
        </span>
      </div>
      {changing.isAway && (
        <Notice kind="look">
          Not saved yet: Gavrin cannot be reached at the moment. What you mark is kept as soon as it can be; leave this
          page open.
        </Notice>
      )}
      {changing.problem && (
        <Notice kind="bad">
          {changing.problem}{' '}
          <Button variant="link" onClick={changing.forget}>
            Close
          </Button>
        </Notice>
      )}
      {isByQuestion ? (
        <ByQuestion {...{ marks, board, changing, isNamed }} />
      ) : (
        <ByStudent {...{ person, marks, board, changing, isNamed, answersOnly, penPlace }} />
      )}
      {isHandingBack && (
        <HandBackDialog
          handout={handout}
          copies={copies}
          isSaving={changing.isSaving}
          close={() => setHandingBack(false)}
        />
      )}
    </main>
  )
}

interface ByStudentProps {
  readonly person: SignedIn
  readonly marks: Marks
  readonly board: Board
  readonly changing: Changing
  readonly isNamed: boolean
  readonly answersOnly: boolean
  /** In the head: where the tools of the pen stand. */
  readonly penPlace: HTMLElement | null
}

function ByStudent({ person, marks, board, changing, isNamed, answersOnly, penPlace }: ByStudentProps) {
  const handoutId = board.handout.id
  const shares = useMemo(
    () => new Map(board.rows.map(({ copyId, answered, spaces }) => [copyId, spaces ? answered / spaces : 0])),
    [board.rows],
  )
  const { way, mayMark } = marks
  const [search, setSearch] = useSearchParams()
  const [isFolded, setFolded] = useState(false)
  const [proposed, setProposed] = useState<Readonly<Record<string, Proposals>>>({})
  const propose = useCallback(
    (copyId: string, proposals: Proposals) => setProposed((before) => ({ ...before, [copyId]: proposals })),
    [],
  )
  const named = useMemo(() => namesOf(marks.copies, isNamed), [marks.copies, isNamed])
  // As it was when the page was opened, so that nothing jumps while one marks; who submits meanwhile comes after.
  const order = useOrder(marks.copies)
  const wanted = search.get('copy')
  const at = Math.max(
    0,
    order.findIndex(({ copyId }) => copyId === wanted),
  )
  const copy = order[at]
  const go = useCallback(
    (to: MarkedCopy | undefined) => to && setSearch({ copy: to.copyId }, { replace: true }),
    [setSearch],
  )
  const unmarked = (from: number) => {
    const turned = [...order.slice(from + 1), ...order.slice(0, from)]
    return turned.find((one) => groupOf(one) === 'To mark')
  }
  const next = copy && (unmarked(at) ?? order[at + 1])
  const [penMode, setPenMode] = useState<PenMode>(null)
  const pen = usePen(copy?.copyId ?? '')
  const client = useQueryClient()
  const latestFinish = useRef<() => void>(() => undefined)
  useKeys({
    ArrowDown: () => go(order[at + 1]),
    ArrowUp: () => go(order[at - 1]),
    u: () => go(unmarked(at)),
    f: () => setFolded((before) => !before),
    m: () => document.querySelector<HTMLElement>('.mark-total input')?.focus(),
    p: () => firstOpen()?.focus(),
    Escape: () => setPenMode(null),
    Done: () => latestFinish.current(),
  })
  if (!copy)
    return (
      <div className="empty">
        <h2>No copies to mark</h2>
      </div>
    )
  const proposals = (mayMark && proposed[copy.copyId]) || NO_PROPOSALS
  const finish = () => {
    // What is being typed is kept first.
    if (document.activeElement instanceof HTMLElement) document.activeElement.blur()
    const now = client.getQueryData<Marks>(marksKey(handoutId))?.copies.find((one) => one.copyId === copy.copyId)
    if (!now) return
    const { taking, isEnough } = finishing(way, now, proposals)
    if (!now.isDone && !isEnough) return firstOpen()?.focus()
    if (!now.isDone) void changing.change([{ copyId: copy.copyId, changes: taking, done: true }])
    go(next)
  }
  latestFinish.current = finish
  return (
    <div className="marking-body">
      <nav className="marking-list" aria-label="Copies">
        {GROUPS.map((group) => {
          const own = order.filter((one) => groupOf(one) === group)
          if (own.length === 0) return null
          return (
            <section key={group} aria-label={`${group}, ${own.length}`}>
              <h2>
                {group}, {own.length}
              </h2>
              {own.map((one) => (
                <ListLine
                  key={one.copyId}
                  copy={one}
                  way={way}
                  name={named.get(one.copyId)!}
                  share={shares.get(one.copyId) ?? 0}
                  isChosen={one === copy}
                  choose={() => go(one)}
                />
              ))}
            </section>
          )
        })}
      </nav>
      <div className="marking-copies">
        {penPlace &&
          createPortal(
            <PenTools mode={penMode} choose={setPenMode} undo={pen.undo} error={pen.error} isAway={pen.isAway} />,
            penPlace,
          )}
        {[...new Set([copy, next, order[at + 1], order[at - 1]])]
          .flatMap((one) => one ?? [])
          .map((one, place) => (
            <CopyToMark
              key={one.copyId}
              copyId={one.copyId}
              person={person}
              answersOnly={answersOnly}
              whose={named.get(one.copyId)!}
              isNext={place > 0}
              pen={place === 0 ? { mode: penMode, draw: pen.draw, remove: pen.remove } : null}
              propose={propose}
              points={(space, label, proposal) =>
                place === 0 ? <SpacePoints {...{ space, label, proposal, copy: one, mayMark, changing }} /> : null
              }
            />
          ))}
      </div>
      <MarkSlip
        handoutId={handoutId}
        me={person.id}
        way={way}
        copy={copy}
        whose={named.get(copy.copyId)!}
        mayMark={mayMark}
        proposals={proposals}
        isFolded={isFolded}
        fold={() => setFolded(!isFolded)}
        change={(wish) => changing.change([{ copyId: copy.copyId, ...wish }])}
        finish={finish}
        said={<Said copy={copy} isSaving={changing.isSaving} isAway={changing.isAway} />}
      />
    </div>
  )
}

const NO_PROPOSALS: Proposals = {}

/** The first place for points in which none stand; else the first of all. */
function firstOpen(): HTMLElement | null {
  const all = [...document.querySelectorAll<HTMLElement>('[data-points]')].filter((one) => one.offsetParent !== null)
  const isOpen = (one: HTMLElement) =>
    one instanceof HTMLInputElement ? one.value === '' : one.getAttribute('aria-checked') === 'false'
  return all.find(isOpen) ?? all[0] ?? null
}

/** Copies by their group and in it by name, as they stood first; later ones after. */
function useOrder(copies: readonly MarkedCopy[]): readonly MarkedCopy[] {
  const places = useRef(new Map<string, number>())
  return useMemo(() => {
    const by = (one: MarkedCopy) => GROUPS.indexOf(groupOf(one))
    const name = (one: MarkedCopy) => (one.holders.length === 1 ? listName(one.holders[0]!) : one.title)
    for (const copy of copies.toSorted((a, b) => by(a) - by(b) || name(a).localeCompare(name(b))))
      if (!places.current.has(copy.copyId)) places.current.set(copy.copyId, places.current.size)
    return copies.toSorted((a, b) => places.current.get(a.copyId)! - places.current.get(b.copyId)!)
  }, [copies])
}

/** What copies are called in the list: by whose they are, or without names by their place in an order that tells nothing. */
function namesOf(copies: readonly MarkedCopy[], isNamed: boolean): ReadonlyMap<string, string> {
  if (isNamed)
    return new Map(
      copies.map((copy) => [copy.copyId, copy.holders.length === 1 ? listName(copy.holders[0]!) : copy.title]),
    )
  const byId = copies.toSorted((a, b) => a.copyId.localeCompare(b.copyId))
  return new Map(byId.map((copy, at) => [copy.copyId, `Copy ${at + 1}`]))
}

function ListLine({
  copy,
  way,
  name,
  share,
  isChosen,
  choose,
}: {
  readonly copy: MarkedCopy
  readonly way: Marks['way']
  readonly name: string
  readonly share: number
  readonly isChosen: boolean
  readonly choose: () => void
}) {
  const mark = markOf(way, copy.spaces, copy.parts, copy.daysLate)
  const line = useRef<HTMLButtonElement>(null)
  useEffect(() => {
    if (isChosen) line.current?.scrollIntoView({ block: 'nearest' })
  }, [isChosen])
  return (
    <button
      ref={line}
      type="button"
      className={isChosen ? 'list-copy chosen' : 'list-copy'}
      aria-current={isChosen}
      onClick={choose}
    >
      <SheetMark state={stateOf(copy)} share={share} />
      <span className="list-name">
        <bdi>{name}</bdi>
      </span>
      <span className="list-mark">
        {copy.readings.some((one) => !agrees(one.first, one) && agrees(one.first, mark)) && (
          <span className="reading-apart" title="A second reading says otherwise">
            ≠{' '}
          </span>
        )}
        {copy.isDone || mark.excused ? (
          <span className="slab">
            {mark.excused ? 'excused' : (mark.step ?? (mark.total === null ? '' : pointsInWords(mark.total)))}
          </span>
        ) : copy.daysLate > 0 ? (
          <span className="late">late {copy.daysLate} d</span>
        ) : null}
      </span>
    </button>
  )
}

function SpacePoints({
  space,
  label,
  proposal,
  copy,
  mayMark,
  changing,
}: {
  readonly space: AnswerSpace
  readonly label: string
  readonly proposal: Points | null
  readonly copy: MarkedCopy
  readonly mayMark: boolean
  readonly changing: Changing
}) {
  if (!copy.spaces.some(({ id }) => id === space.id)) return null
  const was = copy.parts.spaces[space.id] ?? null
  return (
    <PointsField
      className="space-points"
      label={`Points for ${label || 'this answer'}`}
      value={was}
      proposal={mayMark ? proposal : null}
      most={pointsFrom(space.points ?? 0)}
      disabled={!mayMark}
      change={(to) =>
        void changing.change([{ copyId: copy.copyId, changes: [{ of: 'space', space: space.id, was, to }] }])
      }
      next={nextPoints}
    />
  )
}

/** Who marked it last, what was handed back, and what has become of the copy since. */
function Said({
  copy,
  isSaving,
  isAway,
}: {
  readonly copy: MarkedCopy
  readonly isSaving: boolean
  readonly isAway: boolean
}) {
  const looked = copy.back.filter(({ lookedAt }) => lookedAt !== null).length
  const lines = [
    copy.doneAt !== null &&
      !copy.isDone &&
      copy.state === 'submitted' &&
      'It was submitted again after it was marked: look at what is new.',
    copy.state === 'taken back' && copy.changed && 'It was taken back after the marking began; what is marked stays.',
    copy.back.length > 0 && `Handed back; ${looked} of ${copy.back.length} looked.`,
    copy.changed && !isSaving && `Last marked by ${copy.changed.by}.`,
    isSaving && !isAway && 'Saving …',
  ].filter(Boolean)
  if (lines.length === 0) return null
  return (
    <div className="mark-row mark-said soft" role="status">
      {lines.join(' ')}
    </div>
  )
}

/** Keys while nothing is typed; Ctrl and Enter anywhere. */
function useKeys(keys: Readonly<Record<string, () => void>>): void {
  const latest = useRef(keys)
  useEffect(() => {
    latest.current = keys
  })
  useEffect(() => {
    const pressed = (event: KeyboardEvent) => {
      const on = event.target as HTMLElement
      // What somebody else has taken: a remark that is kept by the same keys may be gone from the page by now.
      if (event.defaultPrevented || on.closest('.modal, .margin')) return
      if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) {
        event.preventDefault()
        return latest.current['Done']?.()
      }
      if (event.ctrlKey || event.altKey || event.metaKey) return
      if (on.closest('input:not([type="checkbox"]), textarea, select, [contenteditable], [role="radiogroup"]')) return
      const act = latest.current[event.key]
      if (!act) return
      event.preventDefault()
      act()
    }
    document.addEventListener('keydown', pressed)
    return () => document.removeEventListener('keydown', pressed)
  }, [])
}
