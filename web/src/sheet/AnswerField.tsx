import { Suspense } from 'react'
import { AnswerView } from './AnswerView'
import { ON_SHEET } from './kinds'
import type { SpaceProps } from './place'

/** An answer space to write in. */
export function AnswerField(props: SpaceProps) {
  const { Write } = ON_SHEET[props.space.kind]
  return (
    <Suspense fallback={<AnswerView {...props} />}>
      <Write {...props} />
    </Suspense>
  )
}
