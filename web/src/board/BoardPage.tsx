import { type BoardRow, mayInClass, medianOf } from '@gavrin/core'
import { type UseQueryResult, useQuery, useQueryClient } from '@tanstack/react-query'
import { type ComponentType, Suspense, lazy, useCallback, useEffect, useMemo, useState } from 'react'
import { Link, useParams, useSearchParams } from 'react-router'
import { useClass } from '../class/queries'
import { PensButton } from '../pens/PensButton'
import { PensTold } from '../pens/PensTold'
import { ReminderButton } from '../reminder/ReminderButton'
import { live } from '../live/connection'
import { useAway } from '../live/useAway'
import { Loaded } from '../ui/Loaded'
import { SaveTableMenu } from '../ui/SaveTableMenu'
import { Notice } from '../ui/Notice'
import { api, sentenceOf } from '../ui/api'
import { inkName } from '../ui/inks'
import type { SignedIn } from '../frame/session'
import { exactTime, leftInWords, timeInWords } from '../ui/time'
import { useNow } from '../ui/useNow'
import { BoardActed } from './BoardActed'
import { BoardActs, TakeBackOne } from './BoardActs'
import { BoardSelection } from './BoardSelection'
import { BoardStrip } from './BoardStrip'
import { BoardTable } from './BoardTable'
import { BoardTools } from './BoardTools'
import { COLUMNS, type BoardColumn, rosterColumn } from './boardColumns'
import { CopyDrawer } from './CopyDrawer'
import { useGive } from './useGive'
import { useBoardPeople } from './useBoardPeople'
import { useBoardView, type BoardSort, type Only, type Strip } from './useBoardView'
import { useLooked } from './useLooked'
import { useWriters } from './useWriters'
import { useSelection } from './useSelection'
import { boardOut } from './boardOut'
import type { StudentsViewProps } from './StudentsView'
import type { TimeViewProps } from './TimeView'
import type { WatchViewProps } from './WatchView'
import { WATCHED } from './watched'
import { GuestsDialog } from './GuestsDialog'
import './board.css'
import { Button } from 'react-bootstrap'
import { useStored } from '../ui/useStored'
import type { Acted } from '../ui/ActedLine'
import type { AnswerGridProps } from './AnswerGrid'
import type { Answers } from '../contract'

type Board = Answers['GET handouts/{handoutId}/board']

const differencesKey = (handoutId: string) => ['board', handoutId, 'differences']

/** The board of a handout; its rows are kept true over the live connection. */
function useBoard(handoutId: string): UseQueryResult<Board> {
  const client = useQueryClient()
  useEffect(
    () =>
      live().watch(handoutId, (rows) =>
        client.setQueryData<Board>(['board', handoutId], (board) => {
          if (!board) return board
          const news = new Map(rows.map((row) => [row.copyId, row]))
          const known = new Map(board.rows.map((row) => [row.copyId, row]))
          if (rows.some((row) => isOtherwiseGiven(row, known.get(row.copyId))))
            void client.invalidateQueries({ queryKey: differencesKey(handoutId) })
          return {
            ...board,
            rows: [
              ...board.rows.map((row) => news.get(row.copyId) ?? row),
              ...rows.filter(({ copyId }) => !known.has(copyId)),
            ],
          }
        }),
      ),
    [client, handoutId],
  )
  return useQuery({ queryKey: ['board', handoutId], queryFn: () => api.get<Board>(`handouts/${handoutId}/board`) })
}

/** Whether a copy has come, or is given to others than before. */
const isOtherwiseGiven = (row: BoardRow, before: BoardRow | undefined) =>
  !before ||
  before.setAside !== row.setAside ||
  before.title !== row.title ||
  before.holders.map(({ personId }) => personId).join() !== row.holders.map(({ personId }) => personId).join()

/** Guests who wrote, and nobody has said who they are. */
function GuestsLine({ handoutId, count }: { handoutId: string; count: number }) {
  const [isOpen, setIsOpen] = useState(false)
  return (
    <>
      {count > 0 && (
        <Notice kind="look">
          {count === 1 ? 'A guest has written something' : `${count} guests have written something`}.{' '}
          <button type="button" className="btn btn-link p-0 align-baseline" onClick={() => setIsOpen(true)}>
            Say who of the class {count === 1 ? 'it is' : 'they are'}
          </button>
        </Notice>
      )}
      {isOpen && <GuestsDialog handoutId={handoutId} close={() => setIsOpen(false)} />}
    </>
  )
}

