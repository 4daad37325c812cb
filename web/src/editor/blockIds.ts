import type { AnswerSpace, PlacedSpace } from '@gavrin/core'
import { Extension } from '@tiptap/core'
import type { Node } from '@tiptap/pm/model'
import { Plugin, type Transaction } from '@tiptap/pm/state'
import { newId } from './document'

const PRINT = ['paragraph', 'heading', 'bulletList', 'orderedList']

/**
 * Gives every block of the page, and every answer space within one, an id of its own that it keeps: moved it is the
 * same, pasted twice it is two.
 */
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
  const taken = (id: string | null | undefined): boolean => {
    if (!id || seen.has(id)) return true
    seen.add(id)
    return false
  }
  const fresh = () => {
    const id = newId()
    seen.add(id)
    return id
  }
  const block = (node: Node, at: number) => {
    if (taken(node.attrs['blockId'] as string | null))
      change.setNodeMarkup(at, undefined, { ...node.attrs, blockId: fresh() })
  }
  doc.forEach((node, offset) => {
    block(node, offset)
    if (node.type.name === 'section') node.forEach((inner, innerOffset) => block(inner, offset + 1 + innerOffset))
  })
  // Answer spaces within blocks have their ids in what they are set up as.
  doc.descendants((node, at) => {
    const space = node.attrs['space'] as AnswerSpace | null | undefined
    const isWithin = space && node.type.name !== 'answerSpace'
    if (isWithin && taken(space.id))
      change.setNodeMarkup(at, undefined, { ...change.doc.nodeAt(at)!.attrs, space: { ...space, id: fresh() } })
    const placed = node.type.name === 'backdrop' ? (node.attrs['spaces'] as readonly PlacedSpace[]) : null
    if (placed) {
      let isChanged = false
      const spaces = placed.map((one) => {
        if (!taken(one.space.id)) return one
        isChanged = true
        return { ...one, space: { ...one.space, id: fresh() } }
      })
      if (isChanged) change.setNodeMarkup(at, undefined, { ...change.doc.nodeAt(at)!.attrs, spaces })
    }
    return !node.isTextblock || node.childCount > 0
  })
  return change.docChanged ? change : null
}
