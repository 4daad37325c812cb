import {
  type MarkChange,
  type MarkingWay,
  type Points,
  type Reading,
  agrees,
  mayReadAgain,
  meanReading,
  pointsInWords,
  readingDifference,
} from '@gavrin/core'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useRef, useState } from 'react'
import { Button, Form } from 'react-bootstrap'
import type { Bodies } from '../contract'
import { api, sentenceOf } from '../ui/api'
import { exactTime } from '../ui/time'
import { PointsField } from './PointsField'
import { type MarkedCopy, marksKey } from './queries'

interface Props {
  readonly handoutId: string
  readonly way: MarkingWay
  readonly copy: MarkedCopy
  readonly most: Points | null
  readonly me: string
  readonly mayMark: boolean
  readonly take: (change: MarkChange) => void
}

const inWords = ({ total, step }: Reading): string =>
  [total === null ? null : pointsInWords(total), step].filter(Boolean).join(', ') || '–'

/** Whether somebody is asked for a second reading of this copy. */
export const isReaderOf = ({ isDone, changed, readings }: MarkedCopy, me: string): boolean =>
  mayReadAgain({ isDone, markedBy: changed?.personId ?? null, readers: readings.map(({ personId }) => personId) }, me)
    .may

/** Second readings of a marked copy: both values stand, and one of them, or what lies between, is taken by a press. */
export function SecondReadings(props: Props) {
  const { copy, me, mayMark, take } = props
  const others = copy.readings.filter(({ personId }) => personId !== me)
  const mine = copy.readings.find(({ personId }) => personId === me)
  const { parts } = copy
  return (
    <div className="mark-row second-readings" role="group" aria-label="Second reading">
      {[...others, ...(mine ? [mine] : [])].map((one) => {
        const by = readingDifference(one.first, one)
        const mean = meanReading(one.first, one)
        return (
          <div key={one.personId} className="second-reading" title={exactTime(one.at)}>
            <span>
              first <strong className="slab">{inWords(one.first)}</strong>{' '}
              <span className="soft">
                <bdi>{one.first.by}</bdi>
              </span>
              {' · '}second <strong className="slab">{inWords(one)}</strong>{' '}
              <span className="soft">{one.personId === me ? 'you' : <bdi>{one.by}</bdi>}</span>
              {agrees(one.first, one) ? (
                <span className="soft"> the same</span>
              ) : (
                by !== null && (
                  <span className="reading-apart">
                    {' '}
                    {by > 0 ? '+' : ''}
                    {pointsInWords(by)}
                  </span>
                )
              )}
            </span>
            {one.remark && <span className="soft">“{one.remark}”</span>}
            {mayMark && !agrees(one.first, one) && (
              <span>
                {one.total !== null && (
                  <TakeButton to={one.total} parts={parts} take={take} words={`Take ${pointsInWords(one.total)}`} />
                )}
                {mean !== null && mean !== one.total && (
                  <TakeButton to={mean} parts={parts} take={take} words={`Take ${pointsInWords(mean)} between`} />
                )}
                {one.total === null && one.step !== null && one.step !== parts.step && (
                  <Button size="sm" variant="link" onClick={() => take({ of: 'step', was: parts.step, to: one.step })}>
                    Take {one.step}
                  </Button>
                )}
              </span>
            )}
          </div>
        )
      })}
      {mayMark && isReaderOf(copy, me) && <MyReading key={copy.copyId} {...props} mine={mine ?? null} />}
    </div>
  )
}

function TakeButton({
  to,
  parts,
  take,
  words,
}: {
  readonly to: Points
  readonly parts: MarkedCopy['parts']
  readonly take: Props['take']
  readonly words: string
}) {
  if (parts.total === to) return null
  return (
    <Button size="sm" variant="link" onClick={() => take({ of: 'total', was: parts.total, to })}>
      {words}
    </Button>
  )
}

/** What one would give a copy that somebody else has marked. */
function MyReading({
  handoutId,
  way,
  copy,
  most,
  mine,
}: Props & { readonly mine: MarkedCopy['readings'][number] | null }) {
  const client = useQueryClient()
  const [remark, setRemark] = useState(mine?.remark ?? '')
  // What was said last, whether or not it is kept yet: what is said next goes with it.
  const said = useRef({ total: mine?.total ?? null, step: mine?.step ?? null, remark: mine?.remark ?? '' })
  const keep = useMutation({
    // One after the other.
    scope: { id: `second reading ${copy.copyId}` },
    mutationFn: (to: Bodies['PUT handouts/{handoutId}/readings/{copyId}']) =>
      api.put(`handouts/${handoutId}/readings/${copy.copyId}`, to),
    onSettled: () => client.invalidateQueries({ queryKey: marksKey(handoutId) }),
  })
  const say = (to: Partial<typeof said.current>) => {
    said.current = { ...said.current, ...to }
    keep.mutate(said.current)
  }
  return (
    <div className="my-reading">
      <span>My second reading</span>
      {most !== null && (
        <PointsField
          label="My second reading"
          value={mine?.total ?? null}
          most={most}
          change={(total) => say({ total })}
        />
      )}
      {way.scale && (
        <Form.Select
          size="sm"
          aria-label="My second reading, step"
          value={mine?.step ?? ''}
          onChange={({ target }) => say({ step: target.value || null })}
        >
          <option value="">no step</option>
          {way.scale.steps.map((step) => (
            <option key={step}>{step}</option>
          ))}
        </Form.Select>
      )}
      <Form.Control
        size="sm"
        aria-label="A word on it, for the first marker"
        placeholder="a word on it"
        value={remark}
        onChange={({ target }) => setRemark(target.value)}
        onBlur={() => {
          if (remark.trim() !== said.current.remark) say({ remark: remark.trim() })
        }}
      />
      {keep.error && (
        <span className="bad" role="alert">
          {sentenceOf(keep.error)}
        </span>
      )}
    </div>
  )
}
