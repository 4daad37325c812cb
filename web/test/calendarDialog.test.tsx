import { afterEach, expect, test } from '@jest/globals'
import { cleanup, fireEvent, render, screen } from '@testing-library/react'
import CalendarDialog from '../src/account/CalendarDialog'
import { refusal, serveWith, surroundings } from './support/server'

afterEach(cleanup)

test('an address for a calendar is made, copied, made anew and taken away', async () => {
  let number = 0
  let isAway = false
  serveWith(({ method }) => {
    if (isAway) return refusal(503, 'Gavrin is away for a moment.')
    if (method === 'DELETE') return { status: 204 }
    return { body: { address: method === 'POST' ? `https://gavrin.example/api/calendar/${++number}.ics` : null } }
  })
  const copied: string[] = []
  Object.assign(navigator, {
    clipboard: { writeText: async (text: string) => Promise.resolve(void copied.push(text)) },
  })
  const { Around } = surroundings()
  render(
    <Around>
      <CalendarDialog close={() => undefined} />
    </Around>,
  )
  fireEvent.click(await screen.findByRole('button', { name: 'Make an address' }))
  expect((await screen.findByLabelText<HTMLInputElement>('Address of my calendar')).value).toContain('/1.ics')
  fireEvent.click(screen.getByRole('button', { name: 'Copy' }))
  await screen.findByRole('button', { name: 'Copied' })
  fireEvent.click(screen.getByRole('button', { name: /^New address/ }))
  await screen.findByDisplayValue(/2\.ics$/)
  // Another address has not been copied.
  expect([copied.length, screen.getByRole('button', { name: 'Copy' }).textContent]).toEqual([1, 'Copy'])
  isAway = true
  fireEvent.click(screen.getByRole('button', { name: 'No address any more' }))
  expect((await screen.findByRole('alert')).textContent).toBe('Gavrin is away for a moment.')
  isAway = false
  fireEvent.click(screen.getByRole('button', { name: 'No address any more' }))
  expect(await screen.findByRole('button', { name: 'Make an address' })).toBeTruthy()
})
