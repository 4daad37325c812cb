import { type Editor, Extension } from '@tiptap/core'
import type { Node } from '@tiptap/pm/model'
import { Plugin, type Transaction } from '@tiptap/pm/state'

interface NumberedList {
  readonly node: Node
  readonly at: number
  /** The number after that of the last item of the list before it on the page or in its section; null: it is the first. */
  readonly next: number | null
}

const startOf = (node: Node) => Number(node.attrs['start'] ?? 1)

/** The numbered lists that are blocks, in the order of the page. */
function numberedLists(doc: Node): NumberedList[] {
  const lists: NumberedList[] = []
  const within = (parent: Node, inside: number) => {
    let next: number | null = null
    parent.forEach((node, offset) => {
      if (node.type.name === 'section') return within(node, inside + offset + 1)
      if (node.type.name !== 'orderedList') return
      lists.push({ node, at: inside + offset, next })
      next = startOf(node) + node.childCount
    })
  }
  within(doc, 0)
  return lists
}

/** A numbered list that is a block, with its place. */
export interface ListAt {
  readonly at: number
  readonly start: number
  /** The number with which it would go on from the list before it; null: there is none before it. */
  readonly next: number | null
}

/** The numbered list that the caret is in. */
export function numberedListAt(editor: Editor): ListAt | null {
  const { doc, selection } = editor.state
  const list = numberedLists(doc).find(({ node, at }) => selection.from > at && selection.to < at + node.nodeSize)
  return list ? { at: list.at, start: startOf(list.node), next: list.next } : null
}

/**
 * A list that goes on from the one before it keeps going on, whatever is put between them, added or taken out; the second
 * part of a list that is split goes on from the first.
 */
export const ListNumbers = Extension.create({
  name: 'listNumbers',
  addProseMirrorPlugins: () => [
    new Plugin({
      appendTransaction: (transactions, before, now) =>
        // What another author made of it is shown as it is.
        transactions.some((tr) => tr.docChanged && !tr.getMeta('shown'))
          ? renumbered(before.doc, now.doc, now.tr)
          : null,
    }),
  ],
})

function renumbered(before: Node, doc: Node, change: Transaction): Transaction | null {
  const old = numberedLists(before)
  const known = new Map(old.map((list) => [list.node.attrs['blockId'] as string | null, list]))
  /** The items that did not stand first in their list, and the number it began with. */
  const later = new Map<Node, number>()
  for (const { node } of old)
    node.forEach((item, _, index) => {
      if (index > 0) later.set(item, startOf(node))
    })
  /** With what number the next list of the page or of a section would go on. */
  const next = new Map<Node, number>()
  for (const { node, at } of numberedLists(doc)) {
    const start = startOf(node)
    const { parent } = doc.resolve(at)
    const follows = next.get(parent)
    const was = known.get(node.attrs['blockId'] as string | null)
    // Set to another number by its author, it begins there.
    const wentOn = was !== undefined && was.next === start && startOf(was.node) === start
    const isSplitOff = node.firstChild !== null && later.get(node.firstChild) === start
    const wanted = wentOn ? (follows ?? 1) : isSplitOff ? (follows ?? start) : start
    next.set(parent, wanted + node.childCount)
    if (wanted !== start) change.setNodeMarkup(at, undefined, { ...node.attrs, start: wanted })
  }
  return change.docChanged ? change : null
}
