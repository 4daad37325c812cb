import { readSpace } from './checkSpace.js'
import { type Mark, PRINT_COLOURS, PRINT_MARKS, type RichNode } from './content.js'
import { type Reading, isRecord } from './reading.js'

export const TEXT_NODES: ReadonlySet<string> = new Set(['paragraph', 'heading', 'bulletList', 'orderedList'])
export const CELL_NODES: ReadonlySet<string> = new Set(['paragraph', 'bulletList', 'orderedList'])

const INLINE = ['text', 'hardBreak', 'formula', 'gap']
const CHILDREN: Record<string, readonly string[]> = {
  paragraph: INLINE,
  heading: INLINE,
  bulletList: ['listItem'],
  orderedList: ['listItem'],
  listItem: ['paragraph', 'bulletList', 'orderedList'],
}
const DEPTH_LIMIT = 12
const FORMULA_LIMIT = 2_000
const ADDRESS_LIMIT = 2_000
const MARKS: ReadonlySet<string> = new Set(PRINT_MARKS)
const COLOURS: ReadonlySet<string> = new Set(PRINT_COLOURS)

/** Whether a link may lead there: a web page or a mail address, nothing that runs. */
export function isLinkAddress(address: string): boolean {
  return address.length <= ADDRESS_LIMIT && /^(https?:\/\/[^\s/]|mailto:\S+@)/i.test(address)
}

/** Whether what was typed of an address so far leads nowhere but to web pages and mail. */
export const isHarmless = (address: string): boolean =>
  address.length <= ADDRESS_LIMIT && (!/^[^/?#]*:/.test(address) || /^(https?|mailto):/i.test(address))

/** Reads a node of rich text and all in it; null, with the problem noted, if worksheets cannot hold it. */
export function readRich(
  reading: Reading,
  raw: unknown,
  field: string,
  allowed: ReadonlySet<string>,
  depth = 0,
): RichNode | null {
  const { wrong } = reading
  if (!isRecord(raw) || typeof raw['type'] !== 'string' || !allowed.has(raw['type']) || depth > DEPTH_LIMIT) {
    wrong(field, 'This text has a part that worksheets cannot hold.')
    return null
  }
  const type = raw['type']
  const attrs = isRecord(raw['attrs']) ? raw['attrs'] : {}
  switch (type) {
    case 'text': {
      if (typeof raw['text'] !== 'string' || raw['text'] === '') {
        wrong(field, 'This text has an empty part.')
        return null
      }
      const marks = readMarks(raw['marks'])
      return marks.length ? { type, text: raw['text'], marks } : { type, text: raw['text'] }
    }
    case 'hardBreak':
      return { type }
    case 'formula': {
      const tex = attrs['tex']
      if (typeof tex !== 'string' || !tex.trim() || tex.length > FORMULA_LIMIT) {
        wrong(field, `A formula has 1 to ${FORMULA_LIMIT} characters.`)
        return null
      }
      return { type, attrs: { tex, large: attrs['large'] === true } }
    }
    case 'gap': {
      const space = readSpace(reading, isRecord(attrs['space']) ? attrs['space'] : {}, `${field}.space`)
      if (space?.kind === 'gap') return { type, attrs: { space } }
      if (space) wrong(field, 'Only a gap can stand inside a sentence.')
      return null
    }
  }
  const node: { type: string; attrs?: Record<string, unknown>; content?: RichNode[] } = { type }
  if (type === 'heading') {
    const level = attrs['level']
    node.attrs = { level: level === 1 || level === 2 || level === 3 ? level : 3 }
  }
  if (type === 'orderedList') {
    const start = attrs['start'] ?? 1
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
      .map((child: unknown, index) => readRich(reading, child, `${field}.content.${index}`, inner, depth + 1))
      .filter((child): child is RichNode => child !== null)
  }
  return node
}

/** The marks that print can have, each once; others are left out. */
function readMarks(raw: unknown): Mark[] {
  if (!Array.isArray(raw)) return []
  const found = new Map<string, Mark>()
  for (const mark of raw.filter(isRecord)) {
    const type = mark['type']
    const attrs = isRecord(mark['attrs']) ? mark['attrs'] : {}
    if (typeof type !== 'string' || !MARKS.has(type) || found.has(type)) continue
    if (type === 'colour') {
      if (typeof attrs['name'] === 'string' && COLOURS.has(attrs['name']))
        found.set(type, { type, attrs: { name: attrs['name'] } })
    } else if (type === 'link') {
      if (typeof attrs['href'] === 'string' && isLinkAddress(attrs['href']))
        found.set(type, { type, attrs: { href: attrs['href'] } })
    } else found.set(type, { type })
  }
  return [...found.values()]
}
