import { type BoardRow, COPY_STATES, type CopyState, isOverdue, listName, mayInClass, nameOrder } from '@gavrin/core'
import { type UseQueryResult, useQuery, useQueryClient } from '@tanstack/react-query'
import { Suspense, useCallback, useEffect, useMemo, useState } from 'react'
import { Link, useParams } from 'react-router'
import { useClass } from '../class/queries'
import { live } from '../live/connection'
import { useAway } from '../live/useAway'
import { Loaded } from '../ui/Loaded'
import { Notice } from '../ui/Notice'
import { SheetMark } from '../ui/SheetMark'
import { api } from '../ui/api'
import { inkName } from '../ui/inks'
import type { SignedIn } from '../frame/session'
import { exactTime, leftInWords, timeInWords } from '../ui/time'
import { useNow } from '../ui/useNow'
import { BoardActs, TakeBackOne } from './BoardActs'
import { BoardTable, rowName } from './BoardTable'
import { CopyDrawer } from './CopyDrawer'
import { GuestsDialog } from './GuestsDialog'
import './board.css'
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
    () => live().watchClass(classId, () => void client.invalidateQueries({ queryKey: differencesKey(handoutId) })),
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

type Filter = CopyState | 'overdue' | 'left out' | 'set aside' | 'to read'

