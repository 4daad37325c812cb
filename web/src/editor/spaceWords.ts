import { type AnswerSpace, KINDS, STANDING_KINDS, kindWords, pointWords } from '@gavrin/core'

/** The kinds of spaces that stand by themselves, to choose one. */
export const KIND_CHOICES = STANDING_KINDS.map((kind) => [kind, KINDS[kind].name.toLowerCase()] as const)

/** What stands in an empty space: which kind it is, and its points. */
export const spaceWords = (space: AnswerSpace): string =>
  space.points === undefined ? kindWords(space) : `${kindWords(space)} · ${pointWords(space.points)}`
