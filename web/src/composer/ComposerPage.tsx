import {
  type HandoutItem,
  type PlanFacts,
  type Statement,
  countChanges,
  fingerprintChanges,
  fullName,
  plainItem,
  plainStatement,
  planStops,
  proofOf,
  withRecipe,
  withWay,
} from '@gavrin/core'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useDeferredValue, useEffect, useMemo, useState } from 'react'
import { Button, ProgressBar } from 'react-bootstrap'
import { Link, useLocation, useNavigate, useParams, useSearchParams } from 'react-router'
import { useClass } from '../class/queries'
import { Loaded } from '../ui/Loaded'
import { Notice } from '../ui/Notice'
import { ApiError, api, sentenceOf } from '../ui/api'
import { useNow } from '../ui/useNow'
import { MoreLines } from './MoreLines'
import { Proof } from './Proof'
import { RecipeMenu } from './RecipeMenu'
import { SeeAs } from './SeeAs'
import { SlipCard } from './SlipCard'
import { WhenLines } from './WhenLines'
import { PeersOfCopy } from './blanks/PermissionBlanks'
import type { SlipFacts } from './blanks/slip'
import './composer.css'
import type { ProofRow } from './proofRows'
import { type Run, type SlipData, type SlipPart, fetchSlip, handoutsKey, slipKey } from './queries'
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
function beginStatement(
  classId: string,
  worksheets: PlanFacts['worksheets'],
  wanted: string | null,
  now: number,
): Statement {
  const library = worksheets.filter(({ editions, builtIn }) => editions.length > 0 && !builtIn)
  const worksheet = library.find(({ id }) => id === wanted) ?? library[0]
  const due = new Date(now + WEEK)
  if (due.getDay() % 6 === 0) due.setDate(due.getDate() + (due.getDay() === 6 ? 2 : 1))
  due.setHours(16, 0, 0, 0)
  return plainStatement(
    [plainItem('first', worksheet?.id ?? null, worksheet?.editions.at(-1)?.number ?? null)],
    [{ classId, opensAt: null, dueAt: due.getTime() }],
  )
}

