import { starterUpdate } from '@gavrin/core'
import { Extension } from '@tiptap/core'
import { Plugin, Selection } from '@tiptap/pm/state'
import { Decoration, DecorationSet, type EditorView } from '@tiptap/pm/view'
import * as Y from 'yjs'

/** Keys that change what stands there although they write nothing. */
const CHANGING = new Set(['Enter', 'Backspace', 'Delete'])

/**
 * The beginning that the author gave, shown where the answer will stand. It becomes the answer with the first key, once: whoever
 * begins at the same time brings the same change.
 */
export function starterShown(doc: Y.Doc, starter: string): Extension {
  const isUntouched = () => doc.getXmlFragment('passage').length === 0
  const begin = (view: EditorView): boolean => {
    if (!isUntouched()) return false
    Y.applyUpdate(doc, starterUpdate(starter), 'starter')
    view.dispatch(view.state.tr.setSelection(Selection.atEnd(view.state.doc)))
    return true
  }
  const shown = () => {
    const element = document.createElement('span')
    element.className = 'starter'
    element.contentEditable = 'false'
    // It is read as what the field is described by.
    element.ariaHidden = 'true'
    element.textContent = starter
    return element
  }
  const plugin = new Plugin({
    props: {
      decorations: ({ doc: answer }) =>
        isUntouched()
          ? DecorationSet.create(answer, [Decoration.widget(1, shown, { side: -1, key: 'starter' })])
          : null,
      handleKeyDown: (view, event) => {
        if (CHANGING.has(event.key) && !event.ctrlKey && !event.metaKey && !event.altKey) begin(view)
        return false
      },
      handlePaste: (view) => {
        begin(view)
        return false
      },
      handleDOMEvents: {
        beforeinput: (view, event) => {
          if (!begin(view)) return false
          if (event.isComposing || event.inputType !== 'insertText' || event.data === null) return false
          // Where the browser would put it is gone.
          event.preventDefault()
          view.dispatch(view.state.tr.insertText(event.data).scrollIntoView())
          return true
        },
        compositionstart: (view) => {
          begin(view)
          return false
        },
      },
    },
  })
  // Before the keys of paragraphs and lists.
  return Extension.create({ name: 'starter', priority: 1_000, addProseMirrorPlugins: () => [plugin] })
}
