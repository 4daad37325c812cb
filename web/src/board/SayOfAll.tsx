import type { BoardRow } from '@gavrin/core'
import { useMutation } from '@tanstack/react-query'
import { useState } from 'react'
import { Button, Form, Modal } from 'react-bootstrap'
import type { Answers, Bodies } from '../contract'
import { copiesInWords } from '../pens/words'
import type { Acted } from '../ui/ActedLine'
import { Notice } from '../ui/Notice'
import { api, sentenceOf } from '../ui/api'
import { newUuid } from '../ui/newUuid'

type Said = Answers['POST handouts/{handoutId}/comments']

interface Props {
  readonly handoutId: string
  readonly rows: readonly BoardRow[]
  readonly close: () => void
  readonly done: (acted: Acted) => void
}

/** The same comment on each of several copies as a whole. */
export function SayOfAll({ handoutId, rows, close, done }: Props) {
  const [text, setText] = useState('')
  // Chosen once: sent twice it is there once.
  const [of] = useState(() => rows.map(({ copyId }) => ({ copyId, threadId: newUuid(), commentId: newUuid() })))
  const say = useMutation({
    mutationFn: () =>
      api.post<Said>(`handouts/${handoutId}/comments`, {
        text,
        of,
      } satisfies Bodies['POST handouts/{handoutId}/comments']),
    onSuccess: ({ failed }) => {
      const not = new Set(failed.map(({ copyId }) => copyId))
      const said = of.filter(({ copyId }) => !not.has(copyId))
      done({
        id: `said ${of[0]!.commentId}`,
        words: `Said of ${copiesInWords(said.length)}.${failed.length > 0 ? ` Not of ${copiesInWords(failed.length)}: ${failed[0]!.sentence}` : ''}`,
        undo: async () => {
          const back = await api.post<Said>(`handouts/${handoutId}/comments/take-back`, {
            of: said,
          } satisfies Bodies['POST handouts/{handoutId}/comments/take-back'])
          return `Taken back from ${copiesInWords(said.length - back.failed.length)}.`
        },
      })
      close()
    },
  })
  return (
    <Modal show onHide={close} aria-labelledby="say-title">
      <Form
        onSubmit={(event) => {
          event.preventDefault()
          if (text.trim()) say.mutate()
        }}
      >
        <Modal.Header closeButton>
          <Modal.Title id="say-title">Comment on {copiesInWords(rows.length)}</Modal.Title>
        </Modal.Header>
        <Modal.Body>
          <Form.Group controlId="say-text">
            <Form.Label>What you want to say of each of them</Form.Label>
            <Form.Control
              as="textarea"
              rows={4}
              autoFocus
              value={text}
              onChange={({ target }) => setText(target.value)}
            />
          </Form.Group>
          <p className="soft mt-2 mb-0">
            It stands in the margin of each copy, about the copy as a whole, and whoever has it open sees it at once.
          </p>
          {say.error && <Notice kind="bad">{sentenceOf(say.error)}</Notice>}
        </Modal.Body>
        <Modal.Footer>
          <Button type="submit" disabled={text.trim() === '' || say.isPending}>
            Say it of {copiesInWords(rows.length)}
          </Button>
        </Modal.Footer>
      </Form>
    </Modal>
  )
}
