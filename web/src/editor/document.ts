import {
  type AnswerKind,
  type BackdropBlock,
  type Block,
  type CellSpace,
  type LinkBlock,
  type Mark,
  type PictureBlock,
  type PlainBlock,
  type RichNode,
  type StandingSpace,
  type TableBlock,
  type TableCell,
  type Whose,
  type WorksheetContent,
  type SpaceOf,
  newSpace as freshSpace,
} from '@gavrin/core'
import type { JSONContent } from '@tiptap/core'

// A worksheet and the editor's document are the same list of blocks. Print is the editor's own nodes; an answer space, a
// picture, a link and a backdrop page are one node each that cannot be typed in; tables and sections hold others. Each
// carries the block's id.

/** The worksheet as the editor opens it. */
export function toEditor(content: Pick<WorksheetContent, 'blocks'>): JSONContent {
  const nodes = content.blocks.map(blockToNode)
  return { type: 'doc', content: nodes.length ? nodes : [{ type: 'paragraph' }] }
}

/** A block as the editor has it. */
export function blockToNode(block: Block): JSONContent {
  const { id } = block
  switch (block.kind) {
    case 'text': {
      const node = richToNode(block.rich)
      return { ...node, attrs: { ...node.attrs, blockId: id } }
    }
    case 'picture': {
      const { id: _, kind: __, ...picture } = block
      return { type: 'picture', attrs: { blockId: id, picture } }
    }
    case 'page break':
      return { type: 'pageBreak', attrs: { blockId: id } }
    case 'link': {
      const { url, title, note } = block
      return { type: 'linkCard', attrs: { blockId: id, card: { url, title, note } } }
    }
    case 'table':
      return {
        type: 'table',
        attrs: { blockId: id },
        content: block.rows.map((row) => ({ type: 'tableRow', content: row.map(cellToNode) })),
      }
    case 'backdrop': {
      const { media, alt, width, height, spaces } = block
      return { type: 'backdrop', attrs: { blockId: id, page: { media, alt, width, height }, spaces } }
    }
    case 'section':
      return {
        type: 'section',
        attrs: { blockId: id, title: block.title, whose: block.whose },
        content: block.blocks.length ? block.blocks.map(blockToNode) : [{ type: 'paragraph' }],
      }
    default:
      return { type: 'answerSpace', attrs: { blockId: id, space: block } }
  }
}

const richToNode = (node: RichNode): JSONContent => node as JSONContent

function cellToNode({ across, down, head, rich, space, formula }: TableCell): JSONContent {
  return {
    type: head ? 'tableHeader' : 'tableCell',
    attrs: { colspan: across, rowspan: down, space, formula },
    content: rich.length ? rich.map(richToNode) : [{ type: 'paragraph' }],
  }
}

/** What of a worksheet stands beside the document: see `fromEditor`. */
export type PageAbout = Pick<WorksheetContent, 'page' | 'source' | 'language' | 'spelling'>

export const aboutOf = ({ page, source, language, spelling }: WorksheetContent): PageAbout => ({
  page,
  source,
  ...(language && { language }),
  ...(spelling === false && { spelling }),
})

/** What stands in the editor, as a worksheet; empty paragraphs at its end are only room to type in. */
export function fromEditor(document: JSONContent, about: PageAbout): WorksheetContent {
  const blocks = blocksOf(document.content ?? [])
  return { version: 2, ...about, blocks }
}

function blocksOf<B extends Block>(nodes: readonly JSONContent[]): B[] {
  const blocks = nodes.map((node) => nodeToBlock(node) as B)
  while (blocks.length && isEmptyParagraph(blocks.at(-1)!)) blocks.pop()
  return blocks
}

