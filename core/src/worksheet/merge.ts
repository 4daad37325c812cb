import type { Block, PlainBlock, RichNode, SectionBlock, TableBlock, TableCell, WorksheetContent } from './content.js'
import { mergeRich, mergeWords } from './mergeText.js'
import { isSame } from './same.js'

/** A draft as one author has it. */
export interface DraftState {
  readonly title: string
  readonly content: WorksheetContent
}

export interface Merged extends DraftState {
  /** The ids of blocks that both authors changed so that not all of it could be put together: mine stands. */
  readonly both: readonly string[]
}

export interface MergeWays {
  /** Blocks that both changed are not put together letter by letter: mine stand. For two states of one author. */
  readonly whole?: boolean
}

/** What of a block or an answer space is words, put together letter by letter. */
const WORDS: ReadonlySet<string> = new Set([
  'label',
  'hint',
  'model',
  'starter',
  'alt',
  'title',
  'note',
  'text',
  'unit',
])

/**
 * Puts together what two authors made of the same draft: what only one of them changed, added, removed or moved is taken; a
 * block that one changed and the other removed stays. A block that both changed has the words of both, letter by letter, and
 * what each of them set of it; what both set otherwise stands as mine. Where both moved blocks, mine is the order.
 * @param base what both began with
 */
export function mergeDrafts(base: DraftState, mine: DraftState, theirs: DraftState, ways: MergeWays = {}): Merged {
  const merge = new Merging(base.content, mine.content, theirs.content, ways.whole ?? false)
  const blocks = merge.blocks(base.content.blocks, mine.content.blocks, theirs.content.blocks)
  return {
    title: ways.whole ? pick(base.title, mine.title, theirs.title) : words(base.title, mine.title, theirs.title),
    content: {
      version: 2,
      page: pick(base.content.page, mine.content.page, theirs.content.page),
      source: ways.whole
        ? pick(base.content.source, mine.content.source, theirs.content.source)
        : words(base.content.source, mine.content.source, theirs.content.source),
      ...picked('language', base.content, mine.content, theirs.content),
      ...picked('spelling', base.content, mine.content, theirs.content),
      blocks: onceEach(blocks),
    },
    both: [...merge.both],
  }
}

const pick = <T>(one: T, my: T, their: T): T => (isSame(my, one) ? their : my)
/** What one of them set, or took away. */
function picked<K extends 'language' | 'spelling'>(
  key: K,
  one: WorksheetContent,
  my: WorksheetContent,
  their: WorksheetContent,
): Pick<WorksheetContent, K> | Record<string, never> {
  const value = pick(one[key], my[key], their[key])
  return value === undefined ? {} : ({ [key]: value } as Pick<WorksheetContent, K>)
}

const words = (one: string, my: string, their: string) =>
  one === my ? their : one === their || my === their ? my : mergeWords(one, my, their)

/** A block that one moved into a section while the other changed it where it was stands in the section. */
function onceEach(blocks: readonly Block[]): Block[] {
  const within = new Set<string>()
  const sections = blocks.map((block) => {
    if (block.kind !== 'section') return block
    const inner = block.blocks.filter(({ id }) => !within.has(id))
    for (const { id } of inner) within.add(id)
    return inner.length === block.blocks.length ? block : { ...block, blocks: inner }
  })
  return sections.filter(({ id, kind }) => kind === 'section' || !within.has(id))
}

const everyBlock = (content: WorksheetContent) =>
  new Map<string, Block>(
    content.blocks.flatMap((block) =>
      (block.kind === 'section' ? [block, ...block.blocks] : [block]).map((one) => [one.id, one] as const),
    ),
  )

type Fields = Readonly<Record<string, unknown>>

class Merging {
  readonly both = new Set<string>()
  // Wherever in the worksheet they stand: one may have been moved into a section.
  private readonly was: ReadonlyMap<string, Block>
  private readonly my: ReadonlyMap<string, Block>
  private readonly their: ReadonlyMap<string, Block>

  constructor(
    base: WorksheetContent,
    mine: WorksheetContent,
    theirs: WorksheetContent,
    private readonly whole: boolean,
  ) {
    this.was = everyBlock(base)
    this.my = everyBlock(mine)
    this.their = everyBlock(theirs)
  }

