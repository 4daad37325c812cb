import type { Editor } from '@tiptap/core'
import { leaveSpace, takeSpace } from './proposals'

interface Props {
  readonly editor: Editor
  /** Where the proposed space stands now. */
  readonly at: () => number | undefined
}

/** Use it or not: on an answer space that is only proposed. */
export function ProposalActs({ editor, at }: Props) {
  const act = (how: (editor: Editor, at: number) => void) => () => {
    const place = at()
    if (place !== undefined) how(editor, place)
  }
  return (
    <span className="proposal-acts" contentEditable={false}>
      <button type="button" onClick={act(takeSpace)}>
        Use
      </button>
      <button type="button" onClick={act(leaveSpace)}>
        Not a space
      </button>
    </span>
  )
}
