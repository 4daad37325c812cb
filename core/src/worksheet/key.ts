import type { AnswerSpace } from './content.js'

/** The key of an answer space in words: what is accepted, or the model answer; empty if it has none. */
export function keyWords(space: AnswerSpace): string {
  const model = space.model ?? ''
  switch (space.kind) {
    case 'line':
    case 'gap':
      return space.accepted?.join(' / ') ?? model
    case 'cell':
      return (space.numeric ? numberKey(space.value, space.tolerance, '') : space.accepted?.join(' / ')) || model
    case 'number':
      return numberKey(space.value, space.tolerance, space.unit) || model
    case 'choice':
      return (
        space.options
          .filter(({ id }) => space.right?.includes(id))
          .map(({ text }) => text)
          .join(', ') || model
      )
    default:
      return model
  }
}

function numberKey(value: string | undefined, tolerance: number | undefined, unit: string): string {
  if (value === undefined) return ''
  return [value, tolerance ? `± ${tolerance}` : '', unit].filter(Boolean).join(' ')
}
