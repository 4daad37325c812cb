import * as Y from 'yjs'
import type { AnswerKind } from '../worksheet/content.js'
import type { KeptAs } from '../worksheet/kinds/kind.js'
import { FILE_NAME_LIMIT, ONE_CHOICE, PASSAGE_ELEMENTS, PASSAGE_MARKS, STROKE, STROKE_LIMIT, rootOf } from './space.js'
import { itemsAdded, itemsOf, updateCost } from './cost.js'
import { type NewText, ROOT_KEY, outgrows } from './room.js'
import { type ParsedUpdate, type Struct, type StructId, parseUpdate } from './updateFormat.js'

/** What the inspection goes by besides the document. */
export interface InspectionRules {
  readonly kind: AnswerKind
  /** Whether the writer may bring these structs under this client id: registered for this space, or a given beginning. */
  readonly owns: (client: number, structs: readonly Struct[]) => boolean
  /** More structs than this are not looked at in one go. */
  readonly maxStructs: number
  /** What applying it may cost, in looks of Yjs at other items; see `updateCost`. */
  readonly maxSteps: number
  /** More items than this a document may not have. */
  readonly maxItems: number
  /** Whether the answer must keep to the letters it has room for (see `outgrows`). */
  readonly hasRoom: boolean
}

/**
 * - `apply`: sound; apply exactly `bytes` (what the document has already is taken out), in this same tick; `steps` is what
 *   that costs at most
 * - `known`: sound, and nothing in it is new
 * - `missing`: it rests on something this document does not have; ask for it
 * - `refuse`: must not be applied
 */
export type Inspection =
  | { readonly verdict: 'apply'; readonly bytes: Uint8Array; readonly steps: number }
  | { readonly verdict: 'known' }
  | { readonly verdict: 'missing' }
  | {
      readonly verdict: 'refuse'
      readonly code: 'malformed' | 'too-many' | 'full' | 'not-yours' | 'not-an-answer'
      readonly sentence: string
    }

/** How deep lists in a passage may nest, in elements. */
const DEPTH_LIMIT = 24
const ATTRIBUTE_LIMIT = 64
/** How many looks of the count of letters cost as much as one of an integration. */
const LOOKS_PER_STEP = 20

/**
 * Inspects an update before it is applied to the document of one answer space: its form, what it rests on, who wrote it,
 * and whether what it adds can stand in an answer of this kind. Synchronous, so that nothing comes between it and applying.
 * @param doc the document as it is now, its root opened
 * @param bytes the update as received, in the first binary format of Yjs
 */
export function inspectUpdate(doc: Y.Doc, bytes: Uint8Array, rules: InspectionRules): Inspection {
  let parsed = parseUpdate(bytes, rules.maxStructs)
  if (parsed === null) return MALFORMED
  if (parsed === 'too many') return TOO_MANY
  let fresh = bytes
  if (overlaps(doc, parsed)) {
    // Yjs looks at the neighbours even of structs it has: only what is new may reach it.
    try {
      fresh = Y.diffUpdate(bytes.slice(), Y.encodeStateVector(doc))
    } catch {
      return MALFORMED
    }
    parsed = parseUpdate(fresh, rules.maxStructs)
    if (parsed === null || parsed === 'too many') return MALFORMED
  }
  const added = new NewStructs(doc, rules.kind)
  const refusal = added.check(parsed, rules.owns)
  if (refusal) return refusal
  const deletions = checkDeletions(doc, parsed)
  if (deletions === 'missing') return MISSING
  if (parsed.structs === 0 && deletions === 'known') return { verdict: 'known' }
  if (itemsOf(doc) + itemsAdded(parsed) > rules.maxItems) return FULL
  const steps = updateCost(doc, parsed, rules.kind, rules.maxSteps)
  if (steps > rules.maxSteps) return TOO_MANY
  const room = rules.hasRoom ? outgrows(doc, rules.kind, added.texts, parsed.deletions) : null
  if (room?.outgrows) return NO_ROOM
  return { verdict: 'apply', bytes: fresh, steps: steps + Math.ceil((room?.looks ?? 0) / LOOKS_PER_STEP) }
}