  blocks<B extends Block>(base: readonly B[], mine: readonly B[], theirs: readonly B[]): B[] {
    const before = new Set(base.map(idOf))
    const merged = mergeLists(base, mine, theirs, idOf, (id, isMine, isTheirs) => {
      const one = this.was.get(id) as B | undefined
      const a = this.my.get(id) as B | undefined
      const b = this.their.get(id) as B | undefined
      // Moved from here into a section, or out of one, by one of them: there it is.
      if (a && b && isMine !== isTheirs && before.has(id)) return null
      if (a && b) return one ? this.changed(one, a, b) : a
      const left = a ?? b
      return !left || (one && isSame(left, one)) ? null : left
    })
    return merged.map((block) => this.settled(block))
  }

  private changed<B extends Block>(one: B, a: B, b: B): B {
    return isSame(a, one) ? b : isSame(b, one) || isSame(a, b) ? a : this.block(one, a, b)
  }

  /** A section with its blocks as both have them, though one of them has them elsewhere. */
  private settled<B extends Block>(block: B): B {
    if (block.kind !== 'section') return block
    const blocks = block.blocks.map((inner) => {
      const [one, a, b] = [this.was, this.my, this.their].map((all) => all.get(inner.id))
      return one && a && b ? (this.changed(one, a, b) as PlainBlock) : inner
    })
    return { ...block, blocks }
  }

  /** A block that both changed. */
  private block<B extends Block>(one: B, my: B, their: B): B {
    const { id } = my
    if (this.whole || one.kind !== my.kind || one.kind !== their.kind) {
      this.both.add(id)
      return my
    }
    if (one.kind === 'text' && my.kind === 'text' && their.kind === 'text')
      return { ...my, rich: this.print(id, one.rich, my.rich, their.rich) }
    if (one.kind === 'table' && my.kind === 'table' && their.kind === 'table')
      return this.table(one, my, their) as Block as B
    if (one.kind !== 'section' || my.kind !== 'section' || their.kind !== 'section')
      return this.fields(id, fieldsOf(one), fieldsOf(my), fieldsOf(their)) as unknown as B
    const blocks = this.blocks<PlainBlock>(one.blocks, my.blocks, their.blocks)
    const head = (section: SectionBlock) => fieldsOf({ ...section, blocks: undefined })
    return { ...this.fields(id, head(one), head(my), head(their)), blocks } as unknown as B
  }

  /** One paragraph, heading or list. */
  private print(id: string, one: RichNode, my: RichNode, their: RichNode): RichNode {
    const isList = (node: RichNode) => node.type.endsWith('List')
    if (isList(one) !== isList(my) || isList(one) !== isList(their)) {
      this.both.add(id)
      return my
    }
    // Of what kind it is was set by one of them; the words are those of both.
    const shape = pick<RichNode>(bare(one), bare(my), bare(their))
    const alike = (node: RichNode): RichNode => ({
      ...node,
      type: shape.type,
      ...(shape.attrs && { attrs: shape.attrs }),
    })
    const merged = mergeRich([alike(one)], [alike(my)], [alike(their)])
    const only = merged?.length === 1 ? merged[0]! : null
    if (!merged || (!only && merged.length > 0)) {
      this.both.add(id)
      return my
    }
    return only ? { ...only, ...bareWithout(shape) } : shape
  }

  private table(one: TableBlock, my: TableBlock, their: TableBlock): TableBlock {
    const shape = ({ rows }: TableBlock) => rows.map((row) => row.map(({ across, down }) => [across, down]))
    if (!isSame(shape(one), shape(my)) || !isSame(shape(one), shape(their))) {
      // Rows or columns were put in: the cells have no places of their own to be told by.
      this.both.add(my.id)
      return my
    }
    return {
      ...my,
      rows: my.rows.map((row, down) =>
        row.map((cell, at) => this.cell(my.id, one.rows[down]![at]!, cell, their.rows[down]![at]!)),
      ),
    }
  }

