import { strToU8, zipSync } from 'fflate'
import {
  type AnswerSpace,
  type Block,
  type RichNode,
  type TableBlock,
  type WorksheetContent,
  isAnswerSpace,
  pageMillimetres,
} from '../worksheet/content.js'
import { drawnSpace } from '../worksheet/kinds/index.js'
import { keyWords } from '../worksheet/key.js'
import { pointWords } from '../worksheet/words.js'
import { columnCount, placeCells } from '../worksheet/tableGrid.js'
import type { ArchiveMedium } from './archive.js'
import { escapeMarkup as esc } from './escape.js'
import { printColour } from './html.js'

// OpenDocument 1.3 (OASIS), part 3.

const MIME = 'application/vnd.oasis.opendocument.text'
const NAMESPACES = [
  ['office', 'urn:oasis:names:tc:opendocument:xmlns:office:1.0'],
  ['style', 'urn:oasis:names:tc:opendocument:xmlns:style:1.0'],
  ['text', 'urn:oasis:names:tc:opendocument:xmlns:text:1.0'],
  ['table', 'urn:oasis:names:tc:opendocument:xmlns:table:1.0'],
  ['draw', 'urn:oasis:names:tc:opendocument:xmlns:drawing:1.0'],
  ['svg', 'urn:oasis:names:tc:opendocument:xmlns:svg-compatible:1.0'],
  ['fo', 'urn:oasis:names:tc:opendocument:xmlns:xsl-fo-compatible:1.0'],
  ['xlink', 'http://www.w3.org/1999/xlink'],
]
  .map(([prefix, address]) => `xmlns:${prefix}="${address}"`)
  .join(' ')

const ENDINGS = { 'image/png': 'png', 'image/jpeg': 'jpg', 'image/webp': 'webp' } as const

/** A worksheet as an OpenDocument text: print as print, answer spaces as blanks, with the key in them if wanted. */
export function writeOdt(
  title: string,
  content: WorksheetContent,
  media: readonly ArchiveMedium[],
  options: { readonly key: boolean },
): Uint8Array {
  const writer = new OdtWriter(content, media, options.key)
  const body = content.blocks.map((block) => writer.block(block)).join('')
  const files: Record<string, Uint8Array | [Uint8Array, { level: 0 }]> = {
    // First and not packed, so that the kind of file can be told from its first bytes.
    mimetype: [strToU8(MIME), { level: 0 }],
    'content.xml': strToU8(
      `<?xml version="1.0" encoding="UTF-8"?><office:document-content ${NAMESPACES} office:version="1.3"><office:automatic-styles>${AUTOMATIC}${writer.styles.join('')}</office:automatic-styles><office:body><office:text>${body}</office:text></office:body></office:document-content>`,
    ),
    'styles.xml': strToU8(styles(content)),
    'meta.xml': strToU8(
      `<?xml version="1.0" encoding="UTF-8"?><office:document-meta ${NAMESPACES} xmlns:dc="http://purl.org/dc/elements/1.1/" office:version="1.3"><office:meta><dc:title>${esc(title)}</dc:title></office:meta></office:document-meta>`,
    ),
    'META-INF/manifest.xml': strToU8(
      `<?xml version="1.0" encoding="UTF-8"?><manifest:manifest xmlns:manifest="urn:oasis:names:tc:opendocument:xmlns:manifest:1.0" manifest:version="1.3"><manifest:file-entry manifest:full-path="/" manifest:media-type="${MIME}"/>${['content.xml', 'styles.xml', 'meta.xml'].map((name) => `<manifest:file-entry manifest:full-path="${name}" manifest:media-type="text/xml"/>`).join('')}${media.map((medium) => `<manifest:file-entry manifest:full-path="${pathOf(medium)}" manifest:media-type="${medium.type}"/>`).join('')}</manifest:manifest>`,
    ),
  }
  for (const medium of media) files[pathOf(medium)] = medium.bytes
  return zipSync(files, { mtime: new Date(Date.UTC(2000, 0, 1, 12)) })
}

/** The number a list begins with, on its first item. */
const startAttribute = ({ type, attrs }: RichNode) =>
  type === 'orderedList' && attrs?.['start'] !== undefined ? ` text:start-value="${Number(attrs['start'])}"` : ''

const pathOf = ({ id, type }: ArchiveMedium) => `Pictures/${id}.${ENDINGS[type]}`

