import type { AnswerSpace } from '@gavrin/core'
import { useState } from 'react'
import * as Y from 'yjs'
import { ON_SHEET } from './kinds'
import type { SpaceProps } from './place'

/** What was written, to be read: it grows as it is typed elsewhere. */
export function AnswerView(props: SpaceProps) {
  const { Read } = ON_SHEET[props.space.kind]
  return <Read {...props} />
}

/** The room of an answer that is on its way: nothing beneath it moves when it comes. */
export function AnswerRoom({ space }: { readonly space: AnswerSpace }) {
  const [doc] = useState(() => new Y.Doc())
  return (
    <span className="answer-room" aria-hidden="true">
      <AnswerView space={space} doc={doc} label="" />
    </span>
  )
}
