import {
  plainItem,
  type PlanFacts,
  type Statement,
  changesToPlan,
  countChanges,
  fingerprintChanges,
  planHandout,
  planStops,
} from '@gavrin/core'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useDeferredValue, useEffect, useMemo, useState } from 'react'
import { Button, ProgressBar } from 'react-bootstrap'
import { Link, useLocation, useNavigate, useParams } from 'react-router'
import { useClass } from '../class/queries'
import { Loaded } from '../ui/Loaded'
import { Notice } from '../ui/Notice'
import { ApiError, api, sentenceOf } from '../ui/api'
import { useNow } from '../ui/useNow'
import { Proof } from './Proof'
import { SlipSentence } from './SlipSentence'
import './composer.css'
import { type SlipData, fetchSlip, handoutsKey, slipKey } from './queries'
import { type SlipState, useSlip } from './useSlip'

/** The slip on the left, its proof on the right. */
export function ComposerPage() {
  const { classId = '', handoutId } = useParams()
  const { key } = useLocation()
  const query = useQuery({
    queryKey: [...slipKey(classId, handoutId), key],
    queryFn: () => fetchSlip(classId, handoutId),
    gcTime: 0,
    staleTime: 0,
  })
  return (
    <Loaded query={query}>
      {(data) => <Composer key={key} classId={classId} data={data} refresh={() => query.refetch()} />}
    </Loaded>
  )
}

const WEEK = 7 * 86_400_000

/** A slip with every blank sensibly filled in: the worksheet worked on last, the whole class, due in a week at four. */
function beginStatement(facts: PlanFacts, now: number): Statement {
  const worksheet = facts.worksheets.find(({ editions }) => editions.length > 0)
  const due = new Date(now + WEEK)
  if (due.getDay() % 6 === 0) due.setDate(due.getDate() + (due.getDay() === 6 ? 2 : 1))
  due.setHours(16, 0, 0, 0)
  return {
    items: [plainItem('first', worksheet?.id ?? null, worksheet?.editions.at(-1)?.number ?? null)],
    dueAt: due.getTime(),
  }
}

interface Run {
  readonly total: number
  readonly done: number
  readonly finished: boolean
}

