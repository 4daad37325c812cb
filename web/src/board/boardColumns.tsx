import {
  type BoardRow,
  type BoardSpace,
  arePensDown,
  fullName,
  isOverdue,
  lateBy,
  markInWords,
  membersOf,
  squaresOf,
} from '@gavrin/core'
import type { ReactNode } from 'react'
import { Link } from 'react-router'
import { exactTime, shortTime, sinceInWords, timeInWords } from '../ui/time'
import { rowName } from './rowName'

/** What rows of a board are drawn and sorted by, besides themselves. */
export interface BoardSurroundings {
  /** The answer spaces of its worksheet. */
  readonly spacesOf: (row: BoardRow) => readonly BoardSpace[]
  readonly now: number
  /** What stands of a student in a column of the roster, or which group of a set they are in; '': nothing. */
  readonly valueOf: (personId: string, field: string) => string
  /** Whether something was written since whoever looks had it open last. */
  readonly isNew: (row: BoardRow) => boolean
}

/** A column of a board. */
export interface BoardColumn {
  readonly key: string
  readonly label: string
  /** Said at its head, where the label says too little. */
  readonly about?: string
  readonly isNumber?: boolean
  /** It has room beside an open copy too. */
  readonly staysNarrow?: boolean
  /** Shown until somebody chooses otherwise. */
  readonly atFirst?: boolean
  readonly cell: (row: BoardRow, around: BoardSurroundings) => ReactNode
  /** Null: nothing, which stands at the end. */
  readonly sortBy: (row: BoardRow, around: BoardSurroundings) => number | string | null
}

/** More answer spaces than this are only counted. */
const SQUARES = 24
/** More places than this are only counted. */
const PLACES = 40
const NOTHING = <span className="soft">–</span>
const STATE_ORDER = ['not opened', 'opened', 'working', 'taken back', 'submitted', 'marked', 'handed back']

const count = (value: number) => (value > 0 ? value : NOTHING)
const moment = (at: number | null, words: (at: number) => string) =>
  at === null ? NOTHING : <span title={exactTime(at)}>{words(at)}</span>

/** A span of time in few words: "4 min", "3 h 10 min", "2 days". */
export function spanOf(milliseconds: number): string {
  const minutes = Math.max(1, Math.round(milliseconds / 60_000))
  if (minutes < 60) return `${minutes} min`
  if (minutes < 48 * 60) return `${Math.floor(minutes / 60)} h ${minutes % 60} min`
  return `${Math.round(minutes / 1_440)} days`
}

function Answered({ row, spaces }: { readonly row: BoardRow; readonly spaces: readonly BoardSpace[] }) {
  const members = membersOf(
    row.holders.map((holder) => ({ id: holder.personId, name: fullName(holder) })),
    row.holders.flatMap(({ personId, guestOf }) => (guestOf ? [{ guestId: personId, ...guestOf }] : [])),
  )
  const { squares, places } = squaresOf(row.progress, spaces, members, row.places)
  return (
    <>
      {squares.length <= (places > 0 ? PLACES : SQUARES) && (
        <span className="squares" aria-hidden="true">
          {squares.map(({ id, label, share }) => (
            <span
              key={id}
              title={label}
              className={share >= 1 ? 'square full' : share > 0 ? 'square part' : 'square'}
            />
          ))}
        </span>
      )}
      <span className="answered" title={places > 0 ? `${row.answered} of ${row.spaces} answers` : undefined}>
        {places > 0
          ? `${squares.slice(-places).filter(({ share }) => share >= 1).length} of ${places} places`
          : `${row.answered} of ${row.spaces}`}
      </span>
    </>
  )
}

/** Since when pens are down in a copy, or when they go down by themselves. */
function PensWords({ row, now }: { readonly row: BoardRow; readonly now: number }) {
  if (arePensDown(row, now)) return <span className="soft"> · pens down</span>
  return row.pensDownFrom === null ? null : (
    <span className="soft" title={exactTime(row.pensDownFrom)}>
      {' '}
      · pens down at {shortTime(row.pensDownFrom, now)}
    </span>
  )
}

