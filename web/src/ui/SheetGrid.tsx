import { Fragment, type RefObject, memo, useId, useRef } from 'react'
import { CellEditor } from './CellEditor'
import { type GridPart, type GridProps, mayChangeAt, useGridWork } from './gridWork'
import './sheetGrid.css'

const CHECK = 34
const MENU = 44

/**
 * A table of cells that is worked in by keyboard as a spreadsheet is: arrows, Enter, Tab, typing over, pasting a block, undo. Escape, then
 * Tab, leave it. Only the rows and columns that can be seen are in the page.
 */
export function SheetGrid(props: GridProps) {
  const { label, columns, rows, select, selected = new Set(), rowMenu } = props
  const id = useId()
  const work = useGridWork(props)
  const { here, count, editing, focused, columnParts } = work
  const latest = useRef(work)
  latest.current = work
  const all = rows.length > 0 && rows.every((row) => selected.has(row.id))
  const activeTrouble = rows[here.row] && props.trouble?.(rows[here.row]!.id, columns[here.column]?.key ?? '')
  return (
    <div
      ref={work.scroller}
      className="sheet-grid"
      role="grid"
      aria-label={label}
      aria-rowcount={count + 1}
      aria-colcount={columns.length + (select ? 1 : 0) + (rowMenu ? 1 : 0)}
      aria-multiselectable="true"
      aria-activedescendant={focused && !editing ? `${id}-${here.row}-${here.column}` : undefined}
      tabIndex={0}
      onFocus={(event) => {
        work.stay()
        work.setFocused(event.target === event.currentTarget)
      }}
      onBlur={() => work.setFocused(false)}
      onKeyDown={work.pressed}
      onCopy={work.copied}
      onPaste={work.pasted}
    >
      <table
        className="grid"
        role="presentation"
        style={{ width: columns.reduce((sum, { width }) => sum + width, (select ? CHECK : 0) + (rowMenu ? MENU : 0)) }}
      >
        <colgroup aria-hidden="true">
          {select && <col style={{ width: CHECK }} />}
          {columns.map(({ key, width }) => (
            <col key={key} style={{ width }} />
          ))}
          {rowMenu && <col style={{ width: MENU }} />}
        </colgroup>
        <thead role="rowgroup">
          <tr role="row" aria-rowindex={1}>
            {select && (
              <th role="columnheader" className="grid-check">
                <input
                  type="checkbox"
                  aria-label="Select everybody shown"
                  checked={all}
                  onChange={() => select(all ? new Set() : new Set(rows.map((row) => row.id)))}
                />
              </th>
            )}
            {columnParts.map(({ gap, index }) => {
              const column = index === null ? undefined : columns[index]
              return (
                <Fragment key={column?.key ?? 'rest'}>
                  {gap > 0 && <th colSpan={gap} aria-hidden="true" />}
                  {column && (
                    <th
                      role="columnheader"
                      scope="col"
                      className={index === 0 ? 'grid-first' : undefined}
                      aria-colindex={index! + (select ? 2 : 1)}
                      aria-sort={column.sorted}
                    >
                      <span className="grid-heading">
                        <span className="grid-heading-text" title={column.label}>
                          {column.label}
                          {column.sorted && (
                            <span aria-hidden="true">{column.sorted === 'ascending' ? ' ↑' : ' ↓'}</span>
                          )}
                        </span>
                        {column.menu}
                      </span>
                      {column.under && <span className="grid-under">{column.under}</span>}
                    </th>
                  )}
                </Fragment>
              )
            })}
            {rowMenu && (
              <th role="columnheader" scope="col">
                <span className="visually-hidden">More</span>
              </th>
            )}
          </tr>
        </thead>
        <tbody role="rowgroup">
          {work.shownRows.map(({ height, index }) => (
            <Fragment key={index === null ? 'rest' : (rows[index]?.id ?? 'new')}>
              {height > 0 && <tr aria-hidden="true" style={{ height }} />}
              {index !== null && (
                <SheetRow
                  grid={props}
                  work={latest}
                  id={id}
                  index={index}
                  parts={columnParts}
                  active={here.row === index ? here.column : -1}
                  isThere={here.row === index && (focused || !!editing)}
                  editing={here.row === index ? editing : null}
                  from={work.markedIn(index)?.[0] ?? -1}
                  to={work.markedIn(index)?.[1] ?? -1}
                />
              )}
            </Fragment>
          ))}
        </tbody>
      </table>
      {activeTrouble && (
        <p className="grid-trouble" role="alert">
          {activeTrouble.sentence}
        </p>
      )}
    </div>
  )
}

