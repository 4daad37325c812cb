import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals'
import { act, cleanup, createEvent, fireEvent, render, screen } from '@testing-library/react'
import { useState } from 'react'
import { SheetGrid } from '../src/ui/SheetGrid'
import { withRoom } from './support/server'

const COLUMNS = [
  { key: 'last', label: 'Last name', width: 100, editable: true },
  { key: 'first', label: 'First name', width: 100, editable: true },
  { key: 'state', label: 'Sign-in', width: 100, editable: false },
]
const CELLS: Record<string, Record<string, string>> = {
  a: { last: 'Abara', first: 'Chidi', state: 'ready' },
  b: { last: 'Rossi', first: 'Giulia', state: 'ready' },
  c: { last: 'Sahin', first: 'Elif', state: 'left' },
}
const change = jest.fn<Parameters<typeof SheetGrid>[0]['change']>()
const undo = jest.fn()
const redo = jest.fn()

function Grid({ mayEdit = true }: { mayEdit?: boolean }) {
  const [selected, select] = useState<ReadonlySet<string>>(new Set())
  return (
    <SheetGrid
      label="Roster"
      columns={COLUMNS}
      rows={Object.entries(CELLS).map(([id, { last }]) => ({ id, label: last!, fixed: id === 'c' }))}
      textOf={(id, column) => CELLS[id]![column]!}
      trouble={(id, column) =>
        id === 'b' && column === 'first' ? { typed: 'Giu', sentence: 'This is too short.' } : undefined
      }
      change={change}
      undo={undo}
      redo={redo}
      selected={selected}
      select={select}
      mayEdit={mayEdit}
      newRow="New student"
    />
  )
}

const grid = () => screen.getByRole('grid')
const enter = () => act(() => grid().focus())
const press = (key: string, more: object = {}) => fireEvent.keyDown(grid(), { key, ...more })
const active = () => document.getElementById(grid().getAttribute('aria-activedescendant') ?? '')?.textContent
/** Cells as a clipboard holds them. */
function paste(text: string): void {
  const event = createEvent.paste(grid(), { clipboardData: { getData: () => text } })
  fireEvent(grid(), event)
}

withRoom()

beforeEach(() => {
  for (const mock of [change, undo, redo]) mock.mockClear()
  Element.prototype.scrollIntoView = () => undefined
})
afterEach(cleanup)

