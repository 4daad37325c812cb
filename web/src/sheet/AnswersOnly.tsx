import { type AnswerSpace, type WorksheetContent, answerSpaces, spaceLabels } from '@gavrin/core'
import { type ReactNode, useMemo } from 'react'
import { inkName } from '../ui/inks'

interface Props {
  readonly content: WorksheetContent
  readonly ink: string
  readonly answer: (space: AnswerSpace, label: string) => ReactNode
}

/** A copy without its print: its answers under each other, each with what is asked in a line. */
export function AnswersOnly({ content, ink, answer }: Props) {
  const labels = useMemo(() => spaceLabels(content), [content])
  return (
    <div className="sheet answers-only" data-ink={inkName(ink)}>
      <ol>
        {answerSpaces(content).map((space) => {
          const label = labels.get(space.id) ?? ''
          return (
            <li key={space.id}>
              <p className="soft" title={label}>
                {label}
              </p>
              {answer(space, label)}
            </li>
          )
        })}
      </ol>
    </div>
  )
}