/** Where what exists is not what was handed out, as after a change of groups, with the one thing to do about it. */
function DifferencesLine({ handoutId, classId }: { handoutId: string; classId: string }) {
  const client = useQueryClient()
  useEffect(
    () =>
      live().watchClass(classId, (part) => {
        if (part !== 'marks') void client.invalidateQueries({ queryKey: differencesKey(handoutId) })
      }),
    [client, classId, handoutId],
  )
  const { data } = useQuery({
    queryKey: differencesKey(handoutId),
    queryFn: () => api.get<Answers['GET handouts/{handoutId}/differences']>(`handouts/${handoutId}/differences`),
  })
  if (!data?.differences) return null
  return (
    <Notice kind="look">
      <bdi>{data.differences.sentence}</bdi>. <Link to={`/class/${classId}/slip/${handoutId}`}>Look at the proof</Link>
    </Notice>
  )
}

export function BoardPage({ person }: { readonly person: SignedIn }) {
  const { handoutId = '' } = useParams()
  const query = useBoard(handoutId)
  return <Loaded query={query}>{(board) => <BoardView key={handoutId} board={board} person={person} />}</Loaded>
}

const VIEWS = ['table', 'answers', 'students', 'time'] as const
const TimeView = lazy<ComponentType<TimeViewProps>>(() => import('./TimeView'))
const StudentsView = lazy<ComponentType<StudentsViewProps>>(() => import('./StudentsView'))
const WatchView = lazy<ComponentType<WatchViewProps>>(() => import('./WatchView'))
const AnswerGrid = lazy<ComponentType<AnswerGridProps>>(() => import('./AnswerGrid'))

