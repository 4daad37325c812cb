import { afterEach, describe, expect, test } from '@jest/globals'
import { cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react'
import { useLocation } from 'react-router'
import { Finder } from '../src/frame/Finder'
import { classListed } from './support/samples'
import { serveWith, surroundings } from './support/server'

const CLASSES = [classListed('k1', '8 Heron'), classListed('k2', '8 Tern', { year: '2025/26', archived: true })]
const PEOPLE = [
  { personId: 'p1', first: 'Zofia', last: 'Dąbrowska', email: null, role: 'student', classes: '8 Heron' },
  { personId: 'p2', first: 'Birgit', last: 'Sandvik', email: null, role: 'teacher', classes: '7 Dunlin' },
]

const FOUND = {
  people: PEOPLE,
  handouts: [
    { id: 'h1', classId: 'k1', class: '8 Heron', number: 3, title: 'Tern survey', handedOut: true, archived: false },
    { id: 'h2', classId: 'k1', class: '8 Heron', number: 4, title: '', handedOut: false, archived: false },
  ],
  worksheets: [{ id: 'w1', title: 'Terns and gulls', archived: false }],
}

const Where = () => <output>{useLocation().pathname}</output>

function opened() {
  const asked = serveWith(({ path }) => ({
    body: path.includes('tern') ? FOUND : { people: [], handouts: [], worksheets: [] },
  }))
  const { Around } = surroundings([[['classes'], CLASSES]])
  render(
    <>
      <Finder isOffice={false} />
      <Where />
    </>,
    { wrapper: Around },
  )
  const field = screen.getByRole('combobox')
  const type = (text: string) => {
    fireEvent.focus(field)
    fireEvent.change(field, { target: { value: text } })
  }
  return { asked, field, type }
}

afterEach(cleanup)

describe('finding from anywhere', () => {
  test('classes first, then people, handouts and worksheets; arrows choose, Enter goes there', async () => {
    const { field, type, asked } = opened()
    type('tern')
    await waitFor(() => expect(screen.getAllByRole('option')).toHaveLength(6))
    expect(screen.getAllByRole('option').map((option) => option.textContent)).toEqual([
      '8 Tern class · Geography 2025/26 · archived',
      'Zofia Dąbrowska 8 Heron',
      'Birgit Sandvik staff · 7 Dunlin',
      'Tern survey handout · 8 Heron, No. 3',
      'Untitled draft · 8 Heron, No. 4',
      'Terns and gulls worksheet',
    ])
    expect(asked.at(-1)!.path).toBe('find?typed=tern')
    fireEvent.keyDown(field, { key: 'ArrowDown' })
    expect(screen.getAllByRole('option').map((option) => option.getAttribute('aria-selected'))).toEqual([
      'false',
      'true',
      ...Array<string>(4).fill('false'),
    ])
    expect(document.getElementById(field.getAttribute('aria-activedescendant')!)!.textContent).toContain('Zofia')
    fireEvent.keyDown(field, { key: 'Enter' })
    expect(screen.getByRole('status').textContent).toBe('/person/p1')
    expect(screen.queryByRole('option')).toBeNull()
  })

  test('a handout leads to its board, a draft to its slip, a command to its place', async () => {
    const { type } = opened()
    for (const [typed, choose, address] of [
      ['tern', /^Tern survey/, '/class/k1/handouts/h1'],
      ['tern', /^Untitled/, '/class/k1/slip/h2'],
      ['tern', /^Terns and gulls/, '/worksheets/w1'],
      ['bring in', /^Bring in a worksheet/, '/worksheets/bring-in'],
      ['new hand', /^New handout – 8 Heron/, '/class/k1/slip'],
    ] as const) {
      type(typed)
      fireEvent.click(await screen.findByRole('option', { name: choose }))
      expect(screen.getByRole('status').textContent).toBe(address)
    }
  })

  test('nothing found is said; nothing typed asks nothing; Escape closes', async () => {
    const { field, type, asked } = opened()
    type('  ')
    expect(asked).toEqual([])
    type('nobody')
    await waitFor(() => expect(screen.getByRole('option').textContent).toBe('Nobody and nothing of that name.'))
    // What only says so is nothing to choose.
    expect(screen.getByRole('option').getAttribute('aria-disabled')).toBe('true')
    fireEvent.keyDown(field, { key: 'Escape' })
    expect(screen.queryByRole('listbox')).toBeNull()
  })

  test('"/" goes to it from the page, not from a field', () => {
    const { field } = opened()
    const other = document.createElement('input')
    document.body.append(other)
    fireEvent.keyDown(other, { key: '/' })
    expect(document.activeElement).not.toBe(field)
    fireEvent.keyDown(document.body, { key: '/' })
    expect(document.activeElement).toBe(field)
    other.remove()
  })
})
