import type { WorksheetContent } from '../worksheet/content.js'
import { partAddressOf } from '../worksheet/sections.js'
import { spaceLabels } from '../worksheet/words.js'
import { spacesOfBlock } from '../worksheet/walk.js'
import { type ProgressBySpace, shareOf } from './answers.js'

/** An answer space of a worksheet as a board needs it. */
export interface BoardSpace {
  readonly id: string
  readonly label: string
  /** For whom its section is repeated in a copy that several share; null: it is there once. */
  readonly of: 'member' | 'group' | null
}

/** One square of a copy on the board: an answer space, or the place of one member or group. */
export interface Square {
  readonly id: string
  readonly label: string
  /** How far it is, from 0 to 1. */
  readonly share: number
}

/** The answer spaces of a worksheet in the order of the page, as a board needs them. */
export function boardSpaces(content: WorksheetContent): BoardSpace[] {
  const labels = spaceLabels(content)
  return content.blocks.flatMap((block) => {
    const whose = block.kind === 'section' ? block.whose.is : 'everyone'
    const of = whose === 'each member' ? 'member' : whose === 'each group' ? 'group' : null
    return spacesOfBlock(block).map(({ id }) => ({ id, label: labels.get(id) ?? '', of }))
  })
}

/**
 * What the squares of a copy stand for: its answer spaces; where several people or groups have a place of their own in it, one
 * square for each place instead of the spaces that are repeated.
 * @returns `places` counts the squares that are places
 */
export function squaresOf(
  progress: ProgressBySpace,
  spaces: readonly BoardSpace[],
  members: readonly { readonly id: string; readonly name: string }[],
  groups: readonly { readonly id: string; readonly name: string }[],
): { readonly squares: readonly Square[]; readonly places: number } {
  const placesOf = { member: members.length > 1 ? members : [], group: groups.length > 1 ? groups : [] }
  const single = spaces.filter(({ of }) => of === null || placesOf[of].length === 0)
  const squares: Square[] = single.map(({ id, label }) => ({ id, label, share: shareOf(progress, id) }))
  for (const kind of ['member', 'group'] as const) {
    const repeated = spaces.filter(({ of }) => of === kind)
    if (repeated.length === 0) continue
    for (const { id, name } of placesOf[kind]) {
      const sum = repeated.reduce((all, space) => all + (progress[partAddressOf(space.id, id)]?.share ?? 0), 0)
      squares.push({ id, label: name, share: sum / repeated.length })
    }
  }
  return { squares, places: squares.length - single.length }
}
