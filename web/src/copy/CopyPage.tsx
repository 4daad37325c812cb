import {
  type AnswerSpace,
  type ProgressBySpace,
  answerSpaces,
  isOverdue,
  readAnswer,
  spaceLabels,
  spaceProgress,
} from '@gavrin/core'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { type ComponentType, Suspense, lazy, useCallback, useEffect, useMemo, useRef, useState } from 'react'
import Button from 'react-bootstrap/Button'
import { Link, useNavigate, useParams, useSearchParams } from 'react-router'
import type { OpenCopy } from '../live/openCopy'
import { useOpenCopy } from '../live/useOpenCopy'
import { Loaded } from '../ui/Loaded'
import { Notice } from '../ui/Notice'
import { heightAs } from '../ui/heightAs'
import { api, sentenceOf } from '../ui/api'
import { inkName } from '../ui/inks'
import type { Answers } from '../contract'
import type { SignedIn } from '../frame/session'
import { exactTime, readersTime, timeInWords } from '../ui/time'
import { useNow } from '../ui/useNow'
import { whenIdle } from '../ui/whenIdle'
import { AnswerField } from '../sheet/AnswerField'
import { AnswerRoom, AnswerView } from '../sheet/AnswerView'
import { NoteView } from '../ui/NoteView'
import type { CommentMarginProps } from '../comment/CommentMargin'
import '../comment/comment.css'
import { ReadingAids } from '../reading/ReadingAids'
import type { ReadingMenuProps } from '../reading/ReadingMenu'
import { useReading, worn } from '../reading/useReading'
import { useSpeech } from '../reading/useSpeech'
import { keepPage } from '../offline/keepPages'
import { PensGoDown } from '../pens/PensGoDown'
import { PeopleLine, PeopleMarks } from '../presence/PeopleHere'
import { useWhere } from '../presence/useWhere'
import { BringToLastGood } from './BringToLastGood'
import type { CopyDocumentsProps } from './CopyDocuments'
import { Checked, checkedInWords, useChecks } from './Checked'
import { HandedBack, PointsBack } from './HandedBack'
import { HandedInNotice } from './HandedInNotice'
import { Invite } from './Invite'
import { KeptAnswers } from './KeptAnswers'
import { KeptNotice } from './KeptNotice'
import { LateWritings } from './LateWritings'
import { PeerReading, ReadBy } from './PeerReading'
import { PlacesMenu } from './PlacesMenu'
import { SaveNote } from './SaveNote'
import type { Missing, SubmitAskProps } from './SubmitAsk'
import { WhoSees } from './WhoSees'
import { WritingNotices } from './WritingNotices'
import { Sheet } from '../sheet/Sheet'
import { SheetContext } from '../sheet/surroundings'
import { useCopySheet } from './useCopySheet'
import { useLeaving } from './useLeaving'
import { useSubmission } from './useSubmission'
import { type CopyPageData, useCopy } from './queries'
import './copy.css'

const fetchSubmitAsk = () => import('./SubmitAsk')
/** Where it cannot be asked, as without a connection, what was wished is done. */
const SubmitAsk = lazy<ComponentType<SubmitAskProps>>(() => fetchSubmitAsk().catch(() => ({ default: SubmitAtOnce })))

const ReadingMenu = lazy<ComponentType<ReadingMenuProps>>(() => import('../reading/ReadingMenu'))

// Only with what was handed back; where it cannot be fetched the page is there without it.
const PenBack = lazy<ComponentType<{ copyId: string; page: HTMLElement }>>(() =>
  import('./PenBack').catch(() => ({ default: () => null })),
)
const CopyDocuments = lazy<ComponentType<CopyDocumentsProps>>(() => import('./CopyDocuments'))

/** The page can be written in before its margin is there. */
const CommentMargin = lazy<ComponentType<CommentMarginProps>>(() => import('../comment/CommentMargin'))

