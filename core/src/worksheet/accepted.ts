import { type Outcome, fine, refuse } from '../errors/problem.js'
import { cleanText } from '../roster/names.js'
import type { AnswerSpace, WorksheetContent } from './content.js'
import { SPACE_LIMITS } from './kinds/basics.js'
import { mapSpaces } from './walk.js'

/** Answers that are accepted in a handout beside those of its worksheet, by answer space. */
export type AcceptedToo = Readonly<Record<string, readonly string[]>>

/** Whether an answer is checked against words, so that more of them can be accepted. */
export const isCheckedByWords = (space: AnswerSpace): boolean =>
  'accepted' in space && Array.isArray(space.accepted) && space.accepted.length > 0

/** A worksheet in which these answers are accepted too; spaces without words to be checked against stay as they are. */
export const withAccepted = <T extends Pick<WorksheetContent, 'blocks'>>(content: T, accepted: AcceptedToo): T =>
  Object.keys(accepted).length === 0
    ? content
    : mapSpaces(content, (space) => acceptingToo(space, accepted[space.id] ?? []))

/** An answer space that accepts these too. */
export const acceptingToo = <S extends AnswerSpace>(space: S, texts: readonly string[]): S =>
  texts.length > 0 && 'accepted' in space && isCheckedByWords(space)
    ? { ...space, accepted: [...new Set([...(space.accepted as readonly string[]), ...texts])] }
    : space

/** Reads answers that are to be accepted too: each once, none empty. */
export function checkAccepted(texts: readonly string[]): Outcome<string[]> {
  const read = [...new Set(texts.map(cleanText))]
  if (read.some((text) => !text || text.length > SPACE_LIMITS.acceptedText))
    return refuse({
      code: 'accepted',
      field: 'texts',
      sentence: `An accepted answer has 1 to ${SPACE_LIMITS.acceptedText} characters.`,
    })
  if (read.length > SPACE_LIMITS.accepted)
    return refuse({
      code: 'accepted',
      field: 'texts',
      sentence: `Up to ${SPACE_LIMITS.accepted} answers can be accepted.`,
    })
  return fine(read)
}
