import {
  type AnswerSpace,
  HERE_COLOURS,
  answerText,
  partsBetween,
  readAnswer,
  sittingsOf,
  spaceLabels,
  stepOf,
} from '@gavrin/core'
import { useQueryClient } from '@tanstack/react-query'
import { useCallback, useEffect, useMemo, useRef, useState } from 'react'
import Button from 'react-bootstrap/Button'
import Form from 'react-bootstrap/Form'
import { Link, useParams } from 'react-router'
import type { SignedIn } from '../frame/session'
import { type CopyPageData, useCopy } from '../copy/queries'
import { useCopySheet } from '../copy/useCopySheet'
import { AnswerView } from '../sheet/AnswerView'
import { Sheet } from '../sheet/Sheet'
import { SheetContext } from '../sheet/surroundings'
import { Loaded } from '../ui/Loaded'
import { Notice } from '../ui/Notice'
import { inkName } from '../ui/inks'
import { exactTime, timeInWords } from '../ui/time'
import { BringBack, type BroughtBack } from './BringBack'
import { ComparedAnswer } from './ComparedAnswer'
import { HistoryLines } from './HistoryLines'
import { TimeBar } from './TimeBar'
import type { PageThen } from './pages'
import { type HistoryRead, useHistory } from './queries'
import { useReplay } from './useReplay'
import { STEP_WORDS, shortLabel } from './words'
import '../copy/copy.css'
import '../presence/presence.css'
import './history.css'

/** How a copy came to be what it is. */
export default function HistoryPage({ person }: { readonly person: SignedIn }) {
  const { copyId = '' } = useParams()
  return <Loaded query={useCopy(copyId)}>{(copy) => <Opened key={copy.id} copy={copy} person={person} />}</Loaded>
}

function Opened({ copy, person }: { readonly copy: CopyPageData; readonly person: SignedIn }) {
  const query = useHistory(copy)
  const [done, setDone] = useState<readonly BroughtBack[] | null>(null)
  useEffect(() => {
    document.title = `History of ${copy.worksheetTitle} – Gavrin`
  }, [copy.worksheetTitle])
  return (
    <div className="copy-page history-page" data-ink={inkName(copy.ink)}>
      <header className="copy-line">
        <Link to={`/copies/${copy.id}`} className="back" aria-label="Back to the copy">
          ←
        </Link>
        <div className="copy-title">
          <h1>History of {copy.worksheetTitle}</h1>
          <span className="soft">
            {copy.class} · {copy.holders.join(', ')}
          </span>
        </div>
      </header>
      <Loaded query={query}>
        {(history) => <Replayed key={query.dataUpdatedAt} {...{ copy, history, person, done, setDone }} />}
      </Loaded>
    </div>
  )
}

interface Props {
  readonly copy: CopyPageData
  readonly history: HistoryRead
  readonly person: SignedIn
  /** What was brought back last, and can be taken back. */
  readonly done: readonly BroughtBack[] | null
  readonly setDone: (done: readonly BroughtBack[] | null) => void
}

