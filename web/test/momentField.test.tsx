import { afterEach, beforeEach, describe, expect, test } from '@jest/globals'
import { act, cleanup, fireEvent, render, screen, within } from '@testing-library/react'
import { useState } from 'react'
import MomentField from '../src/ui/moment/MomentField'
import { readIn, writeTimesAs } from '../src/ui/time'
import { typeInto } from './support/segments'

let now: number | null

function Field({ at, settles = false }: { at: number | null; settles?: boolean }) {
  const [value, setValue] = useState(at)
  now = value
  return (
    <>
      <MomentField what="Due" at={value} usual="16:00" change={setValue} settles={settles} />
      <button onClick={() => setValue(null)}>at no set time</button>
    </>
  )
}

/** The pointer goes elsewhere. */
const leave = () => act(() => (document.activeElement as HTMLElement).blur())
const utc = (text: string) => Date.parse(`${text}Z`)
const shown = () => screen.getAllByRole('spinbutton').map(({ textContent }) => textContent)

beforeEach(() => {
  writeTimesAs({ timeZone: 'Europe/Lisbon', locale: 'en-GB' })
  readIn('Europe/Berlin')
})
afterEach(cleanup)

describe('a field for a moment', () => {
  test('shows the school’s time in its order, with the reader’s beside it', () => {
    render(<Field at={utc('2026-12-04T16:00')} />)
    expect(shown()).toEqual(['04', '12', '2026', '16', '00'])
    expect(screen.getByRole('status').textContent).toContain('16:00 in Lisbon, 17:00 where you are')
  })

  test('follows the school’s region', () => {
    writeTimesAs({ timeZone: 'America/New_York', locale: 'en-US' })
    render(<Field at={utc('2026-12-04T21:00')} />)
    expect(shown()).toEqual(['12', '04', '2026', '04', '00', 'PM'])
  })

  test('a day is typed, the usual time stands there; emptied from beside it is empty, and by its own button', () => {
    render(<Field at={null} />)
    typeInto('Day', '04032027')
    expect(now).toBe(utc('2027-03-04T16:00'))
    leave()
    fireEvent.click(screen.getByText('at no set time'))
    expect(now).toBeNull()
    expect(shown().slice(0, 3)).toEqual(['dd', 'mm', 'yyyy'])
    typeInto('Day', '05032027')
    typeInto('Time', '0930')
    expect(now).toBe(utc('2027-03-05T09:30'))
    fireEvent.click(screen.getByRole('button', { name: 'Empty: Due' }))
    expect(now).toBeNull()
  })

  test('where each change goes to the server, it is told of once the field is left; what comes from there meanwhile takes no digit away', () => {
    const { rerender } = render(
      <MomentField settles what="Due" at={utc('2026-12-04T16:00')} usual="16:00" change={(at) => (now = at)} />,
    )
    now = null
    typeInto('Day', '2')
    // Somebody else's, or one's own from before.
    rerender(<MomentField settles what="Due" at={utc('2026-12-09T16:00')} usual="16:00" change={(at) => (now = at)} />)
    for (const data of '8032027')
      fireEvent(
        document.activeElement!,
        new InputEvent('beforeinput', { inputType: 'insertText', data, bubbles: true, cancelable: true }),
      )
    typeInto('Time', '0930')
    expect(now).toBeNull()
    expect(shown()).toEqual(['28', '03', '2027', '09', '30'])
    // Before Escape closes what the field stands in.
    fireEvent.keyDown(document.activeElement!, { key: 'Escape' })
    expect(now).toBe(utc('2027-03-28T08:30'))
    now = null
    leave()
    expect(now).toBe(utc('2027-03-28T08:30'))
  })

  test('while a year is being typed nothing is set', () => {
    render(<Field at={null} />)
    typeInto('Day', '040320')
    expect(now).toBeNull()
    expect(screen.getByText(/A year between 2000 and 2100/)).toBeTruthy()
  })

  test('a time that clocks are put forward over is said, and what is meant', () => {
    render(<Field at={null} />)
    typeInto('Day', '28032027')
    typeInto('Time', '0130')
    expect(now).toBe(utc('2027-03-28T01:30'))
    expect(screen.getByRole('status').textContent).toContain('01:30 is not there in Lisbon')
    expect(screen.getByRole('status').textContent).toContain('02:30 is meant')
  })

  test('of a time that comes twice one is chosen', () => {
    render(<Field at={utc('2026-10-25T00:30')} />)
    expect(screen.getByText(/01:30 comes twice in Lisbon/)).toBeTruthy()
    const [first, second] = screen.getAllByRole<HTMLInputElement>('radio')
    expect(first!.checked).toBe(true)
    fireEvent.click(second!)
    expect(now).toBe(utc('2026-10-25T01:30'))
    expect(shown().slice(3)).toEqual(['01', '30'])
  })

  test('a day is chosen in the calendar; the time stays', () => {
    render(<Field at={utc('2026-12-04T09:15')} />)
    fireEvent.click(screen.getByRole('button', { name: 'Calendar: Due' }))
    const grid = screen.getByRole('grid')
    fireEvent.click(within(grid).getByRole('button', { name: /11 December 2026/ }))
    expect(now).toBe(utc('2026-12-11T09:15'))
    expect(screen.queryByRole('grid')).toBeNull()
    expect(document.activeElement).toBe(screen.getByRole('button', { name: 'Calendar: Due' }))
  })

  test('arrows in it move nothing around it', () => {
    let heard = 0
    render(
      <div onKeyDown={() => heard++}>
        <Field at={utc('2026-12-04T16:00')} />
      </div>,
    )
    fireEvent.keyDown(screen.getAllByRole('spinbutton')[0]!, { key: 'ArrowDown' })
    expect(heard).toBe(0)
    expect(now).toBe(utc('2026-12-03T16:00'))
  })
})
