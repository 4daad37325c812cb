import {
  type AnswerSpace,
  type Block,
  type WorksheetContent,
  isAnswerSpace,
  pageMillimetres,
  spaceLabels,
} from '@gavrin/core'
import { type ReactNode, useMemo } from 'react'
import { inkName } from '../ui/inks'
import { BackdropPage } from './BackdropPage'
import { Picture } from './Picture'
import { RichText } from './RichText'
import { SheetTable } from './SheetTable'
import { SpaceAbout } from './SpaceAbout'
import './sheet.css'

interface Props {
  readonly content: WorksheetContent
  readonly ink: string
  /** What stands in an answer space. */
  readonly answer: (space: AnswerSpace, label: string) => ReactNode
  /** Under an answer space: what checking it told, say. */
  readonly under?: (space: AnswerSpace) => ReactNode
  /** Beneath the last block. */
  readonly children?: ReactNode
}

/** A worksheet as a page: its print, and in each answer space what the caller puts there. */
export function Sheet({ content, ink, answer, under, children }: Props) {
  const labels = useMemo(() => spaceLabels(content), [content])
  const filled = (space: AnswerSpace): ReactNode => answer(space, labels.get(space.id) ?? '')
  const inline = (space: AnswerSpace): ReactNode =>
    space.kind === 'gap' ? (
      <span className="gap-space" id={`space-${space.id}`}>
        {filled(space)}
        {under?.(space)}
      </span>
    ) : (
      <span id={`space-${space.id}`} className="cell-space">
        {filled(space)}
        {under?.(space)}
      </span>
    )
  return (
    <article className="sheet" data-ink={inkName(ink)}>
      {content.blocks.map((block) => (
        <SheetBlock key={block.id} block={block} filled={filled} inline={inline} under={under} />
      ))}
      {content.source && <p className="sheet-source">{content.source}</p>}
      {children}
    </article>
  )
}

interface BlockProps {
  readonly block: Block
  readonly filled: (space: AnswerSpace) => ReactNode
  readonly inline: (space: AnswerSpace) => ReactNode
  readonly under: ((space: AnswerSpace) => ReactNode) | undefined
}

function SheetBlock({ block, filled, inline, under }: BlockProps): ReactNode {
  if (isAnswerSpace(block))
    return (
      <div className={`space space-${block.kind}`} id={`space-${block.id}`}>
        <SpaceAbout space={block} />
        {filled(block)}
        {under?.(block)}
      </div>
    )
  switch (block.kind) {
    case 'text':
      return <RichText node={block.rich} gap={inline} />
    case 'picture':
      return <Picture block={block} />
    case 'table':
      return <SheetTable table={block} answer={inline} />
    case 'page break':
      return <hr className="page-end" />
    case 'link':
      return (
        <a className="link-card" href={block.url} target="_blank" rel="noopener noreferrer">
          {block.title || block.url}
          {block.note && <span>{block.note}</span>}
        </a>
      )
    case 'backdrop':
      return <BackdropPage block={block} filled={filled} under={under} />
    case 'section':
      return (
        <section className="sheet-section">
          {block.title && <h3>{block.title}</h3>}
          {block.blocks.map((inner) => (
            <SheetBlock key={inner.id} block={inner} filled={filled} inline={inline} under={under} />
          ))}
        </section>
      )
    default:
      return null
  }
}

/** The shape of the paper, as a style for what stands for it. */
export function paperShape({ page }: Pick<WorksheetContent, 'page'>): { readonly aspectRatio: string } {
  const { width, height } = pageMillimetres(page)
  return { aspectRatio: `${width} / ${height}` }
}
