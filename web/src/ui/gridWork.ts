import { useVirtualizer } from '@tanstack/react-virtual'
import {
  type ClipboardEvent,
  type KeyboardEvent,
  type ReactNode,
  useLayoutEffect,
  useMemo,
  useRef,
  useState,
} from 'react'
import { usePrinting } from './usePrinting'

/** A column of the grid. */
export interface GridColumn {
  readonly key: string
  readonly label: string
  /** Beneath it, small. */
  readonly under?: string
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

/** What a grid shows and does. */
export interface GridProps {
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
  readonly selected?: ReadonlySet<string>
  /** Without it rows are not selected. */
  readonly select?: (ids: ReadonlySet<string>) => void
  readonly mayEdit: boolean
  /** A last row in which somebody new is begun; its label. */
  readonly newRow?: string
  /** The end of a row: what can be done with it. */
  readonly rowMenu?: (rowId: string) => ReactNode
  readonly draggable?: (rowId: string) => Record<string, unknown>
}

/** How far one goes from a cell. */
export interface GridPlaceStep {
  readonly rows: number
  readonly columns: number
}

/** A cell, both counted from 0. */
export interface GridPlace {
  readonly row: number
  readonly column: number
}

/** The height of a row, in pixels. */
export const GRID_ROW = 32

/** Whether a cell may be typed in. */
export function mayChangeAt({ columns, rows, mayEdit, newRow }: GridProps, place: GridPlace): boolean {
  const row = rows[place.row]
  return mayEdit && !!columns[place.column]?.editable && !row?.fixed && (!!row || !!newRow)
}

/** One that is in the page, after so many that are not; without an index: the last of these. */
export interface GridPart {
  readonly gap: number
  readonly index: number | null
}

/** Which of so many are in the page: those that are seen, or all, and some that always are. */
function shownOf(
  count: number,
  seen: readonly { readonly index: number }[] | null,
  always: readonly (number | null)[],
): number[] {
  const all = seen ? seen.map(({ index }) => index) : Array.from({ length: count }, (_, index) => index)
  return [...new Set([...all, ...always.flatMap((index) => index ?? [])])]
    .filter((index) => index >= 0 && index < count)
    .toSorted((one, two) => one - two)
}

function withGaps(shown: readonly number[], count: number): GridPart[] {
  const parts = shown.map((index, at): GridPart => ({ gap: index - (at === 0 ? 0 : shown[at - 1]! + 1), index }))
  const rest = count - (shown.at(-1) ?? -1) - 1
  return rest > 0 ? [...parts, { gap: rest, index: null }] : parts
}

const NOBODY: ReadonlySet<string> = new Set()
const NOTHING = () => undefined

/**
 * How a grid is worked in: where one is, what is marked, what is being typed, and what keys, copying and pasting do. Only the rows
 * that can be seen are in the page.
 */
export function useGridWork(props: GridProps) {
  const { columns, rows, textOf, change, selected = NOBODY, select = NOTHING, mayEdit, newRow } = props
  const scroller = useRef<HTMLDivElement>(null)
  const [at, setAt] = useState<GridPlace>({ row: 0, column: 0 })
  const [anchor, setAnchor] = useState<GridPlace | null>(null)
  const [editing, setEditing] = useState<{ readonly text: string; readonly all: boolean } | null>(null)
  const [focused, setFocused] = useState(false)
  const lastPicked = useRef<number | null>(null)
  /** Escape was pressed with nothing to leave off: Tab goes on behind the grid. */
  const leaving = useRef(false)
  const count = rows.length + (newRow && mayEdit ? 1 : 0)
  const here: GridPlace = {
    row: Math.max(0, Math.min(at.row, count - 1)),
    column: Math.max(0, Math.min(at.column, columns.length - 1)),
  }
  const virtual = useVirtualizer({
    count,
    getScrollElement: () => scroller.current,
    estimateSize: () => GRID_ROW,
    overscan: 5,
    initialRect: { width: 800, height: 800 },
    scrollPaddingStart: GRID_ROW + 4,
    scrollPaddingEnd: 8,
  })
  const across = useVirtualizer({
    horizontal: true,
    count: columns.length,
    getScrollElement: () => scroller.current,
    estimateSize: (index) => columns[index]!.width,
    overscan: 1,
    // The first may stay while the others are scrolled.
    scrollPaddingStart: columns[0]?.width ?? 0,
    initialRect: { width: 1_600, height: 800 },
  })
  const widths = columns.map(({ width }) => width).join()
  useLayoutEffect(() => across.measure(), [across, widths])
  const isPrinting = usePrinting()
  // On paper all of them stand. What is being typed stays, however far one looks from it.
  const items = shownOf(count, isPrinting ? null : virtual.getVirtualItems(), [editing && here.row])
  const shownRows = withGaps(items, count).map((part) => ({ ...part, height: part.gap * GRID_ROW }))
  const seenColumns = isPrinting ? null : across.getVirtualItems()
  // The first says whose a row is, the last what comes of it: they always stand.
  const shownColumns = shownOf(columns.length, seenColumns, [0, columns.length - 1, editing && here.column]).join()
  const columnParts = useMemo(
    () => withGaps(shownColumns === '' ? [] : shownColumns.split(',').map(Number), columns.length),
    [shownColumns, columns.length],
  )

  const mayChange = (place: GridPlace) => mayChangeAt(props, place)
  const go = (row: number, column: number, extend = false) => {
    const next = {
      row: Math.max(0, Math.min(count - 1, row)),
      column: Math.max(0, Math.min(columns.length - 1, column)),
    }
    setAnchor(extend ? (anchor ?? here) : null)
    setAt(next)
    virtual.scrollToIndex(next.row)
    if (!shownColumns.split(',').includes(String(next.column))) across.scrollToIndex(next.column)
  }
  useLayoutEffect(() => {
    if (!focused) return
    scroller.current
      ?.querySelector(`[data-place="${here.row} ${here.column}"]`)
      ?.scrollIntoView({ block: 'nearest', inline: 'nearest' })
  }, [focused, here.row, here.column])

  const textAt = ({ row, column }: GridPlace) => {
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
  /** The columns that are marked in a row. */
  const markedIn = (row: number): readonly [number, number] | null =>
    anchor !== null && row >= range.top && row <= range.bottom ? [range.left, range.right] : null

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
    const page = Math.max(1, Math.floor((scroller.current?.clientHeight ?? 400) / GRID_ROW) - 2)
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
  return {
    scroller,
    here,
    count,
    editing,
    focused,
    setFocused,
    shownRows,
    columnParts,
    markedIn,
    go,
    begin,
    /** Takes over what was typed in the cell, and goes from it. */
    keep: (value: string, then?: GridPlaceStep) => {
      keep(value)
      back()
      if (then) go(here.row + then.rows, here.column + then.columns)
    },
    leave: () => {
      setEditing(null)
      back()
    },
    back,
    pick,
    pressed,
    copied,
    pasted,
    /** Coming in, Tab goes from cell to cell again. */
    stay: () => {
      leaving.current = false
    },
  }
}