interface RowProps {
  readonly grid: GridProps
  readonly work: RefObject<ReturnType<typeof useGridWork>>
  /** Of the grid. */
  readonly id: string
  readonly index: number
  readonly parts: readonly GridPart[]
  /** The column where one is; -1: in another row. */
  readonly active: number
  readonly isThere: boolean
  readonly editing: { readonly text: string; readonly all: boolean } | null
  /** The columns that are marked; -1: none. */
  readonly from: number
  readonly to: number
}

/** A row: drawn anew only when something of it has changed, for many are there while it is scrolled. */
const SheetRow = memo(function SheetRow({
  grid,
  work,
  id,
  index,
  parts,
  active,
  isThere,
  editing,
  from,
  to,
}: RowProps) {
  const { columns, rows, textOf, selected, select, newRow, rowMenu } = grid
  const row = rows[index]
  const isSelected = row !== undefined && (selected?.has(row.id) ?? false)
  return (
    <tr
      role="row"
      aria-rowindex={index + 2}
      aria-selected={row ? isSelected : undefined}
      className={[row?.dim && 'row-dim', isSelected && 'row-selected', !row && 'row-new'].filter(Boolean).join(' ')}
      {...(row && grid.draggable?.(row.id))}
    >
      {select && (
        <td role="gridcell" className="grid-check">
          {row && (
            <input
              type="checkbox"
              tabIndex={-1}
              aria-label={`Select ${row.label}`}
              checked={isSelected}
              onChange={() => undefined}
              onClick={({ shiftKey }) => work.current.pick(index, shiftKey)}
            />
          )}
        </td>
      )}
      {parts.map(({ gap, index: column }) => {
        const rest = gap > 0 && <td colSpan={gap} aria-hidden="true" />
        if (column === null) return <Fragment key="rest">{rest}</Fragment>
        const { key, label: heading } = columns[column]!
        const trouble = row && grid.trouble?.(row.id, key)
        return (
          <Fragment key={key}>
            {rest}
            <td
              id={`${id}-${index}-${column}`}
              data-place={`${index} ${column}`}
              role="gridcell"
              aria-colindex={column + (select ? 2 : 1)}
              aria-label={row ? undefined : `${heading}: ${newRow}`}
              aria-readonly={!mayChangeAt(grid, { row: index, column })}
              aria-invalid={trouble ? true : undefined}
              title={trouble?.sentence}
              className={[
                column === 0 && 'grid-first',
                column === columns.length - 1 && 'grid-last',
                active === column && isThere && 'cell-active',
                from <= column && column <= to && 'cell-marked',
                trouble && 'cell-trouble',
              ]
                .filter(Boolean)
                .join(' ')}
              onMouseDown={(event) => {
                if ((event.target as HTMLElement).closest('input, a, button')) return
                event.preventDefault()
                work.current.back()
                work.current.go(index, column, event.shiftKey)
              }}
              onMouseEnter={({ buttons }) => {
                const { focused, editing: isTyping, go } = work.current
                if (buttons === 1 && focused && !isTyping && !grid.draggable) go(index, column, true)
              }}
              onDoubleClick={() => work.current.begin(null)}
            >
              {active === column && editing ? (
                <CellEditor
                  label={row ? `${heading} of ${row.label}` : `${heading}: ${newRow}`}
                  text={editing.text}
                  selectAll={editing.all}
                  keep={(value, then) => work.current.keep(value, then)}
                  leave={() => work.current.leave()}
                />
              ) : trouble ? (
                <bdi>{trouble.typed}</bdi>
              ) : row ? (
                (grid.show?.(row.id, key) ?? <bdi>{textOf(row.id, key)}</bdi>)
              ) : (
                column === 0 && <span className="soft">{newRow}</span>
              )}
            </td>
          </Fragment>
        )
      })}
      {rowMenu && (
        <td role="gridcell" className="grid-menu">
          {row && rowMenu(row.id)}
        </td>
      )}
    </tr>
  )
})
