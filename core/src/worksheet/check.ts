import { type Outcome, type Problem, fine } from '../errors/problem.js'
import { CELL_NODES, TEXT_NODES, isHarmless, isLinkAddress, readRich } from './checkRich.js'
import { readSpace } from './checkSpace.js'
import {
  type BackdropBlock,
  type Block,
  type Box,
  type Crop,
  type PageSize,
  type PictureBlock,
  type PlacedSpace,
  type PlainBlock,
  type RichNode,
  type SectionBlock,
  STANDING_KINDS,
  type StandingSpace,
  type TableBlock,
  type TableCell,
  type Whose,
  type WorksheetContent,
  isAnswerSpace,
} from './content.js'
import { formulaProblems } from './tableFormulas.js'
import { type Reading, isId, isRecord, oneOf, readNumber, readText, startReading } from './reading.js'
import { isLanguage } from './language.js'
import { upgradeContent } from './upgrade.js'
import { answerSpaces, plainBlocks } from './walk.js'

export const BLOCK_LIMIT = 1_000
/** Characters of a worksheet as JSON. */
export const CONTENT_LIMIT = 1_000_000
export const SOURCE_LIMIT = 300
const TABLE_LIMITS = { rows: 100, columns: 20 } as const
const SPACE_LIMIT = 600
/** In a repeated section the address of an answer is the id of its space and the member's or group's. */
const REPEATED_ID_LIMIT = 30

/**
 * Reads a worksheet's content from anywhere, in any version, and answers with the same content in the newest, holding
 * nothing but what the model knows, or with every problem and its exact place (`blocks.3.options.0.text`).
 * @param raw any JSON value
 */
export function checkContent(raw: unknown): Outcome<WorksheetContent> {
  return readContent(startReading(), raw)
}

/** A draft that can be kept, with what in it is not finished yet. */
export interface CheckedDraft {
  readonly content: WorksheetContent
  /** Why it cannot be kept as an edition, each with its exact place. */
  readonly unfinished: Problem[]
}

/**
 * Reads a draft as {@link checkContent} does, but keeps what its author is in the middle of writing as it is: a formula that cannot
 * be worked out, an option or an address that is not written yet. Nothing that is typed is lost for the sake of it.
 */
export function checkDraft(raw: unknown): Outcome<CheckedDraft> {
  const reading = startReading(true)
  const read = readContent(reading, raw)
  return read.ok ? fine({ content: read.value, unfinished: reading.open }) : read
}

function readContent(reading: Reading, raw: unknown): Outcome<WorksheetContent> {
  const input = upgradeContent(raw)
  if (!isRecord(input) || input['version'] !== 2 || !Array.isArray(input['blocks'])) {
    reading.wrong('content', 'This is not a worksheet that Gavrin can read.')
    return { ok: false, problems: reading.problems }
  }
  const blocks = input['blocks'].slice(0, BLOCK_LIMIT).flatMap((block: unknown, index) => {
    const read = readBlock(reading, block, `blocks.${index}`)
    return read ? [read] : []
  })
  const content: WorksheetContent = {
    version: 2,
    page: readPage(reading, input['page']),
    source: readText(reading, input['source'], 'source', SOURCE_LIMIT, 'The source line').replace(/\s+/g, ' ').trim(),
    ...readLanguage(reading, input['language']),
    ...(input['spelling'] === false && { spelling: false as const }),
    blocks,
  }
  const count = Math.max(plainBlocks(content).length, input['blocks'].length)
  if (count > BLOCK_LIMIT)
    reading.wrong('blocks', `A worksheet can have up to ${BLOCK_LIMIT} blocks; this one has ${count}.`)
  if (answerSpaces(content).length > SPACE_LIMIT)
    reading.wrong('blocks', `A worksheet can have up to ${SPACE_LIMIT} answer spaces.`)
  if (reading.problems.length === 0 && JSON.stringify(content).length > CONTENT_LIMIT)
    reading.wrong('blocks', 'This worksheet is too long: part it in two.')
  return reading.problems.length ? { ok: false, problems: reading.problems } : fine(content)
}

function readLanguage(reading: Reading, raw: unknown): Pick<WorksheetContent, 'language'> {
  if (raw === undefined || raw === '') return {}
  if (typeof raw === 'string' && isLanguage(raw)) return { language: raw }
  reading.wrong('language', 'The language of the worksheet is none that is known.')
  return {}
}

function readPage(reading: Reading, raw: unknown): PageSize {
  if (raw === 'A4' || raw === 'Letter' || raw === undefined) return raw ?? 'A4'
  if (!isRecord(raw)) {
    reading.wrong('page', 'The size of the page cannot be read.')
    return 'A4'
  }
  return readMillimetres(reading, raw, 'page')
}

