import { fullName } from '@gavrin/core'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { Button } from 'react-bootstrap'
import { Link } from 'react-router'
import { Arrived } from './Arrived'
import { WithClass } from '../class/WithClass'
import { Loaded } from '../ui/Loaded'
import { Notice } from '../ui/Notice'
import { api, sentenceOf } from '../ui/api'
import { exactTime, sinceInWords, timeInWords } from '../ui/time'
import { useNow } from '../ui/useNow'
import '../people/people.css'
import type { Answers, Bodies } from '../contract'

type MailLine = Answers['GET classes/{classId}/mail'][number]

const FRESH = 3_000
const NOT_ALL_AGAIN = 'Not all were sent again: some have no e-mail any more. They read the note on their desk.'

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
    refetchInterval: ({ state }) => (state.data?.some(isOnItsWay) ? FRESH : 30_000),
  })
  useEffect(() => {
    document.title = `Mailroom – ${name} – Gavrin`
  }, [name])
  const attempt = async (work: () => Promise<unknown>) => {
    setProblem(null)
    try {
      await work()
    } catch (error) {
      setProblem(sentenceOf(error))
    }
    await client.invalidateQueries({ queryKey: key })
  }
  const invite = (personId: string) =>
    attempt(() =>
      api.post(`classes/${classId}/invitations`, {
        personIds: [personId],
      } satisfies Bodies['POST classes/{classId}/invitations']),
    )
  const sendAgain = (messageIds: readonly string[]) =>
    attempt(async () => {
      const { sent } = await api.post<Answers['POST classes/{classId}/mail/again']>(`classes/${classId}/mail/again`, {
        messageIds,
      } satisfies Bodies['POST classes/{classId}/mail/again'])
      if (sent < messageIds.length) setProblem(NOT_ALL_AGAIN)
    })
  const failed = lines.data?.filter(({ kind, state }) => kind === 'cover note' && state === 'failed') ?? []
  return (
    <main className="page">
      <div className="page-head">
        <h1>Mailroom</h1>
        <span className="soft">messages of {name}</span>
        {failed.length > 1 && (
          <span className="page-acts">
            <Button variant="outline-dark" onClick={() => void sendAgain(failed.map(({ id }) => id))}>
              Send {failed.length} that failed again
            </Button>
          </span>
        )}
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
                <table className="grid mail-table">
                  <thead>
                    <tr>
                      <th scope="col">To</th>
                      <th scope="col">Address</th>
                      <th scope="col">What</th>
                      <th scope="col">How it went</th>
                      <th scope="col">
                        <span className="visually-hidden">What to do</span>
                      </th>
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
                        <td className="title-cell" title={line.address}>
                          {line.address}
                        </td>
                        <td className="title-cell">
                          {line.kind}
                          {line.handout && (
                            <>
                              {', '}
                              <Link to={`/class/${classId}/handouts/${line.handout.id}`}>
                                No. {line.handout.number} {line.handout.title}
                              </Link>
                            </>
                          )}
                        </td>
                        <td className="went">
                          <HowItWent line={line} now={now} />
                        </td>
                        <td>
                          {maySendAgain(line, canSignIn) && (
                            <Button
                              size="sm"
                              variant="link"
                              aria-label={`Send again to ${fullName(line)}`}
                              onClick={() =>
                                void (line.kind === 'invitation' ? invite(line.personId) : sendAgain([line.id]))
                              }
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

const isOnItsWay = ({ state, opensAt }: MailLine) => state === 'waiting' && (opensAt ?? 0) <= Date.now()

/** Invitations until they are taken up; of cover notes those that failed, for nobody gets the same one twice. */
const maySendAgain = ({ kind, state, personId }: MailLine, canSignIn: ReadonlySet<string>) =>
  kind === 'invitation' ? state !== 'waiting' && !canSignIn.has(personId) : kind === 'cover note' && state === 'failed'

function HowItWent({ line: { state, sentAt, opensAt, problem }, now }: { line: MailLine; now: number }) {
  if (state === 'sent' && sentAt !== null)
    return (
      <span className="soft" title={exactTime(sentAt)}>
        sent {sinceInWords(sentAt, now)}
      </span>
    )
  if (state === 'withdrawn') return <span className="soft">{problem}</span>
  if (state === 'failed') return <span className="bad">{problem}</span>
  return opensAt !== null && opensAt > now ? (
    <span className="soft" title={exactTime(opensAt)}>
      goes out {timeInWords(opensAt, now)}
    </span>
  ) : (
    <span className="warn">{problem ?? 'on its way'}</span>
  )
}
