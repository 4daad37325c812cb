import { type Block, EMPTY_CONTENT, type RichNode } from '../worksheet/content.js'
import { DOCUMENT_LIMITS } from './broughtIn.js'
import type { MarkupRead } from './markup.js'

/** A piece of text on a page, in points from the upper left corner; `y` is its baseline. */
export interface PageText {
  readonly text: string
  readonly x: number
  readonly y: number
  readonly width: number
  /** Of the letters. */
  readonly size: number
  readonly bold: boolean
}

interface Line {
  readonly text: string
  readonly x: number
  readonly y: number
  readonly size: number
  readonly bold: boolean
  readonly end: number
}

const ITEM = /^(?:([•◦▪–‣·-])|(\d{1,2}|[a-z])[.)])\s+/u

/**
 * Reads the text of pages into a worksheet: pieces on one baseline are a line, lines that follow each other closely a
 * paragraph; what is larger than most of the text is a heading.
 * @param pages the text of each page, in any order on the page
 */
export function readPageTexts(pages: readonly (readonly PageText[])[], newId: () => string): MarkupRead {
  const lines = pages.map(linesOf)
  const sizes = lines.flatMap((page) => page.flatMap(({ text, size }) => Array<number>(text.length).fill(size)))
  const usual = sizes.sort((one, other) => one - other)[Math.floor(sizes.length / 2)] ?? 12
  const blocks: Block[] = []
  const add = (rich: RichNode) => void blocks.push({ id: newId(), kind: 'text', rich })
  lines.forEach((page, number) => {
    if (number > 0 && page.length > 0 && blocks.length > 0) blocks.push({ id: newId(), kind: 'page break' })
    for (const paragraph of paragraphsOf(page)) {
      const [first] = paragraph
      const text = joined(paragraph)
      const words: RichNode = { type: 'text', text, ...(first!.bold && { marks: [{ type: 'bold' }] }) }
      const isLarge = first!.size > usual * 1.15
      if (text.length < 120 && (isLarge || (first!.bold && paragraph.length === 1 && text.length < 70)))
        add({
          type: 'heading',
          attrs: { level: first!.size > usual * 1.5 ? 1 : isLarge ? 2 : 3 },
          content: [{ type: 'text', text }],
        })
      else add({ type: 'paragraph', content: [words] })
    }
  })
  const heading = blocks.find((block) => block.kind === 'text' && block.rich.type === 'heading')
  return {
    title: heading?.kind === 'text' ? (heading.rich.content![0]!.text ?? '') : '',
    content: { ...EMPTY_CONTENT, blocks: blocks.slice(0, DOCUMENT_LIMITS.blocks) },
    notes: [
      'Of a PDF its text is taken; pictures, lines and frames are not. To keep the page as it looks, bring it in as a backdrop.',
      ...(blocks.length > DOCUMENT_LIMITS.blocks
        ? [`Only the first ${DOCUMENT_LIMITS.blocks} blocks were taken.`]
        : []),
    ],
  }
}

function linesOf(pieces: readonly PageText[]): Line[] {
  const rows: PageText[][] = []
  for (const piece of [...pieces]
    .filter(({ text }) => text !== '')
    .sort((one, other) => one.y - other.y || one.x - other.x)) {
    const row = rows.at(-1)
    if (row && Math.abs(row[0]!.y - piece.y) < 0.5 * Math.max(piece.size, row[0]!.size) && piece.text.trim())
      row.push(piece)
    else if (piece.text.trim()) rows.push([piece])
  }
  return rows.map((row) => {
    row.sort((one, other) => one.x - other.x)
    let text = ''
    let end = row[0]!.x
    for (const piece of row) {
      const gap = piece.x - end
      if (text && gap > 0.15 * piece.size && !text.endsWith(' ') && !piece.text.startsWith(' '))
        text += gap > 2.5 * piece.size ? '   ' : ' '
      text += piece.text
      end = Math.max(end, piece.x + piece.width)
    }
    const letters = (bold: boolean) =>
      row.filter((piece) => piece.bold === bold).reduce((sum, piece) => sum + piece.text.trim().length, 0)
    const { x, y } = row[0]!
    return {
      text: text.replace(/\s+$/, '').replace(/^\s+/, ''),
      x,
      y,
      size: Math.max(...row.map(({ size }) => size)),
      bold: letters(true) > letters(false),
      end,
    }
  })
}

function paragraphsOf(lines: readonly Line[]): Line[][] {
  const right = Math.max(...lines.map(({ end }) => end), 0)
  const usual = usualGap(lines)
  const paragraphs: Line[][] = []
  for (const line of lines) {
    const last = paragraphs.at(-1)
    const before = last?.at(-1)
    const goesOn =
      before &&
      line.y - before.y < Math.max(1.45 * Math.max(line.size, before.size), 1.15 * usual) &&
      Math.abs(line.size - before.size) < 0.1 * before.size &&
      line.bold === before.bold &&
      !ITEM.test(line.text) &&
      !/^[_.…\s-]{4,}$/u.test(line.text) &&
      !/^[_.…\s-]{4,}$/u.test(before.text) &&
      // A line that ends well before the others ended its paragraph.
      before.end > right - 0.18 * right
    if (goesOn) last!.push(line)
    else paragraphs.push([line])
  }
  return paragraphs
}

/** How far lines of one size stand apart on this page: the middle of all such distances that can be within a paragraph. */
function usualGap(lines: readonly Line[]): number {
  const gaps = lines
    .flatMap((line, at) => {
      const before = lines[at - 1]
      return before && Math.abs(line.size - before.size) < 0.1 * before.size ? [(line.y - before.y) / line.size] : []
    })
    .filter((gap) => gap > 0.9 && gap < 2.2)
    .sort((one, other) => one - other)
  const sizes = lines.map(({ size }) => size).sort((one, other) => one - other)
  return (gaps[gaps.length >> 1] ?? 0) * (sizes[sizes.length >> 1] ?? 0)
}

/** The lines of a paragraph as one text; a word parted at the end of a line is put together. */
function joined(lines: readonly Line[]): string {
  return lines.reduce((text, { text: line }) => {
    if (!text) return line
    return /\p{L}-$/u.test(text) && /^\p{Ll}/u.test(line) ? text.slice(0, -1) + line : `${text} ${line}`
  }, '')
}
