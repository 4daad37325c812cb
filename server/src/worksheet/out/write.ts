import { type ArchiveMedium, type WorksheetContent, writeArchive, writeHtml, writeOdt } from '@gavrin/core'

export const WORKSHEET_FORMATS = { pdf: 'pdf', docx: 'docx', odt: 'odt', html: 'html', archive: 'archive' } as const
export type WorksheetFormat = keyof typeof WORKSHEET_FORMATS

/** A worksheet to be made a file of. */
export interface WorksheetFile {
  readonly format: WorksheetFormat
  readonly title: string
  readonly content: WorksheetContent
  readonly media: readonly ArchiveMedium[]
  /** With the answer key in the answer spaces. */
  readonly key: boolean
}

const INK = '#2B3FA8'

/** The bytes of the file; for PDF those of the page that is printed. Runs in a thread of its own. */
export async function writeWorksheet({ format, title, content, media, key }: WorksheetFile): Promise<Uint8Array> {
  switch (format) {
    case 'archive':
      return writeArchive({ title, content, media })
    case 'odt':
      return writeOdt(title, content, media, { key })
    case 'docx':
      // Loaded only where it is needed.
      return (await import('./docx.js')).writeDocx(title, content, media, { key })
    case 'html':
      return new TextEncoder().encode(await page({ title, content, media, key }))
    case 'pdf': {
      const html = await page({ title, content, media, key })
      const { fontRules } = await import('./fonts.js')
      return new TextEncoder().encode(html.replace('</style>', `${await fontRules(html)}</style>`))
    }
  }
}

async function page({ title, content, media, key }: Omit<WorksheetFile, 'format'>): Promise<string> {
  const { default: katex } = await import('katex')
  return writeHtml({
    title,
    content,
    key,
    ink: INK,
    mediaUrl: (id) => {
      const medium = media.find((one) => one.id === id)
      return medium ? `data:${medium.type};base64,${Buffer.from(medium.bytes).toString('base64')}` : ''
    },
    // MathML needs no style sheet and no fonts of its own.
    formula: (tex, large) => katex.renderToString(tex, { output: 'mathml', throwOnError: false, displayMode: large }),
  })
}
