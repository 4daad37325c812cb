import { type AnswerKind, type AnswerSpace, STANDING_KINDS } from '@gavrin/core'

/** The kinds of answer spaces as they are called on the screen. */
export const KIND_NAMES: Readonly<Record<AnswerKind, string>> = {
  line: 'Line',
  passage: 'Passage',
  choice: 'Choice',
  number: 'Number',
  gap: 'Gap in a sentence',
  cell: 'Table cell',
  drawing: 'Drawing',
  file: 'File',
}

/** The kinds of spaces that stand by themselves, to choose one. */
export const KIND_CHOICES = STANDING_KINDS.map((kind) => [kind, KIND_NAMES[kind].toLowerCase()] as const)

function kindWords(space: AnswerSpace): string {
  switch (space.kind) {
    case 'line':
      return space.width === 'short' ? 'short line' : 'line'
    case 'passage':
      return `passage, ${space.lines} lines`
    case 'choice':
      return space.many ? 'choice, any number of them' : 'choice, one of them'
    case 'cell':
      return space.numeric ? 'number' : 'text'
    case 'file':
      return space.most === 1 ? 'a file' : `up to ${space.most} files`
    default:
      return space.kind
  }
}

/** What stands in an empty space: which kind it is, and its points. */
export function spaceWords(space: AnswerSpace): string {
  const { points } = space
  return points === undefined
    ? kindWords(space)
    : `${kindWords(space)} · ${points} ${points === 1 ? 'point' : 'points'}`
}
