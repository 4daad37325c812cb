import { type BoardRow, listName } from '@gavrin/core'
import { memo } from 'react'
import { WindowedTable } from '../ui/WindowedTable'
import { sinceInWords } from '../ui/time'
import type { BoardColumn, BoardSurroundings } from './boardColumns'
import { rowName, rowPeople } from './rowName'
import { RowButton, RowMark } from './RowParts'
import type { BoardSort } from './useBoardView'
import { type Writer, writerKey } from './useWriters'

/** A student of the class who has no copy. */
export interface LeftOutRow {
  readonly personId: string
  readonly first: string
  readonly last: string
}

interface TableProps {
  readonly rows: readonly BoardRow[]
  /** Students without a copy, after all rows. */
  readonly leftOut: readonly LeftOutRow[]
  readonly columns: readonly BoardColumn[]
  readonly around: BoardSurroundings
  readonly sort: BoardSort | null
  readonly setSort: (sort: BoardSort | null) => void
  readonly chosen: string | null
  readonly choose: (copyId: string) => void
  /** Null: nothing can be done with several. */
  readonly selected: ReadonlySet<string> | null
  readonly select: (copyId: string, withRange: boolean) => void
  readonly selectAll: (on: boolean) => void
  readonly give: ((student: LeftOutRow) => void) | null
  /** By copy and person: each who shares a copy is a row under it; null: not asked for. */
  readonly writers: ReadonlyMap<string, Writer> | null
}

const ROW = 31
/** With the names of those who share it under its title. */
const GROUP_ROW = 44

function Head({
  column: { key, label, about, isNumber },
  sort,
  setSort,
}: Pick<TableProps, 'sort' | 'setSort'> & {
  readonly column: Pick<BoardColumn, 'key' | 'label' | 'about' | 'isNumber'>
}) {
  const own = sort?.key === key ? sort : null
  const next = own ? (own.descending ? null : { key, descending: true }) : { key, descending: false }
  return (
    <th
      scope="col"
      className={isNumber ? 'n wide-only' : undefined}
      aria-sort={own ? (own.descending ? 'descending' : 'ascending') : undefined}
    >
      <button type="button" className="head-sort" title={about} onClick={() => setSort(next)}>
        {label}
        {own && <span aria-hidden="true"> {own.descending ? '↓' : '↑'}</span>}
      </button>
    </th>
  )
}

/** One row a copy. */
export function BoardTable({
  rows,
  leftOut,
  columns,
  around,
  sort,
  setSort,
  chosen,
  choose,
  selected,
  select,
  selectAll,
  give,
  writers,
}: TableProps) {
  const lines = linesOf(rows, writers !== null)

  const index = rows.findIndex(({ copyId }) => copyId === chosen)
  const isAll = rows.length > 0 && selected !== null && rows.every(({ copyId }) => selected.has(copyId))
  return (
    <WindowedTable
      className="board-table"
      count={lines.length + leftOut.length}
      rowHeight={rows.some(({ way }) => way === 'one per group') ? GROUP_ROW : ROW}
      shown={index < 0 ? -1 : lines.findIndex(({ row, person }) => row.copyId === chosen && !person)}
      head={
        <>
          {selected && (
            <th scope="col" className="tick-cell">
              <input
                type="checkbox"
                aria-label="Select all"
                checked={isAll}
                onChange={({ target }) => selectAll(target.checked)}
              />
            </th>
          )}
          <th scope="col" className="mark-cell">
            <span className="visually-hidden">Mark</span>
          </th>
          <Head
            column={{ key: 'name', label: rows.some(({ way }) => way !== 'one each') ? 'Copy' : 'Student' }}
            sort={sort}
            setSort={setSort}
          />
          {columns.map((column) =>
            column.key === 'link' ? (
              <th key={column.key} scope="col">
                <span className="visually-hidden">Link</span>
              </th>
            ) : (
              <Head key={column.key} column={column} sort={sort} setSort={setSort} />
            ),
          )}
        </>
      }
      row={(at) => {
        const line = lines[at]
        const row = line?.row
        if (row && line.person)
          return (
            <PersonRow
              key={`${row.copyId} ${line.person.personId}`}
              person={line.person}
              writer={writers?.get(writerKey({ copyId: row.copyId, personId: line.person.personId }))}
              now={around.now}
              columns={columns.length}
              hasTick={selected !== null}
            />
          )
        if (row)
          return (
            <Row
              key={row.copyId}
              row={row}
              {...{ columns, around, choose, select }}
              isChosen={at === index}
              isSelected={selected ? selected.has(row.copyId) : null}
            />
          )
        const student = leftOut[at - lines.length]!
        return (
          <tr key={student.personId} className="left-out-row">
            {selected && <td className="tick-cell" />}
            <td className="mark-cell" />
            <td className="title-cell">
              <bdi>{listName(student)}</bdi>
            </td>
            <td colSpan={columns.length}>
              <span className="soft">has no copy of this handout</span>{' '}
              {give && (
                <button type="button" className="btn btn-link btn-sm p-0" onClick={() => give(student)}>
                  Give them one
                </button>
              )}
            </td>
          </tr>
        )
      }}
    />
  )
}

