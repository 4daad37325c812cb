import { afterEach, expect, jest, test } from '@jest/globals'
import { act, cleanup, render, screen } from '@testing-library/react'
import { useNow } from '../src/ui/useNow'

afterEach(() => {
  cleanup()
  jest.useRealTimers()
})

const DUE = 1_800_000_010_000

function Clock({ moments }: { moments: readonly (number | null)[] }) {
  const now = useNow(600_000, moments)
  return <output>{now >= DUE ? 'due' : 'not yet'}</output>
}

test('the clock ticks the moment something happens, not with its next round', () => {
  jest.useFakeTimers({ now: DUE - 10_000 })
  render(<Clock moments={[null, DUE + 5_000, DUE, DUE - 20_000]} />)
  act(() => void jest.advanceTimersByTime(9_999))
  expect(screen.getByText('not yet')).toBeTruthy()
  act(() => void jest.advanceTimersByTime(1))
  expect(screen.getByText('due')).toBeTruthy()
})

test('without a moment it goes round as ever', () => {
  jest.useFakeTimers({ now: DUE - 10_000 })
  render(<Clock moments={[]} />)
  act(() => void jest.advanceTimersByTime(20_000))
  expect(screen.getByText('not yet')).toBeTruthy()
  act(() => void jest.advanceTimersByTime(580_000))
  expect(screen.getByText('due')).toBeTruthy()
})