const AUTOMATIC = [
  ['bold', 'fo:font-weight="bold"'],
  ['italic', 'fo:font-style="italic"'],
  ['underline', 'style:text-underline-style="solid" style:text-underline-width="auto"'],
  ['sub', 'style:text-position="sub 70%"'],
  ['sup', 'style:text-position="super 70%"'],
  ['answer', 'fo:color="#2B3FA8"'],
  ...['kelp', 'brass', 'signal', 'tide', 'soft'].map((name) => [`colour-${name}`, `fo:color="${printColour(name)}"`]),
]
  .map(
    ([name, properties]) =>
      `<style:style style:name="${name}" style:family="text"><style:text-properties ${properties}/></style:style>`,
  )
  .join('')
  .concat(
    '<style:style style:name="break" style:family="paragraph"><style:paragraph-properties fo:break-before="page"/></style:style>',
    '<style:style style:name="cell" style:family="table-cell"><style:table-cell-properties fo:border="0.5pt solid #8d8676" fo:padding="1.5mm"/></style:style>',
    '<style:style style:name="box" style:family="graphic"><style:graphic-properties style:wrap="none"/></style:style>',
    '<text:list-style style:name="numbers"><text:list-level-style-number text:level="1" style:num-format="1" style:num-suffix="."/></text:list-style>',
    '<text:list-style style:name="bullets"><text:list-level-style-bullet text:level="1" text:bullet-char="•"/></text:list-style>',
  )

function styles({ page, source }: WorksheetContent): string {
  const { width, height } = pageMillimetres(page)
  return `<?xml version="1.0" encoding="UTF-8"?><office:document-styles ${NAMESPACES} office:version="1.3"><office:styles>${[1, 2, 3].map((level) => `<style:style style:name="Heading_20_${level}" style:display-name="Heading ${level}" style:family="paragraph" style:default-outline-level="${level}"><style:paragraph-properties fo:margin-top="4mm" fo:margin-bottom="2mm" fo:keep-with-next="always"/><style:text-properties fo:font-size="${20 - 3 * level}pt" fo:font-weight="bold"/></style:style>`).join('')}</office:styles><office:automatic-styles><style:page-layout style:name="page"><style:page-layout-properties fo:page-width="${width}mm" fo:page-height="${height}mm" fo:margin="18mm"/></style:page-layout><style:style style:name="small" style:family="text"><style:text-properties fo:font-size="8pt" fo:color="#55616E"/></style:style></office:automatic-styles><office:master-styles><style:master-page style:name="Standard" style:page-layout-name="page"><style:footer><text:p><text:span text:style-name="small">${esc(source)}</text:span></text:p></style:footer></style:master-page></office:master-styles></office:document-styles>`
}

class OdtWriter {
  readonly styles: string[] = []
  private tables = 0

  constructor(
    private readonly content: WorksheetContent,
    private readonly media: readonly ArchiveMedium[],
    private readonly key: boolean,
  ) {}

  block(block: Block): string {
    switch (block.kind) {
      case 'text':
        return this.rich(block.rich)
      case 'picture':
        return `<text:p>${this.picture(block.media, block.alt, block.width / 100)}</text:p>`
      case 'page break':
        return '<text:p text:style-name="break"/>'
      case 'link':
        return `<text:p><text:a xlink:type="simple" xlink:href="${esc(block.url)}">${esc(block.title || block.url)}</text:a>${block.note ? ` ${esc(block.note)}` : ''}</text:p>`
      case 'table':
        return this.table(block)
      case 'backdrop':
        return `<text:p>${this.picture(block.media, block.alt, 1)}</text:p>${block.spaces.map(({ space }) => (this.key && keyWords(space) ? `<text:p>${this.answer(space)}${this.points(space)}</text:p>` : '')).join('')}`
      case 'section':
        return `${block.title ? `<text:h text:style-name="Heading_20_2" text:outline-level="2">${esc(block.title)}</text:h>` : ''}${block.blocks.map((inner) => this.block(inner)).join('')}`
      default:
        return isAnswerSpace(block) ? this.space(block) : ''
    }
  }

  private picture(id: string, alt: string, share: number): string {
    const medium = this.media.find((one) => one.id === id)
    if (!medium) return ''
    const width = (pageMillimetres(this.content.page).width - 36) * share
    const height = (width * medium.height) / Math.max(1, medium.width)
    return `<draw:frame draw:style-name="box" text:anchor-type="as-char" svg:width="${width.toFixed(1)}mm" svg:height="${height.toFixed(1)}mm"><draw:image xlink:href="${pathOf(medium)}" xlink:type="simple"/><svg:desc>${esc(alt)}</svg:desc></draw:frame>`
  }

  private answer(space: AnswerSpace): string {
    return `<text:span text:style-name="answer">${esc(keyWords(space)).replaceAll('\n', '<text:line-break/>')}</text:span>`
  }

  private points({ points }: AnswerSpace): string {
    return points === undefined ? '' : ` <text:span text:style-name="colour-soft">(${pointWords(points)})</text:span>`
  }

