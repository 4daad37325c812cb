import type { LinkBlock, PictureBlock } from '@gavrin/core'
import { Node, mergeAttributes } from '@tiptap/core'
import { ownStep } from './ownStep'
import { NodeSelection } from '@tiptap/pm/state'
import { NodeViewWrapper, ReactNodeViewRenderer, type ReactNodeViewProps } from '@tiptap/react'
import { Formula } from '../sheet/Formula'
import { Picture } from '../sheet/Picture'
import { blockAt } from './AnswerSpaceNode'
import { blockId, jsonAttribute } from './attributes'
import { newId } from './document'

export type PictureAttrs = Omit<PictureBlock, 'id' | 'kind'>
export type LinkAttrs = Pick<LinkBlock, 'url' | 'title' | 'note'>

declare module '@tiptap/core' {
  interface Commands<ReturnType> {
    printNodes: {
      /** Puts a block of print that is one piece after the block the caret is in. */
      putBlock: (type: 'picture' | 'pageBreak' | 'linkCard' | 'backdrop', attrs: Record<string, unknown>) => ReturnType
      putFormula: (tex: string, large: boolean) => ReturnType
    }
  }
}

const piece = (selected: boolean, more = '') => `print-node${selected ? ' selected' : ''} ${more}`

function PictureView({ node, selected }: ReactNodeViewProps) {
  return (
    <NodeViewWrapper className={piece(selected)} data-drag-handle="">
      <Picture block={node.attrs['picture'] as PictureAttrs} />
    </NodeViewWrapper>
  )
}

export const PictureNode = Node.create({
  name: 'picture',
  group: 'block',
  atom: true,
  draggable: true,
  addAttributes: () => ({ blockId, picture: jsonAttribute('picture') }),
  // Only pictures of ours: any other would be fetched from elsewhere.
  parseHTML: () => [{ tag: 'div[data-picture]' }],
  renderHTML: ({ HTMLAttributes }) => ['div', mergeAttributes(HTMLAttributes)],
  addNodeView: () => ReactNodeViewRenderer(PictureView),
})

export const PageBreakNode = Node.create({
  name: 'pageBreak',
  group: 'block',
  atom: true,
  draggable: true,
  addAttributes: () => ({ blockId }),
  parseHTML: () => [{ tag: 'hr' }],
  renderHTML: ({ HTMLAttributes }) => ['hr', mergeAttributes(HTMLAttributes, { class: 'page-end' })],
  addKeyboardShortcuts() {
    return { 'Mod-Enter': () => this.editor.commands.putBlock('pageBreak', {}) }
  },
})

function LinkView({ node, selected }: ReactNodeViewProps) {
  const { url, title, note } = node.attrs['card'] as LinkAttrs
  return (
    <NodeViewWrapper className={piece(selected)} data-drag-handle="">
      <div className="link-card">
        {title || url}
        {note && <span>{note}</span>}
        <span>{url}</span>
      </div>
    </NodeViewWrapper>
  )
}

export const LinkCardNode = Node.create({
  name: 'linkCard',
  group: 'block',
  atom: true,
  draggable: true,
  addAttributes: () => ({ blockId, card: jsonAttribute('card') }),
  parseHTML: () => [{ tag: 'div[data-card]' }],
  renderHTML: ({ HTMLAttributes }) => ['div', mergeAttributes(HTMLAttributes)],
  addNodeView: () => ReactNodeViewRenderer(LinkView),
})

function FormulaView({ node, selected }: ReactNodeViewProps) {
  return (
    <NodeViewWrapper as="span" className={selected ? 'formula-node selected' : 'formula-node'}>
      <Formula tex={node.attrs['tex'] as string} large={node.attrs['large'] as boolean} />
    </NodeViewWrapper>
  )
}

export const FormulaNode = Node.create({
  name: 'formula',
  group: 'inline',
  inline: true,
  atom: true,
  addAttributes: () => ({
    tex: {
      default: 'x',
      parseHTML: (element: HTMLElement) => element.getAttribute('data-tex') || 'x',
      renderHTML: ({ tex }: Record<string, unknown>) => ({ 'data-tex': String(tex) }),
    },
    large: {
      default: false,
      parseHTML: (element: HTMLElement) => element.hasAttribute('data-large'),
      renderHTML: ({ large }: Record<string, unknown>) => (large ? { 'data-large': '' } : {}),
    },
  }),
  parseHTML: () => [{ tag: 'span[data-tex]' }],
  renderHTML: ({ HTMLAttributes }) => ['span', mergeAttributes(HTMLAttributes)],
  renderText: ({ node }) => String(node.attrs['tex']),
  addNodeView: () => ReactNodeViewRenderer(FormulaView),
  addCommands() {
    return {
      putFormula:
        (tex, large) =>
        ({ tr, dispatch }) => {
          if (dispatch) {
            ownStep(tr).replaceSelectionWith(this.type.create({ tex, large }), false).scrollIntoView()
          }
          return true
        },
      putBlock:
        (type, attrs) =>
        ({ state, tr, dispatch }) => {
          const block = blockAt(state.selection)
          const end = block ? block.from + block.node.nodeSize : state.selection.to
          if (dispatch) {
            ownStep(tr).insert(end, state.schema.nodes[type]!.create({ ...attrs, blockId: newId() }))
            tr.setSelection(NodeSelection.create(tr.doc, end)).scrollIntoView()
          }
          return true
        },
    }
  },
})
