import { type AnswerSpace, type WorksheetContent, isAnswerSpace, spaceLabel } from '@gavrin/core'
import type { ReactNode } from 'react'
import { inkName } from '../ui/inks'
import { RichText } from './RichText'

interface Props {
  readonly content: WorksheetContent
  readonly ink: string
  /** What stands in an answer space. */
  readonly answer: (space: AnswerSpace, label: string) => ReactNode
  /** Beneath the last block. */
  readonly children?: ReactNode
}

/** A worksheet as a page: its print, and in each answer space what the caller puts there. */
export function Sheet({ content, ink, answer, children }: Props) {
  return (
    <article className="sheet" data-ink={inkName(ink)}>
      {content.blocks.map((block) =>
        isAnswerSpace(block) ? (
          <div className={`space space-${block.kind}`} id={`space-${block.id}`} key={block.id}>
            {answer(block, spaceLabel(content, block.id))}
          </div>
        ) : (
          <RichText key={block.id} node={block.rich} />
        ),
      )}
      {children}
    </article>
  )
}
