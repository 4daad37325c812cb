import { COMMENT_LIMIT, commentText } from '@gavrin/core'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { type SubmitEvent, useState } from 'react'
import { Button, Form, Modal } from 'react-bootstrap'
import { Link } from 'react-router'
import type { Answers, Bodies } from '../contract'
import { Notice } from '../ui/Notice'
import { api, sentenceOf } from '../ui/api'
import { newUuid } from '../ui/newUuid'
import { timeInWords } from '../ui/time'

/** A question that waits for its answer. */
export type Question = Answers['GET desk/questions'][number]

/** Questions about the same place, answered with the same words: each in its copy, as if it were answered there. */
export function AnswerAll({
  questions,
  close,
}: {
  readonly questions: readonly Question[]
  readonly close: () => void
}) {
  const client = useQueryClient()
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set())
  const [text, setText] = useState('')
  const [isTried, setTried] = useState(false)
  // Chosen once: what is sent a second time is there once.
  const [ids] = useState(() => new Map(questions.map(({ threadId }) => [threadId, newUuid()])))
  const chosen = questions.filter(({ threadId }) => !left.has(threadId))
  const read = commentText(text)
  const problem =
    !read.ok && (isTried || text.length > COMMENT_LIMIT)
      ? read.problems[0]!.sentence
      : isTried && chosen.length === 0
        ? 'Choose whom you answer.'
        : ''
  const answer = useMutation({
    mutationFn: (words: string) =>
      api.post<Answers['POST desk/questions/answer']>('desk/questions/answer', {
        text: words,
        to: chosen.map(({ copyId, threadId }) => ({ copyId, threadId, commentId: ids.get(threadId)! })),
      } satisfies Bodies['POST desk/questions/answer']),
    onSuccess: async ({ failed }) => {
      await client.invalidateQueries({ queryKey: ['desk', 'questions'] })
      if (failed.length === 0) close()
    },
  })
  const failed = answer.data?.failed ?? []
  const submit = (event: SubmitEvent) => {
    event.preventDefault()
    setTried(true)
    if (read.ok && chosen.length > 0) answer.mutate(read.value)
  }
  const [first] = questions
  return (
    <Modal show onHide={close} scrollable aria-labelledby="answer-all-title">
      <Modal.Header closeButton>
        <Modal.Title id="answer-all-title">{questions.length} ask about the same</Modal.Title>
      </Modal.Header>
      <Form onSubmit={submit} noValidate className="answer-all">
        <Modal.Body>
          <p className="soft">
            {first!.label && (
              <>
                <bdi>{first!.label}</bdi> ·{' '}
              </>
            )}
            {first!.handoutTitle}, No. {first!.number} · {first!.class}
          </p>
          <ul>
            {questions.map(({ threadId, copyId, by, text: asked, at }) => (
              <li key={threadId}>
                <Form.Check
                  id={`answer-${threadId}`}
                  checked={!left.has(threadId)}
                  onChange={({ target }) =>
                    setLeft((before) => {
                      const next = new Set(before)
                      if (target.checked) next.delete(threadId)
                      else next.add(threadId)
                      return next
                    })
                  }
                  label={
                    <>
                      <bdi>{by}</bdi>: <span dir="auto">{asked}</span>
                    </>
                  }
                />
                <span className="soft">
                  {timeInWords(at)} · <Link to={`/copies/${copyId}?said=${threadId}`}>in the copy</Link>
                </span>
              </li>
            ))}
          </ul>
          <Form.Group controlId="answer-all-text">
            <Form.Label>
              Answer {chosen.length === questions.length ? 'all of them' : `${chosen.length} of them`}; each sees it by
              their own question
            </Form.Label>
            <Form.Control
              as="textarea"
              rows={4}
              dir="auto"
              value={text}
              isInvalid={problem !== ''}
              onChange={({ target }) => setText(target.value)}
            />
            <Form.Control.Feedback type="invalid">{problem}</Form.Control.Feedback>
          </Form.Group>
          {answer.error && <Notice kind="bad">{sentenceOf(answer.error)}</Notice>}
          {failed.length > 0 && (
            <Notice kind="bad">
              {failed.length === chosen.length
                ? 'None of these was answered: '
                : `${failed.length} of these ${failed.length === 1 ? 'was' : 'were'} not answered: `}
              {failed[0]!.sentence}
            </Notice>
          )}
        </Modal.Body>
        <Modal.Footer>
          <Button type="submit" disabled={answer.isPending}>
            Answer
          </Button>
        </Modal.Footer>
      </Form>
    </Modal>
  )
}
