import type { Block, WorksheetContent } from './content.js'
import { isSame } from './same.js'

/** A draft as one author has it. */
export interface DraftState {
  readonly title: string
  readonly content: WorksheetContent
}

export interface Merged extends DraftState {
  /** The ids of blocks that both authors changed: mine stands. */
  readonly both: readonly string[]
}

/**
 * Puts together what two authors made of the same draft, block by block: what only one of them changed, added, removed or
 * moved is taken; a block that both changed stands as mine; a block that one changed and the other removed stays.
 * Where both moved blocks, mine is the order.
 * @param base what both began with
 */
export function mergeDrafts(base: DraftState, mine: DraftState, theirs: DraftState): Merged {
  const both: string[] = []
  const pick = <T>(one: T, my: T, their: T): T => (isSame(my, one) ? their : my)
  const was = byId(base.content.blocks)
  const my = byId(mine.content.blocks)
  const their = byId(theirs.content.blocks)

  const blockOf = (id: string): Block | null => {
    const one = was.get(id)
    const a = my.get(id)
    const b = their.get(id)
    if (a && b) {
      if (one && !isSame(a, one) && !isSame(b, one) && !isSame(a, b)) both.push(id)
      return one ? pick(one, a, b) : a
    }
    if (a) return one && isSame(a, one) ? null : a
    if (b) return one && isSame(b, one) ? null : b
    return null
  }

  const iMoved = isMoved(was, my, base.content.blocks, mine.content.blocks)
  const [first, second] = iMoved ? [mine, theirs] : [theirs, mine]
  const order = first.content.blocks.map(({ id }) => id)
  const known = new Set(order)
  // What only the other one has goes behind the block that it follows there.
  let previous: string | null = null
  for (const { id } of second.content.blocks) {
    if (!known.has(id)) {
      order.splice(previous === null ? 0 : order.indexOf(previous) + 1, 0, id)
      known.add(id)
    }
    previous = id
  }
  return {
    title: pick(base.title, mine.title, theirs.title),
    content: {
      version: 2,
      page: pick(base.content.page, mine.content.page, theirs.content.page),
      source: pick(base.content.source, mine.content.source, theirs.content.source),
      blocks: order.flatMap((id) => blockOf(id) ?? []),
    },
    both,
  }
}

const byId = (blocks: readonly Block[]) => new Map(blocks.map((block) => [block.id, block]))

/** Whether the blocks that both states have stand in another order. */
function isMoved(
  was: ReadonlyMap<string, Block>,
  is: ReadonlyMap<string, Block>,
  before: readonly Block[],
  after: readonly Block[],
): boolean {
  const kept = before.filter(({ id }) => is.has(id)).map(({ id }) => id)
  const now = after.filter(({ id }) => was.has(id)).map(({ id }) => id)
  return !isSame(kept, now)
}
