import * as Y from 'yjs'
import type { AnswerKind } from '../worksheet/content.js'
import { KINDS } from '../worksheet/kinds/index.js'
import type { ParsedUpdate, Struct, StructId } from './updateFormat.js'

// Yjs puts an item in its place in constant time when its left neighbour's right one is its right neighbour; else it looks at
// every item between the two (0.2 µs each, measured), from the start of the list where there is no left neighbour. So a
// message of two kilobytes can cost millions of looks. They are counted here before they are paid.

/** How many plain looks along a list cost as much as one look of an integration. */
const WALKS_PER_STEP = 20

/**
 * What it would cost to apply an update, in looks of Yjs at other items (about 0.2 µs each): an upper bound, counted
 * without applying it. What is counted: the items between the neighbours of each new one, those that came with the same
 * update, the items that deletions cover with all that is in them, and the tidying of marks in a passage.
 * @param doc the document as it is now
 * @param parsed the update, without anything the document has already, all that it rests on being there
 * @param budget counting stops here
 * @returns at most `budget + 1`, which says "more"
 */
export function updateCost(doc: Y.Doc, parsed: ParsedUpdate, kind: AnswerKind, budget: number): number {
  const count = new Count(budget)
  try {
    new Placing(doc, parsed, count).all()
    countDeletions(doc, parsed, kind, count)
  } catch (error) {
    if (!(error instanceof OverBudget)) throw error
  }
  return Math.min(count.total, budget + 1)
}

/** Items of a document, deleted ones too: what it costs to load and to keep. */
export function itemsOf(doc: Y.Doc): number {
  let items = 0
  for (const structs of doc.store.clients.values()) items += structs.length
  return items
}

/** How many items an update adds at most: its own, and the parts of those that it splits. */
export const itemsAdded = ({ structs, deletions }: ParsedUpdate): number => 3 * structs + 2 * deletions.length

// As Yjs itself types it.
// oxlint-disable-next-line typescript/no-explicit-any
type Type = Y.AbstractType<Y.YEvent<any>>

class OverBudget extends Error {}

class Count {
  total = 0
  private walked = 0
  constructor(private readonly budget: number) {}

  add(steps: number): void {
    this.total += steps
    if (this.total > this.budget) throw new OverBudget()
  }

  /** A look that costs little. */
  walk(): void {
    if (++this.walked % WALKS_PER_STEP === 0) this.add(1)
  }
}

const name = ({ client, clock }: StructId): string => `${client}:${clock}`

/** A list of items: the children of a type, or the values that one key had. */
interface List {
  readonly key: string
  /** Null when it came with the update. */
  readonly type: Type | null
  readonly sub: string | null
}

/**
 * Follows where the structs of an update come to stand. Yjs looks along a list only while the items there have the same
 * left neighbour as the new one, or one that was looked at before. So a first item that has another ends it.
 */
class Placing {
  /** The lists of the new structs, by their first character. */
  private readonly placed = new Map<string, List>()
  /** What stands right of a character (or of the beginning of a list) once the structs so far are in their places. */
  private readonly rightOf = new Map<string, string | null>()
  /** Lists in which that is not sure any more. */
  private readonly unsure = new Set<string>()
  /** How many new structs stand by this old character (or beginning), directly or by one that does. */
  private readonly standingBy = new Map<string, number>()
  /** By which old character the new structs stand, by their first character. */
  private readonly standsBy = new Map<string, string>()
  private readonly starts = new Map<number, number[]>()

  constructor(
    private readonly doc: Y.Doc,
    private readonly parsed: ParsedUpdate,
    private readonly count: Count,
  ) {
    for (const [client, structs] of parsed.clients)
      this.starts.set(
        client,
        structs.map(({ id }) => id.clock),
      )
  }

  all(): void {
    // In the order in which they can be integrated; structs that wait for others come in a later round.
    const queues = [...this.parsed.clients.values()].map((structs) => ({ structs, next: 0 }))
    let left = this.parsed.structs
    while (left > 0) {
      const before = left
      for (const queue of queues)
        while (queue.next < queue.structs.length && this.rests(queue.structs[queue.next]!)) {
          this.place(queue.structs[queue.next]!)
          queue.next++
          left--
        }
      if (left === before) return
    }
  }

