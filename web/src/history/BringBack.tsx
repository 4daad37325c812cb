import { useMutation } from '@tanstack/react-query'
import Button from 'react-bootstrap/Button'
import Modal from 'react-bootstrap/Modal'
import { api, sentenceOf } from '../ui/api'
import type { Answers } from '../contract'

/** An answer, and how many of its changes it is to be as after. */
export interface BroughtBack {
  readonly space: string
  readonly label: string
  readonly becomesEmpty: boolean
  /** It is empty now. */
  readonly isEmpty: boolean
  readonly count: number
}

interface Props {
  readonly copyId: string
  readonly answers: readonly BroughtBack[]
  /** The moment, in words. */
  readonly when: string
  /** What was brought back is taken back. */
  readonly isBack: boolean
  readonly close: () => void
  /** With what takes it back. */
  readonly done: (answers: readonly BroughtBack[]) => Promise<void>
}

/** Before answers are made what they were: which, and what becomes of what stands there now. */
export function BringBack({ copyId, answers, when, isBack, close, done }: Props) {
  const bring = useMutation({
    mutationFn: () =>
      api.post<Answers['POST copies/{copyId}/history/bring-back']>(`copies/${copyId}/history/bring-back`, {
        answers: answers.map(({ space, count }) => ({ space, count })),
      }),
    onSuccess: ({ changed }) =>
      // As the server found each: somebody may have written in it since it was looked at.
      done(
        answers.flatMap((answer) => {
          const was = changed.find(({ space }) => space === answer.space)
          return was
            ? [{ ...answer, count: was.count, becomesEmpty: answer.isEmpty, isEmpty: answer.becomesEmpty }]
            : []
        }),
      ),
  })
  const many = answers.length > 1
  return (
    <Modal show animation={false} onHide={close} aria-labelledby="bring-back" scrollable>
      <Modal.Header closeButton>
        <Modal.Title id="bring-back">
          {isBack ? 'Take it back' : many ? `Bring ${answers.length} answers back` : 'Bring this answer back'}
        </Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <p>
          {isBack
            ? many
              ? 'These answers become what they were before they were brought back.'
              : 'This answer becomes what it was before it was brought back.'
            : many
              ? `These answers become what they were then (${when}).`
              : `This answer becomes what it was then (${when}).`}{' '}
          What was written since stays in the history, and whoever has the copy open sees the change at once.
        </p>
        <ul>
          {answers.map(({ space, label, becomesEmpty }) => (
            <li key={space}>
              <bdi>{label}</bdi>
              {becomesEmpty && <b> becomes empty</b>}
            </li>
          ))}
        </ul>
        {bring.error && (
          <div className="bad" role="alert">
            {sentenceOf(bring.error)}
          </div>
        )}
      </Modal.Body>
      <Modal.Footer>
        <Button variant="link" onClick={close}>
          Leave it
        </Button>
        <Button onClick={() => bring.mutate()} disabled={bring.isPending}>
          {isBack ? 'Take it back' : 'Bring back'}
        </Button>
      </Modal.Footer>
    </Modal>
  )
}
