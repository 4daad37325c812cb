import { type BoardRow, SHARED_BY_ALL, fullName } from '@gavrin/core'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Button, Modal } from 'react-bootstrap'
import type { Bodies } from '../contract'
import { MarksMoved } from '../marking/MarksMoved'
import { copiesInWords } from '../pens/words'
import type { Acted } from '../ui/ActedLine'
import { MomentField } from '../ui/MomentField'
import { Notice } from '../ui/Notice'
import { api, sentenceOf } from '../ui/api'
import { timeInWords } from '../ui/time'

const DAY = 86_400_000

interface Props {
  readonly handout: { readonly id: string; readonly dueAt: number | null }
  readonly rows: readonly BoardRow[]
  readonly close: () => void
  readonly done: (acted: Acted) => void
}

/** Another due time for whoever holds these copies, as an exception in the slip. */
export function DueDialog({ handout, rows, close, done }: Props) {
  const client = useQueryClient()
  const own = rows.filter(({ holders }) => holders.length <= SHARED_BY_ALL)
  const [first] = useState(() => Math.max(handout.dueAt ?? 0, Date.now()) + DAY)
  const [at, setAt] = useState<number | null>(first)
  const holders = [...new Map(own.flatMap((row) => row.holders.map((one) => [one.personId, one]))).values()]
  const names = holders.length <= 3 ? holders.map(fullName).join(', ') : `${holders.length} students`
  const submitted = own.filter(({ submittedAt }) => submittedAt !== null).length
  const earlier =
    at === null ? 0 : own.filter(({ dueAt, holders: all }) => all.length > 1 && dueAt !== null && at < dueAt).length
  const keep = useMutation({
    mutationFn: (dueAt: number) =>
      api.post<unknown>(`handouts/${handout.id}/due`, {
        copyIds: own.map(({ copyId }) => copyId),
        dueAt,
      } satisfies Bodies['POST handouts/{handoutId}/due']),
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: ['board', handout.id] })
      done({ id: `due ${Date.now()}`, words: `${copiesInWords(own.length)} due at another time.`, undo: 'shown first' })
      close()
    },
  })
  return (
    <Modal show onHide={close} aria-labelledby="due-title">
      <Modal.Header closeButton>
        <Modal.Title id="due-title">Another due time for {copiesInWords(own.length)}</Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <MomentField what="Due" at={at} usual="16:00" change={setAt} />
        {at !== null && (
          <p className="mt-3">
            For <bdi>{names}</bdi> it is due {timeInWords(at)}. It stands in the slip as their own time; nobody else’s
            changes.
            {submitted > 0 && ` ${submitted} ${submitted === 1 ? 'is' : 'are'} submitted already and stay so.`}
          </p>
        )}
        {at !== null && submitted > 0 && (
          <MarksMoved
            handoutId={handout.id}
            why="By another due time"
            wish={{
              // Of those who share one the latest time counts.
              copies: own.map(({ slotKey, dueAt, holders: all }) => ({
                slotKey,
                dueAt: all.length > 1 && dueAt !== null ? Math.max(at, dueAt) : at,
              })),
            }}
          />
        )}
        {earlier > 0 && (
          <p className="soft">
            In {copiesInWords(earlier)} that several share, the latest time of those who share it counts.
          </p>
        )}
        {own.length < rows.length && (
          <p className="soft">
            {copiesInWords(rows.length - own.length)} shared by more than {SHARED_BY_ALL}{' '}
            {rows.length - own.length === 1 ? 'has' : 'have'} the time of the class, as the slip says it.
          </p>
        )}
        {keep.error && <Notice kind="bad">{sentenceOf(keep.error)}</Notice>}
      </Modal.Body>
      <Modal.Footer>
        <Button
          disabled={at === null || own.length === 0 || keep.isPending}
          onClick={() => at !== null && keep.mutate(at)}
        >
          Set it for {copiesInWords(own.length)}
        </Button>
      </Modal.Footer>
    </Modal>
  )
}