function Composer({ classId, data, refresh }: { classId: string; data: SlipData; refresh: () => Promise<unknown> }) {
  const client = useQueryClient()
  const navigate = useNavigate()
  const [search] = useSearchParams()
  const opened = useClass(classId)
  const now = useNow()
  const [first] = useState(() => ({
    title: data.title,
    statement: data.statement?.items.length
      ? data.statement
      : beginStatement(classId, data.worksheets, search.get('worksheet'), Date.now()),
  }))
  // The address names the draft from now on, so that loading the page again opens it; nothing on the page is loaded anew.
  const { slip, state, change, flush } = useSlip(classId, data, first, (id) =>
    window.history.replaceState(window.history.state, '', `/class/${classId}/slip/${id}`),
  )
  const { parts, addClass, trouble: classTrouble } = useParts(data, slip.statement)
  const facts: SlipFacts = useMemo(() => ({ worksheets: data.worksheets, parts }), [data.worksheets, parts])
  const worksheetTitle = titleFrom(slip.statement, data.worksheets)
  const shownTitle = slip.title || worksheetTitle
  const statement = useDeferredValue(slip.statement)
  const proof = useMemo(() => proofOf(statement, data.worksheets, parts, now), [statement, data.worksheets, parts, now])
  const [running, setRunning] = useState<string | null>(null)
  const [chosen, setChosen] = useState<ProofRow | null>(null)
  const [seeing, setSeeing] = useState(false)
  const set = (next: Statement) => change({ ...slip, statement: next })

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
      const title = slip.title || worksheetTitle
      if (title !== slip.title) change({ ...slip, title })
      const kept = await flush(true)
      if (!kept)
        throw new ApiError(
          0,
          'slip-not-kept',
          'Nothing was handed out, because the slip could not be kept. Try again in a moment.',
        )
      const seen = proofOf(slip.statement, data.worksheets, parts, Date.now()).changes
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
  const retry = useMutation({
    mutationFn: (slotKeys: readonly string[] | null) =>
      api.post<Run>(`handouts/${running}/hand-out/retry`, slotKeys ? { slotKeys } : {}),
    onSuccess: async () => {
      await run.refetch()
      await refresh()
    },
  })
  const undo = useMutation({
    mutationFn: () => api.post<Run>(`handouts/${data.id}/undo`),
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: handoutsKey(classId) })
      await navigate(0)
    },
  })
  const failures = useMemo(
    () => new Map(run.data?.failures.map(({ slotKey, reason }) => [slotKey, reason]) ?? []),
    [run.data?.failures],
  )
  const finished = run.data?.finished === true
  const failed = failures.size
  useEffect(() => {
    if (!finished || running === null) return
    void client.invalidateQueries({ queryKey: handoutsKey(classId) })
    void client.invalidateQueries({ queryKey: ['board', running] })
    if (failed === 0) void navigate(`/class/${classId}/handouts/${running}`)
    else void refresh()
    // What is read again is not a reason to go on.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [finished, running, failed, client, classId, navigate])
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

  const busy = handOut.isPending || undo.isPending || (running !== null && !finished)
  const stops = proof.parts.some(({ plan }) => planStops(plan))
  const seen = chosen ?? firstRow(proof)
  const seenPerson = seen?.copy.holders[0]?.personId
  const chosenItem = chosen && slip.statement.items.find(({ id }) => id === chosen.copy.itemId)
  const nothing = proof.changes.length === 0
  const onlyWords =
    nothing && data.handedOutAt !== null && JSON.stringify(first.statement) !== JSON.stringify(slip.statement)
  const trouble = handOut.error ?? retry.error ?? undo.error
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
          {parts
            .filter((part) => part.classId !== classId)
            .map((part) => `No. ${part.number} in ${part.facts.className} · `)
            .join('')}
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
        {classTrouble && <Notice kind="bad">{classTrouble}</Notice>}
        {slip.statement.items.map((item) => (
          <SlipCard key={item.id} item={item} statement={slip.statement} facts={facts} change={set} />
        ))}
        <AddSlip statement={slip.statement} facts={facts} change={set} />
        <WhenLines
          statement={slip.statement}
          facts={facts}
          change={set}
          classes={data.classes}
          addClass={(id) => {
            const home = slip.statement.classes[0]
            void addClass(id).then(
              (added) =>
                added &&
                set({
                  ...slip.statement,
                  classes: [
                    ...slip.statement.classes,
                    { classId: id, opensAt: home?.opensAt ?? null, dueAt: home?.dueAt ?? null },
                  ],
                }),
            )
          }}
          removeClass={(id) =>
            set({ ...slip.statement, classes: slip.statement.classes.filter((times) => times.classId !== id) })
          }
        />
        <MoreLines statement={slip.statement} facts={facts} change={set} />
        <div className="slip-foot">
          <RecipeMenu statement={slip.statement} use={(recipe) => set(withRecipe(slip.statement, recipe, classId))} />
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
          {discard.error && <span className="bad">{sentenceOf(discard.error)}</span>}
        </div>
      </section>
      <div className="split-main proof-side">
        <Proof
          proof={proof}
          facts={facts}
          failures={failures}
          chosen={chosen?.key ?? null}
          choose={(row) => setChosen(row.key === chosen?.key ? null : row)}
        />
        <footer className="bar">
          {busy && run.data && !finished ? (
            <div className="run" role="status">
              <ProgressBar now={run.data.total ? (100 * run.data.done) / run.data.total : 0} aria-label="Handing out" />
              <span>
                {run.data.done} of {run.data.total} done. It goes on if you leave this page.
              </span>
            </div>
          ) : (
            <>
              {failed > 0 ? (
                <Button disabled={retry.isPending} onClick={() => retry.mutate(chosen ? [chosen.slotKey] : null)}>
                  {chosen ? 'Try this one again' : `Try ${failed} again`}
                </Button>
              ) : (
                <Button
                  disabled={busy || stops || (nothing && !onlyWords) || !data.mayHandOut}
                  onClick={() => handOut.mutate()}
                >
                  {busy ? 'Handing out …' : onlyWords ? 'Hand out the new wording' : handOutWords(proof.changes)}
                </Button>
              )}
              {seen && seenPerson && (
                <Button variant="outline-dark" onClick={() => setSeeing(true)}>
                  See as <bdi>{firstNameOf(seen, seenPerson)}</bdi>
                </Button>
              )}
              {chosen && chosenItem && (
                <PeersOfCopy
                  item={chosenItem}
                  facts={facts}
                  alter={(alteration) =>
                    set({
                      ...slip.statement,
                      items: slip.statement.items.map((item) =>
                        item.id === chosenItem.id ? { ...item, ...alteration } : item,
                      ),
                    })
                  }
                  slotKey={chosen.slotKey}
                  holders={chosen.copy.holders.map(({ personId }) => personId)}
                  readers={
                    proof.parts
                      .flatMap(({ plan }) => plan.copies)
                      .find(({ slotKey }) => slotKey === chosen.slotKey)
                      ?.readers.map(({ personId }) => personId) ?? []
                  }
                />
              )}
              {data.handedOutAt !== null && data.id && (
                <Link className="btn btn-link" to={`/class/${classId}/handouts/${data.id}`}>
                  Back to the board
                </Link>
              )}
              {data.undoable !== null && nothing && (
                <Button variant="link" disabled={busy} onClick={() => undo.mutate()}>
                  Undo the last hand-out
                </Button>
              )}
              {trouble ? (
                <span className="bad" role="alert">
                  {sentenceOf(trouble)}
                </span>
              ) : failed > 0 ? (
                <span className="bad" role="alert">
                  {failed} could not be written: see “to look at”. All others are done.
                </span>
              ) : !data.mayHandOut ? (
                <span className="soft">You see this slip; those who teach all its classes hand out.</span>
              ) : (
                <span className="soft">{footWords(proof.changes, nothing && !stops)}</span>
              )}
            </>
          )}
        </footer>
      </div>
      {seeing && seen && seenPerson && (
        <SeeAs
          copy={seen.copy}
          personId={seenPerson}
          statement={slip.statement}
          facts={{ ...seen.part.facts, worksheets: data.worksheets }}
          title={shownTitle}
          ink={opened.data?.ink ?? 'deep blue'}
          close={() => setSeeing(false)}
        />
      )}
    </main>
  )
}

