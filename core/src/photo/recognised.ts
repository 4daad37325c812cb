import type { Block, RichNode, StandingSpace } from '../worksheet/content.js'
import type { Box } from '../worksheet/content.js'
import type { Place } from './places.js'

/** A word that was read on a picture, with how sure the reader was of it, 0 to 100. Places in pixels. */
export interface RecognisedWord {
  readonly text: string
  readonly confidence: number
  readonly x0: number
  readonly y0: number
  readonly x1: number
  readonly y1: number
}

/** A line of text that was read on a picture. */
export interface RecognisedLine {
  readonly words: readonly RecognisedWord[]
  /** The height of its letters, in pixels; as the reader measured it, which may be absurd. */
  readonly height: number
}

/** A word as it is shown for checking. */
export interface CheckedWord {
  readonly text: string
  readonly doubtful: boolean
}

/** A paragraph or heading that was read, and where on the page, in fractions of it. */
export interface RecognisedBlock {
  readonly is: 'heading' | 'paragraph'
  readonly words: readonly CheckedWord[]
  readonly box: Box
}

/** Below this the reader is not to be believed without a look. */
const SURE = 72
/** What lines and specks on paper are read as. */
const NOISE = /^[|_\-—–=~.,'`"“”‘’:;\\/<>()[\]{}*+°©®«»§¢£¥]+$/u
const BLANK = /_{3,}|\.{5,}/

/**
 * Puts the lines that were read together to paragraphs and headings. Sizes are made two, whatever was measured: a heading
 * is a short line whose letters are clearly taller than most on the page.
 */
export function readRecognised(
  lines: readonly RecognisedLine[],
  page: { readonly width: number; readonly height: number },
): RecognisedBlock[] {
  const kept = lines
    .map(({ words, height }) => ({ words: words.filter(isWord), height }))
    .filter(({ words }) => words.length > 0)
    .map(({ words, height }) => ({
      words,
      height,
      x0: Math.min(...words.map(({ x0 }) => x0)),
      x1: Math.max(...words.map(({ x1 }) => x1)),
      y0: Math.min(...words.map(({ y0 }) => y0)),
      y1: Math.max(...words.map(({ y1 }) => y1)),
    }))
    .sort((one, other) => one.y0 - other.y0)
  // The middle one: what one line measures wrong changes nothing.
  const heights = kept.map(({ y0, y1 }) => y1 - y0).sort((one, other) => one - other)
  const usual = heights[heights.length >> 1] ?? 1
  const right = Math.max(0, ...kept.map(({ x1 }) => x1))
  const blocks: RecognisedBlock[] = []
  let last: (typeof kept)[number] | null = null
  for (const line of kept) {
    const words = line.words.map(({ text, confidence }) => ({ text, doubtful: confidence < SURE && !BLANK.test(text) }))
    const height = line.y1 - line.y0
    const isShort = words.length <= 12 && !/[.?!:,]$/.test(words.at(-1)!.text)
    const is = height > 1.25 * usual && isShort ? 'heading' : 'paragraph'
    const before = blocks.at(-1)
    const goesOn =
      before &&
      last &&
      before.is === 'paragraph' &&
      is === 'paragraph' &&
      line.y0 - last.y1 < 0.75 * usual &&
      Math.abs(line.x0 - last.x0) < 4 * usual &&
      // A line that ends early ends its paragraph; a number or a bullet begins one.
      last.x1 > right - 0.22 * (right - last.x0) &&
      !/^(\d{1,2}[.)]|[•◦▪*-])/.test(words[0]!.text)
    const box: Box = {
      x: line.x0 / page.width,
      y: line.y0 / page.height,
      width: (line.x1 - line.x0) / page.width,
      height: height / page.height,
    }
    if (goesOn)
      blocks[blocks.length - 1] = { ...before, words: [...before.words, ...words], box: around(before.box, box) }
    else blocks.push({ is, words, box })
    last = line
  }
  return blocks
}

function isWord({ text, confidence }: RecognisedWord): boolean {
  if (!text.trim()) return false
  if (BLANK.test(text)) return true
  return !(NOISE.test(text) && confidence < 90)
}

