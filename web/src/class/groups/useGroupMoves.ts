import { fullName } from '@gavrin/core'
import { type KeyboardEvent, useLayoutEffect, useRef, useState } from 'react'
import type { GroupSet, Student } from '../queries'
import type { useArrangement } from './useArrangement'

/** Moving people between groups: who is selected, what keys do, and what is said of it. */
export function useGroupMoves(
  set: GroupSet,
  byId: ReadonlyMap<string, Student>,
  work: ReturnType<typeof useArrangement>,
  may: boolean,
) {
  const board = useRef<HTMLDivElement>(null)
  const moving = useRef<string | null>(null)
  const [said, setSaid] = useState('')
  const [selected, setSelected] = useState<ReadonlySet<string>>(new Set())

  const toggle = (personId: string) => {
    const next = new Set(selected)
    if (!next.delete(personId)) next.add(personId)
    setSelected(next)
  }
  /** Moves somebody, and all who are selected with them. */
  const move = async (personId: string, groupId: string | null) => {
    const student = byId.get(personId)
    const to = set.groups.find(({ id }) => id === groupId)
    if (!may || !student || (groupId !== null && !to)) return
    moving.current = personId
    const ids = selected.has(personId) ? [...selected].filter((id) => byId.has(id)) : [personId]
    await work.move(ids, groupId)
    setSelected(new Set())
    const who = ids.length === 1 ? `${fullName(student)} is` : `${ids.length} students are`
    setSaid(`${who} now in ${to ? to.name : 'no group'}.`)
  }
  // A name that was moved is drawn anew somewhere else: the focus goes with it.
  useLayoutEffect(() => {
    const personId = moving.current
    if (!personId || document.activeElement !== document.body) return
    moving.current = null
    board.current?.querySelector<HTMLElement>(`[data-person="${personId}"]`)?.focus()
  })
  const pressed = (event: KeyboardEvent) => {
    const control = event.ctrlKey || event.metaKey
    if (control && event.key.toLowerCase() === 'z') {
      event.preventDefault()
      void (event.shiftKey ? work.redo() : work.undo())
      return
    }
    if (event.key === 'Escape') setSelected(new Set())
    const personId = (event.target as HTMLElement).dataset['person']
    if (!personId || control || event.altKey) return
    if (event.key === ' ') {
      event.preventDefault()
      if (may) toggle(personId)
      return
    }
    if (/^[0-9]$/.test(event.key)) {
      event.preventDefault()
      const group = set.groups[Number(event.key) - 1]
      if (event.key === '0' || group) void move(personId, group?.id ?? null)
      return
    }
    const step = { ArrowDown: 1, ArrowRight: 1, ArrowUp: -1, ArrowLeft: -1 }[event.key]
    if (!step) return
    event.preventDefault()
    const names = [...(board.current?.querySelectorAll<HTMLElement>('[data-person]') ?? [])]
    const at = names.findIndex((name) => name.dataset['person'] === personId)
    names[at + step]?.focus()
  }
  return { board, said, selected, clear: () => setSelected(new Set()), toggle, move, pressed }
}
