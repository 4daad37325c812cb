import { type BoardRow, PENS_LATER_LIMIT, type PensWish, arePensDown, extraMinutes, isIn, planPens } from '@gavrin/core'
import { useMutation } from '@tanstack/react-query'
import { useState } from 'react'
import { Button, Form, Modal } from 'react-bootstrap'
import type { Answers, Bodies } from '../contract'
import { Notice } from '../ui/Notice'
import { sentenceOf, api } from '../ui/api'
import { exactTime, shortTime } from '../ui/time'
import { useNow } from '../ui/useNow'
import { undoPens } from './undoPens'
import type { Acted } from '../ui/ActedLine'
import { ExtraTimeLines } from './ExtraTimeLines'
import { PensLog } from './PensLog'
import { useExtraTime } from './queries'
import './pens.css'
import { copiesInWords } from './words'

export interface PensDialogProps {
  readonly handout: { readonly id: string; readonly classId: string; readonly dueAt: number | null }
  readonly rows: readonly BoardRow[]
  readonly done: (acted: Acted) => void
  readonly close: () => void
}

type Moved = Answers['POST handouts/{handoutId}/pens']

/** How many minutes stand there at first. */
const USUAL = 10

/** Pens of copies: down, down in some minutes, up again; what it would do is said in numbers before. */
export default function PensDialog({ handout, rows, done, close }: PensDialogProps) {
  const now = useNow(15_000)
  const written = rows.filter(({ setAside, way }) => !setAside && way !== 'to read')
  const areAllDown = written.length > 0 && written.every((row) => arePensDown(row, now))
  const [act, setAct] = useState<PensWish['act']>(areAllDown ? 'up' : 'down')
  const [typed, setTyped] = useState(String(USUAL))
  const [withExtra, setWithExtra] = useState(true)
  const extra = useExtraTime(handout.classId)
  const minutes = /^\d{1,4}$/.test(typed.trim()) ? Number(typed) : 0
  const isSound = act !== 'down later' || (minutes >= 1 && minutes <= PENS_LATER_LIMIT)
  const percentOf = new Map(extra.data?.students.map(({ personId, percent }) => [personId, percent]))
  const more = Object.fromEntries(
    withExtra && act === 'down later'
      ? written.flatMap(({ copyId, holders }) => {
          const percent = Math.max(0, ...holders.map(({ personId }) => percentOf.get(personId) ?? 0))
          return percent > 0 ? [[copyId, extraMinutes(minutes, percent)]] : []
        })
      : [],
  )
  const wish: PensWish = act === 'down later' ? { act, minutes, more } : { act }
  const { changes, stayDown } = planPens(written, wish, now)
  const changed = new Set(changes.map(({ copyId }) => copyId))
  const stopped = written.filter((row) => changed.has(row.copyId) && !isIn(row)).length
  const submitted = written.filter((row) => changed.has(row.copyId) && isIn(row)).length
  const withMore = changes.filter(({ copyId }) => more[copyId])
  const move = useMutation({
    mutationFn: () =>
      api.post<Moved>(`handouts/${handout.id}/pens`, {
        copyIds: written.map(({ copyId }) => copyId),
        ...(act === 'down later'
          ? { act, minutes, more: Object.entries(more).map(([copyId, each]) => ({ copyId, minutes: each })) }
          : { act }),
      } satisfies Bodies['POST handouts/{handoutId}/pens']),
    onSuccess: (moved) => {
      // Somebody else was there first: the dialog stays, and says how it is now.
      if (moved.id === null) return
      const { id } = moved
      done({ id, words: saidOf(act, moved, minutes), undo: () => undoPens(handout.id, id) })
      close()
    },
  })
  return (
    <Modal show onHide={close} aria-labelledby="pens-title">
      <Modal.Header closeButton>
        <Modal.Title id="pens-title">
          {written.length === 1 ? <bdi>Pens in {written[0]!.title}</bdi> : `Pens in ${copiesInWords(written.length)}`}
        </Modal.Title>
      </Modal.Header>
      <Form
        onSubmit={(event) => {
          event.preventDefault()
          if (isSound && changes.length > 0) move.mutate()
        }}
      >
        <Modal.Body className="pens-dialog">
          <fieldset>
            <legend className="visually-hidden">What becomes of the pens</legend>
            <Form.Check
              type="radio"
              id="pens-down"
              name="pens"
              label="Down now"
              checked={act === 'down'}
              onChange={() => setAct('down')}
            />
            <div className="pens-later">
              <Form.Check
                type="radio"
                id="pens-later"
                name="pens"
                label="Down in"
                checked={act === 'down later'}
                onChange={() => setAct('down later')}
              />
              <Form.Control
                size="sm"
                inputMode="numeric"
                aria-label="Minutes until pens go down"
                value={typed}
                isInvalid={!isSound}
                onFocus={() => setAct('down later')}
                onChange={({ target }) => setTyped(target.value)}
              />
              <span>minutes{act === 'down later' && isSound && `, at ${shortTime(now + minutes * 60_000, now)}`}</span>
            </div>
            {!isSound && (
              <p className="bad" role="alert">
                Give whole minutes, up to {PENS_LATER_LIMIT}; for later, set a due time.
              </p>
            )}
            <Form.Check
              type="radio"
              id="pens-up"
              name="pens"
              label="Up: they may write again"
              checked={act === 'up'}
              onChange={() => setAct('up')}
            />
          </fieldset>
          {act === 'down later' && extra.data && (
            <ExtraTimeLines
              classId={handout.classId}
              extra={extra.data}
              minutes={isSound ? minutes : 0}
              on={withExtra}
              setOn={setWithExtra}
            />
          )}
          <p className="pens-proof" role="status">
            {proofOf({ act, stopped, submitted, count: changes.length, stayDown: stayDown.length })}
            {withMore.length > 0 &&
              ` ${copiesInWords(withMore.length)} ${withMore.length === 1 ? 'has' : 'have'} more time, until ${shortTime(
                Math.max(...withMore.map(({ after }) => after.from ?? 0)),
                now,
              )} at the latest.`}
          </p>
          {act !== 'up' && handout.dueAt !== null && written.some(({ pensDownAtDue }) => pensDownAtDue) && (
            <p className="soft">
              By the slip pens go down by themselves when it is due:{' '}
              <span title={exactTime(handout.dueAt)}>{shortTime(handout.dueAt, now)}</span>.
            </p>
          )}
          {move.error && <Notice kind="bad">{sentenceOf(move.error)}</Notice>}
          <PensLog handoutId={handout.id} />
        </Modal.Body>
        <Modal.Footer>
          <Button type="submit" disabled={!isSound || changes.length === 0 || move.isPending}>
            {act === 'up' ? 'Pens up' : act === 'down' ? 'Pens down' : `Pens down in ${minutes || '…'} min`} in{' '}
            {copiesInWords(changes.length)}
          </Button>
        </Modal.Footer>
      </Form>
    </Modal>
  )
}

