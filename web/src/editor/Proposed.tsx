import type { AnswerSpace } from '@gavrin/core'
import type { Editor } from '@tiptap/react'
import { Button } from 'react-bootstrap'
import { leaveSpace, takeSpace } from './proposals'

/** That the selected answer space is only proposed, and for what; use it, or have back what was there. */
export function Proposed({ editor, space, at }: { editor: Editor; space: AnswerSpace; at: number }) {
  if (!space.proposed) return null
  return (
    <p className="proposed-note">
      Proposed by Gavrin{space.proposed.was && <>, for “{space.proposed.was.slice(0, 30)}”</>}.{' '}
      <Button size="sm" variant="outline-dark" onClick={() => takeSpace(editor, at)}>
        Use it
      </Button>{' '}
      <Button size="sm" variant="outline-dark" onClick={() => leaveSpace(editor, at)}>
        Not a space
      </Button>
    </p>
  )
}
