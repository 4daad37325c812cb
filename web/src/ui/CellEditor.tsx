import { useEffect, useRef, useState } from 'react'

interface Props {
  readonly label: string
  readonly text: string
  readonly selectAll: boolean
  /** `then`: where to go on from here. */
  readonly keep: (value: string, then?: { rows: number; columns: number }) => void
  readonly leave: () => void
}

/** A cell of a grid while it is written in: Enter and Tab keep it and go on, Escape leaves it as it was. */
export function CellEditor({ label, text, selectAll, keep, leave }: Props) {
  const [value, setValue] = useState(text)
  const field = useRef<HTMLInputElement>(null)
  const settled = useRef(false)
  useEffect(() => {
    field.current?.focus()
    if (selectAll) field.current?.select()
  }, [selectAll])
  const end = (work: () => void) => {
    if (settled.current) return
    settled.current = true
    work()
  }
  return (
    <input
      ref={field}
      dir="auto"
      className="grid-field"
      aria-label={label}
      value={value}
      onChange={({ target }) => setValue(target.value)}
      onBlur={() => end(() => keep(value))}
      onKeyDown={(event) => {
        if (event.nativeEvent.isComposing) return
        const { key, shiftKey } = event
        if (key === 'Enter') end(() => keep(value, { rows: shiftKey ? -1 : 1, columns: 0 }))
        else if (key === 'Tab') end(() => keep(value, { rows: 0, columns: shiftKey ? -1 : 1 }))
        else if (key === 'Escape') end(leave)
        else return
        event.preventDefault()
        event.stopPropagation()
      }}
    />
  )
}
