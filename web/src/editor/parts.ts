import type { AnswerSpace, PlacedSpace } from '@gavrin/core'
import type { Node } from '@tiptap/pm/model'
import { NodeSelection } from '@tiptap/pm/state'
import type { Editor } from '@tiptap/react'
import { isCell } from './tables'

/** A node of the page, and where it stands. */
export interface Part {
  readonly node: Node
  readonly at: number
}

/**
 * The part of the page that is being set up: the node selected as one piece, or the gap or formula that the caret stands right
 * behind; the cell or the section around the caret.
 */
export function partsAt(editor: Editor): { piece: Part | null; cell: Part | null; section: Part | null } {
  const { selection } = editor.state
  const before = selection.empty ? selection.$from.nodeBefore : null
  const piece =
    selection instanceof NodeSelection
      ? { node: selection.node, at: selection.from }
      : before?.isInline && before.isAtom && !before.isText
        ? { node: before, at: selection.from - before.nodeSize }
        : null
  let cell: Part | null = null
  let section: Part | null = null
  const { $from } = selection
  for (let depth = $from.depth; depth > 0; depth--) {
    const node = $from.node(depth)
    if (!cell && isCell(node.type.name)) cell = { node, at: $from.before(depth) }
    if (node.type.name === 'section') section = { node, at: $from.before(depth) }
  }
  const after = $from.nodeAfter
  if (!cell && after && isCell(after.type.name)) cell = { node: after, at: $from.pos }
  if (piece?.node.type.name === 'section') section = piece
  return { piece, cell, section }
}

/** The number on the page of the answer space at a place; 0 if there is none. */
export function numberAt(doc: Node, id: string | undefined): number {
  let number = 0
  let found = 0
  const count = (spaceId: string) => {
    number++
    if (spaceId === id) found = number
  }
  doc.descendants((node) => {
    const space = node.attrs['space'] as AnswerSpace | null | undefined
    if (space) count(node.type.name === 'answerSpace' ? (node.attrs['blockId'] as string) : space.id)
    if (node.type.name === 'backdrop') for (const one of node.attrs['spaces'] as PlacedSpace[]) count(one.space.id)
  })
  return found
}
