import {
  type PlanFacts,
  type Statement,
  fullName,
  isSame,
  linkTitle,
  plainItem,
  plainStatement,
  planStops,
  proofOf,
  withRecipe,
  usualDue,
} from '@gavrin/core'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useDeferredValue, useEffect, useMemo, useState } from 'react'
import { Button } from 'react-bootstrap'
import { useLocation, useNavigate, useParams, useSearchParams } from 'react-router'
import { useClass } from '../class/queries'
import { Loaded } from '../ui/Loaded'
import { Notice } from '../ui/Notice'
import { api, sentenceOf } from '../ui/api'
import { zoneOfTimes } from '../ui/time'
import { useNow } from '../ui/useNow'
import { AddSlip } from './AddSlip'
import { rememberBegun } from './begun'
import { HandOutBar } from './HandOutBar'
import { MarksProof } from './MarksProof'
import { MoreLines } from './MoreLines'
import { Proof } from './Proof'
import { RecipeMenu } from './RecipeMenu'
import { SeeAs } from './SeeAs'
import { SeldomLines } from './SeldomLines'
import { SlipCard } from './SlipCard'
import { SettleSlips, TakenOver } from './TwoSlips'
import { WhenLines } from './WhenLines'
import { PeersOfCopy } from './blanks/PermissionBlanks'
import type { SlipFacts } from './blanks/slip'
import './composer.css'
import { countWhole } from './proofLines'
import type { ProofRow } from './proofRows'
import { type SlipData, type SlipPart, fetchSlip, handoutsKey, slipKey } from './queries'
import { useHandOut } from './useHandOut'
import { useParts } from './useParts'
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

