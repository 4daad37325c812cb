import { type TableBlock, formulaProblems } from '@gavrin/core'
import { Extension } from '@tiptap/core'
import type { Node } from '@tiptap/pm/model'
import { type EditorState, Plugin, PluginKey } from '@tiptap/pm/state'
import { Decoration, DecorationSet } from '@tiptap/pm/view'
import { fromEditor } from './document'

interface Marks {
  readonly set: DecorationSet
  /** The sentence, by where the cell stands. */
  readonly at: ReadonlyMap<number, string>
}

const key = new PluginKey<Marks>('formulaMarks')

/** Why the formula of a cell cannot be worked out; null if nothing is wrong with it. */
export const formulaProblemAt = (state: EditorState, cell: number): string | null =>
  key.getState(state)?.at.get(cell) ?? null

/** Marks formulas that cannot be worked out at their cells, with the sentence why. */
export const FormulaMarks = Extension.create({
  name: 'formulaMarks',
  addProseMirrorPlugins: () => [
    new Plugin({
      key,
      state: {
        init: (_, { doc }) => marksOf(doc),
        apply: (tr, before) => (tr.docChanged ? marksOf(tr.doc) : before),
      },
      props: { decorations: (state) => key.getState(state)?.set },
    }),
  ],
})

function marksOf(doc: Node): Marks {
  const at = new Map<number, string>()
  const marks: Decoration[] = []
  doc.descendants((table, from) => {
    if (table.type.name !== 'table') return table.type.name === 'section'
    if (!hasFormula(table)) return false
    const cells = cellsOf(table, from)
    const { blocks } = fromEditor({ type: 'doc', content: [table.toJSON() as object] }, { page: 'A4', source: '' })
    for (const { down, at: place, sentence } of formulaProblems(blocks[0] as TableBlock)) {
      const cell = cells[down]?.[place]
      if (!cell) continue
      at.set(cell.from, sentence)
      marks.push(Decoration.node(cell.from, cell.to, { class: 'cell-wrong', 'data-problem': sentence }))
    }
    return false
  })
  return { set: DecorationSet.create(doc, marks), at }
}

function hasFormula(table: Node): boolean {
  let found = false
  table.descendants((node) => {
    if (typeof node.attrs['formula'] === 'string') found = true
    return !found && node.type.name === 'tableRow'
  })
  return found
}

/** Where the cells of a table stand, row by row. */
function cellsOf(table: Node, from: number): { from: number; to: number }[][] {
  const rows: { from: number; to: number }[][] = []
  table.forEach((row, rowAt) => {
    const cells: { from: number; to: number }[] = []
    row.forEach((cell, cellAt) => {
      const at = from + 1 + rowAt + 1 + cellAt
      cells.push({ from: at, to: at + cell.nodeSize })
    })
    rows.push(cells)
  })
  return rows
}