  private rests({ origin, rightOrigin, parent }: Struct): boolean {
    return [origin, rightOrigin, typeof parent === 'object' ? parent : null].every(
      (id) => !id || this.isStored(id) || this.placed.has(name(this.headOf(id))),
    )
  }

  private isStored({ client, clock }: StructId): boolean {
    return clock < Y.getState(this.doc.store, client)
  }

  /** The first character of the new struct that this character is in. */
  private headOf({ client, clock }: StructId): StructId {
    const starts = this.starts.get(client) ?? []
    let low = 0
    let high = starts.length - 1
    while (low < high) {
      const middle = (low + high + 1) >> 1
      if (starts[middle]! <= clock) low = middle
      else high = middle - 1
    }
    return { client, clock: starts[low] ?? clock }
  }

  private stored({ client, clock }: StructId): Y.Item | null {
    const structs = this.doc.store.clients.get(client)!
    const struct = structs[Y.findIndexSS(structs, clock)]!
    return struct instanceof Y.Item ? struct : null
  }

  private place(struct: Struct): void {
    this.count.walk()
    const { id, origin, rightOrigin, length } = struct
    const list = this.listOf(struct)
    const left = origin ? name(origin) : `start of ${list.key}`
    if (!this.unsure.has(list.key) && this.rightNow(left, origin, list) === (rightOrigin ? name(rightOrigin) : null)) {
      this.rightOf.set(name({ client: id.client, clock: id.clock + length - 1 }), rightOrigin && name(rightOrigin))
      this.rightOf.set(left, name(id))
    } else {
      this.unsure.add(list.key)
      this.look(struct, list, left)
    }
    const by = this.oldBy(origin, left)
    this.placed.set(name(id), list)
    this.standsBy.set(name(id), by)
    this.standingBy.set(by, (this.standingBy.get(by) ?? 0) + 1)
  }

  /** The old character by which something stands that has this left neighbour. */
  private oldBy(origin: StructId | null, left: string): string {
    return origin && !this.isStored(origin) ? this.standsBy.get(name(this.headOf(origin)))! : left
  }

  /** What stands right of a place in a list in which that is sure. */
  private rightNow(left: string, origin: StructId | null, list: List): string | null {
    const known = this.rightOf.get(left)
    if (known !== undefined) return known
    if (!origin) {
      const first = this.first(list)
      return first && name(first.id)
    }
    // In the middle of a new struct.
    if (!this.isStored(origin)) return name({ client: origin.client, clock: origin.clock + 1 })
    const item = this.stored(origin)
    if (!item) return null
    if (origin.clock < item.id.clock + item.length - 1) return name({ client: origin.client, clock: origin.clock + 1 })
    return item.right && name(item.right.id)
  }

  /**
   * Counts the items that Yjs will look at to find the place: those of the document as Yjs would, and of the new ones all
   * that stand by what is looked at, wherever among them they came to stand.
   */
  private look({ origin, rightOrigin }: Struct, list: List, left: string): void {
    this.count.add(1 + (this.standingBy.get(this.oldBy(origin, left)) ?? 0))
    // What is new has no old items that stand by it.
    if (origin && !this.isStored(origin)) return
    const before = origin && this.stored(origin)
    const isInside = before && origin.clock < before.id.clock + before.length - 1
    if (isInside && rightOrigin && rightOrigin.client === origin.client && rightOrigin.clock === origin.clock + 1)
      return
    let item = before ? before.right : this.first(list)
    const end = rightOrigin && this.isStored(rightOrigin) ? this.stored(rightOrigin) : null
    const passed = new Set<Y.Item>()
    if (isInside) {
      // It is split, and its second half stands by its first.
      passed.add(before)
      this.countNewBy(before, origin.clock + 1)
    }
    while (item && item !== end) {
      this.count.add(1)
      passed.add(item)
      const isBeside = origin ? item.origin && Y.compareIDs(item.origin, origin) : !item.origin
      if (!isBeside) {
        const by = item.origin && this.stored(item.origin)
        if (!by || !passed.has(by)) return
      }
      this.countNewBy(item, item.id.clock)
      item = item.right
    }
  }

