import { useMutation } from '@tanstack/react-query'
import { Button } from 'react-bootstrap'
import { Notice } from './Notice'
import { sentenceOf } from './api'

/** Something that was done, and the way back. */
export interface Acted {
  readonly id: string
  readonly words: string
  /** Undoes it, and says what came of that; `shown first`: what undoing does is looked at before; null: it cannot be undone. */
  readonly undo: (() => Promise<string>) | 'shown first' | null
}

interface Props {
  readonly acted: Acted
  /** Shows what undoing does. */
  readonly showUndo: () => void
  readonly close: () => void
}

/** What was just done, with the way back. */
export function ActedLine({ acted: { words, undo }, showUndo, close }: Props) {
  const undoing = useMutation({ mutationFn: async () => (typeof undo === 'function' ? undo() : '') })
  const isDone = undoing.data !== undefined
  return (
    <Notice kind={undoing.error ? 'bad' : 'plain'}>
      {undoing.error ? sentenceOf(undoing.error) : isDone ? undoing.data : words}{' '}
      {undo !== null && !isDone && !undoing.error && (
        <Button
          variant="link"
          disabled={undoing.isPending}
          onClick={() => (undo === 'shown first' ? showUndo() : undoing.mutate())}
        >
          {undo === 'shown first' ? 'Undo …' : 'Undo'}
        </Button>
      )}{' '}
      <Button variant="link" onClick={close}>
        Close
      </Button>
    </Notice>
  )
}
