import {
  type BroughtIn,
  type BroughtPicture,
  DOCUMENT_LIMITS,
  type DocumentKind,
  type MarkupRead,
  type Outcome,
  decodeText,
  fine,
  leftOutOfDocx,
  markListNumbers,
  proposeSpaces,
  readArchive,
  readMarkdown,
  readMarkup,
  readOdt,
  readPlainText,
  refuse,
  showBlanks,
  takeListNumbers,
  unzipWithin,
  zipNames,
} from '@gavrin/core'
import { strFromU8, strToU8, zipSync } from 'fflate'
import { randomUUID } from 'node:crypto'

const newId = (): string => randomUUID().replaceAll('-', '').slice(0, 16)

/** Reads a document into a worksheet, its blanks proposed as answer spaces. Runs in a thread of its own. */
export async function readDocument(kind: DocumentKind, bytes: Uint8Array): Promise<Outcome<BroughtIn>> {
  switch (kind) {
    case 'docx':
      return readDocx(bytes)
    case 'odt': {
      const read = readOdt(bytes)
      if (!read.ok) return read
      const pictures = new Pictures((address) => read.value.pictures.get(address) ?? null)
      return brought(readMarkup(read.value.html, { newId, pictureKey: pictures.key }), pictures, read.value.notes)
    }
    case 'archive': {
      const read = readArchive(bytes)
      if (!read.ok) return read
      const { title, content, media } = read.value
      // An archive is a worksheet already: its blanks were decided on.
      return fine({
        title,
        content,
        pictures: media.map(({ id, bytes: data }) => ({ key: id, bytes: data })),
        notes: [],
      })
    }
    case 'html':
    case 'markdown':
    case 'text': {
      if (bytes.length > DOCUMENT_LIMITS.text)
        return refuse({
          code: 'file-too-large',
          field: 'file',
          sentence: `A text has up to ${DOCUMENT_LIMITS.text / 1_000_000} MB: bring in the part that you need.`,
        })
      const { text } = decodeText(bytes)
      if (kind === 'markdown' && longestParagraph(text) > DOCUMENT_LIMITS.paragraph)
        return refuse({
          code: 'file-too-much',
          field: 'file',
          sentence: `A paragraph of this text has more than ${DOCUMENT_LIMITS.paragraph / 1_000},000 signs: part it with empty lines.`,
        })
      const pictures = new Pictures(dataAddress)
      if (kind === 'text') return brought(readPlainText(text, newId), pictures, [])
      const read = kind === 'html' ? readMarkup : readMarkdown
      return brought(read(text, { newId, pictureKey: pictures.key }), pictures, [])
    }
    case 'pdf':
    case 'picture':
      return refuse({
        code: 'file-kind',
        field: 'file',
        sentence: 'Pages and pictures are laid out in the browser before they are kept.',
      })
  }
}

/** Signs of the longest paragraph, without pictures that stand in the text: a reader of marks goes over each many times. */
const longestParagraph = (text: string) =>
  text
    .replace(/data:image\/[a-z+]+;base64,[A-Za-z0-9+/=]+/g, '')
    .split(/\n[ \t\r]*\n/)
    .reduce((longest, { length }) => Math.max(longest, length), 0)

/** The pictures of a document, each under a key of its own, once however often it is shown. */
class Pictures {
  readonly all: BroughtPicture[] = []
  private readonly keys = new Map<string, string>()

  constructor(private readonly bytesOf: (address: string) => Uint8Array | null) {}

  readonly key = (address: string): string | null => {
    const known = this.keys.get(address)
    if (known) return known
    const bytes = this.bytesOf(address)
    if (!bytes || bytes.length > DOCUMENT_LIMITS.pictureBytes || this.all.length >= DOCUMENT_LIMITS.pictures)
      return null
    const key = `picture-${this.all.length + 1}`
    this.all.push({ key, bytes })
    this.keys.set(address, key)
    return key
  }
}

/** The bytes of a picture that stands in the address itself. */
function dataAddress(address: string): Uint8Array | null {
  const found = /^data:image\/(?:png|jpeg|webp|gif);base64,([A-Za-z0-9+/=\s]+)$/i.exec(address)
  return found ? new Uint8Array(Buffer.from(found[1]!, 'base64')) : null
}

function brought(read: MarkupRead, pictures: Pictures, notes: readonly string[]): Outcome<BroughtIn> {
  if (read.content.blocks.length === 0)
    return refuse({
      code: 'file-empty',
      field: 'file',
      sentence: 'There is nothing in this document that a worksheet can show.',
    })
  return fine({
    title: read.title,
    content: proposeSpaces(read.content, newId),
    pictures: pictures.all,
    notes: [...notes, ...read.notes],
  })
}

const BROKEN = refuse({
  code: 'file-broken',
  field: 'file',
  sentence: 'This document is damaged: save it again where it came from.',
})

async function readDocx(bytes: Uint8Array): Promise<Outcome<BroughtIn>> {
  const names = zipNames(bytes)
  if (!names.ok) return names
  // Unpacked here within limits first, without macros: the reader itself would unpack without any limit.
  const files = unzipWithin(bytes, (name) => /\.(xml|rels|png|jpe?g|gif|webp|bmp|tiff?|emf|wmf)$/i.test(name))
  if (!files.ok) return files
  const main = files.value['word/document.xml']
  if (!main) return BROKEN
  const xml = strFromU8(main)
  const packed = zipSync(
    { ...files.value, 'word/document.xml': strToU8(markListNumbers(showBlanks(xml))) },
    { level: 0 },
  )
  // Loaded only where it is needed: it takes longer to load than most documents to read.
  const { default: mammoth } = await import('mammoth')
  const found = new Map<string, Uint8Array>()
  let html: string
  let unread = 0
  try {
    const read = await mammoth.convertToHtml(
      { buffer: Buffer.from(packed) },
      {
        styleMap: ["br[type='page'] => hr.page-break", 'u => u', "p[style-name='Title'] => h1:fresh"],
        convertImage: mammoth.images.imgElement(async (image) => {
          const src = `part-${found.size + 1}`
          if (/emf|wmf/i.test(image.contentType)) unread++
          else found.set(src, new Uint8Array(await image.readAsBuffer()))
          return { src }
        }),
      },
    )
    html = takeListNumbers(read.value)
  } catch {
    return BROKEN
  }
  const pictures = new Pictures((address) => found.get(address) ?? null)
  const notes = leftOutOfDocx(names.value, xml)
  if (unread > 0) notes.push(`${unread} drawings in an old Windows format were left out: put them in as pictures.`)
  return brought(readMarkup(html, { newId, pictureKey: pictures.key }), pictures, notes)
}
