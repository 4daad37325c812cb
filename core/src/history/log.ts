import * as decoding from 'lib0/decoding'
import * as encoding from 'lib0/encoding'
import type { LoggedChange } from './moments.js'

/** A change of an answer, with its bytes. */
export interface LogEntry extends LoggedChange {
  readonly bytes: Uint8Array
}

/**
 * A piece of a log as it is sent, in the encodings of lib0: the addresses and the people in it, then for each change which of them it is
 * of, its number, the milliseconds since the one before, and its bytes.
 */
export function writeLog(entries: readonly LogEntry[]): Uint8Array {
  const encoder = encoding.createEncoder()
  const write = (words: readonly string[]) => {
    encoding.writeVarUint(encoder, words.length)
    for (const word of words) encoding.writeVarString(encoder, word)
    return new Map(words.map((word, at) => [word, at]))
  }
  const spaces = write([...new Set(entries.map(({ space }) => space))])
  const people = write([...new Set(entries.map(({ personId }) => personId))])
  encoding.writeVarUint(encoder, entries.length)
  let before = 0
  for (const { space, seq, personId, at, bytes } of entries) {
    encoding.writeVarUint(encoder, spaces.get(space)!)
    encoding.writeVarUint(encoder, seq)
    encoding.writeVarUint(encoder, people.get(personId)!)
    encoding.writeVarInt(encoder, at - before)
    encoding.writeVarUint8Array(encoder, bytes)
    before = at
  }
  return encoding.toUint8Array(encoder)
}

/** Reads what {@link writeLog} wrote; throws on anything else. */
export function readLog(bytes: Uint8Array): LogEntry[] {
  const decoder = decoding.createDecoder(bytes)
  const read = () => Array.from({ length: decoding.readVarUint(decoder) }, () => decoding.readVarString(decoder))
  const spaces = read()
  const people = read()
  const entries: LogEntry[] = []
  let at = 0
  for (let left = decoding.readVarUint(decoder); left > 0; left--) {
    const space = spaces[decoding.readVarUint(decoder)]
    const seq = decoding.readVarUint(decoder)
    const personId = people[decoding.readVarUint(decoder)]
    if (space === undefined || personId === undefined) throw new Error('no log')
    at += decoding.readVarInt(decoder)
    entries.push({ space, seq, personId, at, bytes: decoding.readVarUint8Array(decoder) })
  }
  return entries
}