/** The columns that every board has, in their order. */
export const COLUMNS: readonly BoardColumn[] = [
  {
    key: 'state',
    label: 'State',
    atFirst: true,
    cell: (row, { now }) => (
      <>
        {row.state}
        {isOverdue(row, now) && <span className="bad"> · overdue</span>}
        <PensWords row={row} now={now} />
      </>
    ),
    sortBy: ({ state }) => STATE_ORDER.indexOf(state),
  },
  {
    key: 'answered',
    label: 'Answered',
    atFirst: true,
    staysNarrow: true,
    cell: (row, { spacesOf }) => <Answered row={row} spaces={spacesOf(row)} />,
    sortBy: ({ answered, spaces }) => (spaces > 0 ? answered / spaces : 0),
  },
  {
    key: 'words',
    label: 'Words',
    isNumber: true,
    atFirst: true,
    staysNarrow: true,
    cell: ({ words }) => words,
    sortBy: ({ words }) => words,
  },
  {
    key: 'sittings',
    label: 'Sittings',
    about: 'In how many stretches, without a pause of ten minutes, it was written',
    isNumber: true,
    cell: ({ sittings }) => count(sittings),
    sortBy: ({ sittings }) => sittings,
  },
  {
    key: 'said',
    label: 'Comments',
    about: 'By the staff, by whose copy it is, and by others',
    isNumber: true,
    cell: ({ comments: { staff, holders, peers, done } }) =>
      staff + holders + peers === 0 ? (
        NOTHING
      ) : (
        <span title={`${staff} by staff, ${holders} by its holders, ${peers} by others; ${done} done with`}>
          {staff} · {holders} · {peers}
          {done > 0 && <span className="soft">, {done} done</span>}
        </span>
      ),
    sortBy: ({ comments: { staff, holders, peers } }) => staff + holders + peers,
  },
  {
    key: 'on others',
    label: 'On others’',
    about: 'Comments of its holders on copies of others',
    isNumber: true,
    cell: ({ comments }) => count(comments.onOthers),
    sortBy: ({ comments }) => comments.onOthers,
  },
  {
    key: 'questions',
    label: 'Questions',
    about: 'That wait for an answer',
    isNumber: true,
    cell: ({ questions }) => count(questions),
    sortBy: ({ questions }) => questions,
  },
  {
    key: 'last',
    label: 'Last change',
    isNumber: true,
    atFirst: true,
    staysNarrow: true,
    cell: ({ lastActivityAt }, { now }) => moment(lastActivityAt, (at) => sinceInWords(at, now)),
    sortBy: ({ lastActivityAt }) => lastActivityAt,
  },
  {
    key: 'due',
    label: 'Due',
    isNumber: true,
    cell: ({ dueAt }, { now }) => moment(dueAt, (at) => timeInWords(at, now)),
    sortBy: ({ dueAt }) => dueAt,
  },
  {
    key: 'submitted',
    label: 'Submitted',
    isNumber: true,
    atFirst: true,
    cell: ({ submittedAt }, { now }) => moment(submittedAt, (at) => shortTime(at, now)),
    sortBy: ({ submittedAt }) => submittedAt,
  },
  {
    key: 'late',
    label: 'Late by',
    isNumber: true,
    cell: (row, { now }) => {
      const late = lateBy(row, now)
      return late === null ? NOTHING : <span className="bad">{spanOf(late)}</span>
    },
    sortBy: (row, { now }) => lateBy(row, now),
  },
  {
    key: 'mark',
    label: 'Mark',
    isNumber: true,
    cell: ({ mark }) => (mark && (mark.isDone || mark.total !== null) ? markInWords(mark) : NOTHING),
    sortBy: ({ mark }) => mark?.total ?? null,
  },
  {
    key: 'link',
    label: 'Link',
    atFirst: true,
    cell: (row) => (
      <Link
        to={`/copies/${row.copyId}`}
        onClick={(event) => event.stopPropagation()}
        aria-label={`Open the copy of ${rowName(row)}`}
      >
        open
      </Link>
    ),
    sortBy: () => null,
  },
]

/** A column of what the roster says of the holders of a copy. */
export const rosterColumn = (field: string, label: string): BoardColumn => {
  const text = (row: BoardRow, { valueOf }: BoardSurroundings) =>
    [...new Set(row.holders.map(({ personId }) => valueOf(personId, field)))].filter(Boolean).join(', ')
  return {
    key: field,
    label,
    cell: (row, around) => <bdi>{text(row, around) || NOTHING}</bdi>,
    sortBy: (row, around) => text(row, around) || null,
  }
}