const MALFORMED: Inspection = { verdict: 'refuse', code: 'malformed', sentence: 'This change could not be read.' }
const TOO_MANY: Inspection = {
  verdict: 'refuse',
  code: 'too-many',
  sentence: 'This change is too large to take at once.',
}
const FULL: Inspection = {
  verdict: 'refuse',
  code: 'full',
  sentence: 'This answer space is full: nothing more can be added to it.',
}
const NO_ROOM: Inspection = {
  verdict: 'refuse',
  code: 'full',
  sentence: 'This is more than the answer space has room for: write or paste less of it.',
}
const NOT_YOURS: Inspection = { verdict: 'refuse', code: 'not-yours', sentence: 'This change was not made here.' }
const NOT_AN_ANSWER: Inspection = {
  verdict: 'refuse',
  code: 'not-an-answer',
  sentence: 'This change holds something that an answer cannot hold.',
}
const MISSING: Inspection = { verdict: 'missing' }

function overlaps(doc: Y.Doc, parsed: ParsedUpdate): boolean {
  for (const [client, structs] of parsed.clients) if (structs[0]!.id.clock < Y.getState(doc.store, client)) return true
  return false
}

function checkDeletions(doc: Y.Doc, parsed: ParsedUpdate): 'missing' | 'known' | 'new' {
  let found: 'known' | 'new' = 'known'
  for (const { client, clock, length } of parsed.deletions) {
    const added = parsed.clients.get(client)
    const last = added?.[added.length - 1]
    const state = last ? last.id.clock + last.length : Y.getState(doc.store, client)
    if (clock + length > state) return 'missing'
    if (found === 'known' && !isDeleted(doc, client, clock, length)) found = 'new'
  }
  return found
}

function isDeleted(doc: Y.Doc, client: number, clock: number, length: number): boolean {
  const structs = doc.store.clients.get(client)
  if (!structs || Y.getState(doc.store, client) < clock + length) return false
  for (
    let index = Y.findIndexSS(structs, clock);
    index < structs.length && structs[index]!.id.clock < clock + length;
    index++
  )
    if (!structs[index]!.deleted) return false
  return true
}

/** What a struct is a child of: the root, a type, or something that is gone. */
type Parent =
  | { readonly at: 'root' | 'gone'; readonly shape: KeptAs; readonly depth: number; readonly key: string }
  | TypeParent
interface TypeParent {
  readonly at: 'type'
  readonly shape: 'element' | 'rich-text'
  readonly depth: number
  readonly key: string
  /** Of a text: the key of the paragraph it stands in. */
  readonly holder: string
}

interface Place {
  readonly parent: Parent
  readonly parentSub: string | null
}

interface Known {
  readonly length: number
  readonly place: Place | null
  /** What it is for children: a type of its own, or gone. */
  readonly asParent: Parent | null
}

/** The structs of an update, taken in the order in which they can be integrated, each checked as it is taken. */
class NewStructs {
  /** The text among them that is to stand in the answer. */
  readonly texts: NewText[] = []
  private readonly root: Parent
  private readonly added = new Map<number, { start: number; structs: Struct[]; known: Known[] }>()

  constructor(
    private readonly doc: Y.Doc,
    private readonly kind: AnswerKind,
  ) {
    this.root = { at: 'root', shape: rootOf(kind).shape, depth: 0, key: ROOT_KEY }
  }

  check(parsed: ParsedUpdate, owns: InspectionRules['owns']): Inspection | null {
    for (const [client, structs] of parsed.clients) {
      if (structs[0]!.id.clock > Y.getState(this.doc.store, client)) return MISSING
      if (!owns(client, structs)) return NOT_YOURS
      this.added.set(client, { start: structs[0]!.id.clock, structs: [], known: [] })
    }
    const queues = [...parsed.clients.values()].map((structs) => ({ structs, next: 0 }))
    const lasts = new Map([...parsed.clients].map(([client, structs]) => [client, structs.at(-1)!]))
    let left = parsed.structs
    while (left > 0) {
      const before = left
      for (const queue of queues) {
        while (queue.next < queue.structs.length) {
          const struct = queue.structs[queue.next]!
          const state = this.rests(struct, lasts)
          if (state === 'missing') return MISSING
          if (state === 'malformed') return MALFORMED
          if (state === 'waits') break
          const known = this.take(struct)
          if ('verdict' in known) return known
          const added = this.added.get(struct.id.client)!
          added.structs.push(struct)
          added.known.push(known)
          queue.next++
          left--
        }
      }
      // Structs that wait for each other in a ring can never be integrated.
      if (left === before) return MALFORMED
    }
    return null
  }

