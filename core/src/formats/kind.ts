import { isZip } from './zip.js'

/** What the bytes of a file are, as far as a list of students is concerned. */
export type FileKind = 'text' | 'archive' | 'old or locked workbook' | 'document or picture' | 'unknown'

const starts = (bytes: Uint8Array, signature: readonly number[]) => signature.every((byte, at) => bytes[at] === byte)

const DOCUMENTS: readonly (readonly number[])[] = [
  [0x25, 0x50, 0x44, 0x46], // PDF
  [0x89, 0x50, 0x4e, 0x47], // PNG
  [0xff, 0xd8, 0xff], // JPEG
  [0x47, 0x49, 0x46, 0x38], // GIF
  [0x52, 0x49, 0x46, 0x46], // RIFF: WebP
]

/** Tells the kind of a file from its bytes, whatever its name says. */
export function fileKind(bytes: Uint8Array): FileKind {
  if (isZip(bytes)) return 'archive'
  if (starts(bytes, [0xd0, 0xcf, 0x11, 0xe0])) return 'old or locked workbook'
  if (DOCUMENTS.some((signature) => starts(bytes, signature))) return 'document or picture'
  const head = bytes.subarray(0, 2_000)
  const utf16 = (head[0] === 0xff && head[1] === 0xfe) || (head[0] === 0xfe && head[1] === 0xff)
  let odd = 0
  let zeros = 0
  for (const byte of head) {
    if (byte === 0) zeros++
    else if (byte < 9 || (byte > 13 && byte < 32 && byte !== 27)) odd++
  }
  if (odd > head.length / 50) return 'unknown'
  // Half zeros are UTF-16 without a mark; a few are no text.
  return utf16 || zeros === 0 || zeros > 0.3 * head.length ? 'text' : 'unknown'
}

/** Why a file of this kind cannot be brought in as a list; empty if it can. */
export function kindProblem(kind: FileKind): string {
  switch (kind) {
    case 'text':
    case 'archive':
      return ''
    case 'old or locked workbook':
      return 'This workbook is locked with a password, or in the old format (.xls): save it as .xlsx, .ods or .csv without a password, then bring it in.'
    case 'document or picture':
      return 'This is a document or a picture, not a list: bring in a spreadsheet (.xlsx, .ods, .csv) or paste the rows.'
    case 'unknown':
      return 'This kind of file cannot be read as a list: bring in a spreadsheet (.xlsx, .ods, .csv) or paste the rows.'
  }
}