interface Proof {
  readonly act: PensWish['act']
  readonly stopped: number
  readonly submitted: number
  readonly count: number
  readonly stayDown: number
}

/** What it would do, in numbers. */
function proofOf({ act, stopped, submitted, count, stayDown }: Proof): string {
  const still =
    stayDown > 0
      ? ` In ${copiesInWords(stayDown)} pens stay down, for the due time has passed: give another due time to let them write.`
      : ''
  if (count === 0) return `All of them are so already.${still}`
  if (act === 'up') return `Pens go up in ${copiesInWords(count)}; what is submitted stands still as before.${still}`
  const when = act === 'down' ? 'at once' : 'then'
  const writing =
    stopped > 0
      ? `In ${copiesInWords(stopped)} writing ends ${when}; what comes after is kept beside it as late writing.`
      : ''
  const handedIn =
    submitted > 0 ? ` ${submitted} ${submitted === 1 ? 'is' : 'are'} submitted and cannot be taken back any more.` : ''
  return (writing + handedIn).trim()
}

function saidOf(act: PensWish['act'], { changes }: Moved, minutes: number): string {
  const copies = copiesInWords(changes.length)
  if (act === 'up') return `Pens are up in ${copies}.`
  return act === 'down' ? `Pens are down in ${copies}.` : `Pens go down in ${minutes} min in ${copies}.`
}