function Replayed({ copy, history, person, done, setDone }: Props) {
  const client = useQueryClient()
  const { moments, steps, people, spaces } = history
  const replay = useReplay(history)
  const { at, page, other, goTo, compareWith, isPlaying, play } = replay
  const labels = useMemo(() => spaceLabels(copy.content), [copy.content])
  const lines = useMemo(() => sittingsOf(moments, steps), [moments, steps])
  const passed = useMemo(() => lines.flatMap((line) => (line.is === 'step' ? [line] : [])), [lines])
  const names = useMemo(() => new Map(people.map(({ id, name }) => [id, name])), [people])
  const nameOf = useCallback(
    (id: string | null) => (id === person.id ? 'You' : ((id && names.get(id)) ?? 'Somebody else')),
    [names, person.id],
  )
  const last = moments.length
  const current = at > 0 ? moments[at - 1]! : null
  const deed = current && stepOf(current, steps)
  const writtenIn = current && spaces.some(({ id }) => id === current.space) ? current.space : null
  const words =
    current === null
      ? 'As it was given: nothing is written yet'
      : deed
        ? `${STEP_WORDS[deed.kind]}: ${shortLabel(labels.get(current.space))}`
        : `${nameOf(current.personId)} wrote in ${shortLabel(labels.get(current.space))}`
  const [follows, setFollows] = useState(true)
  useFollowing(follows && at < last ? writtenIn : null, at)
  useKeys(replay, last)
  const surroundings = useCopySheet(copy, null, 0)
  const colours = new Map(people.map(({ id }, index) => [id, index % HERE_COLOURS]))
  const [wanted, setWanted] = useState<{ readonly answers: readonly BroughtBack[]; readonly isBack: boolean } | null>(
    null,
  )

  /** How many changes an answer had had by then. */
  const countOf = (space: string, until: number) =>
    moments.slice(0, until).findLast((moment) => moment.space === space)?.count ?? 0
  const mayBring = history.mayBringBack && at < last && !isPlaying && other === null
  const now = useMemo(() => (mayBring ? history.newPages().after(last) : null), [history, last, mayBring])
  // What can be brought back is what was other then.
  const others = now
    ? spaces.filter((space) => partsBetween(space, now.get(space.id)!, page.get(space.id)!).length > 0)
    : []
  const broughtBack = (some: readonly AnswerSpace[]): BroughtBack[] =>
    some.map((space) => ({
      space: space.id,
      label: labels.get(space.id) ?? '',
      becomesEmpty: !textIn(space, page),
      isEmpty: !textIn(space, now!),
      count: countOf(space.id, at),
    }))
  const [earlier, later] = other && other.at > at ? [page, other.page] : [other?.page ?? page, page]

  return (
    <>
      <main className="history-body">
        <div className="history-sheet">
          {done && (
            <Notice kind="plain">
              {done.length === 1 ? 'The answer is' : `${done.length} answers are`} brought back, as a step of its own.{' '}
              <Button variant="link" onClick={() => setWanted({ answers: done, isBack: true })}>
                Take that back
              </Button>
            </Notice>
          )}
          <SheetContext value={surroundings}>
            <Sheet
              content={copy.content}
              ink={copy.ink}
              answer={(space, label) =>
                other ? (
                  <ComparedAnswer
                    space={space}
                    label={label}
                    before={earlier.get(space.id)!}
                    after={later.get(space.id)!}
                  />
                ) : (
                  <AnswerView space={space} doc={page.get(space.id)!} label={label} />
                )
              }
              under={(space) => (
                <>
                  {space.id === writtenIn && !other && (
                    <span className={`writes-here here-${colours.get(current!.personId) ?? 0}`}>
                      {nameOf(current!.personId)}
                    </span>
                  )}
                  {others.includes(space) && (
                    <span className="bring-one-back">
                      <span className="soft">
                        {!textIn(space, page) ? 'Written in since.' : textIn(space, now!) ? 'Other now.' : 'Empty now.'}
                      </span>{' '}
                      <Button
                        size="sm"
                        variant="link"
                        onClick={() => setWanted({ answers: broughtBack([space]), isBack: false })}
                      >
                        {textIn(space, page) ? 'Bring this back' : 'Make it empty again'}
                      </Button>
                    </span>
                  )}
                </>
              )}
            />
          </SheetContext>
        </div>
        <HistoryLines lines={lines} labels={labels} nameOf={nameOf} at={at} goTo={goTo} />
      </main>
      <footer className="history-bar">
        <div className="history-acts">
          <Button
            size="sm"
            variant="outline-dark"
            aria-label="To the beginning"
            onClick={() => goTo(0)}
            disabled={at === 0}
          >
            «
          </Button>
          <Button size="sm" variant="outline-dark" onClick={() => goTo(at - 1)} disabled={at === 0}>
            Earlier
          </Button>
          <Button size="sm" variant="outline-dark" onClick={() => play(!isPlaying)} disabled={last === 0}>
            {isPlaying ? 'Pause' : 'Play'}
          </Button>
          <Button size="sm" variant="outline-dark" onClick={() => goTo(at + 1)} disabled={at === last}>
            Later
          </Button>
          <Button
            size="sm"
            variant="outline-dark"
            aria-label="To the end"
            onClick={() => goTo(last)}
            disabled={at === last}
          >
            »
          </Button>
          <span className="history-now" role="status" aria-live={isPlaying ? 'off' : 'polite'}>
            <bdi>{words}</bdi>
            {current && (
              <span className="soft" title={exactTime(current.at)}>
                {' '}
                · {timeInWords(current.at)}
              </span>
            )}
            {at === last && last > 0 && <span className="soft"> · the last that was written</span>}
          </span>
          <Form.Check
            id="history-follow"
            label="Follow the writing"
            checked={follows}
            onChange={({ target }) => setFollows(target.checked)}
          />
          {other === null ? (
            <Button size="sm" variant="outline-dark" onClick={() => compareWith(at)} disabled={last === 0}>
              Compare from here
            </Button>
          ) : (
            <Button size="sm" variant="outline-dark" onClick={() => compareWith(null)}>
              Compare no more
            </Button>
          )}
          {others.length > 1 && (
            <Button
              size="sm"
              variant="outline-dark"
              onClick={() => setWanted({ answers: broughtBack(others), isBack: false })}
            >
              Bring all {others.length} back
            </Button>
          )}
        </div>
        {other !== null && (
          <div className="soft">
            Compared with {momentWords(history, other.at)}: <ins>what came</ins>, <del>what went</del>.{' '}
            {other.at === at && 'Go to another moment.'}
          </div>
        )}
        <TimeBar {...{ history, passed, at, words, goTo }} other={other?.at ?? null} />
      </footer>
      {wanted && (
        <BringBack
          copyId={copy.id}
          answers={wanted.answers}
          when={momentWords(history, at)}
          isBack={wanted.isBack}
          close={() => setWanted(null)}
          done={async (changed) => {
            setWanted(null)
            setDone(wanted.isBack || changed.length === 0 ? null : changed)
            await client.invalidateQueries({ queryKey: ['history', copy.id] })
          }}
        />
      )}
    </>
  )
}

