import {
  type AnswerSpace,
  type ArchiveMedium,
  type Block,
  type RichNode,
  type TableBlock,
  type WorksheetContent,
  columnCount,
  isAnswerSpace,
  drawnSpace,
  keyWords,
  pointWords,
  pageMillimetres,
  printColour,
  languageOf,
} from '@gavrin/core'
import {
  AlignmentType,
  type Document as DocxDocument,
  Document,
  ExternalHyperlink,
  Footer,
  HeadingLevel,
  ImageRun,
  LevelFormat,
  PageBreak,
  Packer,
  Paragraph,
  type ParagraphChild,
  Table,
  TableCell,
  TableRow,
  TextRun,
  WidthType,
} from 'docx'

const INK = '2B3FA8'
const HEADINGS = [HeadingLevel.HEADING_1, HeadingLevel.HEADING_2, HeadingLevel.HEADING_3] as const
const twips = (millimetres: number) => Math.round((millimetres * 1440) / 25.4)
const MARGIN = 18
/** Pixels of a page's text, at 96 an inch. */
const textPixels = (content: WorksheetContent) => ((pageMillimetres(content.page).width - 2 * MARGIN) * 96) / 25.4

/** A worksheet as an Office Open XML document: print as print, answer spaces as blanks, with the key in them if wanted. */
export async function writeDocx(
  title: string,
  content: WorksheetContent,
  media: readonly ArchiveMedium[],
  { key }: { readonly key: boolean },
): Promise<Uint8Array> {
  const writer = new DocxWriter(content, media, key)
  const language = languageOf(content)
  const { width, height } = pageMillimetres(content.page)
  const children = content.blocks.flatMap((block) => writer.block(block))
  const document: DocxDocument = new Document({
    title,
    creator: '',
    numbering: {
      config: [...writer.starts].map((start) => ({
        reference: numbersFrom(start),
        levels: [0, 1, 2].map((level) => ({
          level,
          start: level === 0 ? start : 1,
          format: LevelFormat.DECIMAL,
          text: `%${level + 1}.`,
          alignment: AlignmentType.START,
          style: { paragraph: { indent: { left: 480 * (level + 1), hanging: 360 } } },
        })),
      })),
    },
    styles: {
      default: {
        document: {
          run: { font: 'Arial', size: 23, ...(language && { language: { value: language } }) },
          paragraph: { spacing: { after: 120 } },
        },
      },
    },
    sections: [
      {
        properties: {
          page: {
            size: { width: twips(width), height: twips(height) },
            margin: { top: twips(MARGIN), bottom: twips(MARGIN), left: twips(MARGIN), right: twips(MARGIN) },
          },
        },
        ...(content.source && {
          footers: {
            default: new Footer({
              children: [
                new Paragraph({ children: [new TextRun({ text: content.source, size: 16, color: '55616E' })] }),
              ],
            }),
          },
        }),
        children,
      },
    ],
  })
  return new Uint8Array(await Packer.toBuffer(document))
}

const numbersFrom = (start: number) => `numbers-${start}`
const startOf = ({ attrs }: RichNode) => Number(attrs?.['start'] ?? 1)

class DocxWriter {
  private lists = 0
  /** The numbers that lists begin with. */
  readonly starts = new Set<number>()

  constructor(
    private readonly content: WorksheetContent,
    private readonly media: readonly ArchiveMedium[],
    private readonly key: boolean,
  ) {}

  block(block: Block): (Paragraph | Table)[] {
    switch (block.kind) {
      case 'text':
        return this.rich(block.rich)
      case 'picture':
        return [new Paragraph({ children: this.picture(block.media, block.alt, block.width / 100) })]
      case 'page break':
        return [new Paragraph({ children: [new PageBreak()] })]
      case 'link':
        return [
          new Paragraph({
            children: [
              new ExternalHyperlink({
                link: block.url,
                children: [new TextRun({ text: block.title || block.url, style: 'Hyperlink' })],
              }),
              ...(block.note ? [new TextRun({ text: block.note, break: 1 })] : []),
            ],
          }),
        ]
      case 'table':
        return [this.table(block), new Paragraph({})]
      case 'backdrop':
        return [
          new Paragraph({ children: this.picture(block.media, block.alt, 1) }),
          ...block.spaces.flatMap(({ space }) =>
            this.key && keyWords(space)
              ? [new Paragraph({ children: [...this.answer(space), ...this.points(space)] })]
              : [],
          ),
        ]
      case 'section':
        return [
          ...(block.title
            ? [new Paragraph({ heading: HeadingLevel.HEADING_2, children: [new TextRun(block.title)] })]
            : []),
          ...block.blocks.flatMap((inner) => this.block(inner)),
        ]
      default:
        return isAnswerSpace(block) ? this.space(block) : []
    }
  }

  private picture(id: string, alt: string, share: number): ParagraphChild[] {
    const medium = this.media.find((one) => one.id === id)
    if (!medium || medium.type === 'image/webp') return []
    const width = Math.round(textPixels(this.content) * share)
    return [
      new ImageRun({
        type: medium.type === 'image/png' ? 'png' : 'jpg',
        data: Buffer.from(medium.bytes),
        transformation: { width, height: Math.round((width * medium.height) / Math.max(1, medium.width)) },
        altText: { name: alt || 'picture', title: alt, description: alt },
      }),
    ]
  }