/** The classes of a slip with what their proof needs; those that are added are read when they are. */
function useParts(data: SlipData, statement: Statement) {
  const [added, setAdded] = useState<readonly SlipPart[]>([])
  const [trouble, setTrouble] = useState<string | null>(null)
  const { classes } = statement
  const parts = useMemo(() => {
    const known = [
      ...data.parts,
      ...added.filter(({ classId }) => !data.parts.some((part) => part.classId === classId)),
    ]
    return classes.flatMap(({ classId }) => known.find((part) => part.classId === classId) ?? [])
  }, [data.parts, added, classes])
  const addClass = async (classId: string): Promise<boolean> => {
    setTrouble(null)
    if (data.parts.some((part) => part.classId === classId) || added.some((part) => part.classId === classId))
      return true
    try {
      const part = await api.get<SlipPart>(`classes/${classId}/handouts/facts`)
      setAdded((before) => [...before, part])
      return true
    } catch (error) {
      setTrouble(sentenceOf(error))
      return false
    }
  }
  return { parts, addClass, trouble }
}

function AddSlip({
  statement,
  facts,
  change,
}: {
  statement: Statement
  facts: SlipFacts
  change: (next: Statement) => void
}) {
  const add = (alteration: (item: HandoutItem) => HandoutItem) => {
    const id = `s${crypto.randomUUID().slice(0, 8)}`
    change({ ...statement, items: [...statement.items, alteration(plainItem(id, null, null))] })
  }
  const link = facts.worksheets.find(({ builtIn }) => builtIn === 'link')
  return (
    <p className="add-slips">
      <Button variant="link" onClick={() => add((item) => item)}>
        Add a worksheet
      </Button>
      <Button variant="link" onClick={() => add((item) => withWay(item, 'to read', []))}>
        Add something to read
      </Button>
      {link && (
        <Button
          variant="link"
          onClick={() => add((item) => ({ ...withWay(item, 'to read', []), link: { address: '', title: '' } }))}
        >
          Add a link
        </Button>
      )}
    </p>
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

function titleFrom(statement: Statement, worksheets: PlanFacts['worksheets']): string {
  const [item] = statement.items
  if (item?.link) return item.link.title
  return worksheets.find(({ id }) => id === item?.worksheetId)?.title ?? ''
}

function firstRow({ parts }: ReturnType<typeof proofOf<SlipPart>>): Pick<ProofRow, 'copy' | 'part'> | null {
  for (const { part, plan } of parts) if (plan.copies[0]) return { part, copy: plan.copies[0] }
  return null
}

function firstNameOf({ part }: Pick<ProofRow, 'part'>, personId: string): string {
  const member = part.facts.members.find((candidate) => candidate.personId === personId)
  const guest = part.facts.guests.find((candidate) => candidate.personId === personId)
  return member ? member.first || fullName(member) : (guest?.name ?? 'them')
}

/** The button always says the number. */
function handOutWords(changes: readonly { kind: string }[]): string {
  const { create, notify, ...others } = countChanges(changes as Parameters<typeof countChanges>[0])
  const rest = Object.values(others).reduce((sum, count) => sum + count, 0)
  const copies = `${create} ${create === 1 ? 'copy' : 'copies'}`
  if (create + rest === 0 && notify > 0) return `Send ${notify} cover ${notify === 1 ? 'note' : 'notes'}`
  if (rest === 0) return `Hand out ${copies}`
  const mend = `${rest} ${rest === 1 ? 'change' : 'changes'}`
  return create === 0 ? `Make ${mend}` : `Hand out ${copies} and make ${mend}`
}

function footWords(changes: readonly { kind: string }[], allDone: boolean): string {
  if (allDone) return 'All of this is handed out.'
  const { notify } = countChanges(changes as Parameters<typeof countChanges>[0])
  const notes = notify > 0 ? `${notify} cover ${notify === 1 ? 'note goes' : 'notes go'} out with it. ` : ''
  return `${notes}You can mend or undo it afterwards; nothing written is lost.`
}
