import {
  type AnswerSpace,
  type Block,
  type RichNode,
  type TableCell,
  type WorksheetContent,
  isAnswerSpace,
} from './content.js'
import { drawnSpace } from './kinds/index.js'
import { gapsIn, plainBlocks, spacesOfBlock } from './walk.js'

/** What a gap or an empty place reads as in plain words. */
const GAP = '____'

/** The words of a rich node; blocks are parted by line breaks, a gap is an underline, a formula its source. */
export function plainText(node: RichNode): string {
  switch (node.type) {
    case 'text':
      return node.text ?? ''
    case 'hardBreak':
      return '\n'
    case 'gap':
      return GAP
    case 'formula':
      return typeof node.attrs?.['tex'] === 'string' ? node.attrs['tex'] : ''
  }
  const parts = (node.content ?? []).map(plainText)
  const holdsBlocks = node.content?.some(({ type }) => BLOCKS.has(type)) ?? false
  return parts.join(holdsBlocks ? '\n' : '')
}

const BLOCKS: ReadonlySet<string> = new Set(['paragraph', 'heading', 'bulletList', 'orderedList', 'listItem'])

export const cellText = (cell: TableCell): string => cell.rich.map(plainText).join('\n')

function printedIn(space: AnswerSpace): string {
  const drawn = drawnSpace(space)
  return drawn.is === 'options' ? drawn.options.map(({ text }) => text).join('\n') : ''
}

/** The print of a block in plain words; of an answer space nothing. */
export function blockWords(block: Block): string {
  switch (block.kind) {
    case 'text':
      return plainText(block.rich)
    case 'table':
      return block.rows.map((row) => row.map((cell) => (cell.space ? GAP : cellText(cell))).join('\t')).join('\n')
    case 'picture':
    case 'backdrop':
      return block.alt
    case 'link':
      return [block.title, block.note].filter(Boolean).join('\n')
    case 'section':
      return [block.title, ...block.blocks.map(blockWords)].filter(Boolean).join('\n')
    default:
      return isAnswerSpace(block) ? printedIn(block) : ''
  }
}

/** All print of a worksheet in plain words, to be searched. */
export function contentWords(content: WorksheetContent): string {
  return [...content.blocks.map(blockWords), content.source].filter(Boolean).join('\n')
}

const LABEL_LIMIT = 120
const shortened = (text: string) => (text.length > LABEL_LIMIT ? `${text.slice(0, LABEL_LIMIT - 1)}…` : text)
const inLine = (text: string) => text.replace(/\s+/g, ' ').trim()

/** The name of a column: A, B, … Z, AA, … */
export function columnName(index: number): string {
  let name = ''
  for (let left = index + 1; left > 0; left = Math.floor((left - 1) / 26))
    name = String.fromCharCode(65 + ((left - 1) % 26)) + name
  return name
}

/**
 * What each answer space is called where its print is not seen (for screen readers, in the answer grid): its number on
 * the page and its label, or else the print just before it; in a sentence the sentence; in a table row and column.
 */
export function spaceLabels(content: Pick<WorksheetContent, 'blocks'>): Map<string, string> {
  const labels = new Map<string, string>()
  for (const [id, words] of spaceQuestions(content)) {
    const text = shortened(words)
    const number = labels.size + 1
    labels.set(id, text ? `Answer ${number}: ${text}` : `Answer ${number}`)
  }
  return labels
}

/** What is asked at each answer space of a worksheet, in one line, in the order of the page: its label, or the words before it. */
export function spaceQuestions(content: Pick<WorksheetContent, 'blocks'>): Map<string, string> {
  const questions = new Map<string, string>()
  let before = ''
  const put = (id: string, words: string) => questions.set(id, inLine(words))
  for (const block of plainBlocks(content)) {
    if (block.kind === 'table') {
      const heads = block.rows[0]?.map((cell) => inLine(cellText(cell))) ?? []
      block.rows.forEach((row, down) => {
        const first = row[0] && !row[0].space ? inLine(cellText(row[0])) : ''
        row.forEach((cell, at) => {
          const place = [first || `row ${down + 1}`, (down > 0 && heads[at]) || `column ${columnName(at)}`].join(', ')
          if (cell.space) put(cell.space.id, cell.space.label || place)
          else for (const gap of cell.rich.flatMap(gapsIn)) put(gap.id, gap.label || cell.rich.map(plainText).join(' '))
        })
      })
      continue
    }
    for (const space of spacesOfBlock(block))
      put(space.id, space.label || (block.kind === 'text' ? plainText(block.rich) : before))
    if (!isAnswerSpace(block)) {
      const words = inLine(blockWords(block))
      if (words) before = words
    }
  }
  return questions
}

/** What an answer space is called: see {@link spaceLabels}; empty if the worksheet has no such space. */
export function spaceLabel(content: Pick<WorksheetContent, 'blocks'>, spaceId: string): string {
  return spaceLabels(content).get(spaceId) ?? ''
}

/** Points as they are printed: `1 point`, `2.5 points`. */
export const pointWords = (points: number): string => `${points} ${points === 1 ? 'point' : 'points'}`
