import type { WorksheetContent } from './content.js'
import { answerSpaces, spacesOfBlock } from './walk.js'

/** A section for named people: who, and how many answer spaces are in it. */
export interface ReservedPart {
  readonly people: readonly string[]
  readonly spaces: number
}

/** What is counted in an edition when it is kept, so that lists need not read it. */
export interface EditionCounts {
  /** Its answer spaces, each section counted once. */
  readonly answerSpaces: number
  /** What its answer spaces add up to. */
  readonly points: number
  /** The answer spaces in sections for each member. */
  readonly memberSpaces: number
  /** The answer spaces in sections for each group. */
  readonly groupSpaces: number
  readonly reservedParts: ReservedPart[]
}

/** Counts the answer spaces of a worksheet and their points. */
export function countEdition(content: Pick<WorksheetContent, 'blocks'>): EditionCounts {
  const spaces = answerSpaces(content)
  const spacesFor = (whose: string) =>
    content.blocks.reduce(
      (sum, block) => sum + (block.kind === 'section' && block.whose.is === whose ? spacesOfBlock(block).length : 0),
      0,
    )
  return {
    answerSpaces: spaces.length,
    points: spaces.reduce((sum, { points = 0 }) => sum + points, 0),
    memberSpaces: spacesFor('each member'),
    groupSpaces: spacesFor('each group'),
    reservedParts: content.blocks.flatMap((block) =>
      block.kind === 'section' && block.whose.is === 'named'
        ? [{ people: block.whose.people.map(({ id }) => id), spaces: spacesOfBlock(block).length }]
        : [],
    ),
  }
}

/**
 * How many answer spaces a copy has, its sections laid open for those who hold it.
 * @param holders ids of its holders
 * @param places how many groups have parts in it
 * @param oneWithAnother how many of the holders have no part of their own, for a guest began it: see `membersOf`
 */
export function spacesOfCopy(
  { answerSpaces: spaces, memberSpaces, groupSpaces, reservedParts }: Omit<EditionCounts, 'points'>,
  holders: readonly string[],
  places: number,
  oneWithAnother = 0,
): number {
  const notTheirs = reservedParts.filter(({ people }) => !people.some((person) => holders.includes(person)))
  return (
    spaces +
    memberSpaces * Math.max(holders.length - oneWithAnother - 1, 0) +
    groupSpaces * Math.max(places - 1, 0) -
    notTheirs.reduce((sum, part) => sum + part.spaces, 0)
  )
}
