import { STAFF_ROLES, fullName, isOverdue } from '@gavrin/core'
import { useQuery } from '@tanstack/react-query'
import { type ReactNode, useEffect } from 'react'
import { Link, useParams } from 'react-router'
import { Loaded } from '../ui/Loaded'
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
        {viewer.role === 'office' && (
          <span className="page-acts">
            <OfficeActs person={person} />
          </span>
        )}
      </div>
      {classes.length === 0 && <p className="soft">In no class.</p>}
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
                  <table className="grid mt-2">
                    <thead>
                      <tr>
                        <th scope="col" className="mark-cell">
                          <span className="visually-hidden">Mark</span>
                        </th>
                        <th scope="col">Copy</th>
                        <th scope="col">Handout</th>
                        <th scope="col">State</th>
                        <th scope="col" className="n">
                          Answered
                        </th>
                        <th scope="col" className="n">
                          Words
                        </th>
                        <th scope="col">Due</th>
                        <th scope="col">Last active</th>
                      </tr>
                    </thead>
                    <tbody>
                      {given.map((copy) => {
                        const overdue = isOverdue(copy, now)
                        return (
                          <tr key={copy.id}>
                            <td className="mark-cell">
                              <SheetMark
                                state={copy.state}
                                share={copy.spaces ? copy.answered / copy.spaces : 0}
                                pensDown={copy.pensDown}
                                overdue={overdue}
                              />
                            </td>
                            <td className="title-cell">
                              <Link className="row-link" to={`/copies/${copy.id}`}>
                                {copy.title}
                              </Link>
                            </td>
                            <td>
                              <Link to={`/class/${copy.classId}/handouts/${copy.handoutId}`}>
                                No. {copy.number} {copy.handout}
                              </Link>
                            </td>
                            <td>
                              {copy.setAside ? 'set aside' : copy.state}
                              {overdue && <span className="bad"> overdue</span>}
                            </td>
                            <td className="n">
                              {copy.answered} of {copy.spaces}
                            </td>
                            <td className="n">{copy.words}</td>
                            <td title={copy.dueAt ? exactTime(copy.dueAt) : undefined}>
                              {copy.dueAt ? timeInWords(copy.dueAt, now) : '–'}
                            </td>
                            <td>{copy.lastActivityAt ? sinceInWords(copy.lastActivityAt, now) : '–'}</td>
                          </tr>
                        )
                      })}
                    </tbody>
                  </table>
                )}
              </>
            )}
          </section>
        )
      })}
    </main>
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
