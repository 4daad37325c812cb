import { type Outcome, type Problem, fine } from '../errors/problem.js'
import { ANSWER_KINDS, type Block, type RichNode, type WorksheetContent } from './content.js'

export const BLOCK_LIMIT = 1_000
export const CONTENT_LIMIT = 1_000_000
const OPTION_LIMIT = 40
const OPTION_TEXT_LIMIT = 500
const UNIT_LIMIT = 30
const DEPTH_LIMIT = 12

const ID = /^[A-Za-z0-9_-]{1,64}$/
const TOP_NODES = new Set(['paragraph', 'heading', 'bulletList', 'orderedList'])
const CHILDREN: Record<string, readonly string[]> = {
  paragraph: ['text', 'hardBreak'],
  heading: ['text', 'hardBreak'],
  bulletList: ['listItem'],
  orderedList: ['listItem'],
  listItem: ['paragraph', 'bulletList', 'orderedList'],
}
const MARKS = new Set(['bold', 'italic', 'underline'])

/**
 * Reads a worksheet's content from anywhere and answers with the same content, holding nothing but what the model knows,
 * or with every problem and its exact place (`blocks.3.options.0.text`).
 * @param input any JSON value
 */
export function checkContent(input: unknown): Outcome<WorksheetContent> {
  const problems: Problem[] = []
  const wrong = (field: string, sentence: string) => {
    problems.push({ code: 'content-malformed', field, sentence })
  }
  if (!isRecord(input) || input['version'] !== 1 || !Array.isArray(input['blocks'])) {
    wrong('content', 'This is not a worksheet that Gavrin can read.')
    return { ok: false, problems }
  }
  if (input['blocks'].length > BLOCK_LIMIT)
    wrong('blocks', `A worksheet can have up to ${BLOCK_LIMIT} blocks; this one has ${input['blocks'].length}.`)
  const seen = new Set<string>()
  const takeId = (id: unknown, field: string): string => {
    if (typeof id !== 'string' || !ID.test(id)) wrong(`${field}.id`, 'This block has no proper id.')
    else if (seen.has(id)) wrong(`${field}.id`, 'Two blocks have the same id.')
    else seen.add(id)
    return String(id)
  }
  const blocks: Block[] = []
  input['blocks'].slice(0, BLOCK_LIMIT).forEach((raw: unknown, index) => {
    const block = readBlock(raw, `blocks.${index}`, wrong, takeId)
    if (block) blocks.push(block)
  })
  const content: WorksheetContent = { version: 1, blocks }
  if (problems.length === 0 && JSON.stringify(content).length > CONTENT_LIMIT)
    wrong('blocks', 'This worksheet is too long: part it in two.')
  return problems.length ? { ok: false, problems } : fine(content)
}

type Wrong = (field: string, sentence: string) => void

function readBlock(
  raw: unknown,
  field: string,
  wrong: Wrong,
  takeId: (id: unknown, field: string) => string,
): Block | null {
  if (!isRecord(raw)) {
    wrong(field, 'This block cannot be read.')
    return null
  }
  const id = takeId(raw['id'], field)
  switch (raw['kind']) {
    case 'text': {
      const rich = readRich(raw['rich'], `${field}.rich`, TOP_NODES, wrong, 0)
      return rich && { id, kind: 'text', rich }
    }
    case 'line':
      return { id, kind: 'line', width: raw['width'] === 'short' ? 'short' : 'full' }
    case 'passage': {
      const lines = raw['lines']
      if (!Number.isInteger(lines) || (lines as number) < 2 || (lines as number) > 40) {
        wrong(`${field}.lines`, 'A passage is 2 to 40 lines tall.')
        return null
      }
      return { id, kind: 'passage', lines: lines as number }
    }
    case 'number': {
      const unit = raw['unit'] ?? ''
      if (typeof unit !== 'string' || unit.length > UNIT_LIMIT) {
        wrong(`${field}.unit`, `A unit has up to ${UNIT_LIMIT} characters.`)
        return null
      }
      return { id, kind: 'number', unit: unit.trim() }
    }
    case 'choice':
      return readChoice(raw, id, field, wrong)
    default:
      wrong(`${field}.kind`, `A block is text or one of the answer spaces ${ANSWER_KINDS.join(', ')}.`)
      return null
  }
}

