import { useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { UndoDialog } from '../composer/UndoDialog'
import { type Acted, ActedLine } from '../ui/ActedLine'

interface Props {
  readonly acted: Acted
  readonly handoutId: string
  readonly close: () => void
}

/** What was just done on a board, with the way back. */
export function BoardActed({ acted, handoutId, close }: Props) {
  const client = useQueryClient()
  const [undoing, setUndoing] = useState(false)
  return (
    <>
      <ActedLine acted={acted} showUndo={() => setUndoing(true)} close={close} />
      {undoing && (
        <UndoDialog
          handoutId={handoutId}
          several
          undone={() => {
            close()
            void client.invalidateQueries({ queryKey: ['board', handoutId] })
          }}
          close={() => setUndoing(false)}
        />
      )}
    </>
  )
}