/** A slip with every blank sensibly filled in: the whole class, due in a week at four. Which worksheet is for its teacher to say. */
function beginStatement(
  classId: string,
  worksheets: PlanFacts['worksheets'],
  wanted: string | null,
  now: number,
): Statement {
  const worksheet = worksheets.find(({ id, editions }) => id === wanted && editions.length > 0)
  return plainStatement(
    [plainItem('first', worksheet?.id ?? null, worksheet?.editions.at(-1)?.number ?? null)],
    [{ classId, opensAt: null, dueAt: usualDue(now, zoneOfTimes()) }],
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
  const { slip, state, change, flush, settle, taken, seen } = useSlip(classId, data, first, {
    onBegun: (id) => {
      rememberBegun(id)
      window.history.replaceState(window.history.state, '', `/class/${classId}/slip/${id}`)
    },
    onMerged: () => void refresh(),
  })
  const { parts, addClass, trouble: classTrouble } = useParts(data, slip.statement)
  const facts: SlipFacts = useMemo(() => ({ worksheets: data.worksheets, parts }), [data.worksheets, parts])
  const worksheetTitle = titleFrom(slip.statement, data.worksheets)
  const shownTitle = slip.title || worksheetTitle
  const statement = useDeferredValue(slip.statement)
  const proof = useMemo(() => proofOf(statement, data.worksheets, parts, now), [statement, data.worksheets, parts, now])
  const [chosen, setChosen] = useState<ProofRow | null>(null)
  const [seeing, setSeeing] = useState(false)
  const set = (next: Statement) => change({ ...slip, statement: next })

  const handing = useHandOut({
    classId,
    handoutId: data.id,
    lastRunAt: data.lastRunAt,
    keep: () => {
      const title = slip.title || worksheetTitle
      if (title !== slip.title) change({ ...slip, title })
      return flush(true)
    },
    changesNow: () => proofOf(slip.statement, data.worksheets, parts, Date.now()).changes,
    refresh,
  })
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

  const stops = proof.parts.some(({ plan }) => planStops(plan))
  const shown = chosen ?? firstRow(proof)
  const shownPerson = shown?.copy.holders[0]?.personId
  const chosenItem = chosen && slip.statement.items.find(({ id }) => id === chosen.copy.itemId)
  // Only what is no copy's was changed: instructions, marking, the cover note for those who come later.
  const onlyWords = proof.changes.length === 0 && data.given !== null && !isSame(data.given, slip.statement)
  return (
    <main className="split composer">
      <section className="split-side slip-side" aria-label="What is given out">
        <h1 className="visually-hidden">
          Handout No. {data.number}: {slip.title || worksheetTitle}
        </h1>
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
        <p className="soft slip-state" role="status">
          {opened.data ? `${opened.data.name}, ${opened.data.subject} · ` : ''}
          {parts
            .filter((part) => part.classId !== classId)
            .map((part) => `No. ${part.number} in ${part.facts.className} · `)
            .join('')}
          <SlipNote state={state} />
        </p>
        {state.is === 'not kept' && <Notice kind="bad">{state.sentence}</Notice>}
        {state.is === 'to settle' && (
          <SettleSlips conflicts={state.conflicts} slip={slip} facts={facts} settle={settle} />
        )}
        <TakenOver taken={taken} slip={slip} facts={facts} close={seen} />
        {classTrouble && <Notice kind="bad">{classTrouble}</Notice>}
        {slip.statement.items.map((item) => (
          <SlipCard key={item.id} item={item} statement={slip.statement} facts={facts} proof={proof} change={set} />
        ))}
        <WhenLines
          statement={slip.statement}
          facts={facts}
          change={set}
          removeClass={(id) =>
            set({ ...slip.statement, classes: slip.statement.classes.filter((times) => times.classId !== id) })
          }
        />
        <MoreLines statement={slip.statement} facts={facts} change={set} />
        <SeldomLines
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
        />
        <AddSlip statement={slip.statement} facts={facts} change={set} />
        <div className="slip-foot">
          <RecipeMenu statement={slip.statement} use={(recipe) => set(withRecipe(slip.statement, recipe, classId))} />
          {data.handedOutAt === null && state.is === 'kept' && (
            <Button
              variant="link"
              className="discard"
              onClick={() => discard.mutate()}
              disabled={handing.busy || discard.isPending}
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
          statement={statement}
          facts={facts}
          failures={handing.failures}
          chosen={chosen?.key ?? null}
          choose={(row) => setChosen(row.key === chosen?.key ? null : row)}
        />
        {data.id !== null && data.given !== null && (
          <MarksProof handoutId={data.id} given={data.given} statement={statement} changes={proof.changes} />
        )}
        <HandOutBar
          handing={handing}
          counts={countWhole(proof)}
          nothing={proof.changes.length === 0}
          stops={stops || state.is === 'to settle'}
          onlyWords={onlyWords}
          data={data}
          classId={classId}
          chosen={chosen?.slotKey ?? null}
        >
          {shown && shownPerson && (
            <Button variant="outline-dark" onClick={() => setSeeing(true)}>
              See as <bdi>{firstNameOf(shown, shownPerson)}</bdi>
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
        </HandOutBar>
      </div>
      {seeing && shown && shownPerson && (
        <SeeAs
          copy={shown.copy}
          personId={shownPerson}
          statement={slip.statement}
          facts={{ ...shown.part.facts, worksheets: data.worksheets }}
          title={shownTitle}
          ink={opened.data?.ink ?? 'deep blue'}
          close={() => setSeeing(false)}
        />
      )}
    </main>
  )
}

function SlipNote({ state }: { state: SlipState }) {
  switch (state.is) {
    case 'new':
      return <>a new slip: what is given out, to whom and how</>
    case 'keeping':
      return <>keeping …</>
    case 'kept':
      return <>slip kept</>
    case 'not kept':
    case 'to settle':
      return <span className="bad">not kept</span>
  }
}

function titleFrom(statement: Statement, worksheets: PlanFacts['worksheets']): string {
  const [item] = statement.items
  if (item?.link) return linkTitle(item.link)
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
