import { useId } from 'react'
import { CellEditor } from './CellEditor'
import { type GridProps, useGridWork } from './gridWork'
import './sheetGrid.css'

const CHECK = 34
const MENU = 44

/**
 * A table of cells that is worked in by keyboard as a spreadsheet is: arrows, Enter, Tab, typing over, pasting a block, undo. Escape, then
 * Tab, leave it. Only the rows that can be seen are in the page.
 */
export function SheetGrid(props: GridProps) {
  const { label, columns, rows, textOf, selected = new Set(), select, newRow, rowMenu } = props
  const id = useId()
  const work = useGridWork(props)
  const { here, count, editing, focused, items, before, after } = work
  const all = rows.length > 0 && rows.every((row) => selected.has(row.id))
  const activeTrouble = rows[here.row] && props.trouble?.(rows[here.row]!.id, columns[here.column]?.key ?? '')
  return (
    <div
      ref={work.scroller}
      className="sheet-grid"
      role="grid"
      aria-label={label}
      aria-rowcount={count + 1}
      aria-colcount={columns.length + 1}
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
            {columns.map(({ key, label: heading, under, menu, sorted }) => (
              <th key={key} role="columnheader" scope="col" aria-sort={sorted}>
                <span className="grid-heading">
                  <span className="grid-heading-text" title={heading}>
                    {heading}
                    {sorted && <span aria-hidden="true">{sorted === 'ascending' ? ' ↑' : ' ↓'}</span>}
                  </span>
                  {menu}
                </span>
                {under && <span className="grid-under">{under}</span>}
              </th>
            ))}
            {rowMenu && (
              <th role="columnheader" scope="col">
                <span className="visually-hidden">More</span>
              </th>
            )}
          </tr>
        </thead>
        <tbody role="rowgroup">
          {before > 0 && <tr aria-hidden="true" style={{ height: before }} />}
          {items.map(({ index }) => {
            const row = rows[index]
            return (
              <tr
                key={row?.id ?? 'new'}
                role="row"
                aria-rowindex={index + 2}
                aria-selected={row ? selected.has(row.id) : undefined}
                className={[row?.dim && 'row-dim', row && selected.has(row.id) && 'row-selected', !row && 'row-new']
                  .filter(Boolean)
                  .join(' ')}
                {...(row && props.draggable?.(row.id))}
              >
                {select && (
                  <td role="gridcell" className="grid-check">
                    {row && (
                      <input
                        type="checkbox"
                        tabIndex={-1}
                        aria-label={`Select ${row.label}`}
                        checked={selected.has(row.id)}
                        onChange={() => undefined}
                        onClick={({ shiftKey }) => work.pick(index, shiftKey)}
                      />
                    )}
                  </td>
                )}
                {columns.map(({ key, label: heading }, column) => {
                  const active = here.row === index && here.column === column
                  const trouble = row && props.trouble?.(row.id, key)
                  return (
                    <td
                      key={key}
                      id={`${id}-${index}-${column}`}
                      data-place={`${index} ${column}`}
                      role="gridcell"
                      aria-label={row ? undefined : `${heading}: ${newRow}`}
                      aria-readonly={!work.mayChange({ row: index, column })}
                      aria-invalid={trouble ? true : undefined}
                      title={trouble?.sentence}
                      className={[
                        active && (focused || editing) && 'cell-active',
                        work.inRange(index, column) && 'cell-marked',
                        trouble && 'cell-trouble',
                      ]
                        .filter(Boolean)
                        .join(' ')}
                      onMouseDown={(event) => {
                        if ((event.target as HTMLElement).closest('input, a, button')) return
                        event.preventDefault()
                        work.back()
                        work.go(index, column, event.shiftKey)
                      }}
                      onMouseEnter={({ buttons }) => {
                        if (buttons === 1 && focused && !editing && !props.draggable) work.go(index, column, true)
                      }}
                      onDoubleClick={() => work.begin(null)}
                    >
                      {active && editing ? (
                        <CellEditor
                          label={row ? `${heading} of ${row.label}` : `${heading}: ${newRow}`}
                          text={editing.text}
                          selectAll={editing.all}
                          keep={work.keep}
                          leave={work.leave}
                        />
                      ) : trouble ? (
                        <bdi>{trouble.typed}</bdi>
                      ) : row ? (
                        (props.show?.(row.id, key) ?? <bdi>{textOf(row.id, key)}</bdi>)
                      ) : (
                        column === 0 && <span className="soft">{newRow}</span>
                      )}
                    </td>
                  )
                })}
                {rowMenu && (
                  <td role="gridcell" className="grid-menu">
                    {row && rowMenu(row.id)}
                  </td>
                )}
              </tr>
            )
          })}
          {after > 0 && <tr aria-hidden="true" style={{ height: after }} />}
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
