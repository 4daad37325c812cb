import type { AnswerSpace, Block, RichNode, WorksheetContent } from '@gavrin/core'
import type { JSONContent } from '@tiptap/core'

// A worksheet and the editor's document are the same list of blocks: print as the editor's own nodes, an answer space as
// one node that cannot be typed in. Each carries the block's id.

/** The worksheet as the editor opens it. */
export function toEditor(content: WorksheetContent): JSONContent {
  const nodes = content.blocks.map((block): JSONContent => {
    if (block.kind !== 'text') return { type: 'answerSpace', attrs: { blockId: block.id, space: block } }
    const node = block.rich as JSONContent
    return { ...node, attrs: { ...node.attrs, blockId: block.id } }
  })
  return { type: 'doc', content: nodes.length ? nodes : [{ type: 'paragraph' }] }
}

/** What stands in the editor, as a worksheet; empty paragraphs at its end are only room to type in. */
export function fromEditor(document: JSONContent): WorksheetContent {
  const blocks = (document.content ?? []).map((node): Block => {
    const id = (node.attrs?.['blockId'] as string | null) ?? ''
    if (node.type === 'answerSpace') return { ...(node.attrs?.['space'] as AnswerSpace), id }
    return { id, kind: 'text', rich: print(node) }
  })
  while (blocks.length && isEmptyParagraph(blocks.at(-1)!)) blocks.pop()
  return { version: 1, blocks }
}

const isEmptyParagraph = (block: Block) =>
  block.kind === 'text' && block.rich.type === 'paragraph' && !block.rich.content?.length

function print(node: JSONContent): RichNode {
  const { blockId: _, ...attrs } = (node.attrs ?? {}) as Record<string, unknown>
  return {
    type: node.type ?? 'paragraph',
    ...(Object.keys(attrs).length > 0 && { attrs }),
    ...(node.content && { content: node.content.map(print) }),
    ...(node.marks && { marks: node.marks.map(({ type }) => ({ type })) }),
    ...(node.text !== undefined && { text: node.text }),
  }
}

/** An id that no other block has. */
export const newId = (): string => crypto.randomUUID().replaceAll('-', '').slice(0, 16)

/** A new answer space as it is put on the page. */
export function newSpace(kind: AnswerSpace['kind']): AnswerSpace {
  const id = newId()
  switch (kind) {
    case 'line':
      return { id, kind, width: 'full' }
    case 'passage':
      return { id, kind, lines: 4 }
    case 'number':
      return { id, kind, unit: '' }
    case 'choice':
      return {
        id,
        kind,
        many: false,
        options: ['First option', 'Second option'].map((text) => ({ id: newId(), text })),
      }
  }
}
