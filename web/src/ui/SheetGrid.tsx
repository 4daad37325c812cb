import { useVirtualizer } from '@tanstack/react-virtual'
import {
  type ClipboardEvent,
  type KeyboardEvent,
  type ReactNode,
  useId,
  useLayoutEffect,
  useRef,
  useState,
} from 'react'
import { CellEditor } from './CellEditor'
import './sheetGrid.css'

/** A column of the grid. */
export interface GridColumn {
  readonly key: string
  readonly label: string
  /** In pixels. */
  readonly width: number
  readonly editable: boolean
  /** Under the label: what can be done with the column. */
  readonly menu?: ReactNode
  readonly sorted?: 'ascending' | 'descending'
}

/** A row of the grid: texts by the key of the column. */
export interface GridRow {
  readonly id: string
  /** For screen readers. */
  readonly label: string
  readonly dim?: boolean
  readonly fixed?: boolean
}

interface Props {
  readonly label: string
  readonly columns: readonly GridColumn[]
  readonly rows: readonly GridRow[]
  readonly textOf: (rowId: string, column: string) => string
  /** How a cell is shown where it is not just its text. */
  readonly show?: (rowId: string, column: string) => ReactNode
  /** What was typed into a cell and could not be kept. */
  readonly trouble?: (
    rowId: string,
    column: string,
  ) => { readonly typed: string; readonly sentence: string } | undefined
  /** Changes cells; rows beyond the last one begin new rows. */
  readonly change: (
    edits: readonly {
      readonly rowId: string | null
      readonly row: number
      readonly column: string
      readonly value: string
    }[],
  ) => void
  readonly undo: () => void
  readonly redo: () => void
  readonly selected: ReadonlySet<string>
  readonly select: (ids: ReadonlySet<string>) => void
  readonly mayEdit: boolean
  /** A last row in which somebody new is begun; its label. */
  readonly newRow?: string
  /** The end of a row: what can be done with it. */
  readonly rowMenu?: (rowId: string) => ReactNode
  readonly draggable?: (rowId: string) => Record<string, unknown>
}

interface Place {
  readonly row: number
  readonly column: number
}

const ROW = 32
const CHECK = 34
const MENU = 44

/**
 * A table of cells that is worked in by keyboard as a spreadsheet is: arrows, Enter, Tab, typing over, pasting a block, undo. Escape, then
 * Tab, leave it. Only the rows that can be seen are in the page.
 */
