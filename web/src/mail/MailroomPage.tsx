import { fullName } from '@gavrin/core'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { Button } from 'react-bootstrap'
import { Link } from 'react-router'
import { WithClass } from '../class/WithClass'
import { Loaded } from '../ui/Loaded'
import { Notice } from '../ui/Notice'
import { ApiError, api, sentenceOf } from '../ui/api'
import { exactTime, sinceInWords } from '../ui/time'
import { useNow } from '../ui/useNow'
import '../people/people.css'

interface MailLine {
  readonly id: string
  readonly kind: 'invitation' | 'new password'
  readonly personId: string
  readonly first: string
  readonly last: string
  readonly address: string
  readonly state: 'waiting' | 'sent' | 'failed'
  readonly createdAt: number
  readonly sentAt: number | null
  readonly problem: string | null
}

interface Letter {
  readonly id: string
  readonly at: number
  readonly recipient: string
  readonly subject: string
  readonly body: string
}

const FRESH = 3_000

/** The messages of a class and how each went; in the demo, what arrived. */
export function MailroomPage() {
  return (
    <WithClass>
      {(opened, students) => (
        <Mailroom
          key={opened.id}
          classId={opened.id}
          name={opened.name}
          canSignIn={new Set(students.filter((student) => student.canSignIn).map(({ personId }) => personId))}
        />
      )}
    </WithClass>
  )
}

function Mailroom({ classId, name, canSignIn }: { classId: string; name: string; canSignIn: ReadonlySet<string> }) {
  const client = useQueryClient()
  const now = useNow()
  const [problem, setProblem] = useState<string | null>(null)
  const key = ['class', classId, 'mail']
  const lines = useQuery({
    queryKey: key,
    queryFn: () => api.get<MailLine[]>(`classes/${classId}/mail`),
    refetchInterval: ({ state }) => (state.data?.some((line) => line.state === 'waiting') ? FRESH : 30_000),
  })
  useEffect(() => {
    document.title = `Mailroom – ${name} – Gavrin`
  }, [name])
  const again = async (personId: string) => {
    try {
      await api.post(`classes/${classId}/invitations`, { personIds: [personId] })
      setProblem(null)
    } catch (error) {
      setProblem(sentenceOf(error))
    }
    await client.invalidateQueries({ queryKey: key })
  }
  return (
    <main className="page">
      <div className="page-head">
        <h1>Mailroom</h1>
        <span className="soft">messages of {name}</span>
      </div>
      {problem && <Notice kind="bad">{problem}</Notice>}
      <div className="mailroom-columns">
        <Loaded query={lines}>
          {(found) =>
            found.length === 0 ? (
              <p className="soft">
                No message has gone out yet. Select students in the <Link to={`/class/${classId}`}>roster</Link> and
                invite them by mail.
              </p>
            ) : (
              <div tabIndex={0} role="group" aria-label="Messages">
                <table className="grid">
                  <thead>
                    <tr>
                      <th scope="col">To</th>
                      <th scope="col">Address</th>
                      <th scope="col">What</th>
                      <th scope="col">How it went</th>
                      <th scope="col" />
                    </tr>
                  </thead>
                  <tbody>
                    {found.map((line) => (
                      <tr key={line.id}>
                        <td>
                          <Link className="row-link" to={`/person/${line.personId}`}>
                            <bdi>{fullName(line)}</bdi>
                          </Link>
                        </td>
                        <td className="title-cell">{line.address}</td>
                        <td>{line.kind}</td>
                        <td>
                          {line.state === 'sent' ? (
                            <span className="soft" title={exactTime(line.sentAt!)}>
                              sent {sinceInWords(line.sentAt!, now)}
                            </span>
                          ) : line.state === 'waiting' ? (
                            <span className="warn">{line.problem ?? 'on its way'}</span>
                          ) : (
                            <span className="bad">{line.problem}</span>
                          )}
                        </td>
                        <td>
                          {line.kind === 'invitation' && line.state !== 'waiting' && !canSignIn.has(line.personId) && (
                            <Button
                              size="sm"
                              variant="link"
                              aria-label={`Send again to ${fullName(line)}`}
                              onClick={() => void again(line.personId)}
                            >
                              Send again
                            </Button>
                          )}
                        </td>
                      </tr>
                    ))}
                  </tbody>
                </table>
              </div>
            )
          }
        </Loaded>
        <Arrived />
      </div>
    </main>
  )
}

/** What the stand-in for a mail server took in. Only the demo shows it. */
function Arrived() {
  const now = useNow()
  const letters = useQuery({
    queryKey: ['mail', 'stand-in'],
    queryFn: () => api.get<Letter[]>('mail/stand-in').catch(notThere),
    refetchInterval: FRESH,
  })
  const [open, setOpen] = useState<string | null>(null)
  if (!letters.data) return null
  return (
    <section aria-labelledby="arrived-title" tabIndex={0}>
      <h2 id="arrived-title">As it arrives</h2>
      <p className="soft">This is the demo: messages reach nobody but this page.</p>
      <ul className="list-unstyled">
        {letters.data.slice(0, 30).map(({ id, at, recipient, subject, body }) => (
          <li key={id} className="mb-2">
            <Button
              size="sm"
              variant="link"
              aria-expanded={open === id}
              onClick={() => setOpen(open === id ? null : id)}
            >
              {recipient}
            </Button>{' '}
            <span className="soft">
              {subject} · {sinceInWords(at, now)}
            </span>
            {open === id && <p className="letter">{linked(body)}</p>}
          </li>
        ))}
        {letters.data.length === 0 && <li className="soft">Nothing has arrived yet.</li>}
      </ul>
    </section>
  )
}

const notThere = (error: unknown): null => {
  if (error instanceof ApiError && error.status === 404) return null
  throw error
}

const linked = (body: string) =>
  body.split(/(https?:\/\/\S+)/).map((part, at) =>
    at % 2 ? (
      <a key={at} href={part} target="_blank" rel="noreferrer">
        {part}
      </a>
    ) : (
      part
    ),
  )
