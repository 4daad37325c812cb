import type { AnswerSpace, ChoiceOption, WorksheetContent } from './content.js'
import { kindOf } from './kinds/index.js'
import { mapSpaces } from './walk.js'

/** An answer space without anything that tells the answer. */
export function withoutKey<S extends AnswerSpace>(space: S): S {
  const bare: Record<string, unknown> = { ...space }
  for (const part of ['model', 'proposed', ...(kindOf(space).key?.parts ?? [])] as string[]) delete bare[part]
  return bare as unknown as S
}

/** The same with every hint left out, only said to be there: it is sent when it is asked for. */
export const withoutHints = (content: WorksheetContent): WorksheetContent =>
  mapSpaces(content, (space) => {
    if (space.hint === undefined) return space
    const { hint: _, ...bare } = space
    return { ...bare, hasHint: true } as typeof space
  })

/** The worksheet as students may have it: nothing in it tells an answer. */
export const forStudents = (content: WorksheetContent): WorksheetContent => mapSpaces(content, withoutKey)

/**
 * The options of a choice in the order in which one copy shows them: always the same for the same seed.
 * @param seed the id of the copy, and of the space
 */
export function shuffledOptions(options: readonly ChoiceOption[], seed: string): ChoiceOption[] {
  // Sorting by a hash (FNV-1a with a final mixing) of seed and option: no state, and an option added later moves no other.
  return options
    .map((option) => ({ option, at: hash(`${seed}/${option.id}`) }))
    .sort((one, other) => one.at - other.at || (one.option.id < other.option.id ? -1 : 1))
    .map(({ option }) => option)
}

function hash(text: string): number {
  let value = 0x811c9dc5
  for (let at = 0; at < text.length; at++) value = Math.imul(value ^ text.charCodeAt(at), 0x01000193)
  value = Math.imul(value ^ (value >>> 16), 0x85ebca6b)
  value = Math.imul(value ^ (value >>> 13), 0xc2b2ae35)
  return (value ^ (value >>> 16)) >>> 0
}
