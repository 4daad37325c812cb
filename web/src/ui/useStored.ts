import { useLayoutEffect, useState } from 'react'

function read<T>(key: string, first: T): T {
  try {
    const text = localStorage.getItem(key)
    return text === null ? first : (JSON.parse(text) as T)
  } catch {
    return first
  }
}

/** A value that this browser remembers; there before anything is seen, though not where the page is drawn on the server. */
export function useStored<T>(key: string, first: T): [T, (value: T) => void] {
  const [value, setValue] = useState<T>(first)
  // What comes first may be written anew at each drawing.
  // oxlint-disable-next-line react/exhaustive-deps
  useLayoutEffect(() => setValue(read(key, first)), [key])
  return [
    value,
    (next) => {
      setValue(next)
      localStorage.setItem(key, JSON.stringify(next))
    },
  ]
}