function Composer({ classId, data, refresh }: { classId: string; data: SlipData; refresh: () => Promise<unknown> }) {
  const client = useQueryClient()
  const navigate = useNavigate()
  const opened = useClass(classId)
  const now = useNow()
  const [first] = useState(() => ({
    title: data.title,
    statement: data.statement?.items.length ? data.statement : beginStatement(data.facts, Date.now()),
  }))
  // The address names the draft from now on, so that loading the page again opens it; nothing on the page is loaded anew.
  const { slip, state, change, flush } = useSlip(classId, data, first, (id) =>
    window.history.replaceState(window.history.state, '', `/class/${classId}/slip/${id}`),
  )
  const worksheetTitle =
    data.facts.worksheets.find(({ id }) => id === slip.statement.items[0]?.worksheetId)?.title ?? ''
  const shownTitle = slip.title || worksheetTitle
  const statement = useDeferredValue(slip.statement)
  const plan = useMemo(() => planHandout(statement, data.facts, now), [statement, data.facts, now])
  const changes = useMemo(() => changesToPlan(plan.copies, data.existing), [plan, data.existing])
  const [running, setRunning] = useState<string | null>(null)

  const run = useQuery({
    queryKey: ['run', running],
    queryFn: () => api.get<Run>(`handouts/${running}/hand-out`),
    enabled: running !== null,
    refetchInterval: ({ state: { data: last } }) => (last?.finished ? false : 400),
    gcTime: 0,
    staleTime: 0,
  })
  const handOut = useMutation({
    mutationFn: async () => {
      if (!slip.title && worksheetTitle) change({ ...slip, title: worksheetTitle })
      const kept = await flush(true)
      if (!kept)
        throw new ApiError(
          0,
          'slip-not-kept',
          'Nothing was handed out, because the slip could not be kept. Try again in a moment.',
        )
      const seen = changesToPlan(planHandout(slip.statement, data.facts, Date.now()).copies, data.existing)
      const begun = await api.post<Run>(`handouts/${kept.id}/hand-out`, {
        version: kept.version,
        fingerprint: fingerprintChanges(seen),
      })
      return { ...begun, id: kept.id }
    },
    onSuccess: ({ id }) => setRunning(id),
    onError: async (error) => {
      if (error instanceof ApiError && (error.code === 'proof-changed' || error.code === 'nothing-to-do'))
        await refresh()
    },
  })
  const finished = run.data?.finished === true
  useEffect(() => {
    if (!finished || running === null) return
    void client.invalidateQueries({ queryKey: handoutsKey(classId) })
    void client.invalidateQueries({ queryKey: ['board', running] })
    void navigate(`/class/${classId}/handouts/${running}`)
  }, [finished, running, client, classId, navigate])
  const discard = useMutation({
    mutationFn: async () => {
      const kept = await flush()
      if (kept) await api.delete<void>(`handouts/${kept.id}`)
    },
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: handoutsKey(classId) })
      await navigate(`/class/${classId}/handouts`)
    },
  })
  useEffect(() => {
    document.title = `No. ${data.number} ${shownTitle} – Gavrin`
  }, [data.number, shownTitle])

  const busy = handOut.isPending || running !== null
  const stops = planStops(plan)
  return (
    <main className="split composer">
      <section className="split-side slip-side" aria-label="Slip">
        <div className="slip-title">
          <span className="slab">No. {data.number}</span>
          <input
            className="title-field"
            aria-label="Title of the handout"
            maxLength={200}
            dir="auto"
            value={slip.title}
            placeholder={worksheetTitle || 'Title of the handout'}
            onChange={({ target }) => change({ ...slip, title: target.value })}
          />
        </div>
        <p className="soft" role="status">
          {opened.data ? `${opened.data.name}, ${opened.data.subject} · ` : ''}
          <SlipNote state={state} />
        </p>
        {state.is === 'not kept' && (
          <Notice kind="bad">
            {state.sentence}{' '}
            {state.stale && (
              <Button variant="link" onClick={() => void navigate(0)}>
                Open the newer one
              </Button>
            )}
          </Notice>
        )}
        <SlipSentence
          statement={slip.statement}
          facts={data.facts}
          change={(next) => change({ ...slip, statement: next })}
        />
        {data.handedOutAt === null && state.is === 'kept' && (
          <Button
            variant="link"
            className="discard"
            onClick={() => discard.mutate()}
            disabled={busy || discard.isPending}
          >
            Throw this draft away
          </Button>
        )}
      </section>
      <div className="split-main proof-side">
        <Proof plan={plan} changes={changes} existing={data.existing} facts={data.facts} />
        <footer className="bar">
          {running !== null && run.data && !finished ? (
            <div className="run" role="status">
              <ProgressBar now={run.data.total ? (100 * run.data.done) / run.data.total : 0} aria-label="Handing out" />
              <span>
                {run.data.done} of {run.data.total} done. It goes on if you leave this page.
              </span>
            </div>
          ) : (
            <>
              <Button
                disabled={busy || stops || changes.length === 0 || !data.mayHandOut}
                onClick={() => handOut.mutate()}
              >
                {busy ? 'Handing out …' : handOutWords(changes)}
              </Button>
              {data.handedOutAt !== null && data.id && (
                <Link className="btn btn-link" to={`/class/${classId}/handouts/${data.id}`}>
                  Back to the board
                </Link>
              )}
              {handOut.error ? (
                <span className="bad" role="alert">
                  {sentenceOf(handOut.error)}
                </span>
              ) : !data.mayHandOut ? (
                <span className="soft">Helpers see this slip; its teachers hand out.</span>
              ) : (
                <span className="soft">
                  {changes.length === 0 && !stops
                    ? 'All of this is handed out.'
                    : 'You can mend it afterwards by editing the slip; nothing written is lost.'}
                </span>
              )}
            </>
          )}
        </footer>
      </div>
    </main>
  )
}

function SlipNote({ state }: { state: SlipState }) {
  switch (state.is) {
    case 'new':
      return <>a new slip</>
    case 'keeping':
      return <>keeping …</>
    case 'kept':
      return <>slip kept</>
    case 'not kept':
      return <span className="bad">not kept</span>
  }
}

/** The button always says the number. */
function handOutWords(changes: readonly { kind: string }[]): string {
  const { create, ...others } = countChanges(changes as Parameters<typeof countChanges>[0])
  const rest = Object.values(others).reduce((sum, count) => sum + count, 0)
  const copies = `${create} ${create === 1 ? 'copy' : 'copies'}`
  if (rest === 0) return `Hand out ${copies}`
  const mend = `${rest} ${rest === 1 ? 'change' : 'changes'}`
  return create === 0 ? `Make ${mend}` : `Hand out ${copies} and make ${mend}`
}
