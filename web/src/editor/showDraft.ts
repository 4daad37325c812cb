import { type Block, type WorksheetContent, isSame } from '@gavrin/core'
import type { Editor } from '@tiptap/core'
import { Node } from '@tiptap/pm/model'
import type { Transaction } from '@tiptap/pm/state'
import { blockToNode } from './document'

/**
 * Makes the editor show a content by changing only the blocks that differ, so that the caret stays where it is; not a step
 * of one's own undo.
 */
export function showDraft(editor: Editor, before: WorksheetContent, after: WorksheetContent): void {
  const { schema, tr } = editor.state
  const node = (block: Block): Node => Node.fromJSON(schema, blockToNode(block))
  const old = before.blocks
  const now = after.blocks
  let head = 0
  while (head < old.length && head < now.length && old[head]!.id === now[head]!.id) head++
  let tail = 0
  while (
    tail < old.length - head &&
    tail < now.length - head &&
    old[old.length - 1 - tail]!.id === now[now.length - 1 - tail]!.id
  )
    tail++
  const starts: number[] = []
  tr.doc.forEach((_, offset) => void starts.push(offset))
  const replace = (index: number, block: Block) => become(tr, starts[index]!, tr.doc.child(index), node(block))
  // From the end, so that the places before stay where they are.
  const sizes = (index: number) => (index < starts.length ? starts[index]! : tr.doc.content.size)
  const original = editor.state.doc
  for (let at = 0; at < tail; at++) {
    const index = old.length - 1 - at
    if (!isSame(old[index], now[now.length - 1 - at])) replace(index, now[now.length - 1 - at]!)
  }
  const middle = now.slice(head, now.length - tail)
  const from = sizes(head)
  const to =
    old.length - tail > head ? starts[old.length - tail - 1]! + original.child(old.length - tail - 1).nodeSize : from
  if (to > from || middle.length) tr.replaceWith(from, to, middle.map(node))
  for (let index = head - 1; index >= 0; index--) if (!isSame(old[index], now[index])) replace(index, now[index]!)
  if (tr.docChanged) editor.view.dispatch(tr.setMeta('addToHistory', false).setMeta('shown', true))
}

/** Makes a node another one by changing only the part of it that differs: a caret beside that part stays where it is. */
function become(tr: Transaction, at: number, old: Node, now: Node): void {
  if (old.type !== now.type || old.isLeaf) return void tr.replaceWith(at, at + old.nodeSize, now)
  if (!isSame(old.attrs, now.attrs)) tr.setNodeMarkup(at, undefined, now.attrs)
  const from = old.content.findDiffStart(now.content)
  if (from === null) return
  const end = old.content.findDiffEnd(now.content)!
  // Where letters repeat, what is the same from both ends meets.
  const twice = Math.max(0, from - Math.min(end.a, end.b))
  const [oldEnd, newEnd] = [end.a + twice, end.b + twice]
  tr.replace(at + 1 + from, at + 1 + oldEnd, now.slice(from, newEnd))
}
