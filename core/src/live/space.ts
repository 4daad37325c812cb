import * as Y from 'yjs'
import type { AnswerKind, AnswerSpace } from '../worksheet/content.js'
import { KINDS, drawnSpace } from '../worksheet/kinds/index.js'
import type { KeptAs, Options } from '../worksheet/kinds/kind.js'
import type { AnswerValue } from '../worksheet/kinds/value.js'

/** Where in its document the answer of a space is kept, under the name of its kind, and in which shape. */
export const rootOf = (kind: AnswerKind): { readonly name: string; readonly shape: KeptAs } => ({
  name: kind,
  shape: KINDS[kind].kept,
})

/**
 * A stroke of a drawing: the width of the pen (1 to 9), then its points in thousandths of the drawing's width, both
 * across and down: `3 120,45 122,47`. The key it is kept under is an id of its own.
 */
export const STROKE = /^[1-9](?: \d{1,4},\d{1,4}){1,600}$/
export const STROKE_LIMIT = 6_100
/** Bytes of one file that is handed in, at most. */
export const HANDED_IN_BYTES = 15_000_000
/** The name a file was handed in under; the key it is kept under is the id of the file. */
export const FILE_NAME_LIMIT = 200

/** Letters of a paragraph of a passage, and of all of it, in UTF-16 units: up to these every key is quick. */
export const PASSAGE_LIMITS = { paragraph: 10_000, passage: 100_000 } as const
/** Letters of an answer of one line, in UTF-16 units. */
export const LINE_LIMIT = 1_000

/** The elements, marks and attributes that a passage may be made of; all else is refused by the inspection. */
export const PASSAGE_ELEMENTS = ['paragraph', 'bulletList', 'orderedList', 'listItem', 'hardBreak'] as const
export const PASSAGE_MARKS = ['bold', 'italic', 'underline'] as const

/** Opens the root type of a document that an answer of this kind is kept in. A document needs this once, when it is made. */
export function openRoot(doc: Y.Doc, kind: AnswerKind): Y.Text | Y.Map<unknown> | Y.XmlFragment {
  const { name, shape } = rootOf(kind)
  return shape === 'text' ? doc.getText(name) : shape === 'rich' ? doc.getXmlFragment(name) : doc.getMap(name)
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
    const shape = KINDS[space.kind].kept
    if (shape !== 'options') return keptIn(root, shape)
    const drawn = drawnSpace(space)
    return { chosen: drawn.is === 'options' ? chosenIn(root, drawn) : [] }
  }
  if (root instanceof Y.XmlFragment) return { text: richText(root) }
  return { text: root.toJSON() }
}

/**
 * Under which key the one option of a choice of one is kept; empty: none. No option has it for an id. One value, so that of two
 * who choose at once the last one stands for both.
 */
export const ONE_CHOICE = ':one'

/** Chooses the one option of a choice of one, or none. */
export function chooseOne(doc: Y.Doc, optionId: string | null): void {
  const root = openRoot(doc, 'choice') as Y.Map<unknown>
  if (root.get(ONE_CHOICE) !== (optionId ?? '')) root.set(ONE_CHOICE, optionId ?? '')
}

function chosenIn(root: Y.Map<unknown>, { many, options }: Options): string[] {
  const one = root.get(ONE_CHOICE)
  const ids = options.map(({ id }) => id)
  // Made a choice of several by a later edition, what was chosen then counts until it is ticked or not.
  if (many) return ids.filter((id) => root.get(id) === true || (root.get(id) === undefined && id === one))
  if (typeof one === 'string') return ids.filter((id) => id === one)
  // Chosen before there was one value.
  return ids.filter((id) => root.get(id) === true).slice(0, 1)
}

function keptIn(root: Y.Map<unknown>, shape: KeptAs): AnswerValue {
  // Keys have no order that all copies of the document share: theirs is alphabetical.
  const kept = [...root.entries()].filter((entry): entry is [string, string] => typeof entry[1] === 'string').sort()
  return shape === 'strokes'
    ? { strokes: kept.map(([, stroke]) => stroke) }
    : { files: kept.map(([id, name]) => ({ id, name })) }
}

/** The letters of a passage, or of a part of it, with a line end wherever a line begins. */
export function richText(fragment: Y.XmlFragment): string {
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
