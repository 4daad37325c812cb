import { useState } from 'react'

/** A value that this browser remembers. */
export function useStored<T>(key: string, first: T): [T, (value: T) => void] {
  const [value, setValue] = useState<T>(() => {
    try {
      const text = localStorage.getItem(key)
      return text === null ? first : (JSON.parse(text) as T)
    } catch {
      return first
    }
  })
  return [
    value,
    (next) => {
      setValue(next)
      localStorage.setItem(key, JSON.stringify(next))
    },
  ]
}
