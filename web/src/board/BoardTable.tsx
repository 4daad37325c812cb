import { type BoardRow, type BoardSpace, fullName, isOverdue, listName, membersOf, squaresOf } from '@gavrin/core'
import { memo } from 'react'
import { Link } from 'react-router'
import { SheetMark } from '../ui/SheetMark'
import { WindowedTable } from '../ui/WindowedTable'
import { exactTime, sinceInWords, shortTime } from '../ui/time'

/** Whose copy a row is: the one name, the group's copy by its title with its people, or the title alone. */
export function rowName({ holders, way, title }: BoardRow): string {
  if (way === 'one together' || way === 'to read' || holders.length === 0) return title
  if (way !== 'one each') return title
  // Beside the student's own copy it is the one that they began as a guest.
  const guest = holders.find(({ guestOf }) => guestOf?.beside)
  return guest && holders.length > 1 ? `${listName(holders[0]!)}, as ${fullName(guest)}` : listName(holders[0]!)
}

interface TableProps {
  readonly rows: readonly BoardRow[]
  readonly spaces: readonly BoardSpace[]
  readonly now: number
  readonly chosen: string | null
  readonly choose: (copyId: string) => void
  /** The drawer takes part of the width. */
  readonly narrow: boolean
}

const ROW = 31
/** With the names of those who share it under its title. */
const GROUP_ROW = 44
/** More answer spaces than this are only counted. */
const SQUARES = 24
/** More places than this are only counted. */
const PLACES = 40

/** One row a copy. */
export function BoardTable({ rows, spaces, now, chosen, choose, narrow }: TableProps) {
  const index = rows.findIndex(({ copyId }) => copyId === chosen)
  const squares = spaces.length <= SQUARES
  return (
    <WindowedTable
      className="board-table"
      count={rows.length}
      rowHeight={rows.some(({ way }) => way === 'one per group') ? GROUP_ROW : ROW}
      shown={index}
      head={
        <>
          <th scope="col">
            <span className="visually-hidden">Mark</span>
          </th>
          <th scope="col">{rows.some(({ way }) => way !== 'one each') ? 'Copy' : 'Student'}</th>
          {!narrow && (
            <th scope="col" className="state-cell">
              State
            </th>
          )}
          <th scope="col" className={squares ? undefined : 'n'}>
            Answered
          </th>
          <th scope="col" className="n wide-only">
            Words
          </th>
          <th scope="col" className="n wide-only">
            Last change
          </th>
          {!narrow && (
            <>
              <th scope="col" className="n wide-only">
                Submitted
              </th>
              <th scope="col">
                <span className="visually-hidden">Link</span>
              </th>
            </>
          )}
        </>
      }
      row={(at) => (
        <Row key={rows[at]!.copyId} row={rows[at]!} {...{ spaces, now, narrow, choose }} isChosen={at === index} />
      )}
    />
  )
}

interface RowProps extends Pick<TableProps, 'spaces' | 'now' | 'narrow' | 'choose'> {
  readonly row: BoardRow
  readonly isChosen: boolean
}

/** Drawn anew only when something in it is another. */
const Row = memo(function Row({ row, spaces, now, narrow, choose, isChosen }: RowProps) {
  const members = membersOf(
    row.holders.map((holder) => ({ id: holder.personId, name: fullName(holder) })),
    row.holders.flatMap(({ personId, guestOf }) => (guestOf ? [{ guestId: personId, ...guestOf }] : [])),
  )
  const { squares, places } = squaresOf(row.progress, spaces, members, row.places)
  const name = rowName(row)
  const people = row.way === 'one per group' ? row.holders.map(fullName).join(', ') : ''
  const late = isOverdue(row, now)
  return (
    <tr className={isChosen ? 'chosen' : undefined} onClick={() => choose(row.copyId)}>
      <td className="mark-cell">
        <SheetMark
          state={row.state}
          share={row.spaces ? row.answered / row.spaces : 0}
          pensDown={row.pensDown}
          overdue={late}
        />
      </td>
      <td className="title-cell">
        <button
          type="button"
          className="row-button"
          aria-expanded={isChosen}
          onClick={(event) => {
            event.stopPropagation()
            choose(row.copyId)
          }}
          title={row.title}
        >
          <bdi>{name || row.title}</bdi>
        </button>
        {people && (
          <span className="soft row-people" title={people}>
            {people}
          </span>
        )}
        {row.way === 'one each' && row.holders[0]?.isGuest && <span className="tag">guest</span>}
        {row.hasDocument && <span className="tag">own document</span>}
        {row.unreadable && <span className="tag tag-warn">cannot be opened</span>}
        {row.questions > 0 && (
          <span className="tag tag-ask">{row.questions === 1 ? 'asks' : `${row.questions} questions`}</span>
        )}
        {row.lateWritings > 0 && <span className="tag tag-warn">late writing</span>}
      </td>
      {!narrow && (
        <td className="state-cell">
          {row.state}
          {late && <span className="bad"> · overdue</span>}
          {row.pensDown && <span className="soft"> · pens down</span>}
        </td>
      )}
      <td className={spaces.length <= SQUARES ? undefined : 'n'}>
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
      </td>
      <td className="n wide-only">{row.words}</td>
      <td className="n wide-only">
        {row.lastActivityAt === null ? (
          <span className="soft">–</span>
        ) : (
          <span title={exactTime(row.lastActivityAt)}>{sinceInWords(row.lastActivityAt, now)}</span>
        )}
      </td>
      {!narrow && (
        <>
          <td className="n wide-only">
            {row.submittedAt === null ? (
              <span className="soft">–</span>
            ) : (
              <span title={exactTime(row.submittedAt)}>{shortTime(row.submittedAt, now)}</span>
            )}
          </td>
          <td>
            <Link
              to={`/copies/${row.copyId}`}
              onClick={(event) => event.stopPropagation()}
              aria-label={`Open the copy of ${name}`}
            >
              open
            </Link>
          </td>
        </>
      )}
    </tr>
  )
})
