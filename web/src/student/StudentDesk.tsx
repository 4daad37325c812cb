import { isFound, isOverdue, markInWords, noteStart } from '@gavrin/core'
import { useQuery } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import Button from 'react-bootstrap/Button'
import { Link } from 'react-router'
import { FindField } from '../ui/FindField'
import { Loaded } from '../ui/Loaded'
import { Notice } from '../ui/Notice'
import { whenIdle } from '../ui/whenIdle'
import { SheetMark } from '../ui/SheetMark'
import { api } from '../ui/api'
import { inkName } from '../ui/inks'
import type { SignedIn } from '../frame/session'
import { exactTime, leftInWords, timeInWords } from '../ui/time'
import { useNow } from '../ui/useNow'
import type { SignUpListed } from './SignUpPage'
import { StudentFrame } from './StudentFrame'
import { Kept, keptFound, useKept } from './Kept'
import { keepPage } from '../offline/keepPages'
import { useOutbox } from './useOutbox'
import './student.css'
import type { Answers } from '../contract'

/** One of a student's own copies. */
type MyCopy = Answers['GET copies'][number]

/** With so many copies nobody has to look for one. */
const FEW = 6

/** By which words a copy is found. */
const wordsOf = ({ title, worksheet, handout, class: className, subject, unit }: MyCopy): string =>
  [title, worksheet, handout, className, subject, unit ?? ''].join(' ')

/** What a student has to do, the next one due first, and what is in already. */
export default function StudentDesk({ person }: { readonly person: SignedIn }) {
  const mine = useQuery({
    queryKey: ['mine'],
    queryFn: () => api.get<MyCopy[]>('copies'),
    refetchInterval: 30_000,
    staleTime: 0,
  })
  const now = useNow(
    30_000,
    (mine.data ?? []).map(({ dueAt }) => dueAt),
  )
  const others = useQuery({
    queryKey: ['reading'],
    queryFn: () => api.get<OthersCopy[]>('copies/reading'),
    enabled: person.role === 'student',
    refetchInterval: 60_000,
    staleTime: 0,
  })
  const toKeep = useKept(person.role === 'student')
  const waiting = useOutbox(person.id)
  const [find, setFind] = useState('')
  const isThere = mine.isSuccess && !mine.isError
  useEffect(() => {
    if (isThere) void keepPage(person.id, '/', 'desk')
  }, [isThere, person.id])
  // A copy is what is opened next.
  useEffect(() => whenIdle([() => import('../copy/CopyPage')]), [])
  useEffect(() => {
    document.title = 'My desk – Gavrin'
  }, [])
  return (
    <StudentFrame person={person}>
      <main className="student-desk">
        {person.role === 'student' && <SignUps now={now} />}
        {waiting.length > 0 && (
          <Notice kind="look">
            Not saved yet:{' '}
            {mine.data?.flatMap(({ id, title }) => (waiting.includes(id) ? [title] : [])).join(', ') || 'a copy'}. Your
            last words there are still only in this browser. They are sent from here as soon as Gavrin can be reached.
          </Notice>
        )}
        <Loaded query={mine}>
          {(mine) => {
            const found = mine.filter((copy) => isFound(wordsOf(copy), find))
            const all = found.filter(({ setAside }) => !setAside)
            const aside = found.filter(({ setAside }) => setAside)
            const kept = keptFound(toKeep.data ?? [], find)
            const shelf = all.filter(({ kind }) => kind === 'shelf')
            const reading = all.filter(({ kind, way }) => kind === 'handout' && way === 'to read')
            const copies = all.filter(({ kind, way }) => kind === 'handout' && way !== 'to read')
            const todo = copies.filter((copy) => !isInState(copy) && !copy.back?.isNew)
            const late = todo.filter((copy) => isOverdue(copy, now))
            const due = todo.filter((copy) => !isOverdue(copy, now))
            // What one has looked at lies with all that was submitted.
            const back = copies.filter((copy) => copy.back?.isNew)
            const done = copies.filter((copy) => isInState(copy) && !copy.back?.isNew).toReversed()
            const theirs = (others.data ?? []).filter((copy) =>
              isFound(`${copy.title} ${copy.handout} ${copy.class}`, find),
            )
            const [chosen, letIn] = [theirs.filter(({ invited }) => !invited), theirs.filter(({ invited }) => invited)]
            const toReadOf = chosen.filter(({ doneAt }) => doneAt === null)
            return (
              <>
                {mine.length + (toKeep.data?.length ?? 0) > FEW && (
                  <FindField label="Find a worksheet, a class or a unit" value={find} change={setFind} />
                )}
                {find && found.length + theirs.length + kept.length === 0 && (
                  <p role="status">
                    Nothing of yours is found by “{find}”.{' '}
                    <Button variant="link" onClick={() => setFind('')}>
                      Show all
                    </Button>
                  </p>
                )}
                {back.length > 0 && <List title="Handed back" copies={back} now={now} />}
                {late.length > 0 && <List title="Overdue" copies={late} now={now} />}
                {due.length > 0 || late.length > 0 ? (
                  due.length > 0 && <List title="To do" copies={due} now={now} />
                ) : find ? null : (
                  <section>
                    <h1>To do</h1>
                    <p className="soft">
                      Nothing is waiting for you. What your teachers hand out appears here by itself.
                    </p>
                  </section>
                )}
                {toReadOf.length > 0 && <PeerReading copies={chosen} now={now} />}
                {reading.length > 0 && <List title="To read" copies={reading} now={now} />}
                {shelf.length > 0 && (
                  <List title="Shelf" about="Open to your class at any time." copies={shelf} now={now} />
                )}
                {done.length > 0 &&
                  (find ? (
                    <List title="Submitted" copies={done} now={now} />
                  ) : (
                    <Folders title="Submitted" copies={done} now={now} />
                  ))}
                {chosen.length > 0 && toReadOf.length === 0 && <PeerReading copies={chosen} now={now} />}
                {letIn.length > 0 && (
                  <section>
                    <h1>From classmates</h1>
                    <Others copies={letIn} now={now} />
                  </section>
                )}
                {kept.length > 0 && <Kept kept={kept} now={now} />}
                {aside.length > 0 && (
                  <List
                    title="Set aside"
                    about="Your teacher gave these out another way. What you wrote in them is kept: it can be read and copied."
                    copies={aside}
                    now={now}
                  />
                )}
              </>
            )
          }}
        </Loaded>
      </main>
    </StudentFrame>
  )
}

