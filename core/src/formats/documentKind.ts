import { type Outcome, fine, refuse } from '../errors/problem.js'
import { fileKind } from './kind.js'
import { decodeText } from './text.js'
import { isZip, zipNames } from './zip.js'

/** What a file is, as far as worksheets are concerned. */
export type DocumentKind = 'docx' | 'odt' | 'archive' | 'pdf' | 'picture' | 'html' | 'markdown' | 'text'

const starts = (bytes: Uint8Array, signature: readonly number[], at = 0) =>
  signature.every((byte, index) => bytes[at + index] === byte)
const ascii = (text: string) => [...text].map((letter) => letter.charCodeAt(0))

/**
 * Tells from its bytes what a file is; of texts, the name and the first lines tell which. A problem with a sentence for
 * whatever cannot become a worksheet.
 */
export function documentKind(bytes: Uint8Array, name: string): Outcome<DocumentKind> {
  const problem = (code: string, sentence: string) => refuse({ code, field: 'file', sentence })
  if (bytes.length === 0) return problem('file-empty', 'This file is empty.')
  if (starts(bytes, ascii('%PDF'))) return fine('pdf')
  const isPicture =
    starts(bytes, [0x89, 0x50, 0x4e, 0x47]) ||
    starts(bytes, [0xff, 0xd8, 0xff]) ||
    starts(bytes, ascii('GIF8')) ||
    (starts(bytes, ascii('RIFF')) && starts(bytes, ascii('WEBP'), 8)) ||
    starts(bytes, ascii('ftypavif'), 4)
  if (isPicture) return fine('picture')
  if (starts(bytes, ascii('ftyphei'), 4) || starts(bytes, ascii('ftypmif1'), 4))
    return problem(
      'picture-heic',
      'This photograph is in a format (HEIC) that browsers cannot show: save it as JPEG and bring that in.',
    )
  if (isZip(bytes)) {
    const names = zipNames(bytes)
    if (!names.ok) return names
    if (names.value.includes('worksheet.json')) return fine('archive')
    if (names.value.includes('word/document.xml')) return fine('docx')
    if (names.value.includes('content.xml') && !/\.(ods|odp|odg)$/i.test(name)) return fine('odt')
    if (names.value.some((inner) => /^(xl|ppt)\//.test(inner)))
      return problem('file-kind', 'This is a spreadsheet or a presentation: save it as PDF and bring that in.')
    return problem('file-kind', 'This archive holds no document: unpack it and bring in the document alone.')
  }
  if (starts(bytes, [0xd0, 0xcf, 0x11, 0xe0]))
    return problem(
      'file-locked',
      'This document is locked with a password, or in an old format (.doc): save it as .docx or .odt without a password, then bring it in.',
    )
  if (starts(bytes, ascii('{\\rtf')))
    return problem('file-kind', 'This is an RTF file: save it as .docx or .odt, then bring it in.')
  if (fileKind(bytes) !== 'text')
    return problem(
      'file-kind',
      'This kind of file cannot become a worksheet: bring in DOCX, ODT, PDF, Markdown, HTML, text or a picture.',
    )
  if (/\.(html?|xhtml)$/i.test(name)) return fine('html')
  if (/\.(md|markdown)$/i.test(name)) return fine('markdown')
  const head = decodeText(bytes.subarray(0, 1_000)).text.trimStart()
  return fine(/^(<!doctype html|<html|<body|<p>|<h[1-6]>)/i.test(head) ? 'html' : 'text')
}