function readMillimetres(reading: Reading, raw: Record<string, unknown>, field: string) {
  const side = (name: 'width' | 'height') =>
    readNumber(reading, raw[name], `${field}.${name}`, [30, 2_000], 'A page is 30 to 2,000 mm wide and tall.')
  return { width: side('width'), height: side('height') }
}

function readBlock(reading: Reading, raw: unknown, field: string): Block | null {
  if (isRecord(raw) && raw['kind'] === 'section') return readSection(reading, raw, field)
  return readPlainBlock(reading, raw, field)
}

function readPlainBlock(reading: Reading, raw: unknown, field: string): PlainBlock | null {
  if (!isRecord(raw)) {
    reading.wrong(field, 'This block cannot be read.')
    return null
  }
  switch (raw['kind']) {
    case 'text': {
      const id = reading.takeId(raw['id'], field)
      const rich = readRich(reading, raw['rich'], `${field}.rich`, TEXT_NODES)
      return rich && { id, kind: 'text', rich }
    }
    case 'picture':
      return readPicture(reading, raw, field)
    case 'page break':
      return { id: reading.takeId(raw['id'], field), kind: 'page break' }
    case 'link': {
      const url = readText(reading, raw['url'], `${field}.url`, 2_000, 'An address').trim()
      if (!isLinkAddress(url)) {
        const sentence = 'A link begins with https:// or http://, or is a mail address.'
        // What would run or lead into another program is kept nowhere.
        if (isHarmless(url)) reading.unfinished(`${field}.url`, sentence)
        else reading.wrong(`${field}.url`, sentence)
      }
      return {
        id: reading.takeId(raw['id'], field),
        kind: 'link',
        url,
        title: readText(reading, raw['title'], `${field}.title`, 200, 'The title of a link').trim(),
        note: readText(reading, raw['note'], `${field}.note`, 500, 'The note of a link').trim(),
      }
    }
    case 'table':
      return readTable(reading, raw, field)
    case 'backdrop':
      return readBackdrop(reading, raw, field)
    case 'section':
      reading.wrong(field, 'A section cannot stand in another section.')
      return null
    default: {
      const space = readSpace(reading, raw, field)
      if (space && !isAnswerSpace(space)) {
        reading.wrong(field, 'Gaps stand in sentences and cells in tables, not by themselves.')
        return null
      }
      return space
    }
  }
}

function readMedia(reading: Reading, raw: unknown, field: string): string {
  if (!isId(raw)) reading.wrong(field, 'This picture is missing: put it in again.')
  return String(raw)
}

function readPicture(reading: Reading, raw: Record<string, unknown>, field: string): PictureBlock {
  const pixels = (name: string) =>
    readNumber(reading, raw[name], `${field}.${name}`, [1, 100_000], 'The size of this picture cannot be read.')
  return {
    id: reading.takeId(raw['id'], field),
    kind: 'picture',
    media: readMedia(reading, raw['media'], `${field}.media`),
    alt: readText(reading, raw['alt'], `${field}.alt`, 1_000, 'An alternative text').trim(),
    pixelWidth: pixels('pixelWidth'),
    pixelHeight: pixels('pixelHeight'),
    width: readNumber(reading, raw['width'], `${field}.width`, [5, 100], 'A picture is 5 to 100 percent wide.'),
    turn: oneOf(raw['turn'], [0, 90, 180, 270] as const),
    crop: raw['crop'] ? readBox(reading, raw['crop'], `${field}.crop`, 'This crop') : null,
    place: oneOf(raw['place'], ['start', 'middle', 'end'] as const),
  }
}

function readBox(reading: Reading, raw: unknown, field: string, name: string): Box & Crop {
  const side = (key: 'x' | 'y' | 'width' | 'height') =>
    isRecord(raw) && typeof raw[key] === 'number' && Number.isFinite(raw[key]) ? raw[key] : Number.NaN
  const box = { x: side('x'), y: side('y'), width: side('width'), height: side('height') }
  const inside =
    box.x >= 0 &&
    box.y >= 0 &&
    box.width > 0 &&
    box.height > 0 &&
    box.x + box.width <= 1.0001 &&
    box.y + box.height <= 1.0001
  if (!inside) reading.wrong(field, `${name} does not lie within the page.`)
  return box
}

