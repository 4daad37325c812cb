import { useSyncExternalStore } from 'react'

// Which boxes of which backdrop page are selected. The page and the settings beside it are different parts of the screen.

interface Selected {
  readonly blockId: string | null
  readonly ids: readonly string[]
}

let selected: Selected = { blockId: null, ids: [] }
const listeners = new Set<() => void>()
const NONE: readonly string[] = []

export function selectBox(blockId: string | null, ids: readonly string[]): void {
  selected = { blockId, ids }
  for (const listener of listeners) listener()
}

function subscribe(listener: () => void): () => void {
  listeners.add(listener)
  return () => listeners.delete(listener)
}

/** The boxes of a backdrop page that are selected, the one selected first first. */
export function useSelectedBoxes(blockId: string | null): readonly string[] {
  return useSyncExternalStore(subscribe, () => (selected.blockId === blockId ? selected.ids : NONE))
}