interface Line {
  readonly row: BoardRow
  /** Somebody who shares the copy; null: the copy itself. */
  readonly person: BoardRow['holders'][number] | null
}

/** The copies, each who shares one under it where that is asked for. */
const linesOf = (rows: readonly BoardRow[], withPeople: boolean): Line[] =>
  rows.flatMap((row): Line[] => [
    { row, person: null },
    ...(withPeople && row.holders.length > 1 ? row.holders.map((person) => ({ row, person })) : []),
  ])

interface PersonRowProps {
  readonly person: BoardRow['holders'][number]
  readonly writer: Writer | undefined
  readonly now: number
  readonly columns: number
  readonly hasTick: boolean
}

/** Somebody who shares a copy, and how much of what is written in it they wrote. */
function PersonRow({ person, writer, now, columns, hasTick }: PersonRowProps) {
  const share = writer ? writer.changes / writer.of : 0
  return (
    <tr className="person-row">
      {hasTick && <td className="tick-cell" />}
      <td className="mark-cell" />
      <td className="title-cell">
        <bdi>{listName(person)}</bdi>
      </td>
      <td colSpan={columns}>
        {writer ? (
          <>
            <svg className="share-bar" viewBox="0 0 100 1" preserveAspectRatio="none" aria-hidden="true">
              <rect width={share * 100} height="1" />
            </svg>{' '}
            {Math.round(share * 100)} % of the writing{' '}
            <span className="soft">
              {writer.changes} of {writer.of} changes, last {sinceInWords(writer.lastAt, now)}
            </span>
          </>
        ) : (
          <span className="soft">has written nothing in it</span>
        )}
      </td>
    </tr>
  )
}

interface RowProps extends Pick<TableProps, 'columns' | 'around' | 'choose' | 'select'> {
  readonly row: BoardRow
  readonly isChosen: boolean
  readonly isSelected: boolean | null
}

/** Drawn anew only when something in it is another. */
const Row = memo(function Row({ row, columns, around, choose, select, isChosen, isSelected }: RowProps) {
  const { now } = around
  const name = rowName(row)
  const people = row.way === 'one per group' ? rowPeople(row) : ''
  return (
    <tr className={isChosen ? 'chosen' : isSelected ? 'selected' : undefined} onClick={() => choose(row.copyId)}>
      {isSelected !== null && (
        // The whole cell is the box, so that a copy is not opened by a click beside it.
        <td className="tick-cell" onClick={(event) => event.stopPropagation()}>
          <label>
            <input
              type="checkbox"
              aria-label={`Select ${name}`}
              checked={isSelected}
              onChange={() => undefined}
              onClick={({ shiftKey }) => select(row.copyId, shiftKey)}
            />
          </label>
        </td>
      )}
      <td className="mark-cell">
        <RowMark row={row} now={now} />
      </td>
      <td className="title-cell">
        <RowButton row={row} isChosen={isChosen} choose={choose}>
          {name || row.title}
        </RowButton>
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
      {columns.map(({ key, isNumber, cell }) => (
        <td key={key} className={isNumber ? 'n wide-only' : key === 'state' ? 'state-cell' : undefined}>
          {cell(row, around)}
        </td>
      ))}
    </tr>
  )
})