function BoardView({ board, person }: { board: Board; person: SignedIn }) {
  const { handout, sheets, leftOut } = board
  const now = useNow(20_000, [
    handout.opensAt,
    handout.dueAt,
    ...board.rows.flatMap(({ dueAt, pensDownFrom }) => [dueAt, pensDownFrom]),
  ])
  const opened = useClass(handout.classId)
  const away = useAway()
  const [search, setSearch] = useSearchParams()
  const view = VIEWS.find((one) => one === search.get('view')) ?? 'table'
  const [strip, setStrip] = useState<Strip | null>(null)
  const [only, setOnly] = useState<Only | null>(null)
  const [find, setFind] = useState('')
  const [sort, setSort] = useState<BoardSort | null>(null)
  const [chosen, setChosen] = useState<string | null>(null)
  const looked = useLooked(handout.id, board.looked)
  const people = useBoardPeople(handout.classId)
  const spacesOf = useMemo(() => {
    const byId = new Map(sheets.map(({ worksheetId, spaces }) => [worksheetId, spaces]))
    return ({ worksheetId }: BoardRow) => byId.get(worksheetId) ?? []
  }, [sheets])
  const around = { spacesOf, now, valueOf: people.valueOf, isNew: looked.isNew }
  const all: readonly BoardColumn[] = [
    ...COLUMNS.slice(0, -1),
    ...people.fields.map(({ field, label }) => rosterColumn(field, label)),
    ...COLUMNS.slice(-1),
  ]
  const [wished, setWished] = useStored<readonly string[] | null>('board columns', null)
  const isNarrow = chosen !== null
  const columns = all.filter(
    ({ key, atFirst, staysNarrow }) => (wished ? wished.includes(key) : atFirst) && (!isNarrow || staysNarrow),
  )
  const { rows: shown, moved, anew } = useBoardView(board.rows, { find, strip, only, sort }, all, around)
  const rows = board.rows.filter(({ setAside, way }) => !setAside && way !== 'to read')
  const aside = board.rows.filter(({ setAside }) => setAside)
  const left = strip === 'left out' || (strip === null && only === null && !find) ? leftOut : []
  const listed = strip === 'left out' ? [] : shown
  const index = listed.findIndex(({ copyId }) => copyId === chosen)
  const selected = listed[index]
  const may = opened.data !== undefined && mayInClass(opened.data.role, 'hand out').may
  const seesMarks = opened.data !== undefined && mayInClass(opened.data.role, 'see marks').may
  const selection = useSelection(listed)
  const give = useGive(handout.id)
  const [byPerson, setByPerson] = useStored('board by person', false)
  const areShared = rows.some(({ holders }) => holders.length > 1)
  const writers = useWriters(handout.id, areShared && byPerson)
  const [acted, setActed] = useState<Acted | null>(null)
  const [watched, setWatched] = useState<readonly string[] | null>(null)
  const sheet = search.get('sheet') ?? sheets[0]?.worksheetId
  const move = (step: number) => {
    const next = listed[Math.max(0, Math.min(listed.length - 1, index + step))]
    if (next) setChosen(next.copyId)
  }
  /** The next copy after the chosen one, round to the beginning, for which this is so. */
  const next = (is: (row: BoardRow) => boolean) => {
    const turned = [...listed.slice(index + 1), ...listed.slice(0, Math.max(0, index))]
    return turned.find(is)
  }
  const nextNew = next(looked.isNew)
  const nextAsked = next(({ questions }) => questions > 0)
  useEffect(() => {
    document.title = `No. ${handout.number} ${handout.title} – Gavrin`
  }, [handout.number, handout.title])
  useEffect(() => {
    const key = (event: KeyboardEvent) => {
      if (chosen === null || watched || event.defaultPrevented || event.altKey || event.ctrlKey || event.metaKey) return
      if ((event.target as HTMLElement).closest('input, textarea, select, [contenteditable], .dropdown-menu, .modal'))
        return
      if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
        event.preventDefault()
        move(event.key === 'ArrowDown' ? 1 : -1)
      }
      if (event.key === 'n' && nextNew) setChosen(nextNew.copyId)
      if (event.key === 'q' && nextAsked) setChosen(nextAsked.copyId)
      if (event.key === 'Escape') setChosen(null)
    }
    window.addEventListener('keydown', key)
    return () => window.removeEventListener('keydown', key)
  })
  /** Shows the copies from a place on beside each other. */
  const watchFrom = (from: number) => {
    const first = Math.max(0, Math.min(from, listed.length - WATCHED))
    setWatched(listed.slice(first, first + WATCHED).map(({ copyId }) => copyId))
  }
  const watchedRows = watched && board.rows.filter(({ copyId }) => watched.includes(copyId))
  const firstWatched = watched ? listed.findIndex(({ copyId }) => copyId === watched[0]) : -1
  const lastWatched = watched ? listed.findIndex(({ copyId }) => copyId === watched.at(-1)) : -1
  const choose = useCallback((id: string) => setChosen((before) => (before === id ? null : id)), [])
  /** What is chosen by its state is seen in the table, where lines are students. */
  const chooseStrip = (to: Strip | null) => {
    setStrip(to)
    if (view === 'students') setSearch({}, { replace: true })
  }
  const questions = rows.reduce((sum, row) => sum + row.questions, 0)
  const middle = medianOf(rows.map(({ answered }) => answered))
  return (
    <main className="board" data-ink={inkName(handout.ink)}>
      <div className="page-head board-head">
        <span className="slab number">No. {handout.number}</span>
        <h1>{handout.title}</h1>
        <span className="soft">
          {handout.opensAt !== null && handout.opensAt > now && `opens ${timeInWords(handout.opensAt, now)} · `}
          {handout.dueAt === null ? (
            'no due time'
          ) : (
            <span title={exactTime(handout.dueAt)}>
              {handout.dueAt < now ? 'was due' : 'due'} {timeInWords(handout.dueAt, now)}
              {leftInWords(handout.dueAt, now) && ` · ${leftInWords(handout.dueAt, now)}`}
            </span>
          )}
        </span>
        <PensTold rows={rows} />
        <span className="page-acts">
          {seesMarks && handout.kind === 'handout' && (
            <Link className="btn btn-outline-dark" to={`/class/${handout.classId}/handouts/${handout.id}/marking`}>
              {may ? 'Mark' : 'Marks'}
            </Link>
          )}
          {may && (
            <>
              <ReminderButton handout={handout} rows={rows} />
              <PensButton handout={handout} rows={rows} done={setActed} />
              <BoardActs handout={handout} rows={board.rows} />
              <Link className="btn btn-outline-dark" to={`/class/${handout.classId}/slip/${handout.id}`}>
                Edit the slip
              </Link>
            </>
          )}
        </span>
      </div>
      <BoardStrip rows={board.rows} leftOut={leftOut.length} now={now} strip={strip} choose={chooseStrip} />
      {away && (
        <Notice kind="look">
          The live connection is away; what you see may be some seconds old. It comes back by itself.
        </Notice>
      )}
      {may && handout.kind === 'handout' && handout.handedOutAt !== null && (
        <DifferencesLine handoutId={handout.id} classId={handout.classId} />
      )}
      {may && <GuestsLine handoutId={handout.id} count={board.guestsToMatch} />}
      {acted && <BoardActed key={acted.id} acted={acted} handoutId={handout.id} close={() => setActed(null)} />}
      {give.error && <Notice kind="bad">{sentenceOf(give.error)}</Notice>}
      {board.rows.length > 0 && (
        <BoardTools
          view={view}
          setView={(to) => setSearch(to === 'table' ? {} : { view: to }, { replace: true })}
          said={[
            middle !== null &&
              rows.length > 1 &&
              rows[0]!.spaces > 0 &&
              `median ${middle} of ${rows[0]!.spaces} answered`,
            questions > 0 && `${questions} ${questions === 1 ? 'question' : 'questions'} asked`,
          ]}
          find={find}
          setFind={setFind}
          only={only}
          setOnly={setOnly}
          values={people.valuesOf(board.rows)}
          columns={all}
          wished={wished ?? all.filter(({ atFirst }) => atFirst).map(({ key }) => key)}
          setWished={setWished}
          moved={moved}
          anew={anew}
          byPerson={areShared && view === 'table' ? byPerson : null}
          setByPerson={setByPerson}
          save={
            <>
              <Button size="sm" variant="outline-dark" onClick={() => window.print()}>
                Print
              </Button>
              <SaveTableMenu
                {...boardOut(handout.id, {
                  ...(view === 'answers' && sheet && { worksheetId: sheet }),
                  ...((strip !== null || only !== null || find !== '') && {
                    copyIds: listed.map(({ copyId }) => copyId),
                  }),
                })}
              />
            </>
          }
        />
      )}
      <div className={selected && !watchedRows ? 'board-body with-drawer' : 'board-body'}>
        {board.rows.length === 0 && leftOut.length === 0 ? (
          <div className="empty">
            <h2>No copies yet</h2>
            {may && (
              <Link className="btn btn-primary" to={`/class/${handout.classId}/slip/${handout.id}`}>
                Edit the slip
              </Link>
            )}
          </div>
        ) : listed.length + left.length === 0 ? (
          <p className="board-none soft">
            No copy is like that now.{' '}
            <Button
              variant="link"
              onClick={() => {
                setStrip(null)
                setOnly(null)
                setFind('')
              }}
            >
              Show all
            </Button>
          </p>
        ) : (
          // A part of its own: a page that was drawn on the server is taken over in pieces, and what is done meanwhile does not wait.
          <Suspense>
            {watchedRows && watchedRows.length > 0 ? (
              <WatchView
                rows={watched.flatMap((id) => watchedRows.find(({ copyId }) => copyId === id) ?? [])}
                person={person}
                before={firstWatched > 0 ? () => watchFrom(firstWatched - watched.length) : null}
                after={lastWatched >= 0 && lastWatched < listed.length - 1 ? () => watchFrom(lastWatched + 1) : null}
                open={(copyId) => {
                  setWatched(null)
                  setChosen(copyId)
                }}
                close={() => setWatched(null)}
              />
            ) : view === 'answers' ? (
              <AnswerGrid
                handoutId={handout.id}
                rows={listed}
                {...{ sheets, now, chosen, choose }}
                isNew={looked.isNewAt}
              />
            ) : view === 'students' ? (
              <StudentsView handoutId={handout.id} find={find} now={now} />
            ) : view === 'time' ? (
              <TimeView handout={handout} rows={listed} {...{ now, chosen, choose }} />
            ) : (
              <BoardTable
                rows={listed}
                leftOut={left}
                {...{ columns, around, sort, setSort, chosen, choose }}
                selected={may ? selection.selected : null}
                select={selection.select}
                selectAll={selection.selectAll}
                writers={areShared && byPerson ? writers : null}
                give={may ? (student) => give.mutate([student.personId]) : null}
              />
            )}
          </Suspense>
        )}
        {selected && !watchedRows && (
          <CopyDrawer
            key={selected.copyId}
            row={selected}
            person={person}
            up={index > 0 ? () => move(-1) : null}
            down={index < listed.length - 1 ? () => move(1) : null}
            next={[
              { key: 'n', label: 'Next new', go: nextNew && (() => setChosen(nextNew.copyId)) },
              { key: 'q', label: 'Next question', go: nextAsked && (() => setChosen(nextAsked.copyId)) },
            ]}
            looked={looked}
            watch={listed.length > 1 ? () => watchFrom(index) : null}
            close={() => setChosen(null)}
            acts={may && <TakeBackOne row={selected} handoutId={handout.id} />}
          />
        )}
      </div>
      {may && selection.rows.length > 0 ? (
        <BoardSelection
          handout={handout}
          rows={selection.rows}
          clear={selection.clear}
          watch={() => setWatched(selection.rows.map(({ copyId }) => copyId))}
          done={setActed}
        />
      ) : (
        <p className="board-foot soft">
          {strip !== null || only !== null || find
            ? `${listed.length} of ${rows.length} copies`
            : `${rows.length} ${rows.length === 1 ? 'copy' : 'copies'}, by name`}
          {aside.length > 0 && ` · ${aside.length} set aside`}
          {watchedRows
            ? ' · ← → go on to others, Esc closes'
            : chosen === null
              ? view !== 'students' && ' · choose a row to see it being written'
              : ' · ↑ ↓ flip through the copies, n next new, q next question, Esc closes'}
        </p>
      )}
    </main>
  )
}
