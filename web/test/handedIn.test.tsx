import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals'
import { act, cleanup, fireEvent, render, screen } from '@testing-library/react'
import { HandedInNotice } from '../src/copy/HandedInNotice'
import type { CopyPageData } from '../src/copy/queries'

const NOW = Date.parse('2026-12-03T14:00:00Z')
const shown = (
  data: Partial<CopyPageData>,
  state: 'submitted' | 'taken back' | 'working',
  takeBack = () => undefined,
) =>
  render(
    <HandedInNotice
      data={{ isHolder: true, submittedAt: NOW, dueAt: null, handingIn: null, ...data } as CopyPageData}
      state={state}
      mayTakeBack
      takeBack={takeBack}
      isTaking={false}
    />,
  ).container

beforeEach(() => {
  jest.useFakeTimers({ now: NOW })
})
afterEach(() => {
  cleanup()
  jest.useRealTimers()
})

describe('that a shared copy is submitted', () => {
  const byMira = { kind: 'submitted', at: NOW, by: 'Mira Holm', isSelf: false, isStaff: false } as const

  test('is told to the others for a minute, who may say “not yet”; then it is a plain line', () => {
    let taken = 0
    const page = shown({ handingIn: byMira }, 'submitted', () => void taken++)
    expect(page.textContent).toContain('Mira Holm has submitted this copy for all of you.')
    fireEvent.click(screen.getByRole('button', { name: 'Not yet: go on writing' }))
    expect(taken).toBe(1)
    act(() => jest.advanceTimersByTime(61_000))
    expect(screen.queryByRole('button')).toBeNull()
    expect(page.textContent).toContain('Submitted by Mira Holm')
    expect(page.textContent).toContain('you can take it back.')
  })

  test('is told to who submitted it too, and to nobody who only reads it', () => {
    // A teacher who submits for them asks nothing.
    expect(shown({ handingIn: { ...byMira, isStaff: true } }, 'submitted').textContent).toContain('by Mira Holm')
    expect(shown({ handingIn: { ...byMira, kind: 'taken back', isStaff: true } }, 'taken back').textContent).toContain(
      'has taken this copy back',
    )
    expect(shown({ handingIn: { ...byMira, isSelf: true } }, 'submitted').textContent).toContain(
      'You have submitted this copy for all of you.',
    )
    cleanup()
    const read = shown({ handingIn: byMira, isHolder: false }, 'submitted')
    expect(read.textContent).toContain('Submitted by Mira Holm')
    expect(screen.queryByRole('button')).toBeNull()
  })

  test('that somebody said “not yet” is told to the others for a while', () => {
    const page = shown({ handingIn: { ...byMira, kind: 'taken back' } }, 'taken back')
    expect(page.textContent).toContain('Mira Holm said “not yet”')
    act(() => jest.advanceTimersByTime(11 * 60_000))
    expect(page.textContent).toBe('')
    cleanup()
    expect(shown({ handingIn: { ...byMira, kind: 'taken back', isSelf: true } }, 'taken back').textContent).toBe('')
    cleanup()
    expect(shown({}, 'working').textContent).toBe('')
  })
})