function readTable(reading: Reading, raw: Record<string, unknown>, field: string): TableBlock | null {
  const id = reading.takeId(raw['id'], field)
  const rows = raw['rows']
  if (!Array.isArray(rows) || rows.length === 0 || rows.length > TABLE_LIMITS.rows) {
    reading.wrong(`${field}.rows`, `A table has 1 to ${TABLE_LIMITS.rows} rows.`)
    return null
  }
  const read = rows.map((row: unknown, down): TableCell[] => {
    if (!Array.isArray(row) || row.length > TABLE_LIMITS.columns) {
      reading.wrong(`${field}.rows.${down}`, `A row has up to ${TABLE_LIMITS.columns} cells.`)
      return []
    }
    return row.map((cell: unknown, at) => readCell(reading, cell, `${field}.rows.${down}.${at}`))
  })
  const table: TableBlock = { id, kind: 'table', rows: read }
  if (read.every((row) => row.length === 0)) reading.wrong(`${field}.rows`, 'This table has no cell.')
  if (reading.problems.length === 0)
    for (const { cell, down, at, sentence } of formulaProblems(table))
      reading.unfinished(`${field}.rows.${down}.${at}.formula`, `${cell}: ${sentence}`)
  return table
}

function readCell(reading: Reading, raw: unknown, field: string): TableCell {
  const cell = isRecord(raw) ? raw : {}
  if (!isRecord(raw)) reading.wrong(field, 'This cell cannot be read.')
  const span = (name: 'across' | 'down', most: number) =>
    Math.round(readNumber(reading, cell[name] ?? 1, `${field}.${name}`, [1, most], 'A cell covers at least itself.'))
  const rich = Array.isArray(cell['rich']) ? cell['rich'] : []
  let space = null
  if (isRecord(cell['space'])) {
    const read = readSpace(reading, cell['space'], `${field}.space`)
    if (read?.kind === 'cell') space = read
    else if (read) reading.wrong(`${field}.space`, 'Only a cell space can stand in a cell.')
  }
  const formula = readText(reading, cell['formula'], `${field}.formula`, 200, 'A formula').replace(/^\s*=/, '').trim()
  return {
    across: span('across', TABLE_LIMITS.columns),
    down: span('down', TABLE_LIMITS.rows),
    head: cell['head'] === true,
    rich: rich
      .map((node: unknown, index) => readRich(reading, node, `${field}.rich.${index}`, CELL_NODES))
      .filter((node): node is RichNode => node !== null),
    space,
    formula: space ? null : formula || null,
  }
}

const STANDING: ReadonlySet<string> = new Set(STANDING_KINDS)

function readBackdrop(reading: Reading, raw: Record<string, unknown>, field: string): BackdropBlock {
  const spaces = Array.isArray(raw['spaces']) ? raw['spaces'] : []
  return {
    id: reading.takeId(raw['id'], field),
    kind: 'backdrop',
    media: readMedia(reading, raw['media'], `${field}.media`),
    alt: readText(reading, raw['alt'], `${field}.alt`, 5_000, 'An alternative text').trim(),
    ...readMillimetres(reading, raw, field),
    spaces: spaces.flatMap((placed: unknown, index): PlacedSpace[] => {
      const place = `${field}.spaces.${index}`
      if (!isRecord(placed) || !isRecord(placed['space']) || !STANDING.has(String(placed['space']['kind']))) {
        reading.wrong(place, 'This box has no answer space in it.')
        return []
      }
      const box = readBox(reading, placed['box'], `${place}.box`, 'This box')
      const space = readSpace(reading, placed['space'], `${place}.space`)
      return space ? [{ box, space: space as StandingSpace }] : []
    }),
  }
}

function readSection(reading: Reading, raw: Record<string, unknown>, field: string): SectionBlock {
  const whose = readWhose(reading, raw['whose'], `${field}.whose`)
  const blocks = Array.isArray(raw['blocks']) ? raw['blocks'] : []
  const section: SectionBlock = {
    id: reading.takeId(raw['id'], field),
    kind: 'section',
    title: readText(reading, raw['title'], `${field}.title`, 200, 'The title of a section').trim(),
    whose,
    blocks: blocks.slice(0, BLOCK_LIMIT).flatMap((block: unknown, index) => {
      const read = readPlainBlock(reading, block, `${field}.blocks.${index}`)
      return read ? [read] : []
    }),
  }
  if (whose.is === 'each member' || whose.is === 'each group')
    for (const { id } of answerSpaces({ blocks: [section] }))
      if (id.length > REPEATED_ID_LIMIT)
        reading.wrong(
          `${field}.blocks`,
          `The id of an answer space in a repeated section has up to ${REPEATED_ID_LIMIT} characters.`,
        )
  return section
}

function readWhose(reading: Reading, raw: unknown, field: string): Whose {
  const is = isRecord(raw) ? raw['is'] : undefined
  if (is === 'everyone' || is === 'each member' || is === 'each group') return { is }
  if (is === 'named' && isRecord(raw) && Array.isArray(raw['people']))
    return {
      is,
      people: raw['people'].slice(0, 500).flatMap((person: unknown) => {
        if (!isRecord(person) || !isId(person['id'])) return []
        return [{ id: person['id'], name: readText(reading, person['name'], field, 610, 'A name') }]
      }),
    }
  reading.wrong(field, 'Say whose part this section is.')
  return { is: 'everyone' }
}
