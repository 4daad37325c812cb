import { useMutation, useQueryClient } from '@tanstack/react-query'
import Button from 'react-bootstrap/Button'
import type { Bodies } from '../contract'
import { Notice } from '../ui/Notice'
import { api, sentenceOf } from '../ui/api'
import { exactTime, timeInWords } from '../ui/time'
import type { CopyPageData } from './queries'

/** What a peer reader of a copy looks for and until when, and that it is read. */
export function PeerReading({ data, now }: { readonly data: CopyPageData; readonly now: number }) {
  const client = useQueryClient()
  const say = useMutation({
    mutationFn: (done: boolean) =>
      api.put<void>(`copies/${data.id}/reading`, { done } satisfies Bodies['PUT copies/{copyId}/reading']),
    onSuccess: (_, done) => {
      client.setQueryData<CopyPageData>(['copy', data.id], (known) =>
        known?.asReader ? { ...known, asReader: { ...known.asReader, doneAt: done ? Date.now() : null } } : known,
      )
      void client.invalidateQueries({ queryKey: ['reading'] })
    },
  })
  const { asReader } = data
  if (!asReader) return null
  const { lookFor, until, isNamed, doneAt } = asReader
  return (
    <section className="copy-instructions" aria-label="Peer reading">
      <p>
        You read this as a peer reader
        {until !== null && (
          <>
            {', '}
            <span className={doneAt === null && until <= now ? 'bad' : undefined} title={exactTime(until)}>
              until {timeInWords(until, now)}
            </span>
          </>
        )}
        .{data.permission === 'comment' && ' Say what you think in comments: mark words, or choose an answer.'}{' '}
        {isNamed
          ? 'The writer sees your name.'
          : 'The writer does not see your name, neither here nor by your comments; your teachers do.'}
      </p>
      {lookFor.length > 0 && (
        <>
          <p className="mb-1">Look for:</p>
          <ul>
            {lookFor.map((sentence) => (
              <li key={sentence}>
                <bdi>{sentence}</bdi>
              </li>
            ))}
          </ul>
        </>
      )}
      {say.error && <Notice kind="bad">{sentenceOf(say.error)}</Notice>}
      {doneAt === null ? (
        <Button size="sm" variant="outline-dark" disabled={say.isPending} onClick={() => say.mutate(true)}>
          I have read it
        </Button>
      ) : (
        <p>
          ✓ You said that you have read it, {timeInWords(doneAt, now)}.{' '}
          <Button size="sm" variant="link" disabled={say.isPending} onClick={() => say.mutate(false)}>
            Not yet, after all
          </Button>
        </p>
      )}
    </section>
  )
}

/** Who reads a copy as a peer, and how far they are. */
export function ReadBy({ data }: { readonly data: CopyPageData }) {
  const { readBy } = data
  if (!readBy || readBy.length === 0) return null
  const of = (comments: number) => (comments === 1 ? '1 comment' : `${comments} comments`)
  return (
    <p className="read-by soft">
      Peer readers:{' '}
      {readBy.map(({ name, openedAt, doneAt, comments }, at) => (
        <span key={at}>
          {at > 0 && ' · '}
          <bdi>{name ?? 'a reader'}</bdi>: {doneAt !== null ? '✓ read' : openedAt !== null ? 'has begun' : 'not yet'}
          {comments > 0 && `, ${of(comments)}`}
        </span>
      ))}
    </p>
  )
}
