import {
  type AnswerSpace,
  type Block,
  type GapSpace,
  type PlainBlock,
  type RichNode,
  type WorksheetContent,
  isAnswerSpace,
} from './content.js'
import { kindOf } from './kinds/index.js'

/** All blocks in the order of the page, those in sections too, without the sections themselves. */
export function plainBlocks(content: Pick<WorksheetContent, 'blocks'>): PlainBlock[] {
  return content.blocks.flatMap((block) => (block.kind === 'section' ? block.blocks : [block]))
}

/** The gaps in a piece of rich text, in reading order. */
export function gapsIn(node: RichNode): GapSpace[] {
  if (node.type === 'gap') return [node.attrs!['space'] as GapSpace]
  return (node.content ?? []).flatMap(gapsIn)
}

/** The answer spaces of one block, in reading order. */
export function spacesOfBlock(block: Block): AnswerSpace[] {
  switch (block.kind) {
    case 'text':
      return gapsIn(block.rich)
    case 'table':
      return block.rows.flatMap((row) =>
        row.flatMap(({ space, rich }) => (space ? [space as AnswerSpace] : rich.flatMap(gapsIn))),
      )
    case 'backdrop':
      return block.spaces.map(({ space }) => space)
    case 'section':
      return block.blocks.flatMap(spacesOfBlock)
    default:
      return isAnswerSpace(block) ? [block] : []
  }
}

/** The answer spaces of a worksheet in the order of the page. */
export function answerSpaces(content: Pick<WorksheetContent, 'blocks'>): AnswerSpace[] {
  return content.blocks.flatMap(spacesOfBlock)
}

/** The worksheet with each of its answer spaces replaced by what `change` makes of it. */
export function mapSpaces<T extends Pick<WorksheetContent, 'blocks'>>(
  content: T,
  change: <S extends AnswerSpace>(space: S) => S,
): T {
  return { ...content, blocks: content.blocks.map((block) => mapBlockSpaces(block, change)) }
}

/** The block with each of its answer spaces replaced by what `change` makes of it. */
export function mapBlockSpaces<B extends Block>(block: B, change: <S extends AnswerSpace>(space: S) => S): B {
  const any: Block = block
  const changed = (): Block => {
    switch (any.kind) {
      case 'text':
        return { ...any, rich: mapGaps(any.rich, change) }
      case 'table':
        return {
          ...any,
          rows: any.rows.map((row) =>
            row.map((cell) => ({
              ...cell,
              rich: cell.rich.map((node) => mapGaps(node, change)),
              space: cell.space && change(cell.space),
            })),
          ),
        }
      case 'backdrop':
        return { ...any, spaces: any.spaces.map(({ box, space }) => ({ box, space: change(space) })) }
      case 'section':
        return { ...any, blocks: any.blocks.map((inner) => mapBlockSpaces(inner, change)) }
      default:
        return isAnswerSpace(any) ? change(any) : any
    }
  }
  return changed() as B
}

function mapGaps(node: RichNode, change: (space: GapSpace) => GapSpace): RichNode {
  if (node.type === 'gap') return { ...node, attrs: { space: change(node.attrs!['space'] as GapSpace) } }
  if (!node.content) return node
  return { ...node, content: node.content.map((child) => mapGaps(child, change)) }
}

/** The ids of all media that a worksheet shows. */
export function mediaOf(content: Pick<WorksheetContent, 'blocks'>): string[] {
  const found = new Set<string>()
  for (const block of plainBlocks(content)) {
    if (block.kind === 'picture' || block.kind === 'backdrop') found.add(block.media)
    for (const space of spacesOfBlock(block)) {
      const medium = kindOf(space).medium?.of(space)
      if (medium) found.add(medium)
    }
  }
  return [...found]
}

/** The worksheet with the ids of its media replaced; what `idOf` does not know stays. */
export function mapMedia<T extends Pick<WorksheetContent, 'blocks'>>(
  content: T,
  idOf: (media: string) => string | undefined,
): T {
  const block = <B extends Block>(one: B): B => {
    const any: Block = one
    const moved: Block =
      any.kind === 'picture' || any.kind === 'backdrop'
        ? { ...any, media: idOf(any.media) ?? any.media }
        : any.kind === 'section'
          ? { ...any, blocks: any.blocks.map(block) }
          : any
    return mapBlockSpaces(moved as B, (space) => {
      const { medium } = kindOf(space)
      const shown = medium?.of(space)
      return medium && shown ? medium.with(space, idOf(shown) ?? shown) : space
    })
  }
  return { ...content, blocks: content.blocks.map(block) }
}
