import type { OutCell } from '../formats/table.js'
import type { BoardRow } from '../live/protocol.js'
import { fullName, listName } from '../roster/names.js'
import { arePensDown } from '../pens/pens.js'
import { lateBy } from './board.js'
import { type GridCell, gridLines } from './grid.js'
import type { BoardSpace } from './squares.js'

/** What a board is written out with, besides its rows. */
export interface BoardTableAround {
  /** Columns of the roster and group sets, and what stands in them of a student. */
  readonly fields: readonly { readonly label: string; readonly valueOf: (personId: string) => string }[]
  /** A moment as a table has it, in the zone of the school. */
  readonly time: (at: number) => string
  readonly linkOf: (copyId: string) => string
  /** Milliseconds since 1970. */
  readonly now: number
}

/** Whose copy a row is, as in a list: the holder's last name first, or the title where several share it. */
export const holderOf = ({ way, holders, title }: BoardRow): string =>
  way === 'one each' && holders[0] ? listName(holders[0]) : title

const minutes = (milliseconds: number) => Math.ceil(milliseconds / 60_000)

/** A board as a table with a head, a line a copy: what the screen shows in words, with numbers to count with. */
export function boardTable(rows: readonly BoardRow[], around: BoardTableAround): OutCell[][] {
  const { fields, time, linkOf, now } = around
  const moment = (at: number | null) => (at === null ? '' : time(at))
  return [
    [
      ...['Copy of', 'Held by', 'Title', 'State', 'Pens', 'Set aside', 'Answered', 'of', 'Words', 'Sittings'],
      ...['Comments by staff', 'by holders', 'by others', 'done with', 'On copies of others', 'Questions that wait'],
      ...['Late writings', 'Last change', 'Due', 'Submitted', 'Late by, minutes'],
      ...fields.map(({ label }) => label),
      'Link',
    ],
    ...rows.map((row): OutCell[] => {
      const late = lateBy(row, now)
      const { staff, holders, peers, done, onOthers } = row.comments
      return [
        ...[holderOf(row), row.holders.map(fullName).join(', '), row.title, row.state],
        ...[arePensDown(row, now) ? 'down' : 'up', row.setAside ? 'yes' : ''],
        ...[row.answered, row.spaces, row.words, row.sittings],
        ...[staff, holders, peers, done, onOthers, row.questions, row.lateWritings],
        ...[moment(row.lastActivityAt), moment(row.dueAt), moment(row.submittedAt), late === null ? '' : minutes(late)],
        ...fields.map(({ valueOf }) =>
          [...new Set(row.holders.map(({ personId }) => valueOf(personId)))].filter(Boolean).join(', '),
        ),
        linkOf(row.copyId),
      ]
    }),
  ]
}

/** How an answer is, in a word. */
export function cellInWords({ share, right }: Pick<GridCell, 'share' | 'right'>): string {
  if (share >= 1) return right === null ? 'answered' : right ? 'right' : 'wrong'
  return share > 0 ? 'begun' : 'empty'
}

/** The answer grid as a table with a head: a line a copy or place, a column an answer space. */
export function gridTable(rows: readonly BoardRow[], spaces: readonly BoardSpace[]): OutCell[][] {
  return [
    ['Copy of', ...spaces.map(({ label }) => label)],
    ...rows
      .flatMap((row) => gridLines(row, spaces))
      .map(({ row, name, cells }): OutCell[] => [name ?? holderOf(row), ...cells.map(cellInWords)]),
  ]
}
