import type { CellSpace } from '@gavrin/core'
import { Extension, Node, mergeAttributes } from '@tiptap/core'
import { TextSelection } from '@tiptap/pm/state'
import {
  addColumnAfter,
  addRowAfter,
  deleteColumn,
  deleteRow,
  deleteTable,
  goToNextCell,
  mergeCells,
  splitCell,
  tableEditing,
  toggleHeaderRow,
} from '@tiptap/pm/tables'
import { blockId } from './attributes'
import { newId } from './document'
import { ownStep } from './ownStep'
import { spaceWords } from './spaceWords'

declare module '@tiptap/core' {
  interface Commands<ReturnType> {
    tables: {
      /** Puts a table with a row of heads after the block the caret is in. */
      putTable: () => ReturnType
      changeTable: (how: TableChange) => ReturnType
      /** Makes the cells that are selected places to answer, or print again. */
      setCells: (space: ((id: string) => CellSpace) | null) => ReturnType
    }
  }
}

const CHANGES = {
  'row after': addRowAfter,
  'column after': addColumnAfter,
  'no row': deleteRow,
  'no column': deleteColumn,
  'no table': deleteTable,
  'one cell': mergeCells,
  'many cells': splitCell,
  'row of heads': toggleHeaderRow,
} as const
export type TableChange = keyof typeof CHANGES

/** What prosemirror-tables calls the parts of a table. */
const ROLES: Readonly<Record<string, string>> = {
  table: 'table',
  tableRow: 'row',
  tableCell: 'cell',
  tableHeader: 'header_cell',
}

const spanAttribute = (name: 'colspan' | 'rowspan') => ({
  default: 1,
  parseHTML: (element: HTMLElement) => Math.min(100, Math.max(1, Number(element.getAttribute(name)) || 1)),
})

const cellAttributes = () => ({
  colspan: spanAttribute('colspan'),
  rowspan: spanAttribute('rowspan'),
  colwidth: { default: null, rendered: false },
  space: {
    default: null,
    parseHTML: (element: HTMLElement) => {
      try {
        return JSON.parse(element.getAttribute('data-cell') ?? 'null') as CellSpace | null
      } catch {
        return null
      }
    },
    renderHTML: ({ space }: Record<string, unknown>) =>
      space
        ? {
            'data-cell': JSON.stringify(space),
            'data-words': spaceWords(space as CellSpace),
            class: (space as CellSpace).proposed ? 'cell-answer proposed' : 'cell-answer',
          }
        : {},
  },
  formula: {
    default: null,
    parseHTML: (element: HTMLElement) => element.getAttribute('data-formula'),
    renderHTML: ({ formula }: Record<string, unknown>) =>
      typeof formula === 'string' && formula
        ? { 'data-formula': formula, 'data-words': `= ${formula}`, class: 'cell-formula' }
        : {},
  },
})

const Table = Node.create({
  name: 'table',
  group: 'block',
  content: 'tableRow+',
  isolating: true,
  addAttributes: () => ({
    blockId,
  }),
  parseHTML: () => [{ tag: 'table' }],
  renderHTML: ({ HTMLAttributes }) => [
    'table',
    mergeAttributes(HTMLAttributes, { class: 'sheet-table' }),
    ['tbody', 0],
  ],
  // Asked for every node of the editor.
  extendNodeSchema: ({ name }) => (ROLES[name] ? { tableRole: ROLES[name] } : {}),
})
const TableRow = Node.create({
  name: 'tableRow',
  content: '(tableCell | tableHeader)*',
  parseHTML: () => [{ tag: 'tr' }],
  renderHTML: () => ['tr', 0],
})
const cellNode = (name: 'tableCell' | 'tableHeader', tag: 'td' | 'th') =>
  Node.create({
    name,
    content: '(paragraph | bulletList | orderedList)+',
    isolating: true,
    addAttributes: cellAttributes,
    parseHTML: () => [{ tag }],
    renderHTML: ({ HTMLAttributes }) => [tag, mergeAttributes(HTMLAttributes), 0],
  })

/** The commands and keys of tables. */
const TableKeys = Extension.create({
  name: 'tables',
  addCommands() {
    return {
      putTable:
        () =>
        ({ state, tr, dispatch }) => {
          const { schema, selection } = state
          const cell = (type: string) => schema.nodes[type]!.createAndFill()!
          const row = (type: string) =>
            schema.nodes['tableRow']!.create(
              null,
              [0, 1, 2].map(() => cell(type)),
            )
          const table = schema.nodes['table']!.create({ blockId: newId() }, [
            row('tableHeader'),
            row('tableCell'),
            row('tableCell'),
          ])
          const { $to } = selection
          const end = $to.depth > 0 ? $to.after(1) : selection.to
          if (dispatch) {
            ownStep(tr).insert(end, table)
            tr.setSelection(TextSelection.near(tr.doc.resolve(end + 3))).scrollIntoView()
          }
          return true
        },
      changeTable:
        (how) =>
        ({ state, dispatch }) =>
          CHANGES[how](state, dispatch),
      setCells:
        (space) =>
        ({ state, tr, dispatch }) => {
          const places: number[] = []
          const { selection } = state
          // A selection of cells has a range for each of them.
          for (const { $from } of selection.ranges)
            for (let depth = $from.depth; depth >= 0; depth--) {
              const after = depth === $from.depth ? $from.nodeAfter : null
              if (after && isCell(after.type.name)) {
                places.push($from.pos)
                break
              }
              if (isCell($from.node(depth).type.name)) {
                places.push($from.before(depth))
                break
              }
            }
          if (places.length === 0) return false
          if (dispatch)
            for (const at of places) {
              const node = tr.doc.nodeAt(at)!
              const known = node.attrs['space'] as CellSpace | null
              tr.setNodeMarkup(at, undefined, {
                ...node.attrs,
                space: space ? space(known?.id ?? newId()) : null,
                formula: null,
              })
            }
          return true
        },
    }
  },
  addKeyboardShortcuts() {
    return {
      Tab: () => goToNextCell(1)(this.editor.state, this.editor.view.dispatch),
      'Shift-Tab': () => goToNextCell(-1)(this.editor.state, this.editor.view.dispatch),
    }
  },
  addProseMirrorPlugins: () => [tableEditing()],
})

export const isCell = (type: string): boolean => type === 'tableCell' || type === 'tableHeader'

/** Tables: rows of cells, each print, a place to answer, or a formula. */
export const TABLES = [Table, TableRow, cellNode('tableCell', 'td'), cellNode('tableHeader', 'th'), TableKeys]
