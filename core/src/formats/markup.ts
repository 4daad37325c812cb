import { DomHandler, Parser } from 'htmlparser2'
import {
  type GapSpace,
  type Mark,
  type PictureBlock,
  type PlainBlock,
  type RichNode,
  type StandingSpace,
  type TableBlock,
  type TableCell,
  EMPTY_CONTENT,
  type WorksheetContent,
} from '../worksheet/content.js'
import { isLinkAddress } from '../worksheet/checkRich.js'
import { plainText } from '../worksheet/words.js'
import { DOCUMENT_LIMITS, LeftOut } from './broughtIn.js'

// The part of the parser's tree that is read here.
interface Node {
  readonly type: string
  readonly name?: string
  readonly data?: string
  readonly attribs?: Readonly<Record<string, string>>
  readonly children?: readonly Node[]
}

export interface MarkupOptions {
  /** Gives an id that no other block has, at each call. */
  readonly newId: () => string
  /** The key of a picture by its address in the markup; null if it is not to be had (a remote picture, say). */
  readonly pictureKey: (address: string) => string | null
}

export interface MarkupRead {
  readonly title: string
  readonly content: WorksheetContent
  readonly notes: readonly string[]
}

const DROPPED = new Set(['head', 'style', 'template', 'noscript', 'colgroup', 'col', 'canvas', 'video', 'audio'])
const RUNS = new Set(['script', 'iframe', 'object', 'embed', 'applet'])
const BLOCKS = new Set([
  ...['p', 'div', 'section', 'article', 'main', 'header', 'footer', 'aside', 'nav', 'figure', 'figcaption', 'address'],
  ...['blockquote', 'pre', 'body', 'html', 'form', 'fieldset', 'details', 'summary', 'dl', 'dt', 'dd', 'center'],
  ...['h1', 'h2', 'h3', 'h4', 'h5', 'h6', 'ul', 'ol', 'li', 'table', 'hr', 'textarea', 'select', 'svg'],
])
const MARKS: Readonly<Record<string, string>> = {
  b: 'bold',
  strong: 'bold',
  i: 'italic',
  em: 'italic',
  cite: 'italic',
  u: 'underline',
  ins: 'underline',
  sub: 'sub',
  sup: 'sup',
}
/** A heading longer than this is a paragraph that somebody made large. */
const HEADING_LETTERS = 200
const DEPTH_LIMIT = 200
/** Nodes in each other, from a list to the text in it. */
const LIST_DEPTH = 12

/** Elements in each other; far more than any document has, and each more costs the parser what all before it did. */
const TREE_DEPTH = 400
class TooDeep extends Error {}

/** A tree that is read only as deep as it can be shown. */
class ShallowTree extends DomHandler {
  private depth = 0

  override onopentag(name: string, attributes: Record<string, string>): void {
    if (++this.depth > TREE_DEPTH) throw new TooDeep()
    super.onopentag(name, attributes)
  }

  override onclosetag(): void {
    this.depth--
    super.onclosetag()
  }
}

function treeOf(html: string): { document: Node; isWhole: boolean } {
  const tree = new ShallowTree()
  let isWhole = true
  try {
    new Parser(tree, { decodeEntities: true, lowerCaseTags: true }).end(html)
  } catch (error) {
    if (!(error instanceof TooDeep)) throw error
    isWhole = false
  }
  return { document: tree.root, isWhole }
}

/**
 * Reads markup (HTML) into a worksheet: headings, paragraphs, lists, tables, pictures, links and places to fill in. Fonts
 * and sizes stay behind; what runs (scripts, frames) and what would be fetched from elsewhere is left out and said.
 */
export function readMarkup(html: string, options: MarkupOptions): MarkupRead {
  return new MarkupReader(options).read(html)
}

/** A document of markup while it is read. */
class MarkupReader {
  private readonly leftOut = new LeftOut()
  private readonly blocks: PlainBlock[] = []
  private inline: RichNode[] = []
  private title = ''

  constructor(private readonly options: MarkupOptions) {}

  read(html: string): MarkupRead {
    const { document, isWhole } = treeOf(html)
    document.children?.forEach((child) => this.walk(child, [], 0))
    if (!isWhole) this.leftOut.add('What is nested too deeply, and what comes after it, was left out.', 0)
    this.flush()
    const heading = this.blocks.find((block) => block.kind === 'text' && block.rich.type === 'heading')
    return {
      title: this.title || (heading?.kind === 'text' ? inLine(plainText(heading.rich)).slice(0, 200) : ''),
      content: { ...EMPTY_CONTENT, blocks: this.blocks.slice(0, DOCUMENT_LIMITS.blocks) },
      notes: this.leftOut.notes(),
    }
  }