  private countNewBy({ id, length }: Y.Item, from: number): void {
    if (this.standingBy.size === 0) return
    for (let clock = from; clock < id.clock + length; clock++) {
      this.count.walk()
      const more = this.standingBy.get(name({ client: id.client, clock }))
      if (more) this.count.add(more)
    }
  }

  private first({ type, sub }: List): Y.Item | null {
    if (!type) return null
    if (sub === null) return type._start
    let item = type._map.get(sub) ?? null
    while (item?.left) {
      this.count.add(2)
      item = item.left
    }
    return item
  }

  private listOf({ origin, rightOrigin, parent, parentSub }: Struct): List {
    const neighbour = origin ?? rightOrigin
    if (neighbour) return this.listAt(neighbour)
    if (typeof parent === 'string') return listIn(this.doc.share.get(parent) ?? null, 'root', parentSub)
    const item = parent && this.isStored(parent) ? this.stored(parent) : null
    return listIn(
      item?.content instanceof Y.ContentType ? item.content.type : null,
      parent ? name(parent) : 'gone',
      parentSub,
    )
  }

  private listAt(id: StructId): List {
    if (!this.isStored(id)) return this.placed.get(name(this.headOf(id)))!
    const item = this.stored(id)
    const type = (item?.parent as Type | null | undefined) ?? null
    return listIn(type, type ? (type._item ? name(type._item.id) : 'root') : 'gone', item?.parentSub ?? null)
  }
}

const listIn = (type: Type | null, of: string, sub: string | null): List => ({
  key: sub === null ? of : `${of} ${sub}`,
  type,
  sub,
})

function countDeletions(doc: Y.Doc, parsed: ParsedUpdate, kind: AnswerKind, count: Count): void {
  const marksCome = [...parsed.clients.values()].some((structs) =>
    structs.some(({ content }) => content.kind === 'format'),
  )
  const marked = (type: Type | null) => marksCome || (type instanceof Y.Text && type._hasFormatting)
  let deleted = 0
  let longest = 0
  for (const { client, clock, length } of parsed.deletions) {
    const structs = doc.store.clients.get(client)
    count.add(1)
    // What came with the update and is deleted with it.
    if (KINDS[kind].kept === 'rich' && marksCome && clock + length > Y.getState(doc.store, client))
      deleted += Math.min(length, parsed.structs)
    if (!structs || clock >= Y.getState(doc.store, client)) continue
    for (let at = Y.findIndexSS(structs, clock); at < structs.length && structs[at]!.id.clock < clock + length; at++) {
      const item = structs[at]!
      count.walk()
      if (item.deleted || !(item instanceof Y.Item)) continue
      count.add(1)
      const within = inside(item, count, marked)
      deleted += within.marked
      longest = Math.max(longest, within.items)
      if (!marked(item.parent as Type)) continue
      deleted++
      longest = Math.max(longest, quietAround(item, count))
    }
  }
  // Deleted text beside deleted text is looked along for marks that say nothing any more, from each of them.
  if (deleted > 0) count.add(Math.ceil((deleted * (longest + deleted)) / WALKS_PER_STEP))
  if (deleted > 0 || marksCome) count.add(Math.ceil((2 * (itemsOf(doc) + parsed.structs)) / WALKS_PER_STEP))
}

/** How many items are in one that is a type of its own, and how many of them in text with marks. */
function inside(item: Y.Item, count: Count, marked: (type: Type) => boolean): { items: number; marked: number } {
  const found = { items: 0, marked: 0 }
  if (!(item.content instanceof Y.ContentType)) return found
  const type: Type = item.content.type as Type
  const add = (child: Y.Item) => {
    count.add(1)
    const within = inside(child, count, marked)
    found.items += 1 + within.items
    found.marked += (marked(type) ? 1 : 0) + within.marked
  }
  for (let child = type._start; child; child = child.right) add(child)
  for (const child of type._map.values()) add(child)
  return found
}

/** How many items around one are deleted or say nothing. */
function quietAround(item: Y.Item, count: Count): number {
  const isQuiet = (other: Y.Item | null): other is Y.Item => !!other && (other.deleted || !other.countable)
  let around = 0
  for (let other = item.right; isQuiet(other); other = other.right) {
    count.walk()
    around++
  }
  for (let other = item.left; isQuiet(other); other = other.left) {
    count.walk()
    around++
  }
  return around
}
