import { answerText } from '../progress/answers.js'
import type { AnswerSpace, WorksheetContent } from './content.js'
import type { AnswerValue } from './kinds/value.js'
import { forStudents } from './student.js'
import { mapSpaces } from './walk.js'

/**
 * A worksheet with answers in the place of its key, for whatever writes a worksheet with that: a copy as a document.
 * @param answers what stands in answer spaces, by their addresses
 */
export function filledIn(content: WorksheetContent, answers: ReadonlyMap<string, AnswerValue>): WorksheetContent {
  return mapSpaces(forStudents(content), <S extends AnswerSpace>(space: S): S => {
    const answer = answers.get(space.id)
    if (!answer) return space
    if ('chosen' in answer) return { ...space, right: answer.chosen }
    return { ...space, model: answerText(space, answer) }
  })
}