  private flush(wrap: (content: RichNode[]) => RichNode = paragraph): void {
    const content = trimmed(this.inline)
    this.inline = []
    if (content.length) this.blocks.push({ id: this.options.newId(), kind: 'text', rich: wrap(content) })
  }

  private picture(node: Node): void {
    const { src = '', alt = '', width } = node.attribs ?? {}
    const key = this.options.pictureKey(src)
    if (key === null) {
      this.leftOut.add(
        /^(https?:)?\/\//i.test(src)
          ? 'Pictures on another site were left out (#): save them and put them in.'
          : 'Pictures that could not be read were left out (#).',
      )
      return
    }
    this.flush()
    const share = width && /^\d+(\.\d+)?%?$/.test(width) ? percent(width) : 60
    const block: PictureBlock = {
      id: this.options.newId(),
      kind: 'picture',
      media: key,
      alt: alt.slice(0, 1_000),
      pixelWidth: 1,
      pixelHeight: 1,
      width: share,
      turn: 0,
      crop: null,
      place: 'start',
    }
    this.blocks.push(block)
  }

  private space(made: StandingSpace): void {
    this.flush()
    this.blocks.push(made)
  }

  private children(node: Node, marks: readonly Mark[], depth: number): void {
    node.children?.forEach((child) => this.walk(child, marks, depth + 1))
  }

  private walk(node: Node, marks: readonly Mark[], depth: number): void {
    if (depth > DEPTH_LIMIT || this.blocks.length >= DOCUMENT_LIMITS.blocks) {
      this.leftOut.add('What comes after the first blocks, or is nested too deeply, was left out.', 0)
      return
    }
    if (node.type === 'text') return void pushText(this.inline, node.data ?? '', marks)
    const name = node.name ?? ''
    if (RUNS.has(name) || node.type === 'script')
      return this.leftOut.add('Scripts or embedded programs were removed (#).')
    if (name === 'title') return void (this.title ||= inLine(textOf(node)))
    if (node.type === 'style' || DROPPED.has(name)) {
      if (name === 'video' || name === 'audio') this.leftOut.add('Films or sounds were left out (#).')
      // Of the head only the title is taken; what would run in it is counted.
      if (name === 'head')
        for (const child of node.children ?? [])
          if (child.name === 'title' || RUNS.has(child.name ?? '')) this.walk(child, [], depth + 1)
      return
    }
    if (!node.children) return
    for (const attribute of Object.keys(node.attribs ?? {}))
      if (/^on/i.test(attribute)) this.leftOut.add('Scripts or embedded programs were removed (#).')
    if (node.attribs?.['data-tex'])
      return void this.inline.push({ type: 'formula', attrs: { tex: node.attribs['data-tex'], large: name === 'div' } })
    switch (name) {
      case 'br':
        return void (this.inline.length && this.inline.push({ type: 'hardBreak' }))
      case 'hr':
        this.flush()
        if (/page-break/.test(`${node.attribs?.['class']} ${node.attribs?.['style']}`))
          this.blocks.push({ id: this.options.newId(), kind: 'page break' })
        return
      case 'img':
        return this.picture(node)
      case 'svg':
        return this.leftOut.add('Drawings in the page were left out (#).')
      case 'input':
        return this.input(node)
      case 'textarea':
        return this.space({ id: this.options.newId(), kind: 'passage', lines: 4, proposed: { was: '' } })
      case 'select':
        return this.select(node)
      case 'button':
        return
      case 'ul':
      case 'ol':
        return this.list(node, depth)
      case 'table':
        this.flush()
        return void this.table(node, depth)
      case 'a': {
        const href = node.attribs?.['href'] ?? ''
        if (/^\s*(javascript|data|vbscript):/i.test(href))
          this.leftOut.add('Links that would run something were removed (#).')
        return this.children(node, isLinkAddress(href) ? [...marks, { type: 'link', attrs: { href } }] : marks, depth)
      }
    }
    const level = /^h([1-6])$/.exec(name)?.[1]
    if (level) {
      this.flush()
      this.children(node, [], depth)
      return this.flush((content) =>
        content.reduce((sum, { text = '' }) => sum + text.length, 0) > HEADING_LETTERS
          ? paragraph(content)
          : { type: 'heading', attrs: { level: Math.min(3, Number(level)) }, content },
      )
    }
    if (BLOCKS.has(name)) {
      this.flush()
      this.children(node, marks, depth)
      return this.flush()
    }
    const mark = MARKS[name]
    this.children(node, mark && !marks.some(({ type }) => type === mark) ? [...marks, { type: mark }] : marks, depth)
  }