const textIn = (space: AnswerSpace, page: PageThen): string => answerText(space, readAnswer(space, page.get(space.id)!))

const momentWords = ({ moments }: HistoryRead, at: number) =>
  at === 0 ? 'the copy as it was given' : timeInWords(moments[at - 1]!.at)

/** Brings into view what is being written. */
function useFollowing(space: string | null, at: number): void {
  useEffect(() => {
    if (space === null) return
    const element =
      document.getElementById(`space-${space}`) ?? document.querySelector(`[data-space="${CSS.escape(space)}"]`)
    element?.scrollIntoView({ block: 'nearest' })
  }, [space, at])
}

/** Left and right go a moment, Home and End to the ends, Space plays. */
function useKeys({ at, goTo, isPlaying, play }: ReturnType<typeof useReplay>, last: number): void {
  const latest = useRef({ at, goTo, isPlaying, play, last })
  useEffect(() => {
    latest.current = { at, goTo, isPlaying, play, last }
  })
  useEffect(() => {
    const pressed = (event: KeyboardEvent) => {
      const { target, key, ctrlKey, altKey, metaKey } = event
      if (ctrlKey || altKey || metaKey) return
      // A field, the bar itself and a dialog have keys of their own, and a button has the space bar.
      const taken = key === ' ' ? 'button, a, input, [role="dialog"]' : 'input, textarea, select, [role="dialog"]'
      if (target instanceof Element && target.closest(taken)) return
      const { at: now, goTo: go, isPlaying: plays, play: begin, last: end } = latest.current
      const acts: Readonly<Record<string, () => void>> = {
        ArrowLeft: () => go(now - 1),
        ArrowRight: () => go(now + 1),
        Home: () => go(0),
        End: () => go(end),
        ' ': () => begin(!plays),
      }
      const act = acts[key]
      if (!act) return
      event.preventDefault()
      act()
    }
    document.addEventListener('keydown', pressed)
    return () => document.removeEventListener('keydown', pressed)
  }, [])
}
