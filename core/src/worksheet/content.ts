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

/** Blanks that Gavrin found and proposes as an answer space, until the author takes or leaves it. */
export interface Proposal {
  /** The print that stands here if it is left: text, or empty. */
  readonly was: string
}

/** What of an answer need not be the same as the accepted one. */
export interface Leniency {
  readonly case: boolean
  readonly accents: boolean
}

/** What every answer space has. All but the id may be missing. */
export interface SpaceBasics {
  /** Stable through all editions: answers are kept under it. */
  readonly id: string
  /** What it is called instead of the print before it. */
  readonly label?: string
  readonly points?: number
  /** Shown to students who ask for it. */
  readonly hint?: string
  /** On the way to a student in place of the hint: there is one, to be asked for. Never kept. */
  readonly hasHint?: true
  /** A copy is not complete without it. */
  readonly required?: boolean
  /** How a good answer reads: for the teacher. */
  readonly model?: string
  readonly proposed?: Proposal
}

/** How an answer in a few words is checked: it must read as one of these. */
export interface WordKey {
  readonly accepted?: readonly string[]
  /** Missing: case does not matter, accents do. */
  readonly lenient?: Leniency
}

/** How a number is checked. */
export interface NumberKey {
  /** As the teacher wrote it: `3.7`, `3,7`. */
  readonly value?: string
  /** The most that it may be away from the value, in the same unit. */
  readonly tolerance?: number
}

/** A place for a few words on one line. */
export interface LineSpace extends SpaceBasics, WordKey {
  readonly kind: 'line'
  readonly width: 'short' | 'full'
}

/** A place for sentences, with simple rich text. */
export interface PassageSpace extends SpaceBasics {
  readonly kind: 'passage'
  /** How many lines tall the empty place is drawn, 2 to 40. */
  readonly lines: number
  /** Text that the answer begins with. */
  readonly starter?: string
  /** How many words are wanted. */
  readonly wanted?: { readonly least: number | null; readonly most: number | null }
}

export interface ChoiceOption {
  readonly id: string
  readonly text: string
}

/** One or several of the options are chosen. */
export interface ChoiceSpace extends SpaceBasics {
  readonly kind: 'choice'
  readonly many: boolean
  readonly options: readonly ChoiceOption[]
  /** Each copy has the options in an order of its own. */
  readonly shuffled?: boolean
  /** The ids of the right options. */
  readonly right?: readonly string[]
}

/** A place for a number, with the unit printed after it. */
export interface NumberSpace extends SpaceBasics, NumberKey {
  readonly kind: 'number'
  readonly unit: string
}

/** A gap inside a sentence: stands in rich text as a node of type `gap` with the space in its attributes. */
export interface GapSpace extends SpaceBasics, WordKey {
  readonly kind: 'gap'
  /** In letters, 3 to 60. */
  readonly width: number
}

/** A cell of a table to write in. */
export interface CellSpace extends SpaceBasics, WordKey, NumberKey {
  readonly kind: 'cell'
  readonly numeric: boolean
}

/** A place to draw with the pen, blank or on a picture. */
export interface DrawingSpace extends SpaceBasics {
  readonly kind: 'drawing'
  /** Height as a percentage of its width, 10 to 200. */
  readonly height: number
  /** The id of the medium that is drawn on. */
  readonly ground: string | null
}

/** A place to hand in photographs or documents. */
export interface FileSpace extends SpaceBasics {
  readonly kind: 'file'
  /** How many at most, 1 to 10. */
  readonly most: number
}

/** The answer spaces that stand by themselves between the print. */
export type StandingSpace = LineSpace | PassageSpace | ChoiceSpace | NumberSpace | DrawingSpace | FileSpace
export type AnswerSpace = StandingSpace | GapSpace | CellSpace
export type AnswerKind = AnswerSpace['kind']

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
  TextBlock | PictureBlock | PageBreakBlock | LinkBlock | TableBlock | BackdropBlock | StandingSpace
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

export const STANDING_KINDS = [
  'line',
  'passage',
  'choice',
  'number',
  'drawing',
  'file',
] as const satisfies readonly StandingSpace['kind'][]
export const ANSWER_KINDS = [...STANDING_KINDS, 'gap', 'cell'] as const satisfies readonly AnswerKind[]

export const EMPTY_CONTENT: WorksheetContent = { version: 2, page: 'A4', source: '', blocks: [] }

/** Width and height of a page, in millimetres. */
export function pageMillimetres(page: PageSize): { readonly width: number; readonly height: number } {
  if (page === 'A4') return { width: 210, height: 297 }
  return page === 'Letter' ? { width: 215.9, height: 279.4 } : page
}

const STANDING: ReadonlySet<string> = new Set(STANDING_KINDS)

/** Whether a block is an answer space by itself. */
export function isAnswerSpace(block: Block): block is StandingSpace {
  return STANDING.has(block.kind)
}
