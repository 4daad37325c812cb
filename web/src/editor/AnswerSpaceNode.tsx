import {
  type AnswerKind,
  type AnswerSpace,
  type GapSpace,
  type StandingSpace,
  drawnSpace,
  isAnswerSpace,
} from '@gavrin/core'
import { type Editor, Node, mergeAttributes } from '@tiptap/core'
import type { Node as ProseMirrorNode } from '@tiptap/pm/model'
import { ownStep } from './ownStep'
import { NodeSelection, Selection, type Transaction } from '@tiptap/pm/state'
import { NodeViewWrapper, ReactNodeViewRenderer, type ReactNodeViewProps } from '@tiptap/react'
import { blockId } from './attributes'
import { Unit, answerClass, placeStyle } from '../sheet/place'
import { newSpace } from './document'
import { IN_EDITOR, PALETTE_KINDS } from './kinds'
import { ProposalActs } from './ProposalActs'
import { spaceWords } from './spaceWords'

declare module '@tiptap/core' {
  interface Commands<ReturnType> {
    answerSpace: {
      /**
       * Puts a new answer space after the block the caret is in, in a list under its item, and the list goes on after it; a gap at
       * the caret, which stands behind it then.
       */
      putSpace: (kind: Exclude<AnswerKind, 'cell'>) => ReturnType
      /** Moves the block the caret is in up or down past its neighbour, within its section. */
      moveBlock: (direction: 'up' | 'down') => ReturnType
      /** Puts the block the caret is in a second time, after itself. */
      copyBlock: () => ReturnType
      removeBlock: () => ReturnType
    }
  }
}

function SpaceView({ node, selected, editor, getPos }: ReactNodeViewProps) {
  const space = node.attrs['space'] as StandingSpace
  const drawn = drawnSpace(space)
  return (
    <NodeViewWrapper
      className={`space-node${selected ? ' selected' : ''}${space.proposed ? ' proposed' : ''}`}
      data-drag-handle=""
    >
      {space.proposed && <ProposalActs editor={editor} at={getPos} />}
      {space.label && <div className="space-label">{space.label}</div>}
      {drawn.is === 'options' ? (
        <div className="options">
          {drawn.options.map(({ id, text }) => (
            <div key={id} className="option">
              <span className={drawn.many ? 'tick tick-many' : 'tick'} aria-hidden="true" />
              {text || <em className="soft">empty option</em>}
              {drawn.right.includes(id) && <span className="right-option">right</span>}
            </div>
          ))}
          {space.points !== undefined && <span className="space-points">{spaceWords(space)}</span>}
        </div>
      ) : (
        <span className="answer-row">
          <span
            className={answerClass(space)}
            style={{ ...placeStyle(drawn), ...(drawn.is === 'canvas' && { width: '100%' }) }}
          >
            {spaceWords(space)}
          </span>
          <Unit drawn={drawn} />
        </span>
      )}
    </NodeViewWrapper>
  )
}

function GapView({ node, selected, editor, getPos }: ReactNodeViewProps) {
  const space = node.attrs['space'] as GapSpace
  return (
    <NodeViewWrapper as="span" className={`gap-node${selected ? ' selected' : ''}${space.proposed ? ' proposed' : ''}`}>
      <span className={answerClass(space)} style={placeStyle(drawnSpace(space))}>
        {spaceWords(space)}
      </span>
      {space.proposed && <ProposalActs editor={editor} at={getPos} />}
    </NodeViewWrapper>
  )
}

/** A gap in a sentence. */
export const GapNode = Node.create({
  name: 'gap',
  group: 'inline',
  inline: true,
  atom: true,
  selectable: true,
  addAttributes: () => ({ space: spaceAttribute('gap') }),
  parseHTML: () => [{ tag: 'span[data-space]' }],
  renderHTML: ({ HTMLAttributes }) => ['span', mergeAttributes(HTMLAttributes)],
  renderText: () => '____',
  addNodeView: () => ReactNodeViewRenderer(GapView),
})

const spaceAttribute = (kind: 'gap' | 'line') => ({
  default: null,
  parseHTML: (element: HTMLElement) => readSpace(element.getAttribute('data-space'), kind),
  renderHTML: ({ space }: Record<string, unknown>) => ({ 'data-space': JSON.stringify(space) }),
})