function BoardView({ board, person }: { board: Board; person: SignedIn }) {
  const { handout, spaces, leftOut } = board
  const now = useNow(20_000, [handout.opensAt, handout.dueAt, ...board.rows.map(({ dueAt }) => dueAt)])
  const opened = useClass(handout.classId)
  const away = useAway()
  const [filter, setFilter] = useState<Filter | null>(null)
  const [chosen, setChosen] = useState<string | null>(null)
  const rows = useMemo(() => {
    const order = nameOrder('en')
    const nameOf = (row: BoardRow) => (row.way === 'one each' && row.holders[0]) || { first: '', last: rowName(row) }
    return board.rows
      .filter(({ setAside, way }) => !setAside && way !== 'to read')
      .toSorted((a, b) => order(nameOf(a), nameOf(b)))
  }, [board.rows])
  const aside = board.rows.filter(({ setAside }) => setAside)
  const reading = board.rows.filter(({ setAside, way }) => !setAside && way === 'to read')
  const overdue = rows.filter((row) => isOverdue(row, now))
  const shown =
    filter === null || filter === 'left out'
      ? rows
      : filter === 'set aside'
        ? aside
        : filter === 'to read'
          ? reading
          : filter === 'overdue'
            ? overdue
            : rows.filter(({ state }) => state === filter)
  const counts = COPY_STATES.map((state) => ({
    state,
    count: rows.filter((row) => row.state === state).length,
  })).filter(({ count, state }) => count > 0 || state === 'working' || state === 'submitted')
  const index = shown.findIndex(({ copyId }) => copyId === chosen)
  const selected = shown[index]
  const may = opened.data !== undefined && mayInClass(opened.data.role, 'hand out').may
  const move = (step: number) => {
    const next = shown[Math.max(0, Math.min(shown.length - 1, index + step))]
    if (next) setChosen(next.copyId)
  }
  useEffect(() => {
    document.title = `No. ${handout.number} ${handout.title} – Gavrin`
  }, [handout.number, handout.title])
  useEffect(() => {
    const key = (event: KeyboardEvent) => {
      if (chosen === null || event.defaultPrevented || event.altKey || event.ctrlKey || event.metaKey) return
      if ((event.target as HTMLElement).closest('input, textarea, select, [contenteditable], .dropdown-menu')) return
      if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
        event.preventDefault()
        move(event.key === 'ArrowDown' ? 1 : -1)
      }
      if (event.key === 'Escape') setChosen(null)
    }
    window.addEventListener('keydown', key)
    return () => window.removeEventListener('keydown', key)
  })
  const choose = useCallback((id: string) => setChosen((before) => (before === id ? null : id)), [])
  const toggle = (next: Filter) => setFilter(filter === next ? null : next)
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
        <span className="page-acts">
          {may && (
            <>
              <BoardActs handout={handout} rows={board.rows} />
              <Link className="btn btn-outline-dark" to={`/class/${handout.classId}/slip/${handout.id}`}>
                Edit the slip
              </Link>
            </>
          )}
        </span>
      </div>
      <div className="strip" role="group" aria-label="Copies by state">
        {counts.map(({ state, count }) => (
          <button
            key={state}
            type="button"
            className={`strip-part strip-${state.replaceAll(' ', '-')}`}
            style={{ flexGrow: Math.max(count, 1) }}
            aria-pressed={filter === state}
            onClick={() => toggle(state)}
          >
            <SheetMark state={state} share={state === 'working' || state === 'taken back' ? 0.5 : 0} silent />{' '}
            <span className="slab">{count}</span> {state}
          </button>
        ))}
        {overdue.length > 0 && (
          <button
            type="button"
            className="strip-part strip-overdue"
            aria-pressed={filter === 'overdue'}
            onClick={() => toggle('overdue')}
          >
            <SheetMark state="not opened" overdue silent /> <span className="slab">{overdue.length}</span> overdue
          </button>
        )}
        {(
          [
            ['to read', reading.length],
            ['set aside', aside.length],
          ] as const
        ).map(
          ([what, count]) =>
            count > 0 && (
              <button
                key={what}
                type="button"
                className="strip-part"
                aria-pressed={filter === what}
                onClick={() => toggle(what)}
              >
                <span className="slab">{count}</span> {what}
              </button>
            ),
        )}
        {leftOut.length > 0 && (
          <button
            type="button"
            className="strip-part"
            aria-pressed={filter === 'left out'}
            onClick={() => toggle('left out')}
          >
            <span className="slab">{leftOut.length}</span> left out
          </button>
        )}
      </div>
      {away && (
        <Notice kind="look">
          The live connection is away; what you see may be some seconds old. It comes back by itself.
        </Notice>
      )}
      {may && handout.kind === 'handout' && handout.handedOutAt !== null && (
        <DifferencesLine handoutId={handout.id} classId={handout.classId} />
      )}
      {may && <GuestsLine handoutId={handout.id} count={board.guestsToMatch} />}
      <div className={selected ? 'board-body with-drawer' : 'board-body'}>
        {filter === 'left out' ? (
          <ul className="left-out">
            {leftOut.map((student) => (
              <li key={student.personId}>
                <bdi>{listName(student)}</bdi> <span className="soft">has no copy of this handout</span>
              </li>
            ))}
          </ul>
        ) : board.rows.length === 0 ? (
          <div className="empty">
            <h2>No copies yet</h2>
            {may && (
              <Link className="btn btn-primary" to={`/class/${handout.classId}/slip/${handout.id}`}>
                Edit the slip
              </Link>
            )}
          </div>
        ) : (
          // A part of its own: a page that was drawn on the server is taken over in pieces, and what is done meanwhile does not wait.
          <Suspense>
            <BoardTable rows={shown} spaces={spaces} now={now} chosen={chosen} choose={choose} narrow={!!selected} />
          </Suspense>
        )}
        {selected && (
          <CopyDrawer
            key={selected.copyId}
            row={selected}
            person={person}
            up={index > 0 ? () => move(-1) : null}
            down={index < shown.length - 1 ? () => move(1) : null}
            close={() => setChosen(null)}
            acts={may && <TakeBackOne row={selected} handoutId={handout.id} />}
          />
        )}
      </div>
      <p className="board-foot soft">
        {filter && filter !== 'left out'
          ? `${shown.length} of ${rows.length} copies`
          : `${rows.length} ${rows.length === 1 ? 'copy' : 'copies'}, by name`}
        {aside.length > 0 && ` · ${aside.length} set aside`}
        {chosen === null ? ' · choose a row to see it being written' : ' · ↑ ↓ flip through the copies, Esc closes'}
      </p>
    </main>
  )
}
