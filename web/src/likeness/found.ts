import type { Answers } from '../contract'

export type Found = Answers['POST handouts/{handoutId}/likeness']
export type Pair = Found['pairs'][number]

/** The name of a text that was put beside, by its id; null: it is a copy. */
const besideAt = (id: string): number | null => (id.startsWith('beside ') ? Number(id.slice(7)) : null)

/** Whose copy it is, with its class where it is of another handout, or which text that was put beside. */
export function nameOf(found: Found, id: string): string {
  const at = besideAt(id)
  if (at !== null) return found.beside[at] ?? 'a text beside'
  const copy = found.copies.find(({ copyId }) => copyId === id)
  if (!copy) return ''
  return copy.isOwn ? copy.name : `${copy.name} (${copy.class} ${copy.year}, No. ${copy.number})`
}

/** Whether it is a copy, which can be opened. */
export const isCopy = (id: string): boolean => besideAt(id) === null
