import { Extension } from '@tiptap/core'
import { closeHistory } from '@tiptap/pm/history'
import { type EditorState, NodeSelection, Plugin, TextSelection, type Transaction } from '@tiptap/pm/state'
import type { EditorView } from '@tiptap/pm/view'

declare module '@tiptap/core' {
  interface Commands<ReturnType> {
    behind: {
      /** Sets the caret behind the piece that is selected; where nothing can be written there, on a line of its own. */
      goBehind: () => ReturnType
    }
  }
}

/** The piece that is selected as a whole, such as a gap, a line to write on or a picture. */
const pieceOf = ({ selection }: EditorState) =>
  selection instanceof NodeSelection && selection.node.isAtom ? selection : null

function behind(state: EditorState): Transaction | null {
  const piece = pieceOf(state)
  if (!piece) return null
  const { tr, schema } = state
  if (piece.node.isInline) return tr.setSelection(TextSelection.create(tr.doc, piece.to))
  const next = tr.doc.resolve(piece.to).nodeAfter
  if (next?.type.name !== 'paragraph' || next.content.size > 0)
    closeHistory(tr).insert(piece.to, schema.nodes['paragraph']!.create())
  return tr.setSelection(TextSelection.create(tr.doc, piece.to + 1))
}

function goBehind(view: EditorView): boolean {
  const tr = behind(view.state)
  if (tr) view.dispatch(tr)
  return tr !== null
}

/** Enter behind an answer space under an item of a list: the next item is begun, as Enter behind the item itself would. */
function goOnWithList(view: EditorView): boolean {
  const piece = pieceOf(view.state)
  if (piece?.node.type.name !== 'answerSpace') return false
  const { doc, schema, tr } = view.state
  const list = doc.resolve(piece.from).nodeBefore
  if (list?.type.name !== 'orderedList' && list?.type.name !== 'bulletList') return false
  const after = doc.resolve(piece.to).nodeAfter
  const item = schema.nodes['listItem']!.create(null, schema.nodes['paragraph']!.create())
  const start = Number(list.attrs['start'] ?? 1) + list.childCount
  const goesOn = after?.type === list.type && (list.type.name === 'bulletList' || after.attrs['start'] === start)
  closeHistory(tr).insert(
    goesOn ? piece.to + 1 : piece.to,
    goesOn ? item : list.type.create(list.type.name === 'orderedList' ? { start } : null, item),
  )
  tr.setSelection(TextSelection.create(tr.doc, piece.to + 3)).scrollIntoView()
  view.dispatch(tr)
  return true
}

/** Typing goes on behind a piece that is selected, and never takes its place: what was just put stays. */
export const Behind = Extension.create({
  name: 'behind',
  addCommands: () => ({
    goBehind:
      () =>
      ({ view, state, dispatch }) => {
        if (!pieceOf(state)) return false
        if (dispatch) goBehind(view)
        return true
      },
  }),
  addKeyboardShortcuts() {
    const { editor } = this
    return {
      Enter: () => {
        const piece = pieceOf(editor.state)
        if (!piece) return false
        if (goOnWithList(editor.view)) return true
        goBehind(editor.view)
        // Behind a block it is the new line that was asked for; within a sentence the line is broken there.
        return !piece.node.isInline
      },
    }
  },
  addProseMirrorPlugins: () => [
    new Plugin({
      props: {
        handleTextInput(view, _, __, text) {
          if (!goBehind(view)) return false
          view.dispatch(view.state.tr.insertText(text).scrollIntoView())
          return true
        },
        handlePaste(view) {
          goBehind(view)
          return false
        },
        handleDOMEvents: {
          compositionstart(view) {
            goBehind(view)
            return false
          },
        },
      },
    }),
  ],
})
