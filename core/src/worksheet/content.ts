/** A node of rich text, in the JSON form of ProseMirror, limited to what {@link checkContent} lets through. */
export interface RichNode {
  readonly type: string
  readonly attrs?: Readonly<Record<string, unknown>>
  readonly content?: readonly RichNode[]
  readonly marks?: readonly { readonly type: string }[]
  readonly text?: string
}

/** Print: one paragraph, heading or list. Nobody but the author can change it. */
export interface TextBlock {
  readonly id: string
  readonly kind: 'text'
  readonly rich: RichNode
}

interface Space {
  /** Stable through all editions: answers are kept under it. */
  readonly id: string
}

/** A place for a few words on one line. */
export interface LineSpace extends Space {
  readonly kind: 'line'
  readonly width: 'short' | 'full'
}

/** A place for sentences, with simple rich text. */
export interface PassageSpace extends Space {
  readonly kind: 'passage'
  /** How many lines tall the empty place is drawn, 2 to 40. */
  readonly lines: number
}

export interface ChoiceOption {
  readonly id: string
  readonly text: string
}

/** One or several of the options are chosen. */
export interface ChoiceSpace extends Space {
  readonly kind: 'choice'
  readonly many: boolean
  readonly options: readonly ChoiceOption[]
}

/** A place for a number, with the unit printed after it. */
export interface NumberSpace extends Space {
  readonly kind: 'number'
  readonly unit: string
}

export type AnswerSpace = LineSpace | PassageSpace | ChoiceSpace | NumberSpace
export type AnswerKind = AnswerSpace['kind']
export type Block = TextBlock | AnswerSpace

/** What a worksheet edition holds: its blocks in the order of the page. */
export interface WorksheetContent {
  /** Of this format, so that older editions can be read for ever. */
  readonly version: 1
  readonly blocks: readonly Block[]
}

export const ANSWER_KINDS = ['line', 'passage', 'choice', 'number'] as const satisfies readonly AnswerKind[]

export const EMPTY_CONTENT: WorksheetContent = { version: 1, blocks: [] }

export function isAnswerSpace(block: Block): block is AnswerSpace {
  return block.kind !== 'text'
}

/** The answer spaces of a worksheet in the order of the page. */
export function answerSpaces(content: WorksheetContent): AnswerSpace[] {
  return content.blocks.filter(isAnswerSpace)
}

/** The words of a rich node; blocks are parted by line breaks. */
export function plainText(node: RichNode): string {
  if (node.type === 'text') return node.text ?? ''
  if (node.type === 'hardBreak') return '\n'
  const parts = (node.content ?? []).map(plainText)
  return parts.join(node.content?.some((child) => child.type !== 'text' && child.type !== 'hardBreak') ? '\n' : '')
}

/**
 * What an answer space is called where its print is not seen (for screen readers, in the answer grid): its number on the
 * page and the print just before it.
 */
export function spaceLabel(content: WorksheetContent, spaceId: string): string {
  let before = ''
  let number = 0
  for (const block of content.blocks) {
    if (isAnswerSpace(block)) {
      number++
      if (block.id === spaceId) return before ? `Answer ${number}: ${before}` : `Answer ${number}`
    } else {
      const text = plainText(block.rich).replace(/\s+/g, ' ').trim()
      if (text) before = text.length > 120 ? `${text.slice(0, 119)}…` : text
    }
  }
  return ''
}