  /** Whether all that a struct refers to is there. */
  private rests(struct: Struct, lasts: ReadonlyMap<number, Struct>): 'ready' | 'waits' | 'missing' | 'malformed' {
    const parent = typeof struct.parent === 'object' ? struct.parent : null
    let waits = false
    for (const id of [struct.origin, struct.rightOrigin, parent]) {
      if (!id) continue
      if (id.client === struct.id.client && id.clock >= struct.id.clock) return 'malformed'
      if (this.has(id)) continue
      const last = lasts.get(id.client)
      if (!last || id.clock >= last.id.clock + last.length) return 'missing'
      waits = true
    }
    return waits ? 'waits' : 'ready'
  }

  private has({ client, clock }: StructId): boolean {
    if (clock < Y.getState(this.doc.store, client)) return true
    const added = this.added.get(client)
    const last = added?.structs.at(-1)
    return last !== undefined && clock < last.id.clock + last.length
  }

  private find({ client, clock }: StructId): Known {
    if (clock < Y.getState(this.doc.store, client)) return this.fromStore(client, clock)
    const { structs, known } = this.added.get(client)!
    let low = 0
    let high = structs.length - 1
    while (low < high) {
      const middle = (low + high + 1) >> 1
      if (structs[middle]!.id.clock <= clock) low = middle
      else high = middle - 1
    }
    return known[low]!
  }

  private fromStore(client: number, clock: number): Known {
    const structs = this.doc.store.clients.get(client)!
    const struct = structs[Y.findIndexSS(structs, clock)]!
    if (!(struct instanceof Y.Item)) return { length: struct.length, place: null, asParent: GONE }
    const type = struct.content instanceof Y.ContentType ? struct.content.type : null
    return {
      length: struct.length,
      place: { parent: this.parentOfItem(struct), parentSub: struct.parentSub },
      asParent: type ? typeParent(type, depthOf(struct) + 1) : struct.deleted ? GONE : null,
    }
  }

  private parentOfItem(item: Y.Item): Parent {
    const type = item.parent as Y.AbstractType<unknown> | null
    if (!type) return GONE
    if (!type._item) return this.root
    return typeParent(type, depthOf(type._item) + 1)
  }

  private take(struct: Struct): Known | Inspection {
    const { content } = struct
    if (content.kind === 'gc') return { length: struct.length, place: null, asParent: GONE }
    if (content.kind === 'foreign') return NOT_AN_ANSWER
    const place = this.placeOf(struct)
    if ('verdict' in place) return place
    const { parent, parentSub } = place
    if (parentSub !== null && parentSub.length > ATTRIBUTE_LIMIT) return NOT_AN_ANSWER
    if (parent.depth > DEPTH_LIMIT) return NOT_AN_ANSWER
    if (parent.at !== 'gone' && content.kind !== 'deleted' && !fits(struct, parent, parentSub)) return NOT_AN_ANSWER
    let asParent: Parent | null = content.kind === 'deleted' || parent.at === 'gone' ? GONE : null
    if (asParent === null && content.kind === 'type')
      asParent = {
        at: 'type',
        shape: content.typeRef === 6 ? 'rich-text' : 'element',
        depth: parent.depth + 1,
        key: `${struct.id.client}:${struct.id.clock}`,
        holder: parent.key,
      }
    if (content.kind === 'string' && parent.at !== 'gone')
      this.texts.push({
        ...struct.id,
        length: struct.length,
        holder: parent.at === 'type' ? parent.holder : parent.key,
      })
    return { length: struct.length, place, asParent }
  }