function SubmitAtOnce({ submit }: SubmitAskProps) {
  useEffect(submit, [submit])
  return null
}

/** A copy as its holder works in it, and as others read it. */
export default function CopyPage({ person }: { readonly person: SignedIn }) {
  const { copyId = '' } = useParams()
  const query = useCopy(copyId)
  return <Loaded query={query}>{(copy) => <OpenedCopy key={copy.id} data={copy} person={person} />}</Loaded>
}

function OpenedCopy({ data, person }: { readonly data: CopyPageData; readonly person: SignedIn }) {
  const client = useQueryClient()
  const now = useNow(30_000, [data.dueAt])
  const isOwn = data.isHolder && isLearner(person)
  const opened = useOpenCopy(data.id, person.id, data.content, isOwn)
  const view = opened?.view
  const checks = useChecks(data, view)
  const permission = view?.ready ? view.permission : 'none'
  // What will be there once it is open has its room from the beginning: nothing moves.
  const expected = view?.ready || view?.closed ? permission : data.permission
  const state = view?.state ?? data.state
  // Why not more may be done, and what would change it.
  const why = view?.ready ? view.reason : data.reason
  const { answered, spaces, progress } = useProgress(data, opened?.copy ?? null, view?.generation ?? 0)
  const overdue = isOverdue({ state, dueAt: data.dueAt }, now)
  const renew = () =>
    Promise.all([
      client.invalidateQueries({ queryKey: ['copy', data.id] }),
      client.invalidateQueries({ queryKey: ['mine'] }),
    ])

  const [sheet, setSheet] = useState<HTMLElement | null>(null)
  const [reading, wishReading] = useReading(person.id)
  const speech = useSpeech(sheet, data.language || data.content.language || '', reading.pace)
  useWhere(opened?.copy ?? null, sheet, data.content)
  const [search] = useSearchParams()
  const [isMarginOpen, setMarginOpen] = useState(search.has('said'))
  const [said, setSaid] = useState({ all: 0, fresh: 0 })
  const countSaid = useCallback((all: number, fresh: number) => setSaid({ all, fresh }), [])
  const [asking, setAsking] = useState(false)
  // It is here before it is needed: by then there may be no connection.
  useEffect(() => (data.isHolder ? whenIdle([fetchSubmitAsk]) : undefined), [data.isHolder])
  const takeBack = useMutation({ mutationFn: () => api.post<unknown>(`copies/${data.id}/take-back`), onSettled: renew })
  const submitted = state === 'submitted'
  const { submission, error, wish, withdraw } = useSubmission(
    { copyId: data.id, personId: person.id, submitted },
    view ?? null,
    renew,
  )
  // The pen rests while it is being submitted, and in a space until the server has said where its last words went.
  const mayType = permission === 'edit' && submission.is === 'not wished'
  const back = isLearner(person) ? '/' : `/class/${data.classId}/handouts/${data.handoutId}`
  const leaving = useLeaving(opened?.copy ?? null, back)
  const surroundings = useCopySheet(data, opened?.copy ?? null, view?.generation ?? 0)
  const mayTakeBack = submitted && data.mayTakeBack && (data.dueAt === null || now < data.dueAt)

  const title = data.link ? data.title : data.worksheetTitle
  useEffect(() => {
    document.title = `${title} – Gavrin`
  }, [title])
  // A corrected worksheet has come, or somebody with a part of their own.
  // Or it was submitted, taken back or ended elsewhere.
  const isOther = !!view?.page && (view.page !== data.page || (view.state !== null && view.state !== data.state))
  useEffect(() => {
    if (isOther) void client.invalidateQueries({ queryKey: ['copy', data.id] })
  }, [isOther, client, data.id, view?.state])
  // One's own opens without a network too, once it was open with one.
  const form = `${data.page} ${data.state} ${data.submittedAt}`
  const isLive = view?.page === data.page
  useEffect(() => {
    if (isOwn && isLive) void keepPage(person.id, `/copies/${data.id}`, form)
  }, [isOwn, isLive, person.id, data.id, form])
  const others = useMemo(() => new Set(data.others), [data.others])
  // In a copy with places what is this person's to answer is counted beside the whole.
  const mine = data.isHolder ? answerSpaces(data.content).filter(({ id }) => !others.has(id)) : []
  const isAnswered = ({ id }: AnswerSpace) => (progress[id]?.share ?? 0) >= 1
  useOwnPlace(view?.ready === true)
  const toRead = data.way === 'to read'
  // Nothing is written any more, but what is there can still be handed in.
  const maySubmit =
    data.isHolder &&
    !toRead &&
    !data.keptFrom &&
    (expected === 'edit' || (view?.ready && data.pensDownAtDue && overdue && data.lateWork && permission === 'comment'))

  /** The answers that are this person's to give, and are empty. */
  const missing = (): Missing[] => {
    // Who says that a document is the answer has answered.
    if (data.documents.some(({ isAnswer, isOwn: isTheirs }) => isAnswer && isTheirs)) return []
    const labels = spaceLabels(data.content)
    return answerSpaces(data.content).flatMap(({ id, required }) =>
      others.has(id) || (progress[id]?.share ?? 0) > 0
        ? []
        : [{ id, label: labels.get(id) ?? '', required: required === true }],
    )
  }
  const navigate = useNavigate()
  const makeOwn = useMutation({
    mutationFn: () => api.post<Answers['POST copies/{copyId}/own']>(`copies/${data.id}/own`),
    onSuccess: async ({ copyId }) => {
      await client.invalidateQueries({ queryKey: ['mine'] })
      await navigate(`/copies/${copyId}`)
    },
  })
  const act = data.mayMakeOwn ? (
    <Button variant="outline-dark" onClick={() => makeOwn.mutate()} disabled={makeOwn.isPending}>
      A copy of my own
    </Button>
  ) : submitted ? (
    mayTakeBack && (
      <Button variant="outline-dark" onClick={() => takeBack.mutate()} disabled={takeBack.isPending}>
        Take back
      </Button>
    )
  ) : maySubmit ? (
    <Button
      onClick={() => (missing().length > 0 ? setAsking(true) : wish())}
      disabled={submission.is !== 'not wished' || !view?.ready}
    >
      {submission.is === 'not wished' ? 'Submit' : submission.is === 'waiting' ? 'Waiting to submit' : 'Submitting …'}
    </Button>
  ) : null

  const trouble = error ?? takeBack.error ?? makeOwn.error

  const about = (
    <>
      {data.number > 0 ? `No. ${data.number}` : 'Shelf'} · {data.class}
      {data.unit && ` · ${data.unit}`}
      {!toRead && (!data.isHolder || data.holders.length > 1) && ` · ${peopleInWords(data.holders)}`}
      {data.marking?.kind === 'points' && ` · ${data.marking.points} points`}
    </>
  )
  const links = (
    <>
      <Suspense
        fallback={
          <span className="reading-menu">
            <span className="btn btn-link btn-sm dropdown-toggle">Reading</span>
          </span>
        }
      >
        <ReadingMenu wishes={reading} wish={wishReading} speech={speech} />
      </Suspense>
      <PlacesMenu places={data.places} progress={progress} />
      {data.classmatesMay !== 'none' && data.way !== 'one together' && (
        <Link to={`/to/${data.handoutId}?others`}>Copies of the others</Link>
      )}
      {data.mayInvite && <Invite copyId={data.id} />}
      {data.hasHistory && !toRead && <Link to={`/copies/${data.id}/history`}>History</Link>}
    </>
  )
  return (
    <div className="copy-page" data-ink={inkName(data.ink)}>
      <header className="copy-line" ref={LINE_HEIGHT}>
        <Link
          to={back}
          onClick={leaving.leave}
          className="back"
          aria-label={isLearner(person) ? 'Back to my desk' : 'Back to the board'}
        >
          ←
        </Link>
        <div className="copy-title">
          <h1 title={title}>{title}</h1>
          <div className="copy-under">
            <span className="soft">{about}</span>
            <span className="copy-others">{links}</span>
          </div>
        </div>
        {data.dueAt !== null && (
          <span className={overdue ? 'due overdue' : 'due'} title={exactTime(data.dueAt)}>
            {overdue ? 'was due' : 'due'} {timeInWords(data.dueAt, now)}
          </span>
        )}
        {expected === 'edit' && <PensGoDown at={view?.pensDownAt ?? null} />}
        {opened && <PeopleLine people={opened.copy.people} />}
        {toRead ? (
          <span className="copy-progress soft">to read</span>
        ) : (
          <div className="copy-progress">
            <Squares data={data} progress={progress} />
            {mine.length > 0 && others.size > 0 ? (
              <span>
                {mine.filter(isAnswered).length} of your {mine.length}
                {mine.length < spaces && (
                  <span className="copy-word soft">
                    {' '}
                    · {answered} of {spaces} in all
                  </span>
                )}
              </span>
            ) : (
              <span>
                {answered} of {spaces}
                <span className="copy-word answered-word"> answered</span>
              </span>
            )}
          </div>
        )}
        {!data.keptFrom && (
          <Button
            size="sm"
            variant="outline-dark"
            className="comments-toggle"
            aria-expanded={isMarginOpen}
            onClick={() => setMarginOpen(!isMarginOpen)}
          >
            Comments{said.all > 0 && ` ${said.all}`}
            {said.fresh > 0 && `, ${said.fresh} new`}
          </Button>
        )}
        <span role="status">
          {expected === 'edit' || view?.save.is === 'not saved' ? (
            <SaveNote save={view?.save ?? { is: 'opening' }} />
          ) : null}
        </span>
        {act}
      </header>

      {asking && (
        <Suspense>
          <SubmitAsk
            missing={missing()}
            submit={() => {
              setAsking(false)
              wish()
            }}
            close={() => setAsking(false)}
          />
        </Suspense>
      )}
      <main className="copy-body">
        {/* What the line at the top has no room for on a phone. */}
        <div className="copy-about">
          <span className="soft">{about}</span>
          {data.dueAt !== null && readersTime(data.dueAt) !== null && (
            <span className="soft">due {timeInWords(data.dueAt, now)}</span>
          )}
          {links}
        </div>
        {view?.closed && <Notice kind="bad">{view.closed}</Notice>}
        {view?.closed && data.mayBringToLastGood && (
          <BringToLastGood copyId={data.id} onDone={() => opened?.copy.tryAgain()} />
        )}
        {trouble && <Notice kind="bad">{sentenceOf(trouble)}</Notice>}
        {leaving.isLeaving && (
          <Notice kind="look">
            Your last words are being saved; then you are taken back.{' '}
            <Button variant="link" onClick={leaving.leaveNow}>
              Leave now
            </Button>{' '}
            (they stay in this browser and are saved from your desk){' '}
            <Button variant="link" onClick={leaving.stay}>
              Stay here
            </Button>
          </Notice>
        )}
        {submission.is === 'waiting' && (
          <Notice kind="look">
            Not submitted yet: Gavrin cannot be reached at the moment. It is submitted as soon as this page is connected
            again. All that you have written is in it, and the pen rests until then. Leave this page open, or open it
            again later.{' '}
            <Button variant="link" onClick={withdraw}>
              Go on writing instead
            </Button>
          </Notice>
        )}
        {view?.ready && view.openings === 0 && view.save.is !== 'not saved' && (
          <Notice kind="look">
            Gavrin cannot be reached at the moment. This is the copy as it was when it was last open here; what you
            write is kept in this browser, and saved as soon as it can be.
          </Notice>
        )}
        {view?.save.is === 'not saved' && submission.is !== 'waiting' && (
          <Notice kind="look">
            {view.keepsNothing
              ? 'Not saved yet: Gavrin cannot be reached at the moment, and this browser cannot keep what you write. Keep writing, and leave this page open until it is saved.'
              : 'Not saved yet: Gavrin cannot be reached at the moment. Keep writing; what you write is kept in this browser and saved as soon as it can be.'}
          </Notice>
        )}
        {view?.keepsNothing && view.save.is !== 'not saved' && (
          <Notice kind="look">
            This browser cannot keep what you write: its storage is full, or turned off. All is well while it says
            “Saved”; leave this page open when it does not.
          </Notice>
        )}
        <HandedInNotice
          data={data}
          state={state}
          mayTakeBack={mayTakeBack}
          takeBack={() => takeBack.mutate()}
          isTaking={takeBack.isPending}
        />
        {isLearner(person) &&
          expected !== 'edit' &&
          why &&
          !data.handedBack &&
          !view?.closed &&
          !submitted &&
          !data.asReader &&
          !data.link && <Notice kind="plain">{why}</Notice>}
        <KeptNotice data={data} now={now} />
        <HandedBack data={data} isOpen={state === 'taken back'} now={now} />
        {checks && !data.handedBack && (
          <p className="soft checked-said" role="status">
            {checkedInWords(checks)}
          </p>
        )}
        {opened && <WritingNotices content={data.content} copy={opened.copy} view={opened.view} />}
        {(data.note || data.instructions) && (
          <section className="copy-instructions" aria-label="From your teacher">
            {data.note && <NoteView note={data.note} />}
            {data.instructions && <NoteView note={data.instructions} />}
          </section>
        )}
        <PeerReading data={data} now={now} />
        <ReadBy data={data} />
        {data.link && (
          <p className="copy-link">
            <a href={data.link} target="_blank" rel="noreferrer">
              {data.link}
            </a>
          </p>
        )}
        <SheetContext value={surroundings}>
          <div className="sheet-and-margin" {...worn(reading)}>
            <Sheet
              content={data.content}
              ink={data.ink}
              toRead={toRead}
              page={setSheet}
              theirs={expected === 'edit' ? others : NOBODYS}
              {...((data.handedBack || checks) && {
                under: ({ id }: AnswerSpace) =>
                  data.handedBack ? <PointsBack data={data} space={id} /> : <Checked right={checks?.[id]} />,
              })}
              answer={(space, label) => {
                if (!opened) return <AnswerRoom space={space} />
                const doc = opened.copy.doc(space.id)
                return mayType && !others.has(space.id) && !opened.view.resting.has(space.id) ? (
                  <AnswerField key={`${space.id}-${opened.view.generation}`} space={space} doc={doc} label={label} />
                ) : (
                  <AnswerView key={`${space.id}-${opened.view.generation}`} space={space} doc={doc} label={label} />
                )
              }}
            >
              {act && <div className="sheet-end">{act}</div>}
              {data.handedBack && sheet && (
                <Suspense>
                  <PenBack copyId={data.id} page={sheet} />
                </Suspense>
              )}
              {opened && (
                <PeopleMarks
                  people={opened.copy.people}
                  sheet={sheet}
                  content={data.content}
                  docOf={surroundings.docOf}
                />
              )}
            </Sheet>
            {/* Its room is there from the beginning: nothing moves when it comes. */}
            <Suspense fallback={<div className="margin" />}>
              {opened && !data.keptFrom ? (
                <CommentMargin
                  data={data}
                  person={person}
                  opened={opened}
                  sheet={sheet}
                  isOpen={isMarginOpen}
                  setOpen={setMarginOpen}
                  count={countSaid}
                />
              ) : (
                <div className="margin" />
              )}
            </Suspense>
          </div>
        </SheetContext>
        {!data.link && (data.isHolder || !isLearner(person)) && !toRead && (
          <Suspense>
            <CopyDocuments data={data} mayWrite={mayType && data.isHolder} onFailed={withdraw} />
          </Suspense>
        )}
        {(isOwn || !isLearner(person)) && !toRead && !data.keptFrom && (
          <p className="copy-foot soft">
            {isOwn &&
              (data.staffShown
                ? 'Your teachers can look on while you write. You see at the top when one of them is here. '
                : 'Your teachers can look on while you write. You do not see when one of them is here. ')}
            <WhoSees copyId={data.id} />
          </p>
        )}
        <ReadingAids hasRuler={reading.hasRuler} speech={speech} />
        <KeptAnswers kept={data.kept} />
        <LateWritings
          copyId={data.id}
          content={data.content}
          mayDecide={data.mayDecideOnLate}
          news={view ? view.generation + view.lateNews : 0}
        />
      </main>
    </div>
  )
}

