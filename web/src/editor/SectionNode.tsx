import type { Whose } from '@gavrin/core'
import { Node, mergeAttributes } from '@tiptap/core'
import { Fragment } from '@tiptap/pm/model'
import { TextSelection } from '@tiptap/pm/state'
import { NodeViewContent, NodeViewWrapper, ReactNodeViewRenderer, type ReactNodeViewProps } from '@tiptap/react'
import { blockAt } from './AnswerSpaceNode'
import { blockId, textAttribute } from './attributes'
import { newId } from './document'

declare module '@tiptap/core' {
  interface Commands<ReturnType> {
    sections: {
      /** Makes the selected blocks a section that is this person's part; in a section already, changes whose it is. */
      putSection: (whose: Whose) => ReturnType
      /** Takes the frame of a section away; its blocks stay. */
      openSection: () => ReturnType
    }
  }
}

/** Whose part a section is, in words. */
export function whoseWords(whose: Whose): string {
  switch (whose.is) {
    case 'everyone':
      return 'everyone'
    case 'each member':
      return 'each member of the group, with their name'
    case 'each group':
      return 'each group, with a place of its own'
    case 'named':
      return whose.people.length ? `only ${whose.people.map(({ name }) => name).join(', ')}` : 'nobody yet'
  }
}

function SectionView({ node }: ReactNodeViewProps) {
  const title = node.attrs['title'] as string
  return (
    <NodeViewWrapper className="section-node">
      <div className="section-head" contentEditable={false} data-drag-handle="">
        <b>{title || 'Section'}</b> <span>for {whoseWords(node.attrs['whose'] as Whose)}</span>
      </div>
      <NodeViewContent className="section-blocks" />
    </NodeViewWrapper>
  )
}

/** Blocks that belong together and to somebody. */
export const SectionNode = Node.create({
  name: 'section',
  group: 'section',
  content: 'block+',
  defining: true,
  isolating: true,
  draggable: true,
  addAttributes: () => ({
    blockId,
    title: textAttribute('title', 'title', ''),
    whose: {
      default: { is: 'everyone' },
      parseHTML: (element: HTMLElement) => {
        const is = element.getAttribute('data-whose')
        return is === 'each member' || is === 'each group' ? { is } : { is: 'everyone' }
      },
      renderHTML: ({ whose }: Record<string, unknown>) => ({ 'data-whose': (whose as Whose).is }),
    },
  }),
  parseHTML: () => [{ tag: 'section[data-whose]' }],
  renderHTML: ({ HTMLAttributes }) => ['section', mergeAttributes(HTMLAttributes), 0],
  addNodeView: () => ReactNodeViewRenderer(SectionView),
  addCommands() {
    return {
      putSection:
        (whose) =>
        ({ state, tr, dispatch }) => {
          const { $from, $to } = state.selection
          const outer = $from.depth > 0 ? $from.node(1) : null
          if (outer?.type.name === 'section') {
            if (dispatch) tr.setNodeMarkup($from.before(1), undefined, { ...outer.attrs, whose })
            return true
          }
          const first = $from.index(0)
          const last = Math.max(first, $to.depth > 0 ? $to.index(0) : $to.index(0) - 1)
          const blocks = Array.from({ length: last - first + 1 }, (_, at) => state.doc.child(first + at))
          if (blocks.some(({ type }) => type.name === 'section')) return false
          if (dispatch) {
            const from = $from.posAtIndex(first, 0)
            const to = from + blocks.reduce((sum, { nodeSize }) => sum + nodeSize, 0)
            tr.replaceWith(from, to, this.type.create({ blockId: newId(), title: '', whose }, Fragment.from(blocks)))
            tr.setSelection(TextSelection.near(tr.doc.resolve(from + 2))).scrollIntoView()
          }
          return true
        },
      openSection:
        () =>
        ({ state, tr, dispatch }) => {
          const { $from } = state.selection
          const outer = $from.depth > 0 ? $from.node(1) : blockAt(state.selection)?.node
          if (outer?.type.name !== 'section') return false
          const from = $from.depth > 0 ? $from.before(1) : state.selection.from
          if (dispatch) tr.replaceWith(from, from + outer.nodeSize, outer.content)
          return true
        },
    }
  },
})
