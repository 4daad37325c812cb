import {
  type CopyMark,
  type MarkChange,
  type MarkParts,
  type MarkingWay,
  type Points,
  NO_PARTS,
  fullName,
  isComplete,
  markOf,
  memberParts,
  pointsInWords,
  readPoints,
} from '@gavrin/core'
import { type PointerEvent, type ReactNode, useId, useRef, useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import { useStored } from '../ui/useStored'
import { PointsField, nextPoints } from './PointsField'
import { SecondReadings, isReaderOf } from './SecondReading'
import { WholeRemark } from './WholeRemark'
import type { MarkedCopy, Wish } from './queries'

interface Props {
  readonly handoutId: string
  /** Who marks. */
  readonly me: string
  readonly way: MarkingWay
  readonly copy: MarkedCopy
  readonly whose: string
  readonly mayMark: boolean
  /** Points that are proposed for answers and not taken. */
  readonly proposals: Readonly<Record<string, Points>>
  readonly isFolded: boolean
  readonly fold: () => void
  readonly change: (wish: Omit<Wish, 'copyId'>) => Promise<boolean>
  /** Says that the marking of this copy is done, with what the button says besides, and goes on to the next. */
  readonly finish: () => void
  readonly said: ReactNode
}

/** What saying that a mark is done would keep besides, and whether it can be said. */
export function finishing(
  way: MarkingWay,
  copy: MarkedCopy,
  proposals: Readonly<Record<string, Points>>,
): { readonly taking: readonly MarkChange[]; readonly isEnough: boolean } {
  const mark = markOf(way, copy.spaces, copy.parts, copy.daysLate)
  // Whoever typed the whole mark, or excused it, has said what counts.
  if (mark.isTyped || mark.excused) return { taking: [], isEnough: true }
  const left = copy.spaces.filter(({ id }) => copy.parts.spaces[id] === undefined && proposals[id] !== undefined)
  const taking = left.map(({ id }): MarkChange => ({ of: 'space', space: id, was: null, to: proposals[id]! }))
  return { taking, isEnough: isComplete(way, mark) || (mark.open > 0 && mark.open === taking.length) }
}

/** The mark slip: what a mark is made of, adding itself up; over the lower right corner, moved by its head, folded to one line. */
export function MarkSlip(props: Props) {
  const { way, copy, whose, isFolded, fold } = props
  const mark = markOf(way, copy.spaces, copy.parts, copy.daysLate)
  const [place, setPlace] = useStored('mark slip place', { right: 26, bottom: 22 })
  const drag = useRef<{ x: number; y: number; right: number; bottom: number } | null>(null)
  const box = useRef<HTMLElement>(null)
  const moved = (event: PointerEvent) => {
    const from = drag.current
    const size = box.current?.getBoundingClientRect()
    if (!from || !size) return
    const within = (value: number, most: number) => Math.max(0, Math.min(most, value))
    setPlace({
      right: within(from.right + from.x - event.clientX, window.innerWidth - size.width),
      bottom: within(from.bottom + from.y - event.clientY, window.innerHeight - Math.min(size.height, 120)),
    })
  }
  return (
    <section
      ref={box}
      className={isFolded ? 'mark-slip folded' : 'mark-slip'}
      aria-label={`Mark slip of ${whose}`}
      style={{ right: place.right, bottom: place.bottom }}
    >
      <div
        className="mark-slip-head"
        title="Move it by this line"
        onPointerDown={(event) => {
          if ((event.target as HTMLElement).closest('button, input')) return
          drag.current = { x: event.clientX, y: event.clientY, ...place }
          event.currentTarget.setPointerCapture(event.pointerId)
        }}
        onPointerMove={moved}
        onPointerUp={() => (drag.current = null)}
      >
        <Total {...props} mark={mark} />
        <button type="button" className="btn btn-link btn-sm p-0" aria-expanded={!isFolded} onClick={fold}>
          {isFolded ? 'unfold' : 'fold'} <kbd>F</kbd>
        </button>
      </div>
      {!isFolded && <Inner {...props} mark={mark} />}
    </section>
  )
}

type WithMark = Props & { readonly mark: CopyMark }

function Total({ way, copy, mark, mayMark, change }: WithMark) {
  const { parts } = copy
  if (mark.excused) return <span className="slab mark-total">excused</span>
  if (way.kind === 'remark') return <span className="mark-parts">by a remark alone</span>
  const spaces = sumOf(copy.spaces.map(({ id }) => parts.spaces[id]))
  const rubric = sumOf(way.rubric.map(({ id }) => parts.rubric[id]?.points))
  const said = [
    copy.spaces.length > 0 && spaces !== null && `spaces ${pointsInWords(spaces)}`,
    way.rubric.length > 0 && rubric !== null && `rubric ${pointsInWords(rubric)}`,
    parts.adjustments.length > 0 && withSign(parts.adjustments.reduce((sum, { points }) => sum + points, 0)),
    mark.late < 0 && `late ${pointsInWords(mark.late)}`,
  ].filter(Boolean)
  return (
    <>
      {mark.step !== null && <span className="slab mark-total">{mark.step}</span>}
      {mark.most !== null && (
        <span className={mark.isTyped ? 'mark-typed is-typed' : 'mark-typed'}>
          <PointsField
            className="mark-total slab"
            label="The whole mark"
            value={parts.total ?? null}
            proposal={mark.total}
            most={mark.most}
            disabled={!mayMark}
            change={(to) => void change({ changes: [{ of: 'total', was: parts.total, to }] })}
          />
        </span>
      )}
      <span className="mark-parts">
        {mark.isTyped && mark.sum !== null ? (
          <>
            typed; its parts come to {pointsInWords(mark.total! - mark.difference)}
            {mark.difference !== 0 && ` (${withSign(mark.difference)})`}{' '}
            <button
              type="button"
              className="btn btn-link btn-sm p-0"
              onClick={() => void change({ changes: [{ of: 'total', was: parts.total, to: null }] })}
            >
              count them
            </button>
          </>
        ) : (
          said.join(' + ').replaceAll('+ −', '− ')
        )}{' '}
        <kbd>M</kbd>
      </span>
    </>
  )
}

const withSign = (points: Points) => (points > 0 ? `+${pointsInWords(points)}` : pointsInWords(points))

const sumOf = (points: readonly (Points | undefined)[]): Points | null => {
  const given = points.filter((one) => one !== undefined)
  return given.length === 0 ? null : given.reduce((all, one) => all + one, 0)
}

function Inner(props: WithMark) {
  const { way, copy, mark, mayMark, proposals, change, finish, said } = props
  const { parts } = copy
  const [isMore, setMore] = useState(false)
  const { taking, isEnough } = finishing(way, copy, proposals)
  const open = mark.open - taking.length
  const zero = [
    ...copy.spaces
      .filter(({ id }) => parts.spaces[id] === undefined && proposals[id] === undefined)
      .map(({ id }): MarkChange => ({ of: 'space', space: id, was: null, to: 0 })),
    ...way.rubric
      .filter(({ id }) => parts.rubric[id] === undefined)
      .map(({ id, levels }): MarkChange => ({
        of: 'criterion',
        criterion: id,
        was: null,
        to: { points: 0, level: levels.find(({ points }) => points === 0)?.id ?? null },
      })),
  ]
  return (
    <>
      {copy.daysLate > 0 && (
        <div className="mark-row mark-late">
          <span>
            {copy.daysLate} {copy.daysLate === 1 ? 'day' : 'days'} late
            {way.late && !parts.waivesLate && mark.late < 0 && `: ${pointsInWords(mark.late)}`}
          </span>
          {way.late && (
            <Form.Check
              id="waives-late"
              label="let it pass"
              disabled={!mayMark}
              checked={parts.waivesLate}
              onChange={({ target }) =>
                void change({ changes: [{ of: 'waivesLate', was: parts.waivesLate, to: target.checked }] })
              }
            />
          )}
        </div>
      )}
      {way.rubric.map((criterion, at) => (
        <CriterionRow key={criterion.id} criterion={criterion} at={at} {...props} />
      ))}
      {way.scale && <Steps {...props} />}
      <WholeRemark
        key={copy.copyId}
        value={parts.remark}
        disabled={!mayMark}
        keep={(to) => change({ changes: [{ of: 'remark', was: parts.remark, to }] })}
      />
      {isMore && <More {...props} />}
      {(copy.readings.length > 0 || (isMore && isReaderOf(copy, props.me))) && (
        <SecondReadings
          {...{ way, copy, mayMark }}
          handoutId={props.handoutId}
          me={props.me}
          most={mark.most}
          take={(one) => void change({ changes: [one] })}
        />
      )}
      {said}
      {mayMark && (
        <div className="mark-row mark-acts">
          {copy.isDone ? (
            <>
              <span className="soft">marked</span>
              <Button size="sm" variant="outline-dark" onClick={() => void change({ changes: [], done: false })}>
                Mark on
              </Button>
              <Button size="sm" onClick={finish}>
                Next
              </Button>
            </>
          ) : (
            <>
              <Button
                disabled={!isEnough}
                onClick={finish}
                title={
                  taking.length > 0
                    ? `Takes the ${taking.length} proposed points that are not taken yet. Key: Ctrl and Enter`
                    : 'Key: Ctrl and Enter'
                }
              >
                {taking.length > 0 ? `Take ${taking.length}: marked, next` : 'Marked, next'}
              </Button>
              <kbd>Ctrl</kbd>
              <kbd>↵</kbd>
            </>
          )}
          <button
            type="button"
            className="btn btn-link btn-sm p-0 mark-more"
            aria-expanded={isMore}
            onClick={() => setMore(!isMore)}
          >
            {isMore ? 'less' : 'more'}
          </button>
        </div>
      )}
      {mayMark && !copy.isDone && !isEnough && open > 0 && mark.of > 0 && (
        <div className="mark-row soft mark-open">
          {open} of {mark.of} {open === 1 ? 'has' : 'have'} no points yet{' '}
          <button type="button" className="btn btn-link btn-sm p-0" onClick={() => void change({ changes: zero })}>
            nothing for {open === 1 ? 'it' : 'these'}
          </button>
        </div>
      )}
    </>
  )
}

function CriterionRow({
  criterion,
  at,
  copy,
  mayMark,
  change,
}: Props & { readonly criterion: MarkingWay['rubric'][number]; readonly at: number }) {
  const reached = copy.parts.rubric[criterion.id] ?? null
  const set = (to: typeof reached) =>
    void change({ changes: [{ of: 'criterion', criterion: criterion.id, was: reached, to }] })
  const steps = criterion.levels.length > 0 ? criterion.levels : wholeSteps(criterion.most)
  return (
    <div className="mark-row mark-criterion">
      <span id={`criterion-${criterion.id}`} title={criterion.name}>
        <bdi>{criterion.name}</bdi>
      </span>
      {steps ? (
        <div
          role="radiogroup"
          aria-labelledby={`criterion-${criterion.id}`}
          className="mark-levels"
          data-criterion={at}
          onKeyDown={(event) => {
            const step = /^\d$/.test(event.key)
              ? steps[Number(event.key) - (steps[0]!.points === 0 ? 0 : 1)]
              : undefined
            if (step && mayMark) {
              event.preventDefault()
              set({ points: step.points, level: step.id })
              nextPoints(event.currentTarget.querySelector<HTMLElement>('[data-points]')!)
            }
            const focused = steps.findIndex(({ points }) => points === reached?.points)
            const way = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0
            const next = way && steps[Math.max(0, Math.min(steps.length - 1, focused + way))]
            if (next && mayMark) {
              event.preventDefault()
              set({ points: next.points, level: next.id })
            }
          }}
        >
          {steps.map((step, place) => {
            const isChosen = reached?.points === step.points
            return (
              <button
                key={step.points}
                type="button"
                role="radio"
                aria-checked={isChosen}
                aria-label={`${pointsInWords(step.points)}${step.name ? `: ${step.name}` : ''}`}
                title={step.name || undefined}
                disabled={!mayMark}
                tabIndex={isChosen || (!reached && place === 0) ? 0 : -1}
                {...((isChosen || (!reached && place === 0)) && { 'data-points': '' })}
                className={isChosen ? 'chosen' : ''}
                onClick={() => set(isChosen ? null : { points: step.points, level: step.id })}
              >
                {pointsInWords(step.points)}
              </button>
            )
          })}
        </div>
      ) : (
        <PointsField
          label={criterion.name}
          value={reached?.points ?? null}
          most={criterion.most}
          disabled={!mayMark}
          change={(points) => set(points === null ? null : { points, level: null })}
          next={nextPoints}
        />
      )}
    </div>
  )
}

/** Of few whole points each is a step of its own; null: they are typed. */
function wholeSteps(most: Points): { id: null; name: string; points: Points }[] | null {
  return most % 100 === 0 && most <= 600
    ? Array.from({ length: most / 100 + 1 }, (_, at) => ({ id: null, name: '', points: at * 100 }))
    : null
}

function Steps({ way, copy, mark, mayMark, change }: WithMark) {
  const { step } = copy.parts
  return (
    <div className="mark-row mark-steps" role="radiogroup" aria-label="Step of the scale">
      {way.scale!.steps.map((name) => (
        <button
          key={name}
          type="button"
          role="radio"
          aria-checked={mark.step === name}
          disabled={!mayMark}
          className={mark.step === name ? (step === name ? 'chosen' : 'chosen reckoned') : ''}
          onClick={() => void change({ changes: [{ of: 'step', was: step, to: step === name ? null : name }] })}
        >
          <bdi>{name}</bdi>
        </button>
      ))}
    </div>
  )
}

/** What is needed now and then: points added or taken off, excused, one member otherwise than the group. */
function More({ way, copy, mark, mayMark, change }: WithMark) {
  const { parts } = copy
  const [points, setPoints] = useState('')
  const [reason, setReason] = useState('')
  const [problem, setProblem] = useState('')
  const [member, setMember] = useState('')
  const id = useId()
  const set = (to: MarkParts['adjustments']) =>
    void change({ changes: [{ of: 'adjustments', was: parts.adjustments, to }] })
  const add = () => {
    const read = readPoints(points, undefined, -1_000_000)
    if (!read.ok) return setProblem(read.problems[0]!.sentence)
    if (!reason.trim()) return setProblem('Say why.')
    setProblem('')
    setPoints('')
    setReason('')
    set([...parts.adjustments, { points: read.value, reason: reason.trim() }])
  }
  const own = member ? (copy.own[member] ?? NO_PARTS) : null
  return (
    <div className="mark-row mark-more-lines">
      {mark.most !== null && (
        <>
          {parts.adjustments.map((one, at) => (
            <div key={at} className="mark-adjusted">
              <span className="slab">{withSign(one.points)}</span> <bdi>{one.reason}</bdi>
              <button
                type="button"
                className="btn btn-link btn-sm p-0"
                aria-label={`Take out: ${one.reason}`}
                onClick={() => set(parts.adjustments.filter((_, other) => other !== at))}
              >
                ×
              </button>
            </div>
          ))}
          <div className="mark-adjust">
            <input
              className="form-control form-control-sm"
              aria-label="Points to add, or with a minus to take off"
              placeholder="+ or −"
              value={points}
              onChange={({ target }) => setPoints(target.value.replace(/^\+/, ''))}
            />
            <input
              className="form-control form-control-sm"
              aria-label="Why"
              placeholder="why"
              maxLength={200}
              value={reason}
              onChange={({ target }) => setReason(target.value)}
            />
            <Button size="sm" variant="outline-dark" disabled={!mayMark} onClick={add}>
              Add
            </Button>
          </div>
          {problem && (
            <span className="bad" role="alert">
              {problem}
            </span>
          )}
        </>
      )}
      <Form.Check
        id={`${id}-excused`}
        label="Excused: it counts nowhere"
        disabled={!mayMark}
        checked={parts.excused}
        onChange={({ target }) => void change({ changes: [{ of: 'excused', was: parts.excused, to: target.checked }] })}
      />
      {copy.holders.length > 1 && (
        <>
          <Form.Select
            size="sm"
            aria-label="Different for one of them"
            value={member}
            onChange={({ target }) => setMember(target.value)}
          >
            <option value="">The same for all of them</option>
            {copy.holders.map((holder) => (
              <option key={holder.personId} value={holder.personId}>
                {fullName(holder)}: {memberWords(way, copy, holder.personId)}
              </option>
            ))}
          </Form.Select>
          {own && mark.most !== null && (
            <PointsField
              label="The mark of this one"
              value={own.total}
              proposal={mark.total}
              most={mark.most}
              disabled={!mayMark}
              change={(to) => void change({ personId: member, changes: [{ of: 'total', was: own.total, to }] })}
            />
          )}
          {own && (
            <Form.Check
              id={`${id}-own-excused`}
              label="This one is excused"
              disabled={!mayMark}
              checked={own.excused}
              onChange={({ target }) =>
                void change({
                  personId: member,
                  changes: [{ of: 'excused', was: own.excused, to: target.checked }],
                })
              }
            />
          )}
        </>
      )}
    </div>
  )
}

function memberWords(way: MarkingWay, copy: MarkedCopy, personId: string): string {
  const own = copy.own[personId]
  if (!own) return 'as all'
  const mark = markOf(way, copy.spaces, memberParts(copy.parts, own), copy.daysLate)
  return mark.excused ? 'excused' : mark.total === null ? 'as all' : pointsInWords(mark.total)
}