  private cell(id: string, one: TableCell, my: TableCell, their: TableCell): TableCell {
    if (isSame(my, one)) return their
    if (isSame(their, one) || isSame(my, their)) return my
    const rich = mergeRich(one.rich, my.rich, their.rich)
    if (!rich) this.both.add(id)
    const space =
      one.space && my.space && their.space
        ? this.fields(id, fieldsOf(one.space), fieldsOf(my.space), fieldsOf(their.space))
        : this.value(id, one.space, my.space, their.space)
    return {
      ...my,
      head: pick(one.head, my.head, their.head),
      formula: this.value(id, one.formula, my.formula, their.formula),
      space: space as TableCell['space'],
      rich: space ? [] : (rich ?? my.rich),
    }
  }

  /** What was set of a block or a space, each part by whoever set it. */
  private fields(id: string, one: Fields, my: Fields, their: Fields): Fields {
    const names = new Set([...Object.keys(one), ...Object.keys(my), ...Object.keys(their)])
    const merged: Record<string, unknown> = {}
    for (const name of names) {
      const value = this.field(id, name, one[name], my[name], their[name])
      if (value !== undefined) merged[name] = value
    }
    return merged
  }

  private field(id: string, name: string, one: unknown, my: unknown, their: unknown): unknown {
    if (isSame(my, one)) return their
    if (isSame(their, one) || isSame(my, their)) return my
    if (WORDS.has(name) && typeof my === 'string' && typeof their === 'string')
      return mergeWords(typeof one === 'string' ? one : '', my, their)
    const keyed = name === 'spaces' || name === 'options' ? [one, my, their].map(asKeyed) : null
    const [first, second, third] = keyed ?? []
    if (first && second && third)
      return mergeLists(first, second, third, keyOf, (key) => {
        const at = (list: readonly Keyed[]) => list.find((item) => keyOf(item) === key)
        const [was, a, b] = [at(first), at(second), at(third)]
        if (a && b) return was ? (this.fields(id, was, a, b) as unknown as Keyed) : a
        const left = a ?? b
        return !left || (was && isSame(left, was)) ? null : left
      })
    // The space on a place of a backdrop.
    if (name === 'space' && [one, my, their].every((value) => typeof value === 'object' && value !== null))
      return this.fields(id, one as Fields, my as Fields, their as Fields)
    return this.value(id, one, my, their)
  }

  private value<T>(id: string, one: T, my: T, their: T): T {
    if (!isSame(my, one) && !isSame(their, one) && !isSame(my, their)) this.both.add(id)
    return pick(one, my, their)
  }
}

const idOf = ({ id }: { readonly id: string }) => id
const fieldsOf = (value: object) => value as Fields
const bare = ({ type, attrs }: RichNode): RichNode => ({ type, ...(attrs && { attrs }) })
const bareWithout = ({ type, attrs }: RichNode) => ({ type, ...(attrs && { attrs }) })

type Keyed = Fields & ({ readonly id: string } | { readonly space: { readonly id: string } })
const keyOf = (item: Keyed): string => ('space' in item ? (item.space as { id: string }).id : String(item['id']))
const asKeyed = (value: unknown): readonly Keyed[] | null => (Array.isArray(value) ? (value as Keyed[]) : null)

/**
 * Two states of one list, each with its things in its own order.
 * @param item what a thing is, by its key and in whose list it is; null: it is in the list no more
 */
function mergeLists<T>(
  base: readonly T[],
  mine: readonly T[],
  theirs: readonly T[],
  keyOfThing: (thing: T) => string,
  item: (key: string, isMine: boolean, isTheirs: boolean) => T | null,
): T[] {
  const [was, my, their] = [base, mine, theirs].map((list) => list.map(keyOfThing)) as [string[], string[], string[]]
  const [inMine, inTheirs, before] = [new Set(my), new Set(their), new Set(was)]
  const hasMoved = !isSame(
    was.filter((key) => inMine.has(key)),
    my.filter((key) => before.has(key)),
  )
  const [first, second] = hasMoved ? [my, their] : [their, my]
  const order = [...first]
  const known = new Set(order)
  // What only the other one has goes behind the one that it follows there.
  let previous: string | null = null
  for (const key of second) {
    if (!known.has(key)) {
      order.splice(previous === null ? 0 : order.indexOf(previous) + 1, 0, key)
      known.add(key)
    }
    previous = key
  }
  return order.flatMap((key) => item(key, inMine.has(key), inTheirs.has(key)) ?? [])
}
