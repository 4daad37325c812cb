import { STAFF_ROLES, fullName, isIn, isOverdue, lateBy, markInWords } from '@gavrin/core'
import { useQuery } from '@tanstack/react-query'
import { type ReactNode, useEffect } from 'react'
import { Button } from 'react-bootstrap'
import { Link, useParams } from 'react-router'
import { Loaded } from '../ui/Loaded'
import { SaveCopiesButton } from '../savedCopies/SaveCopiesButton'
import { GiveToKeepButton } from '../toKeep/GiveToKeep'
import { SheetMark } from '../ui/SheetMark'
import { api } from '../ui/api'
import { inkName } from '../ui/inks'
import type { SignedIn } from '../frame/session'
import { exactTime, sinceInWords, timeInWords } from '../ui/time'
import { useNow } from '../ui/useNow'
import { OfficeActs } from './OfficeActs'
import './people.css'
import type { Answers } from '../contract'

type OnePerson = Answers['GET people/{personId}']

/** One person: classes, groups, and all their copies with their states. */
export function PersonPage({ person }: { readonly person: SignedIn }) {
  const { personId = '' } = useParams()
  const found = useQuery({ queryKey: ['person', personId], queryFn: () => api.get<OnePerson>(`people/${personId}`) })
  return <Loaded query={found}>{(one) => <One key={personId} one={one} viewer={person} />}</Loaded>
}

function One({ one: { person, classes, groups, copies }, viewer }: { one: OnePerson; viewer: SignedIn }) {
  const now = useNow()
  useEffect(() => {
    document.title = `${fullName(person)} – Gavrin`
  }, [person])
  const isStudent = person.role === 'student'
  return (
    <main className="page person-page">
      <div className="page-head">
        <h1 dir="auto">{fullName(person)}</h1>
        <span className="soft">
          {isStudent ? 'student' : person.role === 'office' ? 'office' : 'teacher'} · {person.email ?? 'no e-mail yet'}
          {person.number && ` · ${person.number}`} · {person.canSignIn ? 'can sign in' : 'cannot sign in yet'}
        </span>
        <span className="page-acts no-print">
          {copies.length > 0 && (
            <Button variant="outline-dark" onClick={() => window.print()}>
              Print
            </Button>
          )}
          {copies.length > 0 && isStudent && viewer.role === 'teacher' && (
            <GiveToKeepButton of={{ studentId: person.personId }} />
          )}
          {copies.length > 0 && (
            <SaveCopiesButton of={{ studentId: person.personId }} what={`All copies of ${fullName(person)}`} />
          )}
          {viewer.role === 'office' && <OfficeActs person={person} />}
        </span>
      </div>
      {classes.length === 0 && <p className="soft">In no class.</p>}
      {isStudent && copies.length > 0 && <Missing copies={copies} now={now} />}
      {classes.map((found) => {
        const own = groups.filter(({ classId }) => classId === found.id)
        const given = copies.filter(({ classId }) => classId === found.id)
        const cells = found.columns.filter(({ id }) => found.cells[id])
        return (
          <section key={found.id} aria-labelledby={`in-${found.id}`} data-ink={inkName(found.ink)}>
            <h2 id={`in-${found.id}`}>
              {viewer.role === 'office' ? found.name : <Link to={`/class/${found.id}`}>{found.name}</Link>}{' '}
              <span className="soft">
                {found.subject} {found.year}
              </span>
              {found.archived && <span className="tag">archived</span>}
              {found.leftAt !== null && <span className="tag tag-warn">left {timeInWords(found.leftAt, now)}</span>}
            </h2>
            <dl className="person-facts">
              {found.role !== 'student' && (
                <>
                  <dt>In this class</dt>
                  <dd>{STAFF_ROLES.find(({ role }) => role === found.role)?.does}</dd>
                </>
              )}
              {own.map(({ setId, set, group }) => (
                <Fact key={setId} name={set}>
                  {viewer.role === 'office' ? (
                    group
                  ) : (
                    <Link to={`/class/${found.id}/groups?set=${setId}`}>{group}</Link>
                  )}
                </Fact>
              ))}
              {cells.map(({ id, name }) => (
                <Fact key={id} name={name}>
                  {found.cells[id]}
                </Fact>
              ))}
            </dl>
            {found.role === 'student' && viewer.role !== 'office' && (
              <>
                {given.length === 0 ? (
                  <p className="soft mt-2">No copy in this class yet.</p>
                ) : (
                  <CopiesTable copies={given} now={now} />
                )}
              </>
            )}
          </section>
        )
      })}
    </main>
  )
}

type CopyHeld = OnePerson['copies'][number]

