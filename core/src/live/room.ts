import * as Y from 'yjs'
import type { AnswerKind } from '../worksheet/content.js'
import { LINE_LIMIT, PASSAGE_LIMITS, rootOf } from './space.js'
import type { DeletedRange } from './updateFormat.js'

// A page keeps an answer to the letters up to which every key is quick. Whoever writes with a page of their own could make
// all others slow, so what is taken is limited too: to twice as much, for two may write at once without knowing of each other.
const ROOM = 2

/** The key of the root of a document, as a holder of text. */
export const ROOT_KEY = 'root'

/** Text that an update brings. */
export interface NewText {
  readonly client: number
  readonly clock: number
  /** In UTF-16 units. */
  readonly length: number
  /** What it is counted in: the root, or the paragraph by the id of its first item, `client:clock`. */
  readonly holder: string
}

/**
 * Whether an update would leave an answer with more letters than it has room for, and with more than before: what is there
 * already, however much, may be changed and shortened.
 * @param doc the document as it is now
 * @param texts what the update adds, in the order of their clocks within each client
 * @returns `looks` is at how many items it looked
 */
export function outgrows(
  doc: Y.Doc,
  kind: AnswerKind,
  texts: readonly NewText[],
  deletions: readonly DeletedRange[],
): { readonly outgrows: boolean; readonly looks: number } {
  const count = new Letters(doc, kind)
  const isOver = !count.fits(grownBy(texts)) && !count.fits(shrunkBy(count, texts, deletions))
  return { outgrows: isOver, looks: count.looks }
}

type Growth = Map<string, number>
const add = (growth: Growth, holder: string, letters: number) => growth.set(holder, (growth.get(holder) ?? 0) + letters)

function grownBy(texts: readonly NewText[]): Growth {
  const growth: Growth = new Map()
  for (const { holder, length } of texts) add(growth, holder, length)
  return growth
}

/** The same less what is deleted, of the new and of what stands there. */
function shrunkBy(count: Letters, texts: readonly NewText[], deletions: readonly DeletedRange[]): Growth {
  const growth = grownBy(texts)
  const gone = byClient(deletions)
  for (const { client, clock, length, holder } of texts)
    for (const range of within(gone.get(client) ?? [], clock, length))
      add(growth, holder, -overlap(range, clock, length))
  for (const [client, ranges] of gone)
    for (const range of ranges) count.standing(client, range, (holder, letters) => add(growth, holder, -letters))
  return growth
}

interface Range {
  readonly from: number
  readonly to: number
}

const overlap = ({ from, to }: Range, clock: number, length: number) =>
  Math.min(to, clock + length) - Math.max(from, clock)

/** Ranges by client, as they are read: in order, none of them twice. */
function byClient(deletions: readonly DeletedRange[]): Map<number, Range[]> {
  const ranges = new Map<number, Range[]>()
  for (const { client, clock, length } of deletions) {
    const range = { from: clock, to: clock + length }
    const others = ranges.get(client)
    if (others) others.push(range)
    else ranges.set(client, [range])
  }
  return ranges
}

/** Of ranges in order those that touch a stretch. */
function within(ranges: readonly Range[], clock: number, length: number): readonly Range[] {
  let low = 0
  let high = ranges.length
  while (low < high) {
    const middle = (low + high) >> 1
    if (ranges[middle]!.to <= clock) low = middle + 1
    else high = middle
  }
  let end = low
  while (end < ranges.length && ranges[end]!.from < clock + length) end++
  return ranges.slice(low, end)
}

/** Counts the letters of a document, and how much it looks at for that. */
class Letters {
  looks = 0

  constructor(
    private readonly doc: Y.Doc,
    private readonly kind: AnswerKind,
  ) {}

  /** Whether it can grow by so much. */
  fits(growth: Growth): boolean {
    const isRich = rootOf(this.kind).shape === 'rich'
    const limit = ROOM * (isRich ? PASSAGE_LIMITS.paragraph : LINE_LIMIT)
    let sum = 0
    for (const [holder, letters] of growth) {
      sum += letters
      if (letters > 0 && letters + this.in(holder) > limit) return false
    }
    return !isRich || sum <= 0 || sum + this.inAll() <= ROOM * PASSAGE_LIMITS.passage
  }

  /** Tells of the text that stands within a range and is not deleted, by what holds it. */
  standing(client: number, { from, to }: Range, tell: (holder: string, letters: number) => void): void {
    const structs = this.doc.store.clients.get(client)
    if (!structs || from >= Y.getState(this.doc.store, client)) return
    for (let at = Y.findIndexSS(structs, from); at < structs.length && structs[at]!.id.clock < to; at++) {
      this.looks++
      const item = structs[at]!
      if (item instanceof Y.Item && !item.deleted && item.content instanceof Y.ContentString)
        tell(holderOf(item), overlap({ from, to }, item.id.clock, item.length))
    }
  }

  private in(holder: string): number {
    if (holder === ROOT_KEY) return this.doc.getText(rootOf(this.kind).name).length
    const [client, clock] = holder.split(':').map(Number) as [number, number]
    const structs = this.doc.store.clients.get(client)
    if (!structs || clock >= Y.getState(this.doc.store, client)) return 0
    const item = structs[Y.findIndexSS(structs, clock)]!
    const type = item instanceof Y.Item && item.content instanceof Y.ContentType && item.content.type
    return type ? this.under(type, false) : 0
  }

  private inAll(): number {
    // No document has more letters than were ever written in it.
    let written = 0
    for (const client of this.doc.store.clients.keys()) written += Y.getState(this.doc.store, client)
    return written <= PASSAGE_LIMITS.passage
      ? written
      : this.under(this.doc.getXmlFragment(rootOf(this.kind).name), true)
  }

  private under(type: Pick<Y.XmlFragment, '_start'>, deep: boolean): number {
    let letters = 0
    for (let item = type._start; item; item = item.right) {
      this.looks++
      if (item.deleted || !(item.content instanceof Y.ContentType)) continue
      const child = item.content.type
      if (child instanceof Y.XmlText) letters += child.length
      else if (deep) letters += this.under(child, true)
    }
    return letters
  }
}

/** The paragraph of a text, or the root. */
function holderOf(item: Y.Item): string {
  const text = item.parent as Y.AbstractType<unknown>
  const paragraph = (text._item?.parent as Y.AbstractType<unknown> | null | undefined)?._item
  return paragraph ? `${paragraph.id.client}:${paragraph.id.clock}` : ROOT_KEY
}
