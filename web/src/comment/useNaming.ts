import { mentionBegun, mentionable } from '@gavrin/core'
import { type KeyboardEvent, type RefObject, useState } from 'react'
import type { PersonNamed } from './queries'

/** So many names are offered at once. */
const OFFERED = 6

interface Naming {
  /** The names that are offered; none: no name is being typed. */
  readonly names: readonly PersonNamed[]
  /** The one that Enter takes. */
  readonly at: number
  readonly look: (field: HTMLTextAreaElement) => void
  readonly leave: () => void
  readonly choose: (name: string) => void
  /** Whether a key was for the list. */
  readonly pressed: (event: KeyboardEvent) => boolean
}

interface Field {
  readonly people: readonly PersonNamed[]
  readonly text: string
  readonly setText: (text: string) => void
  readonly field: RefObject<HTMLTextAreaElement | null>
}

/** Names somebody in a comment: "@" offers who can be named, by what is typed after it. */
export function useNaming({ people, text, setText, field }: Field): Naming {
  const [begun, setBegun] = useState<ReturnType<typeof mentionBegun>>(null)
  const [at, setAt] = useState(0)
  const names = begun ? mentionable(people, begun.typed, OFFERED) : []
  const look = ({ value, selectionStart, selectionEnd }: HTMLTextAreaElement) => {
    const next = selectionStart === selectionEnd ? mentionBegun(value, selectionEnd) : null
    if (next?.typed !== begun?.typed || next?.from !== begun?.from) {
      setBegun(next)
      setAt(0)
    }
  }
  const leave = () => setBegun(null)
  const choose = (name: string) => {
    if (!begun) return
    const to = begun.from + 1 + begun.typed.length
    const caret = begun.from + name.length + 2
    setText(`${text.slice(0, begun.from)}@${name} ${text.slice(to)}`)
    leave()
    // Once the words stand there.
    requestAnimationFrame(() => field.current?.setSelectionRange(caret, caret))
  }
  const pressed = (event: KeyboardEvent): boolean => {
    if (names.length === 0 || event.ctrlKey || event.metaKey) return false
    const { key } = event
    if (key === 'ArrowDown') setAt((at + 1) % names.length)
    else if (key === 'ArrowUp') setAt((at + names.length - 1) % names.length)
    else if (key === 'Enter' || key === 'Tab') choose(names[at]!.name)
    else if (key === 'Escape') leave()
    else return false
    event.preventDefault()
    event.stopPropagation()
    return true
  }
  return { names, at, look, leave, choose, pressed }
}
