import type { BoardRow } from '../live/protocol.js'
import { fullName, listName } from '../roster/names.js'
import { membersOf, partAddressOf } from '../worksheet/sections.js'
import { shareOf } from './answers.js'
import type { BoardSpace } from './squares.js'

/** How one answer is, as a cell of the answer grid. */
export interface GridCell {
  /** Of the answer in its copy. */
  readonly address: string
  /** How far it is, from 0 to 1. */
  readonly share: number
  /** By its key; null: it cannot be checked, or nobody who looks may know. */
  readonly right: boolean | null
  /** Something is said of it, or a question waits at it. */
  readonly said: 'asked' | 'said' | null
  /** When it was written in last, in milliseconds since 1970; undefined: it is not known. */
  readonly at: number | undefined
}

/** A line of the answer grid: a copy, or in a copy that several share with places of their own, one of these. */
export interface GridLine {
  readonly key: string
  readonly row: BoardRow
  /** Whose place it is; null: it is the copy. */
  readonly name: string | null
  readonly cells: readonly GridCell[]
}

/** The lines of the answer grid for a copy, with a cell for each answer space. */
export function gridLines(row: BoardRow, spaces: readonly BoardSpace[]): GridLine[] {
  const asked = new Set(row.comments.asked)
  const said = new Set(row.comments.spaces)
  const cell = (address: string, isParted = false): GridCell => {
    const progress = row.progress[address]
    return {
      address,
      share: progress?.share ?? (isParted ? shareOf(row.progress, address) : 0),
      right: progress?.right ?? null,
      said: asked.has(address) ? 'asked' : said.has(address) ? 'said' : null,
      at: progress?.at,
    }
  }
  const members = membersOf(
    row.holders.map((holder) => ({ id: holder.personId, name: listName(holder) || fullName(holder) })),
    row.holders.flatMap(({ personId, guestOf }) => (guestOf ? [{ guestId: personId, ...guestOf }] : [])),
  )
  const of = spaces.some((space) => space.of === 'member') ? 'member' : 'group'
  const places = !spaces.some((space) => space.of !== null) ? [] : of === 'member' ? members : row.places
  if (places.length <= 1) {
    const [place] = places
    return [
      {
        key: row.copyId,
        row,
        name: null,
        cells: spaces.map((space) => cell(space.of && place ? partAddressOf(space.id, place.id) : space.id)),
      },
    ]
  }
  return places.map(({ id, name }) => ({
    key: `${row.copyId} ${id}`,
    row,
    name,
    // What is repeated for others than these is as far as all its parts together.
    cells: spaces.map((space) =>
      space.of === of ? cell(partAddressOf(space.id, id)) : cell(space.id, space.of !== null),
    ),
  }))
}

/** How a class does on one question. */
export interface GridHead {
  readonly answered: number
  readonly right: number
  readonly wrong: number
}

/** How the lines of a grid do on each of its questions. */
export function gridHeads(lines: readonly GridLine[], spaces: readonly BoardSpace[]): GridHead[] {
  return spaces.map((_, at) => {
    const cells = lines.map(({ cells: own }) => own[at]!)
    return {
      answered: cells.filter(({ share }) => share >= 1).length,
      right: cells.filter(({ right }) => right === true).length,
      wrong: cells.filter(({ right }) => right === false).length,
    }
  })
}
