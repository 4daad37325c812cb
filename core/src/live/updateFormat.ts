import * as decoding from 'lib0/decoding'

// A strict reader of the first binary format of Yjs updates. Yjs's own reader trusts its input (it reads past the end,
// allows empty structs and doubled clients); this one answers null for anything that Yjs itself would not write.

export interface StructId {
  readonly client: number
  readonly clock: number
}

export type StructContent =
  | { readonly kind: 'deleted' | 'gc' }
  | { readonly kind: 'string'; readonly text: string }
  | { readonly kind: 'format'; readonly key: string; readonly json: string }
  | { readonly kind: 'type'; readonly typeRef: number; readonly name: string }
  | { readonly kind: 'any'; readonly values: readonly unknown[] }
  /** Sub-documents, binary data, embeds and the old JSON content: known to Yjs, never part of an answer. */
  | { readonly kind: 'foreign' }

export interface Struct {
  readonly id: StructId
  readonly length: number
  readonly origin: StructId | null
  readonly rightOrigin: StructId | null
  /** The name of a root type, the id of a type, or null where the neighbours tell. */
  readonly parent: string | StructId | null
  readonly parentSub: string | null
  readonly content: StructContent
}

export interface DeletedRange {
  readonly client: number
  readonly clock: number
  readonly length: number
}

export interface ParsedUpdate {
  /** By client, each without gaps from its first clock on. */
  readonly clients: ReadonlyMap<number, readonly Struct[]>
  readonly structs: number
  readonly deletions: readonly DeletedRange[]
}

/** Clocks beyond this cannot be reached by writing. */
export const CLOCK_LIMIT = 2 ** 31
const CLIENT_LIMIT = 2 ** 32
const ORIGIN = 0x80
const RIGHT_ORIGIN = 0x40
const PARENT_SUB = 0x20
const CONTENT_KIND = 0x1f

/**
 * Reads a Yjs update strictly.
 * @param bytes the update and nothing else
 * @param maxStructs more structs or deletions than this are not read
 * @returns null for anything malformed, `'too many'` beyond the limit
 */
export function parseUpdate(bytes: Uint8Array, maxStructs: number): ParsedUpdate | 'too many' | null {
  // An exact copy: a view into a larger buffer would let a forged length read its neighbours.
  const decoder = decoding.createDecoder(bytes.slice())
  try {
    return read(decoder, maxStructs)
  } catch {
    return null
  }
}

class Malformed extends Error {}

function number(decoder: decoding.Decoder, limit: number): number {
  const value = decoding.readVarUint(decoder)
  if (value >= limit) throw new Malformed()
  return value
}

function byte(decoder: decoding.Decoder): number {
  if (decoder.pos >= decoder.arr.length) throw new Malformed()
  return decoding.readUint8(decoder)
}

const readId = (decoder: decoding.Decoder): StructId => ({
  client: number(decoder, CLIENT_LIMIT),
  clock: number(decoder, CLOCK_LIMIT),
})

function read(decoder: decoding.Decoder, maxStructs: number): ParsedUpdate | 'too many' | null {
  const clients = new Map<number, Struct[]>()
  let total = 0
  const clientCount = decoding.readVarUint(decoder)
  for (let block = 0; block < clientCount; block++) {
    const count = decoding.readVarUint(decoder)
    const client = number(decoder, CLIENT_LIMIT)
    let clock = number(decoder, CLOCK_LIMIT)
    if (count === 0 || clients.has(client)) return null
    const structs: Struct[] = []
    for (let index = 0; index < count; index++) {
      if (++total > maxStructs) return 'too many'
      const struct = readStruct(decoder, { client, clock })
      clock += struct.length
      if (struct.length < 1 || clock >= CLOCK_LIMIT) return null
      structs.push(struct)
    }
    clients.set(client, structs)
  }
  const deletions: DeletedRange[] = []
  const seen = new Set<number>()
  const deletingClients = decoding.readVarUint(decoder)
  for (let block = 0; block < deletingClients; block++) {
    const client = number(decoder, CLIENT_LIMIT)
    const count = decoding.readVarUint(decoder)
    if (count === 0 || seen.has(client)) return null
    seen.add(client)
    let after = 0
    for (let index = 0; index < count; index++) {
      if (deletions.length >= maxStructs) return 'too many'
      const clock = number(decoder, CLOCK_LIMIT)
      const length = number(decoder, CLOCK_LIMIT)
      // In order and apart, as Yjs writes them: the same range many times would be looked through as often.
      if (length === 0 || clock < after || clock + length >= CLOCK_LIMIT) return null
      after = clock + length
      deletions.push({ client, clock, length })
    }
  }
  if (decoder.pos !== decoder.arr.length) return null
  return { clients, structs: total, deletions }
}