/** The line over the copy is as high as its words need. */
const LINE_HEIGHT = heightAs('--copy-line')

const NOBODYS: ReadonlySet<string> = new Set()

/** A copy with places opens at one's own, once it stands; not where somebody has scrolled or jumped already. */
function useOwnPlace(isReady: boolean): void {
  const isDone = useRef(false)
  useEffect(() => {
    if (!isReady || isDone.current) return
    isDone.current = true
    const place = document.querySelector('.own-place')
    if (place && !location.hash && window.scrollY === 0) place.scrollIntoView({ block: 'start' })
  }, [isReady])
}

/** Whoever works in copies: the others come from a board. */
const isLearner = ({ role }: SignedIn) => role === 'student' || role === 'guest'

const peopleInWords = (names: readonly string[]) => (names.length > 6 ? `shared by ${names.length}` : names.join(', '))

function Squares({ data, progress }: { readonly data: CopyPageData; readonly progress: ProgressBySpace }) {
  const spaces = answerSpaces(data.content)
  if (spaces.length > 24) return null
  return (
    <span className="squares" aria-hidden="true">
      {spaces.map(({ id }) => {
        const share = progress[id]?.share ?? 0
        return (
          <a
            key={id}
            href={`#space-${id}`}
            tabIndex={-1}
            className={share >= 1 ? 'square full' : share > 0 ? 'square part' : 'square'}
          />
        )
      })}
    </span>
  )
}