  private placeOf(struct: Struct): Place | Inspection {
    if (typeof struct.parent === 'string') {
      if (struct.parent !== rootOf(this.kind).name) return NOT_AN_ANSWER
      return { parent: this.root, parentSub: struct.parentSub }
    }
    if (struct.parent) {
      const { asParent } = this.find(struct.parent)
      return asParent ? { parent: asParent, parentSub: struct.parentSub } : MALFORMED
    }
    const left = struct.origin && this.find(struct.origin).place
    const right = struct.rightOrigin && this.find(struct.rightOrigin).place
    if ((struct.origin && !left) || (struct.rightOrigin && !right)) return { parent: GONE, parentSub: null }
    // Neighbours that stand in different places would tear the list they are in.
    if (left && right && (left.parent.key !== right.parent.key || left.parentSub !== right.parentSub)) return MALFORMED
    return (left ?? right)!
  }
}

const GONE: Parent = { at: 'gone', shape: 'rich', depth: 0, key: 'gone' }

function typeParent(type: Y.AbstractType<unknown>, depth: number): Parent {
  const shape = type instanceof Y.XmlText ? 'rich-text' : 'element'
  const around = (type.parent as Y.AbstractType<unknown> | null)?._item
  return { at: 'type', shape, depth, key: keyOf(type._item!), holder: around ? keyOf(around) : ROOT_KEY }
}

const keyOf = ({ id }: Y.Item) => `${id.client}:${id.clock}`

function depthOf(item: Y.Item): number {
  let depth = 0
  for (
    let at: Y.Item | null = item;
    at && depth <= DEPTH_LIMIT;
    at = (at.parent as Y.AbstractType<unknown> | null)?._item ?? null
  )
    depth++
  return depth
}

/** The longest id of an option. */
const OPTION_LIMIT = 64
const ELEMENTS = new Set<string>(PASSAGE_ELEMENTS)
const MARKS = new Set<string>(PASSAGE_MARKS)
const XML_ELEMENT = 3
const XML_TEXT = 6

/** Whether a struct can stand where it is put. */
function fits({ content }: Struct, parent: Parent, parentSub: string | null): boolean {
  switch (parent.shape) {
    case 'text':
      return parentSub === null && content.kind === 'string'
    case 'options':
      return (
        parentSub !== null &&
        content.kind === 'any' &&
        content.values.length === 1 &&
        (parentSub === ONE_CHOICE
          ? typeof content.values[0] === 'string' && content.values[0].length <= OPTION_LIMIT
          : typeof content.values[0] === 'boolean')
      )
    case 'strokes':
    case 'files':
      return (
        parentSub !== null &&
        content.kind === 'any' &&
        content.values.length === 1 &&
        isKept(parent.shape, parentSub, content.values[0])
      )
    case 'rich':
      return parentSub === null && isElement(content)
    case 'element':
      return parentSub === null
        ? isElement(content) || (content.kind === 'type' && content.typeRef === XML_TEXT)
        : /^[A-Za-z]+$/.test(parentSub) &&
            content.kind === 'any' &&
            content.values.length === 1 &&
            isAttribute(content.values[0])
    case 'rich-text':
      return (
        parentSub === null &&
        (content.kind === 'string' ||
          (content.kind === 'format' && MARKS.has(content.key) && content.json.length <= ATTRIBUTE_LIMIT))
      )
  }
}

const UUID = /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/

/** A stroke under an id, or the name of a file under its id. */
function isKept(shape: 'strokes' | 'files', key: string, value: unknown): boolean {
  if (typeof value !== 'string') return false
  return shape === 'strokes'
    ? /^[a-z0-9]{1,24}$/.test(key) && value.length <= STROKE_LIMIT && STROKE.test(value)
    : UUID.test(key) && value.length > 0 && value.length <= FILE_NAME_LIMIT
}

const isElement = (content: Struct['content']) =>
  content.kind === 'type' && content.typeRef === XML_ELEMENT && ELEMENTS.has(content.name)

const isAttribute = (value: unknown) =>
  value === null ||
  typeof value === 'boolean' ||
  typeof value === 'number' ||
  (typeof value === 'string' && value.length <= ATTRIBUTE_LIMIT)
