import { type AnswerSpace, inspectUpdate } from '@gavrin/core'
import * as Y from 'yjs'
import { ProblemException } from '../common/problemDetails.js'
import { ANSWER_LIMITS } from './limits.js'

/**
 * Looks at a change that comes from what is kept, not from a page: who wrote it was looked at when it came.
 * @param to the answer itself, or what came late beside it, which may be longer
 */
export const inspectKept = (space: AnswerSpace, doc: Y.Doc, bytes: Uint8Array, to: 'answer' | 'beside') =>
  inspectUpdate(doc, bytes, {
    kind: space.kind,
    owns: () => true,
    maxStructs: ANSWER_LIMITS.slowStructs,
    maxSteps: ANSWER_LIMITS.slowSteps,
    maxItems: (to === 'answer' ? 1 : 2) * ANSWER_LIMITS.spaceItems,
    hasRoom: to === 'answer',
  })

/** The bytes of a change that an answer can take, by the rules for everybody's. */
export function takable(space: AnswerSpace, answer: Y.Doc, bytes: Uint8Array): Uint8Array {
  const inspection = inspectKept(space, answer, bytes, 'answer')
  if (inspection.verdict === 'apply') return inspection.bytes
  if (inspection.verdict === 'known') return bytes
  throw new ProblemException(
    409,
    'no-room',
    inspection.verdict === 'refuse' ? inspection.sentence : 'This cannot be brought into the answer.',
  )
}

/** What a change to a copy of a document comes to, as one update; the document stays as it is. */
export function changeOf(doc: Y.Doc, change: (copy: Y.Doc) => void): Uint8Array {
  const copy = new Y.Doc()
  Y.applyUpdate(copy, Y.encodeStateAsUpdate(doc))
  const updates: Uint8Array[] = []
  copy.on('update', (update: Uint8Array) => updates.push(update))
  change(copy)
  copy.destroy()
  return Y.mergeUpdates(updates)
}