  private space(space: AnswerSpace): string {
    const filled = this.key && keyWords(space) ? this.answer(space) : ''
    const points = this.points(space)
    const blank = (letters: number) => '_'.repeat(letters)
    // Spaces of several lines have theirs on a line of their own.
    const own = points && `<text:p>${points.trimStart()}</text:p>`
    const drawn = drawnSpace(space)
    switch (drawn.is) {
      case 'blank': {
        const unit = drawn.size === 'number' ? ` ${esc(drawn.unit)}` : ''
        return `<text:p>${filled || blank(drawn.letters)}${unit}${points}</text:p>`
      }
      case 'lines':
        return filled
          ? `<text:p>${filled}${points}</text:p>`
          : `${drawn.starter ? `<text:p>${esc(drawn.starter)}</text:p>` : ''}${`<text:p>${blank(68)}</text:p>`.repeat(drawn.lines)}${own}`
      case 'options':
        return drawn.options
          .map(({ id, text }) => `<text:p>${this.key && drawn.right.includes(id) ? '☒' : '☐'} ${esc(text)}</text:p>`)
          .join('')
          .concat(own)
      case 'canvas':
        return `<text:p>${drawn.ground ? this.picture(drawn.ground, '', 1) : ''}</text:p>${filled ? `<text:p>${filled}</text:p>` : '<text:p/>'.repeat(6)}${own}`
      case 'request':
        return `<text:p>${esc(space.label ?? `Hand in ${drawn.what}`)}${points}</text:p>${filled && `<text:p>${filled}</text:p>`}`
    }
  }

  private table(table: TableBlock): string {
    const columns = columnCount(table)
    const placed = placeCells(table)
    const rows = table.rows.map((_, row) => {
      let cells = ''
      for (let column = 0; column < columns; column++) {
        const own = placed.find((one) => one.row === row && one.column === column)
        if (!own) {
          const isCovered = placed.some(
            (one) =>
              row >= one.row &&
              row < one.row + one.cell.down &&
              column >= one.column &&
              column < one.column + one.cell.across,
          )
          cells += isCovered
            ? '<table:covered-table-cell/>'
            : '<table:table-cell table:style-name="cell"><text:p/></table:table-cell>'
          continue
        }
        const { across, down, rich, space } = own.cell
        const inside = space
          ? `<text:p>${this.key ? this.answer(space) : ''}${this.points(space)}</text:p>`
          : rich.map((node) => this.rich(node)).join('') || '<text:p/>'
        cells += `<table:table-cell table:style-name="cell" office:value-type="string"${across > 1 || down > 1 ? ` table:number-columns-spanned="${across}" table:number-rows-spanned="${down}"` : ''}>${inside}</table:table-cell>`
      }
      return `<table:table-row>${cells}</table:table-row>`
    })
    return `<table:table table:name="Table${++this.tables}"><table:table-column table:number-columns-repeated="${columns}"/>${rows.join('')}</table:table>`
  }

  private rich(node: RichNode): string {
    switch (node.type) {
      case 'text':
        return this.marked(node)
      case 'hardBreak':
        return '<text:line-break/>'
      case 'formula':
        return esc(String(node.attrs!['tex']))
      case 'gap': {
        const space = node.attrs!['space'] as AnswerSpace & { readonly width: number }
        return `${this.key && keyWords(space) ? this.answer(space) : '_'.repeat(space.width)}${this.points(space)}`
      }
    }
    const inner = (node.content ?? []).map((child) => this.rich(child)).join('')
    switch (node.type) {
      case 'heading': {
        const level = Number(node.attrs!['level'])
        return `<text:h text:style-name="Heading_20_${level}" text:outline-level="${level}">${inner}</text:h>`
      }
      case 'bulletList':
      case 'orderedList':
        return `<text:list text:style-name="${node.type === 'bulletList' ? 'bullets' : 'numbers'}">${inner.replace('<text:list-item>', `<text:list-item${startAttribute(node)}>`)}</text:list>`
      case 'listItem':
        return `<text:list-item>${inner}</text:list-item>`
      default:
        return `<text:p>${inner}</text:p>`
    }
  }

  private marked({ text = '', marks = [] }: RichNode): string {
    // Several spaces in a row are one in OpenDocument, but for this element.
    const words = esc(text).replace(/ {2,}/g, (spaces) => ` <text:s text:c="${spaces.length - 1}"/>`)
    return marks.reduce((inner, { type, attrs }) => {
      if (type === 'link')
        return `<text:a xlink:type="simple" xlink:href="${esc(String(attrs!['href']))}">${inner}</text:a>`
      const style = type === 'colour' ? `colour-${String(attrs!['name'])}` : type
      return `<text:span text:style-name="${style}">${inner}</text:span>`
    }, words)
  }
}
