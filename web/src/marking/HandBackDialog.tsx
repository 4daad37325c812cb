import { MARK_LIMITS, MESSAGE_TOKENS, fingerprintOf } from '@gavrin/core'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useDeferredValue, useMemo, useRef, useState } from 'react'
import { Button, Form, Modal } from 'react-bootstrap'
import { Link } from 'react-router'
import type { Answers, Bodies } from '../contract'
import { MomentField } from '../ui/MomentField'
import { Notice } from '../ui/Notice'
import { api, sentenceOf } from '../ui/api'
import { timeInWords } from '../ui/time'
import { type MarkedCopy, marksKey } from './queries'

type Proof = Answers['POST handouts/{handoutId}/hand-back/proof']
type Wish = Bodies['POST handouts/{handoutId}/hand-back/proof']

interface Props {
  readonly handout: { readonly id: string; readonly classId: string }
  readonly copies: readonly MarkedCopy[]
  /** Marks are on their way: what goes back is said once they are kept. */
  readonly isSaving: boolean
  readonly close: () => void
}

const MESSAGE = 'Dear {first name},\n\n{worksheet}: {mark}.'

const copiesInWords = (count: number) => `${count} ${count === 1 ? 'copy' : 'copies'}`

/** Handing back: who gets what, with which words, who is left out and why; then all at once. */
export function HandBackDialog({ handout, copies, isSaving, close }: Props) {
  const client = useQueryClient()
  const [message, setMessage] = useState(MESSAGE)
  const [byMail, setByMail] = useState(false)
  const [isLater, setLater] = useState(false)
  const [at, setAt] = useState<number | null>(null)
  const [shown, setShown] = useState(0)
  const field = useRef<HTMLTextAreaElement>(null)
  const settled = useDeferredValue(message)
  const wish: Wish = { message: settled, byMail }
  const asOf = useMemo(
    () => fingerprintOf(copies.map(({ copyId, version, isDone, state }) => [copyId, version, isDone, state])),
    [copies],
  )
  const proof = useQuery({
    queryKey: ['hand back', handout.id, wish, asOf],
    queryFn: () => api.post<Proof>(`handouts/${handout.id}/hand-back/proof`, wish),
    enabled: !isSaving,
    placeholderData: (before) => before,
    staleTime: 0,
    gcTime: 0,
  })
  const renew = () =>
    Promise.all([
      client.invalidateQueries({ queryKey: ['hand back', handout.id] }),
      client.invalidateQueries({ queryKey: marksKey(handout.id) }),
    ])
  const handBack = useMutation({
    mutationFn: () =>
      api.post<Answers['POST handouts/{handoutId}/hand-back']>(`handouts/${handout.id}/hand-back`, {
        ...wish,
        message,
        fingerprint: proof.data!.fingerprint,
        ...(isLater && at !== null && { at }),
      } satisfies Bodies['POST handouts/{handoutId}/hand-back']),
    onSettled: renew,
  })
  const cancel = useMutation({
    mutationFn: () => api.delete(`handouts/${handout.id}/hand-back/later`),
    onSettled: renew,
  })
  const lines = proof.data?.lines ?? []
  const going = lines.filter(({ does }) => does === 'hand back' || does === 'hand back again')
  const count = new Set(going.map(({ copyId }) => copyId)).size
  const others = lines.filter((line) => !going.includes(line))
  const withoutMail = byMail ? going.filter(({ hasMail }) => !hasMail) : []
  const example = going[Math.min(shown, going.length - 1)]
  return (
    <Modal show onHide={close} size="xl" aria-labelledby="hand-back-title">
      <Modal.Header closeButton>
        <Modal.Title id="hand-back-title">Hand back</Modal.Title>
      </Modal.Header>
      {handBack.data ? (
        <>
          <Modal.Body>
            <p role="status">
              {handBack.data.at === null ? (
                <>
                  {copiesInWords(handBack.data.handedBack)} handed back to {handBack.data.students}{' '}
                  {handBack.data.students === 1 ? 'student' : 'students'}.
                </>
              ) : (
                <>
                  {copiesInWords(handBack.data.handedBack)} will be handed back {timeInWords(handBack.data.at)}, with
                  the marks and remarks as they are then.
                </>
              )}
              {byMail && (
                <>
                  {' '}
                  The <Link to={`/class/${handout.classId}/mailroom`}>mailroom</Link> shows how each mail went.
                </>
              )}
            </p>
          </Modal.Body>
          <Modal.Footer>
            <Button onClick={close}>Close</Button>
          </Modal.Footer>
        </>
      ) : (
        <>
          <Modal.Body className="hand-back">
            <div className="hand-back-message">
              <Form.Group controlId="hand-back-words">
                <Form.Label>What each student reads with it</Form.Label>
                <Form.Control
                  ref={field}
                  as="textarea"
                  rows={6}
                  maxLength={MARK_LIMITS.remark}
                  value={message}
                  onChange={({ target }) => setMessage(target.value)}
                />
              </Form.Group>
              <div className="hand-back-tokens">
                {MESSAGE_TOKENS.map((token) => (
                  <button
                    key={token}
                    type="button"
                    onClick={() => {
                      const at = field.current?.selectionStart ?? message.length
                      setMessage(`${message.slice(0, at)}{${token}}${message.slice(at)}`)
                      field.current?.focus()
                    }}
                  >
                    {token}
                  </button>
                ))}
              </div>
              <Form.Check
                id="hand-back-mail"
                label="By mail too"
                checked={byMail}
                onChange={({ target }) => setByMail(target.checked)}
              />
              <Form.Check
                id="hand-back-later"
                label="Not now: at a set time"
                checked={isLater}
                onChange={({ target }) => setLater(target.checked)}
              />
              {isLater && <MomentField what="Handed back" at={at} usual="16:00" change={setAt} />}
              {proof.data?.later && (
                <Notice kind="look">
                  {copiesInWords(proof.data.later.copies)} will be handed back {timeInWords(proof.data.later.at)} by
                  itself.{' '}
                  <Button variant="link" disabled={cancel.isPending} onClick={() => cancel.mutate()}>
                    Not after all
                  </Button>
                </Notice>
              )}
              {withoutMail.length > 0 && (
                <p className="soft">
                  No mail can go to {withoutMail.map(({ name }) => name).join(', ')}: they see it here.
                </p>
              )}
              {example && (
                <section className="hand-back-example" aria-label={`As ${example.name} reads it`}>
                  <div className="hand-back-example-head">
                    <span>
                      As <bdi>{example.name}</bdi> reads it
                    </span>
                    <Button
                      size="sm"
                      variant="link"
                      disabled={going.length < 2}
                      onClick={() => setShown((shown + 1) % going.length)}
                    >
                      Another
                    </Button>
                  </div>
                  <p>{example.message}</p>
                </section>
              )}
            </div>
            <div className="hand-back-lines" tabIndex={0} role="group" aria-label="Who gets what">
              <table className="grid">
                <thead>
                  <tr>
                    <th scope="col">Student</th>
                    <th scope="col">Mark</th>
                    <th scope="col" className="n">
                      Remarks
                    </th>
                    <th scope="col">What happens</th>
                  </tr>
                </thead>
                <tbody>
                  {[...going, ...others].map((line) => (
                    <tr key={`${line.copyId} ${line.personId}`} className={going.includes(line) ? '' : 'soft'}>
                      <td>
                        <bdi>{line.name}</bdi>
                      </td>
                      <td className="slab">
                        {line.does === 'not marked' || line.does === 'not submitted' ? '' : line.mark}
                        {line.does === 'hand back again' && line.before !== line.mark && (
                          <span className="soft"> before: {line.before}</span>
                        )}
                      </td>
                      <td className="n">
                        {[line.newRemarks || null, line.newPen && 'pen'].filter(Boolean).join(', ')}
                      </td>
                      <td>{line.does}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </div>
            {(handBack.error ?? proof.error) && <Notice kind="bad">{sentenceOf(handBack.error ?? proof.error)}</Notice>}
          </Modal.Body>
          <Modal.Footer>
            <AfterIt handoutId={handout.id} copies={copies} renew={renew} />
            <span className="soft hand-back-until">Until then nobody sees a mark or a remark.</span>
            <Button
              disabled={
                count === 0 ||
                isSaving ||
                handBack.isPending ||
                proof.isFetching ||
                settled !== message ||
                (isLater && at === null)
              }
              onClick={() => handBack.mutate()}
            >
              {isSaving
                ? 'Marks are being saved …'
                : count === 0
                  ? 'Nothing to hand back'
                  : `Hand back ${copiesInWords(count)}${isLater && at !== null ? ` ${timeInWords(at)}` : ''}`}
            </Button>
          </Modal.Footer>
        </>
      )}
    </Modal>
  )
}

/** What can be done with what was handed back: withdrawn where nobody has looked, opened again to be improved. Of how many is said before. */
function AfterIt({
  handoutId,
  copies,
  renew,
}: {
  readonly handoutId: string
  readonly copies: readonly MarkedCopy[]
  readonly renew: () => Promise<unknown>
}) {
  const [asked, setAsked] = useState<'withdraw' | 'open again' | null>(null)
  const back = copies.filter(({ state, back: own }) => state === 'handed back' && own.length > 0)
  const unseen = back.filter(({ back: own }) => own.every(({ lookedAt }) => lookedAt === null))
  const ids = (of: readonly MarkedCopy[]) => ({ copyIds: of.map(({ copyId }) => copyId) })
  const done = {
    onSettled: () => {
      setAsked(null)
      return renew()
    },
  }
  const withdraw = useMutation({
    mutationFn: () =>
      api.post<Answers['POST handouts/{handoutId}/hand-back/withdraw']>(
        `handouts/${handoutId}/hand-back/withdraw`,
        ids(unseen) satisfies Bodies['POST handouts/{handoutId}/hand-back/withdraw'],
      ),
    ...done,
  })
  const open = useMutation({
    mutationFn: () =>
      api.post<Answers['POST handouts/{handoutId}/hand-back/open-again']>(
        `handouts/${handoutId}/hand-back/open-again`,
        ids(back) satisfies Bodies['POST handouts/{handoutId}/hand-back/open-again'],
      ),
    ...done,
  })
  const error = withdraw.error ?? open.error
  if (back.length === 0)
    return (
      <span className="soft hand-back-after" role="status">
        {withdraw.data && `Withdrawn from ${copiesInWords(withdraw.data.withdrawn)}. `}
        {open.data && `${copiesInWords(open.data.opened)} opened again.`}
      </span>
    )
  const leave = (
    <Button size="sm" variant="link" onClick={() => setAsked(null)}>
      Leave it
    </Button>
  )
  return (
    <span className="hand-back-after">
      {error && <span className="bad">{sentenceOf(error)} </span>}
      {asked === 'withdraw' ? (
        <>
          {copiesInWords(unseen.length)} nobody has looked at
          {back.length > unseen.length && `; ${back.length - unseen.length} somebody has`}.{' '}
          <Button size="sm" variant="outline-dark" disabled={withdraw.isPending} onClick={() => withdraw.mutate()}>
            Withdraw {copiesInWords(unseen.length)}
          </Button>{' '}
          {leave}
        </>
      ) : asked === 'open again' ? (
        <>
          They write in them again, and submit once more; the marks stay. Where pens are down because it was due, set
          another due time on the board.{' '}
          <Button size="sm" variant="outline-dark" disabled={open.isPending} onClick={() => open.mutate()}>
            Open {copiesInWords(back.length)} again
          </Button>{' '}
          {leave}
        </>
      ) : (
        <>
          <Button size="sm" variant="link" disabled={unseen.length === 0} onClick={() => setAsked('withdraw')}>
            {unseen.length === 0 ? 'All that was handed back was looked at' : 'Withdraw what nobody has looked at …'}
          </Button>{' '}
          <Button size="sm" variant="link" onClick={() => setAsked('open again')}>
            Open again to be improved …
          </Button>
        </>
      )}
    </span>
  )
}
