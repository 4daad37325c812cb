import type { AnswerSpace } from './content.js'
import { kindOf } from './kinds/index.js'

/** The key of an answer space in words: what is accepted, or the model answer; empty if it has none. */
export const keyWords = (space: AnswerSpace): string => kindOf(space).key?.words(space) || (space.model ?? '')
