import { type BoardRow, isIn, isNotBegun } from '@gavrin/core'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { Button, Modal } from 'react-bootstrap'
import type { Answers, Bodies } from '../contract'
import { copiesInWords } from '../pens/words'
import type { Acted } from '../ui/ActedLine'
import { Notice } from '../ui/Notice'
import { api, sentenceOf } from '../ui/api'

type Entered = Answers['POST handouts/{handoutId}/submitted']

interface Props {
  readonly handoutId: string
  readonly rows: readonly BoardRow[]
  /** False: they are taken back, to be worked in again. */
  readonly submitted: boolean
  readonly close: () => void
  readonly done: (acted: Acted) => void
}

const enter = (handoutId: string, copyIds: readonly string[], submitted: boolean) =>
  api.post<Entered>(`handouts/${handoutId}/submitted`, {
    copyIds: [...copyIds],
    submitted,
  } satisfies Bodies['POST handouts/{handoutId}/submitted'])

/** Submits copies for those who hold them, or takes them back for them: said in numbers first. */
export function SubmitForThem({ handoutId, rows, submitted, close, done }: Props) {
  const client = useQueryClient()
  const some = rows.filter((row) => (submitted ? !isIn(row) : row.state === 'submitted'))
  const rest = rows.length - some.length
  const empty = some.filter(isNotBegun).length
  const go = useMutation({
    mutationFn: () =>
      enter(
        handoutId,
        some.map(({ copyId }) => copyId),
        submitted,
      ),
    onSuccess: async ({ done: entered, passed }) => {
      await client.invalidateQueries({ queryKey: ['board', handoutId] })
      const others = passed.length > 0 ? ` ${copiesInWords(passed.length)} had changed meanwhile.` : ''
      done({
        id: `submitted ${Date.now()}`,
        words: `${copiesInWords(entered.length)} ${submitted ? 'submitted' : 'taken back'} for their students.${others}`,
        undo: async () => {
          const back = await enter(handoutId, entered, !submitted)
          await client.invalidateQueries({ queryKey: ['board', handoutId] })
          return `Undone in ${copiesInWords(back.done.length)}.`
        },
      })
      close()
    },
  })
  const label = `${submitted ? 'Submit' : 'Take back'} ${copiesInWords(some.length)}`
  return (
    <Modal show onHide={close} aria-labelledby="for-them-title">
      <Modal.Header closeButton>
        <Modal.Title id="for-them-title">{label} for their students</Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <p>
          {submitted
            ? 'They are submitted as they stand now; nobody writes in them any more, until they are taken back. Their students see who submitted them.'
            : 'Their students can write in them again, as far as pens are up and the due time lets them.'}
        </p>
        {submitted && empty > 0 && <p>In {copiesInWords(empty)} of them nothing is written.</p>}
        {rest > 0 && (
          <p className="soft">
            {copiesInWords(rest)} {rest === 1 ? 'stays' : 'stay'} as {rest === 1 ? 'it is' : 'they are'}:{' '}
            {submitted ? 'submitted already.' : 'not submitted, or marked already.'}
          </p>
        )}
        {go.error && <Notice kind="bad">{sentenceOf(go.error)}</Notice>}
      </Modal.Body>
      <Modal.Footer>
        <Button disabled={some.length === 0 || go.isPending} onClick={() => go.mutate()}>
          {label}
        </Button>
      </Modal.Footer>
    </Modal>
  )
}