export function SheetGrid(props: Props) {
  const { label, columns, rows, textOf, change, selected, select, mayEdit, newRow, rowMenu } = props
  const id = useId()
  const scroller = useRef<HTMLDivElement>(null)
  const [at, setAt] = useState<Place>({ row: 0, column: 0 })
  const [anchor, setAnchor] = useState<Place | null>(null)
  const [editing, setEditing] = useState<{ readonly text: string; readonly all: boolean } | null>(null)
  const [focused, setFocused] = useState(false)
  const lastPicked = useRef<number | null>(null)
  /** Escape was pressed with nothing to leave off: Tab goes on behind the grid. */
  const leaving = useRef(false)
  const count = rows.length + (newRow && mayEdit ? 1 : 0)
  const here: Place = {
    row: Math.max(0, Math.min(at.row, count - 1)),
    column: Math.max(0, Math.min(at.column, columns.length - 1)),
  }
  const virtual = useVirtualizer({
    count,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    overscan: 12,
    initialRect: { width: 800, height: 800 },
    scrollPaddingStart: ROW + 4,
    scrollPaddingEnd: 8,
  })
  const items = virtual.getVirtualItems()
  const before = items[0]?.start ?? 0
  const after = virtual.getTotalSize() - (items.at(-1)?.end ?? 0)

  const mayChange = (place: Place) => {
    const row = rows[place.row]
    return mayEdit && !!columns[place.column]?.editable && !row?.fixed && (!!row || !!newRow)
  }
  const go = (row: number, column: number, extend = false) => {
    const next = {
      row: Math.max(0, Math.min(count - 1, row)),
      column: Math.max(0, Math.min(columns.length - 1, column)),
    }
    setAnchor(extend ? (anchor ?? here) : null)
    setAt(next)
    virtual.scrollToIndex(next.row)
  }
  useLayoutEffect(() => {
    if (!focused) return
    scroller.current
      ?.querySelector(`[data-place="${here.row} ${here.column}"]`)
      ?.scrollIntoView({ block: 'nearest', inline: 'nearest' })
  }, [focused, here.row, here.column])

  const textAt = ({ row, column }: Place) => {
    const found = rows[row]
    const key = columns[column]?.key
    if (!found || !key) return ''
    return props.trouble?.(found.id, key)?.typed ?? textOf(found.id, key)
  }
  const begin = (text: string | null) => {
    if (!mayChange(here)) return
    setAnchor(null)
    setEditing({ text: text ?? textAt(here), all: text === null })
  }
  const keep = (value: string) => {
    setEditing(null)
    if (value !== textAt(here))
      change([{ rowId: rows[here.row]?.id ?? null, row: here.row, column: columns[here.column]!.key, value }])
  }
  const back = () => scroller.current?.focus({ preventScroll: true })

  const range = {
    top: Math.min(here.row, anchor?.row ?? here.row),
    bottom: Math.max(here.row, anchor?.row ?? here.row),
    left: Math.min(here.column, anchor?.column ?? here.column),
    right: Math.max(here.column, anchor?.column ?? here.column),
  }
  const inRange = (row: number, column: number) =>
    anchor !== null && row >= range.top && row <= range.bottom && column >= range.left && column <= range.right

  const pick = (index: number, extend: boolean) => {
    const next = new Set(selected)
    const from = extend && lastPicked.current !== null ? lastPicked.current : index
    const on = !selected.has(rows[index]!.id)
    for (let row = Math.min(from, index); row <= Math.max(from, index); row++) {
      if (on) next.add(rows[row]!.id)
      else next.delete(rows[row]!.id)
    }
    lastPicked.current = index
    select(next)
  }

  const pressed = (event: KeyboardEvent) => {
    if (editing || event.target !== scroller.current) return
    const { key, shiftKey } = event
    const control = event.ctrlKey || event.metaKey
    const isLeaving = leaving.current
    if (key !== 'Shift') leaving.current = false
    const page = Math.max(1, Math.floor((scroller.current?.clientHeight ?? 400) / ROW) - 2)
    const moves: Record<string, () => void> = {
      ArrowDown: () => go(control ? count - 1 : here.row + 1, here.column, shiftKey),
      ArrowUp: () => go(control ? 0 : here.row - 1, here.column, shiftKey),
      ArrowRight: () => go(here.row, control ? columns.length - 1 : here.column + 1, shiftKey),
      ArrowLeft: () => go(here.row, control ? 0 : here.column - 1, shiftKey),
      Home: () => go(control ? 0 : here.row, 0, shiftKey),
      End: () => go(control ? count - 1 : here.row, columns.length - 1, shiftKey),
      PageDown: () => go(here.row + page, here.column, shiftKey),
      PageUp: () => go(here.row - page, here.column, shiftKey),
    }
    const does = moves[key]
    if (does) does()
    else if (key === 'Tab') {
      const next = here.row * columns.length + here.column + (shiftKey ? -1 : 1)
      if (isLeaving || control || next < 0 || next >= count * columns.length) return
      go(Math.floor(next / columns.length), next % columns.length)
    } else if (control && key.toLowerCase() === 'z') (shiftKey ? props.redo : props.undo)()
    else if (control && key.toLowerCase() === 'y') props.redo()
    else if (control && key.toLowerCase() === 'a') select(new Set(rows.filter(({ dim }) => !dim).map((row) => row.id)))
    else if (key === 'Enter' || key === 'F2') begin(null)
    else if (key === ' ' && rows[here.row]) pick(here.row, shiftKey)
    else if (key === 'Escape') {
      leaving.current = !anchor && selected.size === 0
      setAnchor(null)
      if (!anchor && selected.size > 0) select(new Set())
    } else if (key === 'Delete' || key === 'Backspace') {
      const edits = []
      for (let row = range.top; row <= range.bottom; row++)
        for (let column = range.left; column <= range.right; column++)
          if (rows[row] && mayChange({ row, column }) && textAt({ row, column }))
            edits.push({ rowId: rows[row]!.id, row, column: columns[column]!.key, value: '' })
      if (edits.length) change(edits)
    } else if ([...key].length === 1 && !control && !event.altKey) begin(key)
    else if (key === 'Process') return begin('')
    else return
    event.preventDefault()
  }

  const copied = (event: ClipboardEvent) => {
    if (editing || event.target !== scroller.current) return
    const lines = []
    for (let row = range.top; row <= range.bottom; row++)
      lines.push(
        columns
          .slice(range.left, range.right + 1)
          .map((_, column) => textAt({ row, column: range.left + column }).replace(/[\t\r\n]+/g, ' '))
          .join('\t'),
      )
    event.clipboardData.setData('text/plain', lines.join('\n'))
    event.preventDefault()
  }
  const pasted = (event: ClipboardEvent) => {
    if (editing || !mayEdit) return
    event.preventDefault()
    const text = event.clipboardData.getData('text/plain').replace(/\r\n?/g, '\n').replace(/\n$/, '')
    if (!text) return
    const block = text.split('\n').map((line) => line.split('\t'))
    // One cell fills all that are marked.
    const single = block.length === 1 && block[0]!.length === 1
    const height = single ? range.bottom - range.top + 1 : block.length
    const width = single ? range.right - range.left + 1 : Math.max(...block.map((cells) => cells.length))
    const edits = []
    for (let row = 0; row < height; row++)
      for (let column = 0; column < width; column++) {
        const place = { row: range.top + row, column: range.left + column }
        const value = single ? block[0]![0]! : block[row]?.[column]
        if (value === undefined || place.column >= columns.length || !mayChange(place)) continue
        edits.push({
          rowId: rows[place.row]?.id ?? null,
          row: place.row,
          column: columns[place.column]!.key,
          value: value.trim(),
        })
      }
    if (edits.length) change(edits)
    setAnchor({ row: range.top, column: range.left })
    setAt({
      row: Math.min(count - 1, range.top + height - 1),
      column: Math.min(columns.length - 1, range.left + width - 1),
    })
  }

  const all = rows.length > 0 && rows.every((row) => selected.has(row.id))
  const activeTrouble = rows[here.row] && props.trouble?.(rows[here.row]!.id, columns[here.column]?.key ?? '')
  return (
    <div
      ref={scroller}
      className="sheet-grid"
      role="grid"
      aria-label={label}
      aria-rowcount={count + 1}
      aria-colcount={columns.length + 1}
      aria-multiselectable="true"
      aria-activedescendant={focused && !editing ? `${id}-${here.row}-${here.column}` : undefined}
      tabIndex={0}
      onFocus={(event) => {
        leaving.current = false
        setFocused(event.target === scroller.current)
      }}
      onBlur={() => setFocused(false)}
      onKeyDown={pressed}
      onCopy={copied}
      onPaste={pasted}
    >
      <table
        className="grid"
        role="presentation"
        style={{ width: columns.reduce((sum, { width }) => sum + width, CHECK + (rowMenu ? MENU : 0)) }}
      >
        <colgroup aria-hidden="true">
          <col style={{ width: CHECK }} />
          {columns.map(({ key, width }) => (
            <col key={key} style={{ width }} />
          ))}
          {rowMenu && <col style={{ width: MENU }} />}
        </colgroup>
        <thead role="rowgroup">
          <tr role="row" aria-rowindex={1}>
            <th role="columnheader" className="grid-check">
              <input
                type="checkbox"
                aria-label="Select everybody shown"
                checked={all}
                onChange={() => select(all ? new Set() : new Set(rows.map((row) => row.id)))}
              />
            </th>
            {columns.map(({ key, label: heading, menu, sorted }) => (
              <th key={key} role="columnheader" scope="col" aria-sort={sorted}>
                <span className="grid-heading">
                  <span className="grid-heading-text" title={heading}>
                    {heading}
                    {sorted && <span aria-hidden="true">{sorted === 'ascending' ? ' ↑' : ' ↓'}</span>}
                  </span>
                  {menu}
                </span>
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
                <td role="gridcell" className="grid-check">
                  {row && (
                    <input
                      type="checkbox"
                      tabIndex={-1}
                      aria-label={`Select ${row.label}`}
                      checked={selected.has(row.id)}
                      onChange={() => undefined}
                      onClick={({ shiftKey }) => pick(index, shiftKey)}
                    />
                  )}
                </td>
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
                      aria-readonly={!mayChange({ row: index, column })}
                      aria-invalid={trouble ? true : undefined}
                      title={trouble?.sentence}
                      className={[
                        active && (focused || editing) && 'cell-active',
                        inRange(index, column) && 'cell-marked',
                        trouble && 'cell-trouble',
                      ]
                        .filter(Boolean)
                        .join(' ')}
                      onMouseDown={(event) => {
                        if ((event.target as HTMLElement).closest('input, a, button')) return
                        event.preventDefault()
                        back()
                        go(index, column, event.shiftKey)
                      }}
                      onMouseEnter={({ buttons }) => {
                        if (buttons === 1 && focused && !editing && !props.draggable) go(index, column, true)
                      }}
                      onDoubleClick={() => begin(null)}
                    >
                      {active && editing ? (
                        <CellEditor
                          label={row ? `${heading} of ${row.label}` : `${heading}: ${newRow}`}
                          text={editing.text}
                          selectAll={editing.all}
                          keep={(value, then) => {
                            keep(value)
                            back()
                            if (then) go(here.row + then.rows, here.column + then.columns)
                          }}
                          leave={() => {
                            setEditing(null)
                            back()
                          }}
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