function readChoice(raw: Record<string, unknown>, id: string, field: string, wrong: Wrong): Block | null {
  const options = raw['options']
  if (!Array.isArray(options) || options.length < 2 || options.length > OPTION_LIMIT) {
    wrong(`${field}.options`, `A choice needs 2 to ${OPTION_LIMIT} options.`)
    return null
  }
  const ids = new Set<string>()
  const read = options.map((option: unknown, index) => {
    const place = `${field}.options.${index}`
    const optionId = isRecord(option) ? option['id'] : null
    const text = isRecord(option) ? option['text'] : null
    if (typeof optionId !== 'string' || !ID.test(optionId) || ids.has(optionId))
      wrong(`${place}.id`, 'This option has no id of its own.')
    else ids.add(optionId)
    if (typeof text !== 'string' || !text.trim())
      wrong(`${place}.text`, `Option ${index + 1} is empty: write it or remove it.`)
    else if (text.length > OPTION_TEXT_LIMIT)
      wrong(`${place}.text`, `Option ${index + 1} is longer than ${OPTION_TEXT_LIMIT} characters.`)
    return { id: String(optionId), text: typeof text === 'string' ? text.trim() : '' }
  })
  return { id, kind: 'choice', many: raw['many'] === true, options: read }
}

function readRich(
  raw: unknown,
  field: string,
  allowed: ReadonlySet<string>,
  wrong: Wrong,
  depth: number,
): RichNode | null {
  if (!isRecord(raw) || typeof raw['type'] !== 'string' || !allowed.has(raw['type']) || depth > DEPTH_LIMIT) {
    wrong(field, 'This text has a part that worksheets cannot hold.')
    return null
  }
  const type = raw['type']
  if (type === 'text') {
    if (typeof raw['text'] !== 'string' || raw['text'] === '') {
      wrong(field, 'This text has an empty part.')
      return null
    }
    const marks = readMarks(raw['marks'])
    return marks.length ? { type, text: raw['text'], marks } : { type, text: raw['text'] }
  }
  const node: { type: string; attrs?: Record<string, unknown>; content?: RichNode[] } = { type }
  if (type === 'heading') {
    const level = isRecord(raw['attrs']) ? raw['attrs']['level'] : 2
    node.attrs = { level: level === 1 || level === 2 || level === 3 ? level : 3 }
  }
  if (type === 'orderedList') {
    const start = isRecord(raw['attrs']) ? raw['attrs']['start'] : 1
    node.attrs = { start: Number.isInteger(start) && (start as number) >= 0 && (start as number) < 10_000 ? start : 1 }
  }
  const children = raw['content']
  if (children !== undefined && children !== null) {
    if (!Array.isArray(children)) {
      wrong(field, 'This text cannot be read.')
      return null
    }
    const inner = new Set(CHILDREN[type] ?? [])
    node.content = children
      .map((child: unknown, index) => readRich(child, `${field}.content.${index}`, inner, wrong, depth + 1))
      .filter((child): child is RichNode => child !== null)
  }
  return node
}

function readMarks(raw: unknown): { type: string }[] {
  if (!Array.isArray(raw)) return []
  const types = raw.filter(isRecord).map((mark) => mark['type'])
  return [...new Set(types)]
    .filter((type): type is string => typeof type === 'string' && MARKS.has(type))
    .map((type) => ({ type }))
}

function isRecord(value: unknown): value is Record<string, unknown> {
  return typeof value === 'object' && value !== null && !Array.isArray(value)
}