function readStruct(decoder: decoding.Decoder, id: StructId): Struct {
  const info = byte(decoder)
  const kind = info & CONTENT_KIND
  if (kind === 0) {
    if (info !== 0) throw new Malformed()
    const length = number(decoder, CLOCK_LIMIT)
    return { id, length, origin: null, rightOrigin: null, parent: null, parentSub: null, content: { kind: 'gc' } }
  }
  const origin = info & ORIGIN ? readId(decoder) : null
  const rightOrigin = info & RIGHT_ORIGIN ? readId(decoder) : null
  let parent: string | StructId | null = null
  let parentSub: string | null = null
  if (!origin && !rightOrigin) {
    const isRoot = decoding.readVarUint(decoder)
    if (isRoot > 1) throw new Malformed()
    parent = isRoot ? decoding.readVarString(decoder) : readId(decoder)
    if (info & PARENT_SUB) parentSub = decoding.readVarString(decoder)
  }
  const { content, length } = readContent(decoder, kind)
  return { id, length, origin, rightOrigin, parent, parentSub, content }
}

const FOREIGN = { kind: 'foreign' } as const
const NAMED_TYPES = new Set([3, 5])

function readContent(decoder: decoding.Decoder, kind: number): { content: StructContent; length: number } {
  switch (kind) {
    case 1:
      return { content: { kind: 'deleted' }, length: number(decoder, CLOCK_LIMIT) }
    case 2: {
      const count = decoding.readVarUint(decoder)
      for (let index = 0; index < count; index++) decoding.readVarString(decoder)
      return { content: FOREIGN, length: count }
    }
    case 3:
      decoding.readVarUint8Array(decoder)
      return { content: FOREIGN, length: 1 }
    case 4: {
      const text = decoding.readVarString(decoder)
      return { content: { kind: 'string', text }, length: text.length }
    }
    case 5:
      decoding.readVarString(decoder)
      return { content: FOREIGN, length: 1 }
    case 6:
      return {
        content: { kind: 'format', key: decoding.readVarString(decoder), json: readJson(decoder) },
        length: 1,
      }
    case 7: {
      const typeRef = decoding.readVarUint(decoder)
      if (typeRef > 6) throw new Malformed()
      return {
        content: { kind: 'type', typeRef, name: NAMED_TYPES.has(typeRef) ? decoding.readVarString(decoder) : '' },
        length: 1,
      }
    }
    case 8: {
      const count = decoding.readVarUint(decoder)
      const values: unknown[] = []
      for (let index = 0; index < count; index++) values.push(readScalar(decoder))
      return { content: { kind: 'any', values }, length: count }
    }
    default:
      // 9 is a sub-document; its options may nest without end, so it is not even read.
      throw new Malformed()
  }
}

/** The longest value of a mark that is read, in UTF-16 units. */
const MARK_LIMIT = 256

/** A text that Yjs will parse as JSON while it integrates: what cannot be parsed must not come that far. */
function readJson(decoder: decoding.Decoder): string {
  const text = decoding.readVarString(decoder)
  if (text.length > MARK_LIMIT) throw new Malformed()
  JSON.parse(text)
  return text
}

/** A value of lib0's "any" encoding that is not an object, an array or binary data: those may nest without end. */
function readScalar(decoder: decoding.Decoder): unknown {
  const tag = decoder.arr[decoder.pos]
  if (tag === undefined || tag < 119 || tag === 116 || tag === 117 || tag === 118) throw new Malformed()
  return decoding.readAny(decoder)
}
