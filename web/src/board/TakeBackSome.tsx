import type { BoardRow } from '@gavrin/core'
import { Button, Modal } from 'react-bootstrap'
import { copiesInWords } from '../pens/words'
import { Notice } from '../ui/Notice'
import { sentenceOf } from '../ui/api'
import { useTakeBack } from './useTakeBack'

interface Props {
  readonly handoutId: string
  readonly rows: readonly BoardRow[]
  /** They are given again. */
  readonly back: boolean
  readonly close: () => void
  readonly done: () => void
}

/** What becomes of copies that are set aside. */
function asideInWords(rows: readonly BoardRow[]): string {
  const written = rows.filter(({ answered, words }) => answered > 0 || words > 0).length
  const kept = 'it is kept, and who wrote it can still read it.'
  if (rows.length === 1)
    return `Its student does not have it any more. ${written > 0 ? `Something is written in it: ${kept}` : 'Nothing is written in it.'}`
  const where = written === rows.length ? 'them' : `${written} of them`
  return `Their students do not have them any more. ${written > 0 ? `Something is written in ${where}: ${kept}` : 'Nothing is written in them.'}`
}

/** Sets copies aside, or brings them back: said in numbers first. */
export function TakeBackSome({ handoutId, rows, back, close, done }: Props) {
  const take = useTakeBack(handoutId)
  const words = copiesInWords(rows.length)
  const [is, it] = rows.length === 1 ? ['is', 'it'] : ['are', 'them']
  return (
    <Modal show onHide={close} aria-labelledby="take-back-title">
      <Modal.Header closeButton>
        <Modal.Title id="take-back-title">{back ? `Bring ${words} back` : `Set ${words} aside`}</Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <p>
          {back
            ? `${words} ${is} given again, with all that is written in ${it}.`
            : `${asideInWords(rows)} Under “set aside” you can bring ${it} back.`}
        </p>
        {take.error && <Notice kind="bad">{sentenceOf(take.error)}</Notice>}
      </Modal.Body>
      <Modal.Footer>
        <Button
          disabled={take.isPending}
          onClick={() =>
            take.mutate(
              { slotKeys: rows.map(({ slotKey }) => slotKey), back },
              {
                onSuccess: () => {
                  done()
                  close()
                },
              },
            )
          }
        >
          {back ? `Bring ${words} back` : `Set ${words} aside`}
        </Button>
      </Modal.Footer>
    </Modal>
  )
}