function nodeToBlock(node: JSONContent): Block {
  const attrs = (node.attrs ?? {}) as Record<string, unknown>
  const id = (attrs['blockId'] as string | null) ?? ''
  switch (node.type) {
    case 'answerSpace':
      return { ...(attrs['space'] as StandingSpace), id }
    case 'picture':
      return { id, kind: 'picture', ...(attrs['picture'] as Omit<PictureBlock, 'id' | 'kind'>) }
    case 'pageBreak':
      return { id, kind: 'page break' }
    case 'linkCard':
      return { id, kind: 'link', ...(attrs['card'] as Pick<LinkBlock, 'url' | 'title' | 'note'>) }
    case 'table':
      return {
        id,
        kind: 'table',
        rows: (node.content ?? []).map((row) => (row.content ?? []).map(nodeToCell)),
      } satisfies TableBlock
    case 'backdrop':
      return {
        id,
        kind: 'backdrop',
        ...(attrs['page'] as Pick<BackdropBlock, 'media' | 'alt' | 'width' | 'height'>),
        spaces: attrs['spaces'] as BackdropBlock['spaces'],
      }
    case 'section':
      return {
        id,
        kind: 'section',
        title: attrs['title'] as string,
        whose: attrs['whose'] as Whose,
        blocks: blocksOf<PlainBlock>(node.content ?? []),
      }
    default:
      return { id, kind: 'text', rich: print(node) }
  }
}

function nodeToCell(node: JSONContent): TableCell {
  const attrs = (node.attrs ?? {}) as Record<string, unknown>
  const space = attrs['space'] as CellSpace | null
  const rich = (node.content ?? []).map(print)
  while (rich.length && rich.at(-1)!.type === 'paragraph' && !rich.at(-1)!.content?.length) rich.pop()
  return {
    across: attrs['colspan'] as number,
    down: attrs['rowspan'] as number,
    head: node.type === 'tableHeader',
    rich: space ? [] : rich,
    space,
    formula: space ? null : (attrs['formula'] as string | null),
  }
}

const isEmptyParagraph = (block: Block) =>
  block.kind === 'text' && block.rich.type === 'paragraph' && !block.rich.content?.length

/** The attributes that a node of print keeps. */
const KEPT: Readonly<Record<string, readonly string[]>> = {
  heading: ['level'],
  orderedList: ['start'],
  gap: ['space'],
  formula: ['tex', 'large'],
}

function print(node: JSONContent): RichNode {
  const type = node.type ?? 'paragraph'
  const kept = Object.entries((node.attrs ?? {}) as Record<string, unknown>).filter(([name]) =>
    KEPT[type]?.includes(name),
  )
  return {
    type,
    ...(kept.length > 0 && { attrs: Object.fromEntries(kept) }),
    ...(node.content && { content: node.content.map(print) }),
    ...(node.marks?.length && { marks: node.marks.map(mark) }),
    ...(node.text !== undefined && { text: node.text }),
  }
}

function mark({ type, attrs }: { type: string; attrs?: Record<string, unknown> }): Mark {
  if (type === 'link') return { type, attrs: { href: attrs?.['href'] } }
  return type === 'colour' ? { type, attrs: { name: attrs?.['name'] } } : { type }
}

/** An id that no other block has. */
export const newId = (): string => crypto.randomUUID().replaceAll('-', '').slice(0, 16)

/** A new answer space as it is put on the page. */
export const newSpace = <K extends AnswerKind>(kind: K): SpaceOf<K> => freshSpace(kind, newId)

/** What a space has besides what its kind makes it be. */
const KEPT_IN_ANY: readonly string[] = ['label', 'points', 'hint', 'required', 'model', 'proposed']

/** A space made one of another kind, under the id it has: it keeps what both kinds have. */
export function changeKind<K extends StandingSpace['kind']>(
  space: StandingSpace,
  kind: K,
): Extract<StandingSpace, { kind: K }> {
  const fresh = newSpace(kind) as StandingSpace
  const kept = Object.entries(space).filter(
    ([name, value]) => value !== undefined && (KEPT_IN_ANY.includes(name) || (name in fresh && name !== 'kind')),
  )
  return { ...fresh, ...Object.fromEntries(kept), id: space.id } as Extract<StandingSpace, { kind: K }>
}
