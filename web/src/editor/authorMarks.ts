import type { WorksheetWriter } from '@gavrin/core'
import { Extension } from '@tiptap/core'
import type { Node } from '@tiptap/pm/model'
import { Plugin, PluginKey } from '@tiptap/pm/state'
import { Decoration, DecorationSet } from '@tiptap/pm/view'

interface Marks {
  readonly authors: readonly WorksheetWriter[]
  readonly decorations: DecorationSet
}

/** Tells the page which other authors there are. */
export const AUTHORS = new PluginKey<Marks>('authors')

function marksOf(doc: Node, authors: readonly WorksheetWriter[]): DecorationSet {
  const names = new Map(authors.flatMap(({ block, name }) => (block ? [[block, name] as const] : [])))
  if (names.size === 0) return DecorationSet.empty
  const found: Decoration[] = []
  const mark = (node: Node, at: number) => {
    const name = names.get(node.attrs['blockId'] as string)
    if (name) found.push(Decoration.node(at, at + node.nodeSize, { 'data-author': name }))
  }
  doc.forEach((node, offset) => {
    mark(node, offset)
    if (node.type.name === 'section') node.forEach((inner, innerOffset) => mark(inner, offset + 1 + innerOffset))
  })
  return DecorationSet.create(doc, found)
}

/** Marks the blocks that other authors are in with their names. */
export const AuthorMarks = Extension.create({
  name: 'authorMarks',
  addProseMirrorPlugins: () => [
    new Plugin<Marks>({
      key: AUTHORS,
      state: {
        init: () => ({ authors: [], decorations: DecorationSet.empty }),
        apply: (tr, before) => {
          const told = tr.getMeta(AUTHORS) as readonly WorksheetWriter[] | undefined
          const authors = told ?? before.authors
          if (!told && !tr.docChanged) return before
          return { authors, decorations: marksOf(tr.doc, authors) }
        },
      },
      props: { decorations: (state) => AUTHORS.getState(state)?.decorations },
    }),
  ],
})
