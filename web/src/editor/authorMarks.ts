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
  const byBlock = new Map<string, WorksheetWriter[]>()
  for (const author of authors)
    if (author.block) byBlock.set(author.block, [...(byBlock.get(author.block) ?? []), author])
  if (byBlock.size === 0) return DecorationSet.empty
  const found: Decoration[] = []
  const mark = (node: Node, from: number) => {
    const here = byBlock.get(node.attrs['blockId'] as string)
    if (!here) return
    found.push(Decoration.node(from, from + node.nodeSize, { 'data-author': here.map(({ name }) => name).join(', ') }))
    for (const { personId, name, at } of here) {
      // Their page may be a moment ahead of this one.
      if (at === null || at < 1 || at > node.nodeSize - 1) continue
      if (!doc.resolve(from + at).parent.inlineContent) continue
      found.push(Decoration.widget(from + at, () => caretOf(name), { key: `caret ${personId}`, side: -1 }))
    }
  }
  doc.forEach((node, offset) => {
    mark(node, offset)
    if (node.type.name === 'section') node.forEach((inner, innerOffset) => mark(inner, offset + 1 + innerOffset))
  })
  return DecorationSet.create(doc, found)
}

function caretOf(name: string): HTMLElement {
  const caret = document.createElement('span')
  caret.className = 'author-caret'
  caret.title = name
  caret.setAttribute('aria-hidden', 'true')
  return caret
}

/** Marks the blocks that other authors are in with their names, and where their carets are. */
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
          // What is typed here moves their places along; what they typed comes with places of its own.
          const decorations =
            told || tr.getMeta('shown') ? marksOf(tr.doc, authors) : before.decorations.map(tr.mapping, tr.doc)
          return { authors, decorations }
        },
      },
      props: { decorations: (state) => AUTHORS.getState(state)?.decorations },
    }),
  ],
})
