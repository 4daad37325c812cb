import type { AnswerKind, AnswerSpace } from '@gavrin/core'
import { Node, mergeAttributes } from '@tiptap/core'
import { NodeSelection } from '@tiptap/pm/state'
import { NodeViewWrapper, ReactNodeViewRenderer, type ReactNodeViewProps } from '@tiptap/react'
import { newSpace } from './document'

declare module '@tiptap/core' {
  interface Commands<ReturnType> {
    answerSpace: {
      /** Puts a new answer space after the block the caret is in. */
      putSpace: (kind: AnswerKind) => ReturnType
      /** Moves the block the caret is in up or down past its neighbour. */
      moveBlock: (direction: 'up' | 'down') => ReturnType
    }
  }
}

/** What stands in an empty space: which kind it is. */
export function spaceWords(space: AnswerSpace): string {
  switch (space.kind) {
    case 'line':
      return space.width === 'short' ? 'short line' : 'line'
    case 'passage':
      return `passage, ${space.lines} lines`
    case 'number':
      return 'number'
    case 'choice':
      return space.many ? 'choice, any number of them' : 'choice, one of them'
  }
}

function SpaceView({ node, selected }: ReactNodeViewProps) {
  const space = node.attrs['space'] as AnswerSpace
  return (
    <NodeViewWrapper className={selected ? 'space-node selected' : 'space-node'} data-drag-handle="">
      {space.kind === 'choice' ? (
        <div className="options">
          {space.options.map(({ id, text }) => (
            <div key={id} className="option">
              <span className={space.many ? 'tick tick-many' : 'tick'} aria-hidden="true" />
              {text || <em className="soft">empty option</em>}
            </div>
          ))}
        </div>
      ) : (
        <span className="answer-row">
          <span
            className={`answer answer-${space.kind}${space.kind === 'line' ? ` answer-${space.width}` : ''}`}
            style={space.kind === 'passage' ? { minHeight: `${space.lines * 1.6 + 1}em` } : undefined}
          >
            {spaceWords(space)}
          </span>
          {space.kind === 'number' && space.unit && <span className="unit">{space.unit}</span>}
        </span>
      )}
    </NodeViewWrapper>
  )
}

/** An answer space on the page: one piece, moved and removed as a whole. */
export const AnswerSpaceNode = Node.create({
  name: 'answerSpace',
  group: 'block',
  atom: true,
  draggable: true,
  selectable: true,
  addAttributes() {
    return {
      blockId: {
        default: null,
        parseHTML: (element) => element.getAttribute('data-block'),
        renderHTML: ({ blockId }) => ({ 'data-block': String(blockId ?? '') }),
      },
      space: {
        default: null,
        parseHTML: (element) => readSpace(element.getAttribute('data-space')),
        renderHTML: ({ space }) => ({ 'data-space': JSON.stringify(space) }),
      },
    }
  },
  parseHTML() {
    return [{ tag: 'div[data-space]' }]
  },
  renderHTML({ HTMLAttributes }) {
    return ['div', mergeAttributes(HTMLAttributes)]
  },
  addNodeView() {
    return ReactNodeViewRenderer(SpaceView)
  },
  addCommands() {
    return {
      putSpace:
        (kind) =>
        ({ state, tr, dispatch }) => {
          const space = newSpace(kind)
          const node = this.type.create({ blockId: space.id, space })
          const { $to } = state.selection
          const end = $to.depth > 0 ? $to.after(1) : state.selection.to
          if (dispatch) {
            tr.insert(end, node)
            tr.setSelection(NodeSelection.create(tr.doc, end)).scrollIntoView()
          }
          return true
        },
      moveBlock:
        (direction) =>
        ({ state, tr, dispatch }) => {
          const { $from, from } = state.selection
          const index = $from.index(0)
          const other = direction === 'up' ? index - 1 : index + 1
          if (other < 0 || other >= state.doc.childCount) return false
          if (!dispatch) return true
          const block = state.doc.child(index)
          let start = 0
          for (let before = 0; before < index; before++) start += state.doc.child(before).nodeSize
          const step = direction === 'up' ? -state.doc.child(other).nodeSize : state.doc.child(other).nodeSize
          tr.delete(start, start + block.nodeSize).insert(start + step, block)
          const Selection = state.selection.constructor as typeof NodeSelection
          const place = state.selection instanceof NodeSelection ? start + step : from + step
          tr.setSelection(
            state.selection instanceof NodeSelection
              ? NodeSelection.create(tr.doc, place)
              : Selection.near(tr.doc.resolve(place)),
          ).scrollIntoView()
          return true
        },
    }
  },
  addKeyboardShortcuts() {
    const put = (kind: AnswerKind) => () => this.editor.commands.putSpace(kind)
    return {
      'Alt-1': put('line'),
      'Alt-2': put('passage'),
      'Alt-3': put('choice'),
      'Alt-4': put('number'),
      'Alt-ArrowUp': () => this.editor.commands.moveBlock('up'),
      'Alt-ArrowDown': () => this.editor.commands.moveBlock('down'),
    }
  },
})

function readSpace(text: string | null): AnswerSpace {
  try {
    const space = JSON.parse(text ?? '') as AnswerSpace
    if (['line', 'passage', 'choice', 'number'].includes(space.kind)) return space
  } catch {
    // Pasted from elsewhere: a line stands for it.
  }
  return newSpace('line')
}
