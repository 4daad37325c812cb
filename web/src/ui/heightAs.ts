import type { RefCallback } from 'react'

/** Says how high an element is in a style variable of what it stands in, so that others keep clear of it. */
export const heightAs =
  (name: `--${string}`): RefCallback<HTMLElement> =>
  (element) => {
    if (!element || typeof ResizeObserver === 'undefined') return
    const say = () => element.parentElement?.style.setProperty(name, `${element.offsetHeight}px`)
    const resized = new ResizeObserver(say)
    resized.observe(element)
    say()
    return () => resized.disconnect()
  }
