import * as Y from 'yjs'
import type { AnswerValue } from '../progress/answers.js'
import type { AnswerKind, AnswerSpace } from '../worksheet/content.js'

/** The kind of shared type an answer is kept in. */
export type RootShape = 'text' | 'map' | 'rich'

/** Where in its document the answer of a space is kept, and in which shape. */
export const ROOTS: Record<AnswerKind, { readonly name: string; readonly shape: RootShape }> = {
  line: { name: 'line', shape: 'text' },
  number: { name: 'number', shape: 'text' },
  choice: { name: 'choice', shape: 'map' },
  passage: { name: 'passage', shape: 'rich' },
}

/** The elements, marks and attributes that a passage may be made of; all else is refused by the inspection. */
export const PASSAGE_ELEMENTS = ['paragraph', 'bulletList', 'orderedList', 'listItem', 'hardBreak'] as const
export const PASSAGE_MARKS = ['bold', 'italic', 'underline'] as const

/** Opens the root type of a document that an answer of this kind is kept in. A document needs this once, when it is made. */
export function openRoot(doc: Y.Doc, kind: AnswerKind): Y.Text | Y.Map<unknown> | Y.XmlFragment {
  const { name, shape } = ROOTS[kind]
  return shape === 'text' ? doc.getText(name) : shape === 'map' ? doc.getMap(name) : doc.getXmlFragment(name)
}

/** A new document for an answer of this kind. */
export function newAnswerDoc(kind: AnswerKind): Y.Doc {
  const doc = new Y.Doc()
  openRoot(doc, kind)
  return doc
}

/** What stands in the document of an answer space. */
export function readAnswer(space: AnswerSpace, doc: Y.Doc): AnswerValue {
  const root = openRoot(doc, space.kind)
  if (root instanceof Y.Map) {
    const chosen =
      space.kind === 'choice' ? space.options.map(({ id }) => id).filter((id) => root.get(id) === true) : []
    return { chosen }
  }
  if (root instanceof Y.XmlFragment) return { text: richText(root) }
  return { text: root.toJSON() }
}

function richText(fragment: Y.XmlFragment): string {
  return fragment
    .toArray()
    .map((node) => {
      if (node instanceof Y.XmlText)
        return (node.toDelta() as { insert?: unknown }[])
          .map(({ insert }) => (typeof insert === 'string' ? insert : ''))
          .join('')
      if (node instanceof Y.XmlElement) return node.nodeName === 'hardBreak' ? '\n' : richText(node)
      return ''
    })
    .join(fragment instanceof Y.XmlElement && fragment.nodeName === 'paragraph' ? '' : '\n')
}
