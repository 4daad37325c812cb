import {
  type Block,
  type CellSpace,
  type GapSpace,
  type LineSpace,
  type PassageSpace,
  type PlainBlock,
  type RichNode,
  type TableBlock,
  type TextBlock,
  type WorksheetContent,
} from './content.js'
import { SPACE_LIMITS } from './kinds/basics.js'
import { cellText, plainText } from './words.js'
import { answerSpaces } from './walk.js'

/** Underlines, dotted leaders, lines of dashes: a blank to write on. */
const BLANK = /(?:_[ \u00A0]?){3,}|(?:\.[ \u00A0]?){5,}|…{2,}|(?:-[ \u00A0]?){6,}|[‗＿]{2,}/gu
/** Blanks and spaces alone. Taken out one by one: a pattern for the whole would be tried in every way a blank can be parted. */
const isOnlyBlank = (text: string) => text !== '' && !text.replace(BLANK, '').trim()
/** A short line that ends with a colon asks for something: `Name:`, `Date:`. */
const ASKS = /^.{1,60}[:：]\s*$/u
/** What stood in the place of a space, as much as is kept of it. */
const asProposed = (blank: string) => blank.slice(0, SPACE_LIMITS.proposal)
/** Letters that a gap drawn with so many signs stands for. */
const gapWidth = (blank: string) => Math.min(60, Math.max(3, Math.round(blank.replace(/\s/g, '').length * 1.1)))

/**
 * Finds the blanks of a worksheet and puts an answer space in the place of each, marked as proposed.
 *
 * - underlines, dotted leaders and rows of dashes inside a sentence: a gap
 * - a paragraph that is nothing but blanks: a line; several under each other: one passage
 * - paragraphs that are nothing but blanks at the end of a list's item: lines under it, and the list goes on after them
 * - a short paragraph that ends with a colon and has no blank after it: a line under it
 * - an empty cell in a table that has print in its first row or column: a cell to write in, numeric if its column or row
 *   has numbers or a unit in its head
 *
 * What is a space already stays as it is.
 * @param newId gives an id that no other block has, at each call
 */
export function proposeSpaces(content: WorksheetContent, newId: () => string): WorksheetContent {
  return {
    ...content,
    blocks: mergeLines(
      content.blocks.flatMap((block, at): Block[] =>
        block.kind === 'section'
          ? [
              {
                ...block,
                blocks: block.blocks.flatMap((inner, place) => inBlock(inner, block.blocks[place + 1], newId)),
              },
            ]
          : inBlock(block, content.blocks[at + 1], newId),
      ),
    ),
  }
}

function inBlock(block: PlainBlock, next: Block | undefined, newId: () => string): PlainBlock[] {
  if (block.kind === 'table') return [inTable(block, newId)]
  if (block.kind !== 'text') return [block]
  const text = plainText(block.rich)
  if (block.rich.type === 'paragraph' && text.trim() && isOnlyBlank(text)) return [lineFor(text, newId)]
  if (isList(block)) {
    const parts = underItems(block, newId)
    if (parts.length > 1) return parts
  }
  const rich = withGaps(block.rich, newId)
  if (rich !== block.rich) return [{ ...block, rich }]
  const nextIsPlace = next !== undefined && (next.kind !== 'text' || isOnlyBlank(plainText(next.rich)) || isList(next))
  if (block.rich.type === 'paragraph' && ASKS.test(text.trim()) && !nextIsPlace) {
    const line: LineSpace = { id: newId(), kind: 'line', width: 'full', proposed: { was: '' } }
    return [block, line]
  }
  return [block]
}

const isList = (block: Block): block is TextBlock => block.kind === 'text' && block.rich.type.endsWith('List')

/** A list whose items end with lines that are nothing but blanks: those stand under their items, and the list goes on after them. */
function underItems(block: TextBlock, newId: () => string): PlainBlock[] {
  const { type, attrs, content = [] } = block.rich
  const blocks: PlainBlock[] = []
  let items: RichNode[] = []
  let next = Number(attrs?.['start'] ?? 1)
  const put = () => {
    if (items.length === 0) return
    const rich: RichNode = { type, ...(type === 'orderedList' && { attrs: { start: next } }), content: items }
    blocks.push({ id: blocks.length === 0 ? block.id : newId(), kind: 'text', rich: withGaps(rich, newId) })
    next += items.length
    items = []
  }
  for (const item of content) {
    const parts = [...(item.content ?? [])]
    const lines: PlainBlock[] = []
    while (parts.length > 1 && parts.at(-1)!.type === 'paragraph' && isOnlyBlank(plainText(parts.at(-1)!)))
      lines.unshift(lineFor(plainText(parts.pop()!), newId))
    items.push(lines.length > 0 ? { ...item, content: parts } : item)
    if (lines.length === 0) continue
    put()
    blocks.push(...lines)
  }
  put()
  return blocks
}

