import { type BoardRow, type CopyState, isFound, isNotBegun, isOverdue, nameOrder } from '@gavrin/core'
import { useState } from 'react'
import type { BoardColumn, BoardSurroundings } from './boardColumns'
import { rowName, rowPeople } from './rowName'

/** What the strip over a board shows alone. */
export type Strip = CopyState | 'overdue' | 'left out' | 'set aside' | 'to read'

/** What else a board shows alone: copies that are not begun, …, or whose students have this value in a column or are in this group. */
export type Only =
  | { readonly is: 'not begun' | 'asks' | 'late writing' | 'new' | 'pens down' }
  | { readonly is: 'value'; readonly field: string; readonly label: string; readonly value: string }

export interface BoardSort {
  readonly key: string
  readonly descending: boolean
}

export interface BoardWishes {
  readonly find: string
  readonly strip: Strip | null
  readonly only: Only | null
  readonly sort: BoardSort | null
}

/** In words, for the button that shows all again. */
export function onlyInWords(only: Only): string {
  if (only.is === 'value') return `${only.label}: ${only.value || 'nothing'}`
  return {
    'not begun': 'Not begun',
    asks: 'Has a question',
    'late writing': 'Late writing',
    new: 'Changed since I looked',
    'pens down': 'Pens down',
  }[only.is]
}

/** The copies that a strip is about, before anything else is chosen of them. */
export function ofStrip(rows: readonly BoardRow[], strip: Strip | null, now: number): BoardRow[] {
  if (strip === 'set aside') return rows.filter(({ setAside }) => setAside)
  if (strip === 'to read') return rows.filter(({ setAside, way }) => !setAside && way === 'to read')
  const there = rows.filter(({ setAside, way }) => !setAside && way !== 'to read')
  if (strip === null || strip === 'left out') return there
  return strip === 'overdue' ? there.filter((row) => isOverdue(row, now)) : there.filter(({ state }) => state === strip)
}

function isShown(row: BoardRow, only: Only, around: BoardSurroundings): boolean {
  switch (only.is) {
    case 'not begun':
      return isNotBegun(row)
    case 'asks':
      return row.questions > 0
    case 'late writing':
      return row.lateWritings > 0
    case 'pens down':
      return row.pensDown
    case 'new':
      return around.isNew(row)
    case 'value':
      return row.holders.some(({ personId }) => around.valueOf(personId, only.field) === only.value)
  }
}

const collator = new Intl.Collator(undefined, { sensitivity: 'base', numeric: true })

function inOrder(sort: BoardSort | null, columns: readonly BoardColumn[], around: BoardSurroundings) {
  const byName = nameOrder('en')
  const nameOf = (row: BoardRow) => (row.way === 'one each' && row.holders[0]) || { first: '', last: rowName(row) }
  const column = sort && columns.find(({ key }) => key === sort.key)
  return (a: BoardRow, b: BoardRow) => {
    const names = byName(nameOf(a), nameOf(b))
    if (!column) return sort?.descending ? -names : names
    const [one, two] = [column.sortBy(a, around), column.sortBy(b, around)]
    // What says nothing stands at the end, whichever way it is sorted.
    if ((one === null) !== (two === null)) return one === null ? 1 : -1
    const order =
      typeof one === 'number' && typeof two === 'number' ? one - two : collator.compare(String(one), String(two))
    return (sort.descending ? -order : order) || names
  }
}

/**
 * The copies that a board shows, in their order. What is chosen and sorted keeps its place while it changes, so that nothing moves
 * under the pointer, until it is chosen or sorted anew; who comes in stands at the end.
 * @returns `moved`: how many would come, go or stand elsewhere by now
 */
export function useBoardView(
  all: readonly BoardRow[],
  wishes: BoardWishes,
  columns: readonly BoardColumn[],
  around: BoardSurroundings,
): { readonly rows: readonly BoardRow[]; readonly moved: number; readonly anew: () => void } {
  const { find, strip, only, sort } = wishes
  const key = JSON.stringify(wishes)
  const [frozen, setFrozen] = useState<{ readonly key: string; readonly ids: readonly string[] }>({ key: '', ids: [] })
  const base = ofStrip(all, strip, around.now)
  const wanted = base
    .filter(
      (row) =>
        isFound(`${row.title} ${rowName(row)} ${rowPeople(row)}`, find) &&
        (only === null || isShown(row, only, around)),
    )
    .toSorted(inOrder(sort, columns, around))
  const ids = wanted.map(({ copyId }) => copyId)
  const byId = new Map(all.map((row) => [row.copyId, row]))
  let shown = frozen.ids
  if (frozen.key !== key) {
    shown = ids
    setFrozen({ key, ids })
  } else {
    // Who came since stands at the end; what is set aside, or brought back, is in the other list.
    const aside = strip === 'set aside'
    const left = frozen.ids.filter((id) => byId.get(id)?.setAside === aside)
    const known = new Set(frozen.ids)
    const fresh = strip === null && only === null ? ids.filter((id) => !known.has(id)) : []
    if (fresh.length > 0 || left.length < frozen.ids.length) {
      shown = [...left, ...fresh]
      setFrozen({ key, ids: shown })
    }
  }
  const place = new Map(shown.map((id, at) => [id, at]))
  const moved = ids.filter((id, at) => place.get(id) !== at).length + Math.max(0, shown.length - ids.length)
  return { rows: shown.flatMap((id) => byId.get(id) ?? []), moved, anew: () => setFrozen({ key, ids }) }
}
