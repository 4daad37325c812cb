import { strFromU8 } from 'fflate'
import { SaxesParser } from 'saxes'
import { type Outcome, fine, refuse } from '../errors/problem.js'
import { LeftOut } from './broughtIn.js'
import { escapeMarkup } from './escape.js'
import { unzipWithin } from './zip.js'

// OpenDocument 1.3 (OASIS), part 3: a text document is content.xml (and styles.xml) in a zip archive, pictures beside it.

/** What an OpenDocument text held: its structure as markup, and its pictures by their address in it. */
export interface OdtRead {
  readonly html: string
  readonly pictures: ReadonlyMap<string, Uint8Array>
  readonly notes: readonly string[]
}

interface Style {
  bold?: boolean
  italic?: boolean
  underline?: boolean
  raised?: 'sub' | 'super'
  /** A tab in this paragraph draws a line or dots. */
  leader?: boolean
  breakBefore?: boolean
  parent?: string
}

/** Reads a text document in the OpenDocument format. */
export function readOdt(bytes: Uint8Array): Outcome<OdtRead> {
  const files = unzipWithin(
    bytes,
    (name) => ['content.xml', 'styles.xml', 'META-INF/manifest.xml'].includes(name) || /^Pictures\/[^/]+$/.test(name),
  )
  if (!files.ok) return files
  const manifest = files.value['META-INF/manifest.xml']
  if (manifest && strFromU8(manifest).includes('encryption-data'))
    return refuse({
      code: 'file-locked',
      field: 'file',
      sentence: 'This document is locked with a password: save it without one, then bring it in.',
    })
  const content = files.value['content.xml']
  const pictures = new Map(Object.entries(files.value).filter(([name]) => name.startsWith('Pictures/')))
  try {
    if (content) {
      const styles = files.value['styles.xml']
      const reader = new OdtReader()
      if (styles) reader.read(strFromU8(styles), false)
      reader.read(strFromU8(content), true)
      return fine({ html: reader.html.join(''), pictures, notes: reader.leftOut.notes() })
    }
  } catch {
    // Said below.
  }
  return refuse({
    code: 'file-broken',
    field: 'file',
    sentence: 'This document is damaged: save it again where it came from.',
  })
}

class OdtReader {
  readonly html: string[] = []
  readonly leftOut = new LeftOut()
  private readonly styles = new Map<string, Style>()
  private readonly numbered = new Set<string>()
  private style: Style | null = null
  private listStyle = ''
  private readonly ends: string[] = []
  private readonly paragraphs: Style[] = []
  private readonly lists: string[] = []
  /** The number of the last item of each kind of list, and where the list that is open began. */
  private readonly counts = new Map<string, number>()
  private listAt = 0
  private skipping = 0
  private inBody = false

  read(xml: string, hasBody: boolean): void {
    const parser = new SaxesParser()
    parser.on('opentag', ({ name, attributes }) => {
      if (this.skipping || SKIPPED.has(name)) {
        if (!this.skipping) this.skip(name)
        this.skipping++
        return
      }
      if (!this.inBody) this.openStyle(name, attributes)
      if (name === 'office:text' && hasBody) this.inBody = true
      else if (this.inBody) this.open(name, attributes)
    })
    parser.on('text', (text) => {
      if (this.inBody && !this.skipping && this.paragraphs.length) this.html.push(escapeMarkup(text))
    })
    parser.on('closetag', ({ name }) => {
      if (this.skipping) return void this.skipping--
      if (name === 'office:text') this.inBody = false
      else if (this.inBody) this.close(name)
    })
    parser.write(xml).close()
  }

  private skip(name: string): void {
    if (name === 'office:annotation') this.leftOut.add('Comments were left behind (#).')
    if (name === 'draw:object' || name === 'draw:object-ole')
      this.leftOut.add('Formulas, charts or embedded documents were left out (#).')
    if (name === 'text:tracked-changes') this.leftOut.add('Changes that were still to be decided were taken as done.')
    if (name === 'office:scripts') this.leftOut.add('This document may have macros: they were left behind.', 0)
  }

  private openStyle(name: string, attributes: Record<string, string>): void {
    switch (name) {
      case 'style:style':
        this.style = { parent: attributes['style:parent-style-name'] }
        this.styles.set(attributes['style:name'] ?? '', this.style)
        break
      case 'style:text-properties':
        if (!this.style) break
        if (attributes['fo:font-weight']) this.style.bold = /bold|[6-9]00/.test(attributes['fo:font-weight'])
        if (attributes['fo:font-style']) this.style.italic = /italic|oblique/.test(attributes['fo:font-style'])
        if (attributes['style:text-underline-style'])
          this.style.underline = attributes['style:text-underline-style'] !== 'none'
        if (/^(sub|super)/.test(attributes['style:text-position'] ?? ''))
          this.style.raised = attributes['style:text-position']!.startsWith('sub') ? 'sub' : 'super'
        break
      case 'style:paragraph-properties':
        if (this.style && attributes['fo:break-before'] === 'page') this.style.breakBefore = true
        break
      case 'style:tab-stop':
        if (
          this.style &&
          (attributes['style:leader-text'] || /dotted|solid|dash/.test(attributes['style:leader-style'] ?? ''))
        )
          this.style.leader = true
        break
      case 'text:list-style':
        this.listStyle = attributes['style:name'] ?? ''
        break
      case 'text:list-level-style-number':
        if (attributes['text:level'] === '1' && attributes['style:num-format']) this.numbered.add(this.listStyle)
        break
    }
  }

