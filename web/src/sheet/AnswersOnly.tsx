import { type AnswerSpace, type WorksheetContent, answerSpaces, spaceLabels, spaceQuestions } from '@gavrin/core'
import { type ReactNode, type Ref, useMemo } from 'react'
import { inkName } from '../ui/inks'

interface Props {
  readonly content: WorksheetContent
  readonly ink: string
  readonly answer: (space: AnswerSpace, label: string) => ReactNode
  /** At the end of the line of what is asked. */
  readonly beside?: (space: AnswerSpace, label: string) => ReactNode
  /** Takes the page itself. */
  readonly page?: Ref<HTMLDivElement>
}

/** A copy without its print: its answers under each other, each with what is asked in a line. */
export function AnswersOnly({ content, ink, answer, beside, page }: Props) {
  const labels = useMemo(() => spaceLabels(content), [content])
  const questions = useMemo(() => spaceQuestions(content), [content])
  return (
    <div ref={page} className="sheet answers-only" data-ink={inkName(ink)}>
      <ol>
        {answerSpaces(content).map((space) => {
          const label = labels.get(space.id) ?? ''
          return (
            <li key={space.id} id={`space-${space.id}`}>
              <div className="answers-only-asked">
                <p className="soft" title={label}>
                  {questions.get(space.id) || label}
                </p>
                {beside?.(space, label)}
              </div>
              {answer(space, label)}
            </li>
          )
        })}
      </ol>
    </div>
  )
}
