import { Extension } from '@tiptap/core'
import type { Node } from '@tiptap/pm/model'
import { Plugin, type Transaction } from '@tiptap/pm/state'
import { newId } from './document'

const PRINT = ['paragraph', 'heading', 'bulletList', 'orderedList']

/** Gives every block of the page an id of its own that it keeps: moved it is the same block, pasted twice it is two. */
export const BlockIds = Extension.create({
  name: 'blockIds',
  addGlobalAttributes() {
    return [
      {
        types: PRINT,
        attributes: {
          blockId: {
            default: null,
            keepOnSplit: false,
            parseHTML: (element) => element.getAttribute('data-block'),
            renderHTML: ({ blockId }) => (blockId ? { 'data-block': String(blockId) } : {}),
          },
        },
      },
    ]
  },
  addProseMirrorPlugins() {
    return [
      new Plugin({
        appendTransaction: (transactions, _before, state) => {
          if (!transactions.some(({ docChanged }) => docChanged)) return null
          return withIds(state.doc, state.tr)
        },
      }),
    ]
  },
  onCreate() {
    const change = withIds(this.editor.state.doc, this.editor.state.tr)
    if (change) this.editor.view.dispatch(change.setMeta('addToHistory', false))
  },
})

function withIds(doc: Node, change: Transaction): Transaction | null {
  const seen = new Set<string>()
  doc.forEach((node, offset) => {
    const id = node.attrs['blockId'] as string | null
    if (id && !seen.has(id)) return void seen.add(id)
    const fresh = newId()
    seen.add(fresh)
    change.setNodeMarkup(offset, undefined, { ...node.attrs, blockId: fresh })
  })
  return change.docChanged ? change : null
}