describe('a grid worked in by keyboard', () => {
  test('arrows, Home and End move within it, and stop at its edges', () => {
    render(<Grid />)
    enter()
    expect(active()).toBe('Abara')
    press('ArrowRight')
    press('ArrowDown')
    expect(active()).toBe('Giu')
    press('ArrowDown')
    press('ArrowDown')
    press('ArrowDown')
    press('Home')
    expect(active()).toBe('New student')
    press('Home', { ctrlKey: true })
    press('ArrowUp')
    expect(active()).toBe('Abara')
    press('End')
    expect(active()).toBe('ready')
  })

  test('typing replaces a cell, Enter keeps it and goes down, Escape leaves it', () => {
    render(<Grid />)
    enter()
    press('X')
    const field = screen.getByLabelText('Last name of Abara')
    expect((field as HTMLInputElement).value).toBe('X')
    fireEvent.change(field, { target: { value: 'Xu' } })
    fireEvent.keyDown(field, { key: 'Enter' })
    expect(change).toHaveBeenCalledWith([{ rowId: 'a', row: 0, column: 'last', value: 'Xu' }])
    expect(active()).toBe('Rossi')
    press('Enter')
    fireEvent.change(screen.getByLabelText('Last name of Rossi'), { target: { value: 'gone' } })
    fireEvent.keyDown(screen.getByLabelText('Last name of Rossi'), { key: 'Escape' })
    expect(change).toHaveBeenCalledTimes(1)
    // Unchanged is no change.
    press('F2')
    fireEvent.keyDown(screen.getByLabelText('Last name of Rossi'), { key: 'Tab' })
    expect(change).toHaveBeenCalledTimes(1)
    expect(active()).toBe('Giu')
  })

  test('Tab goes from cell to cell, over the ends of rows, and leaves the grid at its ends or after Escape', () => {
    render(<Grid />)
    enter()
    const grid = screen.getByRole('grid')
    /** Whether the grid took the key, so that the browser does not go on. */
    const tab = (shiftKey = false) => !fireEvent.keyDown(grid, { key: 'Tab', shiftKey })
    expect(tab(true)).toBe(false)
    const seen = [active()]
    while (tab()) seen.push(active())
    expect(seen[0]).toBe('Abara')
    expect(seen).toContain('Giu')
    expect(active()).toBe(seen.at(-1))
    expect(tab(true)).toBe(true)
    expect(active()).toBe(seen.at(-2))
    press('Escape')
    expect(tab()).toBe(false)
    // Only the next one.
    expect(tab()).toBe(true)
  })

  test('what could not be kept is offered again with its reason', () => {
    render(<Grid />)
    enter()
    press('ArrowDown')
    press('ArrowRight')
    expect(screen.getByRole('alert').textContent).toBe('This is too short.')
    press('F2')
    expect(screen.getByLabelText<HTMLInputElement>('First name of Rossi').value).toBe('Giu')
  })

  test('fixed rows, fixed columns and readers change nothing', () => {
    const { unmount } = render(<Grid />)
    enter()
    press('End')
    press('X')
    press('Home')
    press('ArrowDown')
    press('ArrowDown')
    press('X')
    expect(screen.queryByRole('textbox')).toBeNull()
    unmount()
    render(<Grid mayEdit={false} />)
    enter()
    press('X')
    paste('y')
    press('Delete')
    expect(screen.queryByRole('textbox')).toBeNull()
    expect(change).not.toHaveBeenCalled()
  })

  test('a pasted block fills cells from here on; what falls on fixed ones is passed over, what is below begins new rows', () => {
    render(<Grid />)
    enter()
    press('ArrowDown')
    paste('Berg\tIda\tx\r\nSaar\tMart\nNew\tOne\nLast\tTwo\n')
    expect(change).toHaveBeenCalledWith([
      { rowId: 'b', row: 1, column: 'last', value: 'Berg' },
      { rowId: 'b', row: 1, column: 'first', value: 'Ida' },
      { rowId: null, row: 3, column: 'last', value: 'New' },
      { rowId: null, row: 3, column: 'first', value: 'One' },
      { rowId: null, row: 4, column: 'last', value: 'Last' },
      { rowId: null, row: 4, column: 'first', value: 'Two' },
    ])
  })

  test('one cell fills all that are marked, and Delete empties them', () => {
    render(<Grid />)
    enter()
    press('ArrowDown', { shiftKey: true })
    paste('Same')
    expect(change).toHaveBeenLastCalledWith([
      { rowId: 'a', row: 0, column: 'last', value: 'Same' },
      { rowId: 'b', row: 1, column: 'last', value: 'Same' },
    ])
    press('Home', { ctrlKey: true })
    press('ArrowRight', { shiftKey: true })
    press('Delete')
    expect(change).toHaveBeenLastCalledWith([
      { rowId: 'a', row: 0, column: 'last', value: '' },
      { rowId: 'a', row: 0, column: 'first', value: '' },
    ])
  })

  test('what is marked is copied as rows of cells', () => {
    render(<Grid />)
    enter()
    press('ArrowDown', { shiftKey: true })
    press('ArrowRight', { shiftKey: true })
    const setData = jest.fn()
    fireEvent(grid(), createEvent.copy(grid(), { clipboardData: { setData } }))
    expect(setData).toHaveBeenCalledWith('text/plain', 'Abara\tChidi\nRossi\tGiu')
  })

  test('undo and redo, selecting with the space bar, all, and none', () => {
    render(<Grid />)
    enter()
    press('z', { ctrlKey: true })
    press('z', { ctrlKey: true, shiftKey: true })
    press('y', { ctrlKey: true })
    expect([undo.mock.calls.length, redo.mock.calls.length]).toEqual([1, 2])
    const chosen = () =>
      screen
        .getAllByRole('checkbox')
        .slice(1)
        .map((box) => (box as HTMLInputElement).checked)
    press(' ')
    press('ArrowDown')
    press('ArrowDown')
    press(' ', { shiftKey: true })
    expect(chosen()).toEqual([true, true, true])
    press('Escape')
    expect(chosen()).toEqual([false, false, false])
    press('a', { ctrlKey: true })
    expect(chosen()).toEqual([true, true, true])
  })
})

test('of a hundred columns those that are seen are in the page, with the first and the last, and say which they are', () => {
  const columns = Array.from({ length: 100 }, (_, at) => ({
    key: `c${at}`,
    label: `Column ${at}`,
    width: 100,
    editable: true,
  }))
  render(
    <SheetGrid
      label="Wide"
      columns={columns}
      rows={[{ id: 'a', label: 'Abara' }]}
      textOf={(id, key) => `${id} ${key}`}
      {...{ change, undo, redo, mayEdit: true }}
    />,
  )
  const cells = screen.getAllByRole('gridcell')
  expect(cells.length).toBeLessThan(40)
  expect(cells.map((cell) => cell.getAttribute('aria-colindex'))).toEqual(
    cells.map((cell) => String(Number(cell.textContent.slice(3)) + 1)),
  )
  expect([cells[0]!.textContent, cells.at(-1)!.textContent]).toEqual(['a c0', 'a c99'])
  expect(screen.getAllByRole('columnheader')).toHaveLength(cells.length)
  expect(grid().getAttribute('aria-colcount')).toBe('100')
  // As many places as columns, or the widths would not be theirs.
  const places = [...screen.getAllByRole('row')[1]!.children].reduce(
    (sum, cell) => sum + (cell as HTMLTableCellElement).colSpan,
    0,
  )
  expect(places).toBe(100)
  enter()
  press('End')
  expect(active()).toBe('a c99')
})