/** A copy of a classmate that this student was chosen to read, or let into. */
type OthersCopy = Answers['GET copies/reading'][number]

/** What one was chosen to read, what is to be read next first. */
function PeerReading({ copies, now }: { copies: readonly OthersCopy[]; now: number }) {
  const next = (copy: OthersCopy) => (copy.doneAt === null ? (copy.until ?? copy.dueAt ?? Infinity) : Infinity)
  const sorted = copies.toSorted(
    (a, b) => Number(a.doneAt !== null) - Number(b.doneAt !== null) || (next(a) < next(b) ? -1 : 0),
  )
  return (
    <section>
      <h1>Peer reading</h1>
      <Others copies={sorted} now={now} />
    </section>
  )
}

function Others({ copies, now }: { copies: readonly OthersCopy[]; now: number }) {
  return (
    <ul className="my-copies">
      {copies.map((copy) => {
        const overdue = copy.doneAt === null && copy.until !== null && copy.until <= now
        return (
          <li key={copy.id} data-ink={inkName(copy.ink)}>
            <Link to={`/copies/${copy.id}`}>
              <SheetMark state={copy.state} size={24} />
              <span className="my-copy-title">
                <strong>
                  <bdi>{copy.title}</bdi>
                </strong>
                <span className="soft">
                  {copy.handout} · No. {copy.number} · {copy.class}
                </span>
              </span>
              <span className="my-copy-state">
                {copy.invited ? 'you were let in' : readingInWords(copy)}
                <span className="soft">
                  {copy.comments > 0
                    ? `${copy.comments} ${copy.comments === 1 ? 'comment' : 'comments'} of yours`
                    : copy.permission === 'edit'
                      ? 'write in it'
                      : copy.permission === 'comment'
                        ? 'read and comment'
                        : 'read'}
                </span>
              </span>
              <span className={overdue ? 'my-copy-due overdue' : 'my-copy-due'}>
                {copy.until !== null && copy.doneAt === null && (
                  <span title={exactTime(copy.until)}>
                    {overdue ? 'was to be read by' : 'read it by'} {timeInWords(copy.until, now)}
                  </span>
                )}
              </span>
            </Link>
          </li>
        )
      })}
    </ul>
  )
}

/** How far a peer reader is. */
const readingInWords = ({ doneAt, openedAt }: OthersCopy): string =>
  doneAt !== null ? '✓ read' : openedAt !== null ? 'begun' : 'to read'

/** Group sign-ups that wait for this student. */
function SignUps({ now }: { now: number }) {
  const mine = useQuery({
    queryKey: ['sign-ups'],
    queryFn: () => api.get<SignUpListed[]>('sign-ups'),
    refetchInterval: 30_000,
  })
  const list = mine.data ?? []
  if (list.length === 0) return null
  return (
    <section>
      <h1>Choose your group</h1>
      <ul className="my-copies my-sign-ups">
        {list.map(({ id, name, class: className, state, group, opensAt, closesAt }) => (
          <li key={id}>
            <Link to={`/sign-up/${id}`}>
              <span className="my-copy-title">
                <strong>{name}</strong>
                <span className="soft">{className}</span>
              </span>
              <span className={group ? 'my-copy-state' : 'my-copy-state warn'}>
                {group ? `you are in ${group}` : state === 'open' ? 'you are in no group yet' : ''}
              </span>
              <span className="my-copy-due">
                {state === 'not yet' && opensAt
                  ? `opens ${timeInWords(opensAt, now)}`
                  : closesAt
                    ? `open until ${timeInWords(closesAt, now)}`
                    : 'open'}
              </span>
            </Link>
          </li>
        ))}
      </ul>
    </section>
  )
}

