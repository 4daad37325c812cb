import { afterEach, describe, expect, test } from '@jest/globals'
import { act, cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react'
import { KeptPage } from '../src/frame/KeptPage'
import type { SignedIn } from '../src/frame/session'
import { refusal, serveWith, surroundings } from './support/server'

const MAJA: SignedIn = {
  id: 'maja',
  role: 'student',
  first: 'Maja',
  last: 'Kowalska',
  email: 'maja@fennickquay.example',
  school: 'Fennick Quay School',
  timeZone: 'Europe/Lisbon',
  locale: 'en-GB',
}

function pageOf(person: SignedIn | null) {
  const { Around } = surroundings()
  const page = (of: SignedIn | null) => (
    <Around>
      <KeptPage person={of}>
        {(shown) => (shown ? <input aria-label="Answer" defaultValue="" /> : <p>the page to sign in on</p>)}
      </KeptPage>
    </Around>
  )
  const { rerender } = render(page(person))
  return (next: SignedIn | null) => rerender(page(next))
}

afterEach(cleanup)

describe('the page of somebody whose session ends', () => {
  test('stays as it is, unseen, until they have signed in again', async () => {
    let wrong = true
    serveWith(({ method }) =>
      method === 'GET'
        ? { body: { person: MAJA, demo: null } }
        : wrong
          ? refusal(401, 'This name and this password do not belong together.')
          : { status: 204 },
    )
    const show = pageOf(MAJA)
    const field = screen.getByLabelText<HTMLInputElement>('Answer')
    fireEvent.change(field, { target: { value: 'not saved yet' } })
    show(null)
    expect(screen.getByRole('dialog').textContent).toContain('Maja Kowalska')
    expect(field.closest<HTMLElement>('.kept-page')!.style.visibility).toBe('hidden')
    fireEvent.change(screen.getByLabelText('Password'), { target: { value: 'x' } })
    fireEvent.click(screen.getByRole('button', { name: 'Sign in again' }))
    expect((await screen.findByRole('alert')).textContent).toContain('do not belong together')
    wrong = false
    const told = new Promise((resolve) => window.addEventListener('gavrin:signed-in', resolve, { once: true }))
    fireEvent.click(screen.getByRole('button', { name: 'Sign in again' }))
    await told
    show(MAJA)
    await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull())
    expect(screen.getByLabelText<HTMLInputElement>('Answer')).toBe(field)
    expect(field.value).toBe('not saved yet')
  })

  test('is gone for who is somebody else, for a guest, and where somebody signed out in another window', () => {
    const show = pageOf(MAJA)
    show(null)
    fireEvent.click(screen.getByRole('button', { name: 'I am somebody else' }))
    expect(screen.getByText('the page to sign in on')).toBeTruthy()
    cleanup()
    const showGuest = pageOf({ ...MAJA, role: 'guest' })
    showGuest(null)
    expect(screen.getByText('the page to sign in on')).toBeTruthy()
    cleanup()
    const channels: { onmessage: (() => void) | null }[] = []
    const before = Object.getOwnPropertyDescriptor(globalThis, 'BroadcastChannel')
    class Channel {
      onmessage: (() => void) | null = null
      constructor() {
        channels.push(this)
      }
      close(): void {
        channels.length = 0
      }
    }
    Object.assign(globalThis, { BroadcastChannel: Channel })
    const showOther = pageOf(MAJA)
    act(() => channels[0]!.onmessage!())
    showOther(null)
    expect(screen.getByText('the page to sign in on')).toBeTruthy()
    cleanup()
    if (before) Object.defineProperty(globalThis, 'BroadcastChannel', before)
  })

  test('that was never signed in is the page to sign in on', () => {
    pageOf(null)
    expect(screen.getByText('the page to sign in on')).toBeTruthy()
  })
})