  private input(node: Node): void {
    const { type = 'text', size = '' } = node.attribs ?? {}
    if (['hidden', 'submit', 'button', 'reset', 'image'].includes(type)) return
    if (type === 'checkbox' || type === 'radio') return pushText(this.inline, '☐ ', [])
    const gap: GapSpace = {
      id: this.options.newId(),
      kind: 'gap',
      width: Math.min(60, Math.max(3, Number(size) || 15)),
      proposed: { was: '____' },
    }
    this.inline.push({ type: 'gap', attrs: { space: gap } })
  }

  private select(node: Node): void {
    const options = [...eachNamed(node, 'option')].map((option) => inLine(textOf(option))).filter(Boolean)
    if (options.length < 2) return
    this.space({
      id: this.options.newId(),
      kind: 'choice',
      many: node.attribs?.['multiple'] !== undefined,
      options: options.slice(0, 40).map((text) => ({ id: this.options.newId(), text: text.slice(0, 500) })),
      proposed: { was: options.join(' / ').slice(0, 2_000) },
    })
  }

  /** The paragraphs and lists inside a cell or an item; blocks that cannot stand there come after, in the page. */
  private inside(node: Node, depth: number): { rich: RichNode[]; after: PlainBlock[] } {
    const outer = this.blocks.splice(0)
    const outerInline = this.inline
    this.inline = []
    node.children?.forEach((child) => this.walk(child, [], depth + 1))
    this.flush()
    const made = this.blocks.splice(0)
    this.blocks.push(...outer)
    this.inline = outerInline
    const rich: RichNode[] = []
    const after: PlainBlock[] = []
    for (const block of made)
      if (block.kind === 'text') rich.push(block.rich.type === 'heading' ? bold(block.rich) : block.rich)
      else after.push(block)
    return { rich, after }
  }

  private list(node: Node, depth: number): void {
    this.flush()
    const after: PlainBlock[] = []
    const start = Math.max(0, Number(node.attribs?.['start'] ?? 1) || 1)
    let count = 0
    /** What cannot stand in an item comes under it, and the list goes on after it. */
    const put = (items: readonly RichNode[]) => {
      if (items.length > 0) {
        const rich: RichNode =
          node.name === 'ol'
            ? { type: 'orderedList', attrs: { start: start + count }, content: items }
            : { type: 'bulletList', content: items }
        this.blocks.push({ id: this.options.newId(), kind: 'text', rich: withinDepth(rich) })
      }
      count += items.length
      this.blocks.push(...after.splice(0))
    }
    const listNode = (one: Node, at: number): RichNode | null => {
      if (at > 4) return null
      const items: RichNode[] = []
      for (const item of one.children ?? []) {
        if (item.name === 'ul' || item.name === 'ol') {
          // A list straight inside a list belongs to the item before it.
          const nested = listNode(item, at + 1)
          const last = items.at(-1)
          if (nested && last) items[items.length - 1] = { ...last, content: [...last.content!, nested] }
          continue
        }
        if (item.name !== 'li') continue
        const lists = (item.children ?? []).filter(({ name }) => name === 'ul' || name === 'ol')
        const rest = { ...item, children: (item.children ?? []).filter((child) => !lists.includes(child)) }
        const found = this.inside(rest, depth + at)
        after.push(...found.after)
        const content = [
          ...(found.rich.length ? found.rich : [{ type: 'paragraph' }]),
          ...lists.flatMap((inner) => listNode(inner, at + 1) ?? []),
        ]
        items.push({ type: 'listItem', content })
        if (at === 0 && after.length > 0) put(items.splice(0))
      }
      if (at === 0) {
        put(items)
        return null
      }
      if (items.length === 0) return null
      return one.name === 'ol'
        ? {
            type: 'orderedList',
            attrs: { start: Math.max(0, Number(one.attribs?.['start'] ?? 1) || 1) },
            content: items,
          }
        : { type: 'bulletList', content: items }
    }
    listNode(node, 0)
  }

