import { beforeAll, describe, expect, it, jest } from '@jest/globals'
import { act, fireEvent, waitFor } from '@testing-library/react'
import { type ReactNode, Suspense, useLayoutEffect, useState } from 'react'
import { takeOver } from '../src/frame/takeOver'
import { beginAt, useNow } from '../src/ui/useNow'

let renderToString: (page: ReactNode) => string

beforeAll(async () => {
  // Asked for when it is loaded; only what is sent in pieces uses it.
  Object.assign(globalThis, {
    MessageChannel: class {
      port1 = {}
      port2 = {}
    },
  })
  ;({ renderToString } = await import('react-dom/server'))
})

function Find({ heard }: { readonly heard: (text: string) => void }) {
  const [text, setText] = useState('')
  return (
    <>
      <input
        aria-label="find"
        value={text}
        onChange={({ target }) => {
          heard(target.value)
          setText(target.value)
        }}
      />
      <output>{text.toUpperCase()}</output>
      <button type="button" onClick={() => setText('pressed')}>
        Press
      </button>
    </>
  )
}

/** A page as it comes from the server. */
function drawn(html: string): HTMLElement {
  document.body.innerHTML = `<div id="root" data-drawn="0">${html}</div>`
  return document.getElementById('root')!
}

describe('a page that was drawn on the server', () => {
  it('keeps what was typed before anybody listened, and works with it', async () => {
    const page = (
      <Suspense>
        <Find heard={jest.fn()} />
      </Suspense>
    )
    const root = drawn(renderToString(page))
    const field = root.querySelector('input')!
    field.value = 'herring'
    await act(() => Promise.resolve(takeOver(root, page)))
    await waitFor(() => expect(root.dataset['drawn']).toBeUndefined())
    expect(root.querySelector('input')).toBe(field)
    expect(field.value).toBe('herring')
    expect(root.querySelector('output')!.textContent).toBe('HERRING')
    fireEvent.input(field, { target: { value: 'herring gull' } })
    expect(root.querySelector('output')!.textContent).toBe('HERRING GULL')
  })

  it('is listened to only when its header, a part of its own, hears keys', async () => {
    const heard = jest.fn()
    function Header() {
      useLayoutEffect(() => {
        window.addEventListener('keydown', heard)
        return () => window.removeEventListener('keydown', heard)
      }, [])
      return <header>Desk</header>
    }
    const page = (
      <main>
        {Array.from({ length: 200 }, (_, at) => (
          // Parts before it, each taken over by itself.
          <Suspense key={at}>
            <p>{at}</p>
          </Suspense>
        ))}
        <Suspense>
          <Header />
        </Suspense>
      </main>
    )
    const root = drawn(renderToString(page))
    let atOnce: number | null = null
    new MutationObserver(() => {
      if (root.dataset['drawn'] !== undefined || atOnce !== null) return
      fireEvent.keyDown(window, { key: '/' })
      atOnce = heard.mock.calls.length
    }).observe(root, { attributes: true })
    // Without `act`, which would have everything taken over before anything else happens.
    Object.assign(globalThis, { IS_REACT_ACT_ENVIRONMENT: false })
    try {
      takeOver(root, page)
      await waitFor(() => expect(atOnce).not.toBeNull())
    } finally {
      Object.assign(globalThis, { IS_REACT_ACT_ENVIRONMENT: true })
    }
    expect(atOnce).toBe(1)
  })

  it('hears nothing where nothing was typed, and its buttons can be pressed once it is taken over', async () => {
    const heard = jest.fn()
    const page = <Find heard={heard} />
    const root = drawn(renderToString(page))
    expect(root.dataset['drawn']).toBe('0')
    await act(() => Promise.resolve(takeOver(root, page)))
    await waitFor(() => expect(root.dataset['drawn']).toBeUndefined())
    expect(heard).not.toHaveBeenCalled()
    fireEvent.click(root.querySelector('button')!)
    expect(root.querySelector('output')!.textContent).toBe('PRESSED')
  })

  it('begins with the time it was drawn at, and goes on with the time it is', async () => {
    const seen: number[] = []
    function Clock() {
      const now = useNow()
      seen.push(now)
      return <time>{now}</time>
    }
    beginAt(5)
    const root = drawn(renderToString(<Clock />))
    const before = Date.now()
    const element = root.querySelector('time')!
    expect(element.textContent).toBe('5')
    seen.length = 0
    await act(() => Promise.resolve(takeOver(root, <Clock />)))
    expect(seen[0]).toBe(5)
    expect(seen.at(-1)).toBeGreaterThanOrEqual(before)
    expect(root.querySelector('time')).toBe(element)
  })
})