/** How long changes are gathered before they are counted, in milliseconds. */
const COUNTED = 200

/** How far the copy is, counted here, from what stands in the documents. */
function useProgress(data: CopyPageData, copy: OpenCopy | null, generation: number) {
  const [progress, setProgress] = useState<ProgressBySpace>({})
  useEffect(() => {
    if (!copy) return
    const spaces = answerSpaces(data.content)
    const count = (some: Iterable<AnswerSpace>) => {
      const found = new Map(
        [...some].map((space) => [space.id, spaceProgress(space, readAnswer(space, copy.doc(space.id)))]),
      )
      setProgress((before) => {
        const isOther = [...found].some(
          ([id, { share, words }]) => before[id]?.share !== share || before[id].words !== words,
        )
        return isOther ? { ...before, ...Object.fromEntries(found) } : before
      })
    }
    count(spaces)
    // Gathered: where many write, the page is drawn with what changed and not for each key.
    const changed = new Set<AnswerSpace>()
    let timer: ReturnType<typeof setTimeout> | null = null
    const countChanged = () => {
      timer = null
      count(changed)
      changed.clear()
    }
    const stops = spaces.map((space) => {
      const doc = copy.doc(space.id)
      const note = () => {
        changed.add(space)
        timer ??= setTimeout(countChanged, COUNTED)
      }
      doc.on('update', note)
      return () => doc.off('update', note)
    })
    return () => {
      if (timer) clearTimeout(timer)
      stops.forEach((stop) => stop())
    }
  }, [copy, data.content, generation])
  const spaces = answerSpaces(data.content)
  return {
    progress,
    spaces: spaces.length,
    answered: spaces.filter(({ id }) => (progress[id]?.share ?? 0) >= 1).length,
  }
}