const dayInWords = (at: number | null, now: number) => (at === null ? '–' : timeInWords(at, now))

/** What is not in though its time has passed, and what is due next, over all classes. */
function Missing({ copies, now }: { readonly copies: readonly CopyHeld[]; readonly now: number }) {
  const open = copies
    .filter((copy) => !copy.setAside && copy.dueAt !== null && !isIn(copy))
    .toSorted((a, b) => a.dueAt! - b.dueAt!)
  const overdue = open.filter((copy) => isOverdue(copy, now))
  const next = open.filter((copy) => !isOverdue(copy, now))
  const there = copies.filter(({ setAside }) => !setAside)
  return (
    <section aria-labelledby="missing-title" className="person-missing">
      <h2 id="missing-title">
        {overdue.length === 0 ? 'Nothing is missing' : `${overdue.length} missing`}{' '}
        <span className="soft">
          {there.filter(isIn).length} of {there.length} in{next.length > 0 && `, ${next.length} due later`}
        </span>
      </h2>
      {open.length > 0 && (
        <ul>
          {[...overdue, ...next].map((copy) => (
            <li key={copy.id}>
              <SheetMark
                state={copy.state}
                share={copy.spaces ? copy.answered / copy.spaces : 0}
                pensDown={copy.pensDown}
                overdue={isOverdue(copy, now)}
                silent
              />{' '}
              <Link to={`/copies/${copy.id}`}>
                <bdi>{copy.handout}</bdi>
              </Link>{' '}
              <span className={isOverdue(copy, now) ? 'bad' : 'soft'} title={exactTime(copy.dueAt!)}>
                {isOverdue(copy, now) ? 'was due' : 'due'} {timeInWords(copy.dueAt!, now)}
              </span>
              <span className="soft">
                {' · '}
                {copy.state}, {copy.answered} of {copy.spaces} answered
              </span>
            </li>
          ))}
        </ul>
      )}
    </section>
  )
}

/** All copies of a student in a class. */
function CopiesTable({ copies, now }: { readonly copies: readonly CopyHeld[]; readonly now: number }) {
  return (
    <table className="grid mt-2">
      <thead>
        <tr>
          <th scope="col" className="mark-cell">
            <span className="visually-hidden">Mark</span>
          </th>
          <th scope="col">Handout</th>
          <th scope="col">Copy</th>
          <th scope="col">State</th>
          <th scope="col" className="n">
            Answered
          </th>
          <th scope="col" className="n">
            Words
          </th>
          <th scope="col">Due</th>
          <th scope="col">Submitted</th>
          <th scope="col" className="n">
            Mark
          </th>
          <th scope="col">Last active</th>
        </tr>
      </thead>
      <tbody>
        {copies.map((copy) => {
          const overdue = isOverdue(copy, now)
          return (
            <tr key={copy.id} className={copy.setAside ? 'soft' : undefined}>
              <td className="mark-cell">
                <SheetMark
                  state={copy.state}
                  share={copy.spaces ? copy.answered / copy.spaces : 0}
                  pensDown={copy.pensDown}
                  overdue={overdue && !copy.setAside}
                />
              </td>
              <td>
                <Link to={`/class/${copy.classId}/handouts/${copy.handoutId}`}>
                  No. {copy.number} <bdi>{copy.handout}</bdi>
                </Link>
              </td>
              <td className="title-cell">
                <Link className="row-link" to={`/copies/${copy.id}`}>
                  <bdi>{copy.title}</bdi>
                </Link>
              </td>
              <td>
                {copy.setAside ? 'set aside' : copy.state}
                {overdue && !copy.setAside && <span className="bad"> overdue</span>}
              </td>
              <td className="n">
                {copy.answered} of {copy.spaces}
              </td>
              <td className="n">{copy.words}</td>
              <td title={copy.dueAt ? exactTime(copy.dueAt) : undefined}>{dayInWords(copy.dueAt, now)}</td>
              <td title={copy.submittedAt ? exactTime(copy.submittedAt) : undefined}>
                {isIn(copy) ? dayInWords(copy.submittedAt, now) : '–'}
                {isIn(copy) && lateBy(copy, now) !== null && <span className="bad"> late</span>}
              </td>
              <td className="n slab">{copy.mark ? markInWords(copy.mark) : ''}</td>
              <td>{copy.lastActivityAt ? sinceInWords(copy.lastActivityAt, now) : '–'}</td>
            </tr>
          )
        })}
      </tbody>
    </table>
  )
}

function Fact({ name, children }: { name: string; children: ReactNode }) {
  return (
    <>
      <dt>{name}</dt>
      <dd>{children}</dd>
    </>
  )
}