/** An answer space on the page: one piece, moved and removed as a whole. */
export const AnswerSpaceNode = Node.create({
  name: 'answerSpace',
  group: 'block',
  atom: true,
  draggable: true,
  selectable: true,
  addAttributes: () => ({
    blockId,
    space: spaceAttribute('line'),
  }),
  parseHTML: () => [{ tag: 'div[data-space]' }],
  renderHTML: ({ HTMLAttributes }) => ['div', mergeAttributes(HTMLAttributes)],
  addNodeView: () => ReactNodeViewRenderer(SpaceView),
  addCommands() {
    return {
      putSpace:
        (kind) =>
        ({ state, tr, dispatch }) => {
          const space = newSpace(kind)
          if (kind === 'gap') {
            const { $from } = state.selection
            if (!$from.parent.isTextblock) return false
            if (dispatch) {
              // The caret stands behind it: the sentence goes on.
              ownStep(tr).replaceSelectionWith(state.schema.nodes['gap']!.create({ space }), false).scrollIntoView()
            }
            return true
          }
          const node = this.type.create({ blockId: space.id, space })
          const block = blockAt(state.selection)
          if (dispatch) {
            ownStep(tr)
            const end = block ? underItem(tr, block, state.selection) : state.selection.to
            tr.insert(end, node)
            tr.setSelection(NodeSelection.create(tr.doc, end)).scrollIntoView()
          }
          return true
        },
      moveBlock:
        (direction) =>
        ({ state, tr, dispatch }) => {
          const block = blockAt(state.selection)
          if (!block) return false
          const { parent, index, from, node } = block
          const other = direction === 'up' ? index - 1 : index + 1
          if (other < 0 || other >= parent.childCount) return false
          if (!dispatch) return true
          const step = direction === 'up' ? -parent.child(other).nodeSize : parent.child(other).nodeSize
          // Each act is a step of undo by itself, however quickly they follow each other.
          ownStep(tr)
            .delete(from, from + node.nodeSize)
            .insert(from + step, node)
          const place = state.selection instanceof NodeSelection ? from + step : state.selection.from + step
          tr.setSelection(
            state.selection instanceof NodeSelection && state.selection.from === from
              ? NodeSelection.create(tr.doc, place)
              : Selection.near(tr.doc.resolve(place)),
          ).scrollIntoView()
          return true
        },
      copyBlock:
        () =>
        ({ state, tr, dispatch }) => {
          const block = blockAt(state.selection)
          if (!block) return false
          if (dispatch) {
            const end = block.from + block.node.nodeSize
            ownStep(tr).insert(end, block.node)
            tr.setSelection(Selection.near(tr.doc.resolve(end + 1))).scrollIntoView()
          }
          return true
        },
      removeBlock:
        () =>
        ({ state, tr, dispatch }) => {
          const block = blockAt(state.selection)
          if (!block) return false
          if (dispatch) {
            const isOnly = block.parent.childCount === 1
            const end = block.from + block.node.nodeSize
            ownStep(tr)
            if (isOnly) tr.replaceWith(block.from, end, state.schema.nodes['paragraph']!.create())
            else tr.delete(block.from, end)
            tr.setSelection(Selection.near(tr.doc.resolve(Math.min(block.from, tr.doc.content.size)))).scrollIntoView()
          }
          return true
        },
    }
  },
  addKeyboardShortcuts() {
    const puts = PALETTE_KINDS.flatMap((kind) =>
      kind === 'cell' ? [] : [[`Alt-${IN_EDITOR[kind].key}`, () => this.editor.commands.putSpace(kind)] as const],
    )
    return {
      ...Object.fromEntries(puts),
      'Alt-ArrowUp': () => this.editor.commands.moveBlock('up'),
      'Alt-ArrowDown': () => this.editor.commands.moveBlock('down'),
      'Mod-d': () => this.editor.commands.copyBlock(),
      'Mod-Shift-Backspace': () => this.editor.commands.removeBlock(),
    }
  },
})

/** Where something under what a selection stands in is put: after the block; a list is parted after the item. */
function underItem(tr: Transaction, { from, node }: BlockAt, { $to }: Selection): number {
  const end = from + node.nodeSize
  const isList = node.type.name === 'bulletList' || node.type.name === 'orderedList'
  if (!isList || $to.pos < from || $to.pos > end) return end
  const depth = tr.doc.resolve(from).depth + 1
  const item = $to.index(depth)
  if (item + 1 >= node.childCount) return end
  const parted = $to.posAtIndex(item + 1, depth)
  const start = Number(node.attrs['start'] ?? 1) + item + 1
  tr.split(parted, 1, [
    {
      type: node.type,
      attrs: node.type.name === 'orderedList' ? { ...node.attrs, blockId: null, start } : { blockId: null },
    },
  ])
  return parted + 1
}

interface BlockAt {
  readonly parent: ProseMirrorNode
  readonly index: number
  readonly from: number
  readonly node: ProseMirrorNode
}

/** The block that a selection is in: of the page, or of a section. */
export function blockAt(selection: Selection): BlockAt | null {
  const { $from } = selection
  for (let depth = Math.min($from.depth, 1); depth >= 0; depth--) {
    const parent = $from.node(depth)
    if (parent.type.name !== 'doc' && parent.type.name !== 'section') continue
    const index = $from.index(depth)
    if (index >= parent.childCount) continue
    return { parent, index, from: $from.posAtIndex(index, depth), node: parent.child(index) }
  }
  return null
}

/** The node that is selected as one piece, if it is of this kind. */
export function selectedNode(editor: Editor, type: string): ProseMirrorNode | null {
  const { selection } = editor.state
  return selection instanceof NodeSelection && selection.node.type.name === type ? selection.node : null
}

function readSpace(text: string | null, otherwise: 'gap' | 'line'): AnswerSpace {
  try {
    const space = JSON.parse(text ?? '') as AnswerSpace
    const fits = otherwise === 'gap' ? space.kind === 'gap' : isAnswerSpace(space)
    if (fits) return space
  } catch {
    // Pasted from elsewhere: an empty one stands for it.
  }
  return newSpace(otherwise)
}
