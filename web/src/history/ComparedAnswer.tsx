import { type AnswerSpace, KINDS, answerText, compareTyped, readAnswer } from '@gavrin/core'
import type * as Y from 'yjs'
import { AnswerView } from '../sheet/AnswerView'
import { WordMarks } from '../ui/WordMarks'

interface Props {
  readonly space: AnswerSpace
  readonly label: string
  /** As it was at the earlier of two moments, and at the later. */
  readonly before: Y.Doc
  readonly after: Y.Doc
}

/** An answer at two moments: its words with what came and went marked in them; what has no words, one above the other. */
export function ComparedAnswer({ space, label, before, after }: Props) {
  const [one, other] = [readAnswer(space, before), readAnswer(space, after)]
  if (JSON.stringify(one) === JSON.stringify(other)) return <AnswerView space={space} doc={after} label={label} />
  if (KINDS[space.kind].kept === 'strokes' || KINDS[space.kind].kept === 'options')
    return (
      <div className="compared-two" role="group" aria-label={label}>
        <span className="soft">before</span>
        <AnswerView space={space} doc={before} label={`${label}, before`} />
        <span className="soft">after</span>
        <AnswerView space={space} doc={after} label={`${label}, after`} />
      </div>
    )
  return (
    <span className="answer compared-words" role="group" aria-label={label} dir="auto">
      <WordMarks pieces={compareTyped(answerText(space, one), answerText(space, other))} isWhole />
    </span>
  )
}