  private answer(space: AnswerSpace): TextRun[] {
    return keyWords(space)
      .split('\n')
      .map((text, at) => new TextRun({ text, color: INK, ...(at > 0 && { break: 1 }) }))
  }

  private points({ points }: AnswerSpace): TextRun[] {
    return points === undefined ? [] : [new TextRun({ text: ` (${pointWords(points)})`, color: '55616E', size: 19 })]
  }

  private space(space: AnswerSpace): Paragraph[] {
    const points = this.points(space)
    // Spaces of several lines have theirs on a line of their own.
    const own = points.length > 0 ? [new Paragraph({ children: points })] : []
    const isFilled = this.key && keyWords(space) !== ''
    const blank = (letters: number) => new TextRun('_'.repeat(letters))
    const one = (...children: ParagraphChild[]) => new Paragraph({ children })
    const drawn = drawnSpace(space)
    switch (drawn.is) {
      case 'blank':
        return [
          one(
            ...(isFilled ? this.answer(space) : [blank(drawn.letters)]),
            ...(drawn.size === 'number' ? [new TextRun(` ${drawn.unit}`)] : []),
            ...points,
          ),
        ]
      case 'lines':
        if (isFilled) return [one(...this.answer(space), ...points)]
        return [
          ...(drawn.starter ? [one(new TextRun(drawn.starter))] : []),
          ...Array.from({ length: drawn.lines }, () => one(blank(68))),
          ...own,
        ]
      case 'options':
        return [
          ...drawn.options.map(({ id, text }) => {
            const isRight = this.key && drawn.right.includes(id)
            return one(new TextRun({ text: `${isRight ? '☒' : '☐'} ${text}`, ...(isRight && { color: INK }) }))
          }),
          ...own,
        ]
      case 'canvas':
        return [
          one(...(drawn.ground ? this.picture(drawn.ground, '', 1) : [])),
          ...(isFilled ? [one(...this.answer(space))] : Array.from({ length: 6 }, () => one())),
          ...own,
        ]
      case 'request':
        return [
          one(new TextRun(space.label ?? `Hand in ${drawn.what}`), ...points),
          ...(isFilled ? [one(...this.answer(space))] : []),
        ]
    }
  }

  private table(table: TableBlock): Table {
    const columns = columnCount(table)
    return new Table({
      width: { size: 100, type: WidthType.PERCENTAGE },
      columnWidths: Array.from({ length: columns }, () => Math.round(twips(170) / columns)),
      rows: table.rows.map(
        (row) =>
          new TableRow({
            children: row.map(
              ({ across, down, rich, space }) =>
                new TableCell({
                  columnSpan: across,
                  rowSpan: down,
                  children: space
                    ? [new Paragraph({ children: [...(this.key ? this.answer(space) : []), ...this.points(space)] })]
                    : rich.length
                      ? rich.flatMap((node) => this.rich(node)).filter((child) => child instanceof Paragraph)
                      : [new Paragraph({})],
                }),
            ),
          }),
      ),
    })
  }

  private rich(node: RichNode): Paragraph[] {
    switch (node.type) {
      case 'heading':
        return [
          new Paragraph({
            heading: HEADINGS[Number(node.attrs!['level']) - 1] ?? HeadingLevel.HEADING_3,
            children: this.inline(node),
          }),
        ]
      case 'bulletList':
      case 'orderedList':
        return this.list(node, 0, ++this.lists, startOf(node))
      default:
        return [new Paragraph({ children: this.inline(node) })]
    }
  }

  private list(node: RichNode, level: number, instance: number, start: number): Paragraph[] {
    this.starts.add(start)
    return (node.content ?? []).flatMap((item) =>
      (item.content ?? []).flatMap((child) => {
        if (child.type !== 'paragraph') return this.list(child, Math.min(2, level + 1), instance, start)
        const children = this.inline(child)
        return [
          node.type === 'bulletList'
            ? new Paragraph({ bullet: { level }, children })
            : new Paragraph({ numbering: { reference: numbersFrom(start), level, instance }, children }),
        ]
      }),
    )
  }

  private inline(node: RichNode): ParagraphChild[] {
    return (node.content ?? []).flatMap((child): ParagraphChild | ParagraphChild[] => {
      switch (child.type) {
        case 'hardBreak':
          return new TextRun({ break: 1 })
        case 'formula':
          return new TextRun(String(child.attrs!['tex']))
        case 'gap': {
          const space = child.attrs!['space'] as AnswerSpace & { readonly width: number }
          return [
            ...(this.key && keyWords(space) ? this.answer(space) : [new TextRun('_'.repeat(space.width))]),
            ...this.points(space),
          ]
        }
      }
      const has = (type: string) => child.marks?.find((mark) => mark.type === type)
      const colour = has('colour')
      const run = new TextRun({
        text: child.text ?? '',
        bold: !!has('bold'),
        italics: !!has('italic'),
        ...(has('underline') && { underline: {} }),
        ...(has('sub') && { subScript: true }),
        ...(has('sup') && { superScript: true }),
        ...(colour && { color: printColour(colour.attrs!['name']).slice(1) }),
      })
      const link = has('link')
      return link ? new ExternalHyperlink({ link: String(link.attrs!['href']), children: [run] }) : run
    })
  }
}
