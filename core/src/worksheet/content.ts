import { type AnswerSpace, type StandingSpace, STANDING_KINDS } from './kinds/index.js'
import type { CellSpace } from './kinds/cell.js'

export {
  ANSWER_KINDS,
  STANDING_KINDS,
  type AnswerKind,
  type AnswerSpace,
  type SpaceOf,
  type StandingSpace,
} from './kinds/index.js'
export type { Proposal, SpaceBasics } from './kinds/basics.js'
export type { ChoiceOption } from './kinds/kind.js'
export type { CellSpace } from './kinds/cell.js'
export type { ChoiceSpace } from './kinds/choice.js'
export type { DrawingSpace } from './kinds/drawing.js'
export type { FileSpace } from './kinds/file.js'
export type { GapSpace } from './kinds/gap.js'
export type { LineSpace } from './kinds/line.js'
export type { NumberSpace } from './kinds/number.js'
export type { PassageSpace } from './kinds/passage.js'
export type { NumberKey } from './kinds/numberKey.js'
export type { Leniency, WordKey } from './kinds/wordKey.js'

/** A mark on text: bold, a colour, a link. */
export interface Mark {
  readonly type: string
  readonly attrs?: Readonly<Record<string, unknown>>
}

/** A node of rich text, in the JSON form of ProseMirror, limited to what `checkContent` lets through. */
export interface RichNode {
  readonly type: string
  readonly attrs?: Readonly<Record<string, unknown>>
  readonly content?: readonly RichNode[]
  readonly marks?: readonly Mark[]
  readonly text?: string
}

/** The marks that print can have. */
export const PRINT_MARKS = ['bold', 'italic', 'underline', 'sub', 'sup', 'colour', 'link'] as const
/** The colours of print; answers have a colour of their own. */
export const PRINT_COLOURS = ['kelp', 'brass', 'signal', 'tide', 'soft'] as const
export type PrintColour = (typeof PRINT_COLOURS)[number]

/** Print: one paragraph, heading or list; it may hold formulas and gaps. Nobody but the author can change it. */
export interface TextBlock {
  readonly id: string
  readonly kind: 'text'
  readonly rich: RichNode
}

/** A part of a picture, in fractions of its width and height, before it is turned. */
export interface Crop {
  readonly x: number
  readonly y: number
  readonly width: number
  readonly height: number
}

/** Print: a picture. */
export interface PictureBlock {
  readonly id: string
  readonly kind: 'picture'
  /** The id of the medium. */
  readonly media: string
  /** For those who do not see it; empty: it only decorates. */
  readonly alt: string
  /** Of the medium, in pixels. */
  readonly pixelWidth: number
  readonly pixelHeight: number
  /** Percent of the width of the page, 5 to 100. */
  readonly width: number
  /** Degrees clockwise. */
  readonly turn: 0 | 90 | 180 | 270
  readonly crop: Crop | null
  readonly place: 'start' | 'middle' | 'end'
}

export interface PageBreakBlock {
  readonly id: string
  readonly kind: 'page break'
}

/** Print: an address with its title, to be opened beside the worksheet. */
export interface LinkBlock {
  readonly id: string
  readonly kind: 'link'
  readonly url: string
  readonly title: string
  readonly note: string
}

/** A cell of a table: print, a place to answer, or the result of a formula over the other cells. */
export interface TableCell {
  /** Columns and rows that it covers. */
  readonly across: number
  readonly down: number
  readonly head: boolean
  /** Paragraphs and lists. */
  readonly rich: readonly RichNode[]
  readonly space: CellSpace | null
  /** Without the equals sign: `sum(B2:B5)`. */
  readonly formula: string | null
}

/** Print with places in it: rows of cells. A cell is left out where another covers it. */
export interface TableBlock {
  readonly id: string
  readonly kind: 'table'
  readonly rows: readonly (readonly TableCell[])[]
}

/** A box on a backdrop page, in fractions of the page. */
export interface Box {
  readonly x: number
  readonly y: number
  readonly width: number
  readonly height: number
}

export interface PlacedSpace {
  readonly box: Box
  readonly space: StandingSpace
}

/** A page whose print is a picture, with answer spaces laid on it. */
export interface BackdropBlock {
  readonly id: string
  readonly kind: 'backdrop'
  readonly media: string
  readonly alt: string
  /** In millimetres. */
  readonly width: number
  readonly height: number
  /** In the order in which they are gone through. */
  readonly spaces: readonly PlacedSpace[]
}

/** Whose part a section is. */
export type Whose =
  | { readonly is: 'everyone' }
  /** Once for each member of the copy's group, with their name. */
  | { readonly is: 'each member' }
  /** Once for each group of the class, with its name. */
  | { readonly is: 'each group' }
  /** Only for these. */
  | { readonly is: 'named'; readonly people: readonly { readonly id: string; readonly name: string }[] }

/** Blocks that belong together and to somebody. Sections do not nest. */
export interface SectionBlock {
  readonly id: string
  readonly kind: 'section'
  readonly title: string
  readonly whose: Whose
  readonly blocks: readonly PlainBlock[]
}

/** All that can stand in a section. */
export type PlainBlock =
  | TextBlock
  | PictureBlock
  | PageBreakBlock
  | LinkBlock
  | TableBlock
  | BackdropBlock
  | StandingSpace
export type Block = PlainBlock | SectionBlock

/** The paper: a size by its name, or as it was brought in, in millimetres. */
export type PageSize = 'A4' | 'Letter' | { readonly width: number; readonly height: number }

/** What a worksheet edition holds: its blocks in the order of the page. */
export interface WorksheetContent {
  /** Of this format, so that older editions can be read for ever. */
  readonly version: 2
  readonly page: PageSize
  /** Where the sheet came from: in small print on every page of it; empty if the author made it. */
  readonly source: string
  /** BCP 47 tag; not there: as its print reads. */
  readonly language?: string
  /** Not there: browsers help with spelling. */
  readonly spelling?: false
  readonly blocks: readonly Block[]
}

export const EMPTY_CONTENT: WorksheetContent = { version: 2, page: 'A4', source: '', blocks: [] }

/** Width and height of a page, in millimetres. */
export function pageMillimetres(page: PageSize): { readonly width: number; readonly height: number } {
  if (page === 'A4') return { width: 210, height: 297 }
  return page === 'Letter' ? { width: 215.9, height: 279.4 } : page
}

const STANDING: ReadonlySet<string> = new Set(STANDING_KINDS)

/** Whether a block, or an answer space, is one that stands by itself. */
export function isAnswerSpace(one: Block | AnswerSpace): one is StandingSpace {
  return STANDING.has(one.kind)
}
