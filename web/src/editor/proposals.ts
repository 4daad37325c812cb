import type { AnswerSpace, PlacedSpace } from '@gavrin/core'
import type { Editor } from '@tiptap/core'
import type { Node } from '@tiptap/pm/model'
import type { Transaction } from '@tiptap/pm/state'

function taken<S extends AnswerSpace>(space: S): S {
  const { proposed: _, ...rest } = space
  return rest as S
}

/** Takes the space that is proposed at this place. */
export function takeSpace(editor: Editor, at: number): void {
  editor.view.dispatch(takeAt(editor.state.tr, at))
}

function takeAt(tr: Transaction, at: number): Transaction {
  const node = tr.doc.nodeAt(at)!
  return tr.setNodeMarkup(at, undefined, { ...node.attrs, space: taken(node.attrs['space'] as AnswerSpace) })
}

/** Puts back what stood where a space is proposed. */
export function leaveSpace(editor: Editor, at: number): void {
  const { schema, tr } = editor.state
  const node = tr.doc.nodeAt(at)!
  const was = (node.attrs['space'] as AnswerSpace).proposed?.was ?? ''
  const paragraph = (line: string) => schema.nodes['paragraph']!.create(null, line ? schema.text(line) : null)
  if (node.isInline) tr.replaceWith(at, at + node.nodeSize, was ? schema.text(was) : [])
  else if (node.type.name !== 'answerSpace') {
    tr.setNodeMarkup(at, undefined, { ...node.attrs, space: null })
    if (was) tr.replaceWith(at + 1, at + node.nodeSize - 1, was.split('\n').map(paragraph))
  } else if (was || tr.doc.childCount === 1) tr.replaceWith(at, at + node.nodeSize, was.split('\n').map(paragraph))
  else tr.delete(at, at + node.nodeSize)
  editor.view.dispatch(tr.scrollIntoView())
}

/** Takes every proposed space of the page at once; undone at once too. */
export function takeAllSpaces(editor: Editor): void {
  const { tr } = editor.state
  eachProposed(tr.doc, (node, at) => {
    if (node.type.name === 'backdrop')
      tr.setNodeMarkup(at, undefined, {
        ...node.attrs,
        spaces: (node.attrs['spaces'] as PlacedSpace[]).map((one) => ({ ...one, space: taken(one.space) })),
      })
    else takeAt(tr, at)
  })
  editor.view.dispatch(tr)
}

function eachProposed(doc: Node, found: (node: Node, at: number) => void): void {
  doc.descendants((node, at) => {
    const space = node.attrs['space'] as AnswerSpace | null | undefined
    if (space?.proposed) found(node, at)
    if (node.type.name === 'backdrop' && (node.attrs['spaces'] as PlacedSpace[]).some((one) => one.space.proposed))
      found(node, at)
  })
}

/** How many spaces and points the page has, and how many spaces are only proposed. */
export function countSpaces(doc: Node): {
  readonly spaces: number
  readonly proposed: number
  readonly points: number
} {
  let spaces = 0
  let proposed = 0
  let points = 0
  const count = (space: AnswerSpace) => {
    spaces++
    if (space.proposed) proposed++
    points += space.points ?? 0
  }
  doc.descendants((node) => {
    const space = node.attrs['space'] as AnswerSpace | null | undefined
    if (space) count(space)
    if (node.type.name === 'backdrop') for (const one of node.attrs['spaces'] as PlacedSpace[]) count(one.space)
  })
  return { spaces, proposed, points }
}