  private styleOf(name: string | undefined): Style {
    const own = this.styles.get(name ?? '')
    if (!own) return {}
    const parent = own.parent && own.parent !== name ? (this.styles.get(own.parent) ?? {}) : {}
    return { ...parent, ...own }
  }

  private push(open: string, close: string): void {
    this.html.push(open)
    this.ends.push(close)
  }

  private open(name: string, attributes: Record<string, string>): void {
    switch (name) {
      case 'text:h':
      case 'text:p': {
        const style = this.styleOf(attributes['text:style-name'])
        if (style.breakBefore) this.html.push('<hr class="page-break">')
        this.paragraphs.push(style)
        const level = Math.min(6, Number(attributes['text:outline-level']) || 1)
        return this.push(name === 'text:h' ? `<h${level}>` : '<p>', name === 'text:h' ? `</h${level}>` : '</p>')
      }
      case 'text:span':
        return this.span(this.styleOf(attributes['text:style-name']))
      case 'text:a':
        return this.push(`<a href="${escapeMarkup(attributes['xlink:href'] ?? '')}">`, '</a>')
      case 'text:s':
        this.html.push(' '.repeat(Math.min(100, Number(attributes['text:c']) || 1)))
        break
      case 'text:tab':
        this.html.push(this.paragraphs.at(-1)?.leader ? ' ________ ' : ' ')
        break
      case 'text:line-break':
        this.html.push('<br>')
        break
      case 'text:list': {
        const style = attributes['text:style-name'] ?? this.lists.at(-1) ?? ''
        this.lists.push(style)
        const tag = this.numbered.has(style) ? 'ol' : 'ul'
        if (this.lists.length > 1) return this.push(`<${tag}>`, `</${tag}>`)
        const goesOn =
          attributes['text:continue-numbering'] === 'true' || attributes['text:continue-list'] !== undefined
        if (!goesOn) this.counts.set(style, 0)
        this.listAt = this.html.length
        return this.push(tag === 'ol' ? `<ol start="${(this.counts.get(style) ?? 0) + 1}">` : '<ul>', `</${tag}>`)
      }
      case 'text:list-item': {
        const style = this.lists[0] ?? ''
        const first = Number(attributes['text:start-value'])
        if (this.lists.length === 1) {
          // The number of a first item is that of its list.
          if (attributes['text:start-value'] && this.html.length === this.listAt + 1 && Number.isInteger(first)) {
            this.counts.set(style, first - 1)
            if (this.numbered.has(style)) this.html[this.listAt] = `<ol start="${first}">`
          }
          this.counts.set(style, (this.counts.get(style) ?? 0) + 1)
        }
        return this.push('<li>', '</li>')
      }
      case 'text:list-header':
        return this.push('<li>', '</li>')
      case 'table:table':
        return this.push('<table>', '</table>')
      case 'table:table-row':
        return this.push('<tr>', '</tr>')
      case 'table:table-cell': {
        const across = Number(attributes['table:number-columns-spanned']) || 1
        const down = Number(attributes['table:number-rows-spanned']) || 1
        return this.push(`<td colspan="${across}" rowspan="${down}">`, '</td>')
      }
      case 'draw:image':
        this.html.push(`<img src="${escapeMarkup(attributes['xlink:href'] ?? '')}" alt="${escapeMarkup(this.alt)}">`)
        break
      case 'draw:frame':
        this.alt = attributes['draw:name'] && /\s/.test(attributes['draw:name']) ? attributes['draw:name'] : ''
        break
      case 'draw:text-box':
        return this.push('<div>', '</div>')
    }
    this.ends.push('')
  }

  private alt = ''

  private span({ bold, italic, underline, raised }: Style): void {
    const tags = [bold && 'b', italic && 'i', underline && 'u', raised === 'sub' && 'sub', raised === 'super' && 'sup']
    const used = tags.filter((tag): tag is string => !!tag)
    this.push(
      used.map((tag) => `<${tag}>`).join(''),
      used
        .map((tag) => `</${tag}>`)
        .reverse()
        .join(''),
    )
  }

  private close(name: string): void {
    if (name === 'text:p' || name === 'text:h') this.paragraphs.pop()
    if (name === 'text:list') this.lists.pop()
    this.html.push(this.ends.pop() ?? '')
  }
}

const SKIPPED = new Set([
  'office:annotation',
  'office:scripts',
  'text:tracked-changes',
  'text:sequence-decls',
  'draw:object',
  'draw:object-ole',
  'table:covered-table-cell',
  'svg:desc',
])