  private table(node: Node, depth: number): void {
    const rows: TableCell[][] = []
    const after: PlainBlock[] = []
    for (const row of rowsOf(node)) {
      if (rows.length >= 100) {
        this.leftOut.add('Rows of a table beyond the hundredth were left out (#).')
        continue
      }
      const cells: TableCell[] = []
      for (const cell of row.children ?? []) {
        if ((cell.name !== 'td' && cell.name !== 'th') || cells.length >= 20) continue
        const found = this.inside(cell, depth)
        after.push(...found.after)
        const span = (name: 'colspan' | 'rowspan', most: number) =>
          Math.min(most, Math.max(1, Math.round(Number(cell.attribs?.[name]) || 1)))
        cells.push({
          across: span('colspan', 20),
          down: span('rowspan', 100),
          head: cell.name === 'th',
          rich: found.rich,
          space: null,
          formula: null,
        })
      }
      if (cells.length) rows.push(cells)
    }
    if (rows.length === 0) return
    const isLayout = rows.every((row) => row.length === 1)
    // A table of one column only frames what is in it.
    if (isLayout && rows.length < 3)
      for (const rich of rows.flatMap(([cell]) => cell!.rich))
        this.blocks.push({ id: this.options.newId(), kind: 'text', rich })
    else this.blocks.push({ id: this.options.newId(), kind: 'table', rows: withinRows(rows) } satisfies TableBlock)
    this.blocks.push(...after)
  }
}

/** Lists within lists as deep as a worksheet has them; what is nested more deeply is a paragraph of its words. */
function withinDepth(rich: RichNode): RichNode {
  const depth = (node: RichNode): number => 1 + Math.max(0, ...(node.content ?? []).map(depth))
  if (depth(rich) <= LIST_DEPTH) return rich
  const words = inLine(plainText(rich))
  return words ? paragraph([{ type: 'text', text: words }]) : { type: 'paragraph' }
}

const paragraph = (content: RichNode[]): RichNode => ({ type: 'paragraph', content })
const bold = (heading: RichNode): RichNode => ({
  type: 'paragraph',
  content: heading.content?.map((node) =>
    node.type === 'text' && !node.marks?.some(({ type }) => type === 'bold')
      ? { ...node, marks: [{ type: 'bold' }, ...(node.marks ?? [])] }
      : node,
  ),
})

const inLine = (text: string) => text.replace(/\s+/g, ' ').trim()

function percent(width: string): number {
  const value = width.endsWith('%') ? parseFloat(width) : (100 * Number(width)) / 640
  return Math.round(Math.min(100, Math.max(5, value)))
}

function textOf(node: Node): string {
  return node.type === 'text' ? (node.data ?? '') : (node.children ?? []).map(textOf).join('')
}

function* eachNamed(node: Node, name: string): Generator<Node> {
  for (const child of node.children ?? []) {
    if (child.name === name) yield child
    yield* eachNamed(child, name)
  }
}

/** The rows of a table, not those of tables inside it. */
function* rowsOf(table: Node): Generator<Node> {
  for (const child of table.children ?? []) {
    if (child.name === 'tr') yield child
    else if (child.name && ['thead', 'tbody', 'tfoot'].includes(child.name)) yield* rowsOf(child)
  }
}

/** Cells that would reach below the last row end there. */
function withinRows(rows: TableCell[][]): TableCell[][] {
  return rows.map((row, at) => row.map((cell) => ({ ...cell, down: Math.min(cell.down, rows.length - at) })))
}

/** Text as a browser shows it: white space runs together, but not at the blanks that tabs or underlines draw. */
function pushText(inline: RichNode[], data: string, marks: readonly Mark[]): void {
  const last = inline.at(-1)
  let text = data.replace(/[ \t\r\n\f]+/g, ' ')
  if ((!last || last.type === 'hardBreak' || last.text?.endsWith(' ')) && text.startsWith(' ')) text = text.slice(1)
  if (!text) return
  if (last?.type === 'text' && JSON.stringify(last.marks ?? []) === JSON.stringify(marks))
    inline[inline.length - 1] = { ...last, text: last.text! + text }
  else inline.push({ type: 'text', text, ...(marks.length > 0 && { marks }) })
}

/** Inline content without white space and breaks at its ends; empty if there is nothing else. */
function trimmed(inline: readonly RichNode[]): RichNode[] {
  const content = [...inline]
  while (content.at(-1)?.type === 'hardBreak') content.pop()
  const last = content.at(-1)
  if (last?.type === 'text') {
    const text = last.text!.replace(/ +$/, '')
    content.pop()
    if (text) content.push({ ...last, text })
    else return trimmed(content)
  }
  return content
}
