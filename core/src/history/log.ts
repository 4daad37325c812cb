import * as decoding from 'lib0/decoding'
import * as encoding from 'lib0/encoding'

/** A change of an answer, with its bytes. */
export interface LogEntry {
  readonly space: string
  readonly seq: number
  readonly bytes: Uint8Array
}

/** A piece of a log as it is sent: for each change its address, its number and its bytes, in the encodings of lib0. */
export function writeLog(entries: readonly LogEntry[]): Uint8Array {
  const encoder = encoding.createEncoder()
  for (const { space, seq, bytes } of entries) {
    encoding.writeVarString(encoder, space)
    encoding.writeVarUint(encoder, seq)
    encoding.writeVarUint8Array(encoder, bytes)
  }
  return encoding.toUint8Array(encoder)
}

/** Reads what {@link writeLog} wrote; throws on anything else. */
export function readLog(bytes: Uint8Array): LogEntry[] {
  const decoder = decoding.createDecoder(bytes)
  const entries: LogEntry[] = []
  while (decoding.hasContent(decoder))
    entries.push({
      space: decoding.readVarString(decoder),
      seq: decoding.readVarUint(decoder),
      bytes: decoding.readVarUint8Array(decoder),
    })
  return entries
}
