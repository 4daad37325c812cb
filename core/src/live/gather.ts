import * as Y from 'yjs'
import { newAnswerDoc, openRoot } from './space.js'

/** Answers to the same question, each with the names that are put over it. */
export interface NamedPassage {
  readonly names: string
  readonly doc: Y.Doc
}

/**
 * A passage in which others stand under each other as they are, each under the names of who wrote it, in bold.
 * @param passages documents of passages; they are left as they are
 */
export function gatherPassages(passages: readonly NamedPassage[]): Y.Doc {
  const doc = newAnswerDoc('passage')
  const root = openRoot(doc, 'passage') as Y.XmlFragment
  doc.transact(() => {
    for (const { names, doc: source } of passages) {
      const heading = new Y.XmlElement('paragraph')
      const text = new Y.XmlText()
      text.insert(0, names, { bold: {} })
      heading.insert(0, [text])
      const answer = (openRoot(source, 'passage') as Y.XmlFragment).toArray().map((node) => node.clone())
      root.insert(root.length, [heading, ...answer] as Y.XmlElement[])
    }
  })
  return doc
}
