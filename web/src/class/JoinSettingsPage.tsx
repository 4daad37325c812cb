import { fullName, mayInClass, openState } from '@gavrin/core'
import { type UseQueryResult, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { Link } from 'react-router'
import { Loaded } from '../ui/Loaded'
import { Notice } from '../ui/Notice'
import { QrCode } from '../ui/QrCode'
import { ApiError, api, sentenceOf } from '../ui/api'
import { sinceInWords, timeInWords } from '../ui/time'
import { useNow } from '../ui/useNow'
import { ClassFrame } from './ClassFrame'
import { OpenTimesFields } from './OpenTimesFields'
import { WithClass } from './WithClass'
import { type ClassOpened, classKey, joinKey } from './queries'
import type { Answers, Bodies } from '../contract'

interface JoinTwin {
  readonly personId: string
  readonly first: string
  readonly last: string
  readonly email: string | null
  readonly left: boolean
  readonly reason: string
}

interface JoinRequest {
  readonly id: string
  readonly first: string
  readonly last: string
  readonly email: string
  readonly at: number
  readonly twins: readonly JoinTwin[]
}

export type JoinPage = Answers['GET classes/{classId}/join']

export function useJoinPage(classId: string): UseQueryResult<JoinPage> {
  return useQuery({ queryKey: joinKey(classId), queryFn: () => api.get<JoinPage>(`classes/${classId}/join`) })
}

export const joinAddress = (code: string) => `${location.origin}/join/${code}`

/** The code in two halves, easier to read from a board. */
export const spokenCode = (code: string) => `${code.slice(0, 3)} ${code.slice(3)}`

/** The join page of a class as its teachers see it: the code, who may come when, and who asks to be let in. */
export function JoinSettingsPage() {
  return (
    <WithClass>
      {(opened, students) => (
        <ClassFrame opened={opened} present={students.filter(({ leftAt }) => leftAt === null).length}>
          <JoinLoaded key={opened.id} opened={opened} />
        </ClassFrame>
      )}
    </WithClass>
  )
}

function JoinLoaded({ opened }: { opened: ClassOpened }) {
  const page = useJoinPage(opened.id)
  return <Loaded query={page}>{(found) => <Join opened={opened} page={found} />}</Loaded>
}

function Join({ opened, page }: { opened: ClassOpened; page: JoinPage }) {
  const client = useQueryClient()
  const now = useNow()
  const [problem, setProblem] = useState<{ field?: string | undefined; sentence: string } | null>(null)
  // Which known student somebody is; "new" for somebody else. Only where a twin was pointed out.
  const [choices, setChoices] = useState<Readonly<Record<string, string>>>({})
  const may = mayInClass(opened.role, 'set up the class', opened.archived).may
  const attempt = async (work: () => Promise<unknown>) => {
    try {
      await work()
      setProblem(null)
    } catch (error) {
      const first = error instanceof ApiError ? error.errors[0] : undefined
      setProblem({ field: first?.field, sentence: first?.sentence ?? sentenceOf(error) })
    }
    await client.invalidateQueries({ queryKey: classKey(opened.id) })
  }
  const choiceOf = ({ id, twins }: JoinRequest) =>
    choices[id] ?? (twins.length === 0 ? 'new' : twins[0]!.reason === 'the same e-mail' ? twins[0]!.personId : '')
  const ready = page.requests.filter((request) => choiceOf(request) !== '')
  const decide = (letIn: readonly JoinRequest[], turnAway: readonly JoinRequest[]) =>
    attempt(() =>
      api.post(`classes/${opened.id}/join/decide`, {
        letIn: letIn.map((request) => {
          const choice = choiceOf(request)
          return { id: request.id, as: choice === 'new' ? null : choice }
        }),
        turnAway: turnAway.map(({ id }) => id),
      } satisfies Bodies['POST classes/{classId}/join/decide']),
    )
  const state = openState(page, now)
  return (
    <div className="join-columns">
      <section aria-labelledby="code-title">
        <h2 id="code-title">Class code</h2>
        <p className="join-code">{spokenCode(page.code)}</p>
        <div className="join-code-line">
          <QrCode text={joinAddress(page.code)} label={`Join page of ${opened.name}`} size={132} />
          <div>
            <p className="soft">
              Students open{' '}
              <a href={joinAddress(page.code)} target="_blank" rel="noreferrer">
                {joinAddress(page.code).replace(/^https?:\/\//, '')}
              </a>{' '}
              and type their name and e-mail. They are in the class once you let them in.
            </p>
            <p className="join-acts">
              <Link className="btn btn-sm btn-outline-dark" to={`/class/${opened.id}/join/card`}>
                Show it large, or print it
              </Link>
              {may && (
                <Button
                  size="sm"
                  variant="link"
                  onClick={() => void attempt(() => api.post(`classes/${opened.id}/join/new-code`))}
                >
                  New code
                </Button>
              )}
            </p>
          </div>
        </div>
        <fieldset disabled={!may}>
          <OpenTimesFields
            id="join"
            label="Students may ask to join"
            times={page}
            change={({ open, opensAt, closesAt }) =>
              void attempt(() =>
                api.put(`classes/${opened.id}/join`, {
                  open,
                  opensAt,
                  closesAt,
                } satisfies Bodies['PUT classes/{classId}/join']),
              )
            }
            problem={problem?.field === 'closesAt' ? problem.sentence : undefined}
          />
        </fieldset>
        <label className="join-places">
          At most{' '}
          <Form.Select
            size="sm"
            aria-label="How many may wait at once"
            disabled={!may}
            value={page.places}
            onChange={({ target }) =>
              void attempt(() =>
                api.put(`classes/${opened.id}/join`, {
                  open: page.open,
                  opensAt: page.opensAt,
                  closesAt: page.closesAt,
                  places: Number(target.value),
                } satisfies Bodies['PUT classes/{classId}/join']),
              )
            }
          >
            {[...new Set([10, 20, 30, 40, 60, 100, 200, 500, page.places])]
              .sort((one, other) => one - other)
              .map((places) => (
                <option key={places}>{places}</option>
              ))}
          </Form.Select>{' '}
          may wait to be let in at once.
        </label>
        <p className="soft" role="status">
          {state === 'open'
            ? page.closesAt
              ? `Open until ${timeInWords(page.closesAt, now)}.`
              : 'Open.'
            : state === 'not yet'
              ? `Opens ${timeInWords(page.opensAt!, now)}.`
              : state === 'over'
                ? `Closed since ${timeInWords(page.closesAt!, now)}.`
                : 'Closed.'}
        </p>
      </section>
      <section aria-labelledby="asking-title" className="join-requests">
        <div className="join-requests-head">
          <h2 id="asking-title">
            Asking to be let in <span className="soft">{page.requests.length}</span>
          </h2>
          {may && ready.length > 1 && <Button onClick={() => void decide(ready, [])}>Let {ready.length} in</Button>}
          {may && page.requests.length > 1 && (
            <Button variant="link" onClick={() => void decide([], page.requests)}>
              Turn all {page.requests.length} away
            </Button>
          )}
        </div>
        {problem && problem.field !== 'closesAt' && <Notice kind="bad">{problem.sentence}</Notice>}
        {page.requests.length === 0 ? (
          <p className="soft">Nobody is waiting. Whoever asks appears here at once.</p>
        ) : (
          <ul>
            {page.requests.map((request) => (
              <li key={request.id}>
                <div className="join-who">
                  <strong>
                    <bdi>{fullName(request)}</bdi>
                  </strong>{' '}
                  <span className="soft">
                    {request.email} · {sinceInWords(request.at, now)}
                  </span>
                </div>
                {request.twins.length > 0 && (
                  <fieldset className="join-twins">
                    <legend className="warn">Somebody like this is in the class already. Who is it?</legend>
                    {request.twins.map((twin) => (
                      <Form.Check
                        key={twin.personId}
                        type="radio"
                        id={`as-${request.id}-${twin.personId}`}
                        name={`as-${request.id}`}
                        label={
                          <>
                            <bdi>{fullName(twin)}</bdi>{' '}
                            <span className="soft">
                              {twin.reason}; {twin.email ?? 'no e-mail yet'}
                              {twin.left && ', left the class'}
                            </span>
                          </>
                        }
                        checked={choiceOf(request) === twin.personId}
                        onChange={() => setChoices({ ...choices, [request.id]: twin.personId })}
                      />
                    ))}
                    <Form.Check
                      type="radio"
                      id={`as-${request.id}-new`}
                      name={`as-${request.id}`}
                      label="somebody else, new in the class"
                      checked={choiceOf(request) === 'new'}
                      onChange={() => setChoices({ ...choices, [request.id]: 'new' })}
                    />
                  </fieldset>
                )}
                {may && (
                  <span className="join-decide">
                    <Button
                      size="sm"
                      disabled={choiceOf(request) === ''}
                      aria-label={`Let in: ${fullName(request)}`}
                      onClick={() => void decide([request], [])}
                    >
                      Let in
                    </Button>
                    <Button
                      size="sm"
                      variant="link"
                      aria-label={`Turn away: ${fullName(request)}`}
                      onClick={() => void decide([], [request])}
                    >
                      Turn away
                    </Button>
                  </span>
                )}
              </li>
            ))}
          </ul>
        )}
      </section>
    </div>
  )
}