const isInState = ({ state }: MyCopy) => state === 'submitted' || state === 'marked' || state === 'handed back'

interface ListProps {
  readonly title: string
  readonly about?: string
  readonly copies: readonly MyCopy[]
  readonly now: number
}

function List({ title, about, copies, now }: ListProps) {
  return (
    <section>
      <h1>{title}</h1>
      {about && <p className="soft">{about}</p>}
      <Copies copies={copies} now={now} />
    </section>
  )
}

/** So many copies that are in stand in one list; more are folded by their class and unit. */
const FOLDED = 6

/** What is in: by class and unit, once it is more than a few. */
function Folders({ title, copies, now }: ListProps) {
  const folders = new Map<string, MyCopy[]>()
  for (const copy of copies) {
    const name = `${copy.class}, ${copy.subject}${copy.unit ? ` · ${copy.unit}` : ''}`
    folders.set(name, [...(folders.get(name) ?? []), copy])
  }
  if (copies.length <= FOLDED || folders.size < 2) return <List title={title} copies={copies} now={now} />
  return (
    <section>
      <h1>{title}</h1>
      {[...folders].map(([name, some], at) => (
        <details key={name} className="copy-folder" open={at === 0}>
          <summary>
            {name} <span className="soft">{some.length}</span>
          </summary>
          <Copies copies={some} now={now} />
        </details>
      ))}
    </section>
  )
}

function Copies({ copies, now }: Pick<ListProps, 'copies' | 'now'>) {
  return (
    <ul className="my-copies">
      {copies.map((copy) => {
        const overdue = !copy.setAside && isOverdue(copy, now)
        return (
          <li key={copy.id} data-ink={inkName(copy.ink)}>
            <Link to={`/copies/${copy.id}`}>
              <SheetMark
                {...(copy.setAside && { silent: true })}
                state={copy.state}
                share={copy.spaces ? copy.answered / copy.spaces : 0}
                pensDown={copy.pensDown}
                overdue={overdue}
                size={24}
              />
              <span className="my-copy-title">
                <strong>{copy.link ? copy.title : copy.worksheet}</strong>
                <span className="soft">
                  {copy.kind === 'handout' &&
                    `${copy.handout && copy.handout !== copy.worksheet ? `${copy.handout} · ` : ''}No. ${copy.number} · `}
                  {copy.class}, {copy.subject}
                  {copy.unit && ` · ${copy.unit}`}
                </span>
                {copy.note && !isInState(copy) && <span className="my-copy-note">{noteStart(copy.note, 120)}</span>}
              </span>
              <span className="my-copy-state">
                {copy.setAside
                  ? 'set aside'
                  : copy.way === 'to read'
                    ? copy.link
                      ? 'link'
                      : 'to read'
                    : copy.state === 'taken back' && copy.back
                      ? 'to be improved'
                      : copy.state}
                {copy.back && <span className="slab my-copy-mark">{markInWords(copy.back)}</span>}
                {copy.way !== 'to read' && copy.spaces > 0 && !copy.back && (
                  <span className="soft">
                    {copy.answered} of {copy.spaces} answered
                  </span>
                )}
                {copy.newComments > 0 && (
                  <span className="warn">
                    {copy.newComments} new {copy.newComments === 1 ? 'comment' : 'comments'}
                    {copy.newMentions > 0 && ', to you'}
                  </span>
                )}
              </span>
              <span className={overdue ? 'my-copy-due overdue' : 'my-copy-due'}>
                {copy.setAside ? (
                  <span className="soft">to read</span>
                ) : copy.submittedAt !== null ? (
                  <span title={exactTime(copy.submittedAt)}>submitted {timeInWords(copy.submittedAt, now)}</span>
                ) : copy.dueAt !== null ? (
                  <span title={exactTime(copy.dueAt)}>
                    {overdue ? 'was due' : 'due'} {timeInWords(copy.dueAt, now)}
                    {leftInWords(copy.dueAt, now) && <span className="soft">{leftInWords(copy.dueAt, now)}</span>}
                  </span>
                ) : (
                  <span className="soft">{copy.way === 'to read' || copy.kind === 'shelf' ? '' : 'no due time'}</span>
                )}
              </span>
            </Link>
          </li>
        )
      })}
    </ul>
  )
}
