// Standard in browsers and Node alike, but in no library that the core is compiled with.
declare const TextDecoder: new (
  label: string,
  options?: { fatal?: boolean; ignoreBOM?: boolean },
) => { decode(bytes: Uint8Array): string }

export type TextEncodingName = 'UTF-8' | 'UTF-16' | 'Windows-1252'

/** Text out of bytes, and in which encoding it was. */
export interface DecodedText {
  readonly text: string
  readonly encoding: TextEncodingName
}

/**
 * Decodes text of unknown encoding: by its byte order mark, else UTF-16 if every other byte of the beginning is zero,
 * else UTF-8 if it is sound UTF-8, else Windows-1252 (in which every byte means something). A mark of UTF-16 before text that has
 * line ends of one byte is false, and left out.
 * @param encoding overrules the guess
 */
export function decodeText(bytes: Uint8Array, encoding?: TextEncodingName): DecodedText {
  if (isFalseMark(bytes)) return decodeText(bytes.subarray(2), encoding)
  const label = utf16Label(bytes)
  const guess: TextEncodingName = label ? 'UTF-16' : isUtf8(bytes) ? 'UTF-8' : 'Windows-1252'
  const used = encoding ?? guess
  if (used === 'Windows-1252') return { text: windows1252(bytes), encoding: used }
  const decoder = new TextDecoder(used === 'UTF-16' ? (label ?? 'utf-16le') : 'utf-8')
  return { text: decoder.decode(bytes), encoding: used }
}

// Bytes 80 to 9F of Windows-1252 as the Encoding Standard maps them. Some releases of Node decode them as Latin-1.
const HIGH =
  '\u20AC\u0081\u201A\u0192\u201E\u2026\u2020\u2021\u02C6\u2030\u0160\u2039\u0152\u008D\u017D\u008F\u0090\u2018\u2019\u201C\u201D\u2022\u2013\u2014\u02DC\u2122\u0161\u203A\u0153\u009D\u017E\u0178'

function windows1252(bytes: Uint8Array): string {
  return new TextDecoder('latin1').decode(bytes).replace(/[\x80-\x9F]/g, (letter) => HIGH[letter.charCodeAt(0) - 0x80]!)
}

function utf16Label(bytes: Uint8Array): 'utf-16le' | 'utf-16be' | null {
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return 'utf-16le'
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return 'utf-16be'
  const head = bytes.subarray(0, 400)
  if (head.length < 4) return null
  const zeros = [0, 0]
  head.forEach((byte, at) => {
    if (byte === 0) zeros[at % 2]!++
  })
  const half = head.length / 2
  if (zeros[1]! > 0.6 * half && zeros[0]! < 0.1 * half) return 'utf-16le'
  if (zeros[0]! > 0.6 * half && zeros[1]! < 0.1 * half) return 'utf-16be'
  return null
}

/** In UTF-16 a line end or a delimiter has a byte of zero beside it. */
function isFalseMark(bytes: Uint8Array): boolean {
  const isMarked = (bytes[0] === 0xff && bytes[1] === 0xfe) || (bytes[0] === 0xfe && bytes[1] === 0xff)
  const head = bytes.subarray(2, 2_000)
  return isMarked && !head.includes(0) && [0x0a, 0x2c, 0x3b, 0x09].some((sign) => head.includes(sign))
}

function isUtf8(bytes: Uint8Array): boolean {
  try {
    new TextDecoder('utf-8', { fatal: true }).decode(bytes)
    return true
  } catch {
    return false
  }
}
