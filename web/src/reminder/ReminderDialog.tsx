import {
  type BoardRow,
  LETTERS_ABOUT,
  type LettersAbout,
  type NotReminded,
  REMINDED_OF,
  REMINDER_LIMITS,
  type RemindedOf,
  remindedOf,
  gathered,
} from '@gavrin/core'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useDeferredValue, useState } from 'react'
import { Button, Form, Modal } from 'react-bootstrap'
import { Link } from 'react-router'
import type { Answers, Bodies } from '../contract'
import { Notice } from '../ui/Notice'
import { api, sentenceOf } from '../ui/api'
import { useNow } from '../ui/useNow'
import './reminder.css'

export interface ReminderDialogProps {
  readonly handout: { readonly id: string; readonly classId: string }
  readonly rows: readonly BoardRow[]
  readonly close: () => void
}

type Proof = Answers['POST handouts/{handoutId}/reminders/proof']
type Wish = Bodies['POST handouts/{handoutId}/reminders']

const WHY: Readonly<Record<NotReminded, string>> = {
  'no answer to see': 'no answer to a question waits for',
  'nothing is missing': 'nothing is missing, or pens are down, for',
  'not open yet': 'it is not open yet for',
  'no e-mail': 'no e-mail is known of',
  'reminded already': 'reminded of it less than a day ago:',
  'reminded often': `reminded ${REMINDER_LIMITS.aDay} times within a day:`,
}

const ABOUT: Readonly<Record<LettersAbout, string>> = {
  missing: 'what is missing',
  'question answered': 'an answered question of theirs',
  message: 'something I want to say',
}

const people = (count: number) => `${count} ${count === 1 ? 'student' : 'students'}`

/** Reminds those in whose copies something is missing: whom, how it reads, and who is passed over is said before. */
export default function ReminderDialog({ handout, rows, close }: ReminderDialogProps) {
  const client = useQueryClient()
  const now = useNow(60_000)
  const of = (kind: RemindedOf) => rows.filter((row) => remindedOf(row, now) === kind)
  const [kinds, setKinds] = useState<readonly RemindedOf[]>(() => {
    const first = REMINDED_OF.filter((kind) => of(kind).length > 0)
    // Those who are behind most, unless all are chosen anyway.
    return first.slice(0, 1)
  })
  const [about, setAbout] = useState<LettersAbout>(kinds.length > 0 ? 'missing' : 'message')
  const [words, setWords] = useState('')
  const settled = useDeferredValue(words)
  const wish: Wish = {
    about,
    copyIds: rows
      .filter((row) => {
        if (about !== 'missing') return true
        const kind = remindedOf(row, now)
        return kind !== null && kinds.includes(kind)
      })
      .map(({ copyId }) => copyId),
    words: settled,
  }
  const proof = useQuery({
    queryKey: ['reminders', handout.id, wish],
    queryFn: () => api.post<Proof>(`handouts/${handout.id}/reminders/proof`, wish),
    placeholderData: (before) => before,
    staleTime: 0,
  })
  const send = useMutation({
    mutationFn: () =>
      api.post<Answers['POST handouts/{handoutId}/reminders']>(`handouts/${handout.id}/reminders`, {
        ...wish,
        words,
      } satisfies Wish),
    onSettled: () => client.invalidateQueries({ queryKey: ['reminders', handout.id] }),
  })
  const goes = proof.data?.goes ?? []
  const passed = gathered(proof.data?.passed ?? [], ({ why }) => why)
  return (
    <Modal show onHide={close} size="lg" aria-labelledby="reminder-title">
      <Modal.Header closeButton>
        <Modal.Title id="reminder-title">Write to students</Modal.Title>
      </Modal.Header>
      {send.data ? (
        <>
          <Modal.Body>
            <p role="status">
              {send.data.sent === 1 ? 'One message goes' : `${send.data.sent} messages go`} out by mail. The{' '}
              <Link to={`/class/${handout.classId}/mail`}>mailroom</Link> shows how each went
              {about === 'missing' && '; who submits before it goes out does not get it'}.
            </p>
          </Modal.Body>
          <Modal.Footer>
            <Button onClick={close}>Close</Button>
          </Modal.Footer>
        </>
      ) : (
        <Form
          onSubmit={(event) => {
            event.preventDefault()
            if (goes.length > 0) send.mutate()
          }}
        >
          <Modal.Body className="reminder-dialog">
            <div>
              <Form.Group controlId="reminder-about" className="mb-2">
                <Form.Label>About</Form.Label>
                <Form.Select value={about} onChange={({ target }) => setAbout(target.value as LettersAbout)}>
                  {LETTERS_ABOUT.map((one) => (
                    <option key={one} value={one}>
                      {ABOUT[one]}
                    </option>
                  ))}
                </Form.Select>
              </Form.Group>
              <fieldset hidden={about !== 'missing'}>
                <legend>Whose copy is</legend>
                {REMINDED_OF.map((kind) => {
                  const count = of(kind).length
                  return (
                    <Form.Check
                      key={kind}
                      type="checkbox"
                      id={`remind-${kind.replace(' ', '-')}`}
                      label={`${kind} (${count})`}
                      disabled={count === 0}
                      checked={kinds.includes(kind)}
                      onChange={({ target }) =>
                        setKinds(target.checked ? [...kinds, kind] : kinds.filter((other) => other !== kind))
                      }
                    />
                  )
                })}
              </fieldset>
              <Form.Group controlId="reminder-words" className="mt-2">
                <Form.Label>{about === 'message' ? 'What you want to say' : 'What you want to say besides'}</Form.Label>
                <Form.Control
                  as="textarea"
                  rows={4}
                  maxLength={REMINDER_LIMITS.words}
                  value={words}
                  onChange={({ target }) => setWords(target.value)}
                />
              </Form.Group>
              {[...passed].map(([why, who]) => (
                <p key={why} className="soft reminder-passed" title={who.map(({ name }) => name).join(', ')}>
                  Not written to, {WHY[why]}{' '}
                  <bdi>{who.length <= 3 ? who.map(({ name }) => name).join(', ') : people(who.length)}</bdi>.
                </p>
              ))}
            </div>
            <div className="reminder-example" aria-live="polite">
              {proof.data?.example ? (
                <>
                  <p className="soft">
                    As <bdi>{proof.data.example.to}</bdi> gets it{goes.length > 1 && `, one of ${goes.length}`}:
                  </p>
                  <p className="reminder-subject">{proof.data.example.subject}</p>
                  <pre>{proof.data.example.text}</pre>
                </>
              ) : (
                <p className="soft">{proof.isLoading ? 'One moment …' : 'Nobody is written to like this.'}</p>
              )}
            </div>
            {(send.error ?? proof.error) && <Notice kind="bad">{sentenceOf(send.error ?? proof.error)}</Notice>}
          </Modal.Body>
          <Modal.Footer>
            <Button
              type="submit"
              disabled={
                goes.length === 0 ||
                send.isPending ||
                proof.isPlaceholderData ||
                (about === 'message' && words.trim() === '')
              }
            >
              {about === 'missing' ? 'Remind' : 'Write to'} {people(goes.length)}
            </Button>
          </Modal.Footer>
        </Form>
      )}
    </Modal>
  )
}