function around(one: Box, other: Box): Box {
  const x = Math.min(one.x, other.x)
  const y = Math.min(one.y, other.y)
  return {
    x,
    y,
    width: Math.max(one.x + one.width, other.x + other.width) - x,
    height: Math.max(one.y + one.height, other.y + other.height) - y,
  }
}

/** The words of a block as one text; a word parted at the end of a line is put together. */
export function recognisedText({ words }: Pick<RecognisedBlock, 'words'>): string {
  return words.reduce((text, { text: word }) => {
    if (!text) return word
    return /\p{L}-$/u.test(text) && /^\p{Ll}/u.test(word) ? text.slice(0, -1) + word : `${text} ${word}`
  }, '')
}

/** What stands on a page that was read: text as it was put right, a figure that was cut out, or a place to write. */
export type PagePart =
  | { readonly is: 'heading' | 'paragraph'; readonly text: string; readonly box: Box }
  | {
      readonly is: 'figure'
      readonly media: string
      readonly width: number
      readonly height: number
      readonly box: Box
    }
  | { readonly is: 'place'; readonly place: Place }

/** Taller than this share of the page, a place is for sentences; a line of writing takes so much of it. */
const TALL = 0.045
const LINE = 0.027

/** The answer space that is proposed for a place to write. */
export function spaceFor({ box: { height, width } }: Place, newId: () => string): StandingSpace {
  return height > TALL
    ? {
        id: newId(),
        kind: 'passage',
        lines: Math.min(40, Math.max(2, Math.round(height / LINE))),
        proposed: { was: '' },
      }
    : { id: newId(), kind: 'line', width: width < 0.4 ? 'short' : 'full', proposed: { was: '' } }
}

/**
 * The blocks of a page that was read, from its top to its foot: places to write become proposed answer spaces.
 * @param newId gives an id that no other block has, at each call
 */
export function pageBlocks(parts: readonly PagePart[], newId: () => string): Block[] {
  const boxOf = (part: PagePart) => (part.is === 'place' ? part.place.box : part.box)
  return [...parts]
    .sort((one, other) => boxOf(one).y - boxOf(other).y)
    .flatMap((part): Block[] => {
      switch (part.is) {
        case 'heading':
        case 'paragraph': {
          const text = part.text.trim()
          if (!text) return []
          const content: RichNode[] = [{ type: 'text', text }]
          return [
            {
              id: newId(),
              kind: 'text',
              rich:
                part.is === 'heading'
                  ? { type: 'heading', attrs: { level: 2 }, content }
                  : { type: 'paragraph', content },
            },
          ]
        }
        case 'figure':
          return [
            {
              id: newId(),
              kind: 'picture',
              media: part.media,
              alt: '',
              pixelWidth: part.width,
              pixelHeight: part.height,
              width: Math.round(Math.min(100, Math.max(15, part.box.width * 100))),
              turn: 0,
              crop: null,
              place: 'start',
            },
          ]
        case 'place':
          return [spaceFor(part.place, newId)]
      }
    })
}

/** The least height of a place to write, as a share of the page's. */
const LEAST_PLACE = 0.008

/**
 * The places of a page that no text stands in and no figure covers. A place that reaches into the text above it ends there: the
 * line it stands on stays to be written on.
 */
export function freePlaces(places: readonly Place[], taken: readonly Box[]): Place[] {
  return places.flatMap(({ is, box }): Place[] => {
    const foot = box.y + box.height
    let top = box.y
    for (const other of taken) {
      const across = Math.min(box.x + box.width, other.x + other.width) - Math.max(box.x, other.x)
      const end = other.y + other.height
      if (across <= 0 || end <= top || other.y >= foot) continue
      // Letters that hang a little into it from below or above stand beside it.
      if (other.y > box.y && foot - other.y <= 0.35 * Math.min(box.height, other.height)) continue
      if (end >= foot || other.y > box.y + 0.5 * box.height) return []
      top = Math.max(top, end)
    }
    const height = foot - top
    return height < LEAST_PLACE ? [] : [{ is, box: { ...box, y: top, height } }]
  })
}