const lineFor = (blank: string, newId: () => string): LineSpace => ({
  id: newId(),
  kind: 'line',
  width: blank.replace(/\s/g, '').length < 25 ? 'short' : 'full',
  proposed: { was: asProposed(blank) },
})

/** Rich text with its blanks replaced by gaps; the same node if there is none. */
function withGaps(node: RichNode, newId: () => string): RichNode {
  if (!node.content) return node
  let isChanged = false
  const content = node.content.flatMap((child): RichNode[] => {
    if (child.type !== 'text') {
      const inner = withGaps(child, newId)
      if (inner !== child) isChanged = true
      return [inner]
    }
    const text = child.text!
    const parts: RichNode[] = []
    let from = 0
    for (const found of text.matchAll(BLANK)) {
      const blank = found[0].trimEnd()
      if (found.index > from) parts.push({ ...child, text: text.slice(from, found.index) })
      const space: GapSpace = { id: newId(), kind: 'gap', width: gapWidth(blank), proposed: { was: asProposed(blank) } }
      parts.push({ type: 'gap', attrs: { space } })
      from = found.index + blank.length
    }
    if (parts.length === 0) return [child]
    isChanged = true
    if (from < text.length) parts.push({ ...child, text: text.slice(from) })
    return parts
  })
  return isChanged ? { ...node, content } : node
}

function inTable(table: TableBlock, newId: () => string): TableBlock {
  const isEmpty = (row: number, at: number) => {
    const cell = table.rows[row]?.[at]
    return !!cell && !cell.space && cell.formula === null && (!cellText(cell).trim() || isOnlyBlank(cellText(cell)))
  }
  const filledTop = table.rows[0]?.some((_, at) => !isEmpty(0, at)) ?? false
  const filledSide = table.rows.some((_, row) => !isEmpty(row, 0))
  if (!filledTop && !filledSide) return table
  const numbers = (texts: readonly string[]) => texts.some((text) => /^[−-]?\d+([.,]\d+)?$/.test(text.trim()))
  const asksNumber = (head: string) =>
    /[[(]\s*[^\s\])]{1,6}\s*[\])]/u.test(head) || / in (?:[kcm]?m|kg|g|s|min|h|°C|l|ml|N|%)$/u.test(head.trim())
  return {
    ...table,
    rows: table.rows.map((row, down) =>
      row.map((cell, at) => {
        if (!isEmpty(down, at) || cell.head) {
          const rich = cell.rich.map((node) => withGaps(node, newId))
          return rich.every((node, index) => node === cell.rich[index]) ? cell : { ...cell, rich }
        }
        // The corner above the first column and beside the first row is no place to write.
        if (down === 0 && at === 0) return cell
        const column = table.rows.map((other) => (other[at] ? cellText(other[at]) : ''))
        const numeric = numbers(column.slice(1)) || asksNumber(column[0] ?? '') || asksNumber(cellText(row[0]!))
        const space: CellSpace = { id: newId(), kind: 'cell', numeric, proposed: { was: asProposed(cellText(cell)) } }
        return { ...cell, rich: [], space }
      }),
    ),
  }
}

/** Proposed lines that follow each other are one passage. */
function mergeLines(blocks: readonly Block[]): Block[] {
  const merged: Block[] = []
  for (const block of blocks) {
    const last = merged.at(-1)
    const isLine = block.kind === 'line' && block.proposed?.was
    if (isLine && last?.kind === 'line' && last.proposed?.was && block.width === 'full')
      merged[merged.length - 1] = passage(last.id, 2, `${last.proposed.was}\n${block.proposed.was}`)
    else if (isLine && last?.kind === 'passage' && last.proposed && last.lines < 40 && block.width === 'full')
      merged[merged.length - 1] = passage(last.id, last.lines + 1, `${last.proposed.was}\n${block.proposed.was}`)
    else merged.push(block)
  }
  return merged
}

const passage = (id: string, lines: number, was: string): PassageSpace => ({
  id,
  kind: 'passage',
  lines,
  proposed: { was: asProposed(was) },
})

/** How many answer spaces of a worksheet are only proposed. */
export const proposedCount = (content: Pick<WorksheetContent, 'blocks'>): number =>
  answerSpaces(content).filter(({ proposed }) => proposed).length
