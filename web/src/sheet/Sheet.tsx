import {
  type AnswerSpace,
  type Block,
  type WorksheetContent,
  baseAddress,
  drawnSpace,
  isAnswerSpace,
  pageMillimetres,
  spaceLabels,
  spacesOfBlock,
} from '@gavrin/core'
import { type ReactNode, type Ref, useMemo } from 'react'
import { inkName } from '../ui/inks'
import { BackdropPage } from './BackdropPage'
import { Picture } from './Picture'
import { RichText } from './RichText'
import { SheetTable } from './SheetTable'
import { SpaceAbout } from './SpaceAbout'
import { useSheet } from './surroundings'
import './sheet.css'

interface Props {
  readonly content: WorksheetContent
  readonly ink: string
  /** What stands in an answer space. */
  readonly answer: (space: AnswerSpace, label: string) => ReactNode
  /** Under an answer space: what checking it told, say. */
  readonly under?: (space: AnswerSpace) => ReactNode
  /** Given to read: nothing is asked, and there are no places to write. */
  readonly toRead?: boolean
  /** Answer spaces in places of others: theirs is told from one's own. */
  readonly theirs?: ReadonlySet<string>
  /** Takes the page itself. */
  readonly page?: Ref<HTMLElement>
  /** Beneath the last block. */
  readonly children?: ReactNode
}

/** A worksheet as a page: its print, and in each answer space what the caller puts there. */
export function Sheet({ content, ink, answer, under, toRead = false, theirs = NOBODYS, page, children }: Props) {
  const labels = useMemo(() => spaceLabels(content), [content])
  const filled = (space: AnswerSpace): ReactNode => answer(space, labels.get(space.id) ?? '')
  const inline = (space: AnswerSpace): ReactNode =>
    toRead ? (
      <PrintedSpace space={space} />
    ) : space.kind === 'gap' ? (
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
  const { language } = useSheet()
  const places = useMemo(() => placesOf(content.blocks, theirs), [content.blocks, theirs])
  return (
    <article ref={page} className="sheet" data-ink={inkName(ink)} lang={language || content.language}>
      {content.blocks.map((block, at) => {
        const shown = <SheetBlock key={block.id} {...{ block, filled, inline, under, toRead }} />
        const place = places[at]
        if (!place) return shown
        return (
          <div key={block.id} className={`sheet-place ${place}`}>
            {place === 'mine' && places[at - 1] !== 'mine' && <p className="own-place">Your place</p>}
            {shown}
          </div>
        )
      })}
      {content.source && <p className="sheet-source">{content.source}</p>}
      {children}
    </article>
  )
}

const NOBODYS: ReadonlySet<string> = new Set()

/** Of each block whether it is in a place of one's own or of others, where there are such places; null: everybody's. */
function placesOf(blocks: readonly Block[], theirs: ReadonlySet<string>): readonly ('mine' | 'theirs' | null)[] {
  if (theirs.size === 0) return []
  const whose = (id: string) => baseAddress(id).of
  const others = new Set([...theirs].map(whose))
  return blocks.map((block) => {
    const of = whose(block.id)
    if (of !== null) return others.has(of) ? 'theirs' : 'mine'
    const spaces = spacesOfBlock(block)
    return spaces.length > 0 && spaces.every(({ id }) => theirs.has(id)) ? 'theirs' : null
  })
}

interface BlockProps {
  readonly block: Block
  readonly filled: (space: AnswerSpace) => ReactNode
  readonly inline: (space: AnswerSpace) => ReactNode
  readonly under: ((space: AnswerSpace) => ReactNode) | undefined
  readonly toRead: boolean
}

function SheetBlock({ block, filled, inline, under, toRead }: BlockProps): ReactNode {
  if (isAnswerSpace(block) && toRead) return <PrintedSpace space={block} />
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
      return <RichText node={block.rich} gap={inline} block={block.id} />
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
      return <BackdropPage block={block} filled={toRead ? () => null : filled} under={under} />
    case 'section':
      return (
        <section className="sheet-section">
          {block.title && <h3>{block.title}</h3>}
          {block.blocks.map((inner) => (
            <SheetBlock key={inner.id} block={inner} filled={filled} inline={inline} under={under} toRead={toRead} />
          ))}
        </section>
      )
    default:
      return null
  }
}

/** Of an answer space what belongs to the text, in a sheet that is given to read: the options, and the gap in a sentence. */
function PrintedSpace({ space }: { readonly space: AnswerSpace }): ReactNode {
  const drawn = drawnSpace(space)
  if (drawn.is === 'options')
    return (
      <ul className="options printed-options">
        {drawn.options.map(({ id, text }) => (
          <li key={id} className="option" dir="auto">
            {text}
          </li>
        ))}
      </ul>
    )
  if (space.kind === 'gap') return <span className="printed-gap" role="img" aria-label="gap" />
  return null
}

/** The shape of the paper, as a style for what stands for it. */
export function paperShape({ page }: Pick<WorksheetContent, 'page'>): { readonly aspectRatio: string } {
  const { width, height } = pageMillimetres(page)
  return { aspectRatio: `${width} / ${height}` }
}
